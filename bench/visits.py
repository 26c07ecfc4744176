"""`./needle bench visits [N]`: counting on, and the screens of Measure, at a million events.

The floor of a screen is one plain aggregate over the table that it is read from.
"""

import random
import sys
import tempfile
import time
from collections.abc import Callable

from sqlalchemy import Engine, Select, func, insert, select
from tests.sites import FORM, PAGE, THANKS, small_site

from bench.ratio import Ratio, median_ms
from needle.core.measure.journey import journey_of, places_of
from needle.core.measure.period import SplitPeriod
from needle.store.results.counting import page_counts, reached, split_days, traffic
from needle.store.results.journeys import field_counts, way_counts
from needle.store.results.rolling import roll_up
from needle.store.results.tables import (
    arrived,
    day_counts,
    day_fields,
    day_paths,
    events,
    open_results,
    reached_by,
)

_EVENTS, _DAY_MS, _DAYS, _BATCH, _TIMES = 1_000_000, 86_400_000, 90, 20_000, 5
_NOW = 2_000_000_000_000


def _fill(engine: Engine, count: int) -> None:
    """Write events of three months: two of three are visits, one in forty is a lead."""
    draw, at = random.Random(3), _NOW - _DAYS * _DAY_MS
    kinds = ("visit", "visit", "visit", "visit", "open", "field", "visit", "stop")
    for start in range(0, count, _BATCH):
        rows = []
        for _ in range(min(_BATCH, count - start)):
            at += _DAYS * _DAY_MS // count
            kind = "lead" if draw.random() < 0.025 else draw.choice(kinds)
            rows.append({
                "at": at, "visitor": f"v{draw.randrange(count // 3)}", "kind": kind,
                "page": PAGE if draw.random() < 0.7 else THANKS, "variant": draw.choice("AB"),
                "what": {"visit": "", "open": FORM, "lead": FORM}.get(kind, f"{FORM}.mail1"),
                "amount": 900, "source": draw.choice(("direct", "post", "search", "poster")),
                "campaign": "", "device": draw.choice(("phone", "desktop")), "mark": ""})
        with engine.begin() as connection:
            connection.execute(insert(events), rows)


def _plain(engine: Engine, query: Select[tuple[object, ...]]) -> Callable[[], object]:
    def run() -> object:
        with engine.connect() as connection:
            return connection.execute(query).all()

    return run


def main(count: int = _EVENTS) -> None:
    """Print the ratios."""
    with tempfile.TemporaryDirectory() as made:
        engine = open_results(f"sqlite:///{made}/results.db")
        _fill(engine, count)
        began = time.perf_counter()
        roll_up(engine)
        print(f"{count / (time.perf_counter() - began):,.0f} events a second are counted on")
        test = SplitPeriod(PAGE, (("A", 50), ("B", 50)), _NOW - 28 * _DAY_MS)
        day, place_of = _NOW // _DAY_MS, places_of(small_site())
        floors = {table: _plain(engine, select(*columns, func.sum(number)).group_by(*columns))
                  for table, columns, number in (
            ("days", (day_counts.c.page, day_counts.c.variant), day_counts.c.came),
            ("arrived", (arrived.c.page, arrived.c.variant), arrived.c.at),
            ("reached", (reached_by.c.goal,), reached_by.c.last),
            ("paths", (day_paths.c.source, day_paths.c.device, day_paths.c.path),
             day_paths.c.visits),
            ("fields", (day_fields.c.field,), day_fields.c.times))}
        print(f"{'what':58} {'floor ms':>9} {'ours ms':>9} {'ratio':>6}  aim")
        for what, floor, run in (
                ("pages", "days", lambda: page_counts(engine)),
                ("the last four weeks", "days", lambda: traffic(engine, _NOW)),
                ("a split test of four weeks", "arrived", lambda: split_days(engine, test)),
                ("goals", "reached", lambda: reached(engine)),
                ("the ways of four weeks", "paths", lambda: way_counts(engine, day - 27, day)),
                ("journey of four weeks", "paths", lambda: journey_of(
                    way_counts(engine, day - 27, day), place_of)),
                ("fields of four weeks", "fields", lambda: field_counts(engine, day - 27, day))):
            print(Ratio(f"{what}, {count:,} events (floor: sum over {floor})",
                        median_ms(floors[floor], _TIMES), median_ms(run, _TIMES), 2), flush=True)
        engine.dispose()


if __name__ == "__main__":
    main(int(sys.argv[1]) if sys.argv[1:] else _EVENTS)
