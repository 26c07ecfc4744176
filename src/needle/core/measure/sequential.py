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

__all__ = ["ALPHA", "log_e_value", "log_e_values", "surely_best"]

# Of tests of equal variants, at most so many are ever called.
ALPHA = 0.05
# How far from the shares the mixture looks, as a count of conversions for each variant: smaller
# ones find large differences sooner, larger ones small differences better.
_CONCENTRATION = 100.0


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
