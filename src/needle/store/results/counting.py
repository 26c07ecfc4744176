"""Reading results: visitors and conversions."""

from dataclasses import dataclass

from sqlalchemy import ColumnElement, Engine, Select, and_, func, select

from needle.core.measure.period import SplitPeriod
from needle.core.values.ids import Id
from needle.core.values.testplan import ANY_GOAL
from needle.store.results.rolling import DAY_MS, ROBOTS, roll_up
from needle.store.results.tables import arrived, day_counts, leads, reached_by

__all__ = ["PageCount", "Reached", "Traffic", "page_counts", "reached", "robot_count",
           "robot_visits", "split_days", "split_goals", "traffic"]


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
    roll_up(engine)
    told = day_counts.c
    with engine.connect() as connection:
        return [PageCount(row.page, row.variant, row.came, row.won) for row in connection.execute(
            select(told.page, told.variant, func.sum(told.came).label("came"),
                   func.sum(told.won).label("won")).where(told.variant != ROBOTS).group_by(
                told.page, told.variant).order_by(told.page, told.variant))]


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
    roll_up(engine)
    today, told = now_ms // DAY_MS, day_counts.c
    with engine.connect() as connection:
        rows = connection.execute(select(
            told.page, func.sum(told.came).label("came"), func.sum(told.won).label("won"),
            func.min(told.day).label("first")).where(
            told.day > today - days, told.day <= today, told.variant != ROBOTS).group_by(
            told.page)).all()
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
    roll_up(engine)
    told = reached_by.c
    with engine.connect() as connection:
        return {row.goal: Reached(row.n, row.times, row.last) for row in connection.execute(select(
            told.goal, func.count(told.visitor.distinct()).label("n"),
            func.sum(told.times).label("times"), func.max(told.last).label("last")).group_by(
            told.goal))}


def robot_visits(engine: Engine) -> int:
    """Return how many visits robots made that say they are some."""
    roll_up(engine)
    with engine.connect() as connection:
        return int(connection.execute(select(func.sum(day_counts.c.came)).where(
            day_counts.c.variant == ROBOTS)).scalar() or 0)


def robot_count(engine: Engine) -> int:
    """Return how many leads were put aside as robots."""
    with engine.connect() as connection:
        return connection.execute(select(func.count()).select_from(leads).where(
            leads.c.robot.is_(True))).scalar_one()
