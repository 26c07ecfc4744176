"""Counting on from where it was left: the events that came since, folded into what is known.

What screens ask for stands in small tables, which are brought up to date event by event. A
watermark says up to which event that was done, in the same transaction as the figures, so that
none counts twice and none is left out, wherever it is cut off. Everything here can be thrown away
(`forget_counts`) and comes out the same again.
"""

from collections import Counter
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from typing import Any

from sqlalchemy import Connection, Engine, Select, Table, delete, func, select, update
from sqlalchemy.dialects import postgresql, sqlite

from needle.core.measure.events import CONVERSIONS, TOUCH_SIDE, EventKind
from needle.core.measure.paths import GAP_MS, extended, step_words
from needle.store.results.stream import settled_id
from needle.store.results.tables import (
    arrived,
    day_counts,
    day_fields,
    day_paths,
    day_touches,
    events,
    hour_counts,
    journeys,
    reached_by,
    shared,
)

__all__ = ["DAY_MS", "ROBOTS", "TOUCH_CELLS", "counted_rows", "forget_counts", "hold_counts",
           "over_counts", "roll_up", "roll_up_some"]

DAY_MS = 86_400_000
_HOUR_MS = 3_600_000
# Clicks are counted in so many cells across a section, and as many down.
TOUCH_CELLS = 40
# The visits of robots stand in the counts of a day as those of this variant, which none has.
ROBOTS = ""
_WATERMARK = "events-counted"
# Few enough that a host is not kept from writing for long, enough that one write costs little.
_AT_ONCE = 5_000
# What a database takes as one list.
_MOST_ASKED = 500
_COUNTED = (arrived, day_counts, reached_by, journeys, day_paths, day_fields, hour_counts,
            day_touches)


def roll_up(engine: Engine) -> int:
    """Count every event that was not counted yet; return how many those were.

    Several may do so at once, hosts and windows: one waits for the other.
    """
    done = 0
    while count := roll_up_some(engine):
        done += count
    return done


def roll_up_some(engine: Engine) -> int:
    """Count some of them, so that whoever has to stop can; return how many, 0 if none was left."""
    return _next(engine, settled_id(engine)) if _is_behind(engine) else 0


def over_counts(query: Select[Any]) -> Select[Any]:
    """Return a query that asks along whether anything is left to count: a question of its own would
    cost as much again. It is made once, since making it costs as much as asking it."""
    last = select(func.max(events.c.id)).scalar_subquery().label("needle_last")
    mark = select(shared.c.value).where(shared.c.name == _WATERMARK).scalar_subquery().label(
        "needle_mark")
    return query.add_columns(last, mark)


def counted_rows(engine: Engine, query: Select[Any], **values: object) -> Sequence[Any]:
    """Return what a query of `over_counts` finds; what is left to count is counted before."""
    with engine.connect() as connection:
        rows = connection.execute(query, values).all()
    if (int(rows[0].needle_last or 0) > int(rows[0].needle_mark or 0)) if rows else (
            _is_behind(engine)):
        roll_up(engine)
        with engine.connect() as connection:
            rows = connection.execute(query, values).all()
    return rows


def forget_counts(connection: Connection) -> None:
    """Throw away what was counted, so that `roll_up` counts all events again.

    The watermark is held first, as by who counts, and its row stays: whoever waits for it goes on
    from its start.
    """
    hold_counts(connection)
    for table in _COUNTED:
        connection.execute(delete(table))
    connection.execute(update(shared).where(shared.c.name == _WATERMARK).values(value="0"))


def _is_behind(engine: Engine) -> bool:
    """Return whether there are events that were not counted; asked before every reading."""
    with engine.connect() as connection:
        last, counted = connection.execute(select(
            select(func.max(events.c.id)).scalar_subquery(),
            select(shared.c.value).where(shared.c.name == _WATERMARK).scalar_subquery())).one()
    return int(last or 0) > int(counted or 0)


def _read_watermark(connection: Connection) -> int:
    value = connection.execute(
        select(shared.c.value).where(shared.c.name == _WATERMARK)).scalar()
    return int(value or 0)


def _next(engine: Engine, settled: int) -> int:
    with engine.begin() as connection:
        hold_counts(connection)
        rows = connection.execute(select(events).where(
            events.c.id > _read_watermark(connection), events.c.id <= settled).order_by(
            events.c.id).limit(_AT_ONCE)).all()
        if rows:
            _Fold(connection, rows).run()
            connection.execute(update(shared).where(shared.c.name == _WATERMARK).values(
                value=str(rows[-1].id)))
        return len(rows)


def hold_counts(connection: Connection) -> None:
    """Keep others from counting until this transaction ends."""
    connection.execute(_dialect(connection).insert(shared).values(
        name=_WATERMARK, value="0").on_conflict_do_nothing(index_elements=["name"]))
    connection.execute(update(shared).where(shared.c.name == _WATERMARK).values(
        value=shared.c.value))


def _dialect(connection: Connection) -> Any:
    return postgresql if connection.dialect.name == "postgresql" else sqlite


@dataclass(slots=True)
class _Visit:
    """Where a visitor is on their way."""

    day: int
    last: int
    source: str
    campaign: str
    device: str
    path: str


@dataclass(slots=True)
class _Arrived:
    """When somebody was first on a page in a variant."""

    at: int
    first: int
    won: int | None
    aside: bool


@dataclass(slots=True)
class _Reached:
    """When somebody reached something first and last, and how often."""

    first: int
    last: int
    times: int = 0


@dataclass(slots=True)
class _Fold:
    """Some events, and what is known of their visitors."""

    connection: Connection
    rows: Sequence[Any]
    arrived: dict[tuple[str, str, str], _Arrived] = field(default_factory=dict)
    changed: set[tuple[str, str, str]] = field(default_factory=set)
    first: dict[tuple[str, str], int] = field(default_factory=dict)
    aside: set[tuple[str, str]] = field(default_factory=set)
    reached: dict[tuple[str, str, str, str], _Reached] = field(default_factory=dict)
    visits: dict[str, _Visit] = field(default_factory=dict)
    came: Counter[tuple[int, str, str]] = field(default_factory=Counter)
    won: Counter[tuple[int, str, str]] = field(default_factory=Counter)
    paths: Counter[tuple[int, str, str, str, str]] = field(default_factory=Counter)
    fields: dict[tuple[int, str], list[int]] = field(default_factory=dict)
    hours: dict[tuple[int, str], list[int]] = field(default_factory=dict)
    touches: Counter[tuple[int, str, str, str, str, str]] = field(default_factory=Counter)

    def run(self) -> None:
        """Fold the events in and write what has changed."""
        self._look_up()
        for row in self.rows:
            if row.kind == EventKind.ROBOT:
                self.came[row.at // DAY_MS, row.page, ROBOTS] += 1
                continue
            self._arrive(row)
            self._walk(row)
            if row.kind in (EventKind.FIELD, EventKind.FAULT, EventKind.STOP):
                self._fill_in(row)
            elif row.kind in (EventKind.TOUCH, EventKind.DEPTH):
                self._touch(row)
        self._write()

    def _look_up(self) -> None:
        visitors = sorted({row.visitor for row in self.rows})
        for start in range(0, len(visitors), _MOST_ASKED):
            some = visitors[start:start + _MOST_ASKED]
            for row in self.connection.execute(
                    select(arrived).where(arrived.c.visitor.in_(some))):
                self.arrived[row.visitor, row.page, row.variant] = _Arrived(
                    row.at, row.first, row.won, row.aside)
                self.first[row.visitor, row.page] = row.first
                if row.aside:
                    self.aside.add((row.visitor, row.page))
            for row in self.connection.execute(
                    select(journeys).where(journeys.c.visitor.in_(some))):
                self.visits[row.visitor] = _Visit(row.day, row.last, row.source, row.campaign,
                                                  row.device, row.path)

    def _arrive(self, row: Any) -> None:
        key = (row.visitor, row.page, row.variant)
        known = self.arrived.get(key)
        if known is None:
            first = self.first.setdefault((row.visitor, row.page), row.at)
            # Who came aside of a test once knows the page, and is none of its visitors later.
            if row.aside:
                self.aside.add(key[:2])
            known = self.arrived[key] = _Arrived(row.at, first, None, key[:2] in self.aside)
            self.came[row.at // DAY_MS, row.page, row.variant] += 1
            self._in_hour(row)[0] += 1
            self.changed.add(key)
        if row.kind not in CONVERSIONS:
            return
        if known.won is None:
            known.won = row.at
            self.changed.add(key)
            self.won[row.at // DAY_MS, row.page, row.variant] += 1
            self._in_hour(row)[1] += 1
        told = self.reached.setdefault((row.what, row.visitor, row.page, row.variant),
                                       _Reached(row.at, row.at))
        told.first, told.last = min(told.first, row.at), max(told.last, row.at)
        told.times += 1

    def _in_hour(self, row: Any) -> list[int]:
        return self.hours.setdefault((row.at // _HOUR_MS, row.page), [0, 0])

    def _touch(self, row: Any) -> None:
        """Note a click, or how far somebody came down the page."""
        visit, what = self.visits.get(row.visitor), str(min(100, row.amount) // 10)
        if row.kind == EventKind.TOUCH:
            across, down = (n * TOUCH_CELLS // TOUCH_SIDE for n in divmod(row.amount, TOUCH_SIDE))
            what = f"{row.what[:20]}.{across}.{down}"
        self.touches[row.at // DAY_MS, row.page, row.variant, visit.device if visit else "",
                     row.kind, what] += 1

    def _walk(self, row: Any) -> None:
        """Go on along the visitor's way, or begin another one."""
        step = step_words(row.kind, row.page, row.variant, row.what, row.amount)
        visit = self.visits.get(row.visitor)
        if visit is None or row.at - visit.last > GAP_MS:
            if not step:
                return  # What is told late of a visit that is over.
            visit = self.visits[row.visitor] = _Visit(
                row.at // DAY_MS, row.at, row.source, row.campaign, row.device, "")
        path = extended(visit.path, step)
        # A clock that was set back ends no visit.
        visit.last = max(visit.last, row.at)
        if path != visit.path:
            where = (visit.day, visit.source, visit.campaign, visit.device)
            if visit.path:
                self.paths[*where, visit.path] -= 1
            visit.path = path
            self.paths[*where, path] += 1

    def _fill_in(self, row: Any) -> None:
        told = self.fields.setdefault((row.at // DAY_MS, row.what), [0, 0, 0, 0])
        match row.kind:
            case EventKind.FIELD:
                told[0] += 1
                told[1] += row.amount
            case EventKind.FAULT:
                told[2] += 1
            case EventKind.STOP:
                told[3] += 1

    def _write(self) -> None:
        self._put(arrived, [
            {"visitor": key[0], "page": key[1], "variant": key[2], "at": self.arrived[key].at,
             "first": self.arrived[key].first, "won": self.arrived[key].won,
             "aside": self.arrived[key].aside}
            for key in self.changed], "won")
        least, most = (func.min, func.max) if self.connection.dialect.name == "sqlite" else (
            func.least, func.greatest)
        self._add(reached_by, [
            {"goal": goal, "visitor": visitor, "page": page, "variant": variant,
             "first": one.first, "last": one.last, "times": one.times}
            for (goal, visitor, page, variant), one in self.reached.items()], "times",
            first=least, last=most)
        self._put(journeys, [
            {"visitor": visitor, "day": one.day, "last": one.last, "source": one.source,
             "campaign": one.campaign, "device": one.device, "path": one.path}
            for visitor, one in self.visits.items()],
            "day", "last", "source", "campaign", "device", "path")
        self._add(day_counts, [
            {"day": day, "page": page, "variant": variant, "came": self.came[day, page, variant],
             "won": self.won[day, page, variant]}
            for day, page, variant in {**self.came, **self.won}], "came", "won")
        self._add(day_paths, [
            {"day": day, "source": source, "campaign": campaign, "device": device, "path": path,
             "visits": count}
            for (day, source, campaign, device, path), count in self.paths.items() if count],
            "visits")
        self._add(day_fields, [
            {"day": day, "field": name, "times": told[0], "took_ms": told[1], "faults": told[2],
             "stops": told[3]} for (day, name), told in self.fields.items()],
            "times", "took_ms", "faults", "stops")
        self._add(hour_counts, [
            {"hour": hour, "page": page, "came": came, "won": won}
            for (hour, page), (came, won) in self.hours.items()], "came", "won")
        self._add(day_touches, [
            {"day": day, "page": page, "variant": variant, "device": device, "kind": kind,
             "what": what, "times": times}
            for (day, page, variant, device, kind, what), times in self.touches.items()], "times")
        if self.paths:
            self.connection.execute(delete(day_paths).where(
                day_paths.c.visits == 0, day_paths.c.day >= min(day for day, *_ in self.paths)))

    def _put(self, table: Table, rows: list[dict[str, Any]], *changing: str) -> None:
        """Write rows; of those that are there, what can change."""
        made = _dialect(self.connection).insert(table)
        self._upsert(table, rows, made, {name: made.excluded[name] for name in changing})

    def _add(self, table: Table, rows: list[dict[str, Any]], *numbers: str,
             **otherwise: Callable[[Any, Any], Any]) -> None:
        """Write rows; to those that are there, add the numbers.

        Args:
            otherwise: By column, what becomes of what is there and what is new.
        """
        made = _dialect(self.connection).insert(table)
        self._upsert(table, rows, made,
                     {name: table.c[name] + made.excluded[name] for name in numbers}
                     | {name: how(table.c[name], made.excluded[name])
                        for name, how in otherwise.items()})

    def _upsert(self, table: Table, rows: list[dict[str, Any]], made: Any, change: dict[str, Any],
                ) -> None:
        if rows:
            self.connection.execute(made.on_conflict_do_update(
                index_elements=[column.name for column in table.primary_key], set_=change), rows)
