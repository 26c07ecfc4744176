"""A heading."""

from typing import Annotated

from markupsafe import Markup

from needle.core.kinds.kind import TYPE_TRAITS, Field, Kind, one_text
from needle.core.markup.markup import tag
from needle.core.markup.surroundings import Surroundings
from needle.core.markup.wording import words_html
from needle.core.values.ids import Id
from needle.core.values.node import Item
from needle.core.values.strict import StyleKey, whole
from needle.core.values.words import Text, text

__all__ = ["KIND", "Heading"]


class Heading(Item, frozen=True, tag="heading"):
    """Words that name what follows.

    Attributes:
        rank: 1 for the page's own heading, down to 6.
        style: The text style it takes its looks from.
    """

    words: Text
    rank: Annotated[int, whole(1, 6)] = 2
    style: StyleKey = "title"


def _new(node_id: Id) -> Heading:
    return Heading(id=node_id, words=text("A new heading"), style="heading")


def _render(node: Heading, context: Surroundings) -> Markup:
    attributes = context.attributes(node, f"t-{node.style}")
    attributes |= context.typed("words", "one")
    return tag(f"h{node.rank}", attributes, words_html(node.words, context))


KIND = Kind(
    purpose="Words",
    about="A line of weight; search engines read its rank",
    type=Heading, label="Heading", mark="heading", traits=TYPE_TRAITS, new=_new, render=_render,
    texts=one_text,
    fields=(
        Field(name="style", label="Style", editor="style"),
        Field(name="rank", label="Rank", editor="choice",
              choices={n: f"Heading {n}" for n in range(1, 7)}),
    ),
)
