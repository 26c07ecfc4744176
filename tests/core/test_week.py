import tempfile
import unittest
from datetime import UTC, date, datetime, timedelta
from pathlib import Path

from needle.core.measure.events import Event, EventKind
from needle.core.measure.week import (
    Came,
    Sending,
    Week,
    WeekCounts,
    bounds_of,
    chapters_of,
    monday_of,
    more_than_chance,
    rates_differ,
)
from needle.core.measure.weekpage import week_page
from needle.store.results.stream import take_events
from needle.store.results.tables import open_results
from needle.store.results.week import week_counts
from tests.told import take_goal, take_visit

MONDAY = date(2026, 11, 16)
NONE = WeekCounts(0, 0, 0, (0,) * 7)


def came(now: WeekCounts, before: WeekCounts = NONE) -> tuple[str, ...]:
    return chapters_of(Week("Hill", MONDAY, now, before, {"p1": "Night"}))[0].sentences


class WordsTest(unittest.TestCase):
    def test_more_is_said_only_beyond_chance(self) -> None:
        self.assertFalse(more_than_chance(0, 0))
        # 1.96 times the root of the sum: of 200, 27.7.
        self.assertFalse(more_than_chance(113, 87))
        self.assertTrue(more_than_chance(114, 86))
        self.assertIn("about as many", came(WeekCounts(113, 9, 9, (0,) * 7),
                                            WeekCounts(87, 9, 9, (0,) * 7))[0])
        self.assertIn("100 % more than the week before (100)", came(
            WeekCounts(200, 9, 9, (0,) * 7), WeekCounts(100, 9, 9, (0,) * 7))[0])
        self.assertIn("50 % fewer", came(WeekCounts(100, 9, 9, (0,) * 7),
                                         WeekCounts(200, 9, 9, (0,) * 7))[0])

    def test_rates_agree_with_a_table_of_two_by_two(self) -> None:
        from scipy.stats import chi2_contingency

        for won, of, before, of_before in ((50, 1000, 80, 1000), (50, 1000, 70, 1000),
                                           (30, 400, 61, 1200), (30, 400, 95, 800)):
            p = chi2_contingency([[won, of - won], [before, of_before - before]],
                                 correction=False).pvalue
            self.assertEqual(rates_differ(won, of, before, of_before), p < 0.05)
        self.assertIsNone(rates_differ(1, 40, 2, 50))
        self.assertIsNone(rates_differ(1, 40, 0, 0))

    def test_an_empty_week_says_so_and_asks_for_nothing(self) -> None:
        self.assertEqual(came(NONE), ("Nobody came.",))
        chapters = chapters_of(Week("Hill", MONDAY, NONE, NONE, {}))
        self.assertIn("Nothing was sent", chapters[1].sentences[0])
        self.assertEqual(chapters[2].sentences, ("Nothing waits for you.",))

    def test_words_from_outside_are_no_markup_on_the_page(self) -> None:
        counts = WeekCounts(9, 2, 1, (9, 0, 0, 0, 0, 0, 0), (Came("p1", 9, 2),),
                            (Came("<script>x</script>", 9, 1),))
        html = week_page(Week("A <b>hill", MONDAY, counts, NONE, {"p1": "<i>"}, (
            Sending(datetime(2026, 11, 18, 9, tzinfo=UTC), "<u>sent"),)), "")
        for part in ("<script>", "<b>", "<i>", "<u>"):
            self.assertNotIn(part, html)
        self.assertIn("Monday 9, Tuesday 0", html)

    def test_weeks_begin_on_monday_and_days_where_the_clock_says(self) -> None:
        for day in range(7):
            self.assertEqual(monday_of(MONDAY + timedelta(days=day)), MONDAY)
        bounds = bounds_of(MONDAY)
        self.assertEqual([datetime.fromtimestamp(at / 1000).hour for at in bounds], [0] * 8)
        until = datetime(2026, 11, 18, 15).astimezone()
        cut = bounds_of(MONDAY, until)
        self.assertEqual(cut[:3], bounds[:3])
        self.assertEqual(set(cut[3:]), {int(until.timestamp() * 1000)})


class CountsTest(unittest.TestCase):
    def test_a_visitor_counts_once_in_each_figure_and_outside_the_week_not(self) -> None:
        folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        engine = open_results(folder / "r.db")
        self.addCleanup(engine.dispose)
        bounds = bounds_of(MONDAY)
        for at, who, page, source in ((bounds[0], "v1", "p1", "post"),
                                      (bounds[1], "v1", "p1", "post"), (bounds[1], "v2", "p2", ""),
                                      (bounds[7] - 1, "v2", "p1", ""), (bounds[7], "v3", "p1", ""),
                                      (bounds[0] - 1, "v4", "p1", "")):
            take_visit(engine, at_ms=at, visitor=who, page=page, variant="A", source=source,
                       campaign="", device="")
        take_events(engine, [Event(at_ms=bounds[1], visitor="bot", kind=EventKind.ROBOT, page="p1",
                                   variant="A")])
        take_goal(engine, at_ms=bounds[1], visitor="v1", page="p1", variant="A", goal="x")
        take_goal(engine, at_ms=bounds[2], visitor="v1", page="p2", variant="A", goal="x")
        found = week_counts(engine, bounds)
        self.assertEqual((found.visitors, found.conversions, found.leads), (2, 1, 0))
        self.assertEqual(found.days, (1, 2, 1, 0, 0, 0, 1))
        self.assertEqual(found.pages, (Came("p1", 2, 1), Came("p2", 2, 1)))
        self.assertEqual(found.sources, (Came("", 1, 0), Came("post", 1, 0)))
