"""Reading the structure of a page from a picture of it."""

import itertools

import numpy as np
from numpy.typing import NDArray

from needle.core.colour.clusters import clusters
from needle.core.colour.oklch import hex_of_srgb
from needle.core.seeing.bands import Pixels, band_edges, ground_of
from needle.core.seeing.lines import blocks_of
from needle.core.seeing.shapes import Band, Box, Found, Rect, TextBlock

__all__ = ["read_structure"]

_INK = 9
_DEEPEST = 5
_BOX = (24, 14)
_PICTURE = (40, 30)
_SPLIT, _HEADER_SPLIT = 78, 20
_LEAST_TYPE = 7.5
_EIGHT = np.ones((3, 3), bool)

_Contents = tuple[list[TextBlock], list[Rect], list[Box]]


def read_structure(pixels: Pixels) -> Found:
    """Return what a picture of a page shows.

    Args:
        pixels: Shape (height, width, 3), sRGB, one pixel for each CSS pixel.
    """
    height, width = pixels.shape[:2]
    bands: list[Band] = []
    edges = band_edges(pixels)
    for top, bottom in itertools.pairwise(edges):
        bands.extend(_bands(pixels[top:bottom], top))
    return Found(width, height, tuple(bands), tuple(clusters(pixels, 14)))


def _bands(pixels: Pixels, top: int) -> list[Band]:
    """Return the sections on one ground; several where wide blank runs part them."""
    ground = ground_of(pixels)
    if ground is None:
        texts, pictures, boxes = _on_picture(pixels)
        return [_band(pixels, top, "", texts, pictures, boxes)]
    texts, pictures, boxes = _contents(pixels, ground, 0)
    extents = [*(_line_box(text) for text in texts),
               *((rect.top, rect.bottom) for rect in pictures),
               *((box.rect.top, box.rect.bottom) for box in boxes)]
    return [_band(pixels[start:end], top + start, _hex(ground),
                  [_moved_text(text, -start) for text in texts if start <= text.rect.top < end],
                  [rect.moved(0, -start) for rect in pictures if start <= rect.top < end],
                  [_moved_box(box, 0, -start) for box in boxes if start <= box.rect.top < end])
            for start, end in _split(extents, len(pixels), top == 0)]


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


def _band(pixels: Pixels, top: int, ground: str, texts: list[TextBlock], pictures: list[Rect],
          boxes: list[Box]) -> Band:
    height, width = pixels.shape[:2]
    return Band(Rect(0, top, width, top + height), ground,
                tuple(_moved_text(text, top) for text in texts),
                tuple(rect.moved(0, top) for rect in pictures),
                tuple(_moved_box(box, 0, top) for box in boxes))


def _moved_text(text: TextBlock, top: int, left: int = 0) -> TextBlock:
    return TextBlock(text.rect.moved(left, top), text.size, text.colour, text.lines, text.pitch,
                     text.weight)


def _moved_box(box: Box, left: int, top: int) -> Box:
    return Box(box.rect.moved(left, top), box.fill, box.edge, box.radius,
               tuple(_moved_text(text, top, left) for text in box.texts),
               tuple(rect.moved(left, top) for rect in box.pictures),
               tuple(_moved_box(inner, left, top) for inner in box.boxes))


def _ink(pixels: Pixels, ground: tuple[int, int, int]) -> NDArray[np.bool_]:
    away = np.abs(pixels.astype(np.int16) - np.array(ground, np.int16)).max(axis=2)
    return np.asarray(away >= _INK)


def _hex(colour: tuple[int, int, int] | NDArray[np.uint8]) -> str:
    return hex_of_srgb(np.asarray(colour) / 255)


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


def _contents(pixels: Pixels, ground: tuple[int, int, int], depth: int) -> _Contents:
    """Return what stands on a flat ground."""
    from scipy import ndimage  # Heavy, and needed only where pictures are looked at.

    ink = _ink(pixels, ground)
    labels, count = ndimage.label(ink, structure=_EIGHT)
    rects = [Rect(part[1].start, part[0].start, part[1].stop, part[0].stop)
             for part in ndimage.find_objects(labels, count) if part is not None]
    large, letters = [], []
    for number, rect in enumerate(rects, 1):
        big = rect.width >= _BOX[0] and rect.height >= _BOX[1]
        shape = _shape(pixels, labels, number, rect, ground) if big else ""
        if shape:
            large.append((rect, shape))
        elif rect.height <= 200:
            letters.append(rect)
    outer = [(rect, shape) for rect, shape in large
             if not any(other is not rect and other.holds(rect) for other, _ in large)]
    letters = [rect for rect in letters if not any(o.holds(rect, 1) for o, _ in outer)]
    kept = np.zeros_like(ink)
    for rect in letters:
        kept[rect.top: rect.bottom, rect.left: rect.right] |= ink[
            rect.top: rect.bottom, rect.left: rect.right]
    pictures = [rect for rect, shape in outer if shape == "picture"]
    boxes = [_box(pixels, rect, shape, ground, depth) for rect, shape in outer
             if shape != "picture"]
    words = [text for text in blocks_of(letters, pixels, kept) if text.size >= _LEAST_TYPE]
    return words, pictures, boxes


def _shape(pixels: Pixels, labels: NDArray[np.int32], number: int, rect: Rect,
           ground: tuple[int, int, int]) -> str:
    """Return what a large piece is: "filled", "outlined", "picture" or nothing of these."""
    part = pixels[rect.top: rect.bottom, rect.left: rect.right]
    piece = labels[rect.top: rect.bottom, rect.left: rect.right] == number
    corner = min(28, rect.height // 3, rect.width // 3)
    sides = [piece[0, corner: rect.width - corner], piece[-1, corner: rect.width - corner],
             piece[corner: rect.height - corner, 0], piece[corner: rect.height - corner, -1]]
    straight = all(len(side) and side.mean() >= 0.9 for side in sides)
    if not straight:
        return "picture" if _is_round(part, piece, rect) else ""
    inset = part[3:-3, 3:-3]
    if not inset.size:
        return ""
    colour, share = _commonest(inset)
    rim = np.concatenate([inset[0, corner: -corner or None], inset[-1, corner: -corner or None],
                          inset[corner: -corner or None, 0], inset[corner: -corner or None, -1]])
    flat = len(rim) and (np.abs(rim.astype(np.int16) - colour).max(axis=1) <= 6).mean() >= 0.93
    if flat and share >= 0.3:
        away = max(abs(int(one) - other) for one, other in zip(colour, ground, strict=True))
        return "filled" if away >= _INK else "outlined"
    large = rect.width >= _PICTURE[0] and rect.height >= _PICTURE[1]
    return "picture" if large and piece.mean() >= 0.5 else ""


def _is_round(part: Pixels, piece: NDArray[np.bool_], rect: Rect) -> bool:
    """Whether a piece is a picture cut to a circle."""
    square = 0.9 <= rect.width / rect.height <= 1.1 and rect.width >= _PICTURE[0]
    return bool(square and 0.74 <= piece.mean() <= 0.84 and _commonest(part)[1] < 0.5)


def _commonest(part: Pixels) -> tuple[NDArray[np.int16], float]:
    flat = part.reshape(-1, 3).astype(np.int64) @ (65536, 256, 1)
    codes, counts = np.unique(flat, return_counts=True)
    best = int(codes[int(np.argmax(counts))])
    return (np.array([best >> 16, best >> 8 & 255, best & 255], np.int16),
            float(counts.max()) / len(flat))


def _box(pixels: Pixels, rect: Rect, shape: str, ground: tuple[int, int, int], depth: int) -> Box:
    """Return a box with all that is in it."""
    part = pixels[rect.top: rect.bottom, rect.left: rect.right]
    colour, _ = _commonest(part[3:-3, 3:-3])
    inside = (int(colour[0]), int(colour[1]), int(colour[2]))
    middle = part[rect.height // 2, 0]
    edge = _hex(middle) if np.abs(middle.astype(np.int16) - colour).max() > 24 else ""
    rim = 3 if edge or shape == "outlined" else 2
    inner = part[rim:-rim, rim:-rim]
    corner = _radius(part, ground)
    # Rounded corners show the ground; nothing of the contents stands there.
    inner = _without_corners(inner, inside, corner)
    texts, pictures, boxes = _contents(inner, inside, depth + 1) if depth < _DEEPEST else (
        [], [], [])
    left, top = rect.left + rim, rect.top + rim
    return Box(rect, _hex(inside), edge or (_hex(part[rect.height // 2, 0])
                                            if shape == "outlined" else ""), corner,
               tuple(_moved_text(text, top, left) for text in texts),
               tuple(found.moved(left, top) for found in pictures),
               tuple(_moved_box(found, left, top) for found in boxes))


def _without_corners(inner: Pixels, fill: tuple[int, int, int], corner: int) -> Pixels:
    if not corner:
        return inner
    copy = inner.copy()
    for rows in (slice(0, corner), slice(-corner, None)):
        for columns in (slice(0, corner), slice(-corner, None)):
            copy[rows, columns] = fill
    return copy


def _radius(part: Pixels, ground: tuple[int, int, int]) -> int:
    """Return the radius of the upper left corner: how far the ground reaches along the top."""
    row = np.abs(part[0].astype(np.int16) - np.array(ground, np.int16)).max(axis=1)
    reached = np.flatnonzero(row >= _INK)
    most = min(part.shape[:2]) // 2
    return int(min(most, reached[0])) if len(reached) else 0


def _on_picture(pixels: Pixels) -> _Contents:
    """Return what stands on a picture: flat boxes, and words in flat colours.

    Letters keep one exact colour over a picture, which hardly any other pixels have.
    """
    from scipy import ndimage  # Heavy, and needed only where pictures are looked at.

    codes = pixels.astype(np.int64) @ (65536, 256, 1)
    values, counts = np.unique(codes, return_counts=True)
    texts: list[TextBlock] = []
    boxes: list[Box] = []
    order = np.argsort(-counts)[:14]
    ground = (255, 0, 255)
    for at in order:
        if counts[at] < 60:
            break
        colour = (int(values[at]) >> 16, int(values[at]) >> 8 & 255, int(values[at]) & 255)
        exact = codes == values[at]
        near = ndimage.binary_dilation(exact, _EIGHT) & (np.abs(
            pixels.astype(np.int16) - np.array(colour, np.int16)).max(axis=2) < 110)
        labels, count = ndimage.label(near, structure=_EIGHT)
        letters = []
        for number, found in enumerate(ndimage.find_objects(labels, count), 1):
            if found is None:
                continue
            rect = Rect(found[1].start, found[0].start, found[1].stop, found[0].stop)
            solid = exact[rect.top: rect.bottom, rect.left: rect.right].mean()
            if rect.width >= 40 and rect.height >= _BOX[0] and solid >= 0.4 and _shape(
                    pixels, labels, number, rect, ground) == "filled":
                boxes.append(_box(pixels, rect, "filled", colour, 1))
            elif rect.height <= 120 and rect.width <= 160 and solid >= 0.08:
                letters.append(rect)
        texts.extend(_words_on_picture(letters, pixels, near, boxes))
    boxes = [box for box in boxes if not any(
        other is not box and other.rect.holds(box.rect) for other in boxes)]
    return _apart(texts, boxes), [], boxes


def _words_on_picture(letters: list[Rect], pixels: Pixels, near: NDArray[np.bool_],
                      boxes: list[Box]) -> list[TextBlock]:
    free = [rect for rect in letters if not any(box.rect.holds(rect) for box in boxes)]
    if len(free) < 3 or len(free) > 4000:
        return []
    # A real line has several letters; a stray flat spot of the picture has none beside it.
    return [block for block in blocks_of(free, pixels, near, strict=True)
            if block.rect.width >= 1.6 * block.size and block.size >= 9]


def _apart(texts: list[TextBlock], boxes: list[Box]) -> list[TextBlock]:
    """Return the texts without those in boxes and without smaller ones that overlap others."""
    kept: list[TextBlock] = []
    for text in sorted(texts, key=lambda text: -text.rect.area):
        inside = any(box.rect.holds(text.rect, 2) for box in boxes)
        if not inside and not any(other.rect.holds(text.rect, 4) for other in kept):
            kept.append(text)
    return kept
