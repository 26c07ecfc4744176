"""Edits of how things look."""

from collections.abc import Iterable, Mapping, Sequence

import msgspec

from needle.core.edit.nodes import change
from needle.core.edit.place import EditError
from needle.core.render.holders import kind_of
from needle.core.site.site import Site, TextStyle
from needle.core.site.tree import walk
from needle.core.values.ids import Id
from needle.core.values.look import PLAIN, Look, Value
from needle.core.values.node import Node
from needle.core.values.remembering import remembered
from needle.core.values.styletable import TABLE, Property, look_faults, properties_for
from needle.core.values.widths import Width

__all__ = ["alike", "clear_at", "paste_look", "plain_look", "put_look", "resolved",
           "set_look", "set_style_look", "set_style_looks", "take_look"]


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
    if row is None:
        raise EditError("look-no-property", name=name)
    if value is not None and (fault := row.fault(value)):
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


def alike(tops: Iterable[Node], node: Node) -> tuple[Id, ...]:
    """Return the ids of the nodes in `tops` of the same kind and style as `node`, itself too."""
    wanted = _face(node)
    return tuple(other for top in tops for other in _faces(top).get(wanted, ()))


def _face(node: Node) -> tuple[object, ...]:
    return (type(node), getattr(node, "style", ""), getattr(node, "looks", ""))


def _faces(top: Node) -> Mapping[tuple[object, ...], Sequence[Id]]:
    """Return the ids in `top` by what they are like."""
    return remembered(top, "faces", _by_face)


def _by_face(top: Node) -> Mapping[tuple[object, ...], Sequence[Id]]:
    found: dict[tuple[object, ...], list[Id]] = {}
    for node in walk(top):
        found.setdefault(_face(node), []).append(node.id)
    return found


def take_look(node: Node) -> bytes:
    """Return a node's look, with its text style, as JSON to be pasted on others."""
    return msgspec.json.encode(_Carried(node.look, str(getattr(node, "style", ""))))


def paste_look(site: Site, ids: Iterable[Id], data: bytes, part: str = "") -> Site:
    """Return the site with a look put on some nodes in place of their own.

    Args:
        data: What `take_look` gave.
        part: The column of the table to which it is limited; empty for all.

    Raises:
        EditError: The data are no look.
    """
    try:
        carried = msgspec.json.decode(data, type=_Carried)
    except (msgspec.DecodeError, UnicodeDecodeError) as error:
        raise EditError("look-none-copied") from error
    if look_faults(carried.look):
        raise EditError("look-foreign")
    return put_look(site, ids, carried.look, carried.style, part)


def put_look(site: Site, ids: Iterable[Id], look: Look, style: str = "", part: str = "") -> Site:
    """Return the site with a look put on some nodes in place of their own.

    Args:
        style: The text style that they take besides; empty to leave theirs.
        part: The column of the table to which it is limited; empty for all.
    """
    def how(node: Node) -> Node:
        takes = {row.name for row in properties_for(kind_of(node).traits) if _in(row, part)}
        changes: dict[str, object] = {"look": _merged(node.look, look, takes)}
        if style and hasattr(node, "style") and part in ("", "type"):
            changes["style"] = style
        return msgspec.structs.replace(node, **changes)

    for node_id in ids:
        site = change(site, node_id, how)
    return site


def set_style_looks(site: Site, key: str, look: Look) -> Site:
    """Return the site with a text style that has the type of a look, at every width."""
    for name, value in look.base.items():
        if TABLE[name].column == "type" and name != "align":
            site = set_style_look(site, key, name, value)
    return site


def plain_look(site: Site, ids: Iterable[Id], width: Width | None = None) -> Site:
    """Return the site with nodes that look as their style says.

    Args:
        width: Put back only what differs at this width; `None` puts back everything.
    """
    def how(node: Node) -> Node:
        look = PLAIN if width is None else msgspec.structs.replace(node.look, **{width.value: {}})
        hidden = node.hidden if width is None else tuple(w for w in node.hidden if w != width)
        return msgspec.structs.replace(node, look=look, hidden=hidden)

    for node_id in ids:
        site = change(site, node_id, how)
    return site


class _Carried(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A look on its way from one node to others."""

    look: Look
    style: str = ""


def _in(row: Property, part: str) -> bool:
    return not part or row.column == part or (part == "surface" and row.column == "state")


def _merged(old: Look, new: Look, takes: set[str]) -> Look:
    """Return `old` with the properties `takes` as in `new`, at every width."""
    def values(width: Width | None) -> dict[str, Value]:
        kept = {name: v for name, v in old.at(width).items() if name not in takes}
        return kept | {name: v for name, v in new.at(width).items() if name in takes}

    return Look(values(None), *(values(width) for width in Width))
