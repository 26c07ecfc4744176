"""Ready-made parts arrive whole: with the form and the pictures that they show."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Generic, TypeVar

import msgspec

from needle.core.edit.everywhere import map_node
from needle.core.edit.texts import with_lines
from needle.core.readymade.stock import Stock
from needle.core.render.texts import read_lines, texts_of
from needle.core.site.site import Page, Site
from needle.core.site.tree import Section
from needle.core.tables.expanding import page_shown
from needle.core.values.node import Node
from needle.core.values.tables import NO_MASTER, Master
from needle.core.values.words import Text

__all__ = ["Arrived", "as_placeholders", "seen"]

_Part = TypeVar("_Part", Section, Page)


@dataclass(frozen=True, slots=True)
class Arrived(Generic[_Part]):
    """A ready-made section or page with all that it needs.

    Attributes:
        part: The section or page, which stands in no site yet.
        site: The site with the forms, pictures and tables that it needs.
        files: Files below the media folder for these pictures, by name.
        master: Of a part that shows a table's row: the table, and what of it follows the row.
    """

    part: _Part
    site: Site
    files: Mapping[str, bytes]
    master: Master = NO_MASTER


def seen(site: Site, page: Page) -> Page:
    """Return a page as it will look: for the first row of its table, and with its lists filled."""
    table = site.table(page.master.table)
    return page_shown(site, page, next(iter(table.rows), None) if table is not None else None)


def as_placeholders(section: Section, stock: Stock) -> Section:
    """Return a section in which every word waits to be put right.

    What the person has said already, the call to action and the name of the site, does not.
    """
    def marked(line: Text) -> Text:
        # What comes from a table is as true as its row.
        return tuple(run if run.words in stock.sure or run.column
                     else msgspec.structs.replace(run, invented=True) for run in line)

    def how(node: Node) -> Node:
        for path in texts_of(node):
            node = with_lines(node, path, tuple(map(marked, read_lines(node, path))))
        return node

    made: Section = map_node(section, how)
    return made
