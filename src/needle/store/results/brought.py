"""Reading what came by the hour, and what brought the leads that were won."""

from collections.abc import Sequence
from dataclasses import dataclass

from sqlalchemy import Engine, Label, bindparam, case, func, select

from needle.store.results.rolling import DAY_MS, counted_rows, over_counts
from needle.store.results.tables import hour_counts, leads

__all__ = ["Brought", "brought_by", "hour_rows"]

_HOURS = 24


_hours = hour_counts.c
_BY_HOUR = over_counts(select(
    _hours.hour, func.sum(_hours.came).label("came"), func.sum(_hours.won).label("won")).where(
    _hours.hour >= bindparam("first"), _hours.hour < bindparam("end")).group_by(_hours.hour))


@dataclass(frozen=True, slots=True)
class Brought:
    """Leads from one source that came to one page, and what became of them.

    Attributes:
        won, lost: Those that somebody marked so in the lead book; the others are still open.
    """

    source: str
    page: str
    leads: int
    won: int
    lost: int


def hour_rows(engine: Engine, first_day: int, last_day: int) -> Sequence[tuple[int, int, int]]:
    """Return hour since 1970, how many came first and how many converted first on any page, on
    these days since 1970, the last one included."""
    return [(row.hour, row.came, row.won) for row in counted_rows(
        engine, _BY_HOUR, first=first_day * _HOURS, end=(last_day + 1) * _HOURS)]


def brought_by(engine: Engine, first_day: int, last_day: int) -> Sequence[Brought]:
    """Return the leads of these days by source and page, those that won most first."""
    told = leads.c

    def marked(status: str) -> Label[int]:
        return func.sum(case((told.status == status, 1), else_=0)).label(status)

    with engine.connect() as connection:
        rows = connection.execute(select(
            told.source, told.page, func.count().label("n"), marked("won"), marked("lost")).where(
            told.at >= first_day * DAY_MS, told.at < (last_day + 1) * DAY_MS,
            told.robot.is_(False), told.trial.is_(False)).group_by(told.source, told.page)).all()
    found = [Brought(row.source or "direct", row.page, row.n, row.won, row.lost) for row in rows]
    return sorted(found, key=lambda one: (-one.won, -one.leads, one.source))
