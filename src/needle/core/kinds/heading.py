"""A heading."""

from markupsafe import Markup

from needle.core.render.context import Context
from needle.core.render.markup import tag
from needle.core.render.wording import words_html
from needle.core.site.ids import Id
from needle.core.site.kind import TYPE_TRAITS, Field, Kind, one_text
from needle.core.site.node import Item
from needle.core.site.strict import StyleKey
from needle.core.site.words import Text, text

__all__ = ["KIND", "Heading"]


class Heading(Item, frozen=True, tag="heading"):
    """Words that name what follows.

    Attributes:
        rank: 1 for the page's own heading, down to 6.
        style: The text style it takes its looks from.
    """

    words: Text
    rank: int = 2
    style: StyleKey = "title"


def _new(node_id: Id) -> Heading:
    return Heading(id=node_id, words=text("A new heading"), style="heading")


def _render(node: Heading, context: Context) -> Markup:
    attributes = context.attributes(node, f"t-{node.style}")
    attributes |= context.typed("words", "one")
    return tag(f"h{node.rank}", attributes, words_html(node.words, context))


KIND = Kind(
    type=Heading, label="Heading", mark="heading", traits=TYPE_TRAITS, new=_new, render=_render,
    texts=one_text,
    fields=(
        Field(name="style", label="Style", editor="style"),
        Field(name="rank", label="Rank", editor="choice",
              choices={n: f"Heading {n}" for n in range(1, 7)}),
    ),
)
