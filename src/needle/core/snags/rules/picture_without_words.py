"""A picture that says nothing to those who cannot see it."""

from collections.abc import Iterator

from needle.core.edit.everywhere import ways
from needle.core.kinds.picture import Picture
from needle.core.site.site import Site
from needle.core.snags.snag import Snag
from needle.core.snags.walking import place_words

__all__ = ["look"]


def look(site: Site) -> Iterator[Snag]:
    """Yield pictures without alternative text, here or in the media."""
    for page, variant, path in ways(site):
        node = path[-1]
        if not isinstance(node, Picture) or node.alt:
            continue
        medium = site.medium(node.medium)
        if medium is not None and not medium.alt:
            yield Snag(2, f"Nobody said what “{medium.name}” shows",
                       place_words(page, variant, path), "node", node.id)
