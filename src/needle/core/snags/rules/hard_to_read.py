"""Words that do not stand out enough from what is behind them."""

from collections.abc import Iterator

from needle.core.colour.contrast import contrast
from needle.core.edit.legibility import text_contrast
from needle.core.render.texts import texts_of
from needle.core.site.site import Page, Site
from needle.core.snags.laid import LaidPage, LaidText
from needle.core.snags.snag import ItemAt, Rule, Spot
from needle.core.values.areas import Area
from needle.core.values.widths import Width

__all__ = ["LOWEST", "RULES"]

# WCAG 2.2, success criterion 1.4.3: for text of common size, and for large text, which is 24 px
# high or 18.66 px and bold.
LOWEST, _LOWEST_LARGE = 4.5, 3.0
_LARGE_PX, _LARGE_BOLD_PX = 24, 18.66


def _on_colour(at: ItemAt) -> Iterator[Spot]:
    """Yield items whose words have too little contrast on a plain colour, at any width."""
    if not texts_of(at.node):
        return
    ratios = {width: text_contrast(at.site, at.path, width) for width in Width}
    low = {width: ratio for width, ratio in ratios.items() if ratio and ratio < LOWEST}
    if low:
        width, ratio = min(low.items(), key=lambda one: one[1])
        yield Spot(f"Hard to read: {ratio:.1f} : 1, needs {LOWEST} : 1", note=width.value,
                   width=width)


def _on_picture(laid: LaidPage, _page: Page, _site: Site) -> Iterator[Spot]:
    """Yield words that the picture behind them swallows, worst stretch of each item."""
    worst: dict[str, tuple[float, float]] = {}
    for text in laid.texts:
        ratio, needed = contrast(text.ink, text.behind), _needed(text)
        if ratio < needed and ratio < worst.get(text.node, (99.0, 0))[0]:
            worst[text.node] = (ratio, needed)
    for node, (ratio, needed) in worst.items():
        yield Spot(f"Hard to read on its picture: {ratio:.1f} : 1, needs {needed:g} : 1", "node",
                   node, note=f"{laid.width} px wide")


def _needed(text: LaidText) -> float:
    large = text.size >= (_LARGE_BOLD_PX if text.bold else _LARGE_PX)
    return _LOWEST_LARGE if large else LOWEST


_WHY = "Who cannot read it without effort does not read it."
_SOURCE = "WCAG 2.2, success criterion 1.4.3"
RULES = (
    Rule(id="hard-to-read", setting="colour",
         weight=2, scope="item", look=_on_colour, reason=_WHY, source=_SOURCE,
         reads=frozenset({Area.BRAND, Area.STYLES})),
    Rule(id="hard-to-read-on-picture", setting="colour",
         weight=2, scope="laid out", look=_on_picture, reason=_WHY,
         source=_SOURCE),
)
