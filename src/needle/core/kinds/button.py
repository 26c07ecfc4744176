"""A button: the one thing a visitor is asked to do, or a lesser one."""

from typing import Annotated

import msgspec
from markupsafe import Markup

from needle.core.icons.drawing import icon_svg
from needle.core.kinds.kind import TYPE_TRAITS, Field, Kind, Wishes, one_text
from needle.core.markup.markup import tag
from needle.core.markup.surroundings import Surroundings
from needle.core.markup.wording import words_html
from needle.core.values.actions import Action
from needle.core.values.ids import Id
from needle.core.values.node import Item
from needle.core.values.strict import Choice, StyleKey, one_of
from needle.core.values.styletable import ground_css
from needle.core.values.words import Text, text

__all__ = ["KIND", "Button"]


class Button(Item, frozen=True, tag="button"):
    """A link with the weight of a button.

    Attributes:
        looks: "main" for the call to action, "second" for a lesser one.
        drawing: The icon beside its words; empty for none.
        icon_side: "before" or "after" the words.
        actions: What a click does, in order.
    """

    words: Text
    looks: Annotated[str, one_of("main", "second")] = "main"
    style: StyleKey = "button"
    drawing: Choice = ""
    icon_side: Annotated[str, one_of("before", "after")] = "before"
    actions: tuple[Action, ...] = ()


def _new(node_id: Id) -> Button:
    return Button(id=node_id, words=text("Find out more"))


def _suit(node: Button, wishes: Wishes) -> Button:
    return msgspec.structs.replace(node, words=text(wishes.call)) if wishes.call else node


def _render(node: Button, context: Surroundings) -> Markup:
    attributes = context.attributes(node, f"button t-{node.style} b-{node.looks}")
    attributes |= context.click(node.actions)
    typed, words = context.typed("words", "one"), words_html(node.words, context)
    if not node.drawing:
        return tag("a", attributes | typed, words)
    parts = [icon_svg(node.drawing), tag("span", typed, words)]
    attributes["class"] = f"{attributes['class']} button-icon"
    return tag("a", attributes, *(parts if node.icon_side == "before" else parts[::-1]))


KIND = Kind(
    purpose="To act on",
    about="The call to action: a link, a download, a popup (CTA)",
    type=Button, label="Button", mark="button", new=_new, render=_render,
    suit=_suit, texts=one_text,
    traits=TYPE_TRAITS | {"clickable", "sized"}, needs=frozenset({"icon"}),
    fields=(
        Field(name="looks", label="Looks like", editor="choice",
              choices={"main": "Main action", "second": "Second action"}),
        Field(name="drawing", label="Icon", editor="icon"),
        Field(name="icon_side", label="Stands", editor="choice",
              choices={"before": "Before the words", "after": "After the words"}),
        Field(name="actions", label="When clicked", editor="actions", required=True),
    ),
    css=(".button{display:block;box-sizing:border-box;width:fit-content;max-width:100%;"
         "padding:15px 28px;border-radius:var(--corner-button,6px);border:0 solid transparent;"
         "text-align:center;text-decoration:none;font-family:inherit;cursor:pointer;"
         "transition:filter .12s}"
         ".button:hover{filter:brightness(1.08)}"
         f".b-main{{background-color:var(--c-main);color:var(--t-on_main);{ground_css('main')}}}"
         ".b-second{background-color:transparent;color:inherit;border:1px solid currentColor;"
         "padding:14px 27px}"
         ".button-icon{display:flex;gap:.6em;align-items:center;justify-content:center}"),
)
