"""A split test that may be looked at every day: what holds however often somebody looks.

Every visitor who converts was given a variant by the shares. If all variants convert alike, the
conversions fall on them as the shares do, whatever the rate, the day or the season. How much more
probable the counts are under a mixture of other shares is an e-value: at every look its mean is 1
if the variants are alike, so it reaches 1/α in at most α of such tests, ever (Ville 1939; Robbins
1970, "Statistical methods related to the law of the iterated logarithm"; Lindon and Malek 2022,
"Anytime-valid inference for multinomial count data").
"""

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

__all__ = ["ALPHA", "log_e_value", "log_e_values", "ratio_range", "ratio_ranges", "surely_best"]

# Of tests of equal variants, at most so many are ever called.
ALPHA = 0.05
# How far from the shares the mixture looks, as a count of conversions for each variant: smaller
# ones find large differences sooner, larger ones small differences better.
_CONCENTRATION = 100.0
# Halvings that find an end of a range to more than its last shown digit.
_HALVINGS = 60


def log_e_value(conversions: Sequence[int], shares: Sequence[float]) -> float:
    """Return the natural logarithm of the e-value against "all variants convert alike".

    The mixture is a Dirichlet-multinomial one with its middle at the shares.

    Args:
        conversions: Of each variant.
        shares: How visitors were shared out, above 0; in any unit.
    """
    return float(log_e_values(np.asarray(conversions, dtype=float), shares))


def log_e_values(conversions: NDArray[np.float64], shares: Sequence[float]) -> NDArray[np.float64]:
    """Return the same for many looks at once.

    Args:
        conversions: The variants in the last axis.
    """
    from scipy.special import gammaln  # Heavy, and needed only here.

    share = np.asarray(shares, dtype=float) / sum(shares)
    prior = _CONCENTRATION * len(share) * share
    mixture = (gammaln(prior.sum()) - gammaln(prior.sum() + conversions.sum(axis=-1))
               + (gammaln(prior + conversions) - gammaln(prior)).sum(axis=-1))
    return np.asarray(mixture - (conversions * np.log(share)).sum(axis=-1))


def ratio_range(conversions: Sequence[int], shares: Sequence[float], alpha: float = ALPHA,
                ) -> tuple[float, float]:
    """Return between which bounds the second variant's rate is a multiple of the first's.

    It holds at every look together: in at most `alpha` of tests the true multiple is ever outside.
    If the second converts θ times as often, of two conversions its share is θ s₂ / (s₁ + θ s₂); in
    the range are all θ whose e-value, by the same mixture, is below 1/α (Howard, Ramdas, McAuliffe
    and Sekhon 2021, "Time-uniform, nonparametric, nonasymptotic confidence sequences"). One is
    outside just when `surely_best` would call the two.

    Args:
        conversions: Of the two variants.
        shares: How visitors were shared out between them, above 0; in any unit.
        alpha: Smaller where several ranges are to hold together (Bonferroni).
    """
    low, high = ratio_ranges(np.asarray(conversions, dtype=float), shares, alpha)
    return float(low), float(high)


def ratio_ranges(conversions: NDArray[np.float64], shares: Sequence[float],
                 alpha: float = ALPHA) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Return the same for many looks at once: all lower and all upper bounds.

    Args:
        conversions: The two variants in the last axis.
    """
    share = np.asarray(shares, dtype=float) / sum(shares)
    first, second = conversions[..., 0], conversions[..., 1]
    # What the e-value adds to the likelihood of one share of the conversions.
    top = log_e_values(conversions, shares) + (conversions * np.log(share)).sum(axis=-1)

    def outside(part: NDArray[np.float64]) -> NDArray[np.bool_]:
        with np.errstate(divide="ignore", invalid="ignore"):
            likely = np.where(second > 0, second * np.log(part), 0.0) + np.where(
                first > 0, first * np.log1p(-part), 0.0)
        return np.asarray(top - likely >= np.log(1 / alpha))

    with np.errstate(invalid="ignore"):
        seen = np.where(first + second > 0, second / np.maximum(first + second, 1), share[1])
    ends = []
    for end in (0.0, 1.0):
        beyond, within = np.full(seen.shape, end), seen.astype(float)
        for _ in range(_HALVINGS):
            middle = (beyond + within) / 2
            out = outside(middle)
            beyond, within = np.where(out, middle, beyond), np.where(out, within, middle)
        # Where nothing up to the end is outside, the range ends there.
        ends.append(np.where(outside(np.full(seen.shape, abs(end - 1e-12))), within, end))
    with np.errstate(divide="ignore"):
        low, high = (part / (1 - part) * share[0] / share[1] for part in ends)
    return low, high


def surely_best(conversions: Sequence[int], shares: Sequence[float]) -> int | None:
    """Return the place of the variant that converts better than each other one, or `None` while
    that is not safe to say.

    It is held against each of the k − 1 others at α / (k − 1): a wrong one is named in at most α of
    tests, whichever of them are alike (Bonferroni, over the pairs that a wrong name needs).
    """
    if len(shares) < 2 or min(shares) <= 0:
        return None
    rates = [count / share for count, share in zip(conversions, shares, strict=True)]
    best = max(range(len(rates)), key=rates.__getitem__)
    needed = np.log((len(shares) - 1) / ALPHA)
    others = [place for place in range(len(rates)) if place != best]
    if all(rates[best] > rates[place] and log_e_value(
            (conversions[best], conversions[place]), (shares[best], shares[place])) >= needed
            for place in others):
        return best
    return None
