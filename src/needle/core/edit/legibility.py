"""How well words stand out from what is behind them."""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass

from needle.core.colour.contrast import contrast
from needle.core.colour.oklch import readable
from needle.core.colour.palette import GROUNDS
from needle.core.edit.everywhere import ways
from needle.core.render.texts import texts_of
from needle.core.site.site import Brand, Site
from needle.core.values.node import Node
from needle.core.values.widths import Width

__all__ = ["PairInUse", "pairs_in_use", "text_contrast"]


def text_contrast(site: Site, path: Sequence[Node], width: Width) -> float | None:
    """Return the contrast of an item's words on the nearest fill around it, 1 to 21.

    Args:
        path: The nodes from the section or popup down to the item.

    Returns:
        `None` where a picture is behind the words or a colour is not known.
    """
    on_main = getattr(path[-1], "looks", "") == "main"
    fill = _nearest(path, "fill", width, "main" if on_main else "")
    behind: str = getattr(path[0], "picture", "")
    if behind and fill in ("", path[0].look.value("fill", width)):
        return None
    ink = _nearest(path, "colour", width, "on_main" if on_main else "") or "ink"
    one, other = _hex(site.brand, fill or "paper"), _hex(site.brand, ink)
    if not one or not other:
        return None
    # Colours of the brand keep themselves readable on each other; others are as they are.
    of_brand = not ink.startswith("#") and (fill or "paper") in GROUNDS
    return contrast(one, readable(other, one) if of_brand else other)


@dataclass(frozen=True, slots=True)
class PairInUse:
    """Words of one colour of the brand on another.

    Attributes:
        ink, ground: Roles of the palette.
        count: How many items have it.
        ratio: The contrast of the two as they are.
        shown: The colour that the words take, so that they can be read.
    """

    ink: str
    ground: str
    count: int
    ratio: float
    shown: str


def pairs_in_use(site: Site) -> list[PairInUse]:
    """Return the pairs of colours of the brand that words on pages make, commonest first."""
    colours, counts = site.brand.colours(), Counter[tuple[str, str]]()
    for _, _, node_path in ways(site):
        ink, ground = _pair(node_path)
        if texts_of(node_path[-1]) and ink in colours and ground in colours:
            counts[ink, ground] += 1
    return [PairInUse(ink, ground, count, contrast(colours[ink], colours[ground]),
                      readable(colours[ink], colours[ground]))
            for (ink, ground), count in counts.most_common()]


def _pair(path: Sequence[Node]) -> tuple[str, str]:
    on_main = getattr(path[-1], "looks", "") == "main"
    ground = _nearest(path, "fill", Width.DESKTOP, "main" if on_main else "") or "paper"
    return _nearest(path, "colour", Width.DESKTOP, "on_main" if on_main else "") or "ink", ground


def _nearest(path: Sequence[Node], name: str, width: Width, own: str) -> str:
    for node in reversed(path):
        value = node.look.value(name, width)
        if value is not None:
            return str(value)
        if node is path[-1] and own:
            return own
    return ""


def _hex(brand: Brand, value: str) -> str:
    swatch = brand.swatch(value)
    return swatch.value if swatch else (value if value.startswith("#") else "")
