"""Going over every node of a site at once."""

from collections.abc import Callable, Iterator
from typing import Any

import msgspec

from needle.core.site.site import Page, Site, Variant
from needle.core.site.tree import children_of, walk
from needle.core.values.node import Node

__all__ = ["map_node", "map_nodes", "map_page", "nodes_of", "ways"]

How = Callable[[Any], Any]


def map_node(node: Node, how: How) -> Any:
    """Return a node with `how` done to everything in it and to itself; the same if none changed."""
    inside = children_of(node)
    changed = tuple(map_node(child, how) for child in inside)
    if any(new is not old for new, old in zip(changed, inside, strict=True)):
        node = msgspec.structs.replace(node, children=changed)
    return how(node)


def _map_variant(variant: Variant, how: How) -> Variant:
    children = tuple(map_node(top, how) for top in variant.children)
    popups = tuple(map_node(top, how) for top in variant.popups)
    same = all(new is old for new, old in zip((*children, *popups), (
        *variant.children, *variant.popups), strict=True))
    return variant if same else msgspec.structs.replace(
        variant, children=children, popups=popups)


def map_page(page: Page, how: How) -> Page:
    """Return a page with `how` done to every node of its variants; the same if none changed."""
    variants = tuple(_map_variant(variant, how) for variant in page.variants)
    archive = tuple(_map_variant(variant, how) for variant in page.archive)
    same = all(new is old for new, old in zip((*variants, *archive), (
        *page.variants, *page.archive), strict=True))
    return page if same else msgspec.structs.replace(page, variants=variants, archive=archive)


def map_nodes(site: Site, how: How) -> Site:
    """Return a site with `how` done to every node of its pages and kept sections."""
    pages = tuple(map_page(page, how) for page in site.pages)
    kept = tuple(msgspec.structs.replace(one, section=map_node(one.section, how))
                 for one in site.kept)
    if all(new is old for new, old in zip(pages, site.pages, strict=True)) and all(
            new.section is old.section for new, old in zip(kept, site.kept, strict=True)):
        return site
    return msgspec.structs.replace(site, pages=pages, kept=kept)


def nodes_of(site: Site) -> Iterator[tuple[Page | None, Node]]:
    """Yield every node with its page; those of kept sections with none."""
    for page in site.pages:
        for variant in page.variants:
            for node in variant.nodes():
                yield page, node
    for kept in site.kept:
        for node in walk(kept.section):
            yield None, node


def ways(site: Site) -> Iterator[tuple[Page, Variant, list[Node]]]:
    """Yield each node of each page as the path that leads to it."""
    for page in site.pages:
        for variant in page.variants:
            for top in (*variant.children, *variant.popups):
                yield from ((page, variant, path) for path in _paths([top]))


def _paths(path: list[Node]) -> Iterator[list[Node]]:
    yield path
    for child in children_of(path[-1]):
        yield from _paths([*path, child])
