"""Going through all pages with the way to each node."""

from collections.abc import Iterator

from needle.core.site.node import Node
from needle.core.site.site import Page, Site, Variant
from needle.core.site.tree import children_of

__all__ = ["place_words", "ways"]


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


def place_words(page: Page, variant: Variant, path: list[Node]) -> str:
    """Return where a node is, in words: "Night B · Opening"."""
    name = f"{page.name} {variant.key}" if page.tested else page.name
    return f"{name} · {path[0].name}" if path[0].name else name
