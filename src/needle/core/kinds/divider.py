"""A line between things."""

from markupsafe import Markup

from needle.core.kinds.kind import Kind
from needle.core.markup.markup import tag
from needle.core.markup.surroundings import Surroundings
from needle.core.values.ids import Id
from needle.core.values.node import Item

__all__ = ["KIND", "Divider"]


class Divider(Item, frozen=True, tag="divider"):
    """A thin line across the column."""


def _new(node_id: Id) -> Divider:
    return Divider(id=node_id)


def _render(node: Divider, context: Surroundings) -> Markup:
    return tag("hr", context.attributes(node, "divider"))


KIND = Kind(
    purpose="Layout",
    about="A thin line between two parts (rule)",
    type=Divider, label="Divider", mark="minus", new=_new, render=_render,
    traits=frozenset({"box", "item", "movable"}),
    summary=lambda node, context: "a line",
    css=(".divider{width:100%;margin:0;border:0 solid;border-top-width:1px;"
         "border-color:color-mix(in srgb,currentColor 25%,transparent)}"),
)
