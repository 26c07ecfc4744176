"""What a cart comes to: exact decimals, on the host alone.

Sums are of whole hundredths. Tax is worked out once of all that is taxed alike, rounded half up: of
prices that hold it as total x p / (100 + p), of prices on which it comes as total x p / 100. What a
coupon takes off is shared out over the rates in proportion, in hundredths (largest remainder).
"""

from collections.abc import Mapping, Sequence
from decimal import ROUND_FLOOR, ROUND_HALF_UP, Decimal
from typing import NamedTuple

from stdnum.eu import vat as eu_number
from stdnum.gb import vat as gb_number

from needle.core.messages.message import Message, say
from needle.core.shop.cart import Cart, CartLine
from needle.core.values.rows import Offered
from needle.core.values.shop import Coupon, Extra, Land, PayWay, Shop, Way

__all__ = ["Line", "Priced", "Sold", "Tax", "line_price", "offered_price", "priced", "unit_price"]

_HUNDREDTH = Decimal("0.01")


class Sold(NamedTuple):
    """One thing, or one option of it, as its live page shows it.

    Attributes:
        thing: What it is called.
        slug: Where its page stands.
        traits: What coupons may be for, in small letters: its tags, choices, what it names.
    """

    thing: str
    slug: str
    offer: Offered
    traits: frozenset[str] = frozenset()

    @property
    def name(self) -> str:
        """The thing with its option."""
        return f"{self.thing}, {self.offer.name}" if self.offer.name else self.thing


class Line(NamedTuple):
    """A line of a cart with what it costs.

    Attributes:
        unit, total: Of one piece, and of all.
        trouble: What is otherwise than when it was put in; `None` for nothing.
    """

    line: CartLine
    sold: Sold
    unit: Decimal
    total: Decimal
    trouble: Message | None = None


class Tax(NamedTuple):
    """The tax of all that is taxed alike.

    Attributes:
        percent: As "20" or "7.5".
        net: What it is of.
        tax: What it is.
    """

    percent: str
    net: Decimal
    tax: Decimal


class Priced(NamedTuple):
    """What a cart comes to.

    Attributes:
        lines: What can be bought; others are in `gone`.
        gone: Lines of things that are sold no longer.
        things: The sum of the lines.
        way: How it reaches somebody; `None` until one was chosen or where there is none.
        ways: Those in which it can, and what each costs.
        carriage: What the chosen one costs.
        taxes: One for each rate, the highest first.
        total: What is to be paid.
        coupon: What is taken off by; `None` for nothing.
        off: How much that is of the things.
        untaxed: How much tax the prices hold that a business elsewhere does not pay.
        refused: Why the code, or the number of a business, that was typed does not hold.
        pay: How it is paid; `None` until one was chosen or where there is none.
        land: Where it goes to; empty where nobody is asked.
        firm: The tax number that was typed.
        tip: What they give on top; no tax is of it.
        reverse: The business of that number owes the tax itself.
    """

    lines: tuple[Line, ...]
    gone: tuple[CartLine, ...]
    things: Decimal
    way: Way | None
    ways: tuple[tuple[Way, Decimal], ...]
    carriage: Decimal
    taxes: tuple[Tax, ...]
    total: Decimal
    coupon: Coupon | None = None
    off: Decimal = Decimal(0)
    untaxed: Decimal = Decimal(0)
    refused: tuple[Message, ...] = ()
    pay: PayWay | None = None
    land: str = ""
    firm: str = ""
    reverse: bool = False
    tip: Decimal = Decimal(0)

    @property
    def tax(self) -> Decimal:
        """The tax of all of it."""
        return sum((one.tax for one in self.taxes), Decimal(0))

    @property
    def troubles(self) -> tuple[Message, ...]:
        """What the person has to be told before they can order."""
        gone = (say("cart-gone", count=len(self.gone)),) if self.gone else ()
        return (*self.refused, *(line.trouble for line in self.lines if line.trouble is not None),
                *gone)


def unit_price(offer: Offered, day: str) -> Decimal | None:
    """Return what one piece costs on a day, as "2027-08-12"; `None` where no price is said."""
    if offer.price is None:
        return None
    runs = offer.sale is not None and (not offer.starts or offer.starts <= day) and (
        not offer.ends or day <= offer.ends)
    amount = offer.sale if runs and offer.sale is not None else offer.price
    return Decimal(amount.cell.partition(" ")[0])


def offered_price(offer: Offered, extra: Extra, day: str) -> Decimal | None:
    """Return what one piece costs beside an order, rounded half up."""
    unit = unit_price(offer, day)
    if unit is None:
        return None
    less = Decimal(extra.percent or "0")
    return (unit * (100 - less) / 100).quantize(_HUNDREDTH, ROUND_HALF_UP)


def line_price(line: CartLine, cart: Cart, offer: Offered, shop: Shop, day: str,
               beside: bool = False) -> Decimal | None:
    """Return what one piece of a line costs on a day; `None` where no price is said.

    What is offered beside an order costs less for one piece, as long as something else is ordered.

    Args:
        beside: Something else was ordered before.
    """
    extra = shop.extra
    others = beside or any(one.key != line.key for one in cart.lines)
    if extra is not None and line.by == "o" and line.pieces == 1 and others and (
            line.key == extra.key):
        return offered_price(offer, extra, day)
    return unit_price(offer, day)


def priced(cart: Cart, sold: Mapping[str, Sold], left: Mapping[str, int], shop: Shop, day: str,
           beside: bool = False) -> Priced:
    """Return what a cart comes to on a day.

    Args:
        sold: What is live, by the key of a cart's line.
        left: Pieces that are left, by the same key; what is not in it is not counted.
        beside: Something else was ordered before.
    """
    lines, gone = _lines(cart, sold, left, shop, day, beside)
    things = sum((line.total for line in lines), Decimal(0))
    land = shop.land(cart.land)
    grams = sum(line.sold.offer.grams * line.line.pieces for line in lines)
    ways = tuple((way, way.costs(things, grams)) for way in shop.ways
                 if way.goes(land.code if land is not None else "", grams))
    way, carriage = next((one for one in ways if one[0].id == cart.way),
                         ways[0] if len(ways) == 1 else (None, Decimal(0)))
    coupon, refused = _coupon(cart, lines, shop, day, carriage) if lines else (None, None)
    off = _off(coupon, lines)
    if not lines or (coupon is not None and coupon.kind == "carriage"):
        carriage = Decimal(0)
    reverse, unknown = _reverse(cart, shop, land)
    parts = _by_rate(lines, coupon, off, carriage, shop, land)
    taxes, untaxed = _taxes(parts, shop, reverse)
    tip = Decimal(cart.tip) / 100 if shop.tip and lines else Decimal(0)
    total = things - off + carriage - untaxed + tip + (
        Decimal(0) if shop.included else sum((one.tax for one in taxes), Decimal(0)))
    pay = shop.pay(cart.pay) or (shop.pays[0] if len(shop.pays) == 1 else None)
    return Priced(lines, gone, things, way, ways, carriage, taxes, total, coupon, off, untaxed,
                  tuple(one for one in (refused, unknown) if one is not None), pay,
                  land.code if land is not None else "", cart.firm, reverse, tip)


def _lines(cart: Cart, sold: Mapping[str, Sold], left: Mapping[str, int], shop: Shop, day: str,
           beside: bool) -> tuple[tuple[Line, ...], tuple[CartLine, ...]]:
    """Return what of a cart can be bought, and what cannot any longer."""
    lines, gone = [], []
    for line in cart.lines:
        one = sold.get(line.key)
        unit = line_price(line, cart, one.offer, shop, day, beside) if one is not None else None
        if one is None or unit is None:
            gone.append(line)
            continue
        lines.append(Line(line, one, unit, unit * line.pieces, _trouble(line, one, unit, left)))
    return tuple(lines), tuple(gone)


# Coupons

def _coupon(cart: Cart, lines: Sequence[Line], shop: Shop, day: str, carriage: Decimal,
            ) -> tuple[Coupon | None, Message | None]:
    """Return the coupon that is used for a cart, or why the code that was typed takes nothing off.

    Coupons do not add up: of the typed one and those that hold by themselves, the one is used that
    takes most off; the typed one where several take as much.
    """
    typed, refused = shop.coupon(cart.code) if cart.code else None, None
    if cart.code:
        refused = say("coupon-none", code=cart.code) if typed is None else _why_not(
            typed, lines, shop, day)
    holding = [one for one in shop.coupons if one.auto and one is not typed
               and _why_not(one, lines, shop, day) is None]
    if typed is not None and refused is None:
        holding.insert(0, typed)

    def worth(coupon: Coupon) -> Decimal:
        return carriage if coupon.kind == "carriage" else _off(coupon, lines)

    return max(holding, key=worth, default=None), refused


def _why_not(coupon: Coupon, lines: Sequence[Line], shop: Shop, day: str) -> Message | None:
    """Return why a coupon does not hold; `None` if it does."""
    if (coupon.starts and day < coupon.starts) or (coupon.ends and day > coupon.ends):
        return say("coupon-day", code=coupon.code)
    if coupon.from_sum and sum(line.total for line in lines) < Decimal(coupon.from_sum):
        return say("coupon-sum", code=coupon.code,
                   sum=f"{coupon.from_sum} {shop.currency}".strip())
    if not any(_is_for(coupon, line) for line in lines):
        return say("coupon-other-things", code=coupon.code)
    return None


def _is_for(coupon: Coupon, line: Line) -> bool:
    only = coupon.only.strip().casefold()
    return not only or only in line.sold.traits or only == line.sold.thing.casefold()


def _off(coupon: Coupon | None, lines: Sequence[Line]) -> Decimal:
    """Return what a coupon takes off the things that it is for, never more than they cost."""
    if coupon is None or coupon.kind == "carriage":
        return Decimal(0)
    its = [line for line in lines if _is_for(coupon, line)]
    things, value = sum((line.total for line in its), Decimal(0)), Decimal(coupon.value or "0")
    if coupon.kind == "nth":
        units = sorted(line.unit for line in its for _ in range(line.line.pieces))
        return sum(units[: len(units) // max(2, int(value))], Decimal(0))
    off = (things * value / 100).quantize(_HUNDREDTH, ROUND_HALF_UP) \
        if coupon.kind == "percent" else value
    return min(off, things)


def _trouble(line: CartLine, sold: Sold, unit: Decimal, left: Mapping[str, int],
             ) -> Message | None:
    there = left.get(line.key)
    if there is not None and there < line.pieces:
        return say("cart-sold-out", thing=sold.name) if there <= 0 else say(
            "cart-fewer", thing=sold.name, left=there, count=line.pieces)
    if line.seen and Decimal(line.seen) / 100 != unit:
        return say("cart-other-price", thing=sold.name)
    return None


# Taxes

def _reverse(cart: Cart, shop: Shop, land: Land | None) -> tuple[bool, Message | None]:
    """Return whether a business elsewhere owes the tax itself, or why its number does not hold."""
    if not (shop.reverse and cart.firm) or land is None or land is shop.lands[0]:
        return False, None
    own = {"GR": "EL"}.get(land.code, land.code)  # Greece's numbers begin otherwise.
    known = gb_number if own == "GB" else eu_number
    if not cart.firm.startswith(own) or not known.is_valid(cart.firm):
        return False, say("cart-firm", number=cart.firm)
    return True, None


def _by_rate(lines: Sequence[Line], coupon: Coupon | None, off: Decimal, carriage: Decimal,
             shop: Shop, land: Land | None) -> dict[str, Decimal]:
    """Return what is paid at each rate of tax. What a coupon takes off is shared out over what it
    is for."""
    home = land is None or land is shop.lands[0]
    whole = _rate(land.tax if land is not None and (not home or land.tax) else shop.tax) or "0"
    parts: dict[str, Decimal] = {}
    less: dict[str, Decimal] = {}
    for line in lines:
        rate = _rate(line.sold.offer.tax if home else "") or whole
        parts[rate] = parts.get(rate, Decimal(0)) + line.total
        if coupon is not None and _is_for(coupon, line):
            less[rate] = less.get(rate, Decimal(0)) + line.total
    for rate, share in zip(less, _shared(off, list(less.values())), strict=True):
        parts[rate] -= share
    if carriage:
        parts[whole] = parts.get(whole, Decimal(0)) + carriage
    return parts


def _rate(words: str) -> str:
    return f"{Decimal(words).normalize():f}" if words else ""


def _shared(amount: Decimal, over: Sequence[Decimal]) -> list[Decimal]:
    """Share an amount out in proportion, in hundredths, by the largest remainder."""
    whole = sum(over, Decimal(0))
    if not whole or not amount:
        return [Decimal(0)] * len(over)
    exact = [amount * one / whole for one in over]
    shares = [one.quantize(_HUNDREDTH, ROUND_FLOOR) for one in exact]
    missing = int((amount - sum(shares)) / _HUNDREDTH)
    order = sorted(range(len(over)), key=lambda place: shares[place] - exact[place])
    for place in order[:missing]:
        shares[place] += _HUNDREDTH
    return shares


def _taxes(parts: Mapping[str, Decimal], shop: Shop, reverse: bool,
           ) -> tuple[tuple[Tax, ...], Decimal]:
    """Return the tax of each rate, and how much tax of the prices is not to be paid."""
    taxes, untaxed = [], Decimal(0)
    for rate, amount in sorted(parts.items(), key=lambda one: -Decimal(one[0])):
        percent = Decimal(rate)
        share = percent / (100 + percent) if shop.included else percent / 100
        tax = (amount * share).quantize(_HUNDREDTH, ROUND_HALF_UP)
        if reverse:
            untaxed += tax if shop.included else 0
            taxes.append(Tax("0", amount - (tax if shop.included else 0), Decimal("0.00")))
        elif percent:
            taxes.append(Tax(rate, amount - tax if shop.included else amount, tax))
    return tuple(taxes), untaxed
