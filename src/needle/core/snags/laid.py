"""A page as a browser has laid it out at one width: one measured record for all rules.

The record is made by a hidden view (`ui/publish/layout.py`) and kept by a digest of what it shows.
"""

from typing import Annotated

from needle.core.values.ids import Id
from needle.core.values.strict import Hex, Strict, VariantKey, whole

__all__ = ["Box", "LaidItem", "LaidPage", "LaidText"]

_Px = Annotated[int, whole(-1_000_000, 1_000_000)]


class Box(Strict, frozen=True, array_like=True):
    """Where something stands, in CSS pixels from the top left of the page."""

    left: _Px
    top: _Px
    width: _Px
    height: _Px

    @property
    def right(self) -> int:
        """Its right edge."""
        return self.left + self.width

    @property
    def bottom(self) -> int:
        """Its lower edge."""
        return self.top + self.height

    def shared(self, other: "Box") -> int:
        """Return the area that both cover, in square pixels."""
        wide = min(self.right, other.right) - max(self.left, other.left)
        high = min(self.bottom, other.bottom) - max(self.top, other.top)
        return max(0, wide) * max(0, high)


class LaidItem(Strict, frozen=True):
    """A node that is seen.

    Attributes:
        click: Something in it can be clicked; the box is then that of the smallest such thing.
    """

    node: Id
    box: Box
    click: Box | None = None


class LaidText(Strict, frozen=True):
    """A stretch of words as it is seen.

    Attributes:
        ink: The colour of the words.
        behind: The colour of the pixels behind them against which they stand out least.
        size: In CSS pixels.
        bold: Its weight is 700 or more.
    """

    node: Id
    box: Box
    ink: Hex
    behind: Hex
    size: float
    bold: bool = False


class LaidPage(Strict, frozen=True):
    """One variant of a page at one width.

    Attributes:
        width: Of the window, in CSS pixels.
        height: Of the page.
        fold: Where the first screen ends.
        reach: How far to the right anything goes; more than `width` is a page that slides.
        items: In reading order; of what holds others, only what is clickable.
        texts: Words on pictures; those on plain colours need no pixels.
    """

    page: Id
    variant: VariantKey
    width: int
    height: int
    fold: int
    reach: int
    items: tuple[LaidItem, ...] = ()
    texts: tuple[LaidText, ...] = ()
