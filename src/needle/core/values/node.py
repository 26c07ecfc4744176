"""What everything on a page has in common."""

from needle.core.values.ids import OwnId
from needle.core.values.look import PLAIN, Look
from needle.core.values.strict import Strict, StrictError
from needle.core.values.styletable import look_faults
from needle.core.values.widths import Width

__all__ = ["Item", "Node", "check_look"]


def check_look(look: Look, where: str) -> None:
    """Raise `StrictError` if a look sets something that no property takes."""
    if look is not PLAIN and (faults := look_faults(look)):
        raise StrictError("strict-at", where=where, why=faults[0])


class Node(
    Strict,
    frozen=True,
    kw_only=True,
    omit_defaults=True,
    forbid_unknown_fields=True,
    dict=True,
    tag_field="kind",
):
    """A section, row, column, popup or item.

    The instance dictionary holds only what can be worked out again (remembered renders).

    Attributes:
        name: What the person calls it; empty for most items.
        hidden: The widths at which it is not shown.
    """

    id: OwnId
    name: str = ""
    look: Look = PLAIN
    hidden: tuple[Width, ...] = ()

    def __post_init__(self) -> None:
        Strict.__post_init__(self)
        check_look(self.look, self.id)


class Item(Node, frozen=True):
    """A leaf of the page: a heading, a button, a picture…"""
