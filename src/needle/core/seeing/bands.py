"""Sections as bands across a picture."""

import numpy as np
from numpy.typing import NDArray

__all__ = ["Pixels", "band_edges", "ground_of"]

Pixels = NDArray[np.uint8]

_STRIP = 8
_STEP = 3
_NEIGHBOURS = 6
_LEAST_BAND = 18


def band_edges(pixels: Pixels) -> list[int]:
    """Return the rows at which one ground ends and another begins, the first and last included.

    An edge is a row where nearly every column changes at once, far more than the rows around it
    do: neither a card, which leaves the margins alone, nor a hill in a picture does that.
    """
    height = len(pixels)
    change = np.abs(np.diff(pixels.astype(np.int16), axis=0)).max(axis=2)
    median = np.median(change, axis=1)
    share = (change >= np.maximum(_STEP, median / 2)[:, None]).mean(axis=1)
    margins = np.minimum(change[:, :_STRIP].min(axis=1), change[:, -_STRIP:].min(axis=1))
    found = [0]
    for row in np.flatnonzero((median >= _STEP) & (share >= 0.8) & (margins >= _STEP - 1)):
        around = np.concatenate([median[max(0, row - _NEIGHBOURS): row],
                                 median[row + 1: row + 1 + _NEIGHBOURS]])
        steady = not len(around) or median[row] > 4 * np.median(around)
        if steady and row + 1 - found[-1] >= _LEAST_BAND:
            found.append(int(row) + 1)
    if height - found[-1] < _LEAST_BAND and len(found) > 1:
        found.pop()
    return [*found, height]


def ground_of(pixels: Pixels) -> tuple[int, int, int] | None:
    """Return the colour behind a band, or `None` where a picture is.

    It is flat if the margins at both sides have one colour.
    """
    sides = np.concatenate([pixels[:, :_STRIP].reshape(-1, 3), pixels[:, -_STRIP:].reshape(-1, 3)])
    colours, counts = np.unique(sides, axis=0, return_counts=True)
    best = int(np.argmax(counts))
    if counts[best] / len(sides) < 0.6:
        return None
    red, green, blue = (int(part) for part in colours[best])
    return red, green, blue
