"""Letters to lines, lines to blocks of words."""

import itertools
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from needle.core.colour.oklch import hex_of_srgb
from needle.core.seeing.pixels import Pixels
from needle.core.seeing.shapes import Rect, TextBlock

__all__ = ["BOLD_STROKE", "CAP_HEIGHT", "blocks_of", "size_of_letter"]

# Height of capitals and of small letters by the size of the type: the middle of common faces.
CAP_HEIGHT, X_HEIGHT = 0.7, 0.51
# From this thickness of stems on, in sizes of the type, a line is bold.
BOLD_STROKE = 0.113
_SMALL_GAP, _WORD_GAP, _SPACED = 0.3, 0.95, 2.5
_MOST_PITCH, _LEAST_PITCH = 1.74, 0.9
_DOT = 3
# How large the mark of a line may be, in sizes of the type.
_MARK = 1.35
# Of a stroke is what covers this much of a pixel at least.
_STROKE = 0.42
# Heights of tall and of small letters by the size, and the least that small ones are of tall ones.
_TALL, _SMALL, _LEAST_SMALL = 0.71, 0.505, 0.62


@dataclass(slots=True)
class _Line:
    """One line of words: its ink, its baseline, its size.

    Attributes:
        one_height: Its letters are all as high, so they may be capitals or small ones.
    """

    rect: Rect
    members: list[int]
    size: float = 0
    base: float = 0
    colour: tuple[int, int, int] = (0, 0, 0)
    weight: float = 0
    one_height: bool = False

    def has_tails(self, rects: list[Rect]) -> bool:
        """Whether letters reach below the baseline, as small ones do and capitals do not."""
        low = sum(rects[n].bottom > self.base + 0.12 * self.size for n in self.members)
        return low >= max(1, 0.04 * len(self.members))


def size_of_heights(heights: NDArray[np.float64], tails: bool) -> tuple[float, bool]:
    """Return the size of type from how high its letters reach above the baseline, and whether all
    reach as high.

    Small letters are half as high as the type is large, tall ones 0.71 times, in common faces;
    where both are seen, what one face has more of the other mostly has less.

    Args:
        tails: Some reach below the baseline, so these are no capitals.
    """
    real = heights[heights >= 0.45 * heights.max()]
    tall = float(np.percentile(real, 88))
    low = real[real <= 0.84 * tall]
    if len(low) >= max(1, 0.15 * len(real)):
        small = float(np.median(low))
        if small / tall < _LEAST_SMALL:
            return tall / _TALL, False
        return 0.5 * (tall / _TALL + small / _SMALL), False
    return float(np.median(real)) / (_SMALL if tails else CAP_HEIGHT), True


def size_of_letter(height: float, capital: bool = True) -> float:
    """Return the size of type, from the height of a capital or of a small x, in its unit."""
    return height / (CAP_HEIGHT if capital else X_HEIGHT)


def blocks_of(rects: list[Rect], pixels: Pixels, ink: NDArray[np.bool_],
              away: NDArray[np.float32], strict: bool = False) -> list[TextBlock]:
    """Return blocks of words from the letters' rectangles.

    Args:
        rects: Around each connected piece of ink.
        pixels: The region they are in.
        ink: What is not ground there; shape (height, width).
        away: How far each pixel is from the ground, 0 to 255.
        strict: Only what cannot be anything but words: several letters on one baseline.
    """
    letters = [number for number, rect in enumerate(rects) if rect.height > _DOT]
    lines = _first_lines(rects, letters, pixels.shape[:2])
    for line in lines:
        _measure(line, rects)
    _add_dots(lines, [n for n, rect in enumerate(rects) if rect.height <= _DOT], rects)
    lines = _joined(lines, rects)
    for line in lines:
        _measure_finely(line, rects, away)
    if strict:
        lines = [line for line in lines if _is_regular(line, rects)]
    for line in lines:
        _drop_marker(line, rects)
        line.colour = _ink_colour(line.rect, pixels, ink)
        line.weight = _weight(line, ink, away)
    return _stacked(sorted(lines, key=lambda line: (line.rect.top, line.rect.left)))


def _first_lines(rects: list[Rect], letters: list[int], shape: tuple[int, ...]) -> list[_Line]:
    """Return letters joined to their closest neighbours at the same height."""
    from scipy import ndimage  # Heavy, and needed only where pictures are looked at.

    canvas = np.zeros(shape, bool)
    cores: list[tuple[int, int]] = []
    for number in letters:
        rect = rects[number]
        top = rect.top + int(rect.height * 0.35)
        bottom = max(top + 1, rect.bottom - int(rect.height * 0.25))
        reach = max(2, round(rect.height * _SMALL_GAP))
        canvas[top:bottom, max(0, rect.left - reach): rect.right + reach] = True
        cores.append(((top + bottom) // 2, (rect.left + rect.right) // 2))
    labels, _ = ndimage.label(canvas)
    groups: dict[int, list[int]] = {}
    for number, (row, column) in zip(letters, cores, strict=True):
        groups.setdefault(int(labels[row, column]), []).append(number)
    return [_Line(_around(members, rects), members) for members in groups.values()]


def _around(members: list[int], rects: list[Rect]) -> Rect:
    rect = rects[members[0]]
    for number in members[1:]:
        rect = rect.joined(rects[number])
    return rect


def _measure(line: _Line, rects: list[Rect]) -> None:
    """Work out baseline and size of a line from the heights of its letters."""
    bottoms = np.array([rects[n].bottom for n in line.members])
    tall = np.array([rects[n].height for n in line.members])
    real = tall >= 0.55 * tall.max()
    values, counts = np.unique(bottoms[real], return_counts=True)
    line.base = float(values[np.argmax(counts)])
    above = line.base - np.array([rects[n].top for n in line.members])[real]
    highest = float(above.max())
    if highest <= 0:
        highest = float(tall.max())
    high = above[above >= 0.86 * highest]
    # A line of nothing but small letters shows no second height.
    plain = len(high) == len(above) and len(above) >= 4
    line.size = float(np.median(high)) / (X_HEIGHT if plain else CAP_HEIGHT + 0.02)


def _measure_finely(line: _Line, rects: list[Rect], away: NDArray[np.float32]) -> None:
    """Work out a line's size from heights in parts of pixels, by how much its rims are covered."""
    heights = np.array([_fine_height(rects[n], line.base, away) for n in line.members
                        if abs(rects[n].bottom - line.base) <= max(1.0, 0.06 * line.size)])
    if len(heights):
        line.size, line.one_height = size_of_heights(heights, line.has_tails(rects))


def _fine_height(rect: Rect, base: float, away: NDArray[np.float32]) -> float:
    """Return how far a letter reaches above its baseline, in parts of pixels."""
    part = away[max(0, rect.top - 1): int(base) + 1, rect.left: rect.right]
    rows = part.max(axis=1)
    return float((rows / max(1.0, float(np.percentile(rows, 80)))).clip(0, 1).sum())


def _joined(lines: list[_Line], rects: list[Rect]) -> list[_Line]:
    """Return lines with the words put together that stand a word's gap apart."""
    lines = sorted(lines, key=lambda line: line.rect.left)
    done: list[_Line] = []
    for line in lines:
        for other in done:
            size = max(line.size, other.size)
            gap = line.rect.left - other.rect.right
            overlap = min(line.rect.bottom, other.rect.bottom) - max(line.rect.top, other.rect.top)
            mark = _is_mark(line, other)
            alike = overlap > (0.15 if mark else 0.5) * min(line.rect.height, other.rect.height)
            level = mark or abs(line.base - other.base) <= 0.3 * size
            inside = other.rect.holds(line.rect, 2)
            room = _WORD_GAP * size + _SPACED * _letter_gap(other, rects)
            if inside or (alike and level and -size <= gap <= room):
                if not inside:
                    other.members += line.members
                other.rect = other.rect.joined(line.rect)
                _measure(other, rects)
                break
        else:
            done.append(line)
    return done


def _drop_marker(line: _Line, rects: list[Rect]) -> None:
    """Take the mark of a list, or of something that folds, off the line that it leads."""
    members = sorted(line.members, key=lambda n: rects[n].left)
    if len(members) < 4:
        return
    first, next_ = rects[members[0]], rects[members[1]]
    gaps = np.array([rects[after].left - rects[before].right
                     for before, after in itertools.pairwise(members)])
    between = gaps[1:][gaps[1:] >= 0.2 * line.size]
    usual = float(np.median(between)) if len(between) else 0.28 * line.size
    most = _MARK * line.size
    if first.width <= most and first.height <= most and gaps[0] >= max(
            0.42 * line.size, 1.3 * usual) and next_.left > first.right:
        line.members = members[1:]
        line.rect = _around(line.members, rects)


def _letter_gap(line: _Line, rects: list[Rect]) -> float:
    """Return how far apart the letters of a line stand where they are spaced; else 0."""
    if len(line.members) < 3:
        return 0.0
    places = sorted((rects[n].left, rects[n].right) for n in line.members)
    gaps = [after[0] - before[1] for before, after in itertools.pairwise(places)]
    usual = float(np.median(gaps))
    return usual if usual > 0.18 * line.size else 0.0


def _is_mark(one: _Line, other: _Line) -> bool:
    """Whether one of two is but a quotation mark or a dash beside the other."""
    small, large = sorted((one, other), key=lambda line: line.rect.height)
    return (small.rect.height < 0.55 * large.rect.height and small.rect.width < 1.4 * large.size
            and small.rect.top >= large.rect.top - 0.25 * large.size
            and small.rect.bottom <= large.rect.bottom + 0.25 * large.size)


def _is_regular(line: _Line, rects: list[Rect]) -> bool:
    """Whether a line has several letters, most of them on its baseline."""
    bottoms = np.array([rects[n].bottom for n in line.members])
    level = np.abs(bottoms - line.base) <= max(1.0, 0.07 * line.size)
    return len(line.members) >= 4 and float(level.mean()) >= 0.55


def _add_dots(lines: list[_Line], dots: list[int], rects: list[Rect]) -> None:
    """Widen lines by the full stops, dots and dashes that they are nearest to."""
    for number in dots:
        dot = rects[number]
        near = [line for line in lines
                if line.rect.top - 0.25 * line.size <= dot.top
                and dot.bottom <= line.rect.bottom + 0.3 * line.size
                and line.rect.left - 3 <= dot.left
                and dot.right <= line.rect.right + 0.5 * line.size]
        if near:
            best = min(near, key=lambda line: abs(dot.bottom - line.base))
            best.rect = best.rect.joined(dot)


def _ink_colour(rect: Rect, pixels: Pixels, ink: NDArray[np.bool_]) -> tuple[int, int, int]:
    """Return the colour of the letters: the commonest of the pixels full of ink."""
    part = pixels[rect.top: rect.bottom, rect.left: rect.right]
    marked = part[ink[rect.top: rect.bottom, rect.left: rect.right]]
    if not len(marked):
        return 0, 0, 0
    colours, counts = np.unique(marked, axis=0, return_counts=True)
    red, green, blue = (int(part) for part in colours[int(np.argmax(counts))])
    return red, green, blue


def _stacked(lines: list[_Line]) -> list[TextBlock]:
    """Return lines put together into blocks, from top to bottom."""
    blocks: list[list[_Line]] = []
    for line in lines:
        for block in reversed(blocks):
            if _goes_on(block, line):
                block.append(line)
                break
        else:
            blocks.append([line])
    return [_block(block) for block in blocks]


def _goes_on(block: list[_Line], line: _Line) -> bool:
    """Whether a line is the next one of a block."""
    last = block[-1]
    size = float(np.median([other.size for other in block]))
    pitch = line.base - last.base
    if not _LEAST_PITCH * size <= pitch <= _MOST_PITCH * size:
        return False
    if not _same_size(line, size):
        return False
    if abs(line.weight - last.weight) > 0.3 * max(line.weight, last.weight):
        return False
    if len(block) > 1 and abs(pitch - (last.base - block[-2].base)) > 0.16 * pitch + 1:
        return False
    if max(abs(one - other) for one, other in zip(line.colour, last.colour, strict=True)) > 60:
        return False
    aligned = (abs(line.rect.left - last.rect.left) <= 0.3 * size + 3
               or abs(line.rect.left + line.rect.right - last.rect.left - last.rect.right) <= 12)
    return aligned and min(line.rect.right, last.rect.right) > max(line.rect.left, last.rect.left)


def _same_size(line: _Line, size: float) -> bool:
    """Whether a line is set in a size; small letters alone look like capitals of a smaller one."""
    ratio = line.size / size
    small = _SMALL / CAP_HEIGHT
    return 0.86 <= ratio <= 1.16 or (line.one_height and 0.86 <= ratio / small <= 1.16)


def _weight(line: _Line, ink: NDArray[np.bool_], away: NDArray[np.float32]) -> float:
    """Return how bold a line is: how thick its stems are, in sizes of the type.

    Most strokes that a row crosses are stems; how much of the row they cover together, in shares of
    the strongest pixels, tells how thick one is, finer than in whole pixels and through blur.
    """
    rect = line.rect
    shown = np.where(ink[rect.top: rect.bottom, rect.left: rect.right],
                     away[rect.top: rect.bottom, rect.left: rect.right], 0.0)
    full = float(np.percentile(shown[shown > 0], 92)) if (shown > 0).any() else 0.0
    if not full:
        return 0.0
    # The rims of strokes are covered in part; they stand a pixel beside the ink.
    covered = np.clip(np.pad(away[rect.top: rect.bottom, rect.left: rect.right] / full,
                             ((0, 0), (2, 2))), 0, 1)
    marked = np.pad(shown > 0, ((0, 0), (2, 2)))
    grown = marked | np.roll(marked, 1, axis=1) | np.roll(marked, -1, axis=1)
    covered = np.where(grown, covered, 0.0)
    flat = np.where(covered >= _STROKE, covered, 0.0).ravel()
    starts = np.flatnonzero((flat[1:] > 0) & (flat[:-1] == 0)) + 1
    ends = np.flatnonzero((flat[1:] == 0) & (flat[:-1] > 0)) + 1
    total = np.concatenate([[0.0], np.cumsum(flat)])
    runs = total[ends] - total[starts]
    return float(np.percentile(runs, 40)) / max(1.0, line.size) if len(runs) else 0.0


def _block(block: list[_Line]) -> TextBlock:
    rect = block[0].rect
    for line in block[1:]:
        rect = rect.joined(line.rect)
    size = float(np.median([line.size for line in block]))
    bases = [line.base for line in block]
    pitch = float(np.mean(np.diff(bases))) if len(bases) > 1 else 0.0
    return TextBlock(rect, round(size, 1), hex_of_srgb(np.array(block[0].colour) / 255),
                     len(block), round(pitch, 1), round(block[0].weight, 3),
                     letters=sum(len(line.members) for line in block))
