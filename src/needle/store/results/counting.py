"""Reading results: visitors and conversions."""

from dataclasses import dataclass
from typing import Any

from sqlalchemy import Engine, Select, Subquery, func, select, union_all

from needle.core.measure.period import SplitPeriod
from needle.core.values.ids import Id
from needle.store.results.tables import goals, leads, visits

__all__ = ["PageCount", "Reached", "Traffic", "page_counts", "reached", "robot_count",
           "split_days", "traffic"]

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


def split_days(engine: Engine, test: SplitPeriod) -> dict[str, list[tuple[int, int, int]]]:
    """Return, by variant, day (since 1970), first visits and first conversions in a test's time.

    Whoever was on the page before the test began is none of its visitors: they have seen the page
    as it was, and which variant they came back to was no chance. What they or anybody else did
    after its end is none of its either.
    """
    there = _there()
    # As a set to look in, which every database keeps by an index; a join with it is not.
    fresh = select(there.c.visitor).where(there.c.page == test.page).group_by(
        there.c.visitor).having(func.min(there.c.at) >= (test.began_ms or 0))
    days: dict[str, dict[int, list[int]]] = {}
    with engine.connect() as connection:
        for place, every in enumerate((there, _won())):
            query = select(every.c.variant, func.min(every.c.at).label("at")).where(
                every.c.visitor.in_(fresh), every.c.page == test.page,
                every.c.variant.in_([key for key, _ in test.arms]))
            if test.ended_ms is not None:
                query = query.where(every.c.at < test.ended_ms)
            once = query.group_by(every.c.variant, every.c.visitor).subquery()
            day = func.floor(once.c.at / _DAY_MS).label("day")
            for row in connection.execute(select(once.c.variant, day, func.count().label("n"))
                                          .group_by(once.c.variant, day)):
                days.setdefault(row.variant, {}).setdefault(int(row.day), [0, 0])[place] = row.n
    return {variant: [(day, seen, won) for day, (seen, won) in sorted(of.items())]
            for variant, of in days.items()}


@dataclass(frozen=True, slots=True)
class Traffic:
    """What came to a page lately, in all its variants; each visitor once.

    Attributes:
        days: Over how many days: those asked for, or since the first visit if that is less.
    """

    visitors: int
    conversions: int
    days: float

    @property
    def rate(self) -> float:
        """Conversions per visitor; 0 without visitors."""
        return self.conversions / self.visitors if self.visitors else 0.0

    @property
    def visitors_a_day(self) -> float:
        """Visitors per day."""
        return self.visitors / self.days


def traffic(engine: Engine, now_ms: int, days: int = 28) -> dict[Id, Traffic]:
    """Return what came to each page in the last days."""
    since = now_ms - days * _DAY_MS
    there, won = _there(), _won()
    with engine.connect() as connection:
        seen = {row.page: (row.n, row.first) for row in connection.execute(select(
            there.c.page, func.count(there.c.visitor.distinct()).label("n"),
            func.min(there.c.at).label("first")).where(
            there.c.at >= since, there.c.at < now_ms).group_by(there.c.page))}
        converted = {row.page: row.n for row in connection.execute(select(
            won.c.page, func.count(won.c.visitor.distinct()).label("n")).where(
            won.c.at >= since, won.c.at < now_ms).group_by(won.c.page))}
    # Less than a day says nothing of a day.
    return {page: Traffic(visitors, converted.get(page, 0), max(1.0, (now_ms - first) / _DAY_MS))
            for page, (visitors, first) in seen.items()}


@dataclass(frozen=True, slots=True)
class Reached:
    """How often something that counts was reached.

    Attributes:
        visitors: Each once, over all pages.
        last_ms: When last, since 1970, UTC.
    """

    visitors: int
    last_ms: int


def reached(engine: Engine) -> dict[str, Reached]:
    """Return how often each goal was reached: forms and calls by their id, clicks by their name."""
    counted = (
        select(leads.c.form.label("key"), leads.c.visitor, leads.c.at).where(
            leads.c.robot.is_(False), leads.c.trial.is_(False)),
        select(goals.c.goal.label("key"), goals.c.visitor, goals.c.at))
    found = {}
    with engine.connect() as connection:
        for part in counted:
            told = part.subquery()
            for row in connection.execute(select(
                    told.c.key, func.count(told.c.visitor.distinct()).label("n"),
                    func.max(told.c.at).label("last")).group_by(told.c.key)):
                found[row.key] = Reached(row.n, row.last)
    return found


def robot_count(engine: Engine) -> int:
    """Return how many leads were put aside as robots."""
    with engine.connect() as connection:
        return connection.execute(select(func.count()).select_from(leads).where(
            leads.c.robot.is_(True))).scalar_one()
