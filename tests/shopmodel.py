"""A plain model of a shop, in fractions and cents, that shares no line with the one that sells."""

import random
from collections.abc import Mapping
from decimal import Decimal
from fractions import Fraction

from needle.core.shop.cart import EMPTY, Cart, CartLine
from needle.core.shop.pricing import Sold
from needle.core.values.rows import Amount, Offered
from needle.core.values.shop import Coupon, Extra, Land, Shop, Step, Way

__all__ = ["PlainShop", "random_cart", "random_shop"]

# Numbers that are some, by the rules of their country.
FIRMS = {"DE": "DE136695976", "FR": "FR40303265045", "US": ""}


def half_up(value: Fraction) -> int:
    """Return whole cents, halves up."""
    return int(value + Fraction(1, 2))


class PlainShop:
    """What a cart comes to, in cents, told by a sheet of paper and a pencil."""

    def __init__(self, prices: Mapping[str, int], taxes: Mapping[str, str],
                 grams: Mapping[str, int], tags: Mapping[str, str], shop: Shop) -> None:
        self.prices, self.taxes, self.grams = prices, taxes, grams
        self.tags, self.shop = tags, shop

    def total(self, cart: Cart) -> tuple[int, int]:
        """Return what is to be paid, and the tax of it."""
        shop, lines = self.shop, [(one.key, one.pieces, one.by) for one in cart.lines]
        costs = {key: self._price(key, pieces, by, len(lines)) * pieces
                 for key, pieces, by in lines}
        things = sum(costs.values())
        land = next((one for one in shop.lands if one.code == cart.land),
                    shop.lands[0] if shop.lands else None)
        home = not shop.lands or land is shop.lands[0]
        post = self._post(cart, things, land) if lines else 0
        off, its = self._coupon(cart.code, lines, costs, post)
        if off < 0:
            off, post = 0, 0
        rate = Fraction((land.tax if land and (land.tax or not home) else shop.tax) or "0")
        piles: dict[Fraction, int] = {}
        lessened: dict[Fraction, int] = {}
        for key, cost in costs.items():
            own = Fraction(self.taxes[key]) if self.taxes[key] and home else rate
            piles[own] = piles.get(own, 0) + cost
            if key in its:
                lessened[own] = lessened.get(own, 0) + cost
        for own, less in zip(lessened, self._shares(off, list(lessened.values())), strict=True):
            piles[own] -= less
        if post:
            piles[rate] = piles.get(rate, 0) + post
        taxes = {own: half_up(pile * own / (100 + own if shop.included else 100))
                 for own, pile in piles.items()}
        tip = cart.tip if shop.tip and lines else 0
        if shop.reverse and not home and land and cart.firm and cart.firm == FIRMS[land.code]:
            return tip + sum(piles.values()) - (sum(taxes.values()) if shop.included else 0), 0
        return tip + sum(piles.values()) + (0 if shop.included else sum(taxes.values())), sum(
            taxes.values())

    def _price(self, key: str, pieces: int, by: str, lines: int) -> int:
        extra = self.shop.extra
        if extra and by == "o" and key == extra.row and pieces == 1 and lines > 1:
            return half_up(self.prices[key] * (100 - Fraction(extra.percent or "0")) / 100)
        return self.prices[key]

    def _coupon(self, code: str, lines: list[tuple[str, int, str]], costs: dict[str, int],
                post: int) -> tuple[int, set[str]]:
        """Return what is taken off, and what for; -1 for the carriage."""
        best: tuple[int, int, set[str]] = (-1, 0, set())
        ordered = sorted(self.shop.coupons, key=lambda one: one.code != code)
        for coupon in ordered:
            its = {key for key in costs if coupon.only in ("", self.tags[key])}
            if not its or (coupon.code != code and not coupon.auto) or (
                    sum(costs.values()) < Fraction(coupon.from_sum or "0") * 100):
                continue
            off = self._taken_off(coupon, its, lines, costs)
            worth = post if coupon.kind == "carriage" else off
            if worth > best[0]:
                best = (worth, -1 if coupon.kind == "carriage" else off, its)
        return best[1], best[2]

    def _taken_off(self, coupon: Coupon, its: set[str], lines: list[tuple[str, int, str]],
                   costs: dict[str, int]) -> int:
        sum_of_them = sum(costs[key] for key in its)
        if coupon.kind == "percent":
            return half_up(sum_of_them * Fraction(coupon.value) / 100)
        if coupon.kind == "nth":
            pieces = sorted(costs[key] // count for key, count, _ in lines if key in its
                            for _ in range(count))
            return sum(pieces[: len(pieces) // int(coupon.value)])
        return min(sum_of_them, int(Fraction(coupon.value or "0") * 100))

    def _post(self, cart: Cart, things: int, land: Land | None) -> int:
        weight = sum(self.grams[one.key] * one.pieces for one in cart.lines)
        ways = [one for one in self.shop.ways
                if (not one.lands or (land and land.code in one.lands))
                and (not one.steps or weight <= max(step.grams for step in one.steps))]
        way = next((one for one in ways if one.id == cart.way), None)
        if way is None and len(ways) == 1:
            way = ways[0]
        if way is None or (way.free_from and things >= Fraction(way.free_from) * 100):
            return 0
        fits = [step.price for step in way.steps if weight <= step.grams]
        return int(Fraction((fits[0] if fits else way.price) or "0") * 100)

    @staticmethod
    def _shares(off: int, piles: list[int]) -> list[int]:
        """Share a discount out cent by cent, each to whom most of one is owed still."""
        whole = sum(piles)
        given = [off * pile // whole if whole else 0 for pile in piles]
        for _ in range(off - sum(given) if whole else 0):
            owed = [Fraction(off * pile, whole) - had
                    for pile, had in zip(piles, given, strict=True)]
            given[owed.index(max(owed))] += 1
        return given


def random_shop(dice: random.Random) -> tuple[PlainShop, dict[str, Sold]]:
    """Return some shop, and what it sells."""
    keys = [f"k{n}" for n in range(6)]
    prices = {key: dice.randrange(1, 30_000) for key in keys}
    taxes = {key: dice.choice(("", "", "0", "7", "5.5")) for key in keys}
    grams = {key: dice.choice((0, 120, 900)) for key in keys}
    tags = {key: dice.choice(("red", "blue", "green")) for key in keys}
    sold = {key: Sold(key, key, Offered(
        price=Amount(f"{Decimal(prices[key]) / 100:.2f} GBP", ""), grams=grams[key],
        tax=taxes[key]), frozenset({tags[key]})) for key in keys}
    lands = dice.choice(((), (Land(code="GB", tax=dice.choice(("", "20"))),
                              Land(code="DE", tax="19"), Land(code="FR", tax="20"),
                              Land(code="US"))))
    ways = tuple(Way(
        id=f"w{n}", name="W", price=dice.choice(("", "3.90", "12")),
        free_from=dice.choice(("", "20", "99.99")),
        lands=dice.choice(((), ("GB",), ("DE", "US"))) if lands else (),
        steps=dice.choice(((), (Step(grams=500, price="2.50"), Step(grams=4000, price="7.35")))))
        for n in range(dice.randrange(4)))
    return PlainShop(prices, taxes, grams, tags, Shop(
        currency="GBP", tax=dice.choice(("", "7", "19", "20", "7.5")), ways=ways, lands=lands,
        tip=dice.choice(("", "For the roof")),
        included=dice.random() < 0.5, reverse=dice.random() < 0.5,
        extra=dice.choice((None, Extra(row="k0", percent="33.3"), Extra(row="k1"))),
        coupons=(Coupon(id="c1", code="TEN", value="10", from_sum="30"),
                 Coupon(id="c2", code="FIVER", kind="amount", value="5.55"),
                 Coupon(id="c3", code="POST", kind="carriage", auto=dice.random() < 0.3),
                 Coupon(id="c4", code="THIRD", kind="nth", value="3",
                        only=dice.choice(("", "red", "none"))),
                 Coupon(id="c5", code="RED", value="12.5", only="red",
                        auto=dice.random() < 0.4)))), sold


def random_cart(dice: random.Random) -> Cart:
    """Return some cart of a random shop's things."""
    cart = EMPTY
    for _ in range(dice.randrange(5)):
        cart = cart.plus(CartLine(f"k{dice.randrange(6)}", "", dice.choice((1, 1, 2, 7)), "",
                                  dice.choice(("", "o", "w"))))
    land = dice.choice(("", "GB", "DE", "FR", "US"))
    return cart.sent_by(dice.choice(("w0", "w1", "w2", ""))).with_code(
        dice.choice(("", "ten", "FIVER", "post", "third", "RED"))).going_to(land).ordered_by(
            dice.choice(("", FIRMS.get(land, "")))).giving(
                Decimal(dice.choice((0, 0, 5, 350, 999_999))) / 100)
