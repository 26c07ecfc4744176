"""Empty space."""

from typing import Annotated

from markupsafe import Markup

from needle.core.kinds.kind import Field, Kind
from needle.core.markup.markup import tag
from needle.core.markup.surroundings import Surroundings
from needle.core.values.ids import Id
from needle.core.values.node import Item
from needle.core.values.strict import whole

__all__ = ["KIND", "Spacer"]


class Spacer(Item, frozen=True, tag="spacer"):
    """Space between two items.

    Attributes:
        height: In CSS pixels.
    """

    height: Annotated[int, whole(0, 800)] = 32


def _new(node_id: Id) -> Spacer:
    return Spacer(id=node_id)


def _render(node: Spacer, context: Surroundings) -> Markup:
    attributes = context.attributes(node)
    attributes["style"] = f"height:{node.height}px"
    return tag("div", attributes)


KIND = Kind(
    purpose="Layout",
    about="Room of a height that you set",
    type=Spacer, label="Spacer", mark="spacer", new=_new, render=_render,
    traits=frozenset({"movable"}),
    fields=(Field(name="height", label="Height", editor="number"),),
    summary=lambda node, context: f"{node.height} px of space",
)
