"""Names that elements of a page go by."""

from needle.core.values.ids import Id
from needle.core.values.node import Node

__all__ = ["node_class", "part_anchor", "popup_anchor", "section_anchor"]


def node_class(node: Node) -> str:
    """Return the class that carries a node's own look."""
    return f"n-{node.id}"


def part_anchor(part_id: Id) -> str:
    """Return the element id of a part that a click acts on."""
    return f"a-{part_id}"


def popup_anchor(popup_id: Id) -> str:
    """Return the element id of a popup."""
    return f"p-{popup_id}"


def section_anchor(section_id: Id) -> str:
    """Return the element id of a section."""
    return f"s-{section_id}"
