"""Filling the lists of rows that stand on pages.

A table of some thousand rows may have as many pages with several lists each, and is edited cell by
cell. So what a list shows is worked out of what it showed before: of an edit only the rows that
changed are looked at, and a page whose lists show what they did is the same object.
"""

from collections.abc import Callable, Iterable, Mapping, Sequence
from functools import partial
from typing import NamedTuple

import msgspec

from needle.core.edit.media import media_by_name
from needle.core.kinds.rowlist import OF_ITS_OWN, RowEntry, RowList
from needle.core.site.site import Medium, Page, Site
from needle.core.tables.cells import shown
from needle.core.tables.choosing import (
    chosen_rows,
    cut,
    deciding_cells,
    depends_on_page,
    likened_by,
    own_row,
)
from needle.core.tables.filling import rebuilt, row_addresses
from needle.core.tables.goods import goods_of, linked_to
from needle.core.tables.rowwords import RowWords, filled_text, tables_by_id
from needle.core.tables.touching import readdressed_rows, touched_rows
from needle.core.tables.trail import pages_of_rows
from needle.core.values.ids import Id
from needle.core.values.language import Language
from needle.core.values.node import Node
from needle.core.values.remembering import remembered
from needle.core.values.tables import Table, TableColumn, TableRow

__all__ = ["all_with_lists", "has_lists", "with_lists"]

# So many of the last states of a page are kept: what changed is told from both.
_KEPT = 2
# So many states of a list are known: more edits than are made before all pages are looked at again.
_REMEMBERED = 16
# Where a list does not depend on the page: its rows, and those of them that it shows. No id is
# like these.
_ALL, _TOP = "/all", "/top"
# These choices go by what rows offer, and so by rows of other tables too.
_BY_GOODS = ("sale", "rated")


def has_lists(page: Page) -> bool:
    """Whether a list of rows stands on a page."""
    return bool(_lists(page))


def _lists(page: Page) -> tuple[RowList, ...]:
    return remembered(page, "row_lists", _found_lists)


def _found_lists(page: Page) -> tuple[RowList, ...]:
    found = tuple(node for variant in page.variants for node in variant.nodes()
                  if isinstance(node, RowList))
    if not found:
        return ()
    # Pages of rows share their lists: all of them get the same tuple.
    known: dict[tuple[int, ...], tuple[RowList, ...]] = remembered(
        found[0], "beside", lambda _: {})
    return known.setdefault(tuple(map(id, found)), found)


class _Listed(NamedTuple):
    """A page with its lists filled, and what they showed."""

    states: tuple[object, ...]
    entries: tuple[tuple[RowEntry, ...], ...]
    page: Page


def with_lists(whole: Site, page: Page) -> Page:
    """Return a page with its lists filled.

    Args:
        whole: The site with the pages of all rows in it, which cells lead to.
    """
    lists = _lists(page)
    if not lists:
        return page
    feeds, states = _feeds_of(whole, lists)
    held: list[_Listed] = remembered(page, "listed", lambda _: [])
    for known in held:
        if known.states == states:
            return known.page
    last = held[0] if held else None
    entries = tuple(feed.entries(page, last.states[place], last.entries[place])
                    if last is not None else feed.entries(page)
                    for place, feed in enumerate(feeds))
    made = next((known.page for known in held if known.entries == entries), None)
    if made is None:
        shown = {node.id: one for node, one in zip(lists, entries, strict=True)}
        made = msgspec.structs.replace(page, variants=tuple(
            rebuilt(variant, shown, partial(_filled, shown)) for variant in page.variants))
    held[:] = [_Listed(states, entries, made),
               *(known for known in held if known.page is not made)][:_KEPT]
    return made


# Lists that stand on a page together, and the states in which they are.
_Stand = tuple[tuple[RowList, ...], tuple[object, ...]]


class _Placed(NamedTuple):
    """All pages of a site before and after their lists were filled.

    Attributes:
        stands: Those of all pages, each once.
    """

    stands: tuple[_Stand, ...]
    bare: tuple[Page, ...]
    pages: tuple[Page, ...]


def all_with_lists(whole: Site, bare: tuple[Page, ...]) -> tuple[Page, ...]:
    """Return all pages of a site with their lists filled: of those whose lists show what they did,
    only the ones are looked at that are others.

    Args:
        bare: The pages; those of `whole`, which may know the pages above them.
    """
    first = next((lists for page in bare if (lists := _lists(page))), None)
    if first is None:
        return bare
    last: list[_Placed] = remembered(first[0], "placed", lambda _: [])
    before = last[0] if last and len(last[0].bare) == len(bare) else None
    if before is not None:
        as_before = _as_before(whole, before.stands)
        pages = tuple(shown if page is known and as_before(page) else with_lists(whole, page)
                      for page, known, shown in zip(
                          bare, before.bare, before.pages, strict=True))
        fresh = [page for page, known in zip(bare, before.bare, strict=True)
                 if page is not known]
        stands = _stands(whole, fresh, [(lists, _feeds_of(whole, lists)[1])
                                        for lists, _ in before.stands])
    else:
        pages = tuple(with_lists(whole, page) for page in bare)
        stands = _stands(whole, bare, ())
    last[:] = [_Placed(stands, bare, pages)]
    return pages


def _as_before(whole: Site, stands: Iterable[_Stand]) -> Callable[[Page], bool]:
    """Return what tells whether the lists of a page certainly show what they did.

    Args:
        stands: As they were.
    """
    others: dict[int, set[str] | None] = {}
    for lists, states in stands:
        found = [feed.others_since(state)
                 for feed, state in zip(_feeds_of(whole, lists)[0], states, strict=True)]
        others[id(lists)] = None if None in found else {key for one in found for key in one or ()}
    if not any(found is None or found for found in others.values()):
        return lambda page: True

    def as_before(page: Page) -> bool:
        lists = _lists(page)
        found = others.get(id(lists)) if lists else set[str]()
        # A page that is of no row asks its lists: there are few of those.
        return found is not None and (not found or (
            bool(page.row.row) and page.row.row not in found
            and _stranger(page) not in found))

    return as_before


def _stranger(page: Page) -> str:
    """Return what stands for the page of another table's row where lists keep what they show."""
    return f"= {page.row.label}"


def _stands(whole: Site, pages: Iterable[Page], known: Iterable[_Stand]) -> tuple[_Stand, ...]:
    """Return those that are known, and those of some pages."""
    found = {id(lists): (lists, states) for lists, states in known}
    for page in pages:
        if (lists := _lists(page)) and id(lists) not in found:
            found[id(lists)] = (lists, _feeds_of(whole, lists)[1])
    return tuple(found.values())


def _filled(entries: Mapping[Id, tuple[RowEntry, ...]], node: Node) -> Node:
    assert isinstance(node, RowList)
    found = entries[node.id]
    if not found:
        return msgspec.structs.replace(node, entries=())
    # In the first cell the design of all is typed.
    return msgspec.structs.replace(node, entries=found, title=found[0].title,
                                   words=found[0].words)


def _feeds_of(whole: Site, lists: tuple[RowList, ...],
              ) -> tuple[tuple["_Feed", ...], tuple[object, ...]]:
    """Return what lists show, and in which states."""
    known: dict[int, tuple[tuple[_Feed, ...], tuple[object, ...]]] = remembered(
        whole, "feeds", lambda _: {})
    held = known.get(id(lists))
    if held is None or any(feed.node is not node
                           for feed, node in zip(held[0], lists, strict=False)):
        feeds = tuple(_feed_of(whole, node) for node in lists)
        held = known[id(lists)] = (feeds, tuple(feed.state for feed in feeds))
    return held


def _feed_of(whole: Site, node: RowList) -> "_Feed":
    last: list[_Feed] = remembered(node, "feed", lambda _: [])
    if not last or last[0].whole is not whole:
        last[:] = [_Feed(whole, node, last[0] if last else None)]
    return last[0]


class _Ground(NamedTuple):
    """What all cells of a list draw on."""

    columns: tuple[TableColumn, ...]
    language: Language
    media: tuple[Medium, ...]


class _Feed:
    """What one list shows, on all pages that it stands on, in one state of the site.

    Attributes:
        node: The list.
        whole: The site.
        state: Another object once it may show anything else.
    """

    # States before, the last one first, and the rows whose cells are others since each; none from
    # before rows themselves may have become others.
    _past: tuple[tuple[object, frozenset[Id]], ...] = ()

    def __init__(self, whole: Site, node: RowList, before: "_Feed | None") -> None:
        self.node, self.state = node, object()
        self.whole, self._table = whole, whole.table(node.table)
        self._ground = _Ground(self._table.columns, whole.language, whole.media) \
            if self._table is not None else None
        self._entries: dict[Id, RowEntry] = {}
        self._rows: dict[str, Sequence[Id]] = {}
        self._top: tuple[RowEntry, ...] | None = None
        if before is not None and self._table is not None and before._table is not None and (
                before._ground == self._ground):
            self._follow(before, before._table, self._table)

    def _follow(self, before: "_Feed", old: Table, new: Table) -> None:
        """Take over what is as it was before."""
        if len(old.rows) != len(new.rows):
            return
        changed = [(was, now) for was, now in zip(old.rows, new.rows, strict=True)
                   if was is not now]
        if any(was.id != now.id for was, now in changed):
            return
        touched = touched_rows(before.whole, self.whole, new)
        if touched is None:
            return
        decides = deciding_cells(new, self.node)
        moved = [pair for pair in changed if decides(pair[0]) != decides(pair[1])]
        if touched and self.node.choose in _BY_GOODS:
            moved += [(row, row) for row in map(new.row, touched) if row is not None]
        alone = not self.node.same and self.node.choose not in OF_ITS_OWN
        if moved and alone and _ALL in before._rows and (
                self._chosen_as(before._rows[_ALL], [row for _, row in moved])):
            moved = []  # A price changed, and the same are on sale.
        if not moved:
            self._rows = before._rows
        elif self.node.choose == "related" and not (self.node.where or self.node.same):
            others = likened_by(old, new, moved)
            self._rows = {key: ids for key, ids in before._rows.items() if key not in others}
        self._entries = dict(before._entries)
        if row_addresses(before.whole) != row_addresses(self.whole):
            touched = touched | readdressed_rows(before.whole, self.whole, new)
        altered = set()
        for row_id in touched | {now.id for _, now in changed}:
            known, row = self._entries.pop(row_id, None), new.row(row_id)
            if known is not None and row is not None and self._entry(row) != known:
                altered.add(row_id)
        if not moved and altered:
            self._past = ((before.state, frozenset(altered)), *(
                (state, known | altered) for state, known in before._past))[:_REMEMBERED]
        elif not moved:
            self.state, self._past = before.state, before._past

    def _altered_since(self, state: object) -> frozenset[Id] | None:
        """Return the rows whose cells are others than in an earlier state; `None` where it is not
        known, or the rows themselves may be others."""
        return next((altered for past, altered in self._past if past is state), None)

    def entries(self, page: Page, state: object = None,
                known: tuple[RowEntry, ...] = ()) -> tuple[RowEntry, ...]:
        """Return what the cells show on a page.

        Args:
            state, known: What they showed there in an earlier state.
        """
        table = self._table
        if table is None:
            return ()
        if state is self.state:
            return known
        ids, altered = self._wanted(table, page), self._altered_since(state)
        if altered is not None and altered.isdisjoint(ids):
            return known
        if ids is self._rows.get(_TOP):  # The same tuple for all pages.
            if self._top is None:
                self._top = self._shown(table, ids)
            return self._top
        return self._shown(table, ids)

    def others_since(self, state: object) -> set[str] | None:
        """Return the rows on whose pages the list may show something else than in an earlier state;
        `None` for all pages."""
        if state is self.state:
            return set()
        altered = self._altered_since(state)
        if altered is None:
            return None
        if self.node.choose not in OF_ITS_OWN and not self.node.same:
            every = self._rows.get(_ALL)
            most = self.node.most + 1 if self.node.most else None  # The page's own row is left out.
            return set() if every is not None and altered.isdisjoint(every[:most]) else None
        return {key for key, ids in self._rows.items() if not altered.isdisjoint(ids)}

    def _shown(self, table: Table, ids: Sequence[Id]) -> tuple[RowEntry, ...]:
        return tuple(self._entry(row) for row_id in ids
                     if (row := table.row(row_id)) is not None)

    def _wanted(self, table: Table, page: Page) -> Sequence[Id]:
        own, node = own_row(table, page), self.node
        if depends_on_page(node, page):
            key = own.id if own is not None else _stranger(page)
            if key not in self._rows:
                rows = cut(node, own, chosen_rows(self.whole, page, node))
                self._rows[key] = tuple(row.id for row in rows)
            return self._rows[key]
        if _ALL not in self._rows:
            every = self._rows[_ALL] = self._every(page)
            self._rows[_TOP] = every[: node.most] if node.most else every
        top = self._rows[_TOP]
        if not node.choose or own is None or own.id not in top:
            return top
        return [one for one in self._rows[_ALL][: node.most + 1 if node.most else None]
                if one != own.id]

    def _chosen_as(self, before: Sequence[Id], changed: Sequence[TableRow]) -> bool:
        """Whether the same rows are chosen as before, in the same order, after some changed."""
        page = self.whole.pages[0]
        if self.node.order or self.node.choose not in ("", "sale"):
            return self._every(page) == before
        # In the order of the table: so only whether those that changed are chosen can be otherwise.
        had = set(before)
        has = {row.id for row in chosen_rows(self.whole, page, self.node, changed)}
        return all((row.id in had) == (row.id in has) for row in changed)

    def _every(self, page: Page) -> tuple[Id, ...]:
        return tuple(row.id for row in chosen_rows(self.whole, page, self.node))

    def _entry(self, row: TableRow) -> RowEntry:
        made = self._entries.get(row.id)
        if made is None:
            assert self._table is not None
            made = self._entries[row.id] = _entry(self.whole, self._table, row, self.node)
        return made


def _entry(whole: Site, table: Table, row: TableRow, node: RowList) -> RowEntry:
    own = RowWords(table, row, whole.language, tables_by_id(whole))
    title, words = (filled_text(said, own) for said in (node.title, node.words))
    # Of several pictures a cell shows the first.
    medium = remembered(whole, "media_by_name", media_by_name).get(
        table.cell(row, node.picture).partition("; ")[0].casefold()) if node.picture else None
    page = pages_of_rows(whole).get(row.id) if node.leads else None
    by = table.column(node.by)
    kinds = shown(by, table.cell(row, by.id), "", whole.language) if by else ""
    goods = goods_of(table, row, *linked_to(whole, table, row), whole.language) \
        if node.priced else None
    return RowEntry(title, words, medium.id if medium else "", kinds, page.id if page else "",
                    page.slug if page else "", goods)
