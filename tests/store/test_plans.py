"""Split tests for some visitors, for some time and about one goal: who counts, and what."""

import tempfile
import unittest
from datetime import UTC, datetime
from pathlib import Path

import msgspec

from needle.core.edit.differing import differing
from needle.core.edit.nodes import set_hidden, set_words
from needle.core.edit.pages import set_page, split_page
from needle.core.edit.place import EditError
from needle.core.edit.testing import add_reach, set_plan, set_worth
from needle.core.kinds.button import Button
from needle.core.kinds.heading import Heading
from needle.core.measure.clashes import tested_along
from needle.core.measure.diary import diary_text, entries_of
from needle.core.measure.events import Event, EventKind
from needle.core.measure.goals import GoalKind, goals_of, goals_on
from needle.core.measure.period import LiveShares, SplitPeriod, instant_ms, tests_of
from needle.core.measure.split import leaning_shares, read_goals, read_split, slower_by
from needle.core.values.testplan import Reach, TestPlan
from needle.core.values.widths import Width
from needle.core.values.words import text
from needle.publish.release import Counted, LivePage, LiveVariant
from needle.publish.sharing import timed
from needle.store.results.counting import split_days, split_goals
from needle.store.results.stream import take_events
from needle.store.results.tables import open_results
from tests.core.test_measure import BOTH, Arm
from tests.sites import FORM, PAGE, THANKS, small_site

SENT, LATER = "2026-03-02T08:00:00+00:00", "2026-03-05T08:00:00+00:00"
BEGAN, LATE = 1_772_438_400_000, 1_772_697_600_000


class PlanTest(unittest.TestCase):
    def setUp(self) -> None:
        self.site = split_page(small_site(), PAGE, datetime(2026, 3, 1, tzinfo=UTC))

    def period(self, counted: tuple[tuple[str, str, str], ...], **plan: object) -> SplitPeriod:
        site = set_plan(self.site, PAGE, **plan)
        (test,) = tests_of(site, {PAGE: LiveShares(SENT, BOTH, (), counted)})
        return test

    def test_a_goal_ticked_late_is_left_out_or_read_from_then(self) -> None:
        self.assertEqual((instant_ms(SENT), instant_ms(LATER)), (BEGAN, LATE))
        counted = tuple((key, goal, LATER if goal == "call" else SENT)
                        for key in "AB" for goal in (FORM, "call"))
        whatever = self.period(counted)
        self.assertEqual((whatever.began_ms, whatever.late), (BEGAN, ("call",)))
        about = self.period(counted, counts="call")
        self.assertEqual((about.began_ms, about.lacking), (LATE, ()))
        self.assertEqual(self.period(counted, counts=FORM).began_ms, BEGAN)
        self.assertEqual(self.period(counted[:3], counts="call").lacking, ("B",))

    def test_when_it_is_planned_to_begin_and_end(self) -> None:
        test = self.period((), begins=LATER, ends="2026-03-09T08:00:00+00:00")
        self.assertEqual((test.began_ms, test.closes_ms, test.runs),
                         (LATE, LATE + 4 * 86_400_000, True))
        for wrong in ({"begins": LATER, "ends": SENT}, {"begins": "soon"}, {"counts": "a\nb"},
                      {"devices": ("watch",)}):
            with self.assertRaises(EditError):
                set_plan(self.site, PAGE, **wrong)

    def test_a_page_says_since_when_each_goal_counts(self) -> None:
        def page(*goals: str, plan: TestPlan = TestPlan()) -> LivePage:
            return LivePage(PAGE, "P", "p", SENT, (
                LiveVariant("A", 50, "p/index.html"), LiveVariant("B", 50, "p/variant-b.html")),
                plan=plan, counted=tuple(Counted("A", goal, LATER) for goal in goals))

        first = timed(page("f"), None, SENT)
        then = timed(page("f", "call"), first, LATER)
        self.assertEqual([one.since for one in timed(page("f"), page(), LATER).counted], [SENT])
        self.assertEqual([(one.goal, one.since) for one in then.counted],
                         [("f", LATER), ("call", LATER)])
        self.assertEqual(then.since, SENT, "what counts shares out nobody otherwise")
        narrower = timed(page("f", plan=TestPlan(devices=("phone",))), first, LATER)
        self.assertEqual((narrower.since, len(narrower.earlier)), (LATER, 1))

    def test_who_is_aside_or_came_otherwise_is_none_of_its_visitors(self) -> None:
        folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        engine = open_results(folder / "r.db")
        self.addCleanup(engine.dispose)

        def did(visitor: str, kind: EventKind, at: int, variant: str = "A", what: str = "",
                aside: bool = False) -> Event:
            return Event(at_ms=at, visitor=visitor, kind=kind, page=PAGE, variant=variant,
                         what=what, aside=aside)

        visit, goal, lead = EventKind.VISIT, EventKind.GOAL, EventKind.LEAD
        take_events(engine, [
            did("early", visit, BEGAN + 1), did("early", lead, BEGAN + 2, what=FORM),
            did("caller", visit, LATE + 1), did("caller", goal, LATE + 2, what="call"),
            did("caller", goal, LATE + 3, what="call"), did("both", visit, LATE + 4, "B"),
            did("both", goal, LATE + 5, "B", "call"), did("both", lead, LATE + 9, "B", FORM),
            did("aside", visit, LATE + 1, aside=True), did("aside", lead, LATE + 6, what=FORM),
            did("aside", visit, LATE + 7, "B"), did("after", visit, LATE + 999_999, "B")])

        def brought(test: SplitPeriod) -> dict[str, tuple[int, int]]:
            return {key: (sum(n for _, n, _ in days), sum(n for *_, n in days))
                    for key, days in split_days(engine, test).items()}

        test = SplitPeriod(PAGE, BOTH, BEGAN, LATE + 1000)
        self.assertEqual(brought(test), {"A": (2, 2), "B": (1, 1)})
        late = SplitPeriod(PAGE, BOTH, BEGAN, LATE + 1000, late=("call",))
        self.assertEqual(brought(late), {"A": (2, 1), "B": (1, 1)})
        about = SplitPeriod(PAGE, BOTH, LATE, LATE + 1000, plan=TestPlan(counts="call"))
        self.assertEqual(brought(about), {"A": (1, 1), "B": (1, 1)})
        self.assertEqual(split_goals(engine, test),
                         {FORM: {"A": 1, "B": 1}, "call": {"A": 1, "B": 1}})

    def test_of_many_goals_no_more_are_told_apart_by_chance_than_of_one(self) -> None:
        counts = {f"g{n}": {"A": 200, "B": 270} for n in range(1)}
        (alone,) = read_goals(BOTH, counts)
        self.assertTrue(alone.differs)
        many = read_goals(BOTH, counts | {f"h{n}": {"A": 9, "B": 9} for n in range(40)})
        self.assertLess(many[0].low, alone.low)
        self.assertEqual(len(many), 41)
        self.assertFalse(any(one.differs for one in many))

    def test_leaning_sends_more_to_the_better_and_says_what_that_costs(self) -> None:
        arms = [Arm("A", 50, 3000, 150), Arm("B", 50, 3000, 180)]
        shares = dict(leaning_shares(read_split(arms)))
        self.assertEqual(sum(shares.values()), 100)
        self.assertGreaterEqual(min(shares.values()), 10)
        self.assertGreater(shares["B"], 80)
        self.assertEqual(slower_by([50, 50]), 1)
        self.assertAlmostEqual(slower_by([90, 10]), 25 / 9)
        self.assertEqual(slower_by([100, 0]), float("inf"))

    def test_pages_on_one_way_are_not_to_be_tested_at_once(self) -> None:
        page = self.site.page(PAGE)
        assert page is not None
        self.assertEqual(tested_along(self.site, page), [])
        both = split_page(self.site, THANKS, datetime(2026, 3, 1, tzinfo=UTC))
        self.assertEqual([one.id for one in tested_along(both, page)], [THANKS])
        apart = set_page(both, PAGE, variants=tuple(
            type(one)(key=one.key, share=one.share) for one in page.variants))
        self.assertEqual(tested_along(apart, apart.pages[0]), [])


class DiaryTest(unittest.TestCase):
    def test_what_was_believed_changed_and_came_out_is_written_down(self) -> None:
        site = split_page(small_site(), PAGE, datetime(2026, 3, 1, tzinfo=UTC))
        site = set_plan(site, PAGE, believed="Shorter *wins*")
        one, other = site.pages[0].variants
        self.assertEqual(differing(one, other), [])
        heading, button = (next(node for node in other.nodes() if isinstance(node, kind))
                           for kind in (Heading, Button))
        site = set_words(site, heading.id, (text("New | words"),), "words")
        site = set_hidden(site, button.id, Width.PHONE, True)
        (test,) = tests_of(site, {PAGE: LiveShares(SENT, BOTH)})
        (entry,) = entries_of(site, [test], lambda _: {
            "A": [(1, 3000, 150)], "B": [(1, 3000, 260)]})
        self.assertEqual(entry.changed, {"B": [
            "Heading: “Old words” became “New | words”", "button"]})
        self.assertEqual(entry.came[0], "B is better.")
        told = diary_text([entry], lambda ms: f"{ms}")
        self.assertIn("Believed: Shorter \\*wins\\*", told)
        self.assertIn("became “New \\| words”", told)
        self.assertIn("| B | 3000 | 260 | 8.67% |", told)
        removed = msgspec.structs.replace(other, children=other.children[:1])
        self.assertEqual(differing(one, removed), ["1 section removed"])


class WorthTest(unittest.TestCase):
    def test_there_is_one_main_goal_and_what_is_worth_nothing_is_not_kept(self) -> None:
        site = set_worth(set_worth(small_site(), FORM, cents=1250, main=True), "call", main=True)
        self.assertEqual([(one.goal, one.cents, one.main) for one in site.worths],
                         [(FORM, 1250, False), ("call", 0, True)])
        self.assertEqual(len(set_worth(site, "call", main=False).worths), 1)
        with self.assertRaises(EditError):
            set_worth(site, FORM, cents=-1)

    def test_so_much_seen_counts_by_its_name(self) -> None:
        site = add_reach(small_site(), PAGE, Reach("Read to the end", "depth", 90))
        self.assertIn(("A", "Read to the end"), goals_on(site, site.pages[0]))
        self.assertIn(GoalKind.DEPTH, [goal.kind for goal in goals_of(site)])
        for wrong in (Reach("Read to the end", "time", 9), Reach(" ", "time", 9)):
            with self.assertRaises(EditError):
                add_reach(site, PAGE, wrong)
