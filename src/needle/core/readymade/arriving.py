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
from needle.core.values.node import Node
from needle.core.values.words import Text

__all__ = ["Arrived", "as_placeholders"]

_Part = TypeVar("_Part", Section, Page)


@dataclass(frozen=True, slots=True)
class Arrived(Generic[_Part]):
    """A ready-made section or page with all that it needs.

    Attributes:
        part: The section or page, which stands in no site yet.
        site: The site with the forms and pictures that it needs.
        files: Files below the media folder for these pictures, by name.
    """

    part: _Part
    site: Site
    files: Mapping[str, bytes]


def as_placeholders(section: Section, stock: Stock) -> Section:
    """Return a section in which every word waits to be put right.

    What the person has said already, the call to action and the name of the site, does not.
    """
    def marked(line: Text) -> Text:
        return tuple(run if run.words in stock.sure else msgspec.structs.replace(run, invented=True)
                     for run in line)

    def how(node: Node) -> Node:
        for path in texts_of(node):
            node = with_lines(node, path, tuple(map(marked, read_lines(node, path))))
        return node

    made: Section = map_node(section, how)
    return made
