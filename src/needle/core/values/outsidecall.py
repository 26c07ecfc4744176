"""What visitors do on pages made elsewhere, which those pages call in."""

from typing import Annotated

from needle.core.values.ids import OwnId
from needle.core.values.strict import Strict, strict_meta

__all__ = ["OutsideCall", "leads_to"]

_Name = Annotated[str, strict_meta("one-line", r"[^\x00-\x1f\x7f]{0,80}")]
_Key = Annotated[str, strict_meta("call-key", "[a-z0-9]{16,40}")]
_Begin = Annotated[str, strict_meta(
    "outside-begin", r"(?:https?://[a-z0-9][a-z0-9.-]{0,252}(?::[0-9]{1,5})?"
                     r"(?:/[A-Za-z0-9._~!$&'()*+,;=:@%/-]{0,400})?)?")]


class OutsideCall(Strict, frozen=True, omit_defaults=True):
    """Something that is reached on pages made elsewhere, as "Ticket bought".

    Attributes:
        key: Stands in the address that is called; without it nothing is counted.
        begins: The address with which those pages begin; whoever follows a link there takes along
            what tells whom it was. Empty until it is said.
    """

    id: OwnId
    name: _Name
    key: _Key
    begins: _Begin = ""


def leads_to(call: OutsideCall, address: str) -> bool:
    """Whether an address is one of the pages of a call."""
    begins = call.begins.rstrip("/")
    return bool(begins) and (address == begins or address.startswith(
        tuple(begins + sign for sign in "/?#")))
