"""Edits of sections, rows, columns, items and popups."""

from collections.abc import Callable, Iterable
from typing import Any, Literal

import msgspec

from needle.core.edit.copying import fresh_copy
from needle.core.edit.place import (
    EditError,
    Place,
    find,
    node_at,
    parent_of,
    path_to,
    put,
    set_children,
    variant_at,
)
from needle.core.edit.texts import with_lines, with_value
from needle.core.render.holders import kind_of
from needle.core.site.site import Site
from needle.core.site.tree import Column, Popup, Row, Section, children_of
from needle.core.values.ids import Id, new_id
from needle.core.values.node import Item, Node
from needle.core.values.widths import Width
from needle.core.values.words import Text

__all__ = ["Side", "add_top", "change", "delete", "duplicate", "insert", "insert_near", "move",
           "node_rank", "nudge", "rename", "set_field", "set_hidden", "set_hidden_all",
           "set_words", "split_row"]

Side = Literal["before", "after", "left", "right", "inside"]


def change(site: Site, node_id: Id, how: Callable[[Any], Node]) -> Site:
    """Return the site with one node changed; the same site if `how` gives an equal node."""
    place = find(site, node_id)
    old = node_at(site, place)
    new = how(old)
    return site if new == old else put(site, place, new)


def rename(site: Site, node_id: Id, name: str) -> Site:
    """Return the site with a node called `name`."""
    return set_field(site, node_id, "name", " ".join(name.split())[:120])


def set_field(site: Site, node_id: Id, field: str, value: object) -> Site:
    """Return the site with one field of a node changed.

    Args:
        field: Its name, or the path of a part of an entry: "entries.2.medium".

    Raises:
        EditError: The field does not take this value; the message says what it takes.
    """
    kind = kind_of(node_at(site, find(site, node_id)))
    checks = [declared.check for declared in kind.fields if declared.name == field]
    if fault := next((check(value) for check in checks if check), None):
        raise EditError(fault)
    return change(site, node_id, lambda node: with_value(node, field, value))


def set_words(site: Site, node_id: Id, lines: tuple[Text, ...], path: str = "words") -> Site:
    """Return the site with one text of an item changed.

    A text that is typed as one gets the lines joined by line breaks. What somebody has written
    does not count as invented any more.
    """
    own = tuple(tuple(msgspec.structs.replace(run, invented=False) if run.invented else run
                      for run in line) for line in lines)
    return change(site, node_id, lambda node: with_lines(node, path, own))


def set_hidden(site: Site, node_id: Id, width: Width, hidden: bool) -> Site:
    """Return the site with a node hidden or shown at one width; others stay as they are."""

    def how(node: Node) -> Node:
        widths = {*node.hidden, width} if hidden else {*node.hidden} - {width}
        return msgspec.structs.replace(node, hidden=tuple(w for w in Width if w in widths))

    return change(site, node_id, how)


def set_hidden_all(site: Site, ids: Iterable[Id], width: Width, hidden: bool) -> Site:
    """Return the site with several nodes hidden or shown at one width."""
    for node_id in ids:
        site = set_hidden(site, node_id, width, hidden)
    return site


def delete(site: Site, node_id: Id) -> Site:
    """Return the site without a node. A column or row left empty by it goes too."""
    place = find(site, node_id)
    holder = parent_of(site, place)
    field, index = place.last
    inside = getattr(holder, field)
    rest = inside[:index] + inside[index + 1 :]
    if not rest and isinstance(holder, Row):
        return delete(site, holder.id)
    if not rest and isinstance(holder, Column):
        row = node_at(site, place.up.up)
        if len(children_of(row)) > 1:
            return delete(site, holder.id)
    return set_children(site, place.up, field, rest)


def duplicate(site: Site, node_id: Id) -> tuple[Site, Id]:
    """Return the site with a copy right after a node, and the copy's id."""
    place = find(site, node_id)
    copy = fresh_copy(node_at(site, place))
    if isinstance(copy, Section | Popup) and copy.name:
        copy = msgspec.structs.replace(copy, name=f"{copy.name} copy")
    field, index = place.last
    inside = getattr(parent_of(site, place), field)
    return set_children(site, place.up, field,
                        (*inside[: index + 1], copy, *inside[index + 1 :])), copy.id


def insert(site: Site, node: Node, target: Id, side: Side) -> Site:
    """Return the site with `node` beside or inside the node `target`.

    What lies between is made: an item dropped to the left or right of another gets a
    column of its own, an item put after a section gets a section.

    Raises:
        EditError: It cannot stand there; the message says what can.
    """
    place = find(site, target)
    there = node_at(site, place)
    if side == "inside":
        return _insert_inside(site, node, place)
    if side in ("left", "right"):
        return _insert_beside(site, node, place, there, side)
    while node_rank(there) < node_rank(node):
        place = place.up
        there = node_at(site, place)
    field, index = place.last
    if isinstance(there, Popup) and not isinstance(node, Popup):
        raise EditError("popup-choose-inside")
    if isinstance(node, Popup) != isinstance(there, Popup):
        raise EditError("popup-beside-popups")
    at = index if side == "before" else index + 1
    inside = getattr(parent_of(site, place), field)
    return set_children(site, place.up, field,
                        (*inside[:at], _wrapped(node, node_rank(there)), *inside[at:]))


def insert_near(site: Site, node: Node, page_id: Id, key: str, chosen: Id) -> Site:
    """Return the site with a fresh node where a person who has `chosen` a part would look for it.

    That is in what is chosen, if that holds such nodes, else after it; without anything chosen,
    and for popups and for sections while a popup is open, at the end of the variant.
    """
    path = path_to(site, find(site, chosen)) if chosen else ()
    if not path or isinstance(node, Popup) or (
            isinstance(node, Section) and isinstance(path[0], Popup)):
        return add_top(site, page_id, key, node)
    inside = node_rank(path[-1]) > node_rank(node)
    return insert(site, node, chosen, "inside" if inside else "after")


def add_top(site: Site, page_id: Id, key: str, node: Node) -> Site:
    """Return the site with a popup, or a section that holds `node`, at the end of a variant."""
    page = next(n for n, page in enumerate(site.pages) if page.id == page_id)
    variant = next(n for n, v in enumerate(site.pages[page].variants) if v.key == key)
    place = Place(page, variant, ())
    field = "popups" if isinstance(node, Popup) else "children"
    inside = getattr(variant_at(site, place), field)
    return set_children(site, place, field, (*inside, _wrapped(node, 3)))


def _insert_inside(site: Site, node: Node, place: Place) -> Site:
    """Put `node` at the end of the innermost last holder that takes its kind."""
    there = node_at(site, place)
    if node_rank(there) <= node_rank(node):
        raise EditError("part-not-inside")
    while node_rank(there) > node_rank(node) + 1 and children_of(there):
        place = Place(place.page, place.variant,
                      (*place.steps, ("children", len(children_of(there)) - 1)))
        there = node_at(site, place)
    return set_children(site, place, "children",
                        (*children_of(there), _wrapped(node, node_rank(there) - 1)))


def _insert_beside(site: Site, node: Node, place: Place, there: Node, side: Side) -> Site:
    """Put an item into a column of its own, beside the column or row of `there`."""
    if not isinstance(node, Item | Column):
        return insert(site, node, there.id, "before" if side == "left" else "after")
    if isinstance(there, Section | Row | Popup):
        return insert(site, node, there.id, "inside")
    fresh = node if isinstance(node, Column) else Column(id=new_id(), children=(node,))
    pair = (lambda old: (fresh, old)) if side == "left" else (lambda old: (old, fresh))
    if isinstance(there, Column):
        row_place, index = place.up, place.last[1]
        columns = children_of(node_at(site, row_place))
        return set_children(site, row_place, "children",
                            (*columns[:index], *pair(there), *columns[index + 1 :]))
    column = node_at(site, place.up)
    if len(children_of(column)) == 1:
        return _insert_beside(site, node, place.up, column, side)
    return _split_column(site, place, there, pair)


def _split_column(site: Site, place: Place, there: Node,
                  pair: Callable[[Column], tuple[Column, ...]]) -> Site:
    """Give `there` a row with two columns: what stood above and below it keeps its row."""
    column = node_at(site, place.up)
    row = node_at(site, place.up.up)
    if len(children_of(row)) > 1:
        row_place, index = place.up.up, place.up.last[1]
        columns = children_of(row)
        fresh = pair(column)  # type: ignore[arg-type]
        return set_children(site, row_place, "children",
                            (*columns[:index], *fresh, *columns[index + 1 :]))
    items, at = children_of(column), place.last[1]
    above, below = items[:at], items[at + 1 :]
    rows: list[Row] = []
    if above:
        rows.append(_one_column(msgspec.structs.replace(column, children=above), row))
    rows.append(Row(id=new_id(), children=pair(Column(id=new_id(), children=(there,)))))  # type: ignore[arg-type]
    if below:
        rest = Column(id=new_id(), look=column.look, children=below)  # type: ignore[arg-type]
        rows.append(Row(id=new_id(), look=row.look, children=(rest,)))
    holder_place = place.up.up
    field, index = holder_place.last
    inside = getattr(parent_of(site, holder_place), field)
    return set_children(site, holder_place.up, field,
                        (*inside[:index], *rows, *inside[index + 1 :]))


def _one_column(column: Node, row: Node) -> Row:
    return msgspec.structs.replace(row, children=(column,))  # type: ignore[return-value]


def node_rank(node: Node) -> int:
    """Return how far out a node stands: items 0, columns 1, rows 2, sections and popups 3."""
    for rank, types in enumerate((Item, Column, Row, Section | Popup)):
        if isinstance(node, types):
            return rank
    raise TypeError(f"{type(node).__name__} has no place in a page")


def _wrapped(node: Node, rank: int) -> Node:
    """Return `node` inside as many fresh holders as it takes to be of `rank`."""
    while node_rank(node) < rank:
        if isinstance(node, Item):
            node = Column(id=new_id(), children=(node,))
        elif isinstance(node, Column):
            node = Row(id=new_id(), children=(node,))
        else:
            node = Section(id=new_id(), name="New section", children=(node,))  # type: ignore[arg-type]
    return node


def move(site: Site, node_id: Id, target: Id, side: Side) -> Site:
    """Return the site with a node moved beside or inside another.

    Raises:
        EditError: The target is inside the node, or cannot hold it.
    """
    place, goal = find(site, node_id), find(site, target)
    if (place.page, place.variant) == (goal.page, goal.variant) and (
            goal.steps[: len(place.steps)] == place.steps):
        if node_id == target:
            return site
        raise EditError("part-into-itself")
    node = node_at(site, place)
    # Inserted first, under another id, so that clearing away the emptied column
    # cannot take the target with it.
    ghost = msgspec.structs.replace(node, id=f"{node.id}x")
    moved = insert(site, ghost, target, side)
    moved = delete(moved, node_id)
    return put(moved, find(moved, ghost.id), node)


def nudge(site: Site, node_id: Id, steps: Literal[-1, 1]) -> Site:
    """Return the site with a node one place earlier or later among its neighbours.

    At the end of its column an item goes on into the next column or section.
    """
    place = find(site, node_id)
    field, index = place.last
    inside = getattr(parent_of(site, place), field)
    other = index + steps
    if 0 <= other < len(inside):
        order = list(inside)
        order[index], order[other] = order[other], order[index]
        return set_children(site, place.up, field, tuple(order))
    return _nudge_out(site, place, steps)


def _nudge_out(site: Site, place: Place, steps: Literal[-1, 1]) -> Site:
    node = node_at(site, place)
    if not isinstance(node, Item):
        return site
    up = place.up
    while up.steps:
        field, index = up.last
        inside = getattr(parent_of(site, up), field)
        other = index + steps
        if field == "children" and 0 <= other < len(inside):
            target: Node = inside[other]
            while children_of(target):
                target = children_of(target)[0 if steps > 0 else -1]
            if isinstance(target, Item):
                return move(site, node.id, target.id, "before" if steps > 0 else "after")
            return move(site, node.id, target.id, "inside")
        up = up.up
    return site


def split_row(site: Site, row_id: Id, columns: int) -> Site:
    """Return the site with a row of `columns` columns.

    Columns that are taken away leave their items in the last one that stays.
    """
    place = find(site, row_id)
    row = node_at(site, place)
    if not isinstance(row, Row):
        raise EditError("split-needs-row")
    old = children_of(row)
    if columns >= len(old):
        fresh = tuple(Column(id=new_id()) for _ in range(columns - len(old)))
        return set_children(site, place, "children", (*old, *fresh))
    spilled = tuple(item for column in old[columns:] for item in children_of(column))
    last = old[columns - 1]
    kept = msgspec.structs.replace(last, children=(*children_of(last), *spilled))
    return set_children(site, place, "children", (*old[: columns - 1], kept))
