"""The pages of a master: one for each row that meets its conditions.

Nothing of it is stored. A page that comes out as it did is the same object as before, so whatever
was worked out of it stays; one row that changed makes one page.
"""

import hashlib
from collections.abc import Callable, Collection, Iterator, Mapping, Sequence
from contextlib import suppress
from typing import Any, NamedTuple

import msgspec

from needle.core.edit.media import media_by_name
from needle.core.edit.pages import LONGEST_NAME, LONGEST_SLUG, slug_for
from needle.core.edit.texts import with_lines
from needle.core.kinds.gallery import Gallery
from needle.core.kinds.rowlist import RowList
from needle.core.render.texts import read_lines, texts_of
from needle.core.site.site import Page, Site, Variant
from needle.core.site.tree import children_of
from needle.core.tables.choosing import is_master, meets, rows_for
from needle.core.tables.goods import Linking, goods_of, linking_to, rows_linking, same_heads
from needle.core.tables.rowwords import RowWords, filled_text, tables_by_id
from needle.core.tables.touching import touched_rows
from needle.core.values.about import About
from needle.core.values.ids import Id
from needle.core.values.language import Language
from needle.core.values.media import Medium
from needle.core.values.node import Node
from needle.core.values.remembering import remembered
from needle.core.values.rows import Goods, RowOf
from needle.core.values.strict import StrictError
from needle.core.values.tables import (
    NO_MASTER,
    Bound,
    ColumnPath,
    Departure,
    Table,
    TableColumn,
    TableRow,
)
from needle.core.values.widths import Width
from needle.core.values.words import Run, Text, plain

__all__ = [
    "filled_page",
    "rebuilt",
    "row_addresses",
    "row_page_id",
    "shown_page",
    "unfilled",
    "with_row_pages",
]

_LONGEST_WORDS = 300
_EVERYWHERE = tuple(Width)


def row_page_id(page: Id, row: Id) -> Id:
    """Return the id of a row's page; it stays as long as both are there."""
    return "r" + hashlib.sha256(f"{page}/{row}".encode()).hexdigest()[:12]


def with_row_pages(site: Site) -> Site:
    """Return the site with the pages of its masters in their place."""
    return remembered(site, "row_pages", _with_row_pages)


def _with_row_pages(site: Site) -> Site:
    if not any(is_master(page) for page in site.pages):
        return site
    taken = {page.slug for page in site.pages if not is_master(page)}
    pages: list[Page] = []
    addresses = []
    for page in site.pages:
        made = _row_pages(site, page, taken) if is_master(page) else None
        if made is not None:
            pages += made.pages
            taken |= made.slugs
            addresses.append(made.addresses)
        elif not is_master(page):
            pages.append(page)
    whole = msgspec.structs.replace(site, pages=tuple(pages))
    remembered(whole, "row_addresses", lambda _: tuple(addresses))
    return whole


def row_addresses(whole: Site) -> tuple[Mapping[Id, str], ...]:
    """Return the addresses of the pages of rows, by the page's id, of each master; the same objects
    as long as they are the same."""
    return remembered(whole, "row_addresses", lambda whole: (
        {page.id: page.slug for page in whole.pages if page.row.row},))


class _RowPages(NamedTuple):
    """The pages of a master's rows as they were made last.

    Attributes:
        site: What they were made of.
        before: The addresses that were taken.
        wished: The address that each page would have had if nobody had it.
        addresses: The one that it has, by its id.
        slugs: All of those.
    """

    site: Site
    before: frozenset[str]
    rows: tuple[TableRow, ...]
    wished: tuple[str, ...]
    pages: tuple[Page, ...]
    addresses: Mapping[Id, str]
    slugs: frozenset[str]


def _row_pages(site: Site, page: Page, taken: Collection[str]) -> _RowPages | None:
    table = site.table(page.master.table)
    if table is None:
        return None
    rows, filled, before = rows_for(site, page), _filled_of(site, page, table), frozenset(taken)
    last: list[_RowPages] = remembered(page, "row pages", lambda _: [])
    made = _changed(last[0], site, table, before, rows, filled) if last else None
    if made is None:
        wished, pages, there = [], [], set(before)
        for row in rows:
            fresh = filled(row)
            slug = _free(fresh.slug, there)
            there.add(slug)
            wished.append(fresh.slug)
            pages.append(fresh if slug == fresh.slug else _readdressed(fresh, slug))
        addresses: Mapping[Id, str] = {one.id: one.slug for one in pages}
        if last and last[0].addresses == addresses:
            addresses = last[0].addresses
        made = _RowPages(site, before, rows, tuple(wished), tuple(pages), addresses,
                         frozenset(addresses.values()))
    last[:] = [made]
    return made


def _changed(last: _RowPages, site: Site, table: Table, before: frozenset[str],
             rows: tuple[TableRow, ...], filled: Callable[[TableRow], Page]) -> _RowPages | None:
    """Return the pages of before with those made anew whose rows are others, or show something of
    other tables that is; `None` where that would not do."""
    touched = _touched(last, site, table)
    if touched is None or len(rows) != len(last.rows) or before != last.before:
        return None
    pages, wished, addresses = list(last.pages), list(last.wished), dict(last.addresses)
    for place, (new, old) in enumerate(zip(rows, last.rows, strict=True)):
        if new is old and not (touched and new.id in touched):
            continue
        fresh, slug = filled(new), pages[place].slug
        if new.id != old.id:
            return None
        if fresh.slug != wished[place]:
            # Who comes after may have another address now, unless nobody else wants either.
            if slug != wished[place] or wished.count(slug) > 1 or fresh.slug in before or (
                    fresh.slug in addresses.values() or fresh.slug in wished):
                return None
            slug = wished[place] = addresses[fresh.id] = fresh.slug
        pages[place] = fresh if slug == fresh.slug else _readdressed(fresh, slug)
    same = wished == list(last.wished)
    return _RowPages(site, before, rows, tuple(wished), tuple(pages),
                     last.addresses if same else addresses,
                     last.slugs if same else frozenset(addresses.values()))


def _touched(last: _RowPages, site: Site, table: Table) -> set[Id] | None:
    """Return the rows that show something of other tables which is another; `None` where more than
    rows is."""
    old = last.site.table(table.id)
    if old is None or old.columns is not table.columns or last.site.language != site.language or (
            last.site.media is not site.media):
        return None
    return touched_rows(last.site, site, table)


def _free(slug: str, taken: set[str]) -> str:
    free, number = slug, 2
    while free in taken:
        free, number = f"{slug[: LONGEST_SLUG - 6]}-{number}", number + 1
    return free


def _readdressed(page: Page, slug: str) -> Page:
    return remembered(page, f"at {slug}", lambda page: msgspec.structs.replace(page, slug=slug))


def filled_page(site: Site, page: Page, row: TableRow) -> Page:
    """Return the page of one row, whatever the conditions say."""
    table = site.table(page.master.table)
    return page if table is None else _filled_of(site, page, table)(row)


def _filled_of(site: Site, page: Page, table: Table) -> Callable[[TableRow], Page]:
    """Return what gives the page of a row: the one that was made, as long as nothing changed."""
    known: dict[Id, tuple[_Made, ...]] = remembered(page, "filled", lambda _: {})
    columns, language = table.columns, site.language
    bound = [one.column for one in page.master.apart if one.field == "medium"]
    media = remembered(site, "media_by_name", media_by_name) if bound else {}
    linking = linking_to(site, table)
    heads = _heads(page, linking)
    through, tables = _through(page), tables_by_id(site)

    def filled(row: TableRow) -> Page:
        shown_media = tuple(media.get(name.casefold()) for column in bound
                            for name in table.cell(row, column).split("; ")) if bound else ()
        linked = tuple(rows_linking(one, table.label(row)) for one in linking) if linking else ()
        words = RowWords(table, row, language, tables)
        reached = tuple(map(words.reached, through)) if through else ()
        held = known.get(row.id, ())
        for made in held:
            if made.row is row and made.columns is columns and made.heads is heads and (
                    made.language == language and made.media == shown_media
                    and made.linked == linked and _same_reach(made.reached, reached)):
                return made.page
        fresh = _Made(row, columns, language, shown_media, heads, linked, reached,
                      _Filling(words, media, linking, linked).page(page))
        # The one before stays: what changed is told from both.
        known[row.id] = (fresh, *held[:1])
        return fresh.page

    return filled


def _heads(page: Page, linking: tuple[Linking, ...]) -> tuple[Linking, ...]:
    """Return what stands for the columns that link: the same as before as long as they are the
    same. Which rows do is looked at for each row."""
    held: list[tuple[Linking, ...]] = remembered(page, "linking", lambda _: [])
    if not held or not same_heads(held[0], linking):
        held[:] = [linking]
    return held[0]


_Reached = tuple[Table, TableRow] | None


class _Made(NamedTuple):
    """A page of a row, and what it was made of besides its master."""

    row: TableRow
    columns: tuple[TableColumn, ...]
    language: Language
    media: tuple[Medium | None, ...]
    heads: tuple[Linking, ...]
    linked: tuple[tuple[TableRow, ...], ...]
    reached: tuple[_Reached, ...]
    page: Page


def _through(page: Page) -> tuple[ColumnPath, ...]:
    """Return the columns of rows of other tables that a page shows, one for each way there."""
    return remembered(page, "through", lambda page: tuple(sorted({
        run.column.partition(".")[0] for line in _all_words(page) for run in line
        if "." in run.column})))


def _all_words(page: Page) -> Iterator[Text]:
    master = page.master
    yield from (master.slug, master.title, master.description)
    for departure in master.departures:
        yield from departure.words
    for variant in page.variants:
        for node in variant.nodes():
            for path in _own_texts(node):
                yield from read_lines(node, path)


def _same_reach(one: tuple[_Reached, ...], other: tuple[_Reached, ...]) -> bool:
    """Whether the same rows are named, in tables with the same columns."""
    return len(one) == len(other) and all(
        old is new or (old is not None and new is not None and old[1] is new[1]
                       and old[0].columns is new[0].columns)
        for old, new in zip(one, other, strict=True))


def shown_page(site: Site, page: Page, row: TableRow | None) -> Page:
    """Return a page as the editor shows it: of one for each row, as it is for this one.

    It keeps its id, and so do its parts: what is done to them is done to the page itself.
    """
    if row is None or not is_master(page):
        return page
    return remembered(filled_page(site, page, row), "shown", lambda made: msgspec.structs.replace(
        made, id=page.id, name=page.name, slug=page.slug))


def unfilled(typed: tuple[Text, ...], kept: tuple[Text, ...]) -> tuple[Text, ...]:
    """Return lines that were typed on one row's page with the words back that stand where a row
    has no value.

    Args:
        kept: The lines as the page itself has them.
    """
    words: dict[Id, list[str]] = {}
    for line in kept:
        for run in line:
            if run.column:
                words.setdefault(run.column, []).append(run.words)

    def back(run: Run) -> Run:
        left = words.get(run.column) if run.column else None
        if not left:
            return run
        return msgspec.structs.replace(run, words=left.pop(0) if len(left) > 1 else left[0])

    return tuple(tuple(map(back, line)) for line in typed)


class _Filling:
    """Makes the page of one row."""

    def __init__(self, words: RowWords, media: Mapping[str, Medium], linking: Sequence[Linking],
                 linked: tuple[tuple[TableRow, ...], ...]) -> None:
        self._words = words
        self._table, self._row, self._language = words.table, words.row, words.language
        self._media, self._linking, self._linked = media, linking, linked

    def page(self, page: Page) -> Page:
        master = page.master
        own: dict[Id, list[Departure]] = {}
        for one in master.departures:
            if one.row == self._row.id:
                own.setdefault(one.node, []).append(one)
        apart: dict[Id, list[Bound]] = {}
        for bound in master.apart:
            apart.setdefault(bound.node, []).append(bound)
        unmet = {one.node for one in master.parts
                 if not meets(self._table, self._row, one.condition, self._linking)}
        touched = _chipped(page) | own.keys() | apart.keys() | unmet

        def change(node: Node) -> Node:
            made = self._node(node, apart.get(node.id, ()), own.get(node.id, ()))
            return msgspec.structs.replace(made, hidden=_EVERYWHERE) if node.id in unmet else made

        variants = tuple(rebuilt(variant, touched, change) for variant in page.variants)
        label = self._table.label(self._row)
        goods = goods_of(self._table, self._row, self._linking, self._linked, self._language)
        title, description = self._said(master.title), self._said(master.description)
        return msgspec.structs.replace(
            page, id=row_page_id(page.id, self._row.id), master=NO_MASTER,
            row=RowOf(page.id, self._row.id, page.name, self._table.id, label, goods),
            name=f"{page.name}: {label}"[:LONGEST_NAME],
            slug=slug_for(self._said(master.slug)) or slug_for(label) or self._row.id,
            title=title or page.title, description=description or page.description,
            about=self._about(page, goods), variants=variants)

    def _about(self, page: Page, goods: Goods | None) -> About:
        """Return what searches are told; where a row has nothing, what the page says stays."""
        about = page.about
        best = goods.best if goods is not None else None
        if about.kind == "product" and best is not None and best.price is not None:
            price, _, currency = best.price.cell.partition(" ")
            with suppress(StrictError):
                about = msgspec.structs.replace(
                    about, price=price, currency=currency or about.currency)
        for fact in page.master.facts:
            found = {fact.field: self._table.cell(self._row, fact.column)[:_LONGEST_WORDS]}
            if fact.field == "price":
                found["price"], _, currency = found["price"].partition(" ")
                found |= {"currency": currency} if currency else {}
            if found[fact.field]:
                with suppress(StrictError):  # Words where a day belongs tell nothing.
                    about = msgspec.structs.replace(about, **found)
        return about

    def _said(self, words: Text) -> str:
        return plain(filled_text(words, self._words))[:_LONGEST_WORDS]

    def _node(self, node: Node, apart: Sequence[Bound], own: Sequence[Departure]) -> Node:
        for path in _own_texts(node):
            lines = read_lines(node, path)
            fresh = tuple(filled_text(line, self._words) for line in lines)
            if any(new is not old for new, old in zip(fresh, lines, strict=True)):
                node = with_lines(node, path, fresh)
        for bound in apart:
            node = self._bound(node, bound)
        for one in own:
            if not one.path:
                node = msgspec.structs.replace(node, hidden=_EVERYWHERE)
            elif one.path in texts_of(node):
                node = with_lines(node, one.path, tuple(
                    filled_text(line, self._words) for line in one.words))
        return node

    def _bound(self, node: Node, bound: Bound) -> Node:
        cell = self._table.cell(self._row, bound.column)
        if bound.field == "medium":
            media = [medium.id for name in cell.split("; ")
                     if (medium := self._media.get(name.casefold())) is not None]
            if isinstance(node, Gallery):
                return node.showing(tuple(media)) if media else node
            cell = media[0] if media else ""
        if not cell or not hasattr(node, bound.field):
            return node
        return msgspec.structs.replace(node, **{bound.field: cell})


def _chipped(page: Page) -> set[Id]:
    """Return the parts of a page in whose words a column's value stands."""
    return remembered(page, "chipped", lambda page: {
        node.id for variant in page.variants for node in variant.nodes()
        if any(run.column for path in _own_texts(node) for line in read_lines(node, path)
               for run in line)})


def _own_texts(node: Node) -> Collection[str]:
    """Return the texts of a node that follow the row of its page; those of a list follow the rows
    that it shows."""
    return () if isinstance(node, RowList) else texts_of(node)


def rebuilt(variant: Variant, touched: Collection[Id] | None, change: Callable[[Node], Node],
            ) -> Variant:
    """Return a variant with some nodes changed, or all; every branch without one is shared."""
    def inside(node: Node) -> Node:
        children = children_of(node)
        fresh = tuple(map(inside, children))
        if any(new is not old for new, old in zip(fresh, children, strict=True)):
            held: Any = {"children": fresh}
            node = msgspec.structs.replace(node, **held)
        return change(node) if touched is None or node.id in touched else node

    tops, popups = (tuple(map(inside, nodes)) for nodes in (variant.children, variant.popups))
    return msgspec.structs.replace(variant, children=tops, popups=popups)
