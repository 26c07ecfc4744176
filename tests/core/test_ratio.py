"""How many times as often one variant converts as the other, whenever somebody looks."""

import math
import unittest

import numpy as np

from needle.core.measure.sequential import (
    ALPHA,
    log_e_values,
    ratio_range,
    ratio_ranges,
    surely_best,
)
from needle.core.measure.split import Arm, read_split, verdict


class RatioTest(unittest.TestCase):
    def test_at_its_ends_the_e_value_is_what_calls_a_test(self) -> None:
        for counts, shares in (((120, 160), (1, 1)), ((30, 9), (4, 1)), ((50, 90), (1, 1))):
            low, high = ratio_range(counts, shares)
            self.assertLess(low, counts[1] / counts[0] * shares[0] / shares[1])
            for times in (low, high):
                part = times * shares[1] / (shares[0] + times * shares[1])
                top = float(log_e_values(np.array(counts, dtype=float), shares)) + sum(
                    count * math.log(share / sum(shares))
                    for count, share in zip(counts, shares, strict=True))
                told = top - counts[1] * math.log(part) - counts[0] * math.log(1 - part)
                self.assertAlmostEqual(told, math.log(1 / ALPHA), 6)

    def test_one_is_outside_just_when_the_test_is_called(self) -> None:
        for second in range(100, 200, 3):
            low, _ = ratio_range((100, second), (1, 1))
            self.assertEqual(low > 1, surely_best((100, second), (1, 1)) == 1, second)

    def test_where_nothing_is_known_nothing_is_ruled_out(self) -> None:
        self.assertEqual(ratio_range((0, 0), (1, 1)), (0.0, math.inf))
        low, high = ratio_range((0, 40), (1, 1))
        self.assertGreater(low, 1)
        self.assertEqual(high, math.inf)

    def test_looked_at_every_day_it_is_hardly_ever_wrong(self) -> None:
        draw = np.random.default_rng(4)
        won = draw.binomial(300, (0.05, 0.065), (600, 40, 2)).cumsum(axis=1).astype(float)
        low, high = ratio_ranges(won, (1, 1))
        wrong = ((low > 1.3) | (high < 1.3)).any(axis=1).mean()
        self.assertLess(wrong, ALPHA)
        self.assertLess(float(np.median(high[:, -1] / low[:, -1])), 1.8, "it tells something")

    def test_the_verdict_says_it(self) -> None:
        arms = [Arm("A", 50, 4000, 200), Arm("B", 50, 4000, 300)]
        self.assertRegex(verdict(read_split(arms))[1],
                         r"B converts 1\.0\d to 2\.\d\d times as often as A, which holds at every")
        few = [Arm("A", 50, 40, 0), Arm("B", 50, 40, 3)]
        self.assertNotIn("times as often", verdict(read_split(few))[1])
