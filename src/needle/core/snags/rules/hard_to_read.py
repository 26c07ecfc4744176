"""Words that do not stand out enough from what is behind them."""

from collections.abc import Iterator

from needle.core.edit.everywhere import ways
from needle.core.edit.reading import text_contrast
from needle.core.render.texts import texts_of
from needle.core.site.site import Site
from needle.core.snags.snag import Snag
from needle.core.snags.walking import place_words
from needle.core.values.widths import Width

__all__ = ["LOWEST", "look"]

# WCAG 2.2, success criterion 1.4.3, for text of common size.
LOWEST = 4.5


def look(site: Site) -> Iterator[Snag]:
    """Yield items whose words have too little contrast on a plain colour, at any width."""
    for page, variant, path in ways(site):
        node = path[-1]
        if not texts_of(node):
            continue
        ratios = {width: text_contrast(site, path, width) for width in Width}
        low = {width: ratio for width, ratio in ratios.items() if ratio and ratio < LOWEST}
        if low:
            width, ratio = min(low.items(), key=lambda one: one[1])
            yield Snag(2, f"Hard to read: {ratio:.1f} : 1, needs {LOWEST} : 1",
                       f"{place_words(page, variant, path)} · {width.value}", "node", node.id)
