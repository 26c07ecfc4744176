"""The difference of two shares, with the range that the figures leave open."""

from dataclasses import dataclass
from math import sqrt
from statistics import NormalDist

__all__ = ["Difference", "share_difference"]


@dataclass(frozen=True, slots=True)
class Difference:
    """How much larger one share is than another.

    Attributes:
        shift: First minus second share, between -1 and 1.
        low, high: Its 95 % interval.
    """

    shift: float
    low: float
    high: float

    @property
    def beyond_chance(self) -> bool:
        """Whether no difference lies outside the interval."""
        return self.low > 0 or self.high < 0


def share_difference(went: int, of: int, went_before: int, of_before: int) -> Difference | None:
    """Return by how much two independent shares differ; `None` where one is of nobody.

    The interval is the hybrid of two Wilson score intervals: Newcombe (1998), "Interval estimation
    for the difference between independent proportions", Statistics in Medicine 17, method 10.

    Raises:
        ValueError: More went than came.
    """
    if not of or not of_before:
        return None
    if went > of or went_before > of_before:
        raise ValueError("more went on than came")
    share, before = went / of, went_before / of_before
    low, high = _wilson(went, of)
    low_before, high_before = _wilson(went_before, of_before)
    return Difference(share - before,
                      share - before - sqrt((share - low) ** 2 + (high_before - before) ** 2),
                      share - before + sqrt((high - share) ** 2 + (before - low_before) ** 2))


def _wilson(went: int, of: int) -> tuple[float, float]:
    """Return the score interval of a share (Wilson 1927)."""
    z = NormalDist().inv_cdf(0.975)
    share = went / of
    middle = share + z * z / (2 * of)
    reach = z * sqrt(share * (1 - share) / of + z * z / (4 * of * of))
    return (middle - reach) / (1 + z * z / of), (middle + reach) / (1 + z * z / of)
