"""Which rows a page, a part or a list is for."""

import math
from collections.abc import Callable, Mapping, Sequence
from decimal import Decimal

import numpy as np

from needle.core.kinds.rowlist import OF_ITS_OWN, RowList
from needle.core.site.site import Page, Site
from needle.core.tables.cells import number_of, sort_key
from needle.core.tables.goods import Linking, goods_of, linking_to, rows_linking
from needle.core.values.ids import Id
from needle.core.values.remembering import remembered
from needle.core.values.rows import Goods
from needle.core.values.tables import Condition, Table, TableColumn, TableRow

__all__ = ["clashes_of", "is_master", "meets", "rows_for", "wanted_rows"]

_EARTH_KM = 6371.0


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
    if table is None or node.choose == "seen":  # What somebody has seen, only their browser knows.
        return ()
    own = table.row(page.row.row) if page.row.table == table.id else None
    if node.choose in OF_ITS_OWN or (node.same and page.row.row):
        rows = _chosen(_Asked(site, table, own), page, node)
    else:
        # On each of some thousand pages such a list is the same, but for the page's own row.
        known: dict[int, tuple[RowList, Sequence[TableRow]]] = remembered(
            site, "wanted", lambda _: {})
        if (held := known.get(id(node))) is None or held[0] is not node:
            held = known[id(node)] = (node, _chosen(_Asked(site, table, None), page, node))
        rows = held[1]
        if node.choose and own is not None:
            rows = [row for row in rows[: node.most + 1 if node.most else None] if row is not own]
    return rows[: node.most] if node.most else rows


def _chosen(asked: "_Asked", page: Page, node: RowList) -> Sequence[TableRow]:
    table = asked.table
    rows: Sequence[TableRow] = table.rows
    if node.same and page.row.row:
        rows = _same(table, node.same, page, asked.own)
    if (where := table.column(node.where)) is not None and node.value.strip():
        wanted = node.value.strip().casefold()
        rows = [row for row in rows if wanted in _values(where, table.cell(row, where.id))]
    if node.choose:
        rows = _CHOICES[node.choose](asked, rows)
    if (column := table.column(node.order)) is not None:
        rows = _ordered(table, column, rows, node.falling)
    return rows


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
    """What a choice of rows is made with."""

    def __init__(self, site: Site, table: Table, own: TableRow | None) -> None:
        self.table, self.own = table, own
        self._language, self._linking = site.language, linking_to(site, table)

    def goods(self, row: TableRow) -> Goods | None:
        """Return what a row offers."""
        return goods_of(self.table, row, self._linking, [
            rows_linking(one, self.table.label(row)) for one in self._linking], self._language)


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
    return [row for row in rows if (goods := asked.goods(row)) is not None
            and any(one.sale is not None for one in goods.offers)]


def _top_rated(asked: _Asked, rows: Sequence[TableRow]) -> list[TableRow]:
    rated = [(Decimal(goods.rating), goods.ratings, row) for row in rows
             if (goods := asked.goods(row)) is not None and goods.rating]
    rated.sort(key=lambda one: one[:2], reverse=True)
    return [row for *_, row in rated]


def _related(asked: _Asked, rows: Sequence[TableRow]) -> list[TableRow]:
    """Return the rows that share tags, choices and links with the page's; most of them first."""
    table, own = asked.table, asked.own
    if own is None:
        return []
    having = remembered(table, "traits", _by_trait)
    shared: dict[Id, int] = {}
    for trait in _traits(table, own):
        for row_id in having[trait]:
            shared[row_id] = shared.get(row_id, 0) + 1
    found = [row for row in rows if row.id in shared and row is not own]
    return sorted(found, key=lambda row: -shared[row.id])


def _traits(table: Table, row: TableRow) -> set[tuple[Id, str]]:
    return {(column.id, value) for column in table.columns
            if column.kind in ("tags", "choice", "link")
            for value in _values(column, table.cell(row, column.id)) if value}


def _by_trait(table: Table) -> Mapping[tuple[Id, str], tuple[Id, ...]]:
    found: dict[tuple[Id, str], list[Id]] = {}
    for row in table.rows:
        for trait in _traits(table, row):
            found.setdefault(trait, []).append(row.id)
    return {trait: tuple(rows) for trait, rows in found.items()}


def _near(asked: _Asked, rows: Sequence[TableRow]) -> list[TableRow]:
    """Return the rows by their way from the page's, the nearest first; the great-circle distance
    by the haversine formula (Sinnott 1984)."""
    table, own = asked.table, asked.own
    places = remembered(table, "places", _places)
    if own is None or own.id not in places:
        return []
    here = places[own.id]
    found = [row for row in rows if row.id in places and row is not own]
    if not found:
        return []
    there = np.array([places[row.id] for row in found])
    half = np.sin((there - here) / 2) ** 2
    bow = half[:, 0] + np.cos(there[:, 0]) * math.cos(here[0]) * half[:, 1]
    km = 2 * _EARTH_KM * np.arcsin(np.sqrt(np.clip(bow, 0, 1)))
    return [found[place] for place in np.argsort(km, kind="stable")]


def _places(table: Table) -> dict[Id, tuple[float, float]]:
    """Return where rows are, in radians north and east; only those that say so."""
    north, east = table.meaning("north"), table.meaning("east")
    found = {}
    if north is not None and east is not None:
        for row in table.rows:
            one, other = (number_of(table.cell(row, column.id)) for column in (north, east))
            if one is not None and other is not None and abs(one) <= 90 and abs(other) <= 180:
                found[row.id] = (math.radians(one), math.radians(other))
    return found


def _featured(asked: _Asked, rows: Sequence[TableRow]) -> list[TableRow]:
    column = asked.table.meaning("featured")
    return [row for row in rows if column is not None and asked.table.cell(row, column.id)]


_CHOICES: Mapping[str, Callable[[_Asked, Sequence[TableRow]], Sequence[TableRow]]] = {
    "newest": _by_meaning("added"), "sale": _on_sale, "best": _by_meaning("sold"),
    "featured": _featured, "rated": _top_rated, "related": _related, "near": _near}
