"""Writing visits and leads."""

import json
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from sqlalchemy import Engine, insert, select
from sqlalchemy.exc import IntegrityError

from needle.core.site.ids import Id
from needle.store.results.tables import goals, leads, outbox, visits

__all__ = ["NewLead", "take_goal", "take_lead", "take_visit"]


@dataclass(frozen=True, slots=True, kw_only=True)
class NewLead:
    """A lead as it is stored.

    Attributes:
        key: The same for the same sending; a second one with it is not stored.
        at_ms: When, in milliseconds since 1970 UTC.
        answers: Field id, label and answer, in the form's order.
        signs: What speaks for a robot; a lead with any is put aside.
        routes: Where it goes; ignored for a robot.
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
    source: str = ""
    routes: Iterable[Id] = ()


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
    try:
        with engine.begin() as connection:
            result = connection.execute(insert(leads).values(
                key=lead.key, at=lead.at_ms, visitor=lead.visitor, form=lead.form,
                form_name=lead.form_name, page=lead.page, variant=lead.variant,
                email=lead.email, answers=json.dumps(list(lead.answers), ensure_ascii=False),
                robot=bool(lead.signs), signs="; ".join(lead.signs), source=lead.source[:120]))
            number = int((result.inserted_primary_key or (0,))[0])
            rows = [] if lead.signs else [
                {"lead": number, "route": route, "key": f"{lead.key}-{route}",
                 "state": "waiting", "due": lead.at_ms} for route in lead.routes]
            if rows:
                connection.execute(insert(outbox), rows)
            return number, True
    except IntegrityError:
        with engine.begin() as connection:
            return int(connection.execute(
                select(leads.c.id).where(leads.c.key == lead.key)).scalar_one()), False
