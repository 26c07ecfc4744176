"""All orders of one person: who asks for them gets a letter, and only that leads to them."""

import secrets

from sqlalchemy import Engine, func, insert, select

from needle.core.leads.people import normal_address
from needle.core.values.ids import Id
from needle.store.results.deliveries import lane_of
from needle.store.results.ordered import Order
from needle.store.results.orders import read_order
from needle.store.results.tables import leads, orders, outbox

__all__ = ["ask_account", "orders_beside"]

_MOST_LISTED = 100
# So often a day a letter is written to one address, whoever asks for it.
_MOST_A_DAY, _DAY_MS = 5, 86_400_000


def ask_account(engine: Engine, email: str, route: Id, at_ms: int) -> bool:
    """Put a letter into the outbox that leads to all orders of an address, with the newest of them;
    return whether there is one.

    Args:
        route: What such letters are called in the outbox.
    """
    person = normal_address(email)
    if not person:
        return False
    with engine.begin() as connection:
        lead = connection.execute(
            select(leads.c.id, leads.c.key).join(orders, orders.c.lead == leads.c.id)
            .where(leads.c.person == person).order_by(orders.c.id.desc()).limit(1)).first()
        if lead is None:
            return False
        written = connection.execute(select(func.count()).select_from(outbox).join(
            leads, leads.c.id == outbox.c.lead).where(
                leads.c.person == person, outbox.c.route == route,
                outbox.c.due > at_ms - _DAY_MS)).scalar_one()
        if written >= _MOST_A_DAY:
            return False
        connection.execute(insert(outbox).values(
            lead=lead.id, route=route, key=f"{route}-{secrets.token_hex(16)}", state="waiting",
            lane=lane_of(route, person), due=at_ms, result="", result_at=0))
        return True


def orders_beside(engine: Engine, lead_key: str) -> list[tuple[Order, str]]:
    """Return the orders of the person of a lead, the newest first, each with the key of its own
    lead; none for a lead that was erased."""
    person = select(leads.c.person).where(leads.c.key == lead_key).scalar_subquery()
    with engine.connect() as connection:
        return [(read_order(row), row.key) for row in connection.execute(
            select(orders, leads.c.email, leads.c.answers, leads.c.key)
            .join(leads, leads.c.id == orders.c.lead)
            .where(leads.c.person == person, leads.c.person != "")
            .order_by(orders.c.id.desc()).limit(_MOST_LISTED))]
