"""Reading the structure of a page from a picture of it."""

import itertools
from collections.abc import Iterator, Sequence
from dataclasses import replace
from typing import TypeVar

import cv2
import numpy as np
from numpy.typing import NDArray

from needle.core.colour.clusters import clusters
from needle.core.seeing.bands import band_edges
from needle.core.seeing.grounds import (
    ground_colour,
    ground_mask,
    ink_on,
    surface_of,
    without_rings,
)
from needle.core.seeing.lines import blocks_of
from needle.core.seeing.outlines import Outline, hex_of, outline_of, sharpened
from needle.core.seeing.pictured import on_picture
from needle.core.seeing.pixels import Pixels
from needle.core.seeing.shapes import Band, Box, Found, Rect, TextBlock
from needle.core.seeing.smooth import (
    AREA,
    HEIGHT,
    LEFT,
    TOP,
    WIDTH,
    pieces_of,
    smooth_parts,
)

__all__ = ["read_structure"]

_DEEPEST = 5
_BOX = (24, 14)
_SPLIT, _HEADER_SPLIT = 78, 20
_LEAST_TYPE = 7.5
_MOST_LETTER, _TALL_LETTER = 200, 150
# A box over the edge of two sections reaches so far into each.
_OVER, _OVER_AREA, _OVER_FULL = 20, 6000, 0.55
_LEAST_INK, _GRAIN = 16, 9
# A picture on a plain ground: its least side, how much is drawn, and how much words may cover.
_ART, _ART_SHARE, _MOST_WORDS = 60, 0.05, 0.5
# On a ground so uneven one or two pieces are no words; a single one is none if it is so small.
_UNEVEN, _LONE = 4, 10
# Where more of a section than this is nothing that was found, a picture is behind it.
_MOST_LEFT_OVER = 0.06
# From this step on, sides of boxes are no longer where their pixels begin.
_BLURRED = 6
# How thick a line may be, how long it is at least, and how many times as long as thick.
_RULE = (6, 40, 10)

_Contents = tuple[list[TextBlock], list[Rect], list[Box]]
_Labels = NDArray[np.int32]
_Number = TypeVar("_Number", bound=np.generic)


def read_structure(pixels: Pixels) -> Found:
    """Return what a picture of a page shows.

    Args:
        pixels: Shape (height, width, 3), sRGB, one pixel for each CSS pixel.
    """
    height, width = pixels.shape[:2]
    bands = _Reader(pixels).bands()
    return Found(width, height, tuple(bands), tuple(clusters(pixels, 14)))


class _Reader:
    """Reads one picture from its smooth parts."""

    def __init__(self, pixels: Pixels) -> None:
        self._pixels = pixels
        self._smooth = smooth_parts(pixels)
        self._edges = band_edges(pixels, self._smooth.step)

    def bands(self) -> list[Band]:
        """Return the sections, from top to bottom."""
        width = self._pixels.shape[1]
        over = self._over_edges()
        found: list[Band] = []
        for top, bottom in itertools.pairwise(self._edges):
            whole = Rect(0, top, width, bottom)
            beside = [rect for rect in over if rect.bottom > top and rect.top < bottom]
            own = [rect for rect in beside if _middle(rect) >= top and _middle(rect) < bottom]
            found.extend(self._sections(whole, beside, own))
        return found

    def _over_edges(self) -> list[Rect]:
        """Return boxes that lie over the edge of two sections."""
        width, found = self._pixels.shape[1], []
        for left, top, wide, high, area in self._smooth.stats[1:]:
            if area < _OVER_AREA or left <= 2 or left + wide >= width - 2 or (
                    area < _OVER_FULL * wide * high):
                continue
            if any(top + _OVER <= edge <= top + high - _OVER for edge in self._edges[1:-1]):
                found.append(Rect(int(left) - 1, int(top) - 1, int(left + wide), int(top + high)))
        return found

    def _sections(self, whole: Rect, beside: Sequence[Rect], own: Sequence[Rect]) -> list[Band]:
        """Return the sections on one ground; several where wide blank runs part them."""
        ground, (texts, pictures, boxes), _ = self._contents(whole, 0, beside)
        boxes = [*boxes, *(self._filled(rect, 1) for rect in own)]
        if not ground or own:
            return [Band(whole, ground, tuple(texts), tuple(pictures), tuple(boxes))]
        extents = [*(_line_box(text) for text in texts),
                   *((rect.top, rect.bottom) for rect in pictures),
                   *((box.rect.top, box.rect.bottom) for box in boxes)]
        extents = [(one - whole.top, other - whole.top) for one, other in extents]
        return [Band(Rect(0, whole.top + start, whole.right, whole.top + end), ground,
                     tuple(text for text in texts if start <= text.rect.top - whole.top < end),
                     tuple(rect for rect in pictures if start <= rect.top - whole.top < end),
                     tuple(box for box in boxes if start <= box.rect.top - whole.top < end))
                for start, end in _split(extents, whole.height, whole.top == 0)]

    def _contents(self, region: Rect, depth: int, without: Sequence[Rect] = (),
                  ) -> tuple[str, _Contents, float]:
        """Return the ground of a region, "#rrggbb" or empty, what stands on it, and what share of
        the region that covers.

        Args:
            without: What is not of it, though it lies over it.
        """
        part = _cut(self._pixels, region)
        labels = _cut(self._smooth.labels, region)
        mask = ground_mask(part, labels, self._smooth.step)
        if mask is None:
            texts, boxes = on_picture(part, labels, self._smooth.step)
            return "", ([_moved_text(text, region) for text in texts], [],
                        [_moved_box(box, region) for box in boxes]), 1.0
        for rect in without:
            _cut(mask, rect.moved(-region.left, -region.top))[:] = True
        surface = surface_of(part, mask)
        away = np.abs(part.astype(np.float32) - surface).max(axis=2)
        stands = without_rings(mask, away, self._smooth.step)
        pictures, boxes, letters = self._pieces(region, labels, stands, away, depth)
        words = _words(part, mask, surface, letters)
        if not depth and _left_over(mask, letters, words) > _MOST_LEFT_OVER:
            # Hills, a house, a person: a picture is behind, though its sky is as smooth as a fill.
            lettered = [_moved_text(text, region) for text in words if text.is_lettered]
            return "", (lettered, pictures, boxes), 1.0
        return hex_of(ground_colour(part, mask)), (
            [_moved_text(text, region) for text in words], pictures, boxes), 1 - float(mask.mean())

    def _pieces(self, region: Rect, labels: _Labels, mask: NDArray[np.bool_],
                away: NDArray[np.float32], depth: int,
                ) -> tuple[list[Rect], list[Box], NDArray[np.bool_]]:
        """Return pictures and boxes that stand on the ground, and where letters may stand."""
        part = _cut(self._pixels, region)
        pieces, stats = pieces_of(~mask)
        letters = np.ones(mask.shape, bool)
        found: list[Outline] = []
        for number in range(1, len(stats)):
            left, top, wide, high, _ = (int(value) for value in stats[number])
            rect = Rect(left, top, left + wide, top + high)
            if depth and _is_corner(rect, mask.shape):
                _cut(letters, rect)[_cut(pieces, rect) == number] = False
                continue
            if wide < _BOX[0] or high < _BOX[1] or _among_letters(stats, number):
                continue
            outline = outline_of(part, labels, pieces, number, rect, self._smooth.step)
            if outline is not None:
                found.append(outline if self._smooth.step < _BLURRED else replace(
                    outline, rect=sharpened(outline.rect, away)))
        outer = [one for one in found if not any(
            other is not one and other.rect.holds(one.rect) for other in found)]
        pictures, boxes = [], []
        for one in outer:
            _cut(letters, one.covers)[:] = False
            if one.shape == "picture":
                pictures.append(one.rect.moved(region.left, region.top))
                continue
            box, covered = self._box(one, region, depth)
            if one.shape == "filled" and _is_art(box, covered):
                pictures.append(box.rect)
            else:
                boxes.append(box)
        return pictures, boxes, letters

    def _box(self, outline: Outline, region: Rect, depth: int) -> tuple[Box, float]:
        """Return a box with all that is in it, and what share of it that covers."""
        rect = outline.rect.moved(region.left, region.top)
        rim = outline.rim + 1
        inner = Rect(rect.left + rim, rect.top + rim, rect.right - rim, rect.bottom - rim)
        texts: list[TextBlock] = []
        pictures: list[Rect] = []
        boxes: list[Box] = []
        covered = 0.0
        if depth < _DEEPEST and inner.width > 8 and inner.height > 6:
            _, (texts, pictures, boxes), covered = self._contents(inner, depth + 1)
        return Box(rect, outline.fill, outline.edge, outline.radius, tuple(texts),
                   tuple(pictures), tuple(boxes)), covered

    def _filled(self, rect: Rect, depth: int) -> Box:
        """Return a box that lies over the edge of two sections."""
        part = _cut(self._pixels, rect)
        fill = hex_of(np.median(part.reshape(-1, 3), axis=0))
        return self._box(Outline(rect, rect, "filled", fill, "", 8, 1), Rect(0, 0, 0, 0), depth)[0]


def _left_over(mask: NDArray[np.bool_], letters: NDArray[np.bool_], words: Sequence[TextBlock],
               ) -> float:
    """Return what share of a region is neither ground nor in words, boxes or pictures."""
    rest = ~mask & letters
    for text in words:
        if text.is_lettered:
            _cut(rest, text.rect)[:] = False
    return float(rest.mean())


def _words(part: Pixels, mask: NDArray[np.bool_], surface: NDArray[np.float32],
           letters: NDArray[np.bool_]) -> list[TextBlock]:
    """Return the words that stand on a ground.

    Args:
        mask: Where the ground shows.
        surface: Its colour at each place.
        letters: Where words may stand: not in boxes or pictures.
    """
    noise = float(np.percentile(np.abs(part[mask][::53].astype(np.float32)
                                       - surface[mask][::53]).max(axis=1), 99))
    if noise > _GRAIN:
        part = np.asarray(cv2.GaussianBlur(np.ascontiguousarray(part), (0, 0), 1.0), np.uint8)
        noise /= 2
    ink = ink_on(part, surface, max(_LEAST_INK, noise * 1.6 + 6)) & letters
    rects = [Rect(int(row[LEFT]), int(row[TOP]), int(row[LEFT] + row[WIDTH]),
                  int(row[TOP] + row[HEIGHT])) for row in pieces_of(ink)[1][1:]
             if row[HEIGHT] <= _MOST_LETTER and row[AREA] >= 2 and not _is_rule(row)]
    away = np.abs(part.astype(np.float32) - surface).max(axis=2)
    least = 3 if noise > _UNEVEN else 1
    return [text for text in blocks_of(rects, part, ink, away)
            if text.size >= _LEAST_TYPE and text.letters >= least
            and (text.letters > 1 or text.rect.height >= _LONE)]


def _cut(array: NDArray[_Number], rect: Rect) -> NDArray[_Number]:
    return array[max(0, rect.top): max(0, rect.bottom), max(0, rect.left): max(0, rect.right)]


def _is_art(box: Box, covered: float) -> bool:
    """Whether a filled box is a picture on a plain ground: much stands in it, but hardly words.

    Args:
        covered: What share of it is covered by what stands in it.
    """
    if box.rect.width < _ART or box.rect.height < _ART or box.edge or any(
            inner.is_button for inner in box.boxes):
        return False
    lettered = any(text.is_lettered for text in _all_texts(box))
    drawn = sum(rect.area for rect in box.pictures) + sum(inner.rect.area for inner in box.boxes)
    # Words alone never cover half of what they stand on.
    if covered - drawn / box.rect.area >= _MOST_WORDS:
        return True
    return not lettered and not box.boxes and covered >= _ART_SHARE


def _all_texts(box: Box) -> Iterator[TextBlock]:
    yield from box.texts
    for inner in box.boxes:
        yield from _all_texts(inner)


def _among_letters(stats: NDArray[np.int32], number: int) -> bool:
    """Whether a piece that could be a letter has others of its height right beside it."""
    left, top, wide, high, _ = (int(value) for value in stats[number])
    if high > _TALL_LETTER or wide > 1.6 * high:
        return False
    others = stats[1:]
    overlap = np.minimum(others[:, TOP] + others[:, HEIGHT], top + high) - np.maximum(
        others[:, TOP], top)
    gap = np.maximum(others[:, LEFT] - left - wide, left - others[:, LEFT] - others[:, WIDTH])
    tall = (others[:, HEIGHT] >= 0.45 * high) & (others[:, HEIGHT] <= 2.2 * high)
    near = (overlap >= 0.6 * np.minimum(high, others[:, HEIGHT])) & (gap <= 0.5 * high) & (gap > 0)
    return bool((tall & near).any())


def _is_rule(row: NDArray[np.int32]) -> bool:
    """Whether a piece of ink is a line that parts things, not a letter."""
    thin, long = sorted((int(row[WIDTH]), int(row[HEIGHT])))
    return thin <= _RULE[0] and long >= _RULE[1] and long >= _RULE[2] * thin


def _middle(rect: Rect) -> float:
    return (rect.top + rect.bottom) / 2


def _is_corner(rect: Rect, shape: tuple[int, ...]) -> bool:
    """Whether a piece is what a rounded corner leaves of the ground outside."""
    height, width = shape
    upright = rect.top <= 0 or rect.bottom >= height
    across = rect.left <= 0 or rect.right >= width
    return upright and across and rect.width < width / 3 and rect.height <= height / 2


def _line_box(text: TextBlock) -> tuple[float, float]:
    """Return where the lines of a text begin and end with the room that type takes.

    Common faces reach 0.95 of the size above the baseline and 0.25 below it; capitals are 0.7
    high. What a line is higher than that is shared above and below.
    """
    high = text.pitch / text.size if text.pitch else (1.18 if text.size > 25 else 1.55)
    room = (0.25 + (high - 1.2) / 2) * text.size
    lines = (text.lines - 1) * text.pitch
    base = text.rect.top + 0.72 * text.size + lines
    return text.rect.top - room, max(base + room, text.rect.bottom)


def _moved_text(text: TextBlock, region: Rect) -> TextBlock:
    return replace(text, rect=text.rect.moved(region.left, region.top))


def _moved_box(box: Box, region: Rect) -> Box:
    return Box(box.rect.moved(region.left, region.top), box.fill, box.edge, box.radius,
               tuple(_moved_text(text, region) for text in box.texts),
               tuple(rect.moved(region.left, region.top) for rect in box.pictures),
               tuple(_moved_box(inner, region) for inner in box.boxes))


def _split(extents: list[tuple[float, float]], height: int, first: bool) -> list[tuple[int, int]]:
    """Return the sections on one ground, as rows from and to.

    Sections part where nothing stands for a long way. A section is taken to have as much room
    below its contents as above them, where that leaves room for the next.

    Args:
        extents: Where each thing begins and ends.
        first: The picture begins here, so a header may stand above.
    """
    start = 0
    parts: list[tuple[int, int]] = []
    runs = _runs(extents)
    content = runs[0][0] if runs else 0.0
    for (above_from, above), (below, _) in itertools.pairwise(runs):
        room, gap = content - start, below - above
        header = first and not parts and above - above_from <= 60 and (
            room <= 44 and gap >= room + _HEADER_SPLIT)
        if gap < _SPLIT and not header:
            continue
        fits = 8 <= room <= gap - 12
        middle = (above + below) / 2
        edge = above + room if fits and abs(above + room - middle) > 5 else middle
        parts.append((start, round(edge)))
        start, content = round(edge), below
    return [*parts, (start, height)]


def _runs(extents: list[tuple[float, float]]) -> list[tuple[float, float]]:
    """Return extents that overlap or nearly touch as one."""
    runs: list[tuple[float, float]] = []
    for begin, end in sorted(extents):
        if runs and begin <= runs[-1][1] + 2:
            runs[-1] = (runs[-1][0], max(runs[-1][1], end))
        else:
            runs.append((begin, end))
    return runs
