"""Words on a page that stand for what a row has: in a column of its own, or in one of the row of
another table that it names."""

from collections.abc import Mapping
from typing import NamedTuple

import msgspec

from needle.core.site.site import Site
from needle.core.tables.cells import shown
from needle.core.values.ids import Id
from needle.core.values.language import Language
from needle.core.values.remembering import remembered
from needle.core.values.tables import ColumnPath, Table, TableRow
from needle.core.values.words import Run, Text

__all__ = ["RowWords", "columns_in_reach", "filled_text", "sample_of", "tables_by_id"]


class RowWords(NamedTuple):
    """A row, and what is needed to write out what it has.

    Attributes:
        tables: Those of the site, by their ids.
    """

    table: Table
    row: TableRow
    language: Language
    tables: Mapping[Id, Table]

    def reached(self, path: ColumnPath) -> tuple[Table, TableRow] | None:
        """Return the row that a column of another table is looked up in; `None` where there is
        none: the table is gone, or nothing there is called so."""
        column = self.table.column(path.partition(".")[0])
        other = self.tables.get(column.of) if column is not None else None
        if column is None or other is None:
            return None
        row = other.row_called(self.table.cell(self.row, column.id))
        return (other, row) if row is not None else None

    def shown(self, path: ColumnPath, shape: str) -> str:
        """Return what visitors read for a column; nothing where the row has nothing."""
        table, row, _, own = self.table, self.row, *path.partition(".")[1:]
        if own:
            found = self.reached(path)
            if found is None:
                return ""
            table, row = found
        column = table.column(own or path)
        return shown(column, table.cell(row, column.id), shape, self.language) if column else ""


def tables_by_id(site: Site) -> Mapping[Id, Table]:
    """Return the tables of a site by their ids."""
    return remembered(site, "tables_by_id", lambda site: {one.id: one for one in site.tables})


def columns_in_reach(site: Site, table: Table) -> dict[ColumnPath, str]:
    """Return the columns whose values can stand for words where a row of a table is shown, and how
    each is called: the table's own, then those of rows that it names."""
    found = {column.id: column.name for column in table.columns}
    for column in table.columns:
        other = site.table(column.of) if column.kind == "link" else None
        for one in other.columns[1:] if other is not None else ():  # Its name stands there anyway.
            found[f"{column.id}.{one.id}"] = f"{column.name} › {one.name}"
    return found


def sample_of(site: Site, table: Table, path: ColumnPath) -> str:
    """Return what the first row shows that has something there."""
    tables = tables_by_id(site)
    return next(filter(None, (RowWords(table, row, site.language, tables).shown(path, "")
                              for row in table.rows)), "")


def filled_text(value: Text, words: RowWords) -> Text:
    """Return words with the values of a row; where it has none, the words stay that stand there."""
    if not any(run.column for run in value):
        return value
    return tuple(_filled(run, words) for run in value)


def _filled(run: Run, words: RowWords) -> Run:
    found = words.shown(run.column, run.shape) if run.column else ""
    return msgspec.structs.replace(run, words=found) if found and found != run.words else run
