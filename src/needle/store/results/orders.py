"""Orders of the shop.

An order is stored in the transaction of its lead, with its number and with its pieces taken: either
all of that is there or nothing.
"""

import json
from collections.abc import Mapping
from typing import Any

from sqlalchemy import Connection, Engine, insert, select, text, update
from sqlalchemy.dialects import postgresql, sqlite

from needle.store.refusing import StoreError
from needle.store.results.ordered import (
    AS_THE_FORM_SAYS,
    Invoice,
    NewOrder,
    Order,
    OrderLine,
    PaidBy,
    Tip,
    UsedCoupon,
)
from needle.store.results.stock import GIVEN_BACK, give_back, take_pieces, take_turn, use_coupon
from needle.store.results.tables import leads, orders, shared

__all__ = ["STATES", "OrderedError", "change_state", "list_orders", "locked", "order_at",
           "order_of", "put_order", "read_order", "set_state", "write_invoice"]

# What an order can be, and what its owner may have it become. One of a robot took nothing; it
# waits to be looked at. One that was not paid in time lapsed, and took nothing in the end.
STATES: Mapping[str, tuple[str, ...]] = {
    "aside": ("new", "cancelled"), "new": ("paid", "sent", "cancelled"),
    "paid": ("sent", "done", "cancelled"), "sent": ("paid", "done"), "done": (), "cancelled": (),
    "lapsed": ()}
_NUMBER, _INVOICE = "order-number", "invoice-number"


class OrderedError(StoreError):
    """The cart was ordered already; the message is for the visitor."""


def put_order(connection: Connection, lead: int, at_ms: int, order: NewOrder, aside: bool) -> None:
    """Store an order in a transaction that has begun, when it is its turn (`take_turn`).

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
        take_pieces(connection, order.lines)
        use_coupon(connection, order.coupon, lead)
    state = "aside" if aside else "new"
    connection.execute(insert(orders).values(
        number=_next_number(connection), lead=lead, at=at_ms, state=state,
        states=json.dumps([(state, at_ms)]), lines=json.dumps(list(order.lines)),
        way=order.way[:120], things=order.things, discount=order.discount,
        coupon=json.dumps(order.coupon) if order.coupon is not None else "",
        carriage=order.carriage, tax=order.tax, taxes=json.dumps(list(order.taxes)),
        total=order.total, land=order.land, firm=order.firm, currency=order.currency,
        pay=json.dumps(order.pay) if order.pay.name else "",
        tip=json.dumps(order.tip) if order.tip is not None else "",
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
        return [read_order(row) for row in connection.execute(query)]


def order_of(engine: Engine, lead_key: str) -> Order | None:
    """Return the order that came with a lead; `None` if none did, or the lead was erased."""
    with engine.connect() as connection:
        row = connection.execute(select(orders, leads.c.email, leads.c.answers).join(
            leads, leads.c.id == orders.c.lead).where(leads.c.key == lead_key)).one_or_none()
        return read_order(row) if row is not None else None


def order_at(engine: Engine, order_id: int) -> tuple[Order, str] | None:
    """Return an order by its id, and the key of its lead; `None` if there is none, or its lead was
    erased."""
    with engine.connect() as connection:
        row = connection.execute(select(orders, leads.c.email, leads.c.answers, leads.c.key).join(
            leads, leads.c.id == orders.c.lead).where(orders.c.id == order_id)).one_or_none()
        return (read_order(row), row.key) if row is not None else None


def read_order(row: Any) -> Order:
    """Return an order of a row that has its lead's address and answers as well."""
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
        tip=Tip(*json.loads(row.tip)) if row.tip else None, due_ms=row.due,
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
    had, has = row.state not in GIVEN_BACK, state not in GIVEN_BACK
    if had != has:
        take_turn(connection)
    if has and not had:
        take_pieces(connection, lines)
        use_coupon(connection, coupon, row.lead)
    elif had and not has:
        give_back(connection, lines, coupon)
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
        if row is None or (row.invoice is None and row.state in GIVEN_BACK):
            raise StoreError("order-state")
        if row.invoice is not None:
            return Invoice(row.invoice, *json.loads(row.billed))
        made = Invoice(_next_number(connection, _INVOICE), at_ms, to)
        connection.execute(update(orders).where(orders.c.id == order_id).values(
            invoice=made.number, billed=json.dumps([made.at_ms, made.to])))
        return made
