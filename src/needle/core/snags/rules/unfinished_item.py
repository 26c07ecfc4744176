"""An item that is there but holds nothing."""

from collections.abc import Iterator
from typing import Any

from needle.core.kinds.video import Video
from needle.core.render.holders import kind_of
from needle.core.render.texts import plain_lines, texts_of
from needle.core.snags.snag import ItemAt, Rule, Spot
from needle.core.values.areas import Area

__all__ = ["RULES"]


def _form(at: ItemAt) -> Iterator[Spot]:
    for field in kind_of(at.node).fields:
        if field.required and field.editor == "form" and (
                at.site.form(getattr(at.node, field.name)) is None):
            yield Spot("A form is not chosen yet")


def _empty(at: ItemAt) -> Iterator[Spot]:
    """Yield items that lack what they are there to show: a picture, a video, words."""
    kind = kind_of(at.node)
    for field in kind.fields:
        held: Any = getattr(at.node, field.name, "")
        if field.required and field.editor == "medium" and at.site.medium(held) is None:
            yield Spot(f"A {field.label.lower()} is not chosen yet")
        elif field.required and field.check and (fault := field.check(held)):
            yield Spot(str(fault))
    if isinstance(at.node, Video) and not (at.site.medium(at.node.film) or at.node.address):
        yield Spot("A video is not chosen yet")
    if texts_of(at.node) and not any(plain_lines(at.node)):
        yield Spot(f"A {kind.label.lower()} has no words")


RULES = (
    Rule(id="no-form-chosen", setting="form",
         weight=1, scope="item", look=_form, source="trade practice",
         reads=frozenset({Area.FORMS}),
         reason="Where a form should stand there is nothing, so no lead comes."),
    Rule(id="empty-item", weight=2, scope="item", look=_empty, source="trade practice",
         reads=frozenset({Area.MEDIA}), reason="Visitors see a hole."),
)
