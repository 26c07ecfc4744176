"""What came in one week, for its report."""

from collections.abc import Sequence
from itertools import pairwise
from typing import Any

from sqlalchemy import ColumnElement, Engine, Subquery, and_, func, select

from needle.core.measure.events import CONVERSIONS, EventKind
from needle.core.measure.week import Came, WeekCounts
from needle.store.results.tables import events, leads

__all__ = ["week_counts"]

_MOST = 8


def week_counts(engine: Engine, bounds_ms: Sequence[int]) -> WeekCounts:
    """Return what came between the first and the last of some moments.

    Args:
        bounds_ms: Where each day begins, and where the last one ends, since 1970, UTC.
    """
    first, last = bounds_ms[0], bounds_ms[-1]
    people = and_(leads.c.robot.is_(False), leads.c.trial.is_(False))
    there = select(events.c.page, events.c.visitor, events.c.at).where(
        _within(events, first, last), events.c.kind != EventKind.ROBOT).subquery()
    won = select(events.c.page, events.c.visitor, events.c.at).where(
        _within(events, first, last), events.c.kind.in_(sorted(CONVERSIONS))).subquery()
    with engine.connect() as connection:
        def number(query: Any) -> int:
            return int(connection.execute(query).scalar_one())

        days = [number(select(func.count(there.c.visitor.distinct())).where(
            there.c.at >= begins, there.c.at < ends))
            for begins, ends in pairwise(bounds_ms)]
        pages = _by(connection, there, won)
        sent = {row.source: row.n for row in connection.execute(select(
            leads.c.source, func.count(leads.c.visitor.distinct()).label("n")).where(
            _within(leads, first, last), people).group_by(leads.c.source))}
        count = func.count(events.c.visitor.distinct()).label("n")
        sources = [Came(row.source, row.n, sent.get(row.source, 0)) for row in connection.execute(
            select(events.c.source, count).where(
                _within(events, first, last), events.c.kind == EventKind.VISIT).group_by(
                events.c.source).order_by(count.desc(), events.c.source).limit(_MOST))]
        return WeekCounts(
            number(select(func.count(there.c.visitor.distinct()))),
            number(select(func.count(won.c.visitor.distinct()))),
            number(select(func.count()).where(_within(leads, first, last), people)),
            tuple(days), tuple(pages), tuple(sources))


def _within(table: Any, first: int, last: int) -> ColumnElement[bool]:
    return and_(table.c.at >= first, table.c.at < last)


def _by(connection: Any, there: Subquery, won: Subquery) -> list[Came]:
    """Return what came to each page, the most visited first."""
    converted = {row.page: row.n for row in connection.execute(select(
        won.c.page, func.count(won.c.visitor.distinct()).label("n")).group_by(won.c.page))}
    count = func.count(there.c.visitor.distinct()).label("n")
    return [Came(row.page, row.n, converted.get(row.page, 0)) for row in connection.execute(
        select(there.c.page, count).group_by(there.c.page).order_by(
            count.desc(), there.c.page).limit(_MOST))]
