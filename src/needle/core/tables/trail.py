"""The pages above the page of a row: those of the rows that it links to, and so on up."""

import msgspec

from needle.core.site.site import Page, Site
from needle.core.values.ids import Id
from needle.core.values.remembering import remembered
from needle.core.values.rows import LONGEST_LABEL, Above
from needle.core.values.tables import Table, TableRow

__all__ = ["pages_of_rows", "with_above"]

_HIGHEST = 4


def pages_of_rows(whole: Site) -> dict[Id, Page]:
    """Return the page of each row that has one, by the row; the first of several."""
    return remembered(whole, "pages_of_rows", _pages_of_rows)


def _pages_of_rows(whole: Site) -> dict[Id, Page]:
    found: dict[Id, Page] = {}
    for page in whole.pages:
        if page.row.row:
            found.setdefault(page.row.row, page)
    return found


def with_above(whole: Site, page: Page) -> Page:
    """Return a row's page that knows the pages above it.

    Args:
        whole: The site with the pages of all rows in it.
    """
    above = _above(whole, page)
    if above == page.row.above:
        return page
    held: list[tuple[tuple[Above, ...], Page]] = remembered(page, "placed", lambda _: [])
    for known, made in held:
        if known == above:
            return made
    made = msgspec.structs.replace(page, row=msgspec.structs.replace(page.row, above=above))
    held[:] = [(above, made), *held[:1]]
    return made


def _above(whole: Site, page: Page) -> tuple[Above, ...]:
    table = whole.table(page.row.table)
    row = table.row(page.row.row) if table is not None else None
    found: list[Above] = []
    passed = {page.row.row}
    while table is not None and row is not None and len(found) < _HIGHEST:
        table, row = _linked(whole, table, row)
        # Tables may link to each other in a ring.
        if table is None or row is None or row.id in passed:
            break
        passed.add(row.id)
        if (higher := pages_of_rows(whole).get(row.id)) is not None:
            found.insert(0, Above(higher.id, higher.slug, table.label(row)[:LONGEST_LABEL]))
    return tuple(found)


def _linked(whole: Site, table: Table, row: TableRow) -> tuple[Table | None, TableRow | None]:
    """Return the first row of another table that a row links to."""
    for column in table.columns:
        if column.kind == "link" and (cell := table.cell(row, column.id)):
            other = whole.table(column.of)
            found = other.row_called(cell) if other is not None else None
            if found is not None:
                return other, found
    return None, None
