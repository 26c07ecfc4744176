"""The smooth parts of a picture: grounds, fills of boxes, insides of letters.

Two pixels beside each other that differ little belong to the same part, so a wash or a gradient is
one part as a flat colour is. What "little" is follows from the picture: JPEG rings around letters,
and what was made smaller is blurred.
"""

from dataclasses import dataclass
from typing import Literal

import cv2
import numpy as np
from numpy.typing import NDArray

from needle.core.seeing.pixels import Pixels

__all__ = ["AREA", "HEIGHT", "LEFT", "TOP", "WIDTH", "Smooth", "noise_of", "pieces_of",
           "smooth_parts"]

_LEAST_STEP, _MOST_STEP = 3, 14
# Beside an edge this strong a clean picture is still flat.
_STRONG, _NEAR, _AROUND = 60, 3, 7
# Where a piece's numbers stand in its row.
LEFT, TOP, WIDTH, HEIGHT, AREA = range(5)


@dataclass(frozen=True, slots=True)
class Smooth:
    """The smooth parts of a picture.

    Attributes:
        labels: For each pixel the number of its part; 0 for edges, shape (height, width).
        stats: For each part left, top, width, height and area, in pixels.
        step: How much neighbours in a part may differ, 0 to 255.
    """

    labels: NDArray[np.int32]
    stats: NDArray[np.int32]
    step: int


def _change(pixels: Pixels) -> NDArray[np.uint8]:
    """Return how much each pixel differs from those left of it and above it."""
    change = np.zeros(pixels.shape[:2], np.uint8)
    wide = pixels.astype(np.int16)
    change[:, 1:] = np.abs(np.diff(wide, axis=1)).max(axis=2)
    change[1:] = np.maximum(change[1:], np.abs(np.diff(wide, axis=0)).max(axis=2))
    return change


def noise_of(change: NDArray[np.uint8]) -> int:
    """Return how much pixels differ near strong edges, where clean pictures are flat."""
    strong = (change >= _STRONG).astype(np.uint8)
    if not strong.any():
        return 0
    near = cv2.dilate(strong, np.ones((2 * _NEAR + 1,) * 2, np.uint8))
    around = cv2.dilate(strong, np.ones((2 * _AROUND + 1,) * 2, np.uint8))
    ring = change[(around > 0) & (near == 0)]
    return int(np.percentile(ring, 85)) if len(ring) else 0


def pieces_of(mask: NDArray[np.bool_], neighbours: Literal[4, 8] = 8,
              ) -> tuple[NDArray[np.int32], NDArray[np.int32]]:
    """Return the connected pieces of a mask: labels, and left, top, width, height, area."""
    _, labels, stats, _ = cv2.connectedComponentsWithStats(
        mask.astype(np.uint8), connectivity=neighbours)
    return np.asarray(labels, np.int32), np.asarray(stats, np.int32)


def smooth_parts(pixels: Pixels) -> Smooth:
    """Return the smooth parts of a picture, shape (height, width, 3), sRGB."""
    change = _change(pixels)
    step = int(np.clip(noise_of(change) + 1, _LEAST_STEP, _MOST_STEP))
    return Smooth(*pieces_of(change < step, 4), step)
