"""Running text in paragraphs."""

from markupsafe import Markup

from needle.core.kinds.kind import TYPE_TRAITS, Field, Kind, lines_text
from needle.core.markup.markup import tag
from needle.core.markup.surroundings import Surroundings
from needle.core.markup.wording import lines_html
from needle.core.values.ids import Id
from needle.core.values.node import Item
from needle.core.values.strict import StyleKey
from needle.core.values.words import Text, text

__all__ = ["KIND", "Passage"]


class Passage(Item, frozen=True, tag="text"):
    """One or more paragraphs."""

    words: tuple[Text, ...]
    style: StyleKey = "body"


def _new(node_id: Id) -> Passage:
    return Passage(id=node_id, words=(text("Write here what the visitor comes to find out."),))


def _render(node: Passage, context: Surroundings) -> Markup:
    attributes = context.attributes(node, f"passage t-{node.style}")
    attributes |= context.typed("words", "lines")
    return tag("div", attributes, lines_html(node.words, context))


KIND = Kind(
    purpose="Words",
    about="Paragraphs, with bold, italic and links",
    type=Passage, label="Text", mark="pilcrow", traits=TYPE_TRAITS, new=_new, render=_render,
    texts=lines_text, fields=(Field(name="style", label="Style", editor="style"),),
    css=".passage{display:grid;gap:.8em}",
)
