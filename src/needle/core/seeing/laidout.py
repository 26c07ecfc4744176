"""A page as an engine has laid it out: what stands where, and in which look.

What the engine says of a foreign page is foreign too; `read_laid` takes nothing but these types.
"""

from collections.abc import Sequence
from functools import cached_property
from typing import Annotated, Any

import msgspec

__all__ = ["LaidLook", "LaidNode", "LaidOut", "Sides", "node_at", "read_laid", "told"]

_Px = Annotated[float, msgspec.Meta(ge=-100_000, le=1_000_000)]
_Short = Annotated[str, msgspec.Meta(max_length=200)]
_Colour = Annotated[str, msgspec.Meta(pattern=r"\A#[0-9a-f]{6}\Z")]
_Part = Annotated[float, msgspec.Meta(ge=0, le=1)]
Sides = tuple[_Px, _Px, _Px, _Px]
_MOST_NODES = 8000


class LaidLook(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """What the engine worked out for an element, in CSS pixels.

    Attributes:
        colour: Of words, "#rrggbb"; `solid` is how opaque they are.
        fill: Behind it, and how opaque that is (`filled`, 0 for nothing).
        face: The families that were asked for, the first one first, with commas between.
        picture: What its background shows: "" for nothing, "gradient" or "picture".
        line: From one line to the next; 0 where it is left to the face.
        pad, margin: Top, right, bottom, left.
        edge: Width of the border at each side; `edge_colour` is that of the upper one.
    """

    colour: _Colour
    solid: _Part
    fill: _Colour
    filled: _Part
    picture: _Short
    face: _Short
    size: _Px
    weight: Annotated[int, msgspec.Meta(ge=1, le=1000)]
    slanted: bool
    line: _Px
    spacing: _Px
    align: _Short
    capitals: _Short
    pad: Sides
    margin: Sides
    edge: Sides
    edge_colour: _Colour
    radius: _Px
    shadow: bool
    opacity: _Part
    display: _Short


class LaidNode(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """An element that can be seen.

    Attributes:
        up: Place of its parent among all nodes; -1 for the outermost.
        rect: Left, top, right and bottom of its border box.
        look: Place of its look among all looks.
        words: Its own words, shortened; empty where it has none.
        ink: Around its lines, as high as the face is; only where it has words.
        lines: How many lines its words take.
        first, last: Where its first and last line begin, down the page.
        shows: Whether it is a picture, drawing or video.
        level: 1 to 6 for a heading, else 0.
    """

    tag: _Short
    up: Annotated[int, msgspec.Meta(ge=-1, lt=_MOST_NODES)]
    rect: Sides
    look: Annotated[int, msgspec.Meta(ge=0, lt=_MOST_NODES)]
    words: Annotated[str, msgspec.Meta(max_length=2000)] = ""
    ink: Sides | None = None
    lines: Annotated[int, msgspec.Meta(ge=0, le=10_000)] = 0
    first: _Px = 0
    last: _Px = 0
    shows: bool = False
    level: Annotated[int, msgspec.Meta(ge=0, le=6)] = 0


class LaidOut(msgspec.Struct, frozen=True, forbid_unknown_fields=True, dict=True):
    """A laid-out page.

    Attributes:
        height: How high it is in all.
        shown: How much of it, from the top, its picture shows.
        nodes: In the order of the document, parents first.
        left_out: How many elements there are beside these.
    """

    width: _Px
    height: _Px
    shown: _Px
    nodes: Annotated[tuple[LaidNode, ...], msgspec.Meta(max_length=_MOST_NODES)]
    looks: Annotated[tuple[LaidLook, ...], msgspec.Meta(max_length=_MOST_NODES)]
    left_out: Annotated[int, msgspec.Meta(ge=0)] = 0

    @cached_property
    def inside(self) -> Sequence[Sequence[int]]:
        """For each node, the places of those right in it."""
        found: list[list[int]] = [[] for _ in self.nodes]
        for number, node in enumerate(self.nodes):
            if node.up >= 0:
                found[node.up].append(number)
        return found

    def look(self, number: int) -> LaidLook:
        """Return the look of a node."""
        return self.looks[self.nodes[number].look]

    def ground(self, number: int) -> str:
        """Return the colour behind a node, "#rrggbb"; empty where a picture is.

        What is half clear is laid over what is behind it, in sRGB as engines do.
        """
        over: list[tuple[str, float]] = []
        while number >= 0:
            look = self.look(number)
            if look.picture:
                return ""
            if look.filled:
                over.append((look.fill, look.filled))
                if look.filled == 1:
                    break
            number = self.nodes[number].up
        found = (255.0, 255.0, 255.0)
        for fill, strength in reversed(over):
            parts = [int(fill[at:at + 2], 16) for at in (1, 3, 5)]
            red, green, blue = (part * strength + old * (1 - strength)
                                for part, old in zip(parts, found, strict=True))
            found = red, green, blue
        return "#" + "".join(f"{round(part):02x}" for part in found)


def read_laid(data: Any) -> LaidOut:
    """Return a laid-out page from what an engine said, or from its JSON.

    Raises:
        ValueError: It is not of these types, or its places point nowhere.
    """
    laid = (msgspec.json.decode(data, type=LaidOut) if isinstance(data, bytes)
            else msgspec.convert(data, LaidOut))
    for number, node in enumerate(laid.nodes):
        if node.up >= number or node.look >= len(laid.looks):
            raise ValueError(f"node {number} points nowhere")
    return laid


def node_at(laid: LaidOut, across: float, down: float) -> int | None:
    """Return the place of the smallest node at a point of the page, the innermost of alike ones."""
    best, area = None, float("inf")
    for number, node in enumerate(laid.nodes):
        left, top, right, bottom = node.rect
        if left <= across < right and top <= down < bottom:
            own = (right - left) * (bottom - top)
            if own <= area:
                best, area = number, own
    return best


def told(laid: LaidOut, number: int) -> list[tuple[str, str]]:
    """Return what is known of a node as names and values in the words of CSS, in its pixels."""
    node, look = laid.nodes[number], laid.look(number)
    left, top, right, bottom = node.rect
    lines = [("element", node.tag), ("width", _px(right - left)), ("height", _px(bottom - top)),
             ("left, top", f"{_px(left)}, {_px(top)}"),
             ("color", _clear(look.colour, look.solid))]
    if look.filled:
        lines.append(("background-color", _clear(look.fill, look.filled)))
    if look.picture:
        lines.append(("background-image", look.picture))
    lines += [("on", laid.ground(number) or "a picture"), ("font-family", look.face),
              ("font-size", _px(look.size)),
              ("font-weight", f"{look.weight}{', italic' if look.slanted else ''}"),
              ("line-height", _px(look.line) if look.line else "normal")]
    if look.spacing:
        lines.append(("letter-spacing", _px(look.spacing)))
    lines.append(("text-align", look.align))
    for name, sides in (("padding", look.pad), ("margin", look.margin), ("border", look.edge)):
        if any(sides):
            colour = f" {look.edge_colour}" if name == "border" else ""
            lines.append((name, _sides(sides) + colour))
    if look.radius:
        lines.append(("border-radius", _px(look.radius)))
    if look.opacity < 1:
        lines.append(("opacity", f"{look.opacity:g}"))
    return lines


def _px(value: float) -> str:
    return f"{round(value, 2):g} px"


def _clear(colour: str, strength: float) -> str:
    return colour if strength == 1 else f"{colour} at {strength:.0%}".replace("%", " %")


def _sides(sides: Sides) -> str:
    top, right, bottom, left = (_px(side) for side in sides)
    if top == right == bottom == left:
        return top
    return f"{top}, {right}" if (top, right) == (bottom, left) else ", ".join(
        (top, right, bottom, left))
