"""Parts of a page on the clipboard: out as JSON, in as fresh copies."""

from typing import TYPE_CHECKING, Union

import msgspec

from needle.core.edit.copying import fresh_copy
from needle.core.edit.nodes import Side, add_top, insert, node_rank
from needle.core.edit.place import EditError, find, node_at
from needle.core.edit.texts import plain_lines
from needle.core.kinds import ITEM_KINDS
from needle.core.site.ids import Id
from needle.core.site.node import Node
from needle.core.site.site import Site
from needle.core.site.tree import Column, Popup, Row, Section, walk

__all__ = ["clip", "clip_words", "paste"]

if TYPE_CHECKING:
    AnyNode = Node
else:
    AnyNode = Union[
        (Section, Row, Column, Popup, *(kind.type for kind in ITEM_KINDS.values()))]

_DECODER: msgspec.json.Decoder[Node] = msgspec.json.Decoder(AnyNode)


def clip(site: Site, node_id: Id) -> bytes:
    """Return a node and all in it as JSON."""
    return msgspec.json.encode(node_at(site, find(site, node_id)))


def clip_words(site: Site, node_id: Id) -> str:
    """Return the plain words of a node and all in it, a line each."""
    return "\n".join(line for node in walk(node_at(site, find(site, node_id)))
                     for line in plain_lines(node))


def paste(site: Site, data: bytes, page: Id, variant: str, target: Id) -> tuple[Site, Id]:
    """Return the site with a copy of what `clip` gave, and the copy's id.

    Args:
        target: It goes after this node, or into it if it can hold it; empty for the end of
            the page.

    Raises:
        EditError: The data are no part of a page.
    """
    try:
        node: Node = fresh_copy(_DECODER.decode(data))
    except (msgspec.DecodeError, UnicodeDecodeError) as error:
        raise EditError("What is on the clipboard is no part of a page.") from error
    if not target or isinstance(node, Popup):
        return add_top(site, page, variant, node), node.id
    there = node_at(site, find(site, target))
    side: Side = "inside" if node_rank(there) > node_rank(node) else "after"
    return insert(site, node, target, side), node.id
