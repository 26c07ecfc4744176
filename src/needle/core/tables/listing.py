"""Filling the lists of rows that stand on pages."""

from collections.abc import Mapping
from functools import partial

import msgspec

from needle.core.kinds.rowlist import RowEntry, RowList
from needle.core.site.site import Page, Site
from needle.core.tables.cells import shown
from needle.core.tables.choosing import wanted_rows
from needle.core.tables.filling import filled_text, media_by_name, rebuilt
from needle.core.tables.goods import goods_of, linked_to
from needle.core.tables.trail import pages_of_rows
from needle.core.values.ids import Id
from needle.core.values.node import Node
from needle.core.values.remembering import remembered
from needle.core.values.tables import Table, TableRow

__all__ = ["has_lists", "with_lists"]

_Entries = tuple[tuple[Id, tuple[RowEntry, ...]], ...]
# So many of the last states of a page are kept: what changed is told from both.
_KEPT = 2


def has_lists(page: Page) -> bool:
    """Whether a list of rows stands on a page."""
    return bool(_lists(page))


def _lists(page: Page) -> tuple[RowList, ...]:
    return remembered(page, "row_lists", lambda page: tuple(
        node for variant in page.variants for node in variant.nodes()
        if isinstance(node, RowList)))


def with_lists(whole: Site, page: Page) -> Page:
    """Return a page with its lists filled.

    Args:
        whole: The site with the pages of all rows in it, which cells lead to.
    """
    lists = _lists(page)
    if not lists:
        return page
    entries = tuple((node.id, _entries(whole, page, node)) for node in lists)
    held: list[tuple[_Entries, Page]] = remembered(page, "listed", lambda _: [])
    for known, made in held:
        if known == entries:
            return made
    fill = partial(_filled, dict(entries))
    made = msgspec.structs.replace(page, variants=tuple(
        rebuilt(variant, dict(entries), fill) for variant in page.variants))
    held[:] = [(entries, made), *held[: _KEPT - 1]]
    return made


def _filled(entries: Mapping[Id, tuple[RowEntry, ...]], node: Node) -> Node:
    assert isinstance(node, RowList)
    found = entries[node.id]
    if not found:
        return msgspec.structs.replace(node, entries=())
    # In the first cell the design of all is typed.
    return msgspec.structs.replace(node, entries=found, title=found[0].title,
                                   words=found[0].words)


def _entries(whole: Site, page: Page, node: RowList) -> tuple[RowEntry, ...]:
    table = whole.table(node.table)
    if table is None:
        return ()
    # By the node itself: pages of rows share it as long as none of its words are the row's.
    made: dict[tuple[int, Id], RowEntry] = remembered(whole, "row_entries", lambda _: {})
    found = []
    for row in wanted_rows(whole, page, node):
        key = (id(node), row.id)
        if key not in made:
            made[key] = _entry(whole, table, row, node)
        found.append(made[key])
    return tuple(found)


def _entry(whole: Site, table: Table, row: TableRow, node: RowList) -> RowEntry:
    title, words = (filled_text(said, table, row, whole.language)
                    for said in (node.title, node.words))
    # Of several pictures a cell shows the first.
    medium = remembered(whole, "media_by_name", media_by_name).get(
        table.cell(row, node.picture).partition("; ")[0].casefold()) if node.picture else None
    page = pages_of_rows(whole).get(row.id) if node.leads else None
    by = table.column(node.by)
    kinds = shown(by, table.cell(row, by.id), "", whole.language) if by else ""
    goods = goods_of(table, row, *linked_to(whole, table, row), whole.language) \
        if node.priced else None
    return RowEntry(title, words, medium.id if medium else "", kinds, page.id if page else "",
                    page.slug if page else "", goods)
