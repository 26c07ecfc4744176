"""Lists that fill themselves: filter, order and number as a plain query has them."""

import random
import unittest

import msgspec

from needle.core.edit.nodes import insert, set_field, set_words
from needle.core.kinds import ITEM_KINDS
from needle.core.kinds.rowlist import RowList
from needle.core.render.context import Context
from needle.core.render.document import live_body
from needle.core.site.fresh import fresh_item
from needle.core.site.site import Page, Site
from needle.core.tables.editing import set_cells
from needle.core.tables.expanding import expanded, page_shown
from needle.core.tables.mastering import make_master, put_chip
from needle.core.values.words import plain, text
from needle.store.media import PublishedPictures
from tests.sites import PAGE, THANKS
from tests.tabled import table_of, tabled_site

SHOP = "Name,Price,Tags,Group\n" + "".join(
    f"Thing {n},{'' if n % 7 == 3 else f'£{(n * 37) % 50}.50'},"
    f"\"{'new' if n % 2 else 'old'}, {'red' if n % 3 else 'blue'}\",g{n % 4}\n" for n in range(60))


class RowListCase(unittest.TestCase):
    words = SHOP

    def setUp(self) -> None:
        self.site = tabled_site(self.words)
        self.table = table_of(self.site)
        self.columns = {one.name: one.id for one in self.table.columns}
        made = RowList(id="rows1", table=self.table.id, title=(), words=())
        self.site = insert(self.site, made, "thead", "after")
        self.site = self.said(self.site)

    def said(self, site: Site) -> Site:
        first, second = self.table.columns[:2]
        site = set_words(site, "rows1", (text("Name"),), "title")
        site = put_chip(site, "rows1", "title", 0, 4, first.id)
        site = set_words(site, "rows1", (text("For what"),), "words")
        return put_chip(site, "rows1", "words", 4, 8, second.id)

    def shown(self, site: Site, page: str = THANKS) -> RowList:
        found = expanded(site).page(page)
        assert found is not None
        return next(node for node in found.variants[0].nodes() if isinstance(node, RowList))

    def titles(self, site: Site, page: str = THANKS) -> list[str]:
        return [plain(entry.title) for entry in self.shown(site, page).entries]


class QueryTest(RowListCase):
    def test_a_cell_for_each_row_in_one_design(self) -> None:
        entry = self.shown(self.site).entries[1]
        self.assertEqual((plain(entry.title), plain(entry.words)), ("Thing 1", "For £37.50"))
        self.assertEqual(len(self.titles(self.site)), 60)

    def test_filter_order_and_number_equal_a_plain_query(self) -> None:
        dice = random.Random(4)
        for _ in range(60):
            order, where = (dice.choice(("", *self.columns)) for _ in range(2))
            falling, most = dice.random() < 0.5, dice.choice((0, 1, 7, 100))
            value = {"Price": "9.50 GBP", "Tags": dice.choice(("new", "BLUE", "ne")),
                     "Group": "g2", "Name": "thing 5"}.get(where, "")
            site = self.site
            for field, what in (("order", self.columns.get(order, "")), ("falling", falling),
                                ("most", most), ("where", self.columns.get(where, "")),
                                ("value", value)):
                site = set_field(site, "rows1", field, what)
            self.assertEqual(self.titles(site), self.plainly(order, falling, most, where, value))

    def plainly(self, order: str, falling: bool, most: int, where: str, value: str) -> list[str]:
        rows = [dict(zip(self.columns, row.cells, strict=True)) for row in self.table.rows]
        if where:
            rows = [row for row in rows if value.lower() in (
                row[where].lower().split(", ") if where == "Tags" else [row[where].lower()])]
        if order:
            def key(row: dict[str, str]) -> object:
                return float(row[order].split()[0]) if order == "Price" else row[order].lower()

            rows = [*sorted((row for row in rows if row[order]), key=key,  # type: ignore[arg-type]
                            reverse=falling), *(row for row in rows if not row[order])]
        return [row["Name"] for row in rows][: most or None]

    def test_what_nobody_wants_shows_what_is_said_then(self) -> None:
        site = set_field(self.site, "rows1", "where", self.columns["Group"])
        site = set_field(site, "rows1", "value", "none of them")
        site = set_field(site, "rows1", "nothing", "Sold out <for now>.")
        page = expanded(site).page(THANKS)
        assert page is not None
        self.assertIn("Sold out &lt;for now&gt;.", self.html(site, page))
        self.assertNotIn("rows-cards", self.html(site, page))

    def html(self, site: Site, page: Page) -> str:
        return str(live_body(Context(expanded(site), page, page.variants[0], "live",
                                     PublishedPictures(""), "../")))

    def test_a_page_whose_list_comes_out_the_same_is_the_same(self) -> None:
        site = set_field(self.site, "rows1", "most", 3)
        before = expanded(site).page(THANKS)
        other = set_cells(site, self.table.id, [
            (self.table.rows[9].id, self.columns["Name"], "Far down")])
        self.assertIs(expanded(other).page(THANKS), before)
        first = set_cells(site, self.table.id, [
            (self.table.rows[0].id, self.columns["Name"], "First")])
        self.assertEqual(self.titles(first)[0], "First")
        self.assertIs(expanded(expanded(first)), expanded(first))


class FreshTest(RowListCase):
    def test_a_fresh_list_shows_the_sites_table_at_once(self) -> None:
        node = fresh_item(self.site, ITEM_KINDS["rows"], "fresh")
        site = insert(self.site, node, "rows1", "before")
        page = expanded(site).page(THANKS)
        assert page is not None
        shown = next(one for one in page.variants[0].nodes() if one.id == "fresh")
        assert isinstance(shown, RowList)
        self.assertEqual([plain(entry.title) for entry in shown.entries][:2],
                         ["Thing 0", "Thing 1"])
        self.assertEqual((len(shown.entries), plain(shown.entries[1].words)), (6, "£37.50"))
        bare = fresh_item(msgspec.structs.replace(self.site, tables=()), ITEM_KINDS["rows"], "x")
        self.assertEqual(bare, ITEM_KINDS["rows"].new("x"))


class LeadingTest(RowListCase):
    words = "Town,Region\nHarrowick,north\nFenwater,north\nOttermill,south\nSallow,north\n"

    def setUp(self) -> None:
        super().setUp()
        self.site = make_master(self.site, PAGE, self.table.id)

    def test_each_cell_leads_to_the_page_of_its_row(self) -> None:
        page = expanded(self.site).page(THANKS)
        assert page is not None
        html = str(live_body(Context(expanded(self.site), page, page.variants[0], "live",
                                     PublishedPictures(""), "../")))
        self.assertIn('<a href="../night-fenwater/">Fenwater</a>', html)
        site = set_field(self.site, "rows1", "leads", False)
        self.assertEqual({entry.slug for entry in self.shown(site).entries}, {""})

    def test_neighbours_are_those_of_the_same_region_without_the_page_itself(self) -> None:
        node = msgspec.structs.replace(self.shown(self.site), id="near", entries=(),
                                       same=self.columns["Region"])
        site = insert(self.site, node, "text1", "after")
        near = {page.name: [plain(entry.title) for entry in next(
            one for one in page.variants[0].nodes() if isinstance(one, RowList)).entries]
            for page in expanded(site).pages if page.row.page}
        self.assertEqual(near, {
            "Night: Harrowick": ["Fenwater", "Sallow"], "Night: Fenwater": ["Harrowick", "Sallow"],
            "Night: Ottermill": [], "Night: Sallow": ["Harrowick", "Fenwater"]})
        page = site.page(PAGE)
        assert page is not None
        shown = page_shown(site, page, self.table.rows[3])
        self.assertEqual([plain(entry.title) for node in shown.variants[0].nodes()
                          if isinstance(node, RowList) for entry in node.entries],
                         ["Harrowick", "Fenwater"])

    def test_a_table_that_is_gone_shows_nothing(self) -> None:
        site = set_field(self.site, "rows1", "table", "gone")
        self.assertEqual(self.shown(site).entries, ())


if __name__ == "__main__":
    unittest.main()
