"""An item that is there but holds nothing."""

from collections.abc import Iterator
from typing import Any

from needle.core.edit.everywhere import ways
from needle.core.kinds.video import Video
from needle.core.render.holders import kind_of
from needle.core.render.texts import plain_lines, texts_of
from needle.core.site.site import Site
from needle.core.snags.snag import Snag
from needle.core.snags.walking import place_words

__all__ = ["look"]


def look(site: Site) -> Iterator[Snag]:
    """Yield items that lack what they are there to show: a picture, a form, a video, words."""
    for page, variant, path in ways(site):
        node = path[-1]
        kind, where = kind_of(node), place_words(page, variant, path)
        for field in kind.fields:
            held: Any = getattr(node, field.name, "")
            if field.required and field.editor == "form" and site.form(held) is None:
                yield Snag(1, "A form is not chosen yet", where, "node", node.id)
            elif field.required and field.editor == "medium" and site.medium(held) is None:
                yield Snag(2, f"A {field.label.lower()} is not chosen yet", where, "node", node.id)
            elif field.required and field.check and (fault := field.check(held)):
                yield Snag(2, fault, where, "node", node.id)
        if isinstance(node, Video) and not (site.medium(node.film) or node.address):
            yield Snag(2, "A video is not chosen yet", where, "node", node.id)
        if texts_of(node) and not any(plain_lines(node)):
            yield Snag(2, f"A {kind.label.lower()} has no words", where, "node", node.id)
