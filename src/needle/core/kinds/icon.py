"""An icon."""

from markupsafe import Markup

from needle.core.icons.drawing import icon_svg
from needle.core.kinds.kind import Field, Kind
from needle.core.markup.markup import tag
from needle.core.markup.surroundings import Surroundings
from needle.core.values.actions import Action
from needle.core.values.ids import Id
from needle.core.values.node import Item
from needle.core.values.strict import Choice

__all__ = ["ICON_CSS", "KIND", "Icon"]

ICON_CSS = ".icon{display:inline-block;width:1em;height:1em;flex:none;vertical-align:-.125em}"


class Icon(Item, frozen=True, tag="icon"):
    """A line drawing in the colour of its type.

    Attributes:
        drawing: The name of a shipped icon.
        alt: What it says to those who cannot see it; empty for mere decoration.
        actions: What a click does, in order.
    """

    drawing: Choice = "star"
    alt: str = ""
    actions: tuple[Action, ...] = ()


def _new(node_id: Id) -> Icon:
    return Icon(id=node_id)


def _render(node: Icon, context: Surroundings) -> Markup:
    attributes = context.attributes(node, "icon-item")
    name = "div"
    if node.actions:
        name = "a"
        attributes |= context.click(node.actions)
        attributes["aria-label"] = node.alt or node.drawing.replace("-", " ")
    elif node.alt:
        attributes |= {"role": "img", "aria-label": node.alt}
    return tag(name, attributes, icon_svg(node.drawing))


KIND = Kind(
    purpose="Pictures",
    about="One of some hundred line drawings (symbol)",
    type=Icon, label="Icon", mark="icon", new=_new, render=_render,
    summary=lambda node, context: node.alt or f"Icon: {node.drawing.replace('-', ' ')}",
    traits=frozenset({"ink", "box", "item", "movable", "clickable"}),
    fields=(
        Field(name="drawing", label="Icon", editor="icon", required=True),
        Field(name="alt", label="Says", editor="line"),
        Field(name="actions", label="When clicked", editor="actions")),
    css=ICON_CSS + ".icon-item{font-size:40px;line-height:1;color:var(--t-accent)}",
)
