"""What is offered with a cart, and once something was ordered."""

import html
import re

import httpx
import msgspec

from needle.core.site.site import Site
from needle.core.tables.cells import amount_words
from needle.core.tables.editing import put_table
from needle.core.values.shop import Coupon, Extra
from needle.core.values.tables import TableColumn, TableRow
from needle.host.clock import now_ms
from needle.host.orderpaths import OrderPaths
from needle.store.results.orders import list_orders
from needle.store.seals import Seals
from tests.host.test_shop import ShopTest, key_of
from tests.shops import small_shop


class OfferTest(ShopTest):
    def site(self) -> Site:
        site = small_shop()
        things = site.tables[0]
        with_chart = {"Torch": "Chart, Rare", "Rare": "Torch"}
        rows = tuple(TableRow(row.id, (*row.cells, with_chart.get(row.cells[0], "")))
                     for row in things.rows)
        site = put_table(site, msgspec.structs.replace(things, rows=rows, columns=(
            *things.columns, TableColumn(id="with", name="With", kind="tags", means="together"))))
        chart = next(row.id for row in things.rows if row.cells[0] == "Chart")
        return msgspec.structs.replace(site, shop=msgspec.structs.replace(
            site.shop, extra=Extra(row=chart, percent="20", words="Paper that lasts.")))

    def link(self, email: str = "ro@mail.example", key: str = "") -> str:
        paths = OrderPaths(self.folder, Seals(self.folder))
        return f"/{paths.shown(key or key_of(email), now_ms())}"

    def test_the_shops_offer_comes_first_then_what_is_often_bought_with_it(self) -> None:
        who = self.buyer()
        shown = self.put(who, "Torch")
        self.assertIn(f"<s>{amount_words('12.50 GBP', 'en')}</s> £10", shown)
        self.assertIn("Paper that lasts.", shown)
        self.assertIn("Into the cart: Rare", shown)
        self.assertLess(shown.index("Into the cart: Chart"), shown.index("Into the cart: Rare"))
        self.assertEqual(who.cookies["needle_sum"], "%C2%A319")
        shown = who.post("/_needle/cart", data={"row": self.keys["Chart"], "by": "o"}).text
        self.assertNotIn("Into the cart: Chart", shown)
        self.assertEqual(who.cookies["needle_sum"], "%C2%A329")
        who.post("/_needle/cart", data={"row": self.keys["Rare"], "by": "w"})
        who.post("/_needle/cart", data={"way": "fetch"})
        self.assertEqual(self.order(who).status_code, 200)
        (order,) = list_orders(self.engine)
        self.assertEqual([(line.thing, line.unit, line.by) for line in order.lines], [
            ("Torch", "19.00", ""), ("Chart", "10.00", "o"), ("Rare", "5.00", "w")])
        self.assertEqual(order.total, "34.00")

    def test_the_better_price_is_for_one_piece_beside_something_else(self) -> None:
        who = self.buyer()
        offer = {"row": self.keys["Chart"], "by": "o"}
        shown = who.post("/_needle/cart", data=offer).text  # Alone it costs what it costs.
        self.assertIn("£12.50", shown)
        self.put(who, "Torch")
        who.post("/_needle/cart", data=offer)
        shown = who.post("/_needle/cart", data={f"line.{self.keys['Chart']}": "2"}).text
        self.assertIn("<dt><b>To pay</b></dt><dd><b>£44</b></dd>", shown)
        # Nothing else is made cheaper by saying that it was offered.
        shown = who.post("/_needle/cart", data={"row": self.keys["Rare"], "by": "o"}).text
        self.assertIn("<b>£49</b>", shown)

    def test_taking_the_rest_out_is_told_before_anything_is_ordered(self) -> None:
        who = self.buyer()
        self.put(who, "Torch")
        who.post("/_needle/cart", data={"row": self.keys["Chart"], "by": "o"})
        cart = who.cookies["needle_cart"].replace('"', "")
        alone = "!".join(part for part in cart.split("!")
                         if not part.startswith(self.keys["Torch"]))
        who.cookies.set("needle_cart", alone, domain="127.0.0.1")
        who.cookies.delete("needle_cart")
        who.cookies.set("needle_cart", alone)
        answer = self.order(who)
        self.assertEqual(answer.status_code, 409)
        self.assertIn("costs something else now", answer.json()["words"])

    def test_one_click_and_one_confirmation_order_it_once(self) -> None:
        who = self.buyer()
        self.put(who, "Torch")
        who.post("/_needle/cart", data={"way": "post"})
        self.order(who)
        link = self.link()
        shown = who.get(link).text
        self.assertIn("<b>Chart</b> <s>£12.50</s> £10", shown)
        sure = who.post(link, data={"do": "more"}).text
        self.assertIn("Order Chart as well?", sure)
        self.assertEqual(len(list_orders(self.engine)), 1, "nothing is ordered by one click")
        for _ in range(2):
            made = who.post(link, data={"do": "more-yes"}).text
            self.assertIn("Order no. 2 is kept.", made)
        second, first = list_orders(self.engine)
        self.assertEqual((second.total, second.carriage, second.email, second.lines[0].by),
                         ("10.00", "0.00", first.email, "o"))
        self.assertIn("It goes along with order No. 1", dict(second.answers)["Your order"])
        # Nothing is offered beside what was offered, nor to whom has it.
        self.assertNotIn("Add it to your order", made)

    def test_what_is_offered_can_be_gone(self) -> None:
        who = self.buyer()
        self.put(who, "Torch")
        who.post("/_needle/cart", data={"way": "post"})
        self.order(who)
        self.made = msgspec.structs.replace(self.made, shop=msgspec.structs.replace(
            self.made.shop, extra=None))
        self.publish()
        self.assertIn("Order no. 1 is kept.", who.post(self.link(), data={"do": "more-yes"}).text)
        self.assertEqual(len(list_orders(self.engine)), 1)

    def test_a_link_brings_a_coupon_that_is_for_some_things_alone(self) -> None:
        self.made = msgspec.structs.replace(self.made, shop=msgspec.structs.replace(
            self.made.shop, extra=None, coupons=(
                Coupon(id="c1", code="CHARTS", value="10", only="chart"),
                Coupon(id="c2", code="SELF", value="5", auto=True))))
        self.publish()
        who = self.buyer()
        who.get("/night-torch?code=charts")
        self.put(who, "Torch")
        shown = who.get("/thanks").text
        self.assertIn("is not for what is in your cart", shown)
        self.assertIn("Coupon SELF", shown)  # What holds by itself does so meanwhile.
        shown = self.put(who, "Chart", "2")
        self.assertIn("Coupon CHARTS", shown)
        self.assertIn("-£2.50", shown)
        who.get("/night-torch?code=<b>")
        self.assertIn("Coupon CHARTS", who.get("/thanks").text)

    def test_a_cart_goes_on_on_another_device_and_is_ordered_once(self) -> None:
        who, other = self.buyer(), self.buyer()
        shown = self.put(who, "Chart", "2")
        along = re.search(r'href="(http[^"]+/_needle/cart\?c=[^"]+)"', shown)
        assert along is not None
        path = httpx.URL(html.unescape(along[1])).raw_path.decode()
        page = other.get(path).text
        self.assertIn("2 × Chart", page)
        self.assertNotIn("needle_cart", other.cookies)  # A link alone puts nothing into a cart.
        given = re.search(r'name="c" value="([^"]+)"', page)
        assert given is not None
        other.post("/_needle/cart", data={"c": html.unescape(given[1])})
        other.post("/_needle/cart", data={"way": "fetch"})
        who.post("/_needle/cart", data={"way": "fetch"})
        self.assertEqual(self.order(other).status_code, 200)
        self.assertEqual(self.order(who, "ann@mail.example").json()["words"],
                         "This cart is ordered already. The letter to you says so.")
        self.assertEqual(other.get("/_needle/cart?c=junk").status_code, 404)
