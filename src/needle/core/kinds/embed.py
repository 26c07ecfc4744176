"""Code from elsewhere, put into the page as it is."""

from typing import Annotated

from markupsafe import Markup

from needle.core.kinds.kind import Field, Kind
from needle.core.markup.markup import tag
from needle.core.markup.surroundings import Surroundings
from needle.core.values.ids import Id
from needle.core.values.node import Item
from needle.core.values.strict import whole

__all__ = ["KIND", "Embed"]


class Embed(Item, frozen=True, tag="embed"):
    """Markup, styles or scripts that somebody gave the marketer.

    It is inert in the editor: only visitors' browsers and the walk-through run it.

    Attributes:
        height: What is kept free for it, in CSS pixels, so that the page does not jump.
    """

    code: str = ""
    height: Annotated[int, whole(0, 2000)] = 200


def _new(node_id: Id) -> Embed:
    return Embed(id=node_id)


def _render(node: Embed, context: Surroundings) -> Markup:
    attributes = context.attributes(node, "embed") | {"style": f"min-height:{node.height}px"}
    if context.mode == "edit":
        size = len(node.code)
        words = f"Embedded code, {size:,} characters. It runs when published." if size else (
            "No code yet. Paste it into the tray.")
        return tag("div", attributes, tag("span", {"class": "embed-note"}, words))
    return tag("div", attributes, Markup(node.code))  # The marketer's own code, as pasted.


KIND = Kind(
    purpose="From elsewhere",
    about="Code of another service: a map, a calendar, a player (HTML)",
    type=Embed, label="Embedded code", mark="code", new=_new, render=_render,
    traits=frozenset({"box", "item", "movable"}),
    summary=lambda node, context: f"Embedded code, {len(node.code):,} characters",
    fields=(
        Field(name="code", label="Code", editor="code"),
        Field(name="height", label="Keeps free", editor="number")),
    css=(".embed{display:grid;width:100%}.embed-note{place-self:center;padding:12px;"
         "font:14px var(--f-body);text-align:center;border:1px dashed currentColor}"),
)
