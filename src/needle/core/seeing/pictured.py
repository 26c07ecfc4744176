"""What stands on a picture: words in colours that the picture close by has not, and flat boxes."""

from dataclasses import replace

import cv2
import numpy as np
from numpy.typing import NDArray

from needle.core.seeing.grounds import ink_on, surface_of
from needle.core.seeing.lines import blocks_of
from needle.core.seeing.outlines import hex_of
from needle.core.seeing.pixels import Pixels
from needle.core.seeing.shapes import Box, Rect, TextBlock
from needle.core.seeing.smooth import HEIGHT, LEFT, TOP, WIDTH, pieces_of

__all__ = ["on_picture"]

_SMALLER, _WINDOW = 4, 17
_STRONG = 62
_LEAST_TYPE = 10.0
_TALLEST, _WIDEST = 130, 180
_BUTTON = (60, 26)
_FULL, _FLAT = 0.5, 4.0
# So far around a box its edge and shadow are no words.
_BESIDE = 6


def on_picture(pixels: Pixels, labels: NDArray[np.int32], step: int,
               ) -> tuple[list[TextBlock], list[Box]]:
    """Return the words and the flat boxes on a picture, in its own pixels.

    Args:
        labels: Its smooth parts.
        step: How much neighbours in a part may differ.
    """
    boxes = _flat_boxes(pixels, labels, step)
    surface = _picture_itself(pixels)
    ink = ink_on(pixels, surface, _STRONG)
    for box in boxes:
        ink[max(0, box.rect.top - _BESIDE): box.rect.bottom + _BESIDE,
            max(0, box.rect.left - _BESIDE): box.rect.right + _BESIDE] = False
    _, stats = pieces_of(ink)
    rects = [Rect(int(row[LEFT]), int(row[TOP]), int(row[LEFT] + row[WIDTH]),
                  int(row[TOP] + row[HEIGHT])) for row in stats[1:]
             if row[HEIGHT] <= _TALLEST and row[WIDTH] <= _WIDEST]
    if not 3 <= len(rects) <= 6000:
        return [], boxes
    away = np.abs(pixels.astype(np.float32) - surface).max(axis=2)
    texts = [text for text in blocks_of(rects, pixels, ink, away, strict=True)
             if text.size >= _LEAST_TYPE and text.rect.width >= 1.6 * text.size]
    return texts, boxes


def _picture_itself(pixels: Pixels) -> NDArray[np.float32]:
    """Return the picture without what is thin, letters above all: a median over a wide window."""
    height, width = pixels.shape[:2]
    small = cv2.resize(pixels, (max(1, width // _SMALLER), max(1, height // _SMALLER)),
                       interpolation=cv2.INTER_AREA)
    calm = cv2.medianBlur(small, _WINDOW)
    return cv2.resize(calm, (width, height), interpolation=cv2.INTER_LINEAR).astype(np.float32)


def _flat_boxes(pixels: Pixels, labels: NDArray[np.int32], step: int) -> list[Box]:
    """Return smooth rectangles of one colour that look like buttons or cards."""
    width = labels.shape[1]
    counts = np.bincount(labels.ravel())
    counts[0] = 0
    found: list[Box] = []
    for number in np.flatnonzero(counts >= _BUTTON[0] * _BUTTON[1] * _FULL):
        own = labels == number
        rows, columns = np.flatnonzero(own.any(axis=1)), np.flatnonzero(own.any(axis=0))
        top, bottom, left, right = rows[0], rows[-1] + 1, columns[0], columns[-1] + 1
        wide, high = right - left, bottom - top
        if wide < _BUTTON[0] or high < _BUTTON[1] or wide > 0.9 * width or (
                counts[number] < _FULL * wide * high):
            continue
        shape = own[top:bottom, left:right]
        corner = min(high // 2, 30)
        sides = (shape[:3, corner:-corner or None].any(axis=0),
                 shape[-3:, corner:-corner or None].any(axis=0))
        colours = pixels[own].astype(np.float32)
        if any(not len(side) or side.mean() < 0.9 for side in sides) or (
                colours.std(axis=0).max() > _FLAT + step):
            continue
        found.append(_box(pixels, shape, Rect(int(left) - 1, int(top) - 1, int(right), int(bottom)),
                          np.median(colours, axis=0)))
    return [box for box in found if not any(
        other is not box and other.rect.holds(box.rect) for other in found)]


def _box(pixels: Pixels, shape: NDArray[np.bool_], rect: Rect, fill: NDArray[np.float32]) -> Box:
    """Return a box with the words in it."""
    part = pixels[rect.top + 1: rect.bottom, rect.left + 1: rect.right]
    surface = surface_of(part, shape)
    ink = ink_on(part, surface)
    # Outside of rounded corners the picture shows.
    edges = cv2.erode(_hull(shape), np.ones((3, 3), np.uint8)) > 0
    ink &= edges
    _, stats = pieces_of(ink)
    rects = [Rect(int(row[LEFT]), int(row[TOP]), int(row[LEFT] + row[WIDTH]),
                  int(row[TOP] + row[HEIGHT])) for row in stats[1:]]
    away = np.abs(part.astype(np.float32) - surface).max(axis=2)
    texts = [replace(text, rect=text.rect.moved(rect.left + 1, rect.top + 1))
             for text in blocks_of(rects, part, ink, away) if text.size >= 7.5]
    return Box(rect, hex_of(fill), "", 8, tuple(texts))


def _hull(shape: NDArray[np.bool_]) -> NDArray[np.uint8]:
    filled = shape.astype(np.uint8)
    outer, _ = cv2.findContours(filled, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_SIMPLE)
    return np.asarray(cv2.drawContours(filled, outer, -1, 1, cv2.FILLED), np.uint8)
