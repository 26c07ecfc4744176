"""Headings that skip a rank: a screen reader's list of them has a hole there."""

from collections.abc import Iterator

from needle.core.edit.everywhere import ways
from needle.core.kinds.heading import Heading
from needle.core.site.site import Site
from needle.core.snags.snag import Snag
from needle.core.snags.walking import place_words

__all__ = ["look"]


def look(site: Site) -> Iterator[Snag]:
    """Yield headings more than one rank below the one before them, popups apart."""
    last: dict[object, int] = {}
    for page, variant, path in ways(site):
        node = path[-1]
        if not isinstance(node, Heading):
            continue
        top = path[0] if path[0] in variant.popups else None
        key = (page.id, variant.key, top.id if top else "")
        before = last.get(key, node.rank - 1 if top else 0)
        if before and node.rank > before + 1:
            yield Snag(3, f"Heading {node.rank} follows heading {before}",
                       place_words(page, variant, path), "node", node.id)
        last[key] = node.rank
