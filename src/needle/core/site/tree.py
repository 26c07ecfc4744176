"""What holds items: sections, rows, columns and popups."""

from collections.abc import Iterator
from typing import TYPE_CHECKING, Annotated, Literal, Union

import msgspec

from needle.core.kinds import ITEM_KINDS
from needle.core.values.ids import Id
from needle.core.values.node import Item, Node
from needle.core.values.strict import Colour, one_of, whole

__all__ = ["Column", "Popup", "Row", "Section", "SectionRole", "children_of", "walk",
           "without_children"]

# What a section is on the page; also the name of its element.
SectionRole = Literal["section", "header", "footer"]

if TYPE_CHECKING:
    AnyItem = Item
else:
    AnyItem = Union[tuple(kind.type for kind in ITEM_KINDS.values())]  # noqa: UP007


class Column(Node, frozen=True, tag="column"):
    """Items one below the other.

    Attributes:
        picture: A medium that covers it from behind; empty for none.
        shade: How much the picture is covered with `overlay`, in percent.
        overlay: The colour that covers it.
        focus: Which part of the picture stays in sight: "center", "top" or "bottom".
    """

    children: tuple[AnyItem, ...] = ()
    picture: Id = ""
    shade: Annotated[int, whole(0, 95)] = 0
    overlay: Colour = "#000000"
    focus: Annotated[str, one_of("center", "top", "bottom")] = "center"


class Row(Node, frozen=True, tag="row"):
    """Columns side by side; on a phone one below the other unless set otherwise."""

    children: tuple[Column, ...] = ()


class Section(Node, frozen=True, tag="section"):
    """A band across the page.

    Attributes:
        picture: A medium that covers it from behind; empty for none.
        film: A video that runs silently in place of the picture, which is its still.
        shade: How much picture and video are covered with `overlay`, in percent.
        overlay: The colour that covers them.
        focus: Which part of the picture stays in sight: "center", "top" or "bottom".
        role: What it is on the page: "section", "header" or "footer".
        linked: The kept section that it follows, with every other one that does.
    """

    children: tuple[Row, ...] = ()
    picture: Id = ""
    film: Id = ""
    shade: Annotated[int, whole(0, 95)] = 0
    overlay: Colour = "#000000"
    focus: Annotated[str, one_of("center", "top", "bottom")] = "center"
    role: SectionRole = "section"
    linked: Id = ""


class Popup(Node, frozen=True, tag="popup"):
    """A window above the page.

    Attributes:
        backdrop: The colour behind it.
        strength: How solid the backdrop is, in percent.
        size: Its width in CSS pixels, if the screen has room for it.
        position: "middle", "top", "bottom", "left", "right" or "full".
        after_s: Opens by itself after so many seconds; 0 for not.
        at_scroll: Opens by itself at this depth of the page, in percent; 0 for not.
        on_leave: Opens by itself when the visitor turns to leave.
        again_days: How long it does not open by itself again; 0 for at every visit.
        outside: A click beside it closes it.
        escape: The Esc key closes it.
    """

    children: tuple[Row, ...] = ()
    backdrop: Colour = "ink"
    strength: Annotated[int, whole(0, 100)] = 70
    size: Annotated[int, whole(240, 1600)] = 460
    position: Annotated[str, one_of("middle", "top", "bottom", "left", "right", "full")] = "middle"
    after_s: Annotated[int, whole(0, 3600)] = 0
    at_scroll: Annotated[int, whole(0, 100)] = 0
    on_leave: bool = False
    again_days: Annotated[int, whole(0, 365)] = 1
    outside: bool = True
    escape: bool = True

    @property
    def opens_itself(self) -> bool:
        """Whether it opens without a click."""
        return bool(self.after_s or self.at_scroll or self.on_leave)


def children_of(node: object) -> tuple[Node, ...]:
    """Return the nodes directly inside `node`; none for an item."""
    return getattr(node, "children", ())


def without_children(node: Node) -> Node:
    """Return a node with nothing in it; an item as it is."""
    return msgspec.structs.replace(node, children=()) if children_of(node) else node


def walk(node: Node) -> Iterator[Node]:
    """Yield `node` and everything in it, in reading order."""
    yield node
    for child in children_of(node):
        yield from walk(child)
