"""Sections as bands across a picture: where the ground at both margins becomes another."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from needle.core.seeing.pixels import Pixels

__all__ = ["band_edges"]

_STRIP, _ROWS = 14, 7
_LEAST_BAND = 18
# How far apart the two ends of a slanted edge may be.
_SLANT = 240
_LINE, _LINE_SHARE = 7, 0.9


@dataclass(frozen=True, slots=True)
class _Step:
    """A row from which on a margin has another colour."""

    row: int
    above: NDArray[np.float64]
    below: NDArray[np.float64]

    def like(self, other: "_Step", apart: float) -> bool:
        """Whether both go from the same colour to the same."""
        return float(np.abs(self.above - other.above).max()) <= apart and float(
            np.abs(self.below - other.below).max()) <= apart


def band_edges(pixels: Pixels, step: int) -> list[int]:
    """Return the rows at which one ground ends and another begins, the first and last included.

    Args:
        step: How much the picture's noise lets neighbours differ.
    """
    height = len(pixels)
    if height < 2 * _LEAST_BAND or pixels.shape[1] < 4 * _STRIP:
        return [0, height]
    left, right = _steps(pixels[:, :_STRIP], step), _steps(pixels[:, -_STRIP:], step)
    lines = _lines(pixels, step)
    # Where a line parts two sections, what changes at it is the line.
    steps = [row for row in _paired(left, right) if not any(
        abs(row - line) <= _LINE for line in lines)]
    rows = sorted({*steps, *lines})
    found = [0]
    for row in rows:
        if row - found[-1] >= _LEAST_BAND:
            found.append(row)
    if height - found[-1] < _LEAST_BAND and len(found) > 1:
        found.pop()
    return [*found, height]


def _steps(strip: Pixels, step: int) -> list[_Step]:
    """Return where a margin changes at once, far more than the rows around it do."""
    rows = np.median(strip, axis=1)
    height = len(rows)
    windows = np.lib.stride_tricks.sliding_window_view(rows, _ROWS, axis=0)
    middle = np.median(windows, axis=2)
    above, below = middle[:-_ROWS], middle[_ROWS:]
    size = np.abs(below - above).max(axis=1)
    # What the rows around vary by themselves: a photograph at the margin has no edges.
    spread = np.abs(np.diff(rows, axis=0)).max(axis=1)
    usual = np.median(np.lib.stride_tricks.sliding_window_view(
        np.pad(spread, 24, mode="edge"), 49), axis=1)[:height - 1]
    found: list[_Step] = []
    at = 0
    least = max(3.0, 0.75 * step)
    while at < len(size):
        if size[at] < max(least, 6 * float(usual[min(at + _ROWS, height - 2)])):
            at += 1
            continue
        end = at
        while end + 1 < len(size) and size[end + 1] >= least:
            end += 1
        peak = _sharpest(rows, at, min(height - 1, end + 2 * _ROWS))
        # A wash changes as much over the same way, but nowhere at once.
        if _at_once(rows, peak, float(size[at:end + 1].max())):
            found.append(_Step(peak, above[at], below[min(end, len(below) - 1)]))
        at = end + _ROWS
    return found


def _at_once(rows: NDArray[np.float64], peak: int, size: float) -> bool:
    """Whether the most of a change comes within three rows, and none like it is close by."""
    height = len(rows)
    over = np.abs(rows[3:] - rows[:-3]).max(axis=1)
    place = min(max(0, peak - 2), len(over) - 1)
    around = np.concatenate([over[max(0, place - 60): max(0, place - 12)],
                             over[min(height, place + 13): place + 61]])
    return bool(over[max(0, place - 1): place + 2].max() >= 0.65 * size and (
        not len(around) or over[place] >= 2.5 * float(np.percentile(around, 90))))


def _sharpest(rows: NDArray[np.float64], begin: int, end: int) -> int:
    change = np.abs(np.diff(rows[begin:end + 1], axis=0)).max(axis=1)
    return begin + int(np.argmax(change)) + 1 if len(change) else begin


def _paired(left: list[_Step], right: list[_Step]) -> list[int]:
    """Return the rows at which both margins change; of a slanted edge its lower end counts."""
    rows = []
    for one in left:
        near = min(right, key=lambda other: abs(other.row - one.row), default=None)
        if near is not None and abs(near.row - one.row) <= 3:
            rows.append(max(one.row, near.row))
            continue
        slant = [other for other in right if abs(other.row - one.row) <= _SLANT
                 and one.like(other, 12)]
        if slant:
            rows.append(max(one.row, slant[0].row))
    return rows


def _lines(pixels: Pixels, step: int) -> list[int]:
    """Return where thin lines run across the whole page, as the rows right below them."""
    strips = np.concatenate([pixels[:, :_STRIP], pixels[:, -_STRIP:]], axis=1).astype(np.int16)
    middle = np.median(strips, axis=1)
    change = np.abs(np.diff(middle, axis=0)).max(axis=1)
    rows: list[int] = []
    for row in np.flatnonzero(change >= max(3, step)):
        begin = int(row) + 1
        if rows and begin < rows[-1]:
            continue
        for end in range(begin + 1, min(begin + _LINE, len(pixels) - 1)):
            before, after = middle[begin - 1], middle[end]
            if np.abs(after - before).max() <= max(2, step // 2) and np.abs(
                    middle[begin] - before).max() >= max(3, step):
                across = np.abs(pixels[begin + (end - begin) // 2].astype(np.int16)
                                - middle[begin + (end - begin) // 2]).max(axis=1)
                if (across <= max(6, step)).mean() >= _LINE_SHARE:
                    # Of a double line the lower one counts.
                    if rows and end - rows[-1] <= _LINE:
                        rows.pop()
                    rows.append(end)
                break
    return rows
