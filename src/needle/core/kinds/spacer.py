"""Empty space."""

from markupsafe import Markup

from needle.core.render.context import Context
from needle.core.render.markup import tag
from needle.core.site.ids import Id
from needle.core.site.kind import Field, Kind
from needle.core.site.node import Item

__all__ = ["KIND", "Spacer"]


class Spacer(Item, frozen=True, tag="spacer"):
    """Space between two items.

    Attributes:
        height: In CSS pixels.
    """

    height: int = 32


def _new(node_id: Id) -> Spacer:
    return Spacer(id=node_id)


def _render(node: Spacer, context: Context) -> Markup:
    attributes = context.attributes(node)
    attributes["style"] = f"height:{node.height}px"
    return tag("div", attributes)


KIND = Kind(
    type=Spacer, label="Spacer", mark="spacer", new=_new, render=_render,
    traits=frozenset({"movable"}),
    fields=(Field(name="height", label="Height", editor="number", low=0, high=800),),
    summary=lambda node, context: f"{node.height} px of space",
)
