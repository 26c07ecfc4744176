"""A picture."""

from markupsafe import Markup

from needle.core.render.context import Context
from needle.core.render.imagery import image
from needle.core.render.markup import tag
from needle.core.site.actions import Action
from needle.core.site.ids import Id
from needle.core.site.kind import Field, Kind
from needle.core.site.node import Item

__all__ = ["KIND", "Picture"]


class Picture(Item, frozen=True, tag="picture"):
    """A picture from the site's media.

    Attributes:
        medium: Which one; empty while none is chosen.
        alt: What it shows, if it differs here from the medium's own words.
        actions: What a click does, in order; none makes it a plain picture.
    """

    medium: Id = ""
    alt: str = ""
    actions: tuple[Action, ...] = ()


def _new(node_id: Id) -> Picture:
    return Picture(id=node_id)


def _render(node: Picture, context: Context) -> Markup:
    medium = context.medium(node.medium)
    name = "a" if node.actions else "div"
    attributes = context.attributes(node, "picture")
    if node.actions:
        attributes |= context.click(node.actions)
    if medium is None:
        empty = tag("span", {"class": "nothing"}, "No picture chosen yet")
        return tag(name, attributes, empty if context.mode == "edit" else "")
    return tag(name, attributes, image(medium, context, alt=node.alt or medium.alt))


def _summary(node: Picture, context: Context) -> str:
    medium = context.medium(node.medium)
    return (node.alt or medium.alt or medium.name) if medium else "no picture chosen"


KIND = Kind(
    type=Picture, label="Picture", mark="image", new=_new, render=_render, summary=_summary,
    traits=frozenset({"box", "item", "movable", "clickable", "sized"}),
    fields=(
        Field(name="medium", label="Picture", editor="medium"),
        Field(name="alt", label="Shows", editor="line"),
        Field(name="actions", label="When clicked", editor="actions"),
    ),
    css=(".picture{display:block;overflow:hidden}"
         ".picture img{display:block;width:100%;height:auto}"
         ".picture .nothing{display:grid;place-items:center;min-height:160px;"
         "background:#8882;font:500 14px var(--f-body)}"),
)
