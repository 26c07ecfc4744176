"""In a browser, visitors search a list of rows and filter it; without scripts they see them all.
Prices are what they are on the day."""

import unittest
from datetime import date, timedelta

import msgspec
from selenium.webdriver.common.by import By

from needle.core.edit.nodes import insert, set_field
from needle.core.kinds.cartlink import CartLink
from needle.core.kinds.goods import GoodsBox
from needle.core.kinds.rowlist import RowList
from needle.core.site.site import Site
from needle.core.tables.mastering import make_master
from needle.core.values.words import Run, text
from tests.publish.inbrowser import InBrowserTest
from tests.sites import PAGE
from tests.tabled import read_table, table_of, tabled_site


class RowsInBrowserTest(InBrowserTest):
    def site(self) -> Site:
        site = tabled_site("Town,Tags\nHarrowick,\"sea, wall\"\nFenwater,sea\nOttermill,hedge\n")
        table = table_of(site)
        town, tags = (one.id for one in table.columns)
        node = RowList(id="rows1", table=table.id, title=(Run("T", column=town),))
        site = insert(site, node, "thead", "after")
        return set_field(set_field(site, "rows1", "search", True), "rows1", "by", tags)

    def setUp(self) -> None:
        super().setUp()
        self.address = f"{self.root}thanks/"

    def shown(self) -> list[str]:
        return [cell.text for cell in self.browser.find_elements(By.CSS_SELECTOR, ".rows li")
                if cell.is_displayed()]

    def test_search_and_filter(self) -> None:
        self.browser.get(self.address)
        self.assertEqual(self.shown(), ["Harrowick", "Fenwater", "Ottermill"])
        buttons = {one.text: one for one in self.browser.find_elements(
            By.CSS_SELECTOR, ".rows-bar button")}
        self.assertEqual(list(buttons), ["All", "sea", "wall", "hedge"])
        buttons["sea"].click()
        self.assertEqual(self.shown(), ["Harrowick", "Fenwater"])
        self.assertEqual(buttons["sea"].get_attribute("aria-pressed"), "true")
        search = self.browser.find_element(By.CSS_SELECTOR, ".rows-bar input")
        search.send_keys("FEN")
        self.assertEqual(self.shown(), ["Fenwater"])
        search.send_keys("xx")
        found = self.browser.find_element(By.CSS_SELECTOR, ".rows-found")
        self.assertEqual((self.shown(), found.text), ([], "Nothing here fits."))
        buttons["All"].click()
        search.clear()
        search.send_keys("o")
        self.assertEqual(self.shown(), ["Harrowick", "Ottermill"])

    def test_without_scripts_all_are_there_and_nothing_that_would_not_work(self) -> None:
        self.browser.execute_cdp_cmd("Emulation.setScriptExecutionDisabled", {"value": True})
        self.browser.get(self.address)
        self.assertEqual(self.shown(), ["Harrowick", "Fenwater", "Ottermill"])
        self.assertFalse(self.browser.find_element(By.CSS_SELECTOR, ".rows-bar").is_displayed())


if __name__ == "__main__":
    unittest.main()


class GoodsInBrowserTest(InBrowserTest):
    """A sale that runs today, one that is over, and one that is to come."""

    def site(self) -> Site:
        today = date.today()
        days = [(today + timedelta(days=first), today + timedelta(days=last))
                for first, last in ((-1, 0), (-9, -1), (1, 9))]
        rows = "".join(f"{name},20 EUR,15 EUR,{first},{last}\n" for name, (first, last) in zip(
            ("Now", "Over", "Later"), days, strict=True))
        more = "".join(f"Thing {n},{n + 1} EUR,,,\n" for n in range(6))
        site = msgspec.structs.replace(tabled_site(), tables=())
        heads = "Thing,Price,Sale price,Sale starts,Sale ends\n"
        site = read_table(site, "Things", heads + rows + more, 3)
        table = table_of(site)
        name = (Run("T", column=table.columns[0].id),)
        site = make_master(site, PAGE, table.id)
        site = insert(site, GoodsBox(id="goods1"), "head1", "after")
        lists = RowList(id="all1", table=table.id, title=name, step=4)
        for one in (msgspec.structs.replace(lists, id="seen1", choose="seen", step=0,
                                            nothing="Nothing yet."),
                    msgspec.structs.replace(lists, id="sale1", choose="sale", step=0,
                                    nothing="No sale today."), lists):
            site = insert(site, one, "thead", "after")
        return insert(site, CartLink(id="way1", words=text("Cart")), "thead", "before")

    def texts(self, css: str) -> list[str]:
        return [" ".join(one.text.split()) for one in self.browser.find_elements(
            By.CSS_SELECTOR, css) if one.is_displayed()]

    def price(self, name: str) -> str:
        self.browser.get(f"{self.root}night-{name}/")
        (shown,) = self.texts(".price")
        return shown

    def test_a_sale_is_shown_on_its_days_alone(self) -> None:
        self.assertRegex(self.price("now"), "^€15 instead of €20 until ")
        self.assertEqual((self.price("over"), self.price("later")), ("€20", "€20"))
        self.browser.get(f"{self.root}thanks/")
        sales = self.browser.find_elements(By.CSS_SELECTOR, "li[data-sale-until]")
        self.assertEqual(len(sales), 3)
        self.assertEqual([one.text.split()[0] for one in sales if one.is_displayed()], ["Now"])
        self.assertNotIn("No sale today.", self.texts("p"))
        self.browser.execute_cdp_cmd("Emulation.setScriptExecutionDisabled", {"value": True})
        self.browser.get(f"{self.root}thanks/")
        self.assertIn("No sale today.", self.texts("p"))

    def test_a_long_list_shows_more_on_being_asked(self) -> None:
        self.browser.get(f"{self.root}thanks/")
        cells = ".rows[data-step] li"
        self.assertEqual(len(self.texts(cells)), 4)
        more = self.browser.find_element(By.CSS_SELECTOR, ".rows-more")
        more.click()
        self.assertEqual(len(self.texts(cells)), 8)
        self.assertTrue(self.browser.switch_to.active_element.text.startswith("Thing 1"))
        more.click()
        self.assertEqual(len(self.texts(cells)), 9)
        self.assertFalse(more.is_displayed())

    def test_the_way_to_the_cart_says_how_many_are_in_it(self) -> None:
        self.browser.get(f"{self.root}thanks/")
        self.assertEqual(self.texts(".cart-link"), ["Cart"])
        self.browser.add_cookie({"name": "needle_pieces", "value": "3"})
        self.browser.get(f"{self.root}thanks/")
        self.assertEqual(self.texts(".cart-link"), ["Cart 3"])
        self.assertEqual(self.texts(".cart-pieces"), ["3"])
        for told, shown in (("%C2%A319", ["£19"]), ("%", [])):
            self.browser.add_cookie({"name": "needle_sum", "value": told})
            self.browser.get(f"{self.root}thanks/")
            self.assertEqual([words for words in self.texts(".cart-sum") if words], shown)

    def test_what_was_seen_in_this_visit_is_looked_back_on(self) -> None:
        self.browser.get(f"{self.root}thanks/")
        self.assertIn("Nothing yet.", self.texts("p"))
        for name in ("now", "thing-3", "now"):
            self.browser.get(f"{self.root}night-{name}/")
        self.browser.get(f"{self.root}thanks/")
        self.assertNotIn("Nothing yet.", self.texts("p"))
        links = self.browser.find_elements(By.CSS_SELECTOR, "[data-seen] a")
        self.assertEqual([one.get_attribute("href") for one in links],
                         [f"{self.root}night-now/", f"{self.root}night-thing-3/"])


if __name__ == "__main__":
    unittest.main()
