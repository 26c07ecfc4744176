"""Buying on the real host: without a script, with tricks, and for the last piece."""

import threading
from concurrent.futures import ThreadPoolExecutor

import httpx
import msgspec

from needle.core.edit.forms import change_form
from needle.core.edit.shop import change_shop
from needle.core.site.site import Site
from needle.core.tables.editing import set_cells
from needle.core.values.form import Letter
from needle.core.values.shop import Coupon
from needle.host.clock import now_ms
from needle.publish.release import Live
from needle.publish.releases import Releases
from needle.store.refusing import StoreError
from needle.store.results.book import count_leads
from needle.store.results.erasing import erase_person
from needle.store.results.ordered import Tip
from needle.store.results.orders import list_orders, set_state
from needle.store.results.tables import leads, stock
from needle.store.seals import Seals
from tests.host.stall import BRIEFLY, StallTest
from tests.shops import small_shop
from tests.sites import FORM


def key_of(email: str) -> str:
    """Return the key under which a person's filling is sent."""
    return f"{abs(hash(email)):032d}"[:32]


class ShopTest(StallTest):
    def site(self) -> Site:
        return small_shop()

    def setUp(self) -> None:
        super().setUp()
        self.things = self.made.tables[0]
        self.keys = {row.cells[0]: row.id for row in self.things.rows}
        self.sizes = {row.cells[2]: row.id for row in self.made.tables[1].rows}

    def live(self) -> Live:
        now = Releases(self.folder).current()
        assert now is not None
        return now.live

    def buyer(self) -> httpx.Client:
        client = httpx.Client(base_url=self.visitor.base_url, headers=self.visitor.headers,
                              trust_env=False, timeout=240, follow_redirects=True,
                              limits=BRIEFLY)
        self.addCleanup(client.close)
        return client

    def put(self, who: httpx.Client, thing: str, count: str = "1", option: str = "") -> str:
        sent = {"row": self.keys.get(thing, thing), "count": count}
        return who.post("/_needle/cart", data=sent | ({"option": option} if option else {})).text

    def order(self, who: httpx.Client, email: str = "ro@mail.example") -> httpx.Response:
        return who.post(f"/_needle/lead/{FORM}", data=self.answers(email),
                        headers={"Accept": "application/json"})

    def left(self) -> dict[str, int]:
        with self.engine.connect() as connection:
            return {row.offer: row.left for row in connection.execute(stock.select())}


class BuyingTest(ShopTest):
    def test_from_a_products_page_to_an_order_without_a_script(self) -> None:
        who = self.buyer()
        page = who.get("/night-torch").text
        self.assertIn('action="../_needle/cart"', page)
        self.assertIn(f'value="{self.keys["Torch"]}"', page)
        self.assertIn("Your cart is empty.", who.get("/thanks").text)
        shown = self.put(who, "Torch", "2")
        self.assertEqual(who.cookies["needle_pieces"], "2")
        self.assertIn("£38", shown)
        self.put(who, "Blanket", option=self.sizes["For one"])
        shown = who.post("/_needle/cart", data={"way": "post"}).text
        self.assertIn("<dt><b>To pay</b></dt><dd><b>£96</b></dd>", shown)
        self.assertEqual(self.order(who).status_code, 200)
        (order,) = list_orders(self.engine)
        self.assertEqual((order.number, order.state, order.things, order.carriage, order.total,
                          order.tax, order.email),
                         (1, "new", "96.00", "0.00", "96.00", "16.00", "ro@mail.example"))
        self.assertEqual([(line.thing, line.pieces, line.total) for line in order.lines],
                         [("Torch", 2, "38.00"), ("Blanket, For one", 1, "58.00")])
        self.assertEqual(self.left(), {
            self.keys["Torch"]: 1, f"{self.keys['Blanket']}.{self.sizes['For one']}": 4})
        self.assertIn("Your cart is empty.", who.get("/thanks").text)

    def test_both_sides_get_a_letter_that_says_what_was_ordered(self) -> None:
        self.made = change_form(self.made, FORM, lambda form: msgspec.structs.replace(
            form, letter=Letter("mailbox", "Your order", "Thank you.")))
        self.publish()
        who = self.buyer()
        self.put(who, "Chart", "2")
        who.post("/_needle/cart", data={"way": "fetch"})
        self.order(who)
        (order,) = list_orders(self.engine)
        self.assertIn(("Your order", "2 × Chart: £25\nFetched at the barn: £0\nTo pay: £25\n"
                                     "of which tax, 20 %: £4.17"), order.answers)

    def test_what_is_given_on_top_is_asked_added_and_not_taxed(self) -> None:
        self.made = change_shop(self.made, tip="For the roof & walls")
        self.publish()
        who = self.buyer()
        self.put(who, "Torch")
        shown = who.post("/_needle/cart", data={"way": "fetch", "tip": "2,50"}).text
        self.assertIn("For the roof &amp; walls<input", shown)
        self.assertIn("<dd><b>£21.50</b></dd>", shown)
        for odd in ("-3", "1e9", "NaN", "10000", "two"):
            self.assertIn("<dd><b>£19</b></dd>", who.post(
                "/_needle/cart", data={"tip": odd}).text, odd)
        who.post("/_needle/cart", data={"tip": "2.50"})
        self.order(who)
        (order,) = list_orders(self.engine)
        self.assertEqual((order.total, order.tax, order.tip),
                         ("21.50", "3.17", Tip("For the roof & walls", "2.50")))
        self.assertIn("For the roof & walls: £2.50\nTo pay: £21.50",
                      dict(order.answers)["Your order"])
        link = f"/_needle/order/{key_of('ro@mail.example')}/" + Seals(self.folder).seal(
            "order", now_ms() + 9_000_000, key_of("ro@mail.example"))
        self.assertIn("<td>For the roof &amp; walls</td><td>£2.50</td>", who.get(link).text)
        self.assertNotIn("plus tax", who.get(link).text)

    def test_the_link_in_the_letter_shows_the_order_takes_it_back_and_orders_it_again(self) -> None:
        self.made = change_form(self.made, FORM, lambda form: msgspec.structs.replace(
            form, letter=Letter("mailbox", "Your order", "Thank you.")))
        self.publish()
        who = self.buyer()
        self.put(who, "Torch", "2")
        who.post("/_needle/cart", data={"way": "fetch"})
        self.order(who)
        seal = Seals(self.folder).seal("order", now_ms() + 9_000_000, key_of("ro@mail.example"))
        link = f"/_needle/order/{key_of('ro@mail.example')}/{seal}"
        shown = who.get(link).text
        self.assertIn("Order no. 1 is kept.", shown)
        self.assertIn("2 × Torch", shown)
        self.assertIn("was taken back", who.post(link, data={"do": "cancel"}).text)
        self.assertEqual(self.left()[self.keys["Torch"]], 3)
        self.assertNotIn("Take the order back", who.get(link).text)
        self.assertIn('value="2"', who.post(link, data={"do": "again"}).text)
        for dead in (link[:-1] + "!", f"/_needle/order/{'0' * 32}/{seal}"):
            self.assertEqual(who.get(dead).status_code, 410)

    def test_what_is_cancelled_goes_back_on_the_shelf(self) -> None:
        who = self.buyer()
        self.put(who, "Torch", "3")
        who.post("/_needle/cart", data={"way": "fetch"})
        self.order(who)
        (order,) = list_orders(self.engine)
        set_state(self.engine, order.id, "paid", 5)
        set_state(self.engine, order.id, "cancelled", 6)
        self.assertEqual(self.left()[self.keys["Torch"]], 3)
        (order,) = list_orders(self.engine, "cancelled")
        self.assertEqual([state for state, _ in order.states], ["new", "paid", "cancelled"])
        with self.assertRaises(StoreError):
            set_state(self.engine, order.id, "paid", 7)

    def test_a_number_that_is_written_anew_holds_from_then_on(self) -> None:
        who = self.buyer()
        self.put(who, "Rare")
        who.post("/_needle/cart", data={"way": "fetch"})
        self.order(who)
        self.assertIn("sold out", self.put(who, "Rare"))
        column = next(one.id for one in self.things.columns if one.means == "stock")
        self.made = set_cells(self.made, self.things.id, [(self.keys["Rare"], column, "7")])
        self.publish()
        who.post("/_needle/cart", data={"way": "fetch"})
        self.assertNotIn("sold out", who.get("/thanks").text)
        self.assertEqual(self.order(who, "two@mail.example").status_code, 200)
        self.assertEqual(self.left()[self.keys["Rare"]], 6)


class TrickTest(ShopTest):
    def test_nothing_that_a_browser_sends_makes_a_total_wrong(self) -> None:
        who = self.buyer()
        for thing, count, option in (("Torch", "-3", ""), ("Torch", "0", ""), ("Torch", "1e9", ""),
                                     ("nothing", "1", ""), ("Blanket", "1", ""),
                                     ("Blanket", "1", "other"), ("Torch", "1", "../x"),
                                     ("'; drop table", "1", "")):
            with self.subTest(thing=thing, count=count, option=option):
                self.assertIn("Your cart is empty.", self.put(who, thing, count, option))
        told = self.put(who, "Torch", "10000")
        self.assertIn("Of Torch only 3 are left; your cart has 99.", told)
        self.assertEqual(self.order(who).status_code, 409)
        key = self.keys["Torch"]
        who.post("/_needle/cart", data={f"line.{key}": "-1"})
        self.assertIn('value="99"', who.get("/thanks").text)
        who.post("/_needle/cart", data={f"line.{key}": "2", "way": "gone"})
        self.assertEqual(self.order(who).json()["words"], "Choose how it reaches you.")
        who.post("/_needle/cart", data={"way": "fetch"})
        self.assertEqual(self.order(who).status_code, 200)
        (order,) = list_orders(self.engine)
        self.assertEqual((order.total, order.lines[0].pieces), ("38.00", 2))

    def test_a_price_that_changed_is_told_before_anything_is_ordered(self) -> None:
        who = self.buyer()
        self.put(who, "Chart")
        who.post("/_needle/cart", data={"way": "fetch"})
        column = next(one.id for one in self.things.columns if one.means == "price")
        self.made = set_cells(self.made, self.things.id, [(self.keys["Chart"], column, "15 GBP")])
        self.publish()
        words = "Chart costs something else now than when you put it in."
        self.assertIn(words, who.get("/thanks").text)
        self.assertEqual(self.order(who).json()["words"], words)
        self.assertNotIn(words, who.post("/_needle/cart", data={"way": "fetch"}).text)
        self.assertEqual(self.order(who).status_code, 200)
        self.assertEqual(list_orders(self.engine)[0].total, "15.00")

    def test_an_empty_cart_orders_nothing_and_one_sending_orders_once(self) -> None:
        who = self.buyer()
        self.assertEqual(self.order(who).json()["words"], "Your cart is empty.")
        plain = who.post(f"/_needle/lead/{FORM}", data=self.answers())
        self.assertEqual(plain.status_code, 409)
        self.assertIn('<a href="/thanks">', plain.text)
        self.assertEqual(count_leads(self.engine), 0)
        self.put(who, "Torch")
        who.post("/_needle/cart", data={"way": "fetch"})
        cookie = dict(who.cookies)
        self.assertEqual(self.order(who).status_code, 200)
        who.cookies.update(cookie)
        self.assertEqual(self.order(who).status_code, 200)  # The same filling, sent twice.
        self.assertEqual(len(list_orders(self.engine)), 1)
        self.assertEqual(self.left()[self.keys["Torch"]], 2)

    def test_the_last_piece_sent_twice_is_thanked_for_twice_and_sold_once(self) -> None:
        who = self.buyer()
        self.put(who, "Rare")
        who.post("/_needle/cart", data={"way": "fetch"})
        cookie = dict(who.cookies)
        self.assertEqual(self.order(who).status_code, 200)
        self.assertEqual(self.order(who).status_code, 200)  # The answer got lost; the cart is gone.
        who.cookies.update(cookie)
        self.assertEqual(self.order(who).status_code, 200)  # From another tab, with the old cart.
        self.assertEqual(self.order(who, "other@mail.example").status_code, 409)
        self.assertEqual(len(list_orders(self.engine)), 1)
        self.assertEqual(self.left()[self.keys["Rare"]], 0)

    def test_a_trial_lead_passes_without_a_cart_and_takes_nothing(self) -> None:
        seal = Seals(self.folder).seal("trial", now_ms() + 600_000, FORM)
        told = self.visitor.post(f"/_needle/lead/{FORM}", data=self.answers() | {"_trial": seal},
                                 headers={"Accept": "application/json"})
        self.assertEqual(told.status_code, 200, told.text)
        with self.engine.connect() as connection:
            self.assertEqual([row.trial for row in connection.execute(leads.select())], [True])
        self.assertEqual(list_orders(self.engine), [])

    def test_what_costs_another_currency_is_never_added_to_the_rest(self) -> None:
        column = next(one.id for one in self.things.columns if one.means == "price")
        self.made = set_cells(self.made, self.things.id,
                              [(self.keys["Chart"], column, "12.50 EUR")])
        self.publish()
        who = self.buyer()
        self.assertIn("Your cart is empty.", self.put(who, "Chart"))
        self.assertIn("£19", self.put(who, "Torch"))

    def test_an_order_of_an_erased_person_stays_and_is_nobodys(self) -> None:
        for number in range(2):  # SQLite gives the id of an erased last lead again.
            who = self.buyer()
            self.put(who, "Torch")
            who.post("/_needle/cart", data={"way": "fetch"})
            self.assertEqual(self.order(who, f"n{number}@mail.example").status_code, 200)
            if not number:
                erase_person(self.engine, self.folder, "n0@mail.example")
        self.assertEqual([(order.number, order.email, order.total, order.lead is None)
                          for order in list_orders(self.engine)],
                         [(2, "n1@mail.example", "19.00", False), (1, "", "19.00", True)])

    def test_the_last_piece_is_sold_once(self) -> None:
        buyers = [self.buyer() for _ in range(24)]
        for who in buyers:
            self.put(who, "Rare")
            who.post("/_needle/cart", data={"way": "fetch"})
        ready = threading.Barrier(len(buyers))

        def buy(number: int) -> int:
            ready.wait()
            return self.order(buyers[number], f"n{number}@mail.example").status_code

        with ThreadPoolExecutor(len(buyers)) as pool:
            told = sorted(pool.map(buy, range(len(buyers))))
        self.assertEqual(told, [200] + [409] * 23)
        self.assertEqual(len(list_orders(self.engine)), 1)
        self.assertEqual(count_leads(self.engine), 1)
        self.assertEqual(self.left()[self.keys["Rare"]], 0)

    def test_a_coupon_holds_as_often_as_it_says_however_many_ask_at_once(self) -> None:
        self.made = change_shop(self.made, coupons=(
            Coupon(id="c1", code="THREE", value="50", most=3),
            Coupon(id="c2", code="ONCE", kind="amount", value="2", once=True)))
        self.publish()
        buyers = [self.buyer() for _ in range(16)]
        for who in buyers:
            self.put(who, "Chart")
            shown = who.post("/_needle/cart", data={"way": "fetch", "code": " three "}).text
            self.assertIn("<dd><b>£6.25</b></dd>", shown)
        ready = threading.Barrier(len(buyers))

        def buy(number: int) -> int:
            ready.wait()
            return self.order(buyers[number], f"n{number}@mail.example").status_code

        with ThreadPoolExecutor(len(buyers)) as pool:
            told = sorted(pool.map(buy, range(len(buyers))))
        self.assertEqual(told, [200] * 3 + [409] * 13)
        orders = list_orders(self.engine)
        self.assertEqual({(order.total, order.discount) for order in orders}, {("6.25", "6.25")})
        set_state(self.engine, orders[0].id, "cancelled", 9)  # Its use is free again.
        late = self.buyer()
        self.put(late, "Chart")
        late.post("/_needle/cart", data={"way": "fetch", "code": "THREE"})
        self.assertEqual(self.order(late, "late@mail.example").status_code, 200)

    def test_a_coupon_for_each_person_holds_once_for_one_address(self) -> None:
        self.made = change_shop(self.made, coupons=(
            Coupon(id="c2", code="ONCE", kind="amount", value="2", once=True),))
        self.publish()
        told = []
        for key, email in enumerate(("Ann@mail.example", "ann@mail.example", "ben@mail.example")):
            who = self.buyer()
            self.put(who, "Chart")
            who.post("/_needle/cart", data={"way": "fetch", "code": "ONCE"})
            sent = self.answers(email, _key=f"{key + 1:032d}")
            told.append(who.post(f"/_needle/lead/{FORM}", data=sent).status_code)
        self.assertEqual(told, [200, 409, 200])

    def test_numbers_have_no_gap_though_some_orders_fail(self) -> None:
        for number in range(4):
            who = self.buyer()
            self.put(who, "Rare" if number % 2 else "Chart")
            who.post("/_needle/cart", data={"way": "fetch"})
            self.order(who, f"p{number}@mail.example")
        self.assertEqual([order.number for order in list_orders(self.engine)], [3, 2, 1])

    def test_an_order_of_a_robot_takes_nothing_until_it_is_looked_at(self) -> None:
        self.visitor.post("/_needle/cart", data={"row": self.keys["Rare"], "count": "1"})
        self.visitor.post("/_needle/cart", data={"way": "fetch"})
        self.post(self.answers(website_url="x"))
        (order,) = list_orders(self.engine)
        self.assertEqual((order.state, self.left()), ("aside", {}))
        set_state(self.engine, order.id, "new", 9)
        self.assertEqual(self.left()[self.keys["Rare"]], 0)


if __name__ == "__main__":
    import unittest

    unittest.main()
