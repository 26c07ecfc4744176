"""An item that is there but holds nothing."""

from collections.abc import Iterator

from needle.core.edit.texts import plain_lines, texts_of
from needle.core.render.holders import kind_of
from needle.core.site.site import Site
from needle.core.snags.snag import Snag
from needle.core.snags.walking import place_words, ways

__all__ = ["look"]


def look(site: Site) -> Iterator[Snag]:
    """Yield pictures and forms of which none is chosen, and items without words."""
    for page, variant, path in ways(site):
        node = path[-1]
        kind, where = kind_of(node), place_words(page, variant, path)
        if kind.key == "picture" and site.medium(getattr(node, "medium", "")) is None:
            yield Snag(2, "A picture is not chosen yet", where, "node", node.id)
        elif kind.key == "form" and site.form(getattr(node, "form", "")) is None:
            yield Snag(1, "A form is not chosen yet", where, "node", node.id)
        elif texts_of(node) and not any(plain_lines(node)):
            yield Snag(2, f"A {kind.label.lower()} has no words", where, "node", node.id)
