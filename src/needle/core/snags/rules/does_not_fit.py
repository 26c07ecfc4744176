"""What sticks out of the page, lies over something else, or is too small to hit."""

from collections.abc import Iterator
from itertools import pairwise

from needle.core.site.site import Page, Site
from needle.core.snags.laid import LaidPage
from needle.core.snags.snag import Rule, Spot

__all__ = ["RULES"]

# WCAG 2.2, success criterion 2.5.8, in CSS pixels.
_TARGET_PX = 24
# A little overlap is meant: a picture that reaches into the next section.
_OVERLAP = 0.25


def _sticks_out(laid: LaidPage, _page: Page, _site: Site) -> Iterator[Spot]:
    wide = [item for item in laid.items if item.box.right > laid.width + 1]
    for item in wide:
        yield Spot(f"Sticks out {item.box.right - laid.width} px to the right", "node", item.node,
                   note=f"{laid.width} px wide")
    if not wide and laid.reach > laid.width + 1:
        yield Spot(f"The page slides sideways by {laid.reach - laid.width} px",
                   note=f"{laid.width} px wide")


def _overlaps(laid: LaidPage, _page: Page, _site: Site) -> Iterator[Spot]:
    """Yield items that cover a good part of the one before or after them."""
    items = [item for item in laid.items if item.box.width and item.box.height]
    for one, other in pairwise(items):
        least = min(one.box.width * one.box.height, other.box.width * other.box.height)
        if one.box.shared(other.box) > _OVERLAP * least:
            yield Spot("Lies over what stands before it", "node", other.node,
                       note=f"{laid.width} px wide")


def _small_target(laid: LaidPage, _page: Page, _site: Site) -> Iterator[Spot]:
    for item in laid.items:
        if item.click and min(item.click.width, item.click.height) < _TARGET_PX:
            yield Spot(f"Hard to hit: {item.click.width} × {item.click.height} px, needs "
                       f"{_TARGET_PX} × {_TARGET_PX}", "node", item.node,
                       note=f"{laid.width} px wide")


RULES = (
    Rule(id="sticks-out", setting="width",
         weight=2, scope="laid out", look=_sticks_out,
         source="WCAG 2.2, success criterion 1.4.10",
         reason="It is cut off there, or the whole page slides sideways under the finger."),
    Rule(id="overlaps", setting="margin_top",
         weight=2, scope="laid out", look=_overlaps, source="trade practice",
         reason="What is covered cannot be read or clicked."),
    Rule(id="small-target", setting="pad_top",
         weight=3, scope="laid out", look=_small_target,
         source="WCAG 2.2, success criterion 2.5.8",
         reason="A finger misses it, or hits what stands beside it."),
)
