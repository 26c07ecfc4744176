"""What is ordered, as values."""

from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal
from typing import NamedTuple

from needle.core.shop.pricing import Priced
from needle.core.values.shop import Shop

__all__ = ["AS_THE_FORM_SAYS", "Invoice", "NewOrder", "Order", "OrderLine", "PaidBy", "Tip",
           "UsedCoupon", "order_from"]

# So long the pieces of an order are kept for a payment.
_RESERVED_MS = 60 * 60_000


class PaidBy(NamedTuple):
    """How an order is paid.

    Attributes:
        kind: As of `values.shop.PayWay`, and so are the others.
    """

    id: str = ""
    name: str = ""
    kind: str = ""
    service: str = ""
    words: str = ""


AS_THE_FORM_SAYS = PaidBy()


class OrderLine(NamedTuple):
    """Some pieces of one thing, as it was when it was ordered.

    Attributes:
        key: The key of a cart's line.
        unit, total: Amounts, "12.50".
        counted: What the marketer last wrote of how many there are; `None` if nobody counts.
        by: Why it was put in, as of a cart's line.
    """

    key: str
    thing: str
    sku: str
    pieces: int
    unit: str
    total: str
    counted: int | None = None
    by: str = ""


class UsedCoupon(NamedTuple):
    """The coupon of an order.

    Attributes:
        most: So often it holds in all; 0 for no limit.
        once: Once for each person.
    """

    id: str
    code: str
    most: int
    once: bool


class Tip(NamedTuple):
    """What is given on top of an order.

    Attributes:
        name: As the shop called it.
        amount: "2.50".
    """

    name: str
    amount: str


class Invoice(NamedTuple):
    """What an invoice says besides its order.

    Attributes:
        number: From 1 without a gap.
        to: Whom it names, in lines; that stays when the person is erased.
    """

    number: int
    at_ms: int
    to: str


@dataclass(frozen=True, slots=True, kw_only=True)
class NewOrder:
    """An order as it is stored; amounts as "12.50".

    Attributes:
        tax: The sum of the `taxes`: percent, what it is of, and the tax.
        land: Where it goes to, by two letters; empty where nobody was asked.
        firm: The tax number of a business that owes the tax itself.
        pay: How it is paid; with no name for as its form says.
        tip: What is given on top; `None` for nothing.
        cart: What tells the cart from others; empty for none.
        reserved_ms: So long its pieces are kept for a payment; 0 for always.
    """

    lines: Sequence[OrderLine]
    way: str
    things: str
    carriage: str
    tax: str
    total: str
    currency: str
    discount: str = "0.00"
    coupon: UsedCoupon | None = None
    taxes: Sequence[tuple[str, str, str]] = ()
    land: str = ""
    firm: str = ""
    pay: PaidBy = AS_THE_FORM_SAYS
    tip: Tip | None = None
    cart: str = ""
    reserved_ms: int = 0

    @property
    def off(self) -> str:
        """What the coupon takes off, as an amount below zero; "0.00" where that is nothing."""
        return f"-{self.discount}" if Decimal(self.discount) else self.discount

    @property
    def taxed_on_top(self) -> bool:
        """Whether tax comes on top of its prices."""
        return Decimal(self.total) > sum(map(Decimal, (
            self.things, self.off, self.carriage, self.tip.amount if self.tip is not None else 0)))


@dataclass(frozen=True, slots=True, kw_only=True)
class Order(NewOrder):
    """A stored order.

    Attributes:
        states: What it was, and since when, in milliseconds since 1970 UTC.
        lead: The lead that it came with; `None` once that was erased.
        email: Whose it is; empty once the person was erased.
        answers: What they wrote, as label and words.
        due_ms: Until when its pieces are kept for a payment; 0 for always.
        invoice: Its invoice; `None` while none was written.
    """

    id: int
    number: int
    lead: int | None
    at_ms: int
    state: str
    states: Sequence[tuple[str, int]]
    email: str
    answers: Sequence[tuple[str, str]]
    due_ms: int = 0
    invoice: "Invoice | None" = None

    @property
    def open(self) -> bool:
        """Whether it waits to be paid through a payment service."""
        return self.pay.kind == "service" and self.state in ("new", "aside")


def order_from(found: Priced, shop: Shop, cart: str = "") -> NewOrder:
    """Return what is ordered with a cart that can be ordered.

    Args:
        cart: What tells the cart from others.
    """
    pay, coupon = found.pay, found.coupon
    paid = AS_THE_FORM_SAYS if pay is None else PaidBy(
        pay.id, pay.name, pay.kind, pay.service, pay.words)
    return NewOrder(
        lines=[OrderLine(one.line.key, one.sold.name, one.sold.offer.sku, one.line.pieces,
                         f"{one.unit:.2f}", f"{one.total:.2f}", one.sold.offer.stock, one.line.by)
               for one in found.lines],
        way=found.way.name if found.way is not None else "", things=f"{found.things:.2f}",
        carriage=f"{found.carriage:.2f}", tax=f"{found.tax:.2f}",
        taxes=[(one.percent, f"{one.net:.2f}", f"{one.tax:.2f}") for one in found.taxes],
        land=found.land, firm=found.firm if found.reverse else "", total=f"{found.total:.2f}",
        currency=shop.currency, discount=f"{found.off:.2f}",
        coupon=None if coupon is None else UsedCoupon(
            coupon.id, coupon.code, coupon.most, coupon.once),
        tip=Tip(shop.tip, f"{found.tip:.2f}") if found.tip else None,
        pay=paid, cart=cart, reserved_ms=_RESERVED_MS if paid.kind == "service" else 0)
