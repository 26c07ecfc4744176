"""Parts of a page on the clipboard: out as JSON, in as fresh copies."""

from collections.abc import Sequence
from typing import TYPE_CHECKING, Union

import msgspec

from needle.core.edit.copying import fresh_copy
from needle.core.edit.nodes import Side, add_top, insert, node_rank
from needle.core.edit.place import EditError, find, node_at
from needle.core.kinds import ITEM_KINDS
from needle.core.render.texts import plain_lines
from needle.core.site.site import Site
from needle.core.site.tree import Column, Popup, Row, Section, walk
from needle.core.values.ids import Id
from needle.core.values.node import Node

__all__ = ["clip", "clip_words", "insert_all", "paste"]

if TYPE_CHECKING:
    AnyNode = Node
else:
    AnyNode = Union[
        (Section, Row, Column, Popup, *(kind.type for kind in ITEM_KINDS.values()))]

_DECODER: msgspec.json.Decoder[list[Node]] = msgspec.json.Decoder(list[AnyNode])


def clip(site: Site, ids: Sequence[Id]) -> bytes:
    """Return nodes, each with all in it, as JSON."""
    return msgspec.json.encode([node_at(site, find(site, node_id)) for node_id in ids])


def clip_words(site: Site, ids: Sequence[Id]) -> str:
    """Return the plain words of nodes and all in them, a line each."""
    return "\n".join(line for node_id in ids
                     for node in walk(node_at(site, find(site, node_id)))
                     for line in plain_lines(node))


def paste(site: Site, data: bytes, page: Id, variant: str, target: Id) -> tuple[Site, list[Id]]:
    """Return the site with copies of what `clip` gave, and the copies' ids.

    Args:
        target: They go after this node, or into it if it can hold them; empty for the end of
            the page.

    Raises:
        EditError: The data are no part of a page.
    """
    try:
        nodes = [fresh_copy(node) for node in _DECODER.decode(data)]
    except (msgspec.DecodeError, UnicodeDecodeError) as error:
        raise EditError("clipboard-no-part") from error
    return insert_all(site, nodes, page, variant, target), [node.id for node in nodes]


def insert_all(site: Site, nodes: Sequence[Node], page: Id, variant: str, target: Id) -> Site:
    """Return the site with nodes one after another after a target, or at the end of a page."""
    for node in nodes:
        if not target or isinstance(node, Popup):
            site = add_top(site, page, variant, node)
        else:
            there = node_at(site, find(site, target))
            side: Side = "inside" if node_rank(there) > node_rank(node) else "after"
            site = insert(site, node, target, side)
        target = node.id
    return site
