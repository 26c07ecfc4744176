"""What orders tell of things: how often each was sold, and what is bought with what."""

from collections import Counter
from collections.abc import Iterable, Mapping, Sequence
from itertools import permutations

import msgspec

from needle.core.edit.place import EditError
from needle.core.site.site import Site
from needle.core.tables.editing import add_column, give_meaning, put_table
from needle.core.tables.mastering import table_of
from needle.core.values.ids import Id
from needle.core.values.tables import Table, TableRow

__all__ = ["with_sales"]

_MOST_TOGETHER = 6
# What tags are parted by cannot stand in one.
_PARTING = frozenset(",;|")
_COLUMNS = {"sold": ("Sold", "number"), "together": ("Bought with it", "tags")}


def with_sales(site: Site, orders: Iterable[Mapping[Id, int]]) -> Site:
    """Return the site whose table of things says how many pieces of each were sold, and what is
    often bought with it, in the columns that mean so; they are made where there are none.

    Bought with a thing is what most orders of it had besides; of those in as many, the one that
    is in fewer orders of all.

    Args:
        orders: Of each, the pieces of each row.

    Raises:
        EditError: Nothing is sold, or the table has no room for a column.
    """
    if not site.shop.table:
        raise EditError("shop-none")
    table_id = site.shop.table
    for means, (name, kind) in _COLUMNS.items():
        site = _with_meaning(site, table_id, means, name, kind)
    table = table_of(site, table_id)
    pieces: Counter[Id] = Counter()
    in_orders: Counter[Id] = Counter()
    both: dict[Id, Counter[Id]] = {}
    for order in orders:
        pieces.update(order)
        in_orders.update(order.keys())
        for one, other in permutations(order, 2):
            both.setdefault(one, Counter())[other] += 1
    sold, together = (table.place_of(_meaning(table, means)) for means in _COLUMNS)

    def told(row: TableRow) -> TableRow:
        cells = list(row.cells)
        cells[sold] = str(pieces[row.id])
        cells[together] = ", ".join(_names(table, both.get(row.id, Counter()), in_orders))
        return row if tuple(cells) == row.cells else TableRow(row.id, tuple(cells))

    rows = tuple(map(told, table.rows))
    return put_table(site, msgspec.structs.replace(table, rows=rows))


def _with_meaning(site: Site, table_id: Id, means: str, name: str, kind: str) -> Site:
    table = table_of(site, table_id)
    if table.meaning(means) is not None:
        return site
    taken, number, free = {one.name.casefold() for one in table.columns}, 2, name
    while free.casefold() in taken:
        free, number = f"{name} {number}", number + 1
    site, column = add_column(site, table_id, free, kind)
    return give_meaning(site, table_id, column, means)


def _meaning(table: Table, means: str) -> Id:
    column = table.meaning(means)
    assert column is not None
    return column.id


def _names(table: Table, counts: Counter[Id], in_orders: Mapping[Id, int]) -> Sequence[str]:
    rows = [row for one in counts if (row := table.row(one)) is not None
            and not _PARTING & set(table.label(row))]
    rows.sort(key=lambda row: (-counts[row.id], in_orders[row.id], table.label(row)))
    return [table.label(row) for row in rows[:_MOST_TOGETHER]]
