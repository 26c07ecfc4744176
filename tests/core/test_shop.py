"""What carts come to, against a model in plain decimals."""

import random
import unittest
from decimal import Decimal

from needle.core.edit.nodes import insert
from needle.core.edit.shop import change_shop
from needle.core.kinds.formbox import FormBox
from needle.core.shop.cart import EMPTY, MOST_LINES, Cart, CartLine, cart_from, words_of
from needle.core.shop.cartmarkup import cart_markup, order_words, with_cart
from needle.core.shop.pricing import Priced, Sold, priced, unit_price
from needle.core.site.site import Site
from needle.core.snags.finding import find_snags
from needle.core.values.rows import Amount, Offered
from needle.core.values.shop import Coupon, Land, Shop, Way
from tests.shopmodel import random_cart, random_shop
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
        cart = cart.plus(CartLine("torch", "", 3, "2400")).sent_by("post").giving(
            Decimal("2.505"))
        self.assertEqual(words_of(cart), "torch*5:2400!wool.two*1:!~post!$250")
        self.assertEqual(cart_from(words_of(cart)), cart)
        self.assertEqual(cart.with_line(CartLine("wool", "two", 0)).pieces, 5)

    def test_whatever_a_cookie_holds_only_what_makes_sense_is_in_the_cart(self) -> None:
        dice = random.Random(2)
        signs = "abz019*:!._~-@%$<>'\"\\\n\x00é—"
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

    def test_thousands_of_random_carts_equal_a_plain_model_to_the_cent(self) -> None:
        dice = random.Random(11)
        for _ in range(600):
            plain, sold = random_shop(dice)
            for _ in range(8):
                cart = random_cart(dice)
                found = priced(cart, sold, {}, plain.shop, DAY)
                told = (int(found.total * 100), int(found.tax * 100))
                self.assertEqual(told, plain.total(cart), (cart, plain.shop))

    def test_a_number_that_is_none_is_told_and_the_tax_stays(self) -> None:
        shop = Shop(tax="20", reverse=True, lands=(Land(code="GB", tax="20"),
                                                   Land(code="DE", tax="19")))
        sold = {"a": Sold("Torch", "t", offered("24.00"))}
        cart = Cart((CartLine("a", "", 1),)).going_to("DE").ordered_by("de 123 456 789")
        found = priced(cart, sold, {}, shop, DAY)
        self.assertEqual(found.total, Decimal("24.00"))
        self.assertIn("DE123456789", found.troubles[0].in_language("en"))
        found = priced(cart.ordered_by("DE 136 695 976"), sold, {}, shop, DAY)
        self.assertEqual((found.total, found.untaxed, found.tax),
                         (Decimal("20.17"), Decimal("3.83"), Decimal("0.00")))
        self.assertIn("DE136695976 owes the tax", order_words(found, shop, "en"))


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
