"""Where two pictures of a page differ, though one may be longer than the other.

Rows that both have in the same order are matched (the longest common subsequence, as for lines of
text), rows that repeat as one; what is left between the matches is what differs.
"""

import hashlib
from collections.abc import Iterator
from dataclasses import dataclass
from difflib import SequenceMatcher

import numpy as np
from numpy.typing import NDArray

__all__ = ["Difference", "Span", "differences"]

# How much a sample may differ and still be the same: edges of letters are not drawn twice alike.
_ALIKE = 12
# Differences with less between them than this are one, in pixels.
_NEAR = 24

_Pixels = NDArray[np.uint8]


@dataclass(frozen=True, slots=True)
class Span:
    """A part of a picture, in pixels: from its left and top edge up to right and bottom."""

    left: int
    top: int
    right: int
    bottom: int

    @property
    def empty(self) -> bool:
        """Whether nothing is in it: what is there on the other side is missing here."""
        return self.bottom <= self.top


@dataclass(frozen=True, slots=True)
class Difference:
    """Something that differs: where it is in the one picture, and where in the other."""

    before: Span
    after: Span


def differences(before: _Pixels, after: _Pixels) -> list[Difference]:
    """Return where two pictures of the same width differ, from the top down.

    Args:
        before, after: Shape (height, width, 3).
    """
    if before.shape[1] != after.shape[1]:
        raise ValueError("pictures of different widths cannot be laid beside each other")
    one, other = _runs(before), _runs(after)
    parts = [(one.starts[top], one.starts[bottom], other.starts[high], other.starts[low])
             for top, bottom, high, low in _unmatched(one.looks, other.looks)]
    found = []
    for top, bottom, high, low in _joined(parts):
        left, right = _columns(before[top:bottom], after[high:low])
        found.append(Difference(Span(left, top, right, bottom), Span(left, high, right, low)))
    return found


@dataclass(frozen=True, slots=True)
class _Runs:
    """Rows that look the same and follow each other: how each run looks, and where it starts;
    the end comes last."""

    looks: list[tuple[bytes, int]]
    starts: list[int]


def _runs(picture: _Pixels) -> _Runs:
    coarse = picture // _ALIKE
    looks, starts = list[tuple[bytes, int]](), list[int]()
    for place, row in enumerate(coarse):
        seen = hashlib.blake2b(row.tobytes(), digest_size=16).digest()
        if looks and looks[-1][0] == seen:
            looks[-1] = (seen, looks[-1][1] + 1)
        else:
            looks.append((seen, 1))
            starts.append(place)
    return _Runs(looks, [*starts, len(coarse)])


def _unmatched(before: list[tuple[bytes, int]], after: list[tuple[bytes, int]],
               ) -> Iterator[tuple[int, int, int, int]]:
    matcher = SequenceMatcher(None, before, after, autojunk=False)
    for what, top, bottom, high, low in matcher.get_opcodes():
        if what != "equal":
            yield top, bottom, high, low


def _joined(parts: list[tuple[int, int, int, int]]) -> list[tuple[int, int, int, int]]:
    """Join what stands so near that it is one difference to the eye."""
    joined = list[tuple[int, int, int, int]]()
    for part in parts:
        if joined and part[0] - joined[-1][1] <= _NEAR and part[2] - joined[-1][3] <= _NEAR:
            last = joined.pop()
            part = (last[0], part[1], last[2], part[3])
        joined.append(part)
    return joined


def _columns(one: _Pixels, other: _Pixels) -> tuple[int, int]:
    """Return from which to which column two parts differ; all of them where one is longer."""
    if one.shape != other.shape or not one.size:
        return 0, one.shape[1]
    apart = np.abs(one.astype(np.int16) - other.astype(np.int16)).max(axis=(0, 2)) > _ALIKE
    columns = np.flatnonzero(apart)
    return (int(columns[0]), int(columns[-1]) + 1) if columns.size else (0, one.shape[1])
