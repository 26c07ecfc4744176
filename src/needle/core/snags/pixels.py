"""The colour behind words, from the pixels of a page that was painted without its words."""

import numpy as np
from numpy.typing import NDArray

from needle.core.colour.contrast import contrast

__all__ = ["least_contrasting"]

# So many of a hundred pixels may be worse: a speck does not swallow a word.
_PERCENT = 5
# Colours are taken together in steps of so much of a channel, which no eye tells apart.
_STEP = 8


def least_contrasting(pixels: NDArray[np.uint8], ink: str) -> str:
    """Return the colour among some pixels against which words stand out least.

    Args:
        pixels: Rows of pixels of three channels: shape (height, width, 3); at least one.
        ink: The colour of the words, "#rrggbb".

    Returns:
        "#rrggbb"; the fifth in a hundred from the worst.
    """
    flat = pixels.reshape(-1, 3) // _STEP * _STEP + _STEP // 2
    colours, counts = np.unique(flat, axis=0, return_counts=True)
    told = ["#{:02x}{:02x}{:02x}".format(*colour) for colour in colours]
    ratios = np.array([contrast(ink, colour) for colour in told])
    order = np.argsort(ratios)
    passed = np.cumsum(counts[order]) * 100 / counts.sum()
    return told[int(order[int(np.searchsorted(passed, _PERCENT))])]
