"""A bar that shows how far something has come."""

from typing import Annotated

from markupsafe import Markup

from needle.core.kinds.kind import TYPE_TRAITS, Field, Kind, one_text
from needle.core.markup.markup import tag
from needle.core.markup.surroundings import Surroundings
from needle.core.markup.wording import words_html
from needle.core.values.areas import Area
from needle.core.values.ids import Id
from needle.core.values.node import Item
from needle.core.values.strict import PaletteRole, StyleKey, whole
from needle.core.values.words import Text, plain, text

__all__ = ["KIND", "Progress"]


class Progress(Item, frozen=True, tag="progress"):
    """A bar with words above it.

    Attributes:
        value: How much of it is full, in percent.
        bar: The colour of the full part.
    """

    words: Text
    value: Annotated[int, whole(0, 100)] = 60
    bar: PaletteRole = "main"
    style: StyleKey = "small"


def _new(node_id: Id) -> Progress:
    return Progress(id=node_id, words=text("More than half way there"))


def _render(node: Progress, context: Surroundings) -> Markup:
    track = tag("div", {
        "class": "progress-track", "role": "progressbar", "aria-valuemin": 0,
        "aria-valuemax": 100, "aria-valuenow": node.value,
        "aria-label": plain(node.words) or context.words("progress-bar")},
        tag("div", {"style": f"width:{node.value}%;background-color:var(--c-{node.bar})"}))
    # The words have an element of their own, so that typing in them leaves the bar alone.
    words = tag("p", context.typed("words", "one"), words_html(node.words, context))
    return tag("div", context.attributes(node, f"progress t-{node.style}"), words, track)


KIND = Kind(
    purpose="To act on",
    about="A bar that shows how far something has come",
    type=Progress, label="Progress bar", mark="progress", traits=TYPE_TRAITS, new=_new,
    render=_render, texts=one_text, reads=frozenset({Area.LANGUAGE}),
    fields=(
        Field(name="value", label="Full %", editor="number"),
        Field(name="bar", label="Bar", editor="colour"),
        Field(name="style", label="Style", editor="style")),
    css=(".progress{display:grid;gap:6px}.progress-track{height:12px;border-radius:6px;"
         "overflow:hidden;background:color-mix(in srgb,currentColor 16%,transparent)}"
         ".progress-track>div{height:100%}"),
)
