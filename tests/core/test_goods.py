"""What rows offer: prices, sales, options, ratings; and what lists choose by them."""

import json
import random
import re
import unittest
from decimal import Decimal

import msgspec

from needle.core.edit.history import History
from needle.core.edit.nodes import insert, set_words
from needle.core.edit.pages import set_page
from needle.core.edit.place import EditError
from needle.core.kinds.goods import GoodsBox
from needle.core.kinds.rowlist import RowList
from needle.core.kinds.trail import Trail
from needle.core.render.context import Context
from needle.core.render.document import live_body, runtime_parts
from needle.core.render.structured import structured_data
from needle.core.render.texts import plain_lines, read_lines, texts_of
from needle.core.shop.selling import with_sales
from needle.core.site.site import Page, Site
from needle.core.snags.finding import find_snags
from needle.core.tables.cells import number_of
from needle.core.tables.choosing import clashes_of, rows_for, wanted_rows
from needle.core.tables.csvfile import read_sheet
from needle.core.tables.editing import (
    change_kind,
    delete_column,
    delete_rows,
    delete_table,
    give_meaning,
    put_table,
    set_cells,
)
from needle.core.tables.expanding import expanded
from needle.core.tables.mastering import make_master, set_conditions, set_part, set_said, untold
from needle.core.tables.matching import guessed_meanings, plan_for
from needle.core.tables.rowwords import columns_in_reach, sample_of
from needle.core.tables.taking import taken_again
from needle.core.values.about import About
from needle.core.values.ids import IdSource
from needle.core.values.rows import Goods
from needle.core.values.shop import Shop
from needle.core.values.tables import NO_MASTER, Condition, Table, TableColumn, TableRow
from needle.core.values.words import Run, plain, text
from needle.store.media import PublishedPictures
from tests.sites import PAGE, THANKS
from tests.tabled import read_table, tabled_site

GROUPS = "Group,Own\nLamps,Red light for the night.\nCharts,Paper that lasts.\nEmpty,Nothing yet.\n"
THINGS = """\
Thing,Price,Sale price,Sale starts,Sale ends,Stock,SKU,Group,Tags,\
Added,Sold,Featured,Latitude,Longitude
Red torch,"24,00 €","19,00 €",2027-08-01,2027-08-31,12,T-1,Lamps,"night, red",\
2027-01-05,40,yes,54.1,-1.2
Head lamp,31.50 EUR,,,,0,T-2,Lamps,"night, hands free",2027-03-01,9,no,54.2,-1.2
Star chart,12 EUR,9 EUR,,,3,C-1,Charts,"paper, night",2026-05-01,120,no,54.9,-1.9
Moon map,14 EUR,15 EUR,,,,C-2,Charts,paper,2027-02-02,0,yes,,
Voucher,50 EUR,,,,,V-1,,,,,no,55,-3
"""
SIZES = """Option,Thing,Size,Price,Stock
Small,Star chart,Small,,3
Large,Star chart,Large,18 EUR,0
"""
REVIEWS = """Who,Thing,Stars
Ann,Star chart,5
Ben,Star chart,4
Cy,Red torch,5
Di,Red torch,2
"""


class GoodsCase(unittest.TestCase):
    def setUp(self) -> None:
        site = msgspec.structs.replace(tabled_site(), tables=(), domain="shop.example")
        for seed, (name, words) in enumerate((
                ("Groups", GROUPS), ("Things", THINGS), ("Sizes", SIZES), ("Reviews", REVIEWS))):
            site = read_table(site, name, words, seed)
        self.groups, self.things, self.sizes, self.reviews = site.tables
        self.site = make_master(site, PAGE, self.things.id, self.things.rows[0].id)

    @property
    def through(self) -> str:
        """What a thing's group says of itself."""
        return f"{self.column('Group')}.{self.column('Own', self.groups)}"

    def column(self, name: str, table: Table | None = None) -> str:
        return next(one.id for one in (table or self.things).columns if one.name == name)

    def row(self, label: str, table: Table | None = None) -> str:
        found = (table or self.things).row_called(label)
        assert found is not None
        return found.id

    def page(self, label: str, site: Site | None = None) -> Page:
        return next(page for page in expanded(site or self.site).pages
                    if page.row.label == label)

    def goods(self, label: str, site: Site | None = None) -> Goods:
        goods = self.page(label, site).row.goods
        assert goods is not None
        return goods

    def html(self, page: Page, site: Site | None = None) -> str:
        whole = expanded(site or self.site)
        return str(live_body(Context(whole, page, page.variants[0], "live",
                                     PublishedPictures({}), "../")))

    def told(self, page: Page) -> dict[str, dict[str, object]]:
        context = Context(expanded(self.site), page, page.variants[0], "live",
                          PublishedPictures({}))
        inside = re.sub("<[^>]*>", "", str(structured_data(context)))
        return {thing["@type"]: thing for thing in json.loads(inside)["@graph"]}


class ReadingTest(GoodsCase):
    def test_meanings_and_links_are_read_from_a_file_of_a_usual_shape(self) -> None:
        means = {column.name: column.means for column in self.things.columns if column.means}
        self.assertEqual(means, {
            "Price": "price", "Sale price": "sale", "Sale starts": "from", "Sale ends": "until",
            "Stock": "stock", "SKU": "sku", "Added": "added", "Sold": "sold",
            "Featured": "featured", "Latitude": "north", "Longitude": "east"})
        links = [(column.kind, column.of) for column in self.reviews.columns]
        self.assertEqual(links, [("text", ""), ("link", self.things.id), ("number", "")])

    def test_names_that_only_look_alike_mean_nothing(self) -> None:
        names = ("Platform", "Wholesale note", "Longing", "Price")
        self.assertEqual(guessed_meanings(names, ("number", "money", "number", "text")),
                         ("", "", "", ""))

    def test_prices_are_exact_and_a_sale_that_is_dearer_is_none(self) -> None:
        torch, moon = (self.goods(label).offers[0] for label in ("Red torch", "Moon map"))
        assert torch.price and torch.sale
        self.assertEqual((torch.price.cell, torch.sale.cell), ("24.00 EUR", "19.00 EUR"))
        self.assertEqual((torch.starts, torch.ends, torch.stock), ("2027-08-01", "2027-08-31", 12))
        self.assertIsNone(moon.sale)
        self.assertIsNone(moon.stock)

    def test_options_have_what_is_their_own_and_else_what_the_thing_has(self) -> None:
        small, large = self.goods("Star chart").offers
        assert small.price and small.sale and large.price
        self.assertEqual((small.name, small.price.cell, small.sale.cell, small.stock),
                         ("Small", "12.00 EUR", "9.00 EUR", 3))
        self.assertEqual((large.price.cell, large.sale, large.sold_out), ("18.00 EUR", None, True))
        self.assertEqual(self.goods("Star chart").best, small)

    def test_ratings_are_the_mean_of_reviews(self) -> None:
        chart, voucher = self.goods("Star chart"), self.goods("Voucher")
        self.assertEqual((chart.rating, chart.ratings), ("4.5", 2))
        self.assertEqual((voucher.rating, voucher.ratings), ("", 0))

    def test_groups_are_neither_sold_nor_rated_by_what_is_in_them(self) -> None:
        size = self.column("Featured")
        site = change_kind(self.site, self.things.id, size, "text")
        site = give_meaning(site, self.things.id, size, "option")
        site = give_meaning(site, self.things.id, self.column("Sold"), "rating")
        site = make_master(site, THANKS, self.groups.id)
        self.assertIsNone(self.page("Lamps", site).row.goods)

    def test_a_review_more_makes_one_page_anew(self) -> None:
        before = {page.row.label: page for page in expanded(self.site).pages if page.row.row}
        cell = (self.row("Di", self.reviews), self.column("Stars", self.reviews), "3")
        site = set_cells(self.site, self.reviews.id, [cell])
        after = {page.row.label: page for page in expanded(site).pages if page.row.row}
        self.assertEqual({label for label in after if after[label] is not before[label]},
                         {"Red torch"})
        self.assertEqual(self.goods("Red torch", site).rating, "4")


class ShownTest(GoodsCase):
    def setUp(self) -> None:
        super().setUp()
        self.site = insert(self.site, GoodsBox(id="goods1"), "head1", "after")
        self.site = insert(self.site, Trail(id="trail1"), "head1", "before")

    def test_a_sale_with_days_waits_beside_the_price(self) -> None:
        html = self.html(self.page("Red torch"))
        self.assertIn('data-sale-from="2027-08-01" data-sale-until="2027-08-31"', html)
        self.assertRegex(html, r"<span>€24</span><span hidden><b>€19</b> "
                               r"<small>instead of <s>€24</s> until 31 August 2027")
        self.assertIn("3.5 of 5 from 2 ratings", html)

    def test_only_pages_with_such_days_load_their_script(self) -> None:
        def parts(label: str) -> tuple[str, ...]:
            page = self.page(label)
            return runtime_parts(Context(expanded(self.site), page, page.variants[0], "live",
                                         PublishedPictures({})), counted=False)

        self.assertIn("sale", parts("Red torch"))
        self.assertNotIn("sale", parts("Voucher"))

    def test_options_and_what_is_left_of_them(self) -> None:
        html = self.html(self.page("Star chart"))
        self.assertRegex(html, r"<li><span>Small</span>.*<b>€9</b>.*Only 3 left.*"
                               r"<li><span>Large</span>.*€18.*Sold out")

    def test_searches_are_told_each_offer_with_its_days(self) -> None:
        self.site = set_page(self.site, PAGE, about=About(kind="product"))
        master = self.site.page(PAGE)
        assert master is not None
        self.assertEqual(untold(self.site, master), ())
        torch = self.told(self.page("Red torch"))["Product"]
        here = {"@type": "Offer", "sku": "T-1", "url": torch["url"],
                "availability": "https://schema.org/InStock", "priceCurrency": "EUR"}
        self.assertEqual(torch["offers"], [
            {**here, "price": "24.00"},
            {**here, "price": "19.00", "validFrom": "2027-08-01",
             "priceValidUntil": "2027-08-31"}])
        self.assertEqual(torch["aggregateRating"], {
            "@type": "AggregateRating", "ratingValue": "3.5", "ratingCount": 2, "bestRating": 5})
        chart = self.told(self.page("Star chart"))["Product"]["offers"]
        assert isinstance(chart, list)
        self.assertEqual([one["price"] for one in chart], ["9.00", "18.00"])

    def test_the_way_to_a_page_leads_over_the_row_it_links_to(self) -> None:
        site = make_master(self.site, THANKS, self.groups.id)
        self.site = site
        html = self.html(self.page("Red torch"))
        slug = self.page("Lamps").slug
        self.assertRegex(html, f'<a href="../{slug}/">Lamps</a>.*aria-current="page">Red torch<')
        way = self.told(self.page("Red torch"))["BreadcrumbList"]["itemListElement"]
        assert isinstance(way, list)
        self.assertEqual([step["name"] for step in way][1:], ["Lamps", "Red torch"])

    def test_tables_that_link_in_a_ring_end(self) -> None:
        site = make_master(self.site, THANKS, self.groups.id)
        site = change_kind(site, self.groups.id, self.column("Own", self.groups), "link",
                           self.things.id)
        site = set_cells(site, self.groups.id, [
            (self.row("Lamps", self.groups), self.column("Own", self.groups), "Red torch")])
        self.assertEqual([one.name for one in self.page("Red torch", site).row.above], ["Lamps"])


class ChoiceTest(GoodsCase):
    def chosen(self, choose: str, label: str = "", **fields: object) -> list[str]:
        page = self.page(label) if label else self.site.pages[-1]
        node = msgspec.structs.replace(RowList(id="list1", table=self.things.id), choose=choose,
                                       **fields)
        return [self.things.label(row) for row in wanted_rows(expanded(self.site), page, node)]

    def test_lists_by_what_columns_mean(self) -> None:
        self.assertEqual(self.chosen("newest"),
                         ["Head lamp", "Moon map", "Red torch", "Star chart"])
        self.assertEqual(self.chosen("sale"), ["Red torch", "Star chart"])
        self.assertEqual(self.chosen("best"), ["Star chart", "Red torch", "Head lamp"])
        self.assertEqual(self.chosen("featured"), ["Red torch", "Moon map"])
        self.assertEqual(self.chosen("rated"), ["Star chart", "Red torch"])
        self.assertEqual(self.chosen("seen"), [])

    def test_lists_on_the_page_of_a_row_leave_it_out(self) -> None:
        self.assertEqual(self.chosen("newest", "Head lamp", most=2), ["Moon map", "Red torch"])
        self.assertEqual(self.chosen("related", "Star chart"),
                         ["Moon map", "Red torch", "Head lamp"])
        self.assertEqual(self.chosen("near", "Red torch"), ["Head lamp", "Star chart", "Voucher"])
        self.assertEqual(self.chosen("near", "Moon map"), [])

    def test_the_page_of_another_tables_row_lists_what_links_to_it(self) -> None:
        self.site = make_master(self.site, THANKS, self.groups.id)
        same = self.column("Group")
        self.assertEqual(self.chosen("", "Charts", same=same), ["Star chart", "Moon map"])
        self.assertEqual(self.chosen("best", "Lamps", same=same), ["Red torch", "Head lamp"])
        self.assertEqual(self.chosen("", "Empty", same=same), [])

    def test_what_is_often_bought_with_a_thing_comes_first(self) -> None:
        def ordered(*orders: dict[str, int]) -> None:
            self.site = with_sales(msgspec.structs.replace(self.site, shop=Shop(
                table=self.things.id)), [{self.row(name): count for name, count in order.items()}
                                         for order in orders])
            self.things = next(one for one in self.site.tables if one.name == "Things")

        ordered({"Star chart": 2, "Voucher": 1}, {"Star chart": 1, "Voucher": 1, "Head lamp": 1},
                {"Red torch": 1, "Head lamp": 3})
        self.assertEqual(self.chosen("best"), ["Head lamp", "Star chart", "Voucher", "Red torch"])
        self.assertEqual(self.chosen("related", "Star chart"),
                         ["Voucher", "Head lamp", "Moon map", "Red torch"])
        self.assertEqual(self.chosen("related", "Star chart", most=2), ["Voucher", "Head lamp"])
        names = [column.name for column in self.things.columns]
        self.assertEqual((names[-1], names.count("Sold")), ("Bought with it", 1))
        # Who is called otherwise is still bought with it, and lists know at once.
        before = expanded(insert(self.site, RowList(
            id="rows9", table=self.things.id, choose="related", most=1), "text1", "after"))
        after = set_cells(before, self.things.id, [(
            self.row("Voucher"), self.column("Thing"), "Gift card")])
        self.site, self.things = after, next(
            one for one in after.tables if one.name == "Things")
        self.assertEqual(self.chosen("related", "Star chart", most=1), ["Gift card"])

    def test_random_choices_equal_a_plain_query(self) -> None:
        dice = random.Random(9)
        tags = ("red", "dark", "paper", "new", "warm")
        words = "Name,Price,Sale price,Stock,Sold,Added,Tags\n" + "".join(
            f"N{n},{dice.randint(5, 30)} EUR,{dice.choice(('', f'{dice.randint(4, 30)} EUR'))},"
            f"{dice.randint(0, 3)},{dice.randint(0, 9)},2027-01-{dice.randint(1, 28):02},"
            f"\"{', '.join(dice.sample(tags, dice.randint(0, 3)))}\"\n" for n in range(10))
        site = msgspec.structs.replace(tabled_site(), tables=())
        self.site = read_table(site, "Many", words, 5)
        self.things = self.site.tables[0]
        self.site = make_master(self.site, PAGE, self.things.id)
        rows = [dict(zip(("name", "price", "sale", "stock", "sold", "added", "tags"), row.cells,
                         strict=True)) for row in self.things.rows]
        for _ in range(40):
            own = dice.choice(rows)
            others = [row for row in rows if row is not own]
            most = dice.choice((0, 1, 5))
            plain = {
                "newest": sorted(others, key=lambda r: r["added"], reverse=True),
                "best": sorted((r for r in others if r["sold"] != "0"),
                               key=lambda r: int(r["sold"]), reverse=True),
                "sale": [r for r in others if r["sale"] and self.money(r["sale"]) < self.money(
                    r["price"])],
                "related": sorted(
                    (r for r in others if self.tags(r) & self.tags(own)),
                    key=lambda r: -len(self.tags(r) & self.tags(own)))}
            choose = dice.choice(list(plain))
            wanted = [row["name"] for row in plain[choose]]
            self.assertEqual(self.chosen(choose, own["name"], most=most),
                             wanted[:most] if most else wanted)

    @staticmethod
    def money(cell: str) -> Decimal:
        number = number_of(cell)
        assert number is not None
        return number

    @staticmethod
    def tags(row: dict[str, str]) -> set[str]:
        return set(filter(None, row["tags"].split(", ")))


class RivalsTest(GoodsCase):
    """Two pages of one table: the more exact one wins."""

    def setUp(self) -> None:
        super().setUp()
        self.site = make_master(self.site, THANKS, self.things.id)

    def labels(self, page_id: str) -> set[str]:
        page = self.site.page(page_id)
        assert page is not None
        return {self.things.label(row) for row in rows_for(self.site, page)}

    def only(self, page: str, *conditions: tuple[str, str, str], besides: bool = False) -> None:
        self.site = set_conditions(self.site, page, [
            Condition(column=self.column(name), test=test, value=value)
            for name, test, value in conditions], besides)

    def test_the_page_with_more_conditions_takes_its_rows(self) -> None:
        self.only(THANKS, ("Group", "is", "Lamps"))
        self.assertEqual(self.labels(THANKS), {"Red torch", "Head lamp"})
        self.assertEqual(self.labels(PAGE), {"Star chart", "Moon map", "Voucher"})
        self.only(THANKS, ("Group", "is", "Lamps"), besides=True)
        self.assertEqual(len(self.labels(PAGE)), 5)

    def test_equally_exact_pages_both_stay_and_are_told(self) -> None:
        self.only(THANKS, ("Group", "is", "Lamps"))
        self.only(PAGE, ("Stock", "less", "1"))
        page = self.site.page(PAGE)
        assert page is not None
        self.assertEqual(clashes_of(self.site, page), {THANKS: 1})
        self.assertEqual((self.labels(PAGE), self.labels(THANKS)),
                         ({"Head lamp"}, {"Red torch", "Head lamp"}))

    def test_a_part_that_only_some_rows_have(self) -> None:
        sold_out = Condition(column=self.column("Stock"), test="less", value="1")
        site = set_part(self.site, PAGE, "text1", [sold_out])
        shown = {page.row.label for page in expanded(site).pages if page.row.page == PAGE
                 and not next(n for n in page.variants[0].nodes() if n.id == "text1").hidden}
        self.assertEqual(shown, {"Head lamp"})

    def test_a_part_for_rows_that_nothing_links_to(self) -> None:
        site = make_master(set_page(self.site, THANKS, master=NO_MASTER), THANKS, self.groups.id)
        nothing = Condition(column=self.column("Group"), test="unlinked")
        site = set_part(site, THANKS, "thead", [nothing])
        shown = {page.row.label for page in expanded(site).pages if page.row.page == THANKS
                 and not next(n for n in page.variants[0].nodes() if n.id == "thead").hidden}
        self.assertEqual(shown, {"Empty"})


class SnagTest(GoodsCase):
    def found(self, site: Site) -> list[tuple[str, str]]:
        return [(snag.rule, snag.words) for snag in find_snags(site)
                if snag.rule.startswith("rows-") and snag.rule != "rows-alike"]

    def test_clashes_lost_links_lists_that_show_nothing_and_samples(self) -> None:
        self.assertEqual(self.found(self.site), [])
        site = make_master(self.site, THANKS, self.things.id)
        lamps = Condition(column=self.column("Group"), test="is", value="Lamps")
        for page in (PAGE, THANKS):
            site = set_conditions(site, page, [lamps])
        self.assertIn(("rows-clash", "2 rows also have the page “Thanks”, whose conditions are as "
                                     "exact"), self.found(site))
        site = set_cells(self.site, self.things.id, [
            (self.row("Voucher"), self.column("Group"), "Nowhere")])
        self.assertIn(("rows-link", "“Group” names a row that is not there: Voucher"),
                      self.found(site))
        listed = RowList(id="rows9", table=self.groups.id, choose="best", order="gone")
        site = insert(self.site, listed, "thead", "after")
        self.assertEqual(self.found(site), [
            ("rows-list", "A column that this list goes by is gone"),
            ("rows-list", "No column of the table means what this list asks for: pieces sold")])
        first = self.things.columns[0].id
        site = set_cells(self.site, self.things.id, [(self.row("Voucher"), first,
                                                      "The first thing")])
        self.assertIn(("rows-sample", "“Things” still holds samples: The first thing"),
                      self.found(site))


class RandomTest(GoodsCase):
    """Hundreds of steps over linked tables: what was remembered equals what is made afresh."""

    def step(self, dice: random.Random, site: Site) -> Site:
        things, sizes, said = (site.table(one.id) for one in (
            self.things, self.sizes, self.reviews))
        assert things is not None and sizes is not None and said is not None
        row = dice.choice(things.rows).id
        match dice.randrange(14):
            case 10:
                return set_cells(site, sizes.id, [(dice.choice(sizes.rows).id, self.column(
                    "Thing", self.sizes), things.label(dice.choice(things.rows)))])
            case 11:
                return set_cells(site, things.id, [(row, self.column("Sale price"), dice.choice(
                    ("", "2 EUR")))])
            case 12:
                table = dice.choice((things, sizes, said))
                return put_table(site, msgspec.structs.replace(table, rows=tuple(dice.sample(
                    table.rows, len(table.rows) - (dice.random() < 0.5 and len(table.rows) > 3)))))
            case 13:
                table = dice.choice((things, sizes, said))
                place, known = dice.randrange(len(table.rows) + 1), dice.choice(table.rows)
                fresh = TableRow(f"new{dice.randrange(10 ** 9)}", known.cells)
                return put_table(site, msgspec.structs.replace(
                    table, rows=(*table.rows[:place], fresh, *table.rows[place:])))
            case 8:
                names = [things.label(one) for one in dice.sample(things.rows, 2)]
                return set_cells(site, things.id, [(row, "with", ", ".join(names))])
            case 9:
                return set_cells(site, self.groups.id, [(
                    dice.choice(self.groups.rows).id, dice.choice(self.groups.columns).id,
                    dice.choice(("Lamps", "Charts", "Empty", "")))])
            case 0:
                return set_cells(site, things.id, [(row, self.column("Price"),
                                                    f"{dice.randrange(1, 99)} EUR")])
            case 1:
                return set_cells(site, things.id, [(row, things.columns[0].id,
                                                    f"Thing {dice.randrange(9)}")])
            case 2:
                return set_cells(site, said.id, [(dice.choice(said.rows).id, self.column(
                    "Stars", self.reviews), str(dice.randrange(1, 6)))])
            case 3:
                return set_cells(site, sizes.id, [(dice.choice(sizes.rows).id, self.column(
                    "Stock", self.sizes), dice.choice(("", "0", "4")))])
            case 4:
                return set_cells(site, things.id, [(row, self.column("Group"), dice.choice(
                    ("Lamps", "Charts", "", "Nowhere")))])
            case 5:
                return give_meaning(site, things.id, self.column("Sale price"),
                                    dice.choice(("sale", "")))
            case 6:
                return set_part(site, PAGE, "text1", [Condition(
                    column=self.column("Stock"), test="less", value=str(dice.randrange(5)))]
                    if dice.random() < 0.7 else [])
        return set_conditions(site, THANKS, [Condition(
            column=self.column("Group"), test=dice.choice(("is", "isnt")), value="Lamps")]
            if dice.random() < 0.7 else [], dice.random() < 0.5)

    def test_random_steps(self) -> None:
        site = insert(self.site, RowList(id="rows9", table=self.things.id, choose="related"),
                      "text1", "after")
        for number, choose in enumerate(("sale", "best", "rated", "newest", "")):
            site = insert(site, RowList(
                id=f"shown{number}", table=self.things.id, choose=choose, most=number % 3 * 2,
                priced=True, leads=True, title=(Run("T", column=self.things.columns[0].id),),
                order=self.column("Price") if choose == "rated" else "",
                where=self.column("Group") if not choose else "",
                value="Lamps"), "text1", "after")
        site = insert(site, GoodsBox(id="goods1"), "head1", "after")
        site = make_master(site, THANKS, self.things.id)
        words = Run("No words yet.", column=self.through)
        site = set_words(site, "text1", ((words,), text("And more.")))
        site = set_said(site, THANKS, "description", (words,))
        things = msgspec.structs.replace(self.things, columns=(
            *self.things.columns, TableColumn(id="with", name="With", kind="tags",
                                              means="together")),
            rows=tuple(TableRow(row.id, (*row.cells, "")) for row in self.things.rows))
        site = put_table(site, things)
        for seed in range(10):
            dice = random.Random(seed)
            history = History(site)
            kept = [history.site]
            for _ in range(60):
                made = self.step(dice, history.site)
                if made is not history.site:
                    history = history.edited(made, "step", "", "")
                    kept.append(made)
                if dice.random() < 0.4:
                    continue  # Several edits are followed together, too.
                afresh = msgspec.json.decode(msgspec.json.encode(history.site), type=Site)
                self.assertEqual(expanded(history.site).pages, expanded(afresh).pages)
            for before in reversed(kept[:-1]):
                history = history.undone()
                self.assertIs(history.site, before)


class ThroughTest(GoodsCase):
    """Words of the row that a row names: a shelf's paragraph on the pages of its things."""

    def setUp(self) -> None:
        super().setUp()
        self.site = set_words(self.site, "text1", (
            (Run("Have a look: "), Run("no words yet", column=self.through)),))

    def said(self, label: str) -> str:
        page = next(page for page in expanded(self.site).pages if page.row.label == label)
        node = next(node for node in page.variants[0].nodes() if node.id == "text1")
        return plain_lines(node)[0]

    def test_they_stand_on_its_pages_and_follow_it(self) -> None:
        self.assertEqual(self.said("Red torch"), "Have a look: Red light for the night.")
        self.assertEqual(self.said("Voucher"), "Have a look: no words yet")
        before = {page.row.label: page for page in expanded(self.site).pages}
        own = self.column("Own", self.groups)
        self.site = set_cells(self.site, self.groups.id, [
            (self.row("Charts", self.groups), own, "Maps of all there is.")])
        after = {page.row.label: page for page in expanded(self.site).pages}
        self.assertEqual(self.said("Moon map"), "Have a look: Maps of all there is.")
        changed = {label for label, page in after.items() if page is not before[label]}
        self.assertEqual(changed, {"Star chart", "Moon map"})

    def test_they_stand_in_the_cells_of_lists(self) -> None:
        node = RowList(id="rows9", table=self.things.id, words=(
            Run("–", column=self.through),))
        self.site = insert(self.site, node, "head1", "after")
        page = next(page for page in expanded(self.site).pages if page.row.label == "Voucher")
        shown = next(node for node in page.variants[0].nodes() if isinstance(node, RowList))
        self.assertEqual([plain(one.words) for one in shown.entries][:3], [
            "Red light for the night.", "Red light for the night.", "Paper that lasts."])

    def test_a_column_that_goes_leaves_words_and_one_in_an_address_stays(self) -> None:
        own = self.column("Own", self.groups)
        bare = delete_column(self.site, self.groups.id, own)
        page = bare.page(PAGE)
        assert page is not None
        node = next(node for node in page.variants[0].nodes() if node.id == "text1")
        self.assertEqual([read_lines(node, path) for path in texts_of(node)],
                         [(text("Have a look: no words yet"),)])
        named = set_said(self.site, PAGE, "slug", (
            Run("x", column=self.things.columns[0].id), Run("y", column=self.through)))
        with self.assertRaisesRegex(EditError, "in the address"):
            delete_column(named, self.groups.id, own)

    def test_what_can_be_reached_is_offered_by_name(self) -> None:
        offered = columns_in_reach(self.site, self.things)
        self.assertEqual(offered[self.through], "Group › Own")
        self.assertEqual(sample_of(self.site, self.things, self.through),
                         "Red light for the night.")


class EditTest(GoodsCase):
    def test_links_follow_a_row_that_is_called_otherwise(self) -> None:
        first = self.things.columns[0].id
        site = set_cells(self.site, self.things.id, [(self.row("Star chart"), first, "Sky chart")])
        self.assertEqual(len(self.goods("Sky chart", site).offers), 2)
        self.assertEqual(self.goods("Sky chart", site).rating, "4.5")

    def test_a_deleted_row_leaves_its_name_where_it_was_linked(self) -> None:
        site = delete_rows(self.site, self.groups.id, [self.row("Lamps", self.groups)])
        self.assertEqual(site.tables[1].cell(site.tables[1].rows[0], self.column("Group")), "Lamps")
        self.assertEqual(self.page("Red torch", site).row.above, ())

    def test_a_table_that_goes_leaves_words(self) -> None:
        site = delete_table(self.site, self.groups.id)
        things = site.table(self.things.id)
        assert things is not None
        column = things.column(self.column("Group"))
        assert column is not None
        self.assertEqual((column.kind, column.of), ("text", ""))

    def test_a_meaning_is_had_by_one_column_that_fits(self) -> None:
        site = give_meaning(self.site, self.things.id, self.column("Sold"), "stock")
        things = site.table(self.things.id)
        assert things is not None
        self.assertEqual([one.name for one in things.columns if one.means == "stock"], ["Sold"])
        with self.assertRaises(EditError):
            give_meaning(self.site, self.things.id, self.column("Tags"), "price")

    def test_a_suppliers_file_is_matched_once(self) -> None:
        sheet = read_sheet(b"no;menge;note\nT-1;7;x\nC-2;0;y\n")
        plan = plan_for(self.things, sheet)
        self.assertEqual(plan.where, ("+", "+", "+"))
        stock, sku = self.column("Stock"), self.column("SKU")
        made, report = taken_again(self.things, sheet, "en", IdSource(3), plan._replace(
            where=(sku, stock, ""), key=sku, keeps=True))
        self.assertEqual([made.cell(row, stock) for row in made.rows], ["7", "0", "3", "0", ""])
        self.assertEqual(report.changed, ("Red torch", "Moon map"))
        self.assertEqual(plan_for(made, sheet).where, (sku, stock, ""))
        self.assertEqual([row.id for row in made.rows], [row.id for row in self.things.rows])

    def test_headings_that_mean_what_a_column_means_go_there(self) -> None:
        sheet = read_sheet(b"Artikelnummer;Bestand;Verkaufspreis;Preis\n" + b"T-1;7;1;2\n")
        self.assertEqual(plan_for(self.things, sheet).where, (
            self.column("SKU"), self.column("Stock"), "+", self.column("Price")))

    def test_rows_that_a_file_lacks_go_unless_they_stay(self) -> None:
        sheet = read_sheet(b"SKU,Thing\nT-1,Red torch\n")
        plan = plan_for(self.things, sheet)._replace(key=self.column("SKU"))
        made, report = taken_again(self.things, sheet, "en", IdSource(3), plan)
        self.assertEqual((len(made.rows), len(report.removed)), (1, 4))
