"""Split tests: what the counts say about the variants' true rates."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from needle.core.measure.period import SplitPeriod
from needle.core.measure.sequential import ALPHA, log_e_value, ratio_range, surely_best

__all__ = ["Arm", "GoalReading", "Reading", "arms_of", "density", "leaning_shares", "read_goals",
           "read_split", "shares_arrive", "shares_p_value", "slower_by", "surely_better",
           "verdict"]

_GRID = 4001
# Fewer conversions of a variant say nothing, whatever the figures.
_FEWEST = 10
_AHEAD = 0.9
_STOPPED = 100
_WEEK = 7
# A multiple that is known no better than this is not said.
_ENDLESS = 1000.0


@dataclass(frozen=True, slots=True)
class Arm:
    """A variant's counts.

    Attributes:
        share: How many of a hundred new visitors were asked for.
    """

    key: str
    share: int
    visitors: int
    conversions: int

    @property
    def rate(self) -> float:
        """Conversions per visitor; 0 without visitors."""
        return self.conversions / self.visitors if self.visitors else 0.0


def arms_of(test: SplitPeriod, days: Mapping[str, Sequence[tuple[int, int, int]]]) -> list[Arm]:
    """Return the variants of a test with what they brought in its time.

    Args:
        days: By variant, day with visitors and conversions, each visitor once.
    """
    return [Arm(key, share, sum(seen for _, seen, _ in days.get(key, ())),
                sum(won for _, _, won in days.get(key, ()))) for key, share in test.arms]


@dataclass(frozen=True, slots=True)
class Reading:
    """What is known of one variant.

    Attributes:
        low, high: The middle 95 % of where its true rate may lie.
        best: The chance that it is the best, 0 to 1.
        loss: What keeping it would cost if it is not, as a rate.
    """

    arm: Arm
    low: float
    high: float
    best: float
    loss: float


def _posterior(arm: Arm) -> tuple[float, float]:
    """Return the parameters of the Beta posterior from a uniform prior."""
    wins = min(arm.conversions, arm.visitors)
    return 1.0 + wins, 1.0 + arm.visitors - wins


def density(arm: Arm, rates: NDArray[np.float64]) -> NDArray[np.float64]:
    """Return how likely each true rate in `rates` (0 to 1) is, as a probability density."""
    from scipy.stats import beta  # Heavy, and needed only where a test is shown.

    return np.asarray(beta.pdf(rates, *_posterior(arm)), dtype=float)


def read_split(arms: Sequence[Arm]) -> list[Reading]:
    """Return a reading for each variant.

    Beta-binomial model with a uniform prior (Gelman et al., Bayesian Data Analysis, 2.4). The
    chance to be best is the integral of one density times the others' distributions; the loss is
    the expected shortfall against the best.
    """
    from scipy.stats import beta

    rates = _grid(arms)
    densities = np.array([density(arm, rates) for arm in arms])
    below = np.array([beta.cdf(rates, *_posterior(arm)) for arm in arms])
    # E[max] = upper end of the grid minus the integral of P(all are below x).
    top = rates[-1] - np.trapezoid(below.prod(axis=0), rates)
    readings = []
    for number, arm in enumerate(arms):
        others = np.delete(below, number, axis=0).prod(axis=0)
        best = float(np.clip(np.trapezoid(densities[number] * others, rates), 0, 1))
        a, b = _posterior(arm)
        low, high = beta.ppf((0.025, 0.975), a, b)
        readings.append(Reading(arm, float(low), float(high), best, max(0.0, float(
            top - a / (a + b)))))
    return readings


def _grid(arms: Sequence[Arm]) -> NDArray[np.float64]:
    """Return rates that cover every posterior closely."""
    from scipy.stats import beta

    low = min(float(beta.ppf(1e-7, *_posterior(arm))) for arm in arms)
    high = max(float(beta.ppf(1 - 1e-7, *_posterior(arm))) for arm in arms)
    return np.linspace(low, high, _GRID)


def shares_p_value(arms: Sequence[Arm]) -> float:
    """Return how probable the seen split of visitors is under the shares asked for.

    Pearson's chi-squared test; a value below 0.01 says that shares do not arrive as asked.
    """
    from scipy.stats import chisquare

    seen = np.array([arm.visitors for arm in arms if arm.share], dtype=float)
    asked = np.array([arm.share for arm in arms if arm.share], dtype=float)
    if len(seen) < 2 or seen.sum() == 0:
        return 1.0
    return float(chisquare(seen, asked / asked.sum() * seen.sum()).pvalue)


def shares_arrive(arms: Sequence[Arm]) -> bool:
    """Whether visitors are shared out as was asked; a test in which they are not has no verdict.

    It holds at every look: of sound tests at most one in a hundred is ever stopped.
    """
    told = [arm for arm in arms if arm.share]
    return len(told) < 2 or log_e_value(
        [arm.visitors for arm in told], [arm.share for arm in told]) < np.log(_STOPPED)


def _ratio_words(arms: Sequence[Arm], ahead: Arm) -> str:
    """Return how many times as often the one ahead converts as the next best."""
    other = max((arm for arm in arms if arm is not ahead), key=lambda arm: arm.rate, default=None)
    if other is None or not ahead.share or not other.share:
        return ""
    low, high = ratio_range((other.conversions, ahead.conversions), (other.share, ahead.share))
    if not 0 < low <= high < _ENDLESS:
        return ""
    return (f" {ahead.key} converts {low:.2f} to {high:.2f} times as often as {other.key}, "
            "which holds at every look.")


@dataclass(frozen=True, slots=True)
class GoalReading:
    """What a further goal says of one variant beside the first.

    Attributes:
        low, high: Between which bounds the variant's rate of this goal is a multiple of the first
            one's; endless bounds are 0 and infinity.
    """

    goal: str
    key: str
    first: int
    conversions: int
    low: float
    high: float

    @property
    def differs(self) -> bool:
        """Whether the variants are told apart by it."""
        return not self.low <= 1 <= self.high


def read_goals(arms: Sequence[tuple[str, int]], counts: Mapping[str, Mapping[str, int]],
               ) -> list[GoalReading]:
    """Return what every goal says of each variant beside the first.

    All ranges hold together, at every look: each is taken at α shared out over all of them, so
    whoever looks through ten goals for one that differs is no more often fooled than with one
    (Bonferroni).

    Args:
        arms: The variants with their shares.
        counts: By goal and variant, how many visitors reached it.
    """
    arms = [(key, share) for key, share in arms if share]
    pairs = [(goal, key, share) for goal in sorted(counts) for key, share in arms[1:]]
    found = []
    for goal, key, share in pairs:
        first, won = (counts[goal].get(one, 0) for one in (arms[0][0], key))
        low, high = ratio_range((first, won), (arms[0][1], share), ALPHA / len(pairs))
        found.append(GoalReading(goal, key, first, won, low, high))
    return found


def leaning_shares(readings: Sequence[Reading], fewest: int = 10) -> list[tuple[str, int]]:
    """Return shares, in percent, by which more visitors get what is likely best.

    Each gets its chance to be the best (Thompson 1933, "On the likelihood that one unknown
    probability exceeds another"), and none less than `fewest`, so that an unlucky one can recover.
    """
    spare = 100 - fewest * len(readings)
    shares = [fewest + int(spare * one.best) for one in readings]
    ahead = max(range(len(readings)), key=lambda place: readings[place].best)
    shares[ahead] += 100 - sum(shares)
    return [(one.arm.key, share) for one, share in zip(readings, shares, strict=True)]


def slower_by(shares: Sequence[int]) -> float:
    """Return how many times as many visitors it takes, by these shares, to tell the variant with
    the most from the one with the least, as it does by even ones.

    What a pair's visitors tell goes with the product of their shares over the sum.
    """
    even = 100 / len(shares) / 2
    most, least = max(shares), min(shares)
    return even * (most + least) / (most * least) if least else math.inf


def surely_better(arms: Sequence[Arm]) -> Arm | None:
    """Return the variant that may be called better now; `None` where none may, or where visitors
    are not shared out as was asked, or too few converted."""
    if not shares_arrive(arms) or min(arm.conversions for arm in arms) < _FEWEST:
        return None
    best = surely_best([arm.conversions for arm in arms], [arm.share for arm in arms])
    return arms[best] if best is not None else None


def verdict(readings: Sequence[Reading], runs: bool = True, days: int = 0) -> tuple[str, str]:
    """Return a sentence and its reasons, for the person.

    Args:
        runs: The test goes on, so that there is something to advise.
        days: For how many days it counted; 0 where that is not known.
    """
    total = sum(reading.arm.visitors for reading in readings)
    if total == 0:
        return "Nobody has come yet.", "Publish the page and send visitors to it."
    arms = [reading.arm for reading in readings]
    if not shares_arrive(arms):
        return "No verdict: the shares do not arrive as asked.", (
            "So one variant has other visitors than the other. Likely: one variant is slow or "
            "broken for some, a link leads past the sharing out, or robots come to one of them. "
            "Begin the test anew once that is put right.")
    ahead = max(readings, key=lambda reading: reading.best)
    chance = f"{ahead.best:.1%}".replace("%", " %")
    cost = f"{ahead.loss * 100:.2f} points"
    reasons = (f"{ahead.arm.key} is {chance} likely better than the rest. If you keep it now "
               f"and are wrong, you would lose {cost}.")
    reasons = f"{reasons}{_ratio_words(arms, ahead.arm)}"
    fewest = min(reading.arm.conversions for reading in readings)
    if (sure := surely_better(arms)) is not None:
        return f"{sure.key} is better.", (
            f"{reasons} However often you look: of tests of equal variants, at most "
            f"{ALPHA * 100:.0f} % are ever called.{_short_words(days)}")
    if fewest >= _FEWEST and ahead.best >= _AHEAD:
        return f"{ahead.arm.key} is ahead, but it is not safe to say so yet.", reasons + (
            " Who ends a test as soon as that looks good is often wrong: let it run on."
            if runs else "") + _short_words(days)
    return "Too early to say.", reasons + (" Let it run on." if runs else "") + _short_words(days)


def _short_words(days: int) -> str:
    """Return what is said of a test that has not seen every weekday."""
    if not 0 < days < _WEEK:
        return ""
    return (f" It has seen {days} of seven weekdays: other days bring other people, and what is "
            "new draws more at first.")
