"""Erasing people: everything that is kept of them, with a receipt of what that was."""

from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from sqlalchemy import ColumnElement, Connection, Engine, Table, delete, func, select, update

from needle.core.leads.people import normal_address
from needle.core.measure.events import EventKind
from needle.store.results.attached import drop_attached
from needle.store.results.rolling import hold_counts
from needle.store.results.tables import (
    arrived,
    events,
    filed,
    journeys,
    leads,
    orders,
    outbox,
    reached_by,
    unfinished,
)

__all__ = ["Erased", "erase_lead", "erase_person", "person_holdings"]

_NOBODY = "erased"


@dataclass(frozen=True, slots=True)
class Erased:
    """What was erased of a person.

    Attributes:
        delivered: The threads that had taken them to services, with what each said.
        invoices: The numbers of invoices that name them; those stay, as the law wants.
    """

    leads: int = 0
    deliveries: int = 0
    visits: int = 0
    unfinished: int = 0
    files: int = 0
    delivered: Sequence[tuple[str, str]] = ()
    invoices: Sequence[int] = ()


def person_holdings(engine: Engine, email: str) -> Erased:
    """Return what is kept of a person, without erasing anything."""
    with engine.connect() as connection:
        rows = _leads_of(connection, email)
        ids, keys = [row.id for row in rows], [row.key for row in rows]
        seen = {row.visitor for row in rows}
        return Erased(
            len(ids),
            _count(connection, outbox, outbox.c.lead.in_(ids)),
            _count(connection, events, events.c.visitor.in_(seen)
                   & (events.c.kind == EventKind.VISIT)),
            _count(connection, unfinished, _unfinished_of(email)),
            _count(connection, filed, filed.c.lead_key.in_(keys)), _delivered(connection, ids),
            connection.execute(select(orders.c.invoice).where(
                orders.c.lead.in_(ids), orders.c.invoice.is_not(None)).order_by(
                    orders.c.invoice)).scalars().all())


def erase_person(engine: Engine, project: Path, email: str) -> Erased:
    """Erase all that is kept of a person: leads, outbox with its wire texts, halves, files.

    Visits stay counted, but nobody can tell any more whose they were.
    """
    held = person_holdings(engine, email)
    with engine.begin() as connection:
        hold_counts(connection)  # Else who counts just now would write their id again.
        _drop(connection, project, _leads_of(connection, email))
        connection.execute(delete(unfinished).where(_unfinished_of(email)))
    _forget_pages(engine)
    return held


def erase_lead(engine: Engine, project: Path, lead: int) -> None:
    """Erase one lead with its deliveries and files."""
    with engine.begin() as connection:
        hold_counts(connection)  # Else who counts just now would write their id again.
        _drop(connection, project, connection.execute(
            select(leads.c.id, leads.c.key, leads.c.visitor).where(leads.c.id == lead)).all())
    _forget_pages(engine)


def _drop(connection: Connection, project: Path, rows: Sequence[Any]) -> None:
    for row in rows:
        number, key, visitor = row.id, row.key, row.visitor
        for path in connection.execute(
                select(filed.c.path).where(filed.c.lead_key == key)).scalars():
            drop_attached(project, path)
        connection.execute(delete(filed).where(filed.c.lead_key == key))
        connection.execute(delete(outbox).where(outbox.c.lead == number))
        connection.execute(delete(unfinished).where(unfinished.c.key == key))
        # What was sold stays in the books, and is nobody's, but for what an invoice has to say.
        connection.execute(update(orders).where(
            orders.c.lead == number, orders.c.invoice.is_(None)).values(firm=""))
        connection.execute(update(orders).where(orders.c.lead == number).values(
            lead=None, cart=None))
        connection.execute(delete(leads).where(leads.c.id == number))
        for table in (events, arrived, reached_by, journeys):
            connection.execute(update(table).where(table.c.visitor == visitor).values(
                visitor=f"{_NOBODY}-{number}"))


def _forget_pages(engine: Engine) -> None:
    """Have SQLite overwrite what was deleted, in its write-ahead log as well."""
    if engine.dialect.name == "sqlite":
        with engine.connect() as connection:
            connection.exec_driver_sql("PRAGMA wal_checkpoint(TRUNCATE)")


def _leads_of(connection: Connection, email: str) -> Sequence[Any]:
    return connection.execute(select(leads.c.id, leads.c.key, leads.c.visitor).where(
        leads.c.person == normal_address(email), leads.c.person != "")).all()


def _unfinished_of(email: str) -> ColumnElement[bool]:
    return (unfinished.c.person == normal_address(email)) & (unfinished.c.person != "")


def _count(connection: Connection, table: Table, where: ColumnElement[bool]) -> int:
    return int(connection.execute(
        select(func.count()).select_from(table).where(where)).scalar_one())


def _delivered(connection: Connection, ids: Sequence[int]) -> list[tuple[str, str]]:
    rows = connection.execute(select(outbox.c.route, outbox.c.result).where(
        outbox.c.lead.in_(ids), outbox.c.state == "done")).all()
    return sorted({(row.route, row.result) for row in rows})
