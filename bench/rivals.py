"""Other sequential tests of two variants, to hold Needle's against: `bench.honesty` uses them.

Both look at the difference of the rates, with its variance put in as it is estimated.
"""

from functools import cache

import numpy as np
from numpy.typing import NDArray
from scipy.stats import norm

from needle.core.measure.sequential import ALPHA

__all__ = ["group_sequential", "normal_mixture"]

_PATHS = 400_000


def _scores(visitors: NDArray[np.float64], won: NDArray[np.float64],
            ) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Return z and the information (one over the variance) of the first two variants at each
    look."""
    rate = won[..., :2].sum(-1) / visitors[..., :2].sum(-1)
    variance = rate * (1 - rate) * (1 / visitors[..., :2]).sum(-1)
    gap = won[..., 1] / visitors[..., 1] - won[..., 0] / visitors[..., 0]
    with np.errstate(invalid="ignore", divide="ignore"):
        return np.nan_to_num(gap / np.sqrt(variance)), np.where(variance > 0, 1 / variance, 0.0)


def normal_mixture(visitors: NDArray[np.float64], won: NDArray[np.float64], tuned_to: int,
                   ) -> NDArray[np.bool_]:
    """Return where a normal mixture calls the variants unlike, for any number of looks.

    It is the mixture sequential probability ratio test (Johari, Koomen, Pekelis and Walsh 2017,
    "Peeking at A/B tests"), and equally the asymptotic confidence sequence (Waudby-Smith, Arbour,
    Sinha, Kennedy and Ramdas 2024): with information I and mixing variance τ², unlike once
    z² I τ² / (1 + I τ²) ≥ 2 log(1/α) + log(1 + I τ²).

    Args:
        tuned_to: The look at which its range is to be about as narrow as can be.
    """
    z, information = _scores(visitors, won)
    # The best I τ² for one look solves x − log(1 + x) = −2 log α; near 8 at 5 % (same paper, 2.3).
    spread = 8.2 * information / information[..., [tuned_to]]
    return np.asarray(z**2 * spread / (1 + spread) >= 2 * np.log(1 / ALPHA) + np.log1p(spread))


@cache
def _bounds(looks: int) -> tuple[float, ...]:
    """Return the bounds of |z| at each of so many even looks that spend α as O'Brien and Fleming's
    do: by time t, 2 (1 − Φ(z₁₋α⸝₂ / √t)) of it (Lan and DeMets 1983), from drawn Brownian paths."""
    draw = np.random.default_rng(7)
    paths = draw.standard_normal((_PATHS, looks), dtype=np.float32).cumsum(axis=1)
    paths /= np.sqrt(np.arange(1, looks + 1, dtype=np.float32))
    alive, spent, found = np.ones(_PATHS, dtype=bool), 0, []
    for look in range(looks):
        due = 2 * norm.sf(norm.isf(ALPHA / 2) / np.sqrt((look + 1) / looks)) * _PATHS
        count = round(due) - spent
        still = np.abs(paths[alive, look])
        bound = float(np.partition(still, -count)[-count]) if count > 0 else np.inf
        found.append(bound)
        alive[alive] = still < bound
        spent = _PATHS - int(alive.sum())
    return tuple(found)


def group_sequential(visitors: NDArray[np.float64], won: NDArray[np.float64],
                     ) -> NDArray[np.bool_]:
    """Return where a group-sequential test calls the variants unlike.

    It is about the best that can be had by who says before on which day the test ends, looks just
    as often as was said, and never goes on after it; it says nothing to anybody else.
    """
    z, _ = _scores(visitors, won)
    return np.asarray(np.abs(z) >= np.array(_bounds(z.shape[-1])))
