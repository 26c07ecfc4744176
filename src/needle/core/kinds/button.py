"""A button: the one thing a visitor is asked to do, or a lesser one."""

from markupsafe import Markup

from needle.core.render.context import Context
from needle.core.render.markup import tag
from needle.core.render.wording import words_html
from needle.core.site.actions import Action
from needle.core.site.ids import Id
from needle.core.site.kind import TYPE_TRAITS, Field, Kind, one_text
from needle.core.site.node import Item
from needle.core.site.words import Text, text

__all__ = ["KIND", "Button"]


class Button(Item, frozen=True, tag="button"):
    """A link with the weight of a button.

    Attributes:
        looks: "main" for the call to action, "second" for a lesser one.
        actions: What a click does, in order.
    """

    words: Text
    looks: str = "main"
    style: str = "button"
    actions: tuple[Action, ...] = ()


def _new(node_id: Id) -> Button:
    return Button(id=node_id, words=text("Keep me a place"))


def _render(node: Button, context: Context) -> Markup:
    attributes = context.attributes(node, f"button t-{node.style} b-{node.looks}")
    attributes |= context.typed("words", "one")
    attributes |= context.click(node.actions)
    return tag("a", attributes, words_html(node.words, context))


KIND = Kind(
    type=Button, label="Button", mark="button", new=_new, render=_render, texts=one_text,
    traits=TYPE_TRAITS | {"clickable", "sized"},
    fields=(
        Field(name="looks", label="Looks like", editor="choice",
              choices={"main": "Main action", "second": "Second action"}),
        Field(name="actions", label="When clicked", editor="actions", required=True),
    ),
    css=(".button{display:block;box-sizing:border-box;width:fit-content;max-width:100%;"
         "padding:15px 28px;border-radius:6px;border:0 solid transparent;text-align:center;"
         "text-decoration:none;font-family:inherit;cursor:pointer;transition:filter .12s}"
         ".button:hover{filter:brightness(1.08)}"
         ".b-main{background-color:var(--c-main);color:var(--c-on_main)}"
         ".b-second{background-color:transparent;color:inherit;border:1px solid currentColor;"
         "padding:14px 27px}"),
)
