"""What carts come to, against a model in plain decimals."""

import random
import unittest
from decimal import ROUND_HALF_UP, Decimal

from needle.core.edit.nodes import insert
from needle.core.edit.shop import change_shop
from needle.core.kinds.formbox import FormBox
from needle.core.shop.cart import EMPTY, MOST_LINES, Cart, CartLine, cart_from, words_of
from needle.core.shop.cartmarkup import cart_markup, order_words, with_cart
from needle.core.shop.pricing import Priced, Sold, priced, unit_price
from needle.core.site.site import Site
from needle.core.snags.finding import find_snags
from needle.core.values.rows import Amount, Offered
from needle.core.values.shop import Coupon, Shop, Way
from tests.shops import small_shop
from tests.sites import FORM, PAGE

DAY = "2027-08-12"


def offered(price: str, sale: str = "", starts: str = "", ends: str = "",
            stock: int | None = None, name: str = "") -> Offered:
    return Offered(name=name, price=Amount(f"{price} GBP", price) if price else None,
                   sale=Amount(f"{sale} GBP", sale) if sale else None, starts=starts, ends=ends,
                   stock=stock)


class CartTest(unittest.TestCase):
    def test_what_a_browser_keeps_comes_back_as_it_was(self) -> None:
        cart = EMPTY.plus(CartLine("torch", "", 2, "1900")).plus(CartLine("wool", "two", 1))
        cart = cart.plus(CartLine("torch", "", 3, "2400")).sent_by("post")
        self.assertEqual(words_of(cart), "torch*5:2400!wool.two*1:!~post")
        self.assertEqual(cart_from(words_of(cart)), cart)
        self.assertEqual(cart.with_line(CartLine("wool", "two", 0)).pieces, 5)

    def test_whatever_a_cookie_holds_only_what_makes_sense_is_in_the_cart(self) -> None:
        dice = random.Random(2)
        signs = "abz019*:!._~-@%<>'\"\\\n\x00é—"
        for _ in range(3000):
            words = "".join(dice.choice(signs) for _ in range(dice.randrange(60)))
            cart = cart_from(words)
            self.assertEqual(cart_from(words_of(cart)), cart)
            self.assertTrue(all(1 <= line.pieces <= 99 for line in cart.lines))
        self.assertEqual(cart_from("a*-3:"), EMPTY)
        self.assertEqual(cart_from("a*100:"), EMPTY)
        full = "!".join(f"r{n}*1:" for n in range(200))
        self.assertEqual(len(cart_from(full).lines), MOST_LINES)
        self.assertEqual(EMPTY.plus(CartLine("a", "", 99)).plus(CartLine("a", "", 9)).pieces, 99)


class PricingTest(unittest.TestCase):
    def test_a_sale_holds_from_its_first_day_to_its_last(self) -> None:
        offer = offered("24.00", "19.00", "2027-08-01", "2027-08-31")
        told = {day: unit_price(offer, day) for day in (
            "2027-07-31", "2027-08-01", "2027-08-31", "2027-09-01")}
        self.assertEqual([str(price) for price in told.values()],
                         ["24.00", "19.00", "19.00", "24.00"])
        self.assertIsNone(unit_price(offered(""), DAY))

    def test_what_is_otherwise_is_told(self) -> None:
        sold = {"a": Sold("Torch", "t", offered("24.00")), "b": Sold("Map", "m", offered("9.00"))}
        cart = Cart((CartLine("a", "", 3, "2600"), CartLine("b", "", 2, "900"),
                     CartLine("gone", "", 1)))
        self.assertEqual([str(one.in_language("en")) for one in priced(
            cart, sold, {"b": 1}, Shop(), DAY).troubles],
            ["Torch costs something else now than when you put it in.",
             "Of Map only one is left; your cart has 2.",
             "One thing in your cart is not sold any more."])

    def test_a_coupon_that_does_not_hold_says_why(self) -> None:
        sold = {"a": Sold("Torch", "t", offered("24.00"))}
        shop = Shop(currency="GBP", coupons=(
            Coupon(id="c1", code="SUMMER", value="10", starts="2027-06-01", ends="2027-08-11"),
            Coupon(id="c2", code="LARGE", kind="amount", value="5", from_sum="50")))
        told = {}
        for code in ("summer", "large", "other", "<b>"):
            cart = Cart((CartLine("a", "", 1),)).with_code(code)
            found = priced(cart, sold, {}, shop, DAY)
            self.assertEqual(found.total, Decimal("24.00"))
            told[code] = [one.in_language("en") for one in found.troubles]
        self.assertEqual(told, {
            "summer": ["The coupon SUMMER does not hold today."],
            "large": ["The coupon LARGE holds from 50 GBP on."],
            "other": ["There is no coupon OTHER."], "<b>": []})

    def plainly(self, cart: Cart, prices: dict[str, str], shop: Shop) -> tuple[Decimal, Decimal]:
        things = Decimal(0)
        for line in cart.lines:
            for _ in range(line.pieces):
                things += Decimal(prices[line.key])
        way = next((one for one in shop.ways if one.id == cart.way), None)
        if way is None and len(shop.ways) == 1:
            way = shop.ways[0]
        post = Decimal(0)
        if way is not None and cart.lines and not (
                way.free_from and things >= Decimal(way.free_from)):
            post = Decimal(way.price or "0")
        cent = Decimal("0.01")
        coupon = shop.coupon(cart.code) if cart.lines else None
        if coupon is not None and things >= Decimal(coupon.from_sum or "0"):
            if coupon.kind == "carriage":
                post = Decimal(0)
            elif coupon.kind == "percent":
                things -= (things * Decimal(coupon.value) / 100).quantize(cent, ROUND_HALF_UP)
            else:
                things = max(Decimal(0), things - Decimal(coupon.value))
        whole, percent = things + post, Decimal(shop.tax or "0")
        if shop.included:
            return whole, (whole - whole / (1 + percent / 100)).quantize(cent, ROUND_HALF_UP)
        tax = (whole * percent / 100).quantize(cent, ROUND_HALF_UP)
        return whole + tax, tax

    def test_thousands_of_random_carts_equal_a_plain_model_to_the_cent(self) -> None:
        dice = random.Random(11)
        for _ in range(5000):
            prices = {f"k{n}": f"{dice.randrange(1, 30000) / 100:.2f}" for n in range(6)}
            sold = {key: Sold(key, key, offered(price)) for key, price in prices.items()}
            cart = EMPTY
            for _ in range(dice.randrange(5)):
                cart = cart.plus(CartLine(dice.choice(list(prices)), "", dice.randrange(1, 12)))
            ways = tuple(Way(id=f"w{n}", name="W", price=dice.choice(("", "3.90", "12")),
                             free_from=dice.choice(("", "20", "99.99")))
                         for n in range(dice.randrange(3)))
            shop = Shop(tax=dice.choice(("", "7", "19", "20", "7.5")), ways=ways,
                        included=dice.random() < 0.5, coupons=(
                            Coupon(id="c1", code="TEN", value="10", from_sum="30"),
                            Coupon(id="c2", code="FIVER", kind="amount", value="5.55"),
                            Coupon(id="c3", code="POST", kind="carriage")))
            cart = cart.sent_by(dice.choice(("w0", "w1", ""))).with_code(
                dice.choice(("", "ten", "FIVER", "post", "NONE")))
            found = priced(cart, sold, {}, shop, DAY)
            self.assertEqual((found.total, found.tax), self.plainly(cart, prices, shop))


class SnagTest(unittest.TestCase):
    def found(self, site: Site) -> set[str]:
        return {snag.words for snag in find_snags(site) if snag.rule.startswith("shop-")}

    def test_a_shop_in_which_nobody_can_buy_is_told(self) -> None:
        site = small_shop()
        self.assertEqual(self.found(site),
                         {"The form of orders does not stand beside the cart"})
        site = insert(site, FormBox(id="orders1", form=FORM), "cart1", "after")
        self.assertEqual(self.found(site), set())
        self.assertEqual(self.found(change_shop(site, currency="EUR")), {
            "4 rows of Things with a price that is not in EUR, as “Torch”: "
            "visitors cannot buy that",
            "1 row of Sizes with a price that is not in EUR, as “Two”: visitors cannot buy that"})
        self.assertEqual(self.found(change_shop(site, cart="")), {"No page has the cart"})
        self.assertEqual(self.found(change_shop(site, table="")),
                         {"What this page puts into the cart is not what the shop sells"})
        self.assertEqual(self.found(change_shop(site, cart=PAGE, currency="")), {
            "The cart does not stand on the page that is chosen for it",
            "The shop does not say its currency"})


class MarkupTest(unittest.TestCase):
    def found(self, shop: Shop) -> Priced:
        sold = {"a": Sold("Torch <b>", "torch", offered("24.00")),
                "b.two": Sold("Blanket", "blanket", offered("84.00", name="For two"))}
        cart = Cart((CartLine("a", "", 2), CartLine("b", "two", 1)), "post")
        return priced(cart, sold, {}, shop, DAY)

    def test_what_is_shown_and_what_letters_say(self) -> None:
        shop = Shop(currency="GBP", tax="20", ways=(Way(id="post", name="By post", price="3.90"),
                                                    Way(id="fetch", name="Fetched")))
        found = self.found(shop)
        html = str(cart_markup(found, shop, "en"))
        self.assertIn('name="line.b.two" id="cart-line-1" value="1"', html)
        self.assertIn("Torch &lt;b&gt;", html)
        self.assertIn('value="post" checked', html)
        self.assertIn("<dt><b>To pay</b></dt><dd><b>£135.90</b></dd>"
                      "<dt>of which tax, 20 %</dt><dd>£22.65</dd>", html)
        self.assertEqual(order_words(found, shop, "de").splitlines()[-2:],
                         ["Zu zahlen: 135,90\xa0£", "darin Steuer, 20 %: 22,65\xa0£"])

    def test_a_page_gets_it_where_the_cart_stands(self) -> None:
        page = "<p>a</p><!--cart--><p>empty</p><!--/cart--><p>b</p>"
        self.assertEqual(with_cart(page, "<i>x</i>"), "<p>a</p><i>x</i><p>b</p>")
        self.assertEqual(with_cart("<!--cart-->broken", "x"), "broken")


if __name__ == "__main__":
    unittest.main()
