"""What is paid through payment services, and what is paid back.

A payment is a row before its service hears of it, under a key that the service knows it by; so
whatever ends in between, it is begun once. An order waits for one payment at a time. What comes in
for an order that needs it no longer goes back by itself.
"""

import secrets
from collections.abc import Sequence
from decimal import Decimal
from typing import Any, NamedTuple

from sqlalchemy import Connection, Engine, insert, select, update

from needle.core.measure.events import Event, EventKind
from needle.store.refusing import StoreError
from needle.store.results.orders import change_state, locked
from needle.store.results.stock import SoldOutError
from needle.store.results.stream import append
from needle.store.results.tables import leads, orders, outbox, payments, refunds

__all__ = ["Payment", "Refund", "ask_refund", "begin_payment", "due_payments", "due_refunds",
           "lapse_orders", "note_payment", "note_refund", "open_payment", "payment_called",
           "payments_of", "refundable", "refunds_of", "settle_payment"]

# After so long a payment or a refund is looked at again; the last one holds from then on.
_PAUSES_MS = (5_000, 10_000, 20_000, 60_000, 300_000, 1_800_000)
# A payment of an order that was paid or lapsed long ago is looked at no longer.
_GIVEN_UP_MS = 7 * 86_400_000


class Payment(NamedTuple):
    """A payment.

    Attributes:
        state: "asked", "open", "paid", "failed" or "odd".
        amount: As "12.50".
        words: What went wrong last.
    """

    id: int
    order: int
    key: str
    service: str
    reference: str
    go: str
    state: str
    amount: str
    currency: str
    at_ms: int
    words: str


class Refund(NamedTuple):
    """Something that is paid back.

    Attributes:
        payment: What it is of; `None` where it was paid otherwise than through a service.
        state: "waiting", "done" or "failed".
    """

    id: int
    order: int
    payment: int | None
    key: str
    amount: str
    state: str
    at_ms: int
    words: str


def _payment(row: Any) -> Payment:
    return Payment(row.id, row.order, row.key, row.service, row.reference, row.go, row.state,
                   row.amount, row.currency, row.at, row.words)


def _refund(row: Any) -> Refund:
    return Refund(row.id, row.order, row.payment, row.key, row.amount, row.state, row.at, row.words)


# Paying

def begin_payment(engine: Engine, order_id: int, service: str, at_ms: int) -> Payment:
    """Return the payment that an order waits for; a new one if the last one failed.

    Raises:
        StoreError: The order does not wait to be paid.
    """
    with engine.begin() as connection:
        order = locked(connection, order_id)
        if order is None or order.state not in ("new", "aside"):
            raise StoreError("order-not-open")
        row = connection.execute(select(payments).where(
            payments.c.order == order_id, payments.c.state.in_(("asked", "open")))).first()
        if row is None:
            made = connection.execute(insert(payments).values(
                order=order_id, key=secrets.token_urlsafe(24), service=service, reference="",
                go="", state="asked", amount=order.total, currency=order.currency, at=at_ms,
                next=at_ms + _PAUSES_MS[0], tries=0, words="")).inserted_primary_key
            assert made is not None
            row = connection.execute(select(payments).where(payments.c.id == made[0])).one()
        return _payment(row)


def open_payment(engine: Engine, payment_id: int, reference: str, go: str) -> None:
    """Note what the service calls a payment, and where it is paid."""
    with engine.begin() as connection:
        connection.execute(update(payments).where(
            payments.c.id == payment_id, payments.c.state == "asked").values(
                state="open", reference=reference[:120], go=go[:2000], words=""))


def payment_called(engine: Engine, service: str, reference: str) -> Payment | None:
    """Return the payment that a service calls so."""
    with engine.connect() as connection:
        row = connection.execute(select(payments).where(
            payments.c.service == service, payments.c.reference == reference)).first()
        return _payment(row) if row is not None else None


def settle_payment(engine: Engine, payment_id: int, state: str, amount: str, currency: str,
                   at_ms: int) -> None:
    """Take what the service says of a payment, however often and late it says it.

    Args:
        state: "paid" or "failed"; anything else changes nothing.
        amount, currency: What was paid. Where that is something else than was asked, nothing
            counts as paid, and a person looks at it.
    """
    with engine.begin() as connection:
        held = connection.execute(update(payments).where(
            payments.c.id == payment_id, payments.c.state.in_(("asked", "open", "failed"))).values(
                tries=payments.c.tries)).rowcount
        if not held:
            return
        row = connection.execute(select(payments).where(payments.c.id == payment_id)).one()
        if state == "failed" and row.state != "failed":
            _mark(connection, row.id, "failed")
        elif state == "paid" and (Decimal(amount), currency) != (Decimal(row.amount), row.currency):
            _mark(connection, row.id, "odd", f"{amount} {currency}")
        elif state == "paid":
            _mark(connection, row.id, "paid")
            _count_as_paid(connection, row, at_ms)


def _mark(connection: Connection, payment_id: int, state: str, words: str = "") -> None:
    connection.execute(update(payments).where(payments.c.id == payment_id).values(
        state=state, words=words[:400]))


def _count_as_paid(connection: Connection, row: Any, at_ms: int) -> None:
    """Have an order be paid; one that needs no payment any longer gets it back."""
    order = locked(connection, row.order)
    if order is not None and order.state in ("new", "aside", "lapsed"):
        try:
            # The pieces of one that lapsed may be there still.
            with connection.begin_nested():
                if order.state == "aside":
                    _is_a_person(connection, order, at_ms)
                change_state(connection, order, "paid", at_ms)
        except SoldOutError:
            pass
        else:
            return
    _put_refund(connection, row.order, row.id, row.amount, f"back-{row.key}", at_ms, "waiting")


def _is_a_person(connection: Connection, order: Any, at_ms: int) -> None:
    """Have a lead count as a person's that looked automatic, and go where it would have gone."""
    lead = connection.execute(select(leads).where(leads.c.id == order.lead)).first()
    if lead is None or not lead.robot:
        return
    connection.execute(update(leads).where(leads.c.id == lead.id).values(robot=False))
    connection.execute(update(outbox).where(
        outbox.c.lead == lead.id, outbox.c.state == "held").values(state="waiting", due=at_ms))
    append(connection, [Event(at_ms=lead.at, visitor=lead.visitor, kind=EventKind.LEAD,
                              page=lead.page, variant=lead.variant, what=lead.form)])


def note_payment(engine: Engine, payment_id: int, words: str) -> None:
    """Note what went wrong with a payment."""
    with engine.begin() as connection:
        connection.execute(update(payments).where(payments.c.id == payment_id).values(
            words=words[:400]))


def payments_of(engine: Engine, order_id: int) -> list[Payment]:
    """Return the payments of an order, the first one first."""
    with engine.connect() as connection:
        return [_payment(row) for row in connection.execute(select(payments).where(
            payments.c.order == order_id).order_by(payments.c.id))]


def due_payments(engine: Engine, at_ms: int, most: int = 20) -> list[Payment]:
    """Return payments that are to be looked up now; they are not returned again for a while."""
    found = []
    with engine.begin() as connection:
        for row in _claimed(connection, payments, ("asked", "open"), at_ms, most):
            found.append(_payment(row))
            if row.at + _GIVEN_UP_MS < at_ms:
                _mark(connection, row.id, "failed")
    return found


def _claimed(connection: Connection, table: Any, states: Sequence[str], at_ms: int, most: int,
             ) -> list[Any]:
    """Return rows that are due, and put off when they are due next."""
    wanted = list(connection.execute(select(table).where(
        table.c.state.in_(states), table.c.next <= at_ms).order_by(table.c.next).limit(most)))
    found = []
    for row in wanted:
        pause = _PAUSES_MS[min(row.tries, len(_PAUSES_MS) - 1)]
        mine = connection.execute(update(table).where(
            table.c.id == row.id, table.c.next == row.next, table.c.state == row.state).values(
                next=at_ms + pause, tries=row.tries + 1)).rowcount
        if mine:  # Another host may have been there first.
            found.append(row)
    return found


def lapse_orders(engine: Engine, at_ms: int) -> int:
    """Have orders lapse that were not paid in time; return how many did."""
    with engine.connect() as connection:
        late = list(connection.execute(select(orders.c.id).where(
            orders.c.due > 0, orders.c.due <= at_ms, orders.c.state == "new")).scalars())
    count = 0
    for order_id in late:
        with engine.begin() as connection:
            row = locked(connection, order_id)
            if row is not None and row.state == "new":
                change_state(connection, row, "lapsed", at_ms)
                count += 1
    return count


# Paying back

def refundable(engine: Engine, order_id: int) -> Decimal:
    """Return how much of an order can be paid back still."""
    with engine.connect() as connection:
        order = connection.execute(select(orders).where(orders.c.id == order_id)).one()
        return _refundable(connection, order)


def _refundable(connection: Connection, order: Any) -> Decimal:
    paid = '"paid"' in order.states
    given = sum((Decimal(amount) for amount in connection.execute(select(refunds.c.amount).where(
        refunds.c.order == order.id, refunds.c.state != "failed",
        refunds.c.key.not_like("back-%"))).scalars()), Decimal(0))
    return Decimal(order.total) - given if paid else Decimal(0)


def ask_refund(engine: Engine, order_id: int, amount: Decimal, key: str, at_ms: int) -> None:
    """Have some of an order be paid back: through the service that it was paid through, or, where
    it was paid otherwise, as noted here.

    Args:
        key: The same for one wish, however often it is asked.

    Raises:
        StoreError: It is more than was paid, or nothing.
    """
    with engine.begin() as connection:
        order = locked(connection, order_id)
        if order is None or connection.execute(
                select(refunds.c.id).where(refunds.c.key == key)).first():
            return
        most = _refundable(connection, order)
        if not 0 < amount <= most:
            raise StoreError("refund-amount", most=f"{most:.2f} {order.currency}".strip())
        paid = connection.execute(select(payments.c.id).where(
            payments.c.order == order_id, payments.c.state == "paid").order_by(
                payments.c.id)).scalars().first()
        _put_refund(connection, order_id, paid, f"{amount:.2f}", key, at_ms,
                    "waiting" if paid is not None else "done")


def _put_refund(connection: Connection, order_id: int, payment: int | None, amount: str, key: str,
                at_ms: int, state: str) -> None:
    connection.execute(insert(refunds).values(
        order=order_id, payment=payment, key=key[:40], amount=amount, state=state, at=at_ms,
        next=at_ms, tries=0, words=""))


def due_refunds(engine: Engine, at_ms: int, most: int = 20) -> list[tuple[Refund, Payment]]:
    """Return what is to be paid back now, and of which payment; they are not returned again for a
    while."""
    with engine.begin() as connection:
        return [(_refund(row), _payment(connection.execute(select(payments).where(
            payments.c.id == row.payment)).one()))
            for row in _claimed(connection, refunds, ("waiting",), at_ms, most)]


def note_refund(engine: Engine, refund_id: int, state: str, words: str = "") -> None:
    """Note how a refund fared: "done", "failed", or "waiting" still."""
    with engine.begin() as connection:
        connection.execute(update(refunds).where(
            refunds.c.id == refund_id, refunds.c.state == "waiting").values(
                state=state, words=words[:400]))


def refunds_of(engine: Engine, order_id: int) -> list[Refund]:
    """Return what was paid back of an order, the first one first."""
    with engine.connect() as connection:
        return [_refund(row) for row in connection.execute(select(refunds).where(
            refunds.c.order == order_id).order_by(refunds.c.id))]
