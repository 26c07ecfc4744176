"""How often a split test of equal variants is called although it is looked at every day, and how
soon a real difference is found: `python -m bench.honesty [--quick]`.

Beside it what a plain test of two proportions calls when it is looked at every day, and when it is
looked at once, at the end.
"""

import sys

import numpy as np
from numpy.typing import NDArray
from scipy.stats import norm

from bench.rivals import group_sequential, normal_mixture
from needle.core.measure.sequential import ALPHA, log_e_values, ratio_ranges

_DAYS, _A_DAY = 28, 500
_EQUAL = ((0.01, (1, 1)), (0.05, (1, 1)), (0.2, (1, 1)), (0.05, (4, 1)), (0.05, (1,) * 4),
          (0.05, (1,) * 8))
_DIFFERENT = ((0.03, 0.033), (0.03, 0.036), (0.03, 0.045), (0.1, 0.115))


def looks(rates: tuple[float, ...], shares: tuple[int, ...], tests: int, seed: int,
          ) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Return visitors and conversions of simulated tests: test, day, variant."""
    draw = np.random.default_rng(seed)
    weights = np.array(shares) / sum(shares)
    visitors = draw.multinomial(_A_DAY * len(rates), weights, (tests, _DAYS))
    won = draw.binomial(visitors, rates)
    return visitors.cumsum(axis=1).astype(float), won.cumsum(axis=1).astype(float)


def called(won: NDArray[np.float64], shares: tuple[int, ...]) -> NDArray[np.int64]:
    """Return which variant is said to be best at each look, or -1, as `surely_best` says it."""
    rates = won / np.array(shares)
    best = rates.argmax(axis=-1)
    held = np.ones(best.shape, dtype=bool)
    needed = np.log((len(shares) - 1) / ALPHA)
    for one in range(len(shares)):
        for other in range(len(shares)):
            if one != other:
                safe = log_e_values(won[..., [one, other]], (shares[one], shares[other])) >= needed
                ahead = rates[..., one] > rates[..., other]
                held &= (best != one) | (safe & ahead)
    return np.where(held, best, -1)


def plain(visitors: NDArray[np.float64], won: NDArray[np.float64]) -> NDArray[np.bool_]:
    """Return where a test of two proportions calls the first two variants unlike."""
    rate = won[..., :2].sum(-1) / visitors[..., :2].sum(-1)
    error = np.sqrt(rate * (1 - rate) * (1 / visitors[..., :2]).sum(-1))
    gap = won[..., 1] / visitors[..., 1] - won[..., 0] / visitors[..., 0]
    # Before the first conversion there is no error to hold the gap against.
    with np.errstate(invalid="ignore", divide="ignore"):
        return np.asarray(2 * norm.sf(np.abs(gap) / error) < ALPHA)


def _rivals(tests: int) -> None:
    """Print how often each test calls, and on which day on average if it is right."""
    ways = {"Needle": lambda _, won: called(won, (1, 1)) >= 0,
            "normal mixture": lambda visitors, won: normal_mixture(visitors, won, _DAYS // 2),
            "group sequential": group_sequential, "plain, once": lambda visitors, won: np.where(
                np.arange(_DAYS) == _DAYS - 1, plain(visitors, won), False)}
    print(f"{'called, and on which day':34} " + " ".join(f"{name:>20}" for name in ways))
    for seed, rates in enumerate(((0.01, 0.01), (0.05, 0.05), (0.2, 0.2), *_DIFFERENT)):
        visitors, won = looks(rates, (1, 1), tests, 300 + seed)
        cells = []
        for way in ways.values():
            held = way(visitors, won)
            some = held.any(axis=1)
            day = (held.argmax(axis=1) + 1)[some].mean() if some.any() else float("nan")
            cells.append(f"{some.mean():12.1%} {day:7.1f}")
        print(f"{rates[0]:6.1%} against {rates[1]:6.1%} {'':11} " + " ".join(cells), flush=True)


def main() -> None:
    """Print the table, and the figure in a closing line."""
    tests = 500 if "--quick" in sys.argv else 10_000
    wrong = every = 0
    print(f"{'equal variants':34} {'called':>8} {'plain, daily':>13} {'plain, once':>12}")
    for seed, (rate, shares) in enumerate(_EQUAL):
        visitors, won = looks((rate,) * len(shares), shares, tests, seed)
        false = int((called(won, shares) >= 0).any(axis=1).sum())
        naive = plain(visitors, won)
        wrong, every = wrong + false, every + tests
        print(f"{rate:5.0%} shared {':'.join(map(str, shares)):20} {false / tests:8.1%} "
              f"{naive.any(axis=1).mean():13.1%} {naive[:, -1].mean():12.1%}", flush=True)
    print(f"{'a real difference':34} {'found':>8} {'mean day':>13} {'plain, once':>12}")
    for seed, rates in enumerate(_DIFFERENT):
        visitors, won = looks(rates, (1, 1), tests, 100 + seed)
        right = called(won, (1, 1)) == 1
        found = right.any(axis=1)
        day = (right.argmax(axis=1) + 1)[found].mean() if found.any() else float("nan")
        print(f"{rates[0]:6.1%} against {rates[1]:6.1%} {'':11} {found.mean():8.1%} {day:13.1f} "
              f"{plain(visitors, won)[:, -1].mean():12.1%}", flush=True)
    print(f"{'range of the multiple':34} {'ever wrong':>10} {'at last':>10} {'width, at last':>17}")
    for seed, rates in enumerate(((0.05, 0.05), *_DIFFERENT, (0.2, 0.2))):
        _, won = looks(rates, (1, 1), tests, 200 + seed)
        low, high = ratio_ranges(won, (1, 1))
        missed = (low > rates[1] / rates[0]) | (high < rates[1] / rates[0])
        width = float(np.median(high[:, -1] - low[:, -1]))
        print(f"{rates[0]:6.1%} against {rates[1]:6.1%} {'':11} {missed.any(axis=1).mean():10.1%} "
              f"{missed[:, -1].mean():10.1%} {width:17.2f}", flush=True)
    _rivals(tests)
    print(f"false alarms {100 * wrong / every:.1f} % of {every}")


if __name__ == "__main__":
    main()
