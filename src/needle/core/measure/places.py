"""Pages that results are read of together: all that a table makes, or all of one of its rows."""

from collections.abc import Iterator
from dataclasses import dataclass

from needle.core.site.site import Page, Site
from needle.core.values.ids import Id

__all__ = ["Place", "pages_at", "places_of"]


@dataclass(frozen=True, slots=True)
class Place:
    """Some pages under one name.

    Attributes:
        key: Tells it apart, and goes on doing so when rows come and go.
        name: What it is called: a page, the pages of a table, a row.
        pages: Their ids.
    """

    key: str
    name: str
    pages: tuple[Id, ...]


def places_of(whole: Site) -> tuple[Place, ...]:
    """Return what can be looked at by itself: pages in their order, where a page is one for each
    row all of these together, and after all pages each row by what it is called.

    Args:
        whole: The site with the pages of all rows in it.
    """
    return (*_pages(whole), *_rows(whole))


def _pages(whole: Site) -> Iterator[Place]:
    made: dict[Id, list[Page]] = {}
    for page in whole.pages:
        made.setdefault(page.row.page or page.id, []).append(page)
    for key, pages in made.items():
        first = pages[0]
        name = first.row.name if first.row.page else first.name
        yield Place(f"page:{key}", name, tuple(page.id for page in pages))


def _rows(whole: Site) -> Iterator[Place]:
    made: dict[tuple[Id, Id], list[Page]] = {}
    for page in whole.pages:
        if page.row.row:
            made.setdefault((page.row.table, page.row.row), []).append(page)
    for (table, row), pages in made.items():
        yield Place(f"row:{table}/{row}", pages[0].row.label, tuple(page.id for page in pages))


def pages_at(whole: Site, key: str) -> tuple[Id, ...]:
    """Return the pages of a place; none if it is gone."""
    return next((place.pages for place in places_of(whole) if place.key == key), ())
