"""Writing leads."""

import json
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from functools import cache
from typing import Any

from sqlalchemy import Connection, Engine, bindparam, delete, func, insert, select
from sqlalchemy.dialects import postgresql, sqlite

from needle.core.leads.people import normal_address
from needle.core.measure.events import Event, EventKind
from needle.core.values.ids import Id
from needle.store.results.deliveries import lane_of
from needle.store.results.ordered import NewOrder
from needle.store.results.orders import put_order
from needle.store.results.stock import take_turn
from needle.store.results.stream import append
from needle.store.results.tables import filed, leads, outbox, unfinished

__all__ = ["MOST_LETTERS", "ORDER", "Kept", "NewLead", "Unfinished", "take_lead", "take_leads",
           "take_unfinished"]

# Leads of one address that have letters written to it within a day.
MOST_LETTERS = 3
# The field under which what was ordered stands among a lead's answers.
ORDER = "order"
_DAY_MS = 86_400_000
_TOO_MANY = "not sent: too many letters were asked for"


@dataclass(frozen=True, slots=True, kw_only=True)
class NewLead:
    """A lead as it is stored.

    Attributes:
        key: The same for the same sending; a second one with it is not stored.
        at_ms: When, in milliseconds since 1970 UTC.
        answers: Field id, label and answer, in the form's order.
        signs: What speaks for a robot, in words.
        robot: It is put aside: delivered nowhere, not counted.
        routes: Where it goes; ignored for a robot.
        letters: Letters to the visitor, and the state in which each begins: "waiting", "held"
            until the visitor confirms, or "refused" where too many were asked for.
        held: The routes wait until the visitor confirms.
        files: Field id, name and path below the project of what was sent along.
        trial: It was made to see its way.
        outside: The page of another site on which the form stood; empty for one of the own.
        mark: `PRACTICE` if a practice visitor sent it: it is counted, and delivered nowhere.
        aside: They are none of the page's split test.
        order: What they order with it.
    """

    key: str
    at_ms: int
    visitor: str
    form: Id
    form_name: str
    page: Id
    variant: str
    email: str
    answers: Sequence[tuple[str, str, str]]
    signs: Sequence[str] = ()
    robot: bool = False
    source: str = ""
    routes: Iterable[Id] = ()
    letters: Mapping[Id, str] = field(default_factory=dict)
    held: bool = False
    files: Sequence[tuple[Id, str, str]] = ()
    trial: bool = False
    outside: str = ""
    mark: str = ""
    aside: bool = False
    order: NewOrder | None = None


@dataclass(frozen=True, slots=True)
class Kept:
    """What became of a lead.

    Attributes:
        number: Its number.
        fresh: It was not known before.
        strays: Files that came with it and that it does not have, since it was kept before.
    """

    number: int
    fresh: bool
    strays: Sequence[str] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class Unfinished:
    """What somebody has answered so far.

    Attributes:
        cart: What is in their cart, as their browser keeps it; empty for no form of the shop.
    """

    key: str
    at_ms: int
    visitor: str
    form: Id
    form_name: str
    page: Id
    variant: str
    email: str
    answers: Sequence[tuple[str, str, str]]
    cart: str = ""


def take_lead(engine: Engine, lead: NewLead) -> Kept:
    """Store a lead and its deliveries in one transaction; one with the same key is stored once."""
    return take_leads(engine, [lead])[0]


def take_leads(engine: Engine, fresh: Sequence[NewLead]) -> list[Kept]:
    """Store leads with their deliveries and orders in one transaction, so that many cost one disk
    write.

    Raises:
        SoldOutError: Fewer pieces are left than one of them orders; nothing is stored.
    """
    with engine.begin() as connection:
        told: list[Event] = []
        if any(lead.order is not None for lead in fresh):
            take_turn(connection)
        kept = [_take(connection, lead, told) for lead in fresh]
        append(connection, told)
        return kept


@cache
def _inserting(dialect: str) -> Any:
    """Return the statement that adds a lead: making one for each costs more than running it."""
    made = (postgresql if dialect == "postgresql" else sqlite).insert(leads)
    return made.on_conflict_do_nothing(index_elements=["key"]).returning(leads.c.id)


_NO_LONGER_UNFINISHED = delete(unfinished).where(unfinished.c.key == bindparam("done"))


def _take(connection: Connection, lead: NewLead, told: list[Event]) -> Kept:
    number = connection.execute(_inserting(connection.dialect.name), {
        "key": lead.key, "at": lead.at_ms, "visitor": lead.visitor, "form": lead.form,
        "form_name": lead.form_name[:200], "page": lead.page, "variant": lead.variant,
        "email": lead.email, "answers": json.dumps(list(lead.answers), ensure_ascii=False),
        "robot": lead.robot, "signs": "; ".join(lead.signs), "source": lead.source[:120],
        "trial": lead.trial, "outside": lead.outside[:400], "mark": lead.mark,
        "person": normal_address(lead.email)}).scalar()
    if number is None:
        number = int(connection.execute(
            select(leads.c.id).where(leads.c.key == lead.key)).scalar_one())
        return Kept(number, False, _strays(connection, lead))
    connection.execute(_NO_LONGER_UNFINISHED, {"done": lead.key})
    if lead.order is not None and not lead.trial and not lead.mark:
        put_order(connection, number, lead.at_ms, lead.order, aside=lead.robot)
    if lead.files:
        connection.execute(insert(filed), [
            {"lead_key": lead.key, "field": part, "name": name, "path": path}
            for part, name, path in lead.files])
    if not lead.robot and not lead.trial:
        told.append(Event(at_ms=lead.at_ms, visitor=lead.visitor, kind=EventKind.LEAD,
                          page=lead.page, variant=lead.variant, what=lead.form, mark=lead.mark,
                          aside=lead.aside))
    # Whoever pays is a person: what looks automatic and is to be paid is held until then.
    held = lead.robot and lead.order is not None and lead.order.pay.kind == "service"
    if rows := [] if (lead.robot and not held) or lead.mark else _deliveries(
            connection, lead, number):
        if held:
            rows = [row | {"state": "held"} if row["state"] == "waiting" else row for row in rows]
        connection.execute(insert(outbox), rows)
    return Kept(number, True)


def _strays(connection: Connection, lead: NewLead) -> list[str]:
    if not lead.files:
        return []
    held = set(connection.execute(
        select(filed.c.path).where(filed.c.lead_key == lead.key)).scalars())
    return [path for _, _, path in lead.files if path not in held]


def _dialect(connection: Connection) -> Any:
    return postgresql if connection.dialect.name == "postgresql" else sqlite


def _deliveries(connection: Connection, lead: NewLead, number: int) -> list[dict[str, object]]:
    person = normal_address(lead.email) or lead.key
    letters = dict(lead.letters)
    if letters and _letters_to(connection, lead, letters) >= MOST_LETTERS:
        letters = dict.fromkeys(letters, "refused")
    routes = [*letters.items(), *((route, "held" if lead.held else "waiting")
                                  for route in lead.routes)]
    return [{"lead": number, "route": route, "key": f"{lead.key}-{route}", "state": state,
             "lane": lane_of(route, person), "due": lead.at_ms,
             "result": _TOO_MANY if state == "refused" else "",
             "result_at": lead.at_ms if state == "refused" else 0} for route, state in routes]


def _letters_to(connection: Connection, lead: NewLead, letters: Iterable[Id]) -> int:
    """Return how many leads of the last day had letters sent to the same address, so that nobody
    can have a stranger flooded."""
    if not lead.email:
        return 0
    return connection.execute(
        select(func.count(outbox.c.lead.distinct())).join(leads, leads.c.id == outbox.c.lead).where(
            leads.c.person == normal_address(lead.email), leads.c.at > lead.at_ms - _DAY_MS,
            outbox.c.route.in_(list(letters)), outbox.c.state != "refused")).scalar_one()


def take_unfinished(engine: Engine, part: Unfinished) -> None:
    """Keep the answers so far; later ones of the same filling take their place."""
    values = {"key": part.key, "at": part.at_ms, "visitor": part.visitor, "form": part.form,
              "form_name": part.form_name[:200], "page": part.page, "variant": part.variant,
              "email": part.email,
              "answers": json.dumps(list(part.answers), ensure_ascii=False),
              "person": normal_address(part.email), "cart": part.cart}
    with engine.begin() as connection:
        # A part that arrives after its lead is late, not unfinished.
        if connection.execute(select(leads.c.id).where(leads.c.key == part.key)).scalar() is None:
            connection.execute(_dialect(connection).insert(unfinished).values(values).on_conflict_do_update(
                index_elements=["key"], set_=values))
