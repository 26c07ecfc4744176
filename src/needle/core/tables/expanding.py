"""The site as it is published: a page for each row of its tables, and lists of rows filled."""

import msgspec

from needle.core.site.site import Page, Site
from needle.core.tables.filling import shown_page, with_row_pages
from needle.core.tables.listing import all_with_lists, has_lists, with_lists
from needle.core.tables.trail import with_above
from needle.core.values.ids import Id
from needle.core.values.remembering import remembered
from needle.core.values.tables import TableRow

__all__ = ["expanded", "page_shown"]


def expanded(site: Site) -> Site:
    """Return the site as it is published; the same site if it needs nothing of tables."""
    return remembered(site, "expanded", _expanded)


def _expanded(site: Site) -> Site:
    whole = with_row_pages(site)
    # A row's page has the lists of the page that makes it.
    linked = _linked(site)
    if not any(map(has_lists, site.pages)) and not linked:
        return whole
    pages = all_with_lists(whole, tuple(
        with_above(whole, page) if page.row.table in linked else page for page in whole.pages))
    made = msgspec.structs.replace(whole, pages=pages)
    return remembered(made, "expanded", lambda itself: itself)


def _linked(site: Site) -> set[Id]:
    """Return the tables with rows that link to others, and so may have pages above theirs."""
    return {table.id for table in site.tables
            if any(column.kind == "link" for column in table.columns)}


def _placed(whole: Site, page: Page) -> Page:
    return with_lists(whole, with_above(whole, page))


def page_shown(site: Site, page: Page, row: TableRow | None) -> Page:
    """Return a page as the editor shows it: for a row, and with its lists filled."""
    shown = shown_page(site, page, row)
    return _placed(with_row_pages(site), shown) if has_lists(shown) or shown.row.row else shown
