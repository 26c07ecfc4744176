"""Finding a node in a site and putting another in its place."""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

import msgspec

from needle.core.messages.message import CoreError
from needle.core.site.site import Page, Site, Variant
from needle.core.site.tree import children_of
from needle.core.values.ids import Id
from needle.core.values.node import Node

__all__ = ["EditError", "Place", "find", "node_at", "parent_of", "path_to", "put", "set_children",
           "variant_at", "with_page", "with_variant"]


class EditError(CoreError):
    """An edit that cannot be made; the message says why and what to do."""


@dataclass(frozen=True, slots=True)
class Place:
    """Where a node stands.

    Attributes:
        page, variant: Their indexes.
        steps: Field and index at each level, from the variant down.
    """

    page: int
    variant: int
    steps: tuple[tuple[str, int], ...]

    @property
    def up(self) -> "Place":
        """The place of whatever holds the node."""
        return Place(self.page, self.variant, self.steps[:-1])

    @property
    def last(self) -> tuple[str, int]:
        """The field and index within the holder."""
        return self.steps[-1]


# The last known place of a node: a hint that is checked before it is believed, so that
# typing into one node of a long page does not search the page for every letter.
_hints: dict[Id, Place] = {}
_HINTS_KEPT = 20_000


def find(site: Site, node_id: Id) -> Place:
    """Return where a node stands.

    Raises:
        EditError: There is no such node.
    """
    hint = _hints.get(node_id)
    if hint is not None:
        node = _follow(site, hint)
        if isinstance(node, Node) and node.id == node_id:
            return hint
    for place, node in _all(site):
        if node.id == node_id:
            if len(_hints) > _HINTS_KEPT:
                _hints.clear()
            _hints[node_id] = place
            return place
    raise EditError("part-gone")


def _follow(site: Site, place: Place) -> object:
    try:
        value: Any = site.pages[place.page].variants[place.variant]
        for field, index in place.steps:
            value = getattr(value, field)[index]
    except (IndexError, AttributeError):
        return None
    return value


def _all(site: Site) -> Iterator[tuple[Place, Node]]:
    for p, page in enumerate(site.pages):
        for v, variant in enumerate(page.variants):
            for field in ("children", "popups"):
                for index, top in enumerate(getattr(variant, field)):
                    yield from _below(Place(p, v, ((field, index),)), top)


def _below(place: Place, node: Node) -> Iterator[tuple[Place, Node]]:
    yield place, node
    for index, child in enumerate(children_of(node)):
        inner = Place(place.page, place.variant, (*place.steps, ("children", index)))
        yield from _below(inner, child)


def node_at(site: Site, place: Place) -> Node:
    """Return the node at a place that `find` gave."""
    node = _follow(site, place)
    if not isinstance(node, Node):
        raise EditError("part-gone")
    return node


def variant_at(site: Site, place: Place) -> Variant:
    """Return the variant that a place is in."""
    return site.pages[place.page].variants[place.variant]


def parent_of(site: Site, place: Place) -> Node | Variant:
    """Return what holds the node at `place`."""
    if len(place.steps) == 1:
        return variant_at(site, place)
    return node_at(site, place.up)


def path_to(site: Site, place: Place) -> list[Node]:
    """Return the nodes from the section or popup down to the one at `place`."""
    steps = range(1, len(place.steps) + 1)
    return [node_at(site, Place(place.page, place.variant, place.steps[:n])) for n in steps]


def put(site: Site, place: Place, node: Node) -> Site:
    """Return the site with `node` at `place`; every branch beside it stays the same object."""
    page = site.pages[place.page]
    variant = _rebuilt(page.variants[place.variant], place.steps, node)
    return with_variant(site, place.page, place.variant, variant)


def _rebuilt(value: Any, steps: tuple[tuple[str, int], ...], new: Node) -> Any:
    if not steps:
        return new
    field, index = steps[0]
    inside = getattr(value, field)
    child = _rebuilt(inside[index], steps[1:], new)
    return msgspec.structs.replace(
        value, **{field: (*inside[:index], child, *inside[index + 1 :])})


def set_children(site: Site, place: Place, field: str, children: tuple[Node, ...]) -> Site:
    """Return the site with the children of the holder at `place` changed.

    A place without steps is the variant itself.
    """
    if place.steps:
        return put(site, place, msgspec.structs.replace(node_at(site, place),
                                                        **{field: children}))
    variant = msgspec.structs.replace(variant_at(site, place), **{field: children})
    return with_variant(site, place.page, place.variant, variant)


def with_variant(site: Site, page: int, variant: int, new: Variant) -> Site:
    """Return the site with one variant changed."""
    old = site.pages[page]
    variants = (*old.variants[:variant], new, *old.variants[variant + 1 :])
    return with_page(site, page, msgspec.structs.replace(old, variants=variants))


def with_page(site: Site, index: int, page: Page) -> Site:
    """Return the site with one page changed."""
    pages = (*site.pages[:index], page, *site.pages[index + 1 :])
    return msgspec.structs.replace(site, pages=pages)
