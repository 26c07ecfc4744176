"""Words on a page that the address of an advert chooses, of those that are allowed."""

from typing import Annotated

from needle.core.values.ids import OwnId
from needle.core.values.strict import Strict, strict_meta, whole

__all__ = ["MOST_VALUES", "AdvertValue", "AdvertWords"]

MOST_VALUES = 200
_Line = Annotated[str, strict_meta("goal-key", r"[^\x00-\x1f\x7f]{0,120}")]
_Param = Annotated[str, strict_meta("param", "[A-Za-z][A-Za-z0-9_-]{0,39}")]


class AdvertValue(Strict, frozen=True, array_like=True):
    """One of the values: what the address says, and what the page shows for it.

    Attributes:
        number: What results know it by, above 0; no other value ever gets it.
    """

    said: _Line
    shown: _Line
    number: Annotated[int, whole(1, 100_000)]


class AdvertWords(Strict, frozen=True, omit_defaults=True):
    """A run of words that may be others for who comes by an advert.

    Attributes:
        param: The name in the address, as "utm_term".
        given: How many numbers values were given so far.
        values: What may stand there. For any other value, and for none, the words stay as they
            are on the page.
    """

    id: OwnId
    param: _Param = "utm_term"
    given: Annotated[int, whole(0, 100_000)] = 0
    values: tuple[AdvertValue, ...] = ()
