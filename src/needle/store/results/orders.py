"""Orders of the shop, and what is left of things that are counted.

An order is stored in the transaction of its lead, with its number and with its pieces taken: either
all of that is there or nothing.
"""

import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any, NamedTuple

from sqlalchemy import Connection, Engine, insert, select, text, update
from sqlalchemy.dialects import postgresql, sqlite

from needle.core.shop.pricing import Priced
from needle.store.refusing import StoreError
from needle.store.results.tables import leads, orders, shared, stock

__all__ = ["AS_THE_FORM_SAYS", "STATES", "Invoice", "NewOrder", "Order", "OrderLine",
           "OrderedError", "PaidBy", "SoldOutError", "UsedCoupon", "change_state", "left_of",
           "list_orders", "locked", "order_at", "order_from", "order_of", "put_order", "set_state",
           "write_invoice"]

# What an order can be, and what its owner may have it become. One of a robot took nothing; it
# waits to be looked at. One that was not paid in time lapsed, and took nothing in the end.
STATES: Mapping[str, tuple[str, ...]] = {
    "aside": ("new", "cancelled"), "new": ("paid", "sent", "cancelled"),
    "paid": ("sent", "done", "cancelled"), "sent": ("paid", "done"), "done": (), "cancelled": (),
    "lapsed": ()}
# In these its pieces are in nobody's hands.
_GIVEN_BACK = ("aside", "cancelled", "lapsed")
# So long the pieces of an order are kept for a payment.
_RESERVED_MS = 60 * 60_000
_NUMBER, _INVOICE = "order-number", "invoice-number"
# What coupons are called among what is counted, and how often one without a limit holds.
_COUPON, _ANY = "%", 1_000_000_000


class SoldOutError(StoreError):
    """Fewer pieces are left than an order takes; the message is for the visitor."""


class OrderedError(StoreError):
    """The cart was ordered already; the message is for the visitor."""


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
    cart: str = ""
    reserved_ms: int = 0


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


def order_from(found: Priced, currency: str, cart: str = "") -> NewOrder:
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
        currency=currency, discount=f"{found.off:.2f}",
        coupon=None if coupon is None else UsedCoupon(
            coupon.id, coupon.code, coupon.most, coupon.once),
        pay=paid, cart=cart, reserved_ms=_RESERVED_MS if paid.kind == "service" else 0)


def left_of(engine: Engine, written: Mapping[str, int]) -> dict[str, int]:
    """Return how many pieces are left.

    Args:
        written: What the marketer last wrote of each.
    """
    with engine.connect() as connection:
        held = {row.offer: row for row in connection.execute(
            select(stock).where(stock.c.offer.in_(list(written))))}
    return {offer: held[offer].left if offer in held and held[offer].written == count else count
            for offer, count in written.items()}


def put_order(connection: Connection, lead: int, at_ms: int, order: NewOrder, aside: bool) -> None:
    """Store an order in a transaction that has begun.

    Args:
        aside: It is looked at first, and takes no pieces until then.

    Raises:
        SoldOutError: Fewer pieces are left than it takes.
        OrderedError: Its cart was ordered already.
    """
    if order.cart and connection.execute(
            select(orders.c.id).where(orders.c.cart == order.cart)).first():
        raise OrderedError("cart-ordered")
    if not aside:
        _take(connection, order.lines)
        _use(connection, order.coupon, lead)
    state = "aside" if aside else "new"
    connection.execute(insert(orders).values(
        number=_next_number(connection), lead=lead, at=at_ms, state=state,
        states=json.dumps([(state, at_ms)]), lines=json.dumps(list(order.lines)),
        way=order.way[:120], things=order.things, discount=order.discount,
        coupon=json.dumps(order.coupon) if order.coupon is not None else "",
        carriage=order.carriage, tax=order.tax, taxes=json.dumps(list(order.taxes)),
        total=order.total, land=order.land, firm=order.firm, currency=order.currency,
        pay=json.dumps(order.pay) if order.pay.name else "",
        cart=order.cart or None, due=at_ms + order.reserved_ms if order.reserved_ms else 0,
        billed=""))


def _next_number(connection: Connection, name: str = _NUMBER) -> int:
    made = (postgresql if connection.dialect.name == "postgresql" else sqlite).insert(shared)
    connection.execute(made.values(name=name, value="0").on_conflict_do_nothing(
        index_elements=["name"]))
    # Whoever comes at the same moment waits here until this one is stored, or is not.
    return int(connection.execute(text(
        "UPDATE shared SET value = CAST(CAST(value AS INTEGER) + 1 AS VARCHAR(20)) "
        "WHERE name = :name RETURNING value"), {"name": name}).scalar_one())


def _take(connection: Connection, lines: Sequence[OrderLine]) -> None:
    # Always in one order, so that two orders never wait for each other.
    for line in sorted(lines):
        if line.counted is None:
            continue
        _write_anew(connection, line.key, line.counted)
        taken = connection.execute(update(stock).where(
            stock.c.offer == line.key, stock.c.left >= line.pieces).values(
                left=stock.c.left - line.pieces))
        if not taken.rowcount:
            left = connection.execute(select(stock.c.left).where(
                stock.c.offer == line.key)).scalar() or 0
            if left > 0:
                raise SoldOutError("cart-fewer", thing=line.thing, left=left, count=line.pieces)
            raise SoldOutError("cart-sold-out", thing=line.thing)


def _use(connection: Connection, coupon: UsedCoupon | None, lead: int) -> None:
    """Have a coupon be used once more. It is counted as pieces are, so that it holds as often as it
    says and no more, however many ask at once."""
    if coupon is None:
        return
    key, most = _COUPON + coupon.id, coupon.most or _ANY
    _write_anew(connection, key, most)
    used = connection.execute(update(stock).where(stock.c.offer == key, stock.c.left > 0).values(
        left=stock.c.left - 1))
    if not used.rowcount:
        raise SoldOutError("coupon-used-up", code=coupon.code)
    # Whoever is here holds the row of the coupon: nobody else looks at the same time.
    person = select(leads.c.person).where(leads.c.id == lead).scalar_subquery()
    if coupon.once and connection.execute(
            select(orders.c.id).join(leads, leads.c.id == orders.c.lead).where(
                leads.c.person == person, leads.c.person != "", orders.c.lead != lead,
                orders.c.coupon.startswith(f'["{coupon.id}"', autoescape=True),
                orders.c.state.not_in(_GIVEN_BACK)).limit(1)).first():
        raise SoldOutError("coupon-once", code=coupon.code)


def _write_anew(connection: Connection, offer: str, written: int) -> None:
    """Have a number hold that the marketer wrote since."""
    made = (postgresql if connection.dialect.name == "postgresql" else sqlite).insert(stock)
    connection.execute(made.values(offer=offer, written=written, left=written)
                       .on_conflict_do_nothing(index_elements=["offer"]))
    connection.execute(update(stock).where(
        stock.c.offer == offer, stock.c.written != written).values(written=written, left=written))


def list_orders(engine: Engine, state: str = "") -> list[Order]:
    """Return orders, the newest first.

    Args:
        state: Only those; empty for all.
    """
    query = select(orders, leads.c.email, leads.c.answers).join(
        leads, leads.c.id == orders.c.lead, isouter=True).order_by(orders.c.id.desc())
    if state:
        query = query.where(orders.c.state == state)
    with engine.connect() as connection:
        return [_order(row) for row in connection.execute(query)]


def order_of(engine: Engine, lead_key: str) -> Order | None:
    """Return the order that came with a lead; `None` if none did, or the lead was erased."""
    with engine.connect() as connection:
        row = connection.execute(select(orders, leads.c.email, leads.c.answers).join(
            leads, leads.c.id == orders.c.lead).where(leads.c.key == lead_key)).one_or_none()
        return _order(row) if row is not None else None


def order_at(engine: Engine, order_id: int) -> tuple[Order, str] | None:
    """Return an order by its id, and the key of its lead; `None` if there is none, or its lead was
    erased."""
    with engine.connect() as connection:
        row = connection.execute(select(orders, leads.c.email, leads.c.answers, leads.c.key).join(
            leads, leads.c.id == orders.c.lead).where(orders.c.id == order_id)).one_or_none()
        return (_order(row), row.key) if row is not None else None


def _order(row: Any) -> Order:
    return Order(
        id=row.id, number=row.number, lead=row.lead, at_ms=row.at, state=row.state,
        states=[(state, at) for state, at in json.loads(row.states)],
        lines=[OrderLine(*line) for line in json.loads(row.lines)], way=row.way,
        things=row.things, discount=row.discount,
        coupon=UsedCoupon(*json.loads(row.coupon)) if row.coupon else None,
        carriage=row.carriage, tax=row.tax,
        taxes=[(percent, net, tax) for percent, net, tax in json.loads(row.taxes)],
        land=row.land, firm=row.firm,
        total=row.total, currency=row.currency, email=row.email or "",
        pay=PaidBy(*json.loads(row.pay)) if row.pay else AS_THE_FORM_SAYS, cart=row.cart or "",
        due_ms=row.due,
        invoice=Invoice(row.invoice, *json.loads(row.billed)) if row.invoice else None,
        answers=[(label, words) for _, label, words in json.loads(row.answers or "[]")])


def set_state(engine: Engine, order_id: int, state: str, at_ms: int) -> None:
    """Have an order be something else; one that is cancelled gives its pieces back, one that was
    aside takes them.

    Raises:
        SoldOutError: Fewer pieces are left than it takes.
        StoreError: It cannot become that from what it is now.
    """
    with engine.begin() as connection:
        row = locked(connection, order_id)
        if row is None or state not in STATES[row.state]:
            raise StoreError("order-state")
        change_state(connection, row, state, at_ms)


def locked(connection: Connection, order_id: int) -> Any:
    """Return an order's row, which nobody else changes until the transaction ends."""
    # SQLite has one lock, which the first write takes: before anything was read.
    connection.execute(update(orders).where(orders.c.id == order_id).values(due=orders.c.due))
    return connection.execute(select(orders).where(
        orders.c.id == order_id).with_for_update()).one_or_none()


def change_state(connection: Connection, row: Any, state: str, at_ms: int) -> None:
    """Have an order be something else, whatever it is; pieces and coupon are taken or given back as
    that goes with it.

    Args:
        row: As `locked` returns it.

    Raises:
        SoldOutError: Fewer pieces are left than it takes.
    """
    lines = [OrderLine(*line) for line in json.loads(row.lines)]
    coupon = UsedCoupon(*json.loads(row.coupon)) if row.coupon else None
    had, has = row.state not in _GIVEN_BACK, state not in _GIVEN_BACK
    if has and not had:
        _take(connection, lines)
        _use(connection, coupon, row.lead)
    elif had and not has:
        _give_back(connection, lines, coupon)
    connection.execute(update(orders).where(orders.c.id == row.id).values(
        state=state, states=json.dumps([*json.loads(row.states), (state, at_ms)])))


def write_invoice(engine: Engine, order_id: int, to: str, at_ms: int) -> Invoice:
    """Return the invoice of an order, numbered when it is asked for first.

    Args:
        to: Whom it names; unused where it was written before.

    Raises:
        StoreError: The order is gone, or nobody has it.
    """
    with engine.begin() as connection:
        row = locked(connection, order_id)
        if row is None or (row.invoice is None and row.state in _GIVEN_BACK):
            raise StoreError("order-state")
        if row.invoice is not None:
            return Invoice(row.invoice, *json.loads(row.billed))
        made = Invoice(_next_number(connection, _INVOICE), at_ms, to)
        connection.execute(update(orders).where(orders.c.id == order_id).values(
            invoice=made.number, billed=json.dumps([made.at_ms, made.to])))
        return made


def _give_back(connection: Connection, lines: Sequence[OrderLine], coupon: UsedCoupon | None,
               ) -> None:
    for line in lines:  # Unless the marketer has counted since.
        connection.execute(update(stock).where(
            stock.c.offer == line.key, stock.c.written == line.counted).values(
                left=stock.c.left + line.pieces))
    if coupon is not None:
        connection.execute(update(stock).where(
            stock.c.offer == _COUPON + coupon.id,
            stock.c.written == (coupon.most or _ANY)).values(left=stock.c.left + 1))
