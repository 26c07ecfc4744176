"""A list with a chosen mark."""

from typing import Annotated

from markupsafe import Markup

from needle.core.icons.drawing import icon_address
from needle.core.kinds.kind import TYPE_TRAITS, Field, Kind, lines_text
from needle.core.markup.markup import tag
from needle.core.markup.surroundings import Surroundings
from needle.core.markup.wording import lines_html
from needle.core.values.ids import Id
from needle.core.values.node import Item
from needle.core.values.strict import Choice, StyleKey, one_of
from needle.core.values.words import Text, text

__all__ = ["KIND", "Listing"]

_MARKS = {"tick": "Ticks", "dot": "Dots", "star": "Stars", "cross": "Crosses", "number": "Numbers",
          "icon": "An icon", "none": "No mark"}


class Listing(Item, frozen=True, tag="list"):
    """Short lines, one below the other.

    Attributes:
        mark: What stands before each line; "number" makes an ordered list.
        drawing: The icon, if the mark is one.
    """

    words: tuple[Text, ...]
    mark: Annotated[str, one_of(*_MARKS)] = "tick"
    drawing: Choice = "sparkles"
    style: StyleKey = "body"


def _new(node_id: Id) -> Listing:
    lines = ("The first thing they get", "The second", "The third")
    return Listing(id=node_id, words=tuple(text(line) for line in lines))


def _render(node: Listing, context: Surroundings) -> Markup:
    attributes = context.attributes(node, f"list m-{node.mark} t-{node.style}")
    attributes |= context.typed("words", "lines")
    if node.mark == "icon":
        attributes["style"] = f"--mark:{icon_address(node.drawing) or 'none'}"
    name = "ol" if node.mark == "number" else "ul"
    return tag(name, attributes, lines_html(node.words, context, "li"))


KIND = Kind(
    purpose="Words",
    about="Points one below another, with dots, numbers, ticks or an icon",
    type=Listing, label="List", mark="list", traits=TYPE_TRAITS, new=_new, render=_render,
    texts=lines_text,
    fields=(
        Field(name="style", label="Style", editor="style"),
        Field(name="mark", label="Mark", editor="choice", choices=_MARKS),
        Field(name="drawing", label="Icon", editor="icon"),
    ),
    css=(".list{display:grid;gap:.5em;padding-left:1.6em;list-style:none}"
         ".list>li{position:relative}"
         ".list>li::before{position:absolute;left:-1.4em;color:var(--t-accent)}"
         ".m-tick>li::before{content:'';top:.3em;width:.36em;height:.72em;"
         "border:solid;border-width:0 .15em .15em 0;transform:rotate(42deg)}"
         ".m-dot>li::before{content:'';top:.6em;width:.36em;height:.36em;border-radius:50%;"
         "background:currentColor}"
         ".m-star>li::before{content:'';top:.3em;width:1em;height:1em;background:currentColor;"
         "clip-path:polygon(50% 0,60% 40%,100% 50%,60% 60%,50% 100%,40% 60%,0 50%,40% 40%)}"
         ".m-cross>li::before{content:'';top:.3em;width:.9em;height:.9em;"
         "background:linear-gradient(45deg,#0000 44%,currentColor 44% 56%,#0000 56%),"
         "linear-gradient(-45deg,#0000 44%,currentColor 44% 56%,#0000 56%)}"
         ".m-icon>li::before{content:'';top:.28em;left:-1.6em;width:1.1em;height:1.1em;"
         "background:currentColor;-webkit-mask:var(--mark) center/contain no-repeat;"
         "mask:var(--mark) center/contain no-repeat}"
         ".m-number{list-style:decimal}.m-none{padding-left:0}"),
)
