"""Pages of a table's rows: addresses that clash, rows without a name, pages that are too alike."""

from collections import Counter
from collections.abc import Iterator

from needle.core.edit.media import media_by_name
from needle.core.edit.pages import slug_for
from needle.core.kinds.rowlist import NEEDED, RowList
from needle.core.site.site import Page, Site
from needle.core.snags.snag import Rule, Spot
from needle.core.tables.choosing import clashes_of, is_master, rows_for
from needle.core.tables.expanding import expanded
from needle.core.tables.filling import filled_page
from needle.core.tables.likeness import FLOOR, likeness_of, percent, worst_pairs
from needle.core.tables.samples import SAMPLE_ROWS
from needle.core.values.areas import Area
from needle.core.values.counting import counted
from needle.core.values.tables import MEANINGS, Table

__all__ = ["RULES"]

# So many pages are compared; a table of more is looked at in its own screen.
_MOST = 400
_NAMED = 3
_READS = frozenset({Area.TABLES, Area.MEDIA, Area.LANGUAGE, Area.PAGES})


def _table(page: Page, site: Site) -> Table | None:
    return site.table(page.master.table) if is_master(page) else None


def _none(page: Page, site: Site) -> Iterator[Spot]:
    if is_master(page) and not rows_for(site, page):
        yield Spot("No row of its table has a page" if _table(page, site) else
                   "The table that it makes pages of is gone")


def _addresses(page: Page, site: Site) -> Iterator[Spot]:
    table = _table(page, site)
    if table is None:
        return
    rows = rows_for(site, page)
    often = Counter(filled_page(site, page, row).slug for row in rows)
    for slug, count in often.most_common():
        if count < 2:
            break
        yield Spot(f"{counted(count, 'page')} want the address /{slug}; all but one get a number")
    nameless = sum(not slug_for(row.cells[0] if row.cells else "") for row in rows)
    if nameless:
        yield Spot(f"{counted(nameless, 'row')} without a name to be told by")


def _pictures(page: Page, site: Site) -> Iterator[Spot]:
    table = _table(page, site)
    columns = {one.column for one in page.master.apart if one.field == "medium"}
    if table is None or not columns:
        return
    media = media_by_name(site)
    missing = [table.label(row) for row in rows_for(site, page)
               if any(name and name.casefold() not in media
                      for column in columns for name in table.cell(row, column).split("; "))]
    if missing:
        more = f" and {len(missing) - _NAMED} more" if len(missing) > _NAMED else ""
        yield Spot(f"No such picture in the site: {', '.join(missing[:_NAMED])}{more}")


def _alike(page: Page, site: Site) -> Iterator[Spot]:
    table = _table(page, site)
    if table is None or len(rows := rows_for(site, page)) < 2:
        return
    pages = [made for made in expanded(site).pages if made.row.page == page.id][:_MOST]
    pairs = worst_pairs(likeness_of(pages), len(pages) ** 2, FLOOR)
    if not pairs:
        return
    named = [f"{table.label(rows[pair.one])} and {table.label(rows[pair.other])}"
             for pair in pairs[:_NAMED]]
    more = f", and {counted(len(pairs) - _NAMED, 'pair')} more" if len(pairs) > _NAMED else ""
    yield Spot(f"{percent(pairs[0].share)} % alike: {'; '.join(named)}{more}")


def _samples(page: Page, site: Site) -> Iterator[Spot]:
    shown = {node.table for variant in page.variants for node in variant.nodes()
             if isinstance(node, RowList)} | {page.master.table}
    for table in site.tables:
        if table.id in shown and (left := [label for row in table.rows
                                           if (label := table.label(row)) in SAMPLE_ROWS]):
            more = f" and {len(left) - _NAMED} more" if len(left) > _NAMED else ""
            yield Spot(f"“{table.name}” still holds samples: {', '.join(left[:_NAMED])}{more}")


def _lists(page: Page, site: Site) -> Iterator[Spot]:
    for variant in page.variants:
        for node in variant.nodes():
            if not isinstance(node, RowList) or not node.table:
                continue
            table = site.table(node.table)
            if table is None:
                yield Spot("The table of this list is gone", "node", node.id, setting="table")
                continue
            for field, column in (("where", node.where), ("same", node.same),
                                  ("order", node.order), ("by", node.by)):
                if column and table.column(column) is None:
                    yield Spot("A column that this list goes by is gone", "node", node.id,
                               setting=field)
            needed = NEEDED.get(node.choose, ())
            if needed and not any(table.meaning(means) for means in needed):
                yield Spot("No column of the table means what this list asks for: "
                           f"{MEANINGS[needed[0]][0].lower()}", "node", node.id, setting="choose")


def _clashes(page: Page, site: Site) -> Iterator[Spot]:
    for other, count in clashes_of(site, page).items() if is_master(page) else ():
        rival = site.page(other)
        yield Spot(f"{counted(count, 'row')} also {'has' if count == 1 else 'have'} the page "
                   f"“{rival.name if rival else ''}”, whose conditions are as exact")


def _links(page: Page, site: Site) -> Iterator[Spot]:
    table = _table(page, site)
    for column in table.columns if table is not None else ():
        other = site.table(column.of) if column.kind == "link" else None
        if table is None or column.kind != "link":
            continue
        lost = [table.label(row) for row in rows_for(site, page)
                if (cell := table.cell(row, column.id))
                and (other is None or other.row_called(cell) is None)]
        if lost:
            more = f" and {len(lost) - _NAMED} more" if len(lost) > _NAMED else ""
            yield Spot(f"“{column.name}” names a row that is not there: "
                       f"{', '.join(lost[:_NAMED])}{more}")


RULES = (
    Rule(id="rows-none", weight=2, scope="page", look=_none, reads=_READS, source="trade practice",
         reason="A page for each row is no page as long as there is no row."),
    Rule(id="rows-address", weight=2, scope="page", look=_addresses, reads=_READS,
         source="trade practice",
         reason="An address with a number says nothing, and leads elsewhere once rows change."),
    Rule(id="rows-picture", weight=3, scope="page", look=_pictures, reads=_READS,
         source="trade practice",
         reason="Their pages show the picture that stands on the page itself."),
    Rule(id="rows-sample", weight=1, scope="page", look=_samples, reads=_READS,
         source="trade practice",
         reason="Visitors would be offered things that do not exist."),
    Rule(id="rows-list", weight=2, scope="page", look=_lists, reads=_READS,
         source="trade practice",
         reason="It shows nothing, or not what it was made for."),
    Rule(id="rows-clash", weight=2, scope="page", look=_clashes, reads=_READS,
         source="trade practice",
         reason="Such rows have two pages that say the same thing; give one a condition more, or "
                "let it stand besides."),
    Rule(id="rows-link", weight=3, scope="page", look=_links, reads=_READS,
         source="trade practice",
         reason="Its page has no way up to that, and no list there shows it."),
    Rule(id="rows-alike", weight=2, scope="page", look=_alike, reads=_READS,
         source="Broder 1997; search engines show one of pages that say the same",
         reason="A search engine takes such pages for one and shows one of them, or none."),
)
