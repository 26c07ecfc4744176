"""Edits of several parts at once: wrapping them, taking them away, cells of a grid."""

from collections.abc import Iterable, Sequence

import msgspec

from needle.core.edit.copying import fresh_copy
from needle.core.edit.nodes import Side, delete, move
from needle.core.edit.place import EditError, Place, find, node_at, parent_of, set_children
from needle.core.site.site import Site
from needle.core.site.tree import Column, Row, children_of
from needle.core.values.ids import Id, new_id
from needle.core.values.look import Look
from needle.core.values.node import Item, Node
from needle.core.values.widths import Width

__all__ = ["add_cell", "delete_all", "even_cells", "move_all", "outermost", "reorder_at",
           "set_shares", "wrap"]

_MOST_CELLS = 4


def outermost(site: Site, ids: Iterable[Id]) -> list[Id]:
    """Return the chosen ids in page order, without those inside another that is chosen."""
    places = {node_id: find(site, node_id) for node_id in ids}
    steps = {(p.page, p.variant, p.steps) for p in places.values()}

    def inside(place: Place) -> bool:
        return any((place.page, place.variant, place.steps[:n]) in steps
                   for n in range(1, len(place.steps)))

    kept = [(place, node_id) for node_id, place in places.items() if not inside(place)]
    return [node_id for _, node_id in sorted(
        kept, key=lambda pair: (pair[0].page, pair[0].variant, pair[0].steps))]


def delete_all(site: Site, ids: Iterable[Id]) -> Site:
    """Return the site without these nodes."""
    for node_id in outermost(site, ids):
        site = delete(site, node_id)
    return site


def move_all(site: Site, ids: Sequence[Id], target: Id, side: Side) -> Site:
    """Return the site with nodes moved beside or inside another, in their order on the page.

    Raises:
        EditError: The target is inside one of them, or cannot hold them.
    """
    first, *others = outermost(site, [node_id for node_id in ids if node_id != target] or ids)
    site = move(site, first, target, side)
    for node_id in others:
        site = move(site, node_id, first, "right" if side in ("left", "right") else "after")
        first = node_id
    return site


def wrap(site: Site, ids: Sequence[Id], as_row: bool) -> tuple[Site, Id]:
    """Return the site with items put into a row (a column each) or a box (one column).

    What stood above and below them stays there in rows of their own. The id is the new
    row's, or the box's column.

    Raises:
        EditError: They do not stand together in one column that fills its row.
    """
    ids = outermost(site, ids)
    places = [find(site, node_id) for node_id in ids]
    items = [node_at(site, place) for place in places]
    if not items or not all(isinstance(item, Item) for item in items):
        raise EditError("wrap-nothing")
    if len({place.up for place in places}) > 1:
        raise EditError("wrap-two-columns")
    column_place = places[0].up
    column, row = node_at(site, column_place), node_at(site, column_place.up)
    if len(children_of(row)) > 1:
        raise EditError("wrap-column-beside")
    first = places[0].last[1]
    rest = [child for child in children_of(column) if child.id not in ids]
    above = [c for c in children_of(column)[:first] if c.id not in ids]
    below = rest[len(above):]
    wrapped = _wrapped(items, as_row)
    rows = [*_rows_of(row, column, above, True), wrapped,
            *_rows_of(row, column, below, not above)]
    field, index = column_place.up.last
    holder = parent_of(site, column_place.up)
    inside = getattr(holder, field)
    site = set_children(site, column_place.up.up, field,
                        (*inside[:index], *rows, *inside[index + 1 :]))
    return site, wrapped.id if as_row else wrapped.children[0].id


def _wrapped(items: Sequence[Node], as_row: bool) -> Row:
    groups = [(item,) for item in items] if as_row else [tuple(items)]
    look = Look() if as_row else Look(base={
        "fill": "mist", "radius": 8, "pad_top": 24, "pad_right": 24, "pad_bottom": 24,
        "pad_left": 24})
    return Row(id=new_id(), children=tuple(
        Column(id=new_id(), look=look, children=group) for group in groups))  # type: ignore[arg-type]


def _rows_of(row: Node, column: Node, items: Sequence[Node], keeps_ids: bool) -> list[Row]:
    if not items:
        return []
    held = msgspec.structs.replace(column, children=tuple(items),
                                   id=column.id if keeps_ids else new_id())
    return [Row(id=row.id if keeps_ids else new_id(), look=row.look, hidden=row.hidden,
                name=row.name, children=(held,))]  # type: ignore[arg-type]


def reorder_at(site: Site, node_id: Id, width: Width, steps: int) -> Site:
    """Return the site with a node earlier or later among its neighbours at one width only.

    Its neighbours get their places at that width set too; other widths stay as they are.
    """
    place = find(site, node_id)
    node, holder = node_at(site, place), parent_of(site, place)
    if not isinstance(node, Item | Column):
        raise EditError("order-needs-width")

    def place_of(child: Node) -> float:
        return float(child.look.value("order", width) or 0)

    shown = sorted(children_of(holder), key=place_of)
    at = next(n for n, child in enumerate(shown) if child.id == node_id)
    to = max(0, min(len(shown) - 1, at + steps))
    if to == at:
        return site
    shown.insert(to, shown.pop(at))
    places = {child.id: n for n, child in enumerate(shown)}
    return set_children(site, place.up, "children", tuple(
        msgspec.structs.replace(c, look=c.look.with_value("order", places[c.id], width))
        for c in children_of(holder)))


def even_cells(count: int, most: int) -> int:
    """Return how many cells a line holds so that all lines are as even as can be."""
    lines = -(-count // most)
    return -(-count // lines) if lines else 1


def add_cell(site: Site, node_id: Id) -> tuple[Site, Id]:
    """Return the site with one more cell after that of a node; the lines even out.

    The new cell is a copy of that one. A row that was no grid yet becomes one.

    Raises:
        EditError: The node stands in no row.
    """
    place = find(site, node_id)
    while not isinstance(node_at(site, place), Column):
        if len(place.steps) == 1:
            raise EditError("cell-not-chosen")
        place = place.up
    index = place.last[1]
    row = node_at(site, place.up)
    columns = children_of(row)
    copy = fresh_copy(columns[index])
    cells = (*columns[: index + 1], copy, *columns[index + 1 :])
    look = row.look.with_value("cells", even_cells(len(cells), _MOST_CELLS), None)
    look = look.with_value("cells", even_cells(len(cells), 2), Width.TABLET)
    evened = msgspec.structs.replace(row, look=look, children=cells)
    field, at = place.up.last
    inside = getattr(parent_of(site, place.up), field)
    return set_children(site, place.up.up, field, (*inside[:at], evened, *inside[at + 1 :])), \
        copy.id




def set_shares(site: Site, row_id: Id, shares: Sequence[float]) -> Site:
    """Return the site with the columns of a row wide in these proportions, in twelfths."""
    row = node_at(site, find(site, row_id))
    columns = children_of(row)
    if len(columns) != len(shares):
        raise EditError("row-changed")
    whole = sum(shares)
    parts = [max(1, min(12, round(share / whole * 12, 1))) for share in shares]
    fresh = tuple(msgspec.structs.replace(
        column, look=column.look.with_value("share", part, None))
        for column, part in zip(columns, parts, strict=True))
    return site if fresh == columns else set_children(site, find(site, row_id), "children", fresh)
