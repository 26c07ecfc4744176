"""A site with a table of towns, for tests."""

from needle.core.edit.nodes import set_words
from needle.core.site.site import Site
from needle.core.tables.csvfile import read_sheet
from needle.core.tables.editing import add_table
from needle.core.tables.matching import guessed_links, guessed_meanings
from needle.core.tables.taking import guessed_kinds, made_table
from needle.core.values.ids import IdSource
from needle.core.values.tables import Table
from needle.core.values.words import text
from tests.sites import small_site

__all__ = ["TOWNS", "read_table", "table_of", "tabled_site", "towns"]

TOWNS = """Town,Region,Own
Harrowick,north,"From the harbour wall the south is open, and the sea is loud."
Fenwater,north,
Ottermill,south,The old school field has a hedge on three sides.
"""


def towns(words: str = TOWNS, seed: int = 77) -> Table:
    """Return the table that a CSV text holds, with the kinds that it seems to have."""
    sheet = read_sheet(words.encode())
    return made_table(sheet, "Towns", guessed_kinds(sheet, "en"), "en", IdSource(seed))[0]


def tabled_site(words: str = TOWNS) -> Site:
    """Return the small site with the table, and with words of Harrowick on its first page."""
    site = set_words(small_site(), "head1", (text("A night above Harrowick"),))
    site = set_words(site, "text1", (
        text("Come to Harrowick."),
        text("From the harbour wall the south is open, and the sea is loud.")))
    return add_table(site, towns(words))


def table_of(site: Site) -> Table:
    """Return the first table of a site."""
    return site.tables[0]


def read_table(site: Site, name: str, words: str, seed: int) -> Site:
    """Return the site with a table that was read as the window reads one."""
    sheet = read_sheet(words.encode())
    kinds = guessed_kinds(sheet, "en")
    of = guessed_links(sheet, kinds, site.tables)
    kinds = tuple("link" if one else kind for kind, one in zip(kinds, of, strict=True))
    table, _ = made_table(sheet, name, kinds, "en", IdSource(seed),
                          guessed_meanings(sheet.names, kinds), of)
    return add_table(site, table)
