"""Writing visits and leads."""

import json
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Any

from sqlalchemy import Connection, Engine, delete, insert, select
from sqlalchemy.dialects import postgresql, sqlite

from needle.core.site.ids import Id
from needle.store.results.deliveries import lane_of
from needle.store.results.tables import filed, goals, leads, outbox, unfinished, visits

__all__ = ["NewLead", "Unfinished", "take_goal", "take_lead", "take_leads", "take_unfinished",
           "take_visit"]


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
        first: Letters to the visitor that go out at once, also while the routes wait.
        held: The routes wait until the visitor confirms.
        files: Field id, name and path below the project of what was sent along.
        trial: It was made to see its way.
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
    first: Iterable[Id] = ()
    held: bool = False
    files: Sequence[tuple[Id, str, str]] = ()
    trial: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Unfinished:
    """What somebody has answered so far."""

    key: str
    at_ms: int
    visitor: str
    form: Id
    form_name: str
    page: Id
    variant: str
    email: str
    answers: Sequence[tuple[str, str, str]]


def take_visit(engine: Engine, *, at_ms: int, visitor: str, page: Id, variant: str,
               source: str = "", campaign: str = "", device: str = "") -> None:
    """Store one visit of a page."""
    with engine.begin() as connection:
        connection.execute(insert(visits).values(
            at=at_ms, visitor=visitor, page=page, variant=variant, source=source[:120],
            campaign=campaign[:120], device=device))


def take_goal(engine: Engine, *, at_ms: int, visitor: str, page: Id, variant: str, goal: str,
              ) -> None:
    """Store one click that counts as a conversion."""
    with engine.begin() as connection:
        connection.execute(insert(goals).values(
            at=at_ms, visitor=visitor, page=page, variant=variant, goal=goal[:120]))


def take_lead(engine: Engine, lead: NewLead) -> tuple[int, bool]:
    """Store a lead and its deliveries in one transaction.

    Returns:
        Its number, and whether it is new (a lead with the same key is stored once).
    """
    return take_leads(engine, [lead])[0]


def take_leads(engine: Engine, fresh: Sequence[NewLead]) -> list[tuple[int, bool]]:
    """Store leads and their deliveries in one transaction, so that many cost one disk write.

    Returns:
        For each its number, and whether it is new.
    """
    with engine.begin() as connection:
        return [_take(connection, lead) for lead in fresh]


def _take(connection: Connection, lead: NewLead) -> tuple[int, bool]:
    made = _dialect(connection).insert(leads).values(
        key=lead.key, at=lead.at_ms, visitor=lead.visitor, form=lead.form,
        form_name=lead.form_name, page=lead.page, variant=lead.variant,
        email=lead.email, answers=json.dumps(list(lead.answers), ensure_ascii=False),
        robot=lead.robot, signs="; ".join(lead.signs), source=lead.source[:120],
        trial=lead.trial).on_conflict_do_nothing(index_elements=["key"]).returning(leads.c.id)
    number = connection.execute(made).scalar()
    if number is None:
        return int(connection.execute(
            select(leads.c.id).where(leads.c.key == lead.key)).scalar_one()), False
    connection.execute(delete(unfinished).where(unfinished.c.key == lead.key))
    if lead.files:
        connection.execute(insert(filed), [
            {"lead_key": lead.key, "field": field, "name": name, "path": path}
            for field, name, path in lead.files])
    if rows := [] if lead.robot else _deliveries(lead, number):
        connection.execute(insert(outbox), rows)
    return number, True


def _dialect(connection: Connection) -> Any:
    return postgresql if connection.dialect.name == "postgresql" else sqlite


def _deliveries(lead: NewLead, number: int) -> list[dict[str, object]]:
    person = lead.email or lead.key
    routes = [(route, "waiting") for route in lead.first]
    routes += [(route, "held" if lead.held else "waiting") for route in lead.routes]
    return [{"lead": number, "route": route, "key": f"{lead.key}-{route}", "state": state,
             "lane": lane_of(route, person), "due": lead.at_ms} for route, state in routes]


def take_unfinished(engine: Engine, part: Unfinished) -> None:
    """Keep the answers so far; later ones of the same filling take their place."""
    values = {"key": part.key, "at": part.at_ms, "visitor": part.visitor, "form": part.form,
              "form_name": part.form_name, "page": part.page, "variant": part.variant,
              "email": part.email,
              "answers": json.dumps(list(part.answers), ensure_ascii=False)}
    with engine.begin() as connection:
        # A part that arrives after its lead is late, not unfinished.
        if connection.execute(select(leads.c.id).where(leads.c.key == part.key)).scalar() is None:
            connection.execute(_dialect(connection).insert(unfinished).values(values).on_conflict_do_update(
                index_elements=["key"], set_=values))
