"""Reading results: visitors and conversions."""

from dataclasses import dataclass
from typing import Any

from sqlalchemy import Engine, Select, Subquery, func, select, union_all

from needle.core.values.ids import Id
from needle.store.results.tables import goals, leads, visits

__all__ = ["PageCount", "daily_counts", "page_counts", "robot_count"]

_DAY_MS = 86_400_000


@dataclass(frozen=True, slots=True)
class PageCount:
    """Visitors and conversions of one variant. A visitor counts once in each."""

    page: Id
    variant: str
    visitors: int
    conversions: int

    @property
    def rate(self) -> float:
        """Conversions per visitor; 0 without visitors."""
        return self.conversions / self.visitors if self.visitors else 0.0


def page_counts(engine: Engine) -> list[PageCount]:
    """Return visitors and conversions for every page and variant that was visited.

    A conversion is a visitor of the variant who sent a form on it and is no robot, or clicked
    what counts as a goal. Who did was there, also if the visit itself was never reported.
    """
    there = _there()
    seen = select(there.c.page, there.c.variant,
                  func.count(there.c.visitor.distinct()).label("n")).group_by(
        there.c.page, there.c.variant)
    won = _won()
    sent = select(won.c.page, won.c.variant,
                  func.count(won.c.visitor.distinct()).label("n")).group_by(
        won.c.page, won.c.variant)
    with engine.connect() as connection:
        visitors = {(r.page, r.variant): r.n for r in connection.execute(seen)}
        converted = {(r.page, r.variant): r.n for r in connection.execute(sent)}
    return [PageCount(*key, visitors.get(key, 0), converted.get(key, 0))
            for key in sorted({*visitors, *converted})]


def _there() -> Subquery:
    """Everyone who was on a page: who visited it, and who converted on it."""
    return union_all(
        select(visits.c.page, visits.c.variant, visits.c.visitor, visits.c.at),
        *_conversions()).subquery()


def _conversions() -> tuple[Select[Any], Select[Any]]:
    return (
        select(leads.c.page, leads.c.variant, leads.c.visitor, leads.c.at).where(
            leads.c.robot.is_(False), leads.c.trial.is_(False)),
        select(goals.c.page, goals.c.variant, goals.c.visitor, goals.c.at))


def _won() -> Subquery:
    """Everyone who converted on a page."""
    return union_all(*_conversions()).subquery()


def daily_counts(engine: Engine, page: Id) -> dict[str, list[tuple[int, int, int]]]:
    """Return, by variant, day (since 1970), first visits and first conversions on that day."""
    there = _there()
    first = select(there.c.variant, there.c.visitor,
                   func.min(there.c.at).label("at")).where(there.c.page == page).group_by(
        there.c.variant, there.c.visitor).subquery()
    every = _won()
    won = select(every.c.variant, every.c.visitor, func.min(every.c.at).label("at")).where(
        every.c.page == page).group_by(every.c.variant, every.c.visitor).subquery()
    days: dict[str, dict[int, list[int]]] = {}
    with engine.connect() as connection:
        for place, source in enumerate((first, won)):
            day = func.floor(source.c.at / _DAY_MS).label("day")
            for row in connection.execute(
                    select(source.c.variant, day, func.count().label("n"))
                    .group_by(source.c.variant, day)):
                days.setdefault(row.variant, {}).setdefault(int(row.day), [0, 0])[place] = row.n
    return {variant: [(day, *counts) for day, counts in sorted(of.items())]
            for variant, of in days.items()}


def robot_count(engine: Engine) -> int:
    """Return how many leads were put aside as robots."""
    with engine.connect() as connection:
        return connection.execute(select(func.count()).select_from(leads).where(
            leads.c.robot.is_(True))).scalar_one()
