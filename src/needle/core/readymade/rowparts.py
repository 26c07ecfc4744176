"""Parts that show the rows of a table, and which table of a site is of which kind."""

from collections.abc import Callable
from typing import Any

import msgspec

from needle.core.kinds.gallery import Gallery
from needle.core.kinds.picture import Picture
from needle.core.kinds.rowlist import RowList
from needle.core.site.parts import Parts
from needle.core.site.site import Site
from needle.core.tables.goods import offers_prices
from needle.core.values.ids import Id
from needle.core.values.node import Node
from needle.core.values.tables import (
    Bound,
    Condition,
    Fact,
    Master,
    OnlyFor,
    Table,
    TableColumn,
)
from needle.core.values.words import Run, Text, text

__all__ = ["RowParts", "own_table"]

def own_table(site: Site, kind: str) -> Table | None:
    """Return the table of a site that is of a kind; `None` if it has none."""
    goods = next((table for table in site.tables if offers_prices(site, table)
                  and table.meaning("option") is None), None)
    if kind == "goods":
        return goods
    linked = [column.of for column in goods.columns if column.kind == "link"] if goods else []
    groups = next((table for table in site.tables if table.id in linked), None)
    if kind == "groups":
        return groups
    known = {table.id for table in (goods, groups) if table is not None}
    return next((table for table in site.tables if table.id not in known
                 and not any(column.kind == "link" for column in table.columns)
                 and (table.meaning("north") or any(column.kind in ("choice", "date")
                                                    for column in table.columns))), None)


class RowParts:
    """Makes parts that show a table's rows, and keeps what the page of a row needs for them.

    Attributes:
        table: Whose rows.
    """

    def __init__(self, table: Table, picture_of: Callable[[str], Id]) -> None:
        """Make parts for a table.

        Args:
            picture_of: Returns the medium that a picture is called; empty if there is none.
        """
        self.table = table
        self._picture_of = picture_of
        self._bound: list[Bound] = []
        self._parts: list[OnlyFor] = []

    def _column(self, *wishes: str) -> TableColumn | None:
        """Return the first column of the first name, or kind, that the table has."""
        for wish in wishes:
            for column in self.table.columns[1:]:
                if wish in (column.name, column.kind) and not column.means:
                    return column
        return None

    def _cell(self, column: TableColumn) -> str:
        return next((cell for row in self.table.rows
                     if (cell := self.table.cell(row, column.id))), column.name)

    def name(self) -> Text:
        """Return what a row is called, in its place."""
        return (Run(self._cell(self.table.columns[0]), column=self.table.columns[0].id),)

    def said(self, before: str, *wishes: str, after: str = "") -> Text:
        """Return what a row's column says, within words; without such a column the words alone.

        Args:
            wishes: Names or kinds of columns, the likeliest first.
        """
        column = self._column(*wishes)
        if column is None:
            return text(f"{before}{after}".strip() or "What is said of it here.")
        return tuple(run for run in (
            Run(before), Run(self._cell(column), column=column.id), Run(after)) if run.words)

    def line(self) -> Text:
        """Return what a row says of itself in a line."""
        return self.said("", "In a line", "text", "long")

    def told(self) -> Text:
        """Return what a row tells of itself."""
        return self.said("", "Told", "long", "text")

    def _shots(self) -> TableColumn | None:
        return self._column("pictures", "picture")

    def _follows(self, node: Node) -> None:
        column = self._shots()
        if column is not None:
            self._bound.append(Bound(node=node.id, field="medium", column=column.id))

    def _media(self) -> list[Id]:
        column = self._shots()
        names = self._cell(column).split("; ") if column is not None else []
        return [medium for name in names if (medium := self._picture_of(name))]

    def picture(self, p: Parts) -> Picture:
        """Return the picture of the row, which follows it."""
        made = p.picture(next(iter(self._media()), ""))
        self._follows(made)
        return made

    def gallery(self, p: Parts, layout: str, across: int = 3) -> Gallery:
        """Return the pictures of the row, which follow it."""
        made = Gallery(id=p.ids(), layout=layout, across=across).showing(tuple(self._media()))
        self._follows(made)
        return made

    def listed(self, p: Parts, words: Text | None = None, **fields: Any) -> RowList:
        """Return a list of rows."""
        shots = self._shots()
        return msgspec.structs.replace(
            RowList(id=p.ids(), table=self.table.id, title=self.name(),
                    words=self.line() if words is None else words,
                    picture=shots.id if shots is not None else ""), **fields)

    def link_to(self, other: Table) -> Id:
        """Return the column that links to another table; empty for none."""
        return next((column.id for column in self.table.columns if column.of == other.id), "")

    def column_of(self, *wishes: str) -> Id:
        """Return a column by its names or kinds, the likeliest first; empty for none."""
        column = self._column(*wishes)
        return column.id if column is not None else ""

    def only(self, node: Node, means: str, test: str, value: str = "") -> None:
        """Have a part stand on the pages of some rows alone."""
        column = self.table.meaning(means)
        if column is not None:
            self._parts.append(OnlyFor(node=node.id, condition=Condition(
                column=column.id, test=test, value=value)))

    def only_linked(self, node: Node, column: Id, test: str) -> None:
        """Have a part stand on the pages of rows that others link to, or that none does."""
        if column:
            self._parts.append(OnlyFor(node=node.id, condition=Condition(column=column,
                                                                         test=test)))

    def master(self, title: str, after: str = "") -> Master:
        """Return what makes a page one for each row.

        Args:
            title, after: What the title of a page says before and after what its row is called.
        """
        facts = [Fact(field=field, column=column) for field, name in (
            ("street", "Street"), ("phone", "Telephone"), ("hours", "Open"))
            if (column := self.column_of(name))]
        before = (Run(title),) if title else ()
        return Master(table=self.table.id, slug=self.name(),
                      title=(*before, *self.name(), *((Run(after),) if after else ())),
                      description=self.line(), apart=tuple(self._bound),
                      parts=tuple(self._parts), facts=tuple(facts))
