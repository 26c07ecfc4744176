"""Several pictures: side by side, or one at a time to push along."""

from typing import Annotated

import msgspec
from markupsafe import Markup

from needle.core.kinds.kind import Field, Kind
from needle.core.markup.imagery import image
from needle.core.markup.markup import join, tag
from needle.core.markup.surroundings import Surroundings
from needle.core.values.areas import Area
from needle.core.values.counting import counted
from needle.core.values.ids import Id
from needle.core.values.node import Item
from needle.core.values.strict import Strict, one_of, whole

__all__ = ["KIND", "Gallery", "Shot"]

# Of the pictures, and between those, in CSS pixels: as the rules below have them.
_RATIO, _GAP = 4 / 3, 12
# In a strip of several so much of the width is one picture's, so that the next one is seen to come.
_SHARE = 0.94


class Shot(Strict, frozen=True, omit_defaults=True, forbid_unknown_fields=True):
    """One picture of several; it says what the medium's own words say."""

    medium: Id = ""


class Gallery(Item, frozen=True, tag="gallery"):
    """Pictures of one shape.

    Attributes:
        layout: "grid", or "strip": a line that is pushed along.
        across: Pictures in one line of the grid.
    """

    entries: tuple[Shot, ...] = ()
    layout: Annotated[str, one_of("grid", "strip")] = "grid"
    across: Annotated[int, whole(1, 6)] = 3

    def showing(self, media: tuple[Id, ...]) -> "Gallery":
        """Return it with other pictures."""
        return msgspec.structs.replace(self, entries=tuple(map(Shot, media)))


def _new(node_id: Id) -> Gallery:
    return Gallery(id=node_id, entries=(Shot(), Shot(), Shot()))


def _render(node: Gallery, context: Surroundings) -> Markup:
    several = " gallery-several" if len(node.entries) > 1 else ""
    attributes = context.attributes(node, f"gallery gallery-{node.layout}{several}") | {
        "style": f"--across:{node.across}"}
    if node.layout == "strip":  # What can be pushed along is reached by keyboard too.
        attributes |= {"tabindex": 0, "role": "group", "aria-label": context.words("gallery")}
    return tag("div" if node.layout == "strip" else "ul", attributes, join(
        tag("div" if node.layout == "strip" else "li", {}, shot)
        for entry in node.entries if (shot := _shot(node, entry, context))))


def _shot(node: Gallery, entry: Shot, context: Surroundings) -> Markup:
    medium = context.medium(entry.medium)
    if medium is None:
        empty = tag("span", {"class": "nothing"}, "No picture chosen yet")
        return empty if context.mode == "edit" else Markup("")
    hidden = max(1, medium.width / medium.height / _RATIO) if medium.height else 1
    if node.layout == "strip" and len(node.entries) > 1:
        hidden *= _SHARE
    sizes = context.sizes(node, hidden, node.across if node.layout == "grid" else 1, _GAP)
    return image(medium, context, alt=medium.alt, sizes=sizes)


KIND = Kind(
    purpose="Pictures",
    about="Several pictures side by side, or one to push along (album, slides)",
    type=Gallery, label="Several pictures", mark="image", new=_new, render=_render,
    reads=frozenset({Area.MEDIA, Area.LANGUAGE}),
    summary=lambda node, context: counted(len(node.entries), "picture"),
    traits=frozenset({"box", "item", "movable"}),
    fields=(
        Field(name="entries", label="Pictures", editor="entries", new_entry=Shot, parts=(
            Field(name="medium", label="Picture", editor="medium"),)),
        Field(name="layout", label="Shown", editor="choice",
              choices={"grid": "side by side", "strip": "one at a time"}),
        Field(name="across", label="In one line", editor="number")),
    css=(".gallery{list-style:none;margin:0;padding:0;display:grid;gap:12px;"
         "grid-template-columns:repeat(var(--across,3),minmax(0,1fr))}"
         ".gallery-strip{grid-auto-flow:column;grid-template-columns:none;grid-auto-columns:100%;"
         "overflow-x:auto;scroll-snap-type:x mandatory;overscroll-behavior-x:contain}"
         ".gallery-strip.gallery-several{grid-auto-columns:94%}"
         ".gallery-strip>*{scroll-snap-align:start}"
         ".gallery img{display:block;width:100%;height:auto;aspect-ratio:4/3;object-fit:cover;"
         "border-radius:var(--corner-picture,0)}"
         ".gallery .nothing{display:grid;place-items:center;min-height:110px;background:#8882;"
         "font:500 14px var(--f-body)}"))
