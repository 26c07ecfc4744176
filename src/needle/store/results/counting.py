"""Reading results: visitors and conversions."""

from dataclasses import dataclass

from sqlalchemy import ColumnElement, Engine, Select, and_, bindparam, func, select

from needle.core.measure.period import SplitPeriod
from needle.core.values.ids import Id
from needle.core.values.testplan import ANY_GOAL
from needle.store.results.rolling import DAY_MS, ROBOTS, counted_rows, over_counts, roll_up
from needle.store.results.tables import arrived, day_counts, leads, reached_by

__all__ = ["PageCount", "Reached", "Traffic", "page_counts", "reached", "robot_count",
           "robot_visits", "split_days", "split_goals", "traffic"]


_days, _goals = day_counts.c, reached_by.c
_PAGES = over_counts(select(
    _days.page, _days.variant, func.sum(_days.came).label("came"),
    func.sum(_days.won).label("won")).where(_days.variant != ROBOTS).group_by(
    _days.page, _days.variant).order_by(_days.page, _days.variant))
_LATELY = over_counts(select(
    _days.page, func.sum(_days.came).label("came"), func.sum(_days.won).label("won"),
    func.min(_days.day).label("first")).where(
    _days.day > bindparam("after"), _days.day <= bindparam("today"),
    _days.variant != ROBOTS).group_by(_days.page))
_ROBOTS = over_counts(select(func.sum(_days.came).label("n")).where(_days.variant == ROBOTS))
_REACHED = over_counts(select(
    _goals.goal, func.count(_goals.visitor.distinct()).label("n"),
    func.sum(_goals.times).label("times"), func.max(_goals.last).label("last")).group_by(
    _goals.goal))


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
    return [PageCount(row.page, row.variant, row.came, row.won)
            for row in counted_rows(engine, _PAGES)]


def split_days(engine: Engine, test: SplitPeriod) -> dict[str, list[tuple[int, int, int]]]:
    """Return, by variant, day (since 1970), first visits and first conversions in a test's time.

    Whoever was on the page before the test began is none of its visitors: they have seen the page
    as it was, and which variant they came back to was no chance. What they or anybody else did
    after its end is none of its either.
    """
    roll_up(engine)
    days: dict[str, dict[int, list[int]]] = {}
    theirs = and_(arrived.c.page == test.page, arrived.c.first >= (test.began_ms or 0),
                  arrived.c.aside.is_(False), arrived.c.variant.in_([key for key, _ in test.arms]))
    came = select(arrived.c.variant, arrived.c.at.label("moment")).where(theirs)
    with engine.connect() as connection:
        for place, query in enumerate((came, _won(test, theirs))):
            told = query.subquery()
            day = func.floor(told.c.moment / DAY_MS).label("day")
            counts = select(told.c.variant, day, func.count().label("n"))
            if test.closes_ms is not None:
                counts = counts.where(told.c.moment < test.closes_ms)
            for row in connection.execute(counts.group_by(told.c.variant, day)):
                days.setdefault(row.variant, {}).setdefault(int(row.day), [0, 0])[place] = row.n
    return {variant: [(day, seen, won) for day, (seen, won) in sorted(of.items())]
            for variant, of in days.items()}


def _won(test: SplitPeriod, theirs: ColumnElement[bool]) -> Select[tuple[object, ...]]:
    """Return when each visitor of a test first did what it is about."""
    if test.plan.counts == ANY_GOAL and not test.late:
        return select(arrived.c.variant, arrived.c.won.label("moment")).where(
            theirs, arrived.c.won.is_not(None))
    about = reached_by.c.goal == test.plan.counts if test.plan.counts != ANY_GOAL else (
        reached_by.c.goal.not_in(test.late))
    same = and_(*(arrived.c[name] == reached_by.c[name]
                  for name in ("visitor", "page", "variant")))
    return select(arrived.c.variant, func.min(reached_by.c.first).label("moment")).join(
        reached_by, same).where(theirs, reached_by.c.page == test.page, about).group_by(
        arrived.c.visitor, arrived.c.variant)


def split_goals(engine: Engine, test: SplitPeriod) -> dict[str, dict[str, int]]:
    """Return, by goal and variant, how many visitors of a test reached it in the test's time."""
    same = and_(*(arrived.c[name] == reached_by.c[name]
                  for name in ("visitor", "page", "variant")))
    where = [arrived.c.page == test.page, arrived.c.first >= (test.began_ms or 0),
             arrived.c.aside.is_(False), reached_by.c.page == test.page,
             arrived.c.variant.in_([key for key, _ in test.arms])]
    if test.closes_ms is not None:
        where.append(reached_by.c.first < test.closes_ms)
    found: dict[str, dict[str, int]] = {}
    with engine.connect() as connection:
        for row in connection.execute(select(
                reached_by.c.goal, arrived.c.variant, func.count().label("n")).join(
                arrived, same).where(*where).group_by(reached_by.c.goal, arrived.c.variant)):
            found.setdefault(row.goal, {})[row.variant] = row.n
    return found


@dataclass(frozen=True, slots=True)
class Traffic:
    """Who came to a page lately for the first time, and converted for the first time.

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
    """Return who came to each page for the first time in the last days, today being one."""
    today = now_ms // DAY_MS
    rows = counted_rows(engine, _LATELY, after=today - days, today=today)
    # Less than a day says nothing of a day.
    return {row.page: Traffic(row.came, row.won, max(1.0, now_ms / DAY_MS - row.first))
            for row in rows}


@dataclass(frozen=True, slots=True)
class Reached:
    """How often something that counts was reached.

    Attributes:
        visitors: Each once, over all pages.
        times: Every time that they did it.
        last_ms: When last, since 1970, UTC.
    """

    visitors: int
    times: int
    last_ms: int


def reached(engine: Engine) -> dict[str, Reached]:
    """Return how often each goal was reached: forms and calls by their id, clicks by their name."""
    return {row.goal: Reached(row.n, row.times, row.last)
            for row in counted_rows(engine, _REACHED)}


def robot_visits(engine: Engine) -> int:
    """Return how many visits robots made that say they are some."""
    (row,) = counted_rows(engine, _ROBOTS)
    return int(row.n or 0)


def robot_count(engine: Engine) -> int:
    """Return how many leads were put aside as robots."""
    with engine.connect() as connection:
        return connection.execute(select(func.count()).select_from(leads).where(
            leads.c.robot.is_(True))).scalar_one()
