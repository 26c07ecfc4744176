import tempfile
import threading
import unittest
from pathlib import Path

from needle.core.leads.export import to_csv
from needle.store.keys import keys_file, read_key, write_key
from needle.store.results.counting import (
    count_leads,
    daily_counts,
    leads_csv_rows,
    list_leads,
    page_counts,
)
from needle.store.results.deliveries import (
    LEASE_MS,
    Outcome,
    pause_ms,
    recent_deliveries,
    record,
    retry_now,
    take_due,
    waiting_by_route,
)
from needle.store.results.tables import open_results
from needle.store.results.taking import NewLead, take_lead, take_visit

DAY = 86_400_000


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
        take_lead(self.engine, lead("c", visitor="v2", signs=("too fast",)))
        counts = {c.variant: (c.visitors, c.conversions) for c in page_counts(self.engine)}
        self.assertEqual(counts, {"A": (2, 1), "B": (1, 0)})

    def test_who_sent_a_form_was_there_even_if_no_visit_was_reported(self) -> None:
        take_lead(self.engine, lead("a"))
        take_lead(self.engine, lead("r", visitor="robot", signs=("too fast",)))
        (count,) = page_counts(self.engine)
        self.assertEqual((count.visitors, count.conversions, count.rate), (1, 1, 1.0))
        self.assertEqual(daily_counts(self.engine, "p1"), {"A": [(0, 1, 1)]})

    def test_days_count_first_visits_and_first_conversions(self) -> None:
        self.visit("v1", at_ms=DAY + 5)
        self.visit("v1", at_ms=2 * DAY + 5)
        self.visit("v2", at_ms=2 * DAY + 5)
        take_lead(self.engine, lead("a", at_ms=2 * DAY + 9))
        self.assertEqual(daily_counts(self.engine, "p1"), {"A": [(1, 1, 0), (2, 1, 1)]})

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
                             ("%", 1), ("'; DROP TABLE leads", 0)):
            with self.subTest(words):
                self.assertEqual(count_leads(self.engine, words), found)
                self.assertEqual(len(list_leads(self.engine, words)), found)

    def test_the_export_marks_robots_and_is_safe(self) -> None:
        take_lead(self.engine, lead("a", answers=[("n", "Name", "=HYPERLINK(1)")]))
        take_lead(self.engine, lead("b", signs=("filled in 0.1 s",)))
        out = to_csv(*leads_csv_rows(self.engine, {"p1": "Night"}))
        self.assertIn("'=HYPERLINK(1)", out)
        self.assertIn("robot,filled in 0.1 s", out)
        self.assertIn("Night", out)


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
        record(self.engine, first, Outcome("waiting", "it answered 503"), 2000)
        record(self.engine, second, Outcome("done", "added"), 2000)
        self.assertEqual(waiting_by_route(self.engine), {"r1": 1})
        self.assertEqual(take_due(self.engine, 2500), [])
        self.assertEqual(retry_now(self.engine, 2600), 1)
        (again,) = take_due(self.engine, 2600)
        self.assertEqual((again.key, again.tries), ("a-r1", 1))
        ((row, sent),) = recent_deliveries(self.engine, "f1")
        self.assertEqual(row.email, "a@mail.example")
        self.assertEqual([s.result for s in sent], ["it answered 503", "added"])

    def test_robots_have_no_deliveries(self) -> None:
        take_lead(self.engine, lead("a", signs=("too fast",)))
        self.assertEqual(take_due(self.engine, 9_999_999), [])


class KeysTest(unittest.TestCase):
    def test_keys_stay_outside_projects_in_a_private_file(self) -> None:
        write_key("service1", "secret")
        self.assertEqual(read_key("service1"), "secret")
        self.assertEqual(read_key("other"), "")
        self.assertEqual(keys_file().stat().st_mode & 0o777, 0o600)
