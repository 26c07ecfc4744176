"""Measuring a picture: colours of an area, edges, and the size of type."""

from typing import NamedTuple

import numpy as np

from needle.core.colour.oklch import difference, hex_of_srgb, linear, srgb
from needle.core.seeing.lines import size_of_letter
from needle.core.seeing.pixels import Pixels
from needle.core.values.brand import Brand

__all__ = ["NearColour", "area_colour", "letter_size", "nearest_colour", "snapped"]

_EDGE = 10
_SNAP = 4


class NearColour(NamedTuple):
    """A colour of the brand beside one that was measured.

    Attributes:
        apart: ΔE OK times 100; about 2 is just seen.
    """

    role: str
    name: str
    value: str
    apart: float


def area_colour(pixels: Pixels, left: int, top: int, right: int, bottom: int) -> str:
    """Return the colour of an area: its one colour if it is flat, else the mean in linear light.

    An area is flat if nine pixels in ten are the same.
    """
    height, width = pixels.shape[:2]
    left, right = sorted((max(0, min(left, width - 1)), max(0, min(right, width))))
    top, bottom = sorted((max(0, min(top, height - 1)), max(0, min(bottom, height))))
    part = pixels[top: max(top + 1, bottom), left: max(left + 1, right)].reshape(-1, 3)
    values, counts = np.unique(part, axis=0, return_counts=True)
    best = int(np.argmax(counts))
    if counts[best] >= 0.9 * len(part):
        return hex_of_srgb(values[best] / 255)
    return hex_of_srgb(srgb(linear(part / 255).mean(axis=0)))


def nearest_colour(brand: Brand, value: str) -> NearColour | None:
    """Return the colour of the brand that is nearest to one, or `None` without a palette."""
    near = [NearColour(swatch.role, swatch.name, swatch.value, difference(value, swatch.value))
            for swatch in brand.palette]
    return min(near, key=lambda one: one.apart, default=None)


def snapped(pixels: Pixels, along: int, across: int, upright: bool) -> int:
    """Return the edge nearest to a place, so that a ruler ends where something does.

    Args:
        along: The place on the line that is measured.
        across: Where that line runs.
        upright: It runs from top to bottom.
    """
    line = pixels[:, min(across, pixels.shape[1] - 1)] if upright else pixels[
        min(across, pixels.shape[0] - 1)]
    change = np.abs(np.diff(line.astype(np.int16), axis=0)).max(axis=1)
    low, high = max(0, along - _SNAP - 1), min(len(change), along + _SNAP)
    near = [at + 1 for at in range(low, high) if change[at] >= _EDGE]
    return min(near, key=lambda edge: (abs(edge - along), edge), default=along)


def letter_size(pixels: Pixels, left: int, top: int, right: int, bottom: int) -> float:
    """Return the size of type of the capital letter in an area; 0 if there is nothing in it."""
    part = pixels[top:bottom, left:right].astype(np.int16)
    if part.shape[0] < 3 or part.shape[1] < 1:
        return 0
    ground = np.median(np.concatenate([part[0], part[-1]]), axis=0)
    rows = np.flatnonzero(np.abs(part - ground).max(axis=2).max(axis=1) >= 60)
    return round(size_of_letter(rows[-1] - rows[0] + 1), 1) if len(rows) else 0
