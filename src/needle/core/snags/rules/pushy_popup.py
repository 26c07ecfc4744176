"""Popups that get in the way."""

from collections.abc import Iterator

import msgspec

from needle.core.edit.nodes import change
from needle.core.site.site import Site
from needle.core.site.tree import Popup
from needle.core.snags.snag import ItemAt, Rule, Snag, Spot
from needle.core.values.node import Node

__all__ = ["RULES"]

_SOON_S = 5


def _held(at: ItemAt) -> Iterator[Spot]:
    if isinstance(at.node, Popup) and not at.node.outside and not at.node.escape:
        yield Spot("Neither Esc nor a click beside it closes the popup")


def _let_go(site: Site, snag: Snag) -> Site:
    """Let Esc close the popup."""
    def how(node: Node) -> Node:
        return msgspec.structs.replace(node, escape=True) if isinstance(node, Popup) else node

    return change(site, snag.target, how)


def _soon(at: ItemAt) -> Iterator[Spot]:
    if isinstance(at.node, Popup) and 0 < at.node.after_s < _SOON_S:
        yield Spot(f"A popup opens by itself after {at.node.after_s} s")


def _again(at: ItemAt) -> Iterator[Spot]:
    if isinstance(at.node, Popup) and at.node.opens_itself and not at.node.again_days:
        yield Spot("A popup opens by itself at every visit")


RULES = (
    Rule(id="popup-holds", setting="escape",
         weight=2, scope="item", look=_held, mend=_let_go,
         source="WCAG 2.2, 2.1.2",
         reason="Who works by keyboard looks for Esc first and may not find another way out."),
    Rule(id="popup-at-once", setting="after_s",
         weight=3, scope="item", look=_soon,
         source="search guidelines on what covers a page",
         reason="It covers the page before anybody has read a word, and searches rank such pages "
                "lower on phones."),
    Rule(id="popup-every-time", setting="again_days",
         weight=3, scope="item", look=_again, source="trade practice",
         reason="Who has closed it once has answered."),
)
