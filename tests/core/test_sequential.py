"""What is said of a split test holds however often somebody looks."""

import itertools
import math
import unittest

import numpy as np
from scipy.special import gammaln

from needle.core.measure.sequential import ALPHA, log_e_value, surely_best
from needle.core.measure.split import Arm, read_split, shares_arrive, verdict


def looked_at_daily(rates: tuple[float, ...], shares: tuple[float, ...], tests: int, days: int = 28,
                    a_day: int = 500, seed: int = 7) -> list[int | None]:
    """Return what each of some simulated tests was first said to be best, looked at every day."""
    draw = np.random.default_rng(seed)
    weights = np.array(shares) / sum(shares)
    visitors = draw.multinomial(a_day * len(rates), weights, (tests, days))
    won = draw.binomial(visitors, rates).cumsum(axis=1)
    return [next((best for day in test if (best := surely_best(day.tolist(), shares)) is not None),
                 None) for test in won]


class SequentialTest(unittest.TestCase):
    def test_the_mean_of_the_e_value_is_one_where_all_are_alike(self) -> None:
        for shares in ((1, 1), (3, 1), (2, 1, 1)):
            weights, total = np.array(shares) / sum(shares), 9
            mean = 0.0
            for seen in itertools.product(range(total + 1), repeat=len(shares)):
                if sum(seen) != total:
                    continue
                counts = np.array(seen)
                log_p = (math.lgamma(total + 1) - gammaln(counts + 1).sum()
                         + (counts * np.log(weights)).sum())
                mean += math.exp(log_p + log_e_value(seen, shares))
            self.assertAlmostEqual(mean, 1, places=9, msg=str(shares))

    def test_nothing_seen_says_nothing(self) -> None:
        self.assertEqual(log_e_value((0, 0), (50, 50)), 0)
        self.assertIsNone(surely_best((0, 0), (50, 50)))
        self.assertIsNone(surely_best((40,), (100,)))
        self.assertIsNone(surely_best((900, 10), (100, 0)))

    def test_equal_variants_looked_at_daily_are_called_in_one_of_twenty_at_most(self) -> None:
        for rate, shares in ((0.03, (50, 50)), (0.2, (50, 50)), (0.03, (80, 20)),
                             (0.05, (25, 25, 25, 25))):
            with self.subTest(rate=rate, shares=shares):
                called = looked_at_daily((rate,) * len(shares), shares, 400)
                wrong = sum(one is not None for one in called) / len(called)
                self.assertLessEqual(wrong, ALPHA)

    def test_a_real_difference_is_found_and_the_right_one_named(self) -> None:
        called = looked_at_daily((0.03, 0.045), (50, 50), 200)
        self.assertGreater(sum(one == 1 for one in called) / 200, 0.9)
        self.assertEqual(sum(one == 0 for one in called), 0)
        uneven = looked_at_daily((0.03, 0.05), (80, 20), 200)
        self.assertGreater(sum(one == 1 for one in uneven) / 200, 0.8)

    def test_two_equal_best_ones_among_four_are_not_told_apart(self) -> None:
        called = looked_at_daily((0.03, 0.03, 0.06, 0.06), (25,) * 4, 200)
        self.assertLessEqual(sum(one is not None for one in called) / 200, ALPHA)


class VerdictTest(unittest.TestCase):
    def said(self, *counts: tuple[int, int], share: int = 50) -> tuple[str, str]:
        return verdict(read_split([Arm(key, share, visitors, won) for key, (visitors, won)
                                   in zip("ABCD", counts, strict=False)]))

    def test_what_looks_good_is_not_called(self) -> None:
        says, why = self.said((3000, 150), (3000, 190))
        self.assertEqual(says, "B is ahead, but it is not safe to say so yet.")
        self.assertIn("let it run on", why)
        says, why = self.said((9000, 450), (9000, 640))
        self.assertEqual(says, "B is better.")
        self.assertIn("at most 5 % are ever called", why)

    def test_shares_that_do_not_arrive_stop_the_verdict(self) -> None:
        says, why = self.said((9000, 450), (7000, 640))
        self.assertIn("the shares do not arrive as asked", says)
        self.assertIn("Likely:", why)
        self.assertTrue(shares_arrive([Arm("A", 50, 9000, 1), Arm("B", 50, 8900, 1)]))
        self.assertTrue(shares_arrive([Arm("A", 100, 9000, 1), Arm("B", 0, 70, 1)]))

    def test_few_conversions_are_never_called(self) -> None:
        self.assertEqual(self.said((90, 0), (90, 60))[0], "Too early to say.")
