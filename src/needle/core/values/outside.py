"""Forms and popups of a page that stand on pages which were made elsewhere."""

from typing import Annotated

from needle.core.values.ids import OwnId
from needle.core.values.strict import Strict, strict_meta, whole

__all__ = ["Origin", "OutsidePart"]

# A site as a browser names it (RFC 6454): scheme, host and, if it is an odd one, port.
Origin = Annotated[str, strict_meta(
    "origin", r"https?://(?:[a-z0-9](?:[a-z0-9-]{0,61}[a-z0-9])?\.)*"
              r"[a-z0-9](?:[a-z0-9-]{0,61}[a-z0-9])?(?::[0-9]{1,5})?")]
# What picks elements of the other page (CSS selectors, level 4), as far as it is one line.
_Picks = Annotated[str, strict_meta("one-line", r"[^\x00-\x1f\x7f]{0,400}")]


class OutsidePart(Strict, frozen=True, omit_defaults=True):
    """A form or popup of a page that is shown elsewhere too.

    Attributes:
        node: Which one, on that page.
        sites: Where it may be shown; nowhere else is it.
        at_click: Which elements there open the popup when clicked; empty for none.
        after_s: It opens by itself after so many seconds; 0 for not.
        at_scroll: It opens by itself at this depth of the page, in percent; 0 for not.
        on_leave: It opens by itself when the visitor turns to leave.
        again_days: How long it does not open by itself again; 0 for at every visit.
    """

    id: OwnId
    page: OwnId
    node: OwnId
    sites: tuple[Origin, ...] = ()
    at_click: _Picks = ""
    after_s: Annotated[int, whole(0, 3600)] = 0
    at_scroll: Annotated[int, whole(0, 100)] = 0
    on_leave: bool = False
    again_days: Annotated[int, whole(0, 365)] = 1
