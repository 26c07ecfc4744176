"""How long a split test takes, held against tests that are drawn, and against a textbook."""

import unittest

import numpy as np
from scipy.stats import norm

from needle.core.measure.plan import LONGEST_DAYS, plan_test, smallest_gain
from needle.core.measure.sequential import ALPHA, log_e_values


def called(rate: float, gain: float, a_day: int, days: int, tests: int = 600) -> float:
    """Return which part of drawn tests of two variants is called by a daily look."""
    draw = np.random.default_rng(5)
    half = a_day // 2
    one = draw.binomial(half, rate, (tests, days)).cumsum(axis=1)
    other = draw.binomial(half, rate * (1 + gain), (tests, days)).cumsum(axis=1)
    safe = log_e_values(np.stack([one, other], axis=-1).astype(float), (1, 1)) >= np.log(1 / ALPHA)
    return float((safe & (other > one)).any(axis=1).mean())


class PlanTest(unittest.TestCase):
    def test_four_of_five_drawn_tests_are_called_by_then_and_hardly_more(self) -> None:
        for rate, gain, a_day in ((0.05, 0.3, 400), (0.02, 0.5, 600), (0.1, 0.2, 500)):
            plan = plan_test(rate, gain, a_day)
            with self.subTest(rate=rate, gain=gain, plan=plan):
                self.assertGreaterEqual(called(rate, gain, a_day, plan.days), 0.8)
                self.assertLess(called(rate, gain, a_day, plan.days), 0.93)
                self.assertLess(called(rate, gain, a_day, plan.days // 2), 0.6)

    def test_one_look_is_the_textbooks(self) -> None:
        for rate, gain in ((0.05, 0.2), (0.1, 0.5), (0.3, 0.1)):
            better = rate * (1 + gain)
            z = norm.ppf(0.975) + norm.ppf(0.8)
            each = z * z * (rate * (1 - rate) + better * (1 - better)) / (better - rate) ** 2
            self.assertEqual(plan_test(rate, gain, 100).once_visitors, int(np.ceil(2 * each)))
        plan = plan_test(0.05, 0.2, 100)
        self.assertLess(plan.once_visitors, plan.visitors)
        self.assertEqual(plan.once_days, -(-plan.once_visitors // 100))
        self.assertEqual(plan.days, -(-plan.visitors // 100))

    def test_more_variants_smaller_gains_and_fewer_visitors_take_longer(self) -> None:
        plan = plan_test(0.05, 0.2, 500)
        self.assertGreater(plan_test(0.05, 0.2, 500, 4).days, 2 * plan.days)
        self.assertGreater(plan_test(0.05, 0.1, 500).days, 3 * plan.days)
        self.assertAlmostEqual(plan_test(0.05, 0.2, 250).days, 2 * plan.days, delta=1)
        self.assertGreater(plan_test(0.02, 0.2, 500).days, 2 * plan.days)

    def test_what_three_months_show(self) -> None:
        gain = smallest_gain(0.03, 40)
        assert gain is not None
        self.assertLessEqual(plan_test(0.03, gain, 40).days, LONGEST_DAYS)
        self.assertTrue(plan_test(0.03, gain, 40).ends)
        self.assertFalse(plan_test(0.03, gain - 0.01, 40).ends)
        self.assertIsNone(smallest_gain(0.5, 0.1))

    def test_what_is_no_test(self) -> None:
        for rate, gain, a_day, variants in ((0, 0.2, 10, 2), (1, 0.2, 10, 2), (0.6, 0.9, 10, 2),
                                            (0.1, 0, 10, 2), (0.1, 0.2, 0, 2), (0.1, 0.2, 10, 1)):
            with self.subTest((rate, gain, a_day, variants)), self.assertRaises(ValueError):
                plan_test(rate, gain, a_day, variants)
