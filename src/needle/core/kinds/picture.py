"""A picture."""

from typing import Annotated

from markupsafe import Markup

from needle.core.kinds.kind import Field, Kind
from needle.core.markup.imagery import image
from needle.core.markup.markup import tag
from needle.core.markup.surroundings import Surroundings
from needle.core.values.actions import Action
from needle.core.values.areas import Area
from needle.core.values.ids import Id
from needle.core.values.media import Medium
from needle.core.values.node import Item
from needle.core.values.strict import Ratio, whole

__all__ = ["KIND", "Picture"]


_RATIOS = {"": "Whole", "1/1": "Square", "4/3": "4 : 3", "3/2": "3 : 2", "16/9": "16 : 9",
           "21/9": "21 : 9", "3/4": "3 : 4", "2/3": "2 : 3"}


class Picture(Item, frozen=True, tag="picture"):
    """A picture from the site's media.

    Attributes:
        medium: Which one; empty while none is chosen.
        alt: What it shows, if it differs here from the medium's own words.
        ratio: The proportions it is cut to, "4/3"; empty leaves it whole.
        focus_x, focus_y: Which point stays in sight when it is cut, in percent.
        zoom: How far it is drawn in around that point, in percent.
        actions: What a click does, in order; none makes it a plain picture.
    """

    medium: Id = ""
    alt: str = ""
    ratio: Ratio = ""
    focus_x: Annotated[int, whole(0, 100)] = 50
    focus_y: Annotated[int, whole(0, 100)] = 50
    zoom: Annotated[int, whole(100, 500)] = 100
    actions: tuple[Action, ...] = ()


def _new(node_id: Id) -> Picture:
    return Picture(id=node_id)


def _render(node: Picture, context: Surroundings) -> Markup:
    medium = context.medium(node.medium)
    name = "a" if node.actions else "div"
    attributes = context.attributes(node, "picture")
    if node.actions:
        attributes |= context.click(node.actions)
    if medium is None:
        empty = tag("span", {"class": "nothing"}, "No picture chosen yet")
        return tag(name, attributes, empty if context.mode == "edit" else "")
    return tag(name, attributes, image(
        medium, context, alt=node.alt or medium.alt, style=_cut(node),
        sizes=context.sizes(node, _hidden_beside(node, medium))))


def _hidden_beside(node: Picture, medium: Medium) -> float:
    """Return how much wider the whole picture is than what is seen of it."""
    wide, _, high = node.ratio.partition("/")
    cut = medium.width * float(high) / (medium.height * float(wide)) \
        if node.ratio in _RATIOS and high and medium.height else 1
    return max(1, cut) * node.zoom / 100


def _cut(node: Picture) -> str:
    """Return the style that cuts the picture; the file itself stays whole."""
    point = f"{node.focus_x}% {node.focus_y}%"
    parts = [f"aspect-ratio:{node.ratio};object-fit:cover;object-position:{point}"] \
        if node.ratio in _RATIOS and node.ratio else []
    if node.zoom > 100:
        parts.append(f"transform:scale({node.zoom / 100:g});transform-origin:{point}")
    return ";".join(parts)


def _summary(node: Picture, context: Surroundings) -> str:
    medium = context.medium(node.medium)
    return (node.alt or medium.alt or medium.name) if medium else "no picture chosen"


KIND = Kind(
    purpose="Pictures",
    about="A photograph or drawing, cut to a ratio, sent in sizes (image)",
    type=Picture, label="Picture", mark="image", new=_new, render=_render,
    reads=frozenset({Area.MEDIA}), summary=_summary,
    traits=frozenset({"box", "item", "movable", "clickable", "sized"}),
    fields=(
        Field(name="medium", label="Picture", editor="medium", required=True),
        Field(name="alt", label="Shows", editor="line"),
        Field(name="ratio", label="Cut to", editor="choice", choices=_RATIOS, column="Cut"),
        Field(name="focus_x", label="Across %", editor="number", column="Cut"),
        Field(name="focus_y", label="Down %", editor="number", column="Cut"),
        Field(name="zoom", label="Drawn in %", editor="number", column="Cut"),
        Field(name="actions", label="When clicked", editor="actions"),
    ),
    css=(".picture{display:block;overflow:hidden;border-radius:var(--corner-picture,0)}"
         ".picture img{display:block;width:100%;height:auto}"
         ".picture .nothing{display:grid;place-items:center;min-height:160px;"
         "background:#8882;font:500 14px var(--f-body)}"),
)
