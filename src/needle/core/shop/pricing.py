"""What a cart comes to: exact decimals, on the host alone.

Sums are of whole hundredths. Tax is worked out once of the whole, rounded half up: of prices that
hold it as total x p / (100 + p), of prices on which it comes as total x p / 100.
"""

from collections.abc import Mapping
from decimal import ROUND_HALF_UP, Decimal
from typing import NamedTuple

from needle.core.messages.message import Message, say
from needle.core.shop.cart import Cart, CartLine
from needle.core.values.rows import Offered
from needle.core.values.shop import Coupon, Shop, Way

__all__ = ["Line", "Priced", "Sold", "priced", "unit_price"]

_HUNDREDTH = Decimal("0.01")


class Sold(NamedTuple):
    """One thing, or one option of it, as its live page shows it.

    Attributes:
        thing: What it is called.
        slug: Where its page stands.
    """

    thing: str
    slug: str
    offer: Offered

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


class Priced(NamedTuple):
    """What a cart comes to.

    Attributes:
        lines: What can be bought; others are in `gone`.
        gone: Lines of things that are sold no longer.
        things: The sum of the lines.
        way: How it reaches somebody; `None` until one was chosen or where there is none.
        carriage: What that costs.
        coupon: What is taken off by; `None` for nothing.
        off: How much that is of the things.
        refused: Why the code that was typed takes nothing off.
        tax: Within the total, or on top of the rest.
        total: What is to be paid.
    """

    lines: tuple[Line, ...]
    gone: tuple[CartLine, ...]
    things: Decimal
    way: Way | None
    carriage: Decimal
    tax: Decimal
    total: Decimal
    coupon: Coupon | None = None
    off: Decimal = Decimal(0)
    refused: Message | None = None

    @property
    def troubles(self) -> tuple[Message, ...]:
        """What the person has to be told before they can order."""
        gone = (say("cart-gone", count=len(self.gone)),) if self.gone else ()
        refused = (self.refused,) if self.refused is not None else ()
        return (*refused, *(line.trouble for line in self.lines if line.trouble is not None), *gone)


def unit_price(offer: Offered, day: str) -> Decimal | None:
    """Return what one piece costs on a day, as "2027-08-12"; `None` where no price is said."""
    if offer.price is None:
        return None
    runs = offer.sale is not None and (not offer.starts or offer.starts <= day) and (
        not offer.ends or day <= offer.ends)
    amount = offer.sale if runs and offer.sale is not None else offer.price
    return Decimal(amount.cell.partition(" ")[0])


def priced(cart: Cart, sold: Mapping[str, Sold], left: Mapping[str, int], shop: Shop, day: str,
           ) -> Priced:
    """Return what a cart comes to on a day.

    Args:
        sold: What is live, by the key of a cart's line.
        left: Pieces that are left, by the same key; what is not in it is not counted.
    """
    lines, gone = [], []
    for line in cart.lines:
        one = sold.get(line.key)
        unit = unit_price(one.offer, day) if one is not None else None
        if one is None or unit is None:
            gone.append(line)
            continue
        lines.append(Line(line, one, unit, unit * line.pieces, _trouble(line, one, unit, left)))
    things = sum((line.total for line in lines), Decimal(0))
    way = shop.way(cart.way) or (shop.ways[0] if len(shop.ways) == 1 else None)
    carriage = way.costs(things) if way is not None and lines else Decimal(0)
    coupon, refused = _coupon(cart, things, shop, day) if lines else (None, None)
    off = _off(coupon, things)
    if coupon is not None and coupon.kind == "carriage":
        carriage = Decimal(0)
    tax = _tax(things - off + carriage, shop)
    total = things - off + carriage + (Decimal(0) if shop.included else tax)
    return Priced(tuple(lines), tuple(gone), things, way, carriage, tax, total, coupon, off,
                  refused)


def _coupon(cart: Cart, things: Decimal, shop: Shop, day: str,
            ) -> tuple[Coupon | None, Message | None]:
    """Return the coupon that holds for a cart, or why the code that was typed does not."""
    if not cart.code:
        return None, None
    coupon = shop.coupon(cart.code)
    if coupon is None:
        return None, say("coupon-none", code=cart.code)
    if (coupon.starts and day < coupon.starts) or (coupon.ends and day > coupon.ends):
        return None, say("coupon-day", code=cart.code)
    if coupon.from_sum and things < Decimal(coupon.from_sum):
        return None, say("coupon-sum", code=cart.code,
                         sum=f"{coupon.from_sum} {shop.currency}".strip())
    return coupon, None


def _off(coupon: Coupon | None, things: Decimal) -> Decimal:
    """Return what a coupon takes off the things, never more than they cost."""
    if coupon is None or coupon.kind == "carriage":
        return Decimal(0)
    value = Decimal(coupon.value or "0")
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


def _tax(amount: Decimal, shop: Shop) -> Decimal:
    percent = Decimal(shop.tax or "0")
    share = percent / (100 + percent) if shop.included else percent / 100
    return (amount * share).quantize(_HUNDREDTH, ROUND_HALF_UP)
