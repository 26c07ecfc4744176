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

from needle.store.refusing import StoreError
from needle.store.results.tables import leads, orders, shared, stock

__all__ = ["STATES", "NewOrder", "Order", "OrderLine", "SoldOutError", "UsedCoupon", "left_of",
           "list_orders", "order_of", "put_order", "set_state"]

# What an order can be, and what it may become. One of a robot took nothing; it waits to be looked
# at.
STATES: Mapping[str, tuple[str, ...]] = {
    "aside": ("new", "cancelled"), "new": ("paid", "sent", "cancelled"),
    "paid": ("sent", "done", "cancelled"), "sent": ("paid", "done"), "done": (), "cancelled": ()}
_NUMBER = "order-number"
# What coupons are called among what is counted, and how often one without a limit holds.
_COUPON, _ANY = "%", 1_000_000_000


class SoldOutError(StoreError):
    """Fewer pieces are left than an order takes; the message is for the visitor."""


class OrderLine(NamedTuple):
    """Some pieces of one thing, as it was when it was ordered.

    Attributes:
        key: The key of a cart's line.
        unit, total: Amounts, "12.50".
        counted: What the marketer last wrote of how many there are; `None` if nobody counts.
    """

    key: str
    thing: str
    sku: str
    pieces: int
    unit: str
    total: str
    counted: int | None = None


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


@dataclass(frozen=True, slots=True, kw_only=True)
class NewOrder:
    """An order as it is stored; amounts as "12.50"."""

    lines: Sequence[OrderLine]
    way: str
    things: str
    carriage: str
    tax: str
    percent: str
    total: str
    currency: str
    discount: str = "0.00"
    coupon: UsedCoupon | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Order(NewOrder):
    """A stored order.

    Attributes:
        states: What it was, and since when, in milliseconds since 1970 UTC.
        lead: The lead that it came with; `None` once that was erased.
        email: Whose it is; empty once the person was erased.
        answers: What they wrote, as label and words.
    """

    id: int
    number: int
    lead: int | None
    at_ms: int
    state: str
    states: Sequence[tuple[str, int]]
    email: str
    answers: Sequence[tuple[str, str]]


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
    """
    if not aside:
        _take(connection, order.lines)
        _use(connection, order.coupon, lead)
    state = "aside" if aside else "new"
    connection.execute(insert(orders).values(
        number=_next_number(connection), lead=lead, at=at_ms, state=state,
        states=json.dumps([(state, at_ms)]), lines=json.dumps(list(order.lines)),
        way=order.way[:120], things=order.things, discount=order.discount,
        coupon=json.dumps(order.coupon) if order.coupon is not None else "",
        carriage=order.carriage, tax=order.tax, percent=order.percent, total=order.total,
        currency=order.currency))


def _next_number(connection: Connection) -> int:
    made = (postgresql if connection.dialect.name == "postgresql" else sqlite).insert(shared)
    connection.execute(made.values(name=_NUMBER, value="0").on_conflict_do_nothing(
        index_elements=["name"]))
    # Whoever comes at the same moment waits here until this one is stored, or is not.
    return int(connection.execute(text(
        "UPDATE shared SET value = CAST(CAST(value AS INTEGER) + 1 AS VARCHAR(20)) "
        "WHERE name = :name RETURNING value"), {"name": _NUMBER}).scalar_one())


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
                orders.c.state.not_in(("aside", "cancelled"))).limit(1)).first():
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


def _order(row: Any) -> Order:
    return Order(
        id=row.id, number=row.number, lead=row.lead, at_ms=row.at, state=row.state,
        states=[(state, at) for state, at in json.loads(row.states)],
        lines=[OrderLine(*line) for line in json.loads(row.lines)], way=row.way,
        things=row.things, discount=row.discount,
        coupon=UsedCoupon(*json.loads(row.coupon)) if row.coupon else None,
        carriage=row.carriage, tax=row.tax, percent=row.percent,
        total=row.total, currency=row.currency, email=row.email or "",
        answers=[(label, words) for _, label, words in json.loads(row.answers or "[]")])


def set_state(engine: Engine, order_id: int, state: str, at_ms: int) -> None:
    """Have an order be something else; one that is cancelled gives its pieces back, one that was
    aside takes them.

    Raises:
        SoldOutError: Fewer pieces are left than it takes.
        StoreError: It cannot become that from what it is now.
    """
    with engine.begin() as connection:
        row = connection.execute(select(orders).where(
            orders.c.id == order_id).with_for_update()).one_or_none()
        if row is None or state not in STATES[row.state]:
            raise StoreError("order-state")
        lines = [OrderLine(*line) for line in json.loads(row.lines)]
        coupon = UsedCoupon(*json.loads(row.coupon)) if row.coupon else None
        if row.state == "aside" and state == "new":
            _take(connection, lines)
            _use(connection, coupon, row.lead)
        elif state == "cancelled" and row.state != "aside":
            for line in lines:  # Unless the marketer has counted since.
                connection.execute(update(stock).where(
                    stock.c.offer == line.key, stock.c.written == line.counted).values(
                        left=stock.c.left + line.pieces))
            if coupon is not None:
                connection.execute(update(stock).where(
                    stock.c.offer == _COUPON + coupon.id,
                    stock.c.written == (coupon.most or _ANY)).values(left=stock.c.left + 1))
        connection.execute(update(orders).where(orders.c.id == order_id).values(
            state=state, states=json.dumps([*json.loads(row.states), (state, at_ms)])))
