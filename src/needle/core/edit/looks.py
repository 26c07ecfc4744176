"""Edits of how things look."""

from collections.abc import Iterable

import msgspec

from needle.core.edit.nodes import change
from needle.core.edit.place import EditError
from needle.core.site.ids import Id
from needle.core.site.look import Look, Value
from needle.core.site.node import Node
from needle.core.site.site import Site, TextStyle
from needle.core.site.styletable import TABLE
from needle.core.site.tree import walk
from needle.core.site.widths import Width

__all__ = ["alike", "clear_at", "resolved", "set_look", "set_style_look"]


def set_look(site: Site, ids: Iterable[Id], name: str, value: Value | None,
             width: Width | None = None) -> Site:
    """Return the site with one property of some nodes set, or taken away with `None`.

    Args:
        width: The one width it is for; `None` for every width.

    Raises:
        EditError: The value is not allowed; the message says which are.
    """
    check(name, value)
    for node_id in ids:
        site = change(site, node_id, lambda node: msgspec.structs.replace(
            node, look=_changed(node.look, name, value, width)))
    return site


def _changed(look: Look, name: str, value: Value | None, width: Width | None) -> Look:
    return look if look.at(width).get(name) == value else look.with_value(name, value, width)


def check(name: str, value: Value | None) -> None:
    """Raise `EditError` if the style table does not allow this value."""
    row = TABLE.get(name)
    fault = "There is no such property." if row is None else (
        "" if value is None else row.fault(value))
    if fault:
        raise EditError(fault)


def clear_at(site: Site, node_id: Id, name: str) -> Site:
    """Return the site with a property the same at every width again: the knot's edit.

    Where only single widths had a value, nothing is left set.
    """

    def how(node: Node) -> Node:
        look = node.look
        for width in look.differs(name):
            look = look.with_value(name, None, width)
        return msgspec.structs.replace(node, look=look)

    return change(site, node_id, how)


def set_style_look(site: Site, key: str, name: str, value: Value | None,
                   width: Width | None = None) -> Site:
    """Return the site with one property of a text style changed."""
    check(name, value)

    def how(style: TextStyle) -> TextStyle:
        return msgspec.structs.replace(style, look=style.look.with_value(name, value, width))

    styles = tuple(how(style) if style.key == key else style for style in site.styles)
    return msgspec.structs.replace(site, styles=styles)


def resolved(site: Site, node: Node, name: str, width: Width) -> Value | None:
    """Return the value that holds for a node at a width: its own, its style's or the default."""
    own = node.look.value(name, width)
    if own is not None and not (width is Width.PHONE and TABLE[name].phone is not None
                                and name not in node.look.phone):
        return own
    key = getattr(node, "style", "")
    style = next((style for style in site.styles if style.key == key), None) if key else None
    inherited = style.look.value(name, width) if style else None
    if inherited is not None:
        return inherited
    row = TABLE[name]
    return row.phone if width is Width.PHONE and row.phone is not None else row.default


def alike(top: Node, node: Node) -> tuple[Id, ...]:
    """Return the ids of the nodes in `top` of the same kind and style as `node`, itself too."""
    def face(other: Node) -> tuple[object, ...]:
        return (type(other), getattr(other, "style", ""), getattr(other, "looks", ""))

    return tuple(other.id for other in walk(top) if face(other) == face(node))


