"""How long a split test takes: asked before it begins, so that nobody waits in vain."""

from bisect import bisect_left
from dataclasses import dataclass
from statistics import NormalDist

import numpy as np

from needle.core.measure.sequential import ALPHA, log_e_values

__all__ = ["LONGEST_DAYS", "POWER", "Plan", "plan_test", "smallest_gain"]

# Of tests of a variant that is better by so much, so many are called by then.
POWER = 0.8
# After three months visitors, season and offer are others than those it began with.
LONGEST_DAYS = 92
_MOST = 10_000_000
_STEPS = 6000


@dataclass(frozen=True, slots=True)
class Plan:
    """What a test takes.

    Attributes:
        visitors: In all variants together, until a gain is found however often somebody looks.
        days: How long that takes.
        once_visitors: If somebody looks once only, when so many have come.
        once_days: How long that takes.
    """

    visitors: int
    days: int
    once_visitors: int
    once_days: int

    @property
    def ends(self) -> bool:
        """Whether it ends within three months."""
        return self.days <= LONGEST_DAYS


def plan_test(rate: float, gain: float, visitors_a_day: float, variants: int = 2) -> Plan:
    """Return what it takes to find that one variant is better than the others.

    However often somebody looks: the smallest count of conversions of a pair at which even an
    unlucky draw (the quantile 1 − `POWER` of a binomial, shared out over the pairs) reaches the
    bound of `surely_best`; as the bound may be reached before, at least `POWER` are called by
    then. Looked at once: two proportions, two-sided, by Fleiss, Levin and Paik (2003),
    "Statistical methods for rates and proportions", 4.2, with α shared out over the pairs.

    Args:
        rate: Conversions per visitor of the others, above 0 and below 1.
        gain: How much better the one is, of that: 0.2 for a fifth more.
        visitors_a_day: New ones, in all variants.
        variants: How many there are; all get the same share.

    Raises:
        ValueError: The rates do not lie between 0 and 1, or nobody comes.
    """
    better = rate * (1 + gain)
    if not 0 < rate < better < 1 or visitors_a_day <= 0 or variants < 2:
        raise ValueError("no such test")
    pairs = variants - 1
    each = _conversions(better / (rate + better), pairs) / (rate + better)
    normal = NormalDist()
    reach = -normal.inv_cdf(ALPHA / pairs / 2) - normal.inv_cdf((1 - POWER) / pairs)
    once = reach ** 2 * (rate * (1 - rate) + better * (1 - better)) / (better - rate) ** 2
    told = [int(np.ceil(variants * count)) for count in (each, once)]
    return Plan(told[0], int(np.ceil(told[0] / visitors_a_day)), told[1],
                int(np.ceil(told[1] / visitors_a_day)))


def _conversions(share: float, pairs: int) -> int:
    """Return the conversions of a pair at which an unlucky draw reaches the bound.

    Args:
        share: Of the better one among them.
    """
    from scipy.stats import binom  # Heavy, and needed only here.

    counts = np.unique(np.geomspace(4, _MOST, _STEPS).astype(int))
    unlucky = binom.ppf((1 - POWER) / pairs, counts, share)
    reached = log_e_values(np.stack([unlucky, counts - unlucky], axis=-1), (1, 1)) >= np.log(
        pairs / ALPHA)
    found = counts[reached & (unlucky > counts / 2)]
    return int(found[0]) if len(found) else _MOST


def smallest_gain(rate: float, visitors_a_day: float, variants: int = 2,
                  days: int = LONGEST_DAYS) -> float | None:
    """Return the smallest gain that a test of so many days finds, in whole percent of the rate;
    `None` if it would find none at all."""
    most = min(1000, int(100 / rate) - 101)  # In percent; a rate cannot be more than all.
    if most < 1 or plan_test(rate, most / 100, visitors_a_day, variants).days > days:
        return None
    return bisect_left(range(1, most), True, key=lambda percent: plan_test(
        rate, percent / 100, visitors_a_day, variants).days <= days) / 100 + 0.01
