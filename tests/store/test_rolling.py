"""What is counted on is what a count from the start would be, wherever it was cut off."""

import random
import tempfile
import threading
import time
import unittest
from collections import Counter
from pathlib import Path
from unittest import mock

from sqlalchemy import Engine, Table, select

from needle.core.measure.events import CONVERSIONS, Event, EventKind
from needle.core.measure.paths import GAP_MS, Step, extended, read_path, step_words
from needle.store.results import rolling
from needle.store.results.counting import page_counts, reached
from needle.store.results.rolling import DAY_MS, forget_counts, roll_up
from needle.store.results.stream import take_events
from needle.store.results.tables import (
    arrived,
    day_counts,
    day_fields,
    day_paths,
    day_touches,
    hour_counts,
    journeys,
    open_results,
    reached_by,
)
from tests.host.cluster import Cluster, programs

TABLES = (arrived, day_counts, day_fields, day_paths, day_touches, hour_counts, journeys,
          reached_by)


def stream(seed: int, count: int) -> list[Event]:
    """Return events as they may come: visitors who return, clocks that are set back."""
    draw, at = random.Random(seed), 20_000 * DAY_MS
    told = []
    for _ in range(count):
        at += draw.choice((10, 1000, GAP_MS // 3, -5000))
        kind = draw.choice((EventKind.VISIT, EventKind.VISIT, *EventKind))
        what = {EventKind.VISIT: "", EventKind.GOAL: draw.choice(("call", "a b")),
                EventKind.CALL: draw.choice(("c1", "c2"))}.get(
            kind, "f1.mail" if kind in ("field", "fault", "stop") else "f1")
        visit = {"source": draw.choice(("post", "search")), "device": "phone"}
        told.append(Event(at_ms=at, visitor=f"v{draw.randrange(9)}", kind=kind,
                          page=draw.choice(("p1", "p2")), variant=draw.choice("AB"), what=what,
                          amount=2, **(visit if kind is EventKind.VISIT else {})))
    return told


def held(engine: Engine, table: Table) -> list[tuple[object, ...]]:
    with engine.connect() as connection:
        return sorted(tuple(row) for row in connection.execute(select(table)))


def by_hand(told: list[Event]) -> dict[str, Counter[object]]:
    """Count events from the start, in the plainest way."""
    came, won, paths = Counter[object](), Counter[object](), Counter[object]()
    seen, on, goals = set(), dict[str, tuple[int, str]](), set()
    for event in told:
        if event.kind is EventKind.ROBOT:
            continue
        key = (event.visitor, event.page, event.variant)
        if event.kind is EventKind.CALL:
            if (*key, event.what) in goals:
                continue
            goals.add((*key, event.what))
        if key not in seen:
            seen.add(key)
            came[event.page, event.variant] += 1
        if event.kind in CONVERSIONS and (key, "won") not in seen:
            seen.add((key, "won"))
            won[event.page, event.variant] += 1
        step = step_words(event.kind, event.page, event.variant, event.what, event.amount)
        last, path = on.get(event.visitor, (0, ""))
        if event.at_ms - last > GAP_MS:
            if not step:
                continue
            paths[path] += 1
            path = ""
        on[event.visitor] = (max(last, event.at_ms), extended(path, step))
    for _, path in on.values():
        paths[path] += 1
    del paths[""]
    return {"came": came, "won": won, "paths": paths}


class RollingTest(unittest.TestCase):
    def setUp(self) -> None:
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))

    def opened(self, name: str) -> Engine:
        engine = open_results(self.folder / name)
        self.addCleanup(engine.dispose)
        return engine

    def test_counting_on_equals_counting_by_hand(self) -> None:
        for seed in range(4):
            told, engine = stream(seed, 260), self.opened(f"{seed}.db")
            with mock.patch.object(rolling, "_AT_ONCE", 7):
                for start in range(0, 260, 65):
                    take_events(engine, told[start:start + 65])
                    roll_up(engine)
            hand = by_hand(told)
            counts = page_counts(engine)
            self.assertEqual({(c.page, c.variant): c.visitors for c in counts}, hand["came"])
            self.assertEqual({(c.page, c.variant): c.conversions for c in counts
                              if c.conversions}, hand["won"])
            paths = Counter[object]()
            for *_, path, count in held(engine, day_paths):
                paths[path] += count
            self.assertEqual(paths, hand["paths"])
            before = [held(engine, table) for table in TABLES]
            with engine.begin() as connection:
                forget_counts(connection)
            self.assertGreater(roll_up(engine), 200)
            self.assertEqual([held(engine, table) for table in TABLES], before, "made again")

    def test_cut_off_anywhere_nothing_counts_twice_or_not_at_all(self) -> None:
        told, whole, cut = stream(5, 120), self.opened("whole.db"), self.opened("cut.db")
        for engine in (whole, cut):
            take_events(engine, told)
        roll_up(whole)
        put, calls, draw = rolling._Fold._upsert, [0], random.Random(1)

        def fails_at_times(*given: object) -> None:
            calls[0] += 1
            if draw.random() < 0.1:
                raise OSError
            put(*given)  # type: ignore[arg-type]

        with mock.patch.object(rolling, "_AT_ONCE", 11), mock.patch.object(
                rolling._Fold, "_upsert", fails_at_times):
            for _ in range(40):
                try:
                    roll_up(cut)
                except OSError:
                    continue
                break
        self.assertGreater(calls[0], 65)
        for table in TABLES:
            self.assertEqual(held(cut, table), held(whole, table), table.name)

    @unittest.skipUnless(programs(), "PostgreSQL is not installed")
    def test_hosts_that_write_while_others_count_lose_nothing(self) -> None:
        cluster = Cluster()
        self.addCleanup(cluster.remove)
        engine = open_results(cluster.database("many"))
        self.addCleanup(engine.dispose)

        def write(host: int) -> None:
            for number in range(60):
                take_events(engine, [Event(
                    at_ms=number, visitor=f"h{host}-{number}", kind=EventKind.LEAD, page="p1",
                    variant="A", what="f1")])

        def forget() -> None:
            for _ in range(15):
                with engine.begin() as connection:
                    forget_counts(connection)
                time.sleep(0.02)

        writers = [threading.Thread(target=write, args=(host,)) for host in range(4)]
        counters = [threading.Thread(target=lambda: [roll_up(engine) for _ in range(40)])
                    for _ in range(2)]
        counters.append(threading.Thread(target=forget))
        for thread in (*writers, *counters):
            thread.start()
        for thread in (*writers, *counters):
            thread.join()
        (count,) = page_counts(engine)
        self.assertEqual((count.visitors, count.conversions), (240, 240))
        take_events(engine, [Event(
            at_ms=n, visitor="v", kind=kind, page="p2", variant="A", what=f"{n}" + "😀" * 100,
            source="😀" * 200, campaign="😀" * 200) for n, kind in enumerate(
                [EventKind.VISIT] + [EventKind.GOAL] * 20)])
        self.assertEqual(roll_up(engine), 21, "the longest words are counted as well")
        self.assertEqual(reached(engine)["f1"].visitors, 240)


class PathTest(unittest.TestCase):
    def test_a_path_is_read_back_as_its_steps(self) -> None:
        path = ""
        for kind, what, amount in ((EventKind.VISIT, "", 0), (EventKind.POPUP, "u1", 0),
                                   (EventKind.OPEN, "f1", 0), (EventKind.STEP, "f1", 2),
                                   (EventKind.STEP, "f1", 2), (EventKind.FIELD, "f1.x", 900),
                                   (EventKind.GOAL, "call: a/b é", 0), (EventKind.LEAD, "f1", 0)):
            path = extended(path, step_words(kind, "p1", "B", what, amount))
        self.assertEqual(read_path(path), [
            Step("page", "p1", "B"), Step("popup", "u1"), Step("open", "f1"),
            Step("step", "f1", number=2), Step("goal", "call: a/b é"), Step("lead", "f1")])
        self.assertEqual(read_path("x:1 p:p1 s:f.x  q"), [Step("page", "p1"), Step("step", "f")])

    def test_whatever_a_goal_is_called_a_path_stays_short(self) -> None:
        path = ""
        for number in range(30):
            path = extended(path, step_words(EventKind.GOAL, "p1", "A", f"{number}" + "😀" * 99, 0))
        self.assertLess(len(path), 760)
        self.assertTrue(path.isascii())
        self.assertTrue(read_path(path)[-1].what.startswith("29😀"))

    def test_a_long_way_keeps_its_end_if_it_counts(self) -> None:
        path = ""
        for number in range(30):
            path = extended(path, f"p:p{number}.A")
        self.assertEqual(len(path.split(" ")), 12)
        self.assertEqual(extended(path, "u:x"), path)
        self.assertTrue(extended(path, "l:f1").endswith(" l:f1"))
        self.assertEqual(len(extended(path, "l:f1").split(" ")), 12)
