"""What holds items: sections, rows, columns and popups."""

from collections.abc import Iterator
from typing import TYPE_CHECKING, Union

from needle.core.kinds import ITEM_KINDS
from needle.core.site.ids import Id
from needle.core.site.node import Item, Node

__all__ = ["Column", "Popup", "Row", "Section", "children_of", "walk"]

if TYPE_CHECKING:
    AnyItem = Item
else:
    AnyItem = Union[tuple(kind.type for kind in ITEM_KINDS.values())]  # noqa: UP007


class Column(Node, frozen=True, tag="column"):
    """Items one below the other."""

    children: tuple[AnyItem, ...] = ()


class Row(Node, frozen=True, tag="row"):
    """Columns side by side; on a phone one below the other unless set otherwise."""

    children: tuple[Column, ...] = ()


class Section(Node, frozen=True, tag="section"):
    """A band across the page.

    Attributes:
        picture: A medium that covers it from behind; empty for none.
        shade: How much the picture is darkened, in percent.
        focus: Which part of the picture stays in sight: "center", "top" or "bottom".
        role: What it is on the page: "section", "header" or "footer".
    """

    children: tuple[Row, ...] = ()
    picture: Id = ""
    shade: int = 0
    focus: str = "center"
    role: str = "section"


class Popup(Node, frozen=True, tag="popup"):
    """A window above the page.

    Attributes:
        backdrop: The colour behind it.
        strength: How solid the backdrop is, in percent.
    """

    children: tuple[Row, ...] = ()
    backdrop: str = "ink"
    strength: int = 70


def children_of(node: object) -> tuple[Node, ...]:
    """Return the nodes directly inside `node`; none for an item."""
    return getattr(node, "children", ())


def walk(node: Node) -> Iterator[Node]:
    """Yield `node` and everything in it, in reading order."""
    yield node
    for child in children_of(node):
        yield from walk(child)
