"""Edits that make a page into one page for each row, and say what each row's page has."""

import re
from collections.abc import Callable, Iterable, Sequence

import msgspec

from needle.core.edit.pages import page_index, set_page, slug_for
from needle.core.edit.place import EditError, find, node_at
from needle.core.edit.texts import with_lines
from needle.core.kinds.rowlist import RowList
from needle.core.render.texts import read_lines, texts_of
from needle.core.site.site import Page, Site, Variant
from needle.core.tables.choosing import is_master
from needle.core.tables.filling import rebuilt
from needle.core.tables.goods import offers_prices
from needle.core.values.ids import Id
from needle.core.values.node import Node
from needle.core.values.tables import (
    NO_MASTER,
    Bound,
    ColumnPath,
    Condition,
    Departure,
    Fact,
    Master,
    OnlyFor,
    Table,
    TableRow,
)
from needle.core.values.words import Run, Text, marked, plain, tidy

__all__ = ["best_row", "bind", "conditions_of", "depart", "departures_of", "leading_to",
           "make_master", "put_back", "put_chip", "set_conditions", "set_facts", "set_part",
           "set_said", "table_of", "unmake_master", "untold", "with_following", "without_column"]

# Shorter values stand on a page by chance.
_SHORTEST = 3
_FITS_IN_WORDS = ("text", "choice", "long")


def table_of(site: Site, table_id: Id) -> Table:
    """Return a table.

    Raises:
        EditError: It is gone.
    """
    table = site.table(table_id)
    if table is None:
        raise EditError("table-gone")
    return table


def best_row(page: Page, table: Table) -> TableRow | None:
    """Return the row whose values stand on a page most often; the first one if none does."""
    words = "\n".join([page.name, page.title, page.description, *(
        plain(line) for variant in page.variants for node in variant.nodes()
        for path in texts_of(node) for line in read_lines(node, path))])

    def count(row: TableRow) -> int:
        return sum(len(cell) for column, cell in zip(table.columns, row.cells, strict=False)
                   if column.kind in _FITS_IN_WORDS and len(cell) >= _SHORTEST and cell in words)

    best = max(table.rows, key=count, default=None)
    return best if best is not None and count(best) else next(iter(table.rows), None)


def make_master(site: Site, page_id: Id, table_id: Id, row_id: Id = "") -> Site:
    """Return the site with a page made into one for each row of a table.

    Wherever the page has the words of one row (by default the one that fits best), the columns'
    values stand from now on: in its words, title, description and address.

    Raises:
        EditError: Page or table is gone, the page is one already, or the table has no rows.
    """
    page, table = site.pages[page_index(site, page_id)], table_of(site, table_id)
    if is_master(page):
        raise EditError("master-already", page=page.name)
    row = table.row(row_id) or best_row(page, table)
    if row is None:
        raise EditError("table-empty", table=table.name)

    def chips(words: Text) -> Text:
        return _with_chips(words, table, row)

    title = chips((Run(page.title),) if page.title else ())
    if not any(run.column for run in title):
        title = (Run(f"{page.title or page.name}: "),
                 Run(table.label(row), column=table.columns[0].id))
    master = Master(table=table_id, slug=_slug(page, table, row), title=title,
                    description=chips((Run(page.description),) if page.description else ()))
    variants = tuple(_respoken(variant, lambda node, words: (
        words if isinstance(node, RowList) else chips(words))) for variant in page.variants)
    return set_page(site, page_id, master=master, variants=variants)


def _slug(page: Page, table: Table, row: TableRow) -> Text:
    """Return the address with the row's name in it, after all else if it was not there."""
    chip = Run(table.label(row), column=table.columns[0].id)
    own = slug_for(table.label(row))
    if own and re.search(rf"(?<![a-z0-9]){re.escape(own)}(?![a-z0-9])", page.slug):
        before, _, after = page.slug.partition(own)
        return tidy((Run(before), chip, Run(after)))
    stem = page.slug or slug_for(page.name)
    return (Run(f"{stem}-"), chip)


def _with_chips(words: Text, table: Table, row: TableRow) -> Text:
    """Return words in which whole values of a row are marked as standing for their columns."""
    wanted = sorted(((cell, column.id) for column, cell in zip(
        table.columns, row.cells, strict=True)
        if column.kind in _FITS_IN_WORDS and len(cell) >= _SHORTEST and "\n" not in cell),
        key=lambda one: -len(one[0]))
    for cell, column in wanted:
        fresh: list[Run] = []
        for run in words:
            fresh += [run] if run.column else _parted(run, cell, column)
        words = tuple(fresh)
    return words


def _parted(run: Run, cell: str, column: Id) -> list[Run]:
    parts = re.split(rf"(?<!\w)({re.escape(cell)})(?!\w)", run.words)
    return [msgspec.structs.replace(run, words=part, column=column if place % 2 else "")
            for place, part in enumerate(parts) if part]


def _respoken(variant: Variant, change: Callable[[Node, Text], Text]) -> Variant:
    """Return a variant with every text changed; branches without a change are shared."""
    def respoken(node: Node) -> Node:
        for path in texts_of(node):
            lines = read_lines(node, path)
            made = tuple(change(node, line) for line in lines)
            if made != lines:
                node = with_lines(node, path, made)
        return node

    return rebuilt(variant, None, respoken)


def unmake_master(site: Site, page_id: Id) -> Site:
    """Return the site with a master as an ordinary page again, with the words that stand there."""
    page = site.pages[page_index(site, page_id)]
    return set_page(site, page_id, master=NO_MASTER, variants=tuple(
        _respoken(variant, lambda node, words: words if isinstance(node, RowList)
                  else _without_chips(words, lambda _: True)) for variant in page.variants))


def _without_chips(words: Text, gone: Callable[[ColumnPath], bool]) -> Text:
    if not any(run.column and gone(run.column) for run in words):
        return words
    return tidy(msgspec.structs.replace(run, column="", shape="")
                if run.column and gone(run.column) else run for run in words)


def leading_to(site: Site, table: Id, column: Id) -> Callable[[Id], Callable[[ColumnPath], bool]]:
    """Return what tells, for a table whose rows words are about, which of the columns that stand
    for words lead to one of a table."""
    def for_table(about: Id) -> Callable[[ColumnPath], bool]:
        held = site.table(about)
        links = {one.id for one in held.columns if one.of == table} if held is not None else ()

        def gone(path: ColumnPath) -> bool:
            head, _, own = path.partition(".")
            return (about == table and head == column) or (own == column and head in links)

        return gone

    return for_table


def without_column(site: Site, page: Page, table: Id, column: Id) -> Page:
    """Return a page on which a column that is to go is shown nowhere; words stay."""
    gone_for = leading_to(site, table, column)
    variants = tuple(_respoken(variant, lambda node, words: _without_chips(
        words, gone_for(node.table if isinstance(node, RowList) else page.master.table)))
        for variant in page.variants)
    master = _master_without(page.master, table, column, gone_for(page.master.table))
    if master == page.master and all(
            new is old for new, old in zip(variants, page.variants, strict=True)):
        return page
    return msgspec.structs.replace(page, variants=variants, master=master)


def _master_without(master: Master, table: Id, column: Id, gone: Callable[[ColumnPath], bool],
                    ) -> Master:
    def bare(words: Text) -> Text:
        return _without_chips(words, gone)

    own = column if master.table == table else ""
    return msgspec.structs.replace(
        master, title=bare(master.title), description=bare(master.description),
        apart=tuple(one for one in master.apart if one.column != own),
        parts=tuple(one for one in master.parts if one.condition.column != column),
        facts=tuple(one for one in master.facts if one.column != own),
        departures=tuple(msgspec.structs.replace(one, words=tuple(map(bare, one.words)))
                         for one in master.departures))


def put_chip(site: Site, node_id: Id, path: str, start: int, stop: int, column: ColumnPath,
             shape: str = "") -> Site:
    """Return the site with a column's value in place of a stretch of words; or, without a column,
    with the words alone.

    Args:
        start, stop: As `marked` takes them.
    """
    place = find(site, node_id)
    node = node_at(site, place)
    lines = marked(read_lines(node, path), start, stop, "column", column)
    lines = marked(lines, start, stop, "shape", shape if column else "")
    page = site.pages[place.page]
    variants = tuple(rebuilt(variant, {node_id}, lambda old: with_lines(old, path, lines))
                     for variant in page.variants)
    return set_page(site, page.id, variants=variants)


def _master(site: Site, page_id: Id) -> Master:
    page = site.pages[page_index(site, page_id)]
    if not is_master(page):
        raise EditError("master-none", page=page.name)
    return page.master


def set_said(site: Site, page_id: Id, field: str, words: Text) -> Site:
    """Return the site with another "slug", "title" or "description" of a master's pages.

    Raises:
        EditError: It is no master, or an address would be the same for all rows.
    """
    master = _master(site, page_id)
    words = tidy(words)
    if field == "slug" and not any(run.column for run in words):
        raise EditError("master-one-address")
    site = set_page(site, page_id, master=msgspec.structs.replace(master, **{field: words}))
    return site if field == "slug" else set_page(site, page_id, **{field: plain(words)})


def set_conditions(site: Site, page_id: Id, conditions: Iterable[Condition],
                   besides: bool = False) -> Site:
    """Return the site with other conditions for which rows have a page.

    Args:
        besides: They have it besides other pages of their table.
    """
    master = _master(site, page_id)
    return set_page(site, page_id, master=msgspec.structs.replace(
        master, only=tuple(conditions), besides=besides))


def set_part(site: Site, page_id: Id, node_id: Id, conditions: Iterable[Condition]) -> Site:
    """Return the site with a part that only the pages of some rows have; of all, without any
    condition."""
    master = _master(site, page_id)
    kept = tuple(one for one in master.parts if one.node != node_id)
    return set_page(site, page_id, master=msgspec.structs.replace(master, parts=(
        *kept, *(OnlyFor(node=node_id, condition=one) for one in conditions))))


def conditions_of(page: Page, node_id: Id) -> tuple[Condition, ...]:
    """Return the conditions on which a row's page has a part."""
    return tuple(one.condition for one in page.master.parts if one.node == node_id)


def bind(site: Site, page_id: Id, node_id: Id, field: str, column: Id) -> Site:
    """Return the site with a field of a part following a column; with none it stands still."""
    master = _master(site, page_id)
    kept = [one for one in master.apart if (one.node, one.field) != (node_id, field)]
    fresh = [Bound(node=node_id, field=field, column=column)] if column else []
    return set_page(site, page_id, master=msgspec.structs.replace(
        master, apart=(*kept, *fresh)))


def with_following(site: Site, page_id: Id, arrived: Master) -> Site:
    """Return the site in which what follows a row of a ready-made part does so on a page, if that
    is made of the same table."""
    page = site.pages[page_index(site, page_id)]
    if not arrived.table or page.master.table != arrived.table:
        return site
    return set_page(site, page_id, master=msgspec.structs.replace(
        page.master, apart=(*page.master.apart, *arrived.apart),
        parts=(*page.master.parts, *arrived.parts)))


def set_facts(site: Site, page_id: Id, facts: Iterable[Fact]) -> Site:
    """Return the site with other facts that searches are told of each row's page."""
    master = _master(site, page_id)
    return set_page(site, page_id, master=msgspec.structs.replace(master, facts=tuple(facts)))


def untold(site: Site, page: Page) -> tuple[str, ...]:
    """Return the facts without which searches show nothing of a page: neither it has them nor,
    where each row has a page, a column."""
    table = site.table(page.master.table)
    told = {fact.field for fact in page.master.facts}
    if table is not None and offers_prices(site, table):
        told.add("price")
    if "price" in told:  # Money says its currency.
        told.add("currency")
    return tuple(name for name in page.about.lacks if name not in told)


def departures_of(page: Page, row: Id) -> Sequence[Departure]:
    """Return what a row's page has of its own."""
    return tuple(one for one in page.master.departures if one.row == row)


def depart(site: Site, page_id: Id, row: Id, node_id: Id, path: str = "",
           words: tuple[Text, ...] = ()) -> Site:
    """Return the site in which one row's page has words of its own in a text, or a part hidden.

    Args:
        path: The text; empty to hide the part.
    """
    master = _master(site, page_id)
    kept = tuple(one for one in master.departures
                 if (one.row, one.node, one.path) != (row, node_id, path))
    return set_page(site, page_id, master=msgspec.structs.replace(
        master, departures=(*kept, Departure(row=row, node=node_id, path=path, words=words))))


def put_back(site: Site, page_id: Id, row: Id, node_id: Id = "") -> Site:
    """Return the site in which one row's page follows the master again: in one part, or in all."""
    master = _master(site, page_id)
    kept = tuple(one for one in master.departures
                 if one.row != row or (node_id and one.node != node_id))
    if len(kept) == len(master.departures):
        return site
    return set_page(site, page_id, master=msgspec.structs.replace(master, departures=kept))
