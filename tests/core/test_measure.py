import unittest

import numpy as np

from needle.core.colour.contrast import contrast
from needle.core.measure.split import Arm, density, read_split, shares_p_value, verdict
from needle.core.progress import Results, stage_statuses
from tests.sites import small_site


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
        many = read_split([Arm("A", 50, 9000, 450), Arm("B", 50, 9000, 640)])
        self.assertEqual(verdict(many)[0], "B is better.")

    def test_more_conversions_than_visitors_do_no_harm(self) -> None:
        (reading,) = read_split([Arm("A", 100, 1, 4)])
        self.assertLessEqual(reading.high, 1)

    def test_shares_that_do_not_arrive_are_noticed(self) -> None:
        self.assertGreater(shares_p_value([Arm("A", 60, 601, 1), Arm("B", 40, 399, 1)]), 0.5)
        self.assertLess(shares_p_value([Arm("A", 50, 700, 1), Arm("B", 50, 500, 1)]), 0.01)

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
