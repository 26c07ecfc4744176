"""Edits of tables."""

from collections.abc import Callable, Iterable, Mapping, Sequence

import msgspec

from needle.core.edit.place import EditError
from needle.core.site.site import Page, Site
from needle.core.tables.cells import CellError, taken
from needle.core.tables.choosing import is_master
from needle.core.tables.mastering import leading_to, table_of, without_column
from needle.core.values.ids import Id, new_id
from needle.core.values.tables import (
    COLUMN_KINDS,
    MEANINGS,
    MOST_COLUMNS,
    MOST_ROWS,
    Table,
    TableColumn,
    TableRow,
)

__all__ = ["add_column", "add_rows", "add_table", "change_kind", "delete_column", "delete_rows",
           "delete_table", "give_meaning", "move_rows", "put_table", "rename_column",
           "rename_table", "renamed_links", "set_cells", "shape_column", "used_by"]

_LONGEST = 80


def put_table(site: Site, table: Table) -> Site:
    """Return the site with a table in the place of the one of its id, or after all others."""
    if site.table(table.id) is None:
        return msgspec.structs.replace(site, tables=(*site.tables, table))
    return msgspec.structs.replace(site, tables=tuple(
        table if one.id == table.id else one for one in site.tables))


def add_table(site: Site, table: Table) -> Site:
    """Return the site with a new table under a name that is free."""
    name, number = table.name[: _LONGEST - 4], 2
    taken_names = {one.name.casefold() for one in site.tables}
    wish = name
    while name.casefold() in taken_names:
        name, number = f"{wish} {number}", number + 1
    return put_table(site, msgspec.structs.replace(table, name=name))


def used_by(site: Site, table_id: Id) -> list[Page]:
    """Return the masters of a table."""
    return [page for page in site.pages if is_master(page) and page.master.table == table_id]


def delete_table(site: Site, table_id: Id) -> Site:
    """Return the site without a table.

    Raises:
        EditError: Pages are made of its rows.
    """
    if pages := used_by(site, table_id):
        raise EditError("table-used", page=pages[0].name)
    # What linked to its rows keeps their names, as words.
    return msgspec.structs.replace(site, tables=tuple(
        _unlinked(one, table_id) for one in site.tables if one.id != table_id))


def _unlinked(table: Table, gone: Id) -> Table:
    if not any(column.of == gone for column in table.columns):
        return table
    return msgspec.structs.replace(table, columns=tuple(
        msgspec.structs.replace(column, kind="text", of="") if column.of == gone else column
        for column in table.columns))


def rename_table(site: Site, table_id: Id, name: str) -> Site:
    """Return the site with a table called otherwise.

    Raises:
        EditError: The name is empty or taken.
    """
    tidy = _name(name)
    if any(one.name.casefold() == tidy.casefold() and one.id != table_id for one in site.tables):
        raise EditError("table-name-taken", name=tidy)
    return put_table(site, msgspec.structs.replace(table_of(site, table_id), name=tidy))


def _name(name: str) -> str:
    tidy = " ".join("".join(s if s.isprintable() else " " for s in name).split())
    if not tidy:
        raise EditError("table-needs-name")
    return tidy[:_LONGEST]


# Columns

def add_column(site: Site, table_id: Id, name: str, kind: str = "text", of: Id = "",
               ) -> tuple[Site, Id]:
    """Return the site with a table that has one column more, and the column's id.

    Args:
        of: Of a row of another table: which one.

    Raises:
        EditError: The name is empty or taken, or there are as many columns as there can be.
    """
    table = table_of(site, table_id)
    if len(table.columns) >= MOST_COLUMNS:
        raise EditError("table-columns", most=MOST_COLUMNS)
    column = TableColumn(id=new_id(), name=_column_name(table, name), kind=kind, of=of)
    made = msgspec.structs.replace(table, columns=(*table.columns, column), rows=tuple(
        TableRow(row.id, (*row.cells, "")) for row in table.rows))
    return put_table(site, made), column.id


def _column_name(table: Table, name: str, own: Id = "") -> str:
    tidy = _name(name)
    if any(one.name.casefold() == tidy.casefold() and one.id != own for one in table.columns):
        raise EditError("column-name-taken", name=tidy)
    return tidy


def rename_column(site: Site, table_id: Id, column_id: Id, name: str) -> Site:
    """Return the site with a column called otherwise; what shows it goes on showing it.

    Raises:
        EditError: The name is empty or taken, or the column is gone.
    """
    table = table_of(site, table_id)
    return _with_column(site, table, column_id, name=_column_name(table, name, column_id))


def change_kind(site: Site, table_id: Id, column_id: Id, kind: str, of: Id = "") -> Site:
    """Return the site with a column of another kind, its cells in the form of that.

    What the column means stays if the kind fits that.

    Args:
        of: Of a row of another table: which one.

    Raises:
        EditError: A cell does not fit; the message names the row. Or the table is gone that a
            link is to.
    """
    table = table_of(site, table_id)
    if kind == "link":
        table_of(site, of)
    place = _place(table, column_id)
    old = table.columns[place]
    means = old.means if old.means and kind in MEANINGS[old.means][1] else ""
    column = msgspec.structs.replace(old, kind=kind, choices=())
    rows = []
    for row in table.rows:
        cell = _fitting(table, row, column, row.cells[place], site)
        rows.append(row if cell == row.cells[place] else _with_cell(row, place, cell))
    made = msgspec.structs.replace(table, rows=tuple(rows))
    return _with_column(put_table(site, made), made, column_id, kind=kind, choices=(),
                        of=of if kind == "link" else "", means=means)


def give_meaning(site: Site, table_id: Id, column_id: Id, means: str) -> Site:
    """Return the site with a column that means something else; another one of that meaning loses
    it, except that several may tell options apart.

    Raises:
        EditError: The column's kind does not fit the meaning.
    """
    table = table_of(site, table_id)
    column = table.columns[_place(table, column_id)]
    if means and column.kind not in MEANINGS[means][1]:
        words, kinds = MEANINGS[means]
        raise EditError("column-means", column=column.name, means=words,
                        kinds=" / ".join(COLUMN_KINDS[kind] for kind in kinds))
    return put_table(site, msgspec.structs.replace(table, columns=tuple(
        msgspec.structs.replace(one, means=means) if one.id == column_id else
        msgspec.structs.replace(one, means="")
        if means and means != "option" and one.means == means else one
        for one in table.columns)))


def renamed_links(site: Site, old: Table, new: Table) -> Site:
    """Return the site in which what linked to a row goes on doing so under its new name.

    Args:
        old, new: The table before and after; rows are known by their ids.
    """
    if not any(column.of == new.id for table in site.tables for column in table.columns) and (
            new.meaning("together") is None):
        return site
    there = set(map(id, new.rows))  # Of thousands of rows an edit changes few.
    names = {old.label(row).casefold(): new.label(now) for row in old.rows
             if id(row) not in there and (now := new.row(row.id)) is not None
             and new.label(now) != old.label(row) and old.row_called(old.label(row)) is row}
    if not names:
        return site
    return msgspec.structs.replace(site, tables=tuple(
        _relinked(table, new.id, names) for table in site.tables))


def _relinked(table: Table, to: Id, names: Mapping[str, str]) -> Table:
    places = [place for place, column in enumerate(table.columns)
              if column.kind == "link" and column.of == to]
    several = [place for place, column in enumerate(table.columns)
               if column.means == "together" and table.id == to]
    if not places and not several:
        return table

    def renamed(row: TableRow) -> TableRow:
        if not several and not any(row.cells[place].casefold() in names for place in places):
            return row
        cells = list(row.cells)
        for place in places:
            cells[place] = names.get(cells[place].casefold(), cells[place])
        for place in several:
            cells[place] = ", ".join(names.get(name.casefold(), name)
                                     for name in cells[place].split(", "))
        return row if tuple(cells) == row.cells else TableRow(row.id, tuple(cells))

    rows = tuple(map(renamed, table.rows))
    return table if all(new is old for new, old in zip(rows, table.rows, strict=True)) else (
        msgspec.structs.replace(table, rows=rows))


def _fitting(table: Table, row: TableRow, column: TableColumn, words: str, site: Site) -> str:
    try:
        return taken(column, words, site.language)
    except CellError as error:
        raise EditError("table-cell", row=table.label(row), column=column.name,
                        why=error) from error


def shape_column(site: Site, table_id: Id, column_id: Id, name: str, kind: str, of: Id,
                 means: str, counts: tuple[str, ...] = ()) -> Site:
    """Return the site with a column of another name, kind and meaning; as `rename_column`,
    `change_kind` and `give_meaning` do it.

    Args:
        counts: Of a number: what it counts; see `TableColumn`.

    Raises:
        EditError: As those do; nothing is changed then.
    """
    site = rename_column(site, table_id, column_id, name)
    column = table_of(site, table_id).column(column_id)
    if column is not None and (kind, of) != (column.kind, column.of):
        site = change_kind(site, table_id, column_id, kind, of)
        column = table_of(site, table_id).column(column_id)
    if column is not None and means != column.means:
        site = give_meaning(site, table_id, column_id, means)
    table = table_of(site, table_id)
    counts = counts if kind == "number" else ()
    return site if table.columns[_place(table, column_id)].counts == counts else _with_column(
        site, table, column_id, counts=counts)


def delete_column(site: Site, table_id: Id, column_id: Id) -> Site:
    """Return the site without a column. Where pages showed it, the words stay that stood there.

    Raises:
        EditError: It is the only one, or pages have it in their address.
    """
    table = table_of(site, table_id)
    place = _place(table, column_id)
    if len(table.columns) == 1:
        raise EditError("column-last")
    leads = leading_to(site, table_id, column_id)
    for page in site.pages:  # Those of another table, too: “rows of this one”.
        if any(run.column and leads(page.master.table)(run.column) for run in page.master.slug):
            raise EditError("column-in-address", column=table.columns[place].name, page=page.name)
        if any(one.column == column_id for one in page.master.only):
            raise EditError("column-in-conditions", column=table.columns[place].name,
                            page=page.name)
    site = msgspec.structs.replace(site, pages=tuple(
        without_column(site, page, table_id, column_id) for page in site.pages))
    made = msgspec.structs.replace(
        table, columns=(*table.columns[:place], *table.columns[place + 1:]),
        rows=tuple(TableRow(row.id, (*row.cells[:place], *row.cells[place + 1:]))
                   for row in table.rows))
    return put_table(site, made)


def _place(table: Table, column_id: Id) -> int:
    place = table.place_of(column_id)
    if place < 0:
        raise EditError("column-gone")
    return place


def _with_column(site: Site, table: Table, column_id: Id, **fields: object) -> Site:
    place = _place(table, column_id)
    changed = msgspec.structs.replace(table.columns[place], **fields)
    return put_table(site, msgspec.structs.replace(table, columns=(
        *table.columns[:place], changed, *table.columns[place + 1:])))


# Rows

def add_rows(site: Site, table_id: Id, cells: Sequence[Sequence[str]], at: int = -1,
             ids: Callable[[], Id] = new_id) -> tuple[Site, tuple[Id, ...]]:
    """Return the site with more rows in a table, and their ids.

    Args:
        cells: In the words of a person; rows that are too short are filled up.
        at: Before which row they come; -1 for the end.

    Raises:
        EditError: There are as many rows as there can be, or a cell does not fit.
    """
    table = table_of(site, table_id)
    if len(table.rows) + len(cells) > MOST_ROWS:
        raise EditError("table-rows", most=MOST_ROWS)
    fresh = []
    for words in cells:
        row = TableRow(ids(), tuple(words[: len(table.columns)]))
        fresh.append(TableRow(row.id, tuple(
            _fitting(table, row, column, words[place] if place < len(words) else "", site)
            for place, column in enumerate(table.columns))))
    place = len(table.rows) if at < 0 else at
    made = msgspec.structs.replace(
        table, rows=(*table.rows[:place], *fresh, *table.rows[place:]))
    return put_table(site, made), tuple(row.id for row in fresh)


def delete_rows(site: Site, table_id: Id, rows: Iterable[Id]) -> Site:
    """Return the site without some rows, and without what their pages had of their own."""
    table, gone = table_of(site, table_id), set(rows)
    site = put_table(site, msgspec.structs.replace(
        table, rows=tuple(row for row in table.rows if row.id not in gone)))
    pages = tuple(_without(page, gone) if is_master(page) and page.master.table == table_id
                  else page for page in site.pages)
    return msgspec.structs.replace(site, pages=pages) if any(
        new is not old for new, old in zip(pages, site.pages, strict=True)) else site


def _without(page: Page, rows: set[Id]) -> Page:
    kept = tuple(one for one in page.master.departures if one.row not in rows)
    if len(kept) == len(page.master.departures):
        return page
    return msgspec.structs.replace(
        page, master=msgspec.structs.replace(page.master, departures=kept))


def move_rows(site: Site, table_id: Id, rows: Iterable[Id], by: int) -> Site:
    """Return the site with some rows further up (`by` below 0) or down, as one block."""
    table, moved = table_of(site, table_id), set(rows)
    block = [row for row in table.rows if row.id in moved]
    rest = [row for row in table.rows if row.id not in moved]
    first = next((n for n, row in enumerate(table.rows) if row.id in moved), 0)
    at = max(0, min(first + by, len(rest)))
    return put_table(site, msgspec.structs.replace(
        table, rows=(*rest[:at], *block, *rest[at:])))


def set_cells(site: Site, table_id: Id, cells: Sequence[tuple[Id, Id, str]]) -> Site:
    """Return the site with some cells changed.

    Args:
        cells: Row, column, and the words of a person.

    Raises:
        EditError: One does not fit, or its row or column is gone; nothing is changed then.
    """
    table = table_of(site, table_id)
    changed: dict[Id, TableRow] = {}
    for row_id, column_id, words in cells:
        row, place = changed.get(row_id) or table.row(row_id), _place(table, column_id)
        if row is None:
            raise EditError("row-gone")
        changed[row_id] = _with_cell(row, place, _fitting(
            table, row, table.columns[place], words, site))
    rows = tuple(changed[row.id] if row.id in changed and changed[row.id] != row else row
                 for row in table.rows)
    if all(new is old for new, old in zip(rows, table.rows, strict=True)):
        return site
    made = msgspec.structs.replace(table, rows=rows)
    return renamed_links(put_table(site, made), table, made)


def _with_cell(row: TableRow, place: int, cell: str) -> TableRow:
    return TableRow(row.id, (*row.cells[:place], cell, *row.cells[place + 1:]))

