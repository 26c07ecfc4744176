"""What a large piece on a ground is: a box, an outlined box, a picture, or none of these."""

from dataclasses import dataclass
from typing import Literal

import cv2
import numpy as np
from numpy.typing import NDArray

from needle.core.colour.oklch import hex_of_srgb
from needle.core.seeing.grounds import is_busy
from needle.core.seeing.pixels import Pixels
from needle.core.seeing.shapes import Rect

__all__ = ["Outline", "hex_of", "outline_of", "sharpened"]

Shape = Literal["filled", "outlined", "picture"]
_PICTURE = (40, 30)
_CORNER, _STRAIGHT, _SLACK, _FLAT = 28, 0.88, 3, 3
# A fill covers this much of its box, and leaves a border of so many pixels at most.
_FULL, _BORDER = 0.3, 16
_DENSE, _ROUND = 0.5, 0.7
_RING, _LEAST_RING, _LETTER = 0.42, 36, 140
_LEAST_OF_PIECE = 0.6
# How far in from a side it is looked for, and how far out.
_REACH, _OUT = 12, 2


@dataclass(frozen=True, slots=True)
class Outline:
    """A large piece, in pixels of its region.

    Attributes:
        covers: All of it, its shadow too.
        fill: "#rrggbb" inside.
        edge: "#rrggbb" of a border, or empty.
        rim: How thick its border is.
    """

    rect: Rect
    covers: Rect
    shape: Shape
    fill: str = ""
    edge: str = ""
    radius: int = 0
    rim: int = 1


def hex_of(colour: object) -> str:
    """Return a colour of three parts from 0 to 255 as "#rrggbb"."""
    return hex_of_srgb(np.asarray(colour, np.float64) / 255)


def outline_of(pixels: Pixels, labels: NDArray[np.int32], pieces: NDArray[np.int32], number: int,
               rect: Rect, step: int) -> Outline | None:
    """Return what a piece is, or `None` for words and scraps.

    Args:
        labels: Smooth parts of the region.
        pieces: Its pieces; this is the one of that `number`, within `rect`.
        step: How much neighbours in a part may differ.
    """
    area = (slice(rect.top, rect.bottom), slice(rect.left, rect.right))
    piece = pieces[area] == number
    inside = labels[area]
    if not _is_straight(piece):
        if _is_round(piece, pixels[area]):
            return Outline(_trimmed(rect), rect, "picture")
        return _main_part(pixels, inside, piece, rect)
    if piece.mean() < _RING:
        return _ring(pixels, piece, rect)
    filled = _fill(pixels, inside, piece, rect, step)
    if filled is not None:
        return filled
    if rect.width >= _PICTURE[0] and rect.height >= _PICTURE[1] and piece.mean() >= _DENSE:
        return Outline(_trimmed(rect), rect, "picture")
    return None


def sharpened(rect: Rect, away: NDArray[np.float32]) -> Rect:
    """Return a box with each side where it stands out half as much as it does a little further in.

    Args:
        away: How far each pixel of the region is from its ground, 0 to 255.
    """
    height, width = away.shape
    reach = min(_REACH, rect.width // 3, rect.height // 3)
    if reach < 2:
        return rect
    # Round ones reach their sides only there.
    rows, columns = (rect.top + rect.bottom) // 2, (rect.left + rect.right) // 2
    some, many = max(2, rect.height // 12), max(2, rect.width // 12)
    middle_rows, middle = slice(rows - some, rows + some), slice(columns - many, columns + many)
    out = _OUT

    def first(profile: NDArray[np.float32]) -> int:
        strong = np.flatnonzero(profile >= 0.5 * profile.max())
        return int(strong[0]) if len(strong) and profile.max() > 0 else 0

    left0, top0 = max(0, rect.left - out), max(0, rect.top - out)
    right0, bottom0 = min(width, rect.right + out), min(height, rect.bottom + out)
    left = left0 + first(np.median(away[middle_rows, left0: rect.left + reach], axis=0))
    top = top0 + first(np.median(away[top0: rect.top + reach, middle], axis=1))
    right = right0 - first(np.median(away[middle_rows, rect.right - reach: right0], axis=0)[::-1])
    bottom = bottom0 - first(np.median(away[rect.bottom - reach: bottom0, middle], axis=1)[::-1])
    return Rect(left, top, right, bottom) if right - left > 4 and bottom - top > 4 else rect


def _trimmed(rect: Rect) -> Rect:
    """Return a piece without the first pixels of ground beside it, which count as its edge."""
    return Rect(rect.left, rect.top, rect.right - 1, rect.bottom - 1)


def _is_straight(piece: NDArray[np.bool_]) -> bool:
    """Whether the sides of a piece run straight between its corners.

    The upper and the lower side must be straight for most of their way; a pill has round ends.
    """
    height, width = piece.shape
    slack = max(_SLACK, round(0.03 * min(height, width)))
    corner = min(_CORNER, height // 3, width // 3)
    rows, columns = slice(corner, height - corner), slice(corner, width - corner)
    ends = (piece[rows, :slack + 1].any(axis=1), piece[rows, -slack - 1:].any(axis=1))
    flat = (piece[:_FLAT, columns].any(axis=0), piece[-_FLAT:, columns].any(axis=0))
    return all(side.size and float(np.mean(side)) >= _STRAIGHT for side in (*ends, *flat))


def _is_round(piece: NDArray[np.bool_], pixels: Pixels) -> bool:
    """Whether a piece is a picture cut to a circle or to another round shape."""
    height, width = piece.shape
    if width < _PICTURE[0] or height < _PICTURE[1]:
        return False
    solid = _solid(piece)
    outer, _ = cv2.findContours(solid.astype(np.uint8), cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_SIMPLE)
    hull = cv2.convexHull(max(outer, key=cv2.contourArea))
    return bool(solid.mean() >= _ROUND and cv2.contourArea(hull) > 0 and (
        solid.sum() >= 0.95 * cv2.contourArea(hull)) and piece.mean() >= 0.9 * solid.mean()
        and is_busy(pixels, solid))


def _solid(piece: NDArray[np.bool_]) -> NDArray[np.bool_]:
    """Return a piece with its holes filled."""
    shape = piece.astype(np.uint8)
    outer, _ = cv2.findContours(shape, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_SIMPLE)
    return np.asarray(cv2.drawContours(shape, outer, -1, 1, cv2.FILLED) > 0)


def _ring(pixels: Pixels, piece: NDArray[np.bool_], rect: Rect) -> Outline | None:
    """Return a box that has but a border, if the piece is one."""
    height, width = piece.shape
    corner = min(_CORNER, height // 3, width // 3)
    # The border is as thick as the piece is at the middle of its left side.
    middle = piece[corner: height - corner]
    thick = np.argmin(middle, axis=1)
    rim = int(np.median(thick)) if len(thick) else 0
    # Large letters are rings, too; their strokes are thicker, and they are not wide.
    if not 1 <= rim <= _BORDER or rim > 2 + 0.1 * min(height, width) or (
            width < max(_LEAST_RING, 1.25 * height) and height < _LETTER):
        return None
    own = _trimmed(rect)
    row = rect.top + height // 2
    edge = pixels[row, rect.left: rect.left + max(1, rim - 1)]
    inner = pixels[rect.top + rim + 1: rect.bottom - rim - 1,
                   rect.left + rim + 1: rect.right - rim - 1].reshape(-1, 3)
    if not len(inner):
        return None
    fill = np.median(inner, axis=0)
    strongest = edge[int(np.argmax(np.abs(edge.astype(np.int16) - fill).max(axis=1)))]
    return Outline(own, rect, "outlined", hex_of(fill), hex_of(strongest), _radius(piece),
                   max(1, rim - 1))


def _fill(pixels: Pixels, inside: NDArray[np.int32], piece: NDArray[np.bool_], rect: Rect,
          step: int) -> Outline | None:
    """Return a box with a fill of its own, if one smooth part reaches all sides of a piece."""
    counts = np.bincount(inside[piece])
    counts[0] = 0
    best = int(np.argmax(counts))
    if counts[best] < _FULL * piece.size:
        return None
    own = inside == best
    rows, columns = np.flatnonzero(own.any(axis=1)), np.flatnonzero(own.any(axis=0))
    height, width = own.shape
    gaps = (columns[0], rows[0], width - 1 - columns[-1], height - 1 - rows[-1])
    if max(gaps) > _BORDER:
        return _main_part(pixels, inside, piece, rect)
    part = pixels[rect.top: rect.bottom, rect.left: rect.right]
    if is_busy(part, own):
        return None
    fill = np.median(part[own], axis=0)
    rim = int(min(gaps[0], gaps[1]))
    shadow = max(gaps[2], gaps[3]) - rim
    # A hard shadow stands out at two sides only.
    trimmed = Rect(rect.left, rect.top, rect.left + int(columns[-1]) + 1 + rim,
                   rect.top + int(rows[-1]) + 1 + rim) if shadow > 3 else _trimmed(rect)
    edge = ""
    if rim >= 2:
        at = pixels[rect.top + height // 2, rect.left + (rim - 1) // 2 + (rim > 2)]
        edge = hex_of(at) if np.abs(at.astype(np.float64) - fill).max() > max(12, step) else ""
    return Outline(trimmed, rect, "filled", hex_of(fill), edge, _radius(piece), max(1, rim))


def _main_part(pixels: Pixels, inside: NDArray[np.int32], piece: NDArray[np.bool_], rect: Rect,
               ) -> Outline | None:
    """Return the box that is the greater part of a piece, where something sticks out of it."""
    counts = np.bincount(inside[piece])
    counts[0] = 0
    best = int(np.argmax(counts))
    if not counts[best]:
        return None
    own = inside == best
    rows, columns = np.flatnonzero(own.any(axis=1)), np.flatnonzero(own.any(axis=0))
    height, width = int(rows[-1] - rows[0] + 1), int(columns[-1] - columns[0] + 1)
    if width < _LEAST_OF_PIECE * piece.shape[1] or height < _LEAST_OF_PIECE * piece.shape[0]:
        return None
    shape = own[rows[0]: rows[-1] + 1, columns[0]: columns[-1] + 1]
    if height < 20 or width < _PICTURE[0] or not _is_straight(shape) or (
            counts[best] < 0.45 * height * width):
        return None
    fill = np.median(pixels[rect.top: rect.bottom, rect.left: rect.right][own], axis=0)
    left, top = rect.left + int(columns[0]), rect.top + int(rows[0])
    return Outline(Rect(left - 1, top - 1, left + width, top + height), rect, "filled",
                   hex_of(fill), "", _radius(shape), 1)


def _radius(piece: NDArray[np.bool_]) -> int:
    """Return the radius of the upper left corner: how far the ground reaches along the top."""
    reached = np.flatnonzero(piece[1] if len(piece) > 1 else piece[0])
    most = min(piece.shape) // 2
    # One row below the top of a circle its edge is about √(2r) away from the side.
    return int(min(most, reached[0] + (2 * reached[0]) ** 0.5)) if len(reached) and (
        reached[0] > 1) else 0
