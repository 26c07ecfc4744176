"""Which rows a page, a part or a list is for."""

import math
from collections import Counter
from collections.abc import Callable, Iterable, Mapping, Sequence
from decimal import Decimal
from heapq import nsmallest

import numpy as np
from numpy.typing import NDArray

from needle.core.kinds.rowlist import OF_ITS_OWN, RowList
from needle.core.site.site import Page, Site
from needle.core.tables.cells import number_of, sort_key
from needle.core.tables.goods import Linking, goods_of, linking_to, rows_linking
from needle.core.values.ids import Id
from needle.core.values.remembering import remembered
from needle.core.values.rows import Goods
from needle.core.values.tables import Condition, Table, TableColumn, TableRow

__all__ = ["bought_with", "chosen_rows", "clashes_of", "cut", "deciding_cells", "depends_on_page",
           "is_master", "likened_by", "meets", "own_row", "rows_for", "traits_of", "wanted_rows"]

# Kinds of columns by which one row is like another.
_TRAITS = ("tags", "choice", "link")


def is_master(page: Page) -> bool:
    """Whether a page stands for one page for each row of a table."""
    return bool(page.master.table)


# Pages

def rows_for(site: Site, page: Page) -> tuple[TableRow, ...]:
    """Return the rows that a master makes a page of; none if its table is gone.

    A row that meets the conditions of several masters has the page of those with the most
    conditions. Masters that stand besides others are no part of that.
    """
    table = site.table(page.master.table)
    if table is None:
        return ()
    rows = _meeting(site, table, page.master.only)
    nearer = [] if page.master.besides else [
        other for other in _rivals(site, page)
        if len(other.master.only) > len(page.master.only)]
    if not nearer:
        return rows
    lost = {row.id for other in nearer for row in _meeting(site, table, other.master.only)}
    return tuple(row for row in rows if row.id not in lost)


def clashes_of(site: Site, page: Page) -> dict[Id, int]:
    """Return the other masters that are exactly as exact for some rows, and for how many.

    Those rows have both pages.
    """
    table = site.table(page.master.table)
    # Two pages without any condition are meant to stand beside each other.
    if table is None or page.master.besides or not page.master.only:
        return {}
    own = {row.id for row in rows_for(site, page)}
    counts = {other.id: sum(row.id in own for row in rows_for(site, other))
              for other in _rivals(site, page)
              if len(other.master.only) == len(page.master.only)}
    return {other: count for other, count in counts.items() if count}


def _rivals(site: Site, page: Page) -> list[Page]:
    return [other for other in site.pages
            if other.id != page.id and other.master.table == page.master.table
            and not other.master.besides]


def _meeting(site: Site, table: Table, only: tuple[Condition, ...]) -> tuple[TableRow, ...]:
    if not only:
        return table.rows
    linking = linking_to(site, table)
    return tuple(row for row in table.rows
                 if all(meets(table, row, one, linking) for one in only))


def meets(table: Table, row: TableRow, condition: Condition, linking: Sequence[Linking]) -> bool:
    """Whether a row meets a condition.

    Args:
        linking: The tables that link to this one.
    """
    if condition.test in ("linked", "unlinked"):
        found = any(rows_linking(one, table.label(row)) for one in linking
                    if one.column.id == condition.column)
        return found == (condition.test == "linked")
    column = table.column(condition.column)
    cell = table.cell(row, condition.column)
    match condition.test:
        case "filled":
            return bool(cell)
        case "empty":
            return not cell
        case "is":
            return cell.casefold() == condition.value.casefold()
        case "isnt":
            return cell.casefold() != condition.value.casefold()
        case "has":
            return condition.value.casefold() in (
                _tags(cell) if column is not None and column.kind == "tags" else cell.casefold())
    if not cell or not condition.value:
        return False
    one, other = number_of(cell), number_of(condition.value)
    if column is not None and column.kind in ("number", "money") and (
            one is not None and other is not None):
        return one > other if condition.test == "more" else one < other
    return cell > condition.value if condition.test == "more" else cell < condition.value


def _tags(cell: str) -> list[str]:
    return [tag for tag in cell.casefold().split(", ") if tag]


# Lists

def wanted_rows(site: Site, page: Page, node: RowList) -> Sequence[TableRow]:
    """Return the rows that a list on a page shows, in their order.

    Args:
        site: With the table of the list.
        page: On which it stands; of a row, or an ordinary one.
    """
    table = site.table(node.table)
    return () if table is None else cut(node, own_row(table, page), chosen_rows(site, page, node))


def own_row(table: Table, page: Page) -> TableRow | None:
    """Return the row of a page if it is one of a table's."""
    return table.row(page.row.row) if page.row.table == table.id else None


def depends_on_page(node: RowList, page: Page) -> bool:
    """Whether a list shows other rows on this page than on others, but for the page's own."""
    return bool(page.row.row) and (node.choose in OF_ITS_OWN or bool(node.same))


def cut(node: RowList, own: TableRow | None, rows: Sequence[TableRow]) -> Sequence[TableRow]:
    """Return as many of the rows as a list shows; one that chooses leaves out the page's own."""
    if node.choose and own is not None:
        rows = [row for row in rows[: node.most + 1 if node.most else None] if row is not own]
    return rows[: node.most] if node.most else rows


def chosen_rows(site: Site, page: Page, node: RowList,
                among: Sequence[TableRow] | None = None) -> Sequence[TableRow]:
    """Return the rows that a list is for, however many it shows.

    Args:
        among: Only of these, where the list does not depend on the page; of all by default.
    """
    table = site.table(node.table)
    # What somebody has seen, only their browser knows.
    if table is None or node.choose == "seen":
        return ()
    own = own_row(table, page)
    rows: Sequence[TableRow] = table.rows if among is None else among
    if node.same and page.row.row:
        rows = _same(table, node.same, page, own)
    if (where := table.column(node.where)) is not None and node.value.strip():
        wanted = node.value.strip().casefold()
        rows = [row for row in rows if wanted in _values(where, table.cell(row, where.id))]
    if node.choose:
        most = node.most + 1 if node.most and not node.order else 0
        rows = _CHOICES[node.choose](_Asked(site, table, own, most), rows)
    if (column := table.column(node.order)) is not None:
        rows = _ordered(table, column, rows, node.falling)
    return rows


# Choices that go by what stands in one column, and what that means.
_BY_ONE = {"newest": "added", "best": "sold", "featured": "featured"}


def deciding_cells(table: Table, node: RowList) -> Callable[[TableRow], tuple[str, ...]]:
    """Return what gives the cells of a row that decide whether and where a list shows it, as far
    as they are the table's own."""
    wanted = {node.where, node.same, node.order}
    if node.choose == "related":
        named = table.meaning("together") is not None  # Things are named by what they are called.
        places = [place for place, column in enumerate(table.columns)
                  if column.kind in _TRAITS or column.id in wanted or (named and place == 0)]
    elif node.choose in _BY_ONE:
        places = [place for place, column in enumerate(table.columns)
                  if column.means == _BY_ONE[node.choose] or column.id in wanted]
    elif node.choose:  # Links go by what a row is called.
        places = [place for place, column in enumerate(table.columns)
                  if place == 0 or column.means or column.id in wanted]
    else:
        places = [place for place, column in enumerate(table.columns) if column.id in wanted]
    return lambda row: tuple(row.cells[place] for place in places if place < len(row.cells))


def _values(column: TableColumn, cell: str) -> list[str]:
    return _tags(cell) if column.kind == "tags" else [cell.casefold()]


def _same(table: Table, column_id: Id, page: Page, own: TableRow | None) -> Sequence[TableRow]:
    """Return the rows that have the same as the page's row in a column; or, on the page of another
    table's row, that have that row there."""
    column = table.column(column_id)
    if column is None:
        return ()
    by_value = remembered(table, f"having {column_id}", lambda table: _by_value(table, column))
    if own is None:
        return by_value.get(page.row.label.casefold(), ())
    like = table.cell(own, column_id).casefold()
    return [row for row in by_value.get(like, ()) if row is not own]


def _by_value(table: Table, column: TableColumn) -> Mapping[str, tuple[TableRow, ...]]:
    found: dict[str, list[TableRow]] = {}
    for row in table.rows:
        cell = table.cell(row, column.id).casefold()
        for value in {cell, *_values(column, cell)}:
            found.setdefault(value, []).append(row)
    return {value: tuple(rows) for value, rows in found.items()}


def _ordered(table: Table, column: TableColumn, rows: Sequence[TableRow], falling: bool,
             ) -> list[TableRow]:
    # Rows without a value come last whichever way they are put in order.
    full = [row for row in rows if table.cell(row, column.id)]
    empty = [row for row in rows if not table.cell(row, column.id)]
    full.sort(key=lambda row: sort_key(column, table.cell(row, column.id)), reverse=falling)
    return full + empty


class _Asked:
    """What a choice of rows is made with.

    Attributes:
        most: More rows than these need not be returned; 0 for all.
    """

    def __init__(self, site: Site, table: Table, own: TableRow | None, most: int) -> None:
        self.table, self.own, self.most = table, own, most
        self._language, self._linking = site.language, linking_to(site, table)
        # Options that may be on sale where the thing itself is not.
        self._on_sale_apart = [one for one in self._linking
                               if one.options and one.table.meaning("sale") is not None]

    def can_be_on_sale(self, row: TableRow) -> bool:
        """Whether it is worth while to ask what a row offers."""
        sale = self.table.meaning("sale")
        return (sale is not None and bool(self.table.cell(row, sale.id))) or any(
            rows_linking(one, self.table.label(row)) for one in self._on_sale_apart)

    def goods(self, row: TableRow) -> Goods | None:
        """Return what a row offers."""
        label = self.table.label(row)
        return goods_of(self.table, row, self._linking, tuple(
            rows_linking(one, label) for one in self._linking), self._language)


def _by_meaning(means: str) -> Callable[[_Asked, Sequence[TableRow]], list[TableRow]]:
    """Return what chooses rows by a column of a meaning: those that have something there, the
    largest or latest first."""
    def choose(asked: _Asked, rows: Sequence[TableRow]) -> list[TableRow]:
        column = asked.table.meaning(means)
        if column is None:
            return []
        filled = [row for row in rows if asked.table.cell(row, column.id) not in ("", "0")]
        return _ordered(asked.table, column, filled, falling=True)

    return choose


def _on_sale(asked: _Asked, rows: Sequence[TableRow]) -> list[TableRow]:
    return [row for row in rows if asked.can_be_on_sale(row)
            and (goods := asked.goods(row)) is not None
            and any(one.sale is not None for one in goods.offers)]


def _top_rated(asked: _Asked, rows: Sequence[TableRow]) -> list[TableRow]:
    rated = [(Decimal(goods.rating), goods.ratings, row) for row in rows
             if (goods := asked.goods(row)) is not None and goods.rating]
    rated.sort(key=lambda one: one[:2], reverse=True)
    return [row for *_, row in rated]


def _related(asked: _Asked, rows: Sequence[TableRow]) -> list[TableRow]:
    """Return the rows that are often bought with the page's, then those that share tags, choices
    and links with it; most of them first."""
    table, own = asked.table, asked.own
    if own is None:
        return []
    first = [row for name in _together(table, own)
             if (row := table.row_called(name)) is not None and row is not own]
    named = {row.id for row in first}
    having = remembered(table, "traits", _by_trait)
    shared: Counter[int] = Counter()
    for trait in _traits(table, own):
        shared.update(having[trait])
    among = None if rows is table.rows else {row.id for row in rows}
    counts = ((-count, place) for place, count in shared.items())
    # Some more: the row itself shares everything with itself, and some may stand there already.
    most = asked.most + 1 + len(first)
    found = nsmallest(most, counts) if asked.most and among is None else sorted(counts)
    first += [row for _, place in found if (row := table.rows[place]) is not own
              and row.id not in named]
    return [row for row in first if among is None or row.id in among]


def likened_by(old: Table, new: Table, changed: Iterable[tuple[TableRow, TableRow]]) -> set[Id]:
    """Return the rows for which a list of what is like them may be another after an edit.

    Args:
        changed: Rows before and after; all others are the same.
    """
    found = {now.id for _, now in changed}
    for table, place in ((old, 0), (new, 1)):
        having = remembered(table, "traits", _by_trait)
        for pair in changed:
            for trait in _traits(table, pair[place]):
                found.update(table.rows[number].id for number in having[trait])
            label = table.label(pair[place]).casefold()
            found.update(remembered(table, "naming", _by_named).get(label, ()))
    return found


def _together(table: Table, row: TableRow) -> list[str]:
    """Return what is often bought with a row, in small letters, the most often first."""
    column = table.meaning("together")
    return _tags(table.cell(row, column.id)) if column is not None else []


def bought_with(site: Site, table_id: Id, row_id: Id) -> tuple[Id, ...]:
    """Return the rows that are often bought with one, the most often first."""
    table = site.table(table_id)
    row = table.row(row_id) if table is not None else None
    if table is None or row is None:
        return ()
    found = (table.row_called(name) for name in _together(table, row))
    return tuple(one.id for one in found if one is not None and one is not row)


def traits_of(site: Site, table_id: Id, row_id: Id) -> tuple[str, ...]:
    """Return the tags and choices of a row and what it names, in small letters."""
    table = site.table(table_id)
    row = table.row(row_id) if table is not None else None
    return () if table is None or row is None else tuple(sorted({
        value for _, value in _traits(table, row)}))


def _by_named(table: Table) -> Mapping[str, list[Id]]:
    """Return the rows with which others are often bought, by the names of those."""
    found: dict[str, list[Id]] = {}
    for row in table.rows:
        for name in _together(table, row):
            found.setdefault(name, []).append(row.id)
    return found


def _traits(table: Table, row: TableRow) -> set[tuple[Id, str]]:
    return {(column.id, value) for column in table.columns
            if column.kind in _TRAITS and column.means != "together"
            for value in _values(column, table.cell(row, column.id)) if value}


def _by_trait(table: Table) -> Mapping[tuple[Id, str], list[int]]:
    found: dict[tuple[Id, str], list[int]] = {}
    for place, row in enumerate(table.rows):
        for trait in _traits(table, row):
            found.setdefault(trait, []).append(place)
    return found


def _near(asked: _Asked, rows: Sequence[TableRow]) -> list[TableRow]:
    """Return the rows by their way from the page's, the nearest first.

    The chord through the earth grows with the great-circle distance, so it gives the same order.
    """
    table, own = asked.table, asked.own
    places = remembered(table, "places", _places)
    if own is None or own.id not in places:
        return []
    found = [row for row in rows if row.id in places and row is not own]
    there = np.array([places[row.id] for row in found]).reshape(-1, 3)
    chords = np.linalg.norm(there - places[own.id], axis=1)
    return [found[place] for place in np.argsort(chords, kind="stable")]


def _places(table: Table) -> dict[Id, NDArray[np.float64]]:
    """Return where rows are on a ball of radius 1; only those that say so."""
    north, east = table.meaning("north"), table.meaning("east")
    found = {}
    if north is not None and east is not None:
        for row in table.rows:
            one, other = (number_of(table.cell(row, column.id)) for column in (north, east))
            if one is not None and other is not None and abs(one) <= 90 and abs(other) <= 180:
                lat, lon = math.radians(one), math.radians(other)
                found[row.id] = np.array([math.cos(lat) * math.cos(lon),
                                          math.cos(lat) * math.sin(lon), math.sin(lat)])
    return found


def _featured(asked: _Asked, rows: Sequence[TableRow]) -> list[TableRow]:
    column = asked.table.meaning("featured")
    return [row for row in rows if column is not None and asked.table.cell(row, column.id)]


_CHOICES: Mapping[str, Callable[[_Asked, Sequence[TableRow]], Sequence[TableRow]]] = {
    "newest": _by_meaning("added"), "sale": _on_sale, "best": _by_meaning("sold"),
    "featured": _featured, "rated": _top_rated, "related": _related, "near": _near}
