import unittest
from datetime import UTC, datetime, timedelta

import msgspec
import numpy as np

from needle.core.colour.contrast import contrast
from needle.core.edit.pages import keep_variant, set_share, split_page
from needle.core.measure.period import LiveShares, SplitPeriod, instant_ms, tests_of
from needle.core.measure.split import Arm, Reading, density, read_split, shares_p_value, verdict
from needle.core.progress import Results, stage_statuses
from tests.sites import PAGE, small_site

BOTH = (("A", 50), ("B", 50))


class SplitTest(unittest.TestCase):
    def test_the_chance_to_be_best_agrees_with_drawing_from_the_posteriors(self) -> None:
        arms = [Arm("A", 50, 900, 45), Arm("B", 30, 700, 49), Arm("C", 20, 300, 12)]
        rng = np.random.default_rng(1)
        draws = np.array([rng.beta(1 + a.conversions, 1 + a.visitors - a.conversions, 400_000)
                          for a in arms])
        best = np.bincount(draws.argmax(axis=0), minlength=3) / draws.shape[1]
        loss = (draws.max(axis=0) - draws).mean(axis=1)
        for reading, chance, cost in zip(read_split(arms), best, loss, strict=True):
            self.assertAlmostEqual(reading.best, chance, delta=0.004)
            self.assertAlmostEqual(reading.loss, cost, delta=0.0002)
            self.assertLess(reading.low, reading.arm.rate)
            self.assertGreater(reading.high, reading.arm.rate)

    def test_chances_add_up_and_nobody_yet_is_no_verdict(self) -> None:
        readings = read_split([Arm("A", 50, 0, 0), Arm("B", 50, 0, 0)])
        self.assertAlmostEqual(sum(r.best for r in readings), 1, places=3)
        self.assertIn("Nobody", verdict(readings)[0])
        few = read_split([Arm("A", 50, 20, 0), Arm("B", 50, 20, 6)])
        self.assertEqual(verdict(few)[0], "Too early to say.")
        nearly = read_split([Arm("A", 50, 3000, 150), Arm("B", 50, 3000, 180)])
        self.assertTrue(0.9 <= nearly[1].best < 0.975, nearly[1].best)
        self.assertEqual(verdict(nearly)[0], "B is ahead, but it is not safe to say so yet.")
        many = read_split([Arm("A", 50, 9000, 450), Arm("B", 50, 9000, 640)])
        self.assertEqual(verdict(many)[0], "B is better.")

    def test_more_conversions_than_visitors_do_no_harm(self) -> None:
        (reading,) = read_split([Arm("A", 100, 1, 4)])
        self.assertLessEqual(reading.high, 1)

    def test_shares_that_do_not_arrive_are_noticed(self) -> None:
        self.assertGreater(shares_p_value([Arm("A", 60, 601, 1), Arm("B", 40, 399, 1)]), 0.5)
        self.assertLess(shares_p_value([Arm("A", 50, 700, 1), Arm("B", 50, 500, 1)]), 0.01)

    def test_one_arm_or_nobody_says_nothing_of_the_shares(self) -> None:
        for arms in ([Arm("A", 50, 0, 0), Arm("B", 50, 0, 0)], [Arm("A", 100, 500, 3)],
                     [Arm("A", 100, 500, 3), Arm("B", 0, 90, 1)]):
            self.assertEqual(shares_p_value(arms), 1.0)
        self.assertLess(shares_p_value([Arm("A", 50, 2, 0), Arm("B", 50, 0, 0)]), 0.2)
        three = [Arm("A", 50, 500, 0), Arm("B", 30, 300, 0), Arm("C", 20, 200, 0)]
        self.assertAlmostEqual(shares_p_value(three), 1.0)

    def test_the_range_is_the_middle_of_the_posterior(self) -> None:
        reading, _ = read_split([Arm("A", 50, 400, 20), Arm("B", 50, 400, 30)])
        draws = np.random.default_rng(3).beta(21, 381, 2_000_000)
        low, high = np.quantile(draws, (0.025, 0.975))
        self.assertAlmostEqual(reading.low, low, places=4)
        self.assertAlmostEqual(reading.high, high, places=4)
        self.assertEqual(Arm("A", 50, 0, 0).rate, 0.0)

    def test_a_lone_arm_is_the_best_and_keeping_it_costs_nothing(self) -> None:
        (reading,) = read_split([Arm("A", 100, 700, 35)])
        self.assertEqual((round(reading.best, 4), round(reading.loss, 5)), (1.0, 0.0))
        self.assertGreaterEqual(reading.loss, 0.0)

    def reading(self, best: float, conversions: int, loss: float = 0.0031) -> list[Reading]:
        return [Reading(Arm("A", 50, 500, 40), 0, 1, 1 - best, 0.01),
                Reading(Arm("B", 50, 500, conversions), 0, 1, best, loss)]

    def test_a_verdict_has_its_borders_and_says_its_chance_and_cost(self) -> None:
        for best, conversions, words in (
                (0.95, 9, "Too early to say."), (0.95, 10, "B is ahead, but"),
                (0.899, 50, "Too early to say."), (0.9, 50, "B is ahead, but"),
                (0.999, 50, "B is ahead, but"), (0.999, 120, "B is better.")):
            with self.subTest(best=best, conversions=conversions):
                self.assertTrue(verdict(self.reading(best, conversions))[0].startswith(words))
        self.assertTrue(verdict(self.reading(0.981, 50))[1].startswith(
            "B is 98.1 % likely better than the rest. If you keep it now and are wrong, "
            "you would lose 0.31 points."))

    def test_a_density_has_area_one(self) -> None:
        x = np.linspace(0, 1, 20001)
        self.assertAlmostEqual(float(np.trapezoid(density(Arm("A", 1, 50, 5), x), x)), 1, places=4)


class ColourTest(unittest.TestCase):
    def test_contrast_of_known_pairs(self) -> None:
        self.assertAlmostEqual(contrast("#000000", "#ffffff"), 21, places=2)
        self.assertAlmostEqual(contrast("#777777", "#ffffff"), 4.48, places=2)


class ProgressTest(unittest.TestCase):
    def test_the_seam_says_what_is_left(self) -> None:
        statuses = stage_statuses(small_site(), 2, Results(3, 60, 3))
        self.assertEqual(statuses["Publish"].words, "2 pages to send")
        self.assertTrue(statuses["Brief"].waiting)
        self.assertEqual(statuses["Connect"].words, "every form connected")
        self.assertEqual(statuses["Measure"].words, "3 leads · 5.0 %")


class PeriodTest(unittest.TestCase):
    def setUp(self) -> None:
        self.now = datetime(2026, 3, 1, 12, tzinfo=UTC)
        self.site = split_page(small_site(), PAGE, self.now)

    def test_a_test_begins_when_visitors_get_both_variants(self) -> None:
        (test,) = tests_of(self.site, {})
        self.assertIsNone(test.began_ms)
        (test,) = tests_of(self.site, {PAGE: LiveShares("2026-03-02T08:00:00+00:00", BOTH)})
        self.assertEqual(test.began_ms, instant_ms("2026-03-02T08:00:00+00:00"))
        self.assertEqual(test.arms, (("A", 50), ("B", 50)))

    def test_other_shares_are_a_time_of_their_own_and_count_once_they_are_live(self) -> None:
        first, then = "2026-03-02T08:00:00+00:00", "2026-03-05T08:00:00+00:00"
        asked = set_share(self.site, PAGE, "A", 70)
        (test,) = tests_of(asked, {PAGE: LiveShares(first, BOTH)})
        self.assertEqual(test.arms, BOTH)
        now, before = tests_of(asked, {PAGE: LiveShares(
            then, (("A", 70), ("B", 30)), ((first, then, BOTH),))})
        self.assertEqual((now.arms, now.began_ms, now.runs),
                         ((("A", 70), ("B", 30)), instant_ms(then), True))
        self.assertEqual(before, SplitPeriod(PAGE, BOTH, instant_ms(first), instant_ms(then)))
        self.assertFalse(before.runs)

    def test_an_ended_test_keeps_its_time_and_its_shares(self) -> None:
        later = self.now + timedelta(days=9)
        site = keep_variant(self.site, PAGE, "B", later, "2026-03-02T08:00:00+00:00")
        again = split_page(site, PAGE, later)
        running, ended = tests_of(again, {})
        self.assertEqual((running.kept, [key for key, _ in running.arms]), ("", ["B", "C"]))
        self.assertEqual(ended, SplitPeriod(PAGE, (("A", 50), ("B", 50)), instant_ms(
            "2026-03-02T08:00:00+00:00"), int(later.timestamp() * 1000), "B"))

    def test_what_an_earlier_needle_ended_says_that_its_time_is_not_known(self) -> None:
        page = keep_variant(self.site, PAGE, "B", self.now).page(PAGE)
        assert page is not None
        old = msgspec.structs.replace(self.site, pages=(msgspec.structs.replace(page, ended=()),))
        (test,) = tests_of(old, {})
        self.assertEqual((test.timed, test.kept, test.arms), (False, "B", (("B", 100), ("A", 0))))

    def test_a_test_does_not_begin_before_its_variant_was_there(self) -> None:
        (test,) = tests_of(self.site, {PAGE: LiveShares("2026-01-01T00:00:00+00:00", BOTH)})
        self.assertEqual(test.began_ms, int(self.now.timestamp() * 1000))
        self.assertTrue(test.timed)

    def test_dates_of_earlier_needles_are_midnight(self) -> None:
        self.assertEqual(instant_ms("1970-01-02"), 86_400_000)
        self.assertIsNone(instant_ms("someday"))
