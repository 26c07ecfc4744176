"""Sections that many pages have in common, rendered once."""

from collections.abc import Callable, Mapping
from typing import NamedTuple

from markupsafe import Markup

from needle.core.render.context import Context
from needle.core.site.site import Medium
from needle.core.site.tree import Section
from needle.core.values.ids import Id
from needle.store.media import PublishedPictures

__all__ = ["AlikeSections"]


class _Section(NamedTuple):
    """A section as it was rendered, with the pictures that it names."""

    section: Section
    html: Markup
    used: Mapping[str, tuple[Medium, int]]


class AlikeSections:
    """Sections of pages of rows: one in which nothing is the row's own is the same branch on all
    of them, and is rendered once."""

    def __init__(self) -> None:
        self._known: dict[tuple[Id, str, str, int], _Section] = {}

    def html(self, pictures: PublishedPictures, section: Section, context: Context,
             render: Callable[[], Markup]) -> Markup:
        """Return a section as it stands on a page."""
        key = (context.page.row.page, context.variant.key, context.root, id(section))
        held = self._known.get(key)
        if held is None:
            outer, pictures.used = pictures.used, {}
            context.page_asked = False
            held = _Section(section, render(), pictures.used)
            pictures.used = outer
            if not context.page_asked:
                self._known[key] = held
        pictures.used.update(held.used)
        return held.html
