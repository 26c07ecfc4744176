import sqlite3
import tempfile
import threading
import unittest
from collections.abc import Callable
from pathlib import Path

import duckdb

from needle.core.leads.export import to_csv
from needle.core.measure.events import Event, EventKind
from needle.core.measure.period import SplitPeriod
from needle.core.measure.split import arms_of, read_split
from needle.store.results.book import (
    Filter,
    change_lead,
    count_leads,
    known_tags,
    leads_csv_rows,
    list_leads,
    list_unfinished,
    way_of,
)
from needle.store.results.counting import page_counts, split_days, traffic
from needle.store.results.deliveries import (
    GIVE_UP_MS,
    LEASE_MS,
    Outcome,
    deliveries_of,
    pause_ms,
    recent_deliveries,
    record,
    release_held,
    resend,
    retry_now,
    take_due,
    waiting_by_route,
)
from needle.store.results.erasing import erase_person, person_holdings
from needle.store.results.exporting import EVENT_COLUMNS, event_rows
from needle.store.results.parquet import write_events
from needle.store.results.rolling import roll_up
from needle.store.results.stream import take_events
from needle.store.results.tables import open_results
from needle.store.results.taking import (
    NewLead,
    Unfinished,
    take_lead,
    take_unfinished,
)
from tests.told import take_goal, take_visit

DAY = 86_400_000
BOTH = (("A", 50), ("B", 50))
EVER = SplitPeriod("p1", BOTH, 0)


def lead(key: str, visitor: str = "v1", at_ms: int = 1000, **more: object) -> NewLead:
    values: dict[str, object] = {
        "key": key, "at_ms": at_ms, "visitor": visitor, "form": "f1", "form_name": "Places",
        "page": "p1", "variant": "A", "email": f"{key}@mail.example",
        "answers": [("e", "E-mail", f"{key}@mail.example"), ("n", "Name", "Ro 100%_x")],
        "routes": ("r1", "r2")}
    return NewLead(**(values | more))  # type: ignore[arg-type]


class ResultsTest(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.engine = open_results(Path(folder.name) / "results.db")
        self.addCleanup(self.engine.dispose)

    def visit(self, visitor: str, variant: str = "A", at_ms: int = 500) -> None:
        take_visit(self.engine, at_ms=at_ms, visitor=visitor, page="p1", variant=variant)


class CountingTest(ResultsTest):
    def test_a_visitor_and_a_conversion_count_once_and_robots_never(self) -> None:
        for visitor in ("v1", "v1", "v2"):
            self.visit(visitor)
        self.visit("v3", "B")
        take_lead(self.engine, lead("a"))
        take_lead(self.engine, lead("b"))
        take_lead(self.engine, lead("c", visitor="v2", signs=("too fast",), robot=True))
        counts = {c.variant: (c.visitors, c.conversions) for c in page_counts(self.engine)}
        self.assertEqual(counts, {"A": (2, 1), "B": (1, 0)})

    def test_who_sent_a_form_was_there_even_if_no_visit_was_reported(self) -> None:
        take_lead(self.engine, lead("a"))
        take_lead(self.engine, lead("r", visitor="robot", signs=("too fast",), robot=True))
        (count,) = page_counts(self.engine)
        self.assertEqual((count.visitors, count.conversions, count.rate), (1, 1, 1.0))
        self.assertEqual(split_days(self.engine, EVER), {"A": [(0, 1, 1)]})

    def test_days_count_first_visits_and_first_conversions(self) -> None:
        self.visit("v1", at_ms=DAY + 5)
        self.visit("v1", at_ms=2 * DAY + 5)
        self.visit("v2", at_ms=2 * DAY + 5)
        take_lead(self.engine, lead("a", at_ms=2 * DAY + 9))
        self.assertEqual(split_days(self.engine, EVER), {"A": [(1, 1, 0), (2, 1, 1)]})

    def test_a_test_reads_only_its_own_time(self) -> None:
        """Equal variants of which one had visitors before the test are equal."""
        for number in range(40):  # Before: A alone was there, and many of them sent the form.
            self.visit(f"old{number}", at_ms=DAY)
            take_lead(self.engine, lead(f"o{number}", visitor=f"old{number}", at_ms=DAY + 1))
        for number in range(40):  # They come again while it runs.
            self.visit(f"old{number}", at_ms=3 * DAY)
        for number in range(20):
            self.visit(f"new{number}", "AB"[number % 2], at_ms=3 * DAY)
        for number in range(4):
            take_lead(self.engine, lead(f"n{number}", visitor=f"new{number}", at_ms=4 * DAY,
                                        variant="AB"[number % 2]))
        running = SplitPeriod("p1", BOTH, 2 * DAY)
        arms = arms_of(running, split_days(self.engine, running))
        self.assertEqual([(arm.key, arm.visitors, arm.conversions) for arm in arms],
                         [("A", 10, 2), ("B", 10, 2)])
        self.assertAlmostEqual(read_split(arms)[0].best, 0.5, places=6)
        ended = SplitPeriod("p1", BOTH, 2 * DAY, 5 * DAY, "A")
        before = split_days(self.engine, ended)
        self.visit("late", "B", at_ms=6 * DAY)
        take_lead(self.engine, lead("late", visitor="new9", variant="B", at_ms=6 * DAY))
        self.assertEqual(split_days(self.engine, ended), before)
        self.assertEqual(arms_of(ended, before), arms)

    def test_the_same_key_is_one_lead_also_at_the_same_moment(self) -> None:
        threads = [threading.Thread(target=take_lead, args=(self.engine, lead("same")))
                   for _ in range(8)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        self.assertEqual(count_leads(self.engine), 1)
        self.assertEqual(len(take_due(self.engine, 2000)), 2)

    def test_search_takes_every_word_and_no_wildcards(self) -> None:
        take_lead(self.engine, lead("anna"))
        take_lead(self.engine, lead("bert", answers=[("n", "Name", "Bert")]))
        for words, found in (("anna", 1), ("PLACES", 2), ("anna bert", 0), ("100%_x", 1),
                             ("an", 1), ('"quoted"', 0), ("'; DROP TABLE leads", 0)):
            with self.subTest(words):
                self.assertEqual(count_leads(self.engine, Filter(words)), found)
                self.assertEqual(len(list_leads(self.engine, Filter(words))), found)

    def test_the_export_marks_robots_and_is_safe(self) -> None:
        take_lead(self.engine, lead("a", answers=[("n", "Name", "=HYPERLINK(1)")]))
        take_lead(self.engine, lead("b", signs=("filled in 0.1 s",), robot=True))
        out = to_csv(*leads_csv_rows(self.engine, {"p1": "Night"}, Filter(robots="with")))
        self.assertIn("'=HYPERLINK(1)", out)
        self.assertIn("robot,filled in 0.1 s", out)
        self.assertIn("Night", out)


class EventTest(ResultsTest):
    def test_every_event_is_told_and_nothing_that_was_answered(self) -> None:
        self.visit("v1", at_ms=500)
        take_goal(self.engine, at_ms=800, visitor="v1", page="p1", variant="A", goal="=call")
        take_lead(self.engine, lead("a", at_ms=1000, answers=[("n", "Name", "Ann Secret")]))
        take_lead(self.engine, lead("b", signs=("too fast",), robot=True))
        take_lead(self.engine, lead("c", trial=True))
        rows = list(event_rows(self.engine, {"p1": "Night"}))
        self.assertEqual([row[:4] for row in rows], [
            ["1970-01-01 00:00:00", "visit", "Night", "A"],
            ["1970-01-01 00:00:00", "goal", "Night", "A"],
            ["1970-01-01 00:00:01", "lead", "Night", "A"]])
        self.assertEqual({row[4] for row in rows}, {rows[0][4]}, "it is one visitor")
        out = to_csv(EVENT_COLUMNS, rows)
        self.assertNotIn("Secret", out)
        self.assertNotIn(",v1,", out)
        self.assertIn("'=call", out)
        self.assertEqual({len(row) for row in rows}, {len(EVENT_COLUMNS)})

    def test_a_parquet_file_holds_the_same_with_types_or_is_not_there(self) -> None:
        self.visit("v1", at_ms=500)
        take_goal(self.engine, at_ms=1800, visitor="v1", page="p1", variant="A", goal="it's \u20ac")
        folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        file = folder / "it's.parquet"
        self.assertEqual(write_events(self.engine, {"p1": "Night"}, file), 2)
        rows = duckdb.read_parquet(str(file)).fetchall()
        told = list(event_rows(self.engine, {"p1": "Night"}))
        self.assertEqual([(f"{row[0]:%Y-%m-%d %H:%M:%S}", *row[1:4], row[4]) for row in rows],
                         [tuple(row[:5]) for row in told])
        self.assertEqual([row[8] for row in rows], ["", "it's \u20ac"])
        self.assertEqual(rows[0][0].microsecond, 500_000)
        self.assertEqual(sorted(path.name for path in folder.iterdir()), ["it's.parquet"])
        with self.assertRaises(OSError):
            write_events(self.engine, {}, folder / "none" / "x.parquet")


class GrowthTest(ResultsTest):
    """What counting costs, in steps of the database's own machine, so that no clock is needed."""

    def steps(self, count: Callable[[], object]) -> int:
        told = [0]

        def step() -> int:
            told[0] += 1
            return 0

        raw = self.engine.raw_connection()
        handle: sqlite3.Connection = raw.driver_connection  # type: ignore[assignment]
        handle.set_progress_handler(step, 10)
        raw.close()  # Back into the pool, which hands it out again.
        try:
            count()
        finally:
            handle.set_progress_handler(None, 0)
        return told[0]

    def test_more_visits_cost_no_more_than_their_share(self) -> None:
        jobs = {"counting on": lambda: roll_up(self.engine),
                "pages": lambda: page_counts(self.engine),
                "a split test": lambda: split_days(self.engine, EVER),
                "lately": lambda: traffic(self.engine, 10**9)}
        cost: dict[str, list[int]] = {name: [] for name in jobs}
        for start, end in ((0, 600), (600, 2400)):
            take_events(self.engine, [
                Event(at_ms=n * 1000, visitor=f"v{n}", kind=EventKind.VISIT, page="p1",
                      variant="A") for n in range(start, end)])
            for name, job in jobs.items():
                cost[name].append(self.steps(job))
        for name, (few, many) in cost.items():
            with self.subTest(name):
                self.assertGreater(few, 5, "it was counted")
                # What stands in counts a day costs the same, however many came on it.
                self.assertLess(many, (1.5 if name in ("pages", "lately") else 6) * few)


class BookTest(ResultsTest):
    def test_marks_and_filters_find_each_other(self) -> None:
        for key in ("a", "b", "c"):
            take_lead(self.engine, lead(key, email="same@mail.example"))
        newest, *_ = list_leads(self.engine)
        change_lead(self.engine, newest.id, status="won", tags=["guide ", "a|b", "guide"])
        self.assertEqual(known_tags(self.engine), ["a b", "guide"])
        for of, found in ((Filter(tag="guide"), 1), (Filter(tag="guid"), 0), (Filter("guide"), 1),
                          (Filter(status="won"), 1), (Filter(status="lost"), 0),
                          (Filter(one_each=True), 1), (Filter(form="f1"), 3),
                          (Filter(place="x", pages=("p1", "p9")), 3), (Filter(place="x"), 0),
                          (Filter(robots="only"), 0), (Filter(since_ms=1001), 0)):
            with self.subTest(of):
                self.assertEqual(len(list_leads(self.engine, of)), found)
        self.assertEqual(len(list_leads(self.engine, before=newest.id)), 2)
        self.assertEqual(count_leads(self.engine, most=1), 2)
        self.assertEqual(len(way_of(self.engine, newest).others), 2)

    def test_a_trial_is_neither_listed_nor_counted(self) -> None:
        take_lead(self.engine, lead("a", trial=True))
        self.assertEqual(list_leads(self.engine, Filter(robots="with")), [])
        self.assertEqual(page_counts(self.engine), [])

    def test_halves_are_kept_until_the_lead_comes(self) -> None:
        half = Unfinished(key="k", at_ms=5, visitor="v", form="f1", form_name="Places", page="p1",
                          variant="A", email="", answers=[("n", "Name", "Ro")])
        take_unfinished(self.engine, half)
        take_unfinished(self.engine, half)
        self.assertEqual([one.answers for one in list_unfinished(self.engine)],
                         [[("n", "Name", "Ro")]])
        take_lead(self.engine, lead("k"))
        take_unfinished(self.engine, half)
        self.assertEqual(list_unfinished(self.engine), [])

    def test_a_person_is_erased_everywhere(self) -> None:
        project = Path(self.engine.url.database or "").parent
        sent = project / "attachments" / "x.pdf"
        sent.parent.mkdir()
        sent.write_bytes(b"%PDF-")
        for key, email in (("a", "Ann@mail.example"), ("b", "bob@mail.example")):
            take_lead(self.engine, lead(key, visitor=key, email=email, files=[
                ("f", "cv.pdf", "attachments/x.pdf")] if key == "a" else ()))
            self.visit(key)
        (due, *_) = take_due(self.engine, 2000)
        record(self.engine, [(due, Outcome("done", "added", "PUT Ann@mail.example"))], 2000)
        self.assertEqual(person_holdings(self.engine, "ann@MAIL.example").files, 1)
        erased = erase_person(self.engine, project, "ann@mail.example ")
        self.assertEqual((erased.leads, erased.deliveries, erased.visits), (1, 2, 1))
        self.assertEqual(list(erased.delivered), [("r1", "added")])
        self.assertFalse(sent.exists())
        self.assertEqual([one.email for one in list_leads(self.engine)], ["bob@mail.example"])
        self.engine.dispose()
        for file in project.glob("results.db*"):
            self.assertNotIn(b"nn@mail.example", file.read_bytes())



class OutboxTest(ResultsTest):
    def test_a_delivery_is_held_by_one_and_free_again_after_its_lease(self) -> None:
        take_lead(self.engine, lead("a"))
        self.assertEqual(len(take_due(self.engine, 2000)), 2)
        self.assertEqual(take_due(self.engine, 2000 + LEASE_MS - 1), [])
        self.assertEqual(len(take_due(self.engine, 2000 + LEASE_MS)), 2)

    def test_pauses_grow_to_half_a_minute_and_in_the_end_to_an_hour(self) -> None:
        self.assertEqual([pause_ms(n) for n in (0, 1, 4, 5, 40, 41, 46, 47, 500)],
                         [1000, 2000, 16_000, 30_000, 30_000, 60_000, 1_920_000, 3_600_000,
                          3_600_000])

    def test_failed_tries_wait_and_can_be_tried_at_once(self) -> None:
        take_lead(self.engine, lead("a"))
        first, second = take_due(self.engine, 2000)
        record(self.engine, [(first, Outcome("waiting", "it answered 503")),
                             (second, Outcome("done", "added", "PUT x", "201"))], 2000)
        self.assertEqual(waiting_by_route(self.engine), {"r1": 1})
        self.assertEqual(take_due(self.engine, 2500), [])
        self.assertEqual(retry_now(self.engine, 2600), 1)
        (again,) = take_due(self.engine, 2600)
        self.assertEqual((again.key, again.tries), ("a-r1", 1))
        ((row, sent),) = recent_deliveries(self.engine, "f1")
        self.assertEqual(row.email, "a@mail.example")
        self.assertEqual([s.result for s in sent], ["it answered 503", "added"])

    def test_a_persons_leads_go_in_their_order_and_others_do_not_wait(self) -> None:
        for key, email in (("a1", "ann@x"), ("b1", "bob@x"), ("a2", "Ann@x")):
            take_lead(self.engine, lead(key, email=email, routes=("r1",)))
        first, other = take_due(self.engine, 2000)
        self.assertEqual((first.key, other.key), ("a1-r1", "b1-r1"))
        self.assertEqual(take_due(self.engine, 2000), [])
        record(self.engine, [(first, Outcome("waiting", "503"))], 2000)
        self.assertEqual(take_due(self.engine, 2100), [])
        (again,) = take_due(self.engine, 4000)
        record(self.engine, [(again, Outcome("done", "added"))], 4000)
        self.assertEqual([due.key for due in take_due(self.engine, 4000)], ["a2-r1"])

    def test_after_days_it_is_given_up_said_and_can_be_sent_by_hand(self) -> None:
        take_lead(self.engine, lead("a", routes=("r1",)))
        late = 1001
        while dues := take_due(self.engine, late):
            record(self.engine, [(dues[0], Outcome("waiting", "503"))], late)
            late += 2 * 3_600_000
        (sent,) = deliveries_of(self.engine, 1)
        self.assertGreater(late, GIVE_UP_MS)
        self.assertEqual((sent.state, sent.result), ("refused", "given up after 5 days: 503"))
        self.assertEqual(take_due(self.engine, late * 2), [])
        resend(self.engine, sent.id, late)
        self.assertEqual(len(take_due(self.engine, late)), 1)

    def test_a_clock_that_runs_ahead_for_a_while_gives_nothing_up(self) -> None:
        take_lead(self.engine, lead("a", routes=("r1",)))
        ahead = 6 * 86_400_000
        for second in range(40):
            for due in take_due(self.engine, ahead + second * 1000):
                record(self.engine, [(due, Outcome("waiting", "503"))], ahead + second * 1000)
        (due,) = take_due(self.engine, 60_000)
        record(self.engine, [(due, Outcome("done", "added"))], 60_000)
        self.assertEqual(deliveries_of(self.engine, due.lead)[0].state, "done")

    def test_a_clock_that_is_set_back_keeps_nothing_waiting(self) -> None:
        day = 86_400_000
        take_lead(self.engine, lead("a", at_ms=3 * day, routes=("r1",)))
        (due,) = take_due(self.engine, 3 * day)
        self.assertEqual(len(take_due(self.engine, day)), 1)
        record(self.engine, [(due, Outcome("waiting", "503"))], 3 * day)
        self.assertEqual(len(take_due(self.engine, day)), 1)

    def test_held_deliveries_wait_for_the_visitor(self) -> None:
        take_lead(self.engine, lead("a" * 20, routes=("r1",), letters={"confirm": "waiting"},
                                    held=True))
        self.assertEqual([due.route for due in take_due(self.engine, 2000)], ["confirm"])
        self.assertFalse(release_held(self.engine, "unknown", 3000))
        self.assertTrue(release_held(self.engine, "a" * 20, 3000))
        self.assertEqual([due.route for due in take_due(self.engine, 3000)], ["r1"])

    def test_robots_have_no_deliveries(self) -> None:
        take_lead(self.engine, lead("a", signs=("too fast",), robot=True))
        self.assertEqual(take_due(self.engine, 9_999_999), [])
