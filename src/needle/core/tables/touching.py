"""Which rows of a table show something else because rows of other tables changed: those that link
to one of those rows, and those that one of them links to."""

from collections.abc import Callable, Iterable, Mapping
from typing import TypeVar

from needle.core.site.site import Site
from needle.core.tables.trail import pages_of_rows
from needle.core.values.ids import Id
from needle.core.values.remembering import remembered
from needle.core.values.tables import Table, TableColumn, TableRow

__all__ = ["readdressed_rows", "touched_rows"]

_Found = TypeVar("_Found")


def touched_rows(before: Site, now: Site, table: Table) -> set[Id] | None:
    """Return the rows of a table that rows of other tables touch which changed; `None` where other
    tables themselves are others.

    Args:
        table: As it is now, with the columns that it had before.
    """
    return _asked_once(before, now, table, "touched", _touched_rows)


def readdressed_rows(before: Site, now: Site, table: Table) -> set[Id]:
    """Return the rows of a table whose page has another address than before, or is another.

    Args:
        before, now: With the pages of their rows.
    """
    return _asked_once(before, now, table, "readdressed", _readdressed_rows)


def _asked_once(before: Site, now: Site, table: Table, name: str,
                find: Callable[[Site, Site, Table], _Found]) -> _Found:
    """Return what is found: each list of the table asks the same, and so do its pages."""
    known: dict[Id, tuple[Site, _Found]] = remembered(now, name, lambda _: {})
    held = known.get(table.id)
    if held is None or held[0] is not before:
        held = known[table.id] = (before, find(before, now, table))
    return held[1]


def _touched_rows(before: Site, now: Site, table: Table) -> set[Id] | None:
    if [one.id for one in before.tables] != [one.id for one in now.tables]:
        return None
    found: set[Id] = set()
    for old, new in zip(before.tables, now.tables, strict=True):
        if old is new or new.id == table.id:
            continue
        changed = _changed_rows(old, new)
        if changed is None:
            return None
        for column in new.columns:
            if column.kind == "link" and column.of == table.id:
                found |= _called(table, (old.cell(row, column.id) for row in changed))
        for column in table.columns:
            if column.kind == "link" and column.of == new.id:
                found |= _naming(table, column, map(new.label, changed))
    return found


def _changed_rows(old: Table, new: Table) -> list[TableRow] | None:
    """Return the rows that are gone or others, as they were, and those that came, as they are;
    `None` where columns or the order of the rest are others."""
    if old.columns is not new.columns:
        return None
    was, now = set(map(id, old.rows)), set(map(id, new.rows))
    if [id(row) for row in old.rows if id(row) in now] != [
            id(row) for row in new.rows if id(row) in was]:
        return None
    return [row for row in old.rows if id(row) not in now] + [
        row for row in new.rows if id(row) not in was]


def _called(table: Table, names: Iterable[str]) -> set[Id]:
    labelled = remembered(table, "labelled", lambda table: _by_words(table, None))
    return {one for name in names for one in labelled.get(name.casefold(), ())}


def _naming(table: Table, column: TableColumn, names: Iterable[str]) -> set[Id]:
    naming = remembered(table, f"naming {column.id}", lambda table: _by_words(table, column))
    return {one for name in names for one in naming.get(name.casefold(), ())}


def _by_words(table: Table, column: TableColumn | None) -> Mapping[str, list[Id]]:
    """Return the rows by what stands in a column; by what they are called without one."""
    found: dict[str, list[Id]] = {}
    for row in table.rows:
        words = table.cell(row, column.id) if column is not None else table.label(row)
        found.setdefault(words.casefold(), []).append(row.id)
    return found


def _readdressed_rows(before: Site, now: Site, table: Table) -> set[Id]:
    old, new = pages_of_rows(before), pages_of_rows(now)

    def moved(row: TableRow) -> bool:
        was, page = old.get(row.id), new.get(row.id)
        return was is not page and (was is None or page is None or (was.id, was.slug) != (
            page.id, page.slug))

    return {row.id for row in table.rows if moved(row)}
