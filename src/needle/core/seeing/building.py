"""Real sections and items from what was read in a picture."""

import itertools
import statistics
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any, TypeVar

from needle.core.colour.oklch import difference
from needle.core.seeing.lines import BOLD_STROKE
from needle.core.seeing.measuring import nearest_colour
from needle.core.seeing.shapes import Band, Box, Rect, TextBlock
from needle.core.site.parts import Parts, Values
from needle.core.site.site import Site
from needle.core.site.tree import Column, Row, Section
from needle.core.values.ids import Id, IdSource
from needle.core.values.node import Item
from needle.core.values.styletable import TABLE
from needle.core.values.widths import Width

__all__ = ["CutOut", "build_sections"]

# Cuts a rectangle out of the picture, clear of what stands on it, and returns the medium it became.
CutOut = Callable[[Rect, Sequence[Rect]], Id]

# Nearer than this to a colour of the brand is that one (ΔE OK times 100; 2 is just seen).
_SAME = 1.6
_COLUMN_GAP, _ROW_GAP = 18, 6
_WORDS = ("words", "that", "stand", "in", "the", "picture", "here", "and", "wait", "for", "yours")
_LETTERS_A_SIZE = 0.5
_TITLE = 24
_MOST_PAD = 64


@dataclass(frozen=True, slots=True)
class _Thing:
    """Something that stands on a band, with the room its lines take."""

    rect: Rect
    what: TextBlock | Box | Rect


def build_sections(bands: Sequence[Band], site: Site, ids: IdSource, cut_out: CutOut,
                   with_words: bool = False) -> list[Section]:
    """Return a section for each band, its words as placeholders of the same length.

    Args:
        cut_out: Makes a medium of a part of the picture, without what stands on it.
        with_words: What is known of the words is taken over, as words to be confirmed.
    """
    builder = _Builder(site, ids, cut_out, with_words)
    return [builder.section(band, number) for number, band in enumerate(bands, 1)]


class _Builder:
    def __init__(self, site: Site, ids: IdSource, cut_out: CutOut, with_words: bool) -> None:
        self._site = site
        self._with_words = with_words
        self._p = Parts(ids, invented=True)
        self._cut_out = cut_out
        self._titled = False

    def section(self, band: Band, number: int) -> Section:
        things = _things(band.texts, band.pictures, band.boxes)
        rows = self._rows(things)
        left = min((thing.rect.left for thing in things), default=band.rect.left)
        right = max((thing.rect.right for thing in things), default=band.rect.right)
        top = min((thing.rect.top for thing in things), default=band.rect.bottom)
        bottom = max((thing.rect.bottom for thing in things), default=band.rect.bottom)
        # What stands left of the middle only still belongs to a letter width around the middle.
        middle = (band.rect.left + band.rect.right) / 2
        inner = round(2 * max(middle - left, right - middle))
        # Said of paper, too: a theme may give sections grounds by turns.
        fill: Values = {} if not band.ground else {"fill": self._colour(band.ground)}
        gaps = [after.rect.top - before.rect.bottom for before, after in _pairs(rows)]
        if gaps:
            fill["gap"] = _bounded(statistics.median(gaps), 0, 200)
        return self._p.section(
            f"Section {number}", *(row.node for row in rows),
            picture="" if band.ground else self._cut_out(
                band.rect, [thing.what.rect if isinstance(thing.what, TextBlock) else thing.rect
                            for thing in things]),
            pad_top=_bounded(top - band.rect.top, 0, 400),
            pad_bottom=_bounded(band.rect.bottom - bottom, 0, 400),
            inner=_bounded(inner, 280, 2400), phone={"pad_top": 44, "pad_bottom": 44},
            **fill)

    def _rows(self, things: list[_Thing]) -> list["_Made"]:
        """Return rows: things beside each other in columns, all others below each other."""
        made: list[_Made] = []
        single: list[_Thing] = []

        def close() -> None:
            if single:
                made.append(_Made(_around(single), self._p.row(self._column(single))))
                single.clear()

        for row in _cut(things, 1, _ROW_GAP):
            columns = _cut(row, 0, _COLUMN_GAP)
            if len(columns) == 1:
                single.extend(row)
                continue
            close()
            made.append(_Made(_around(row), self._beside(columns)))
        close()
        return made

    def _beside(self, columns: list[list[_Thing]]) -> Row:
        rects = [_around(column) for column in columns]
        gaps = [after.left - before.right for before, after in itertools.pairwise(rects)]
        total = sum(rect.width for rect in rects)
        nodes = [self._column(column, share=_bounded(12 * rect.width / total, 1, 12))
                 for column, rect in zip(columns, rects, strict=True)]
        tops = max(rect.top for rect in rects) - min(rect.top for rect in rects)
        return self._p.row(*nodes, gap=_bounded(statistics.median(gaps), 0, 200),
                           level="center" if tops > 12 else "start", phone={"gap": 24})

    def _column(self, things: list[_Thing], **look: Any) -> Column:
        only = things[0].what if len(things) == 1 else None
        if isinstance(only, Box) and not only.is_button and (only.texts or only.boxes
                                                             or only.pictures):
            return self._card(only, **look)
        items = [item for thing in things for item in self._items(thing)]
        gaps = [after.rect.top - before.rect.bottom for before, after in _pairs(things)]
        if gaps:
            look["gap"] = _bounded(statistics.median(gaps), 0, 200)
        return self._p.column(*items, **look)

    def _card(self, box: Box, **look: Any) -> Column:
        things = sorted(_things(box.texts, box.pictures, box.boxes),
                        key=lambda thing: thing.rect.top)
        around = _around(things)
        look |= {"fill": self._colour(box.fill), "radius": _bounded(box.radius, 0, 200),
                 "pad_top": _bounded(around.top - box.rect.top, 0, 400),
                 "pad_left": _bounded(around.left - box.rect.left, 0, _MOST_PAD)}
        look |= {"pad_right": look["pad_left"],
                 "pad_bottom": _bounded(box.rect.bottom - around.bottom, 0, 400)}
        if box.edge:
            look |= {"edge": 1, "edge_colour": self._colour(box.edge)}
        gaps = [after.rect.top - before.rect.bottom for before, after in _pairs(things)]
        if gaps:
            look["gap"] = _bounded(statistics.median(gaps), 0, 200)
        return self._p.column(*(item for thing in things for item in self._items(thing)), **look)

    def _items(self, thing: _Thing) -> list[Item]:
        what = thing.what
        if isinstance(what, TextBlock):
            return [self._text(what)]
        if isinstance(what, Rect):
            return [self._p.picture(self._cut_out(what, ()))]
        if what.is_button:
            return [self._button(what)]
        return [item for inner in sorted(_things(what.texts, what.pictures, what.boxes),
                                         key=lambda one: one.rect.top)
                for item in self._items(inner)]

    def _text(self, block: TextBlock) -> Item:
        words, look = self._words(block), {"colour": self._colour(block.colour)}
        if look["colour"] == "ink":
            look = {}
        style, size = self._style(block)
        sized = {} if size is None else {"size": size}
        if block.size >= _TITLE or style in ("title", "heading", "minor"):
            rank = 1 if not self._titled and block.size >= _TITLE else (
                2 if block.size >= _TITLE else 3)
            self._titled = self._titled or rank == 1
            return self._p.heading(words, rank=rank, style=style, **look, **sized)
        return self._p.passage(words, style=style, **look, **sized)

    def _words(self, block: TextBlock) -> str:
        return block.words if self._with_words and block.words else _filler(block)

    def _style(self, block: TextBlock) -> tuple[str, int | None]:
        """Return the nearest text style, and the size where it is another."""
        sizes = {style.key: float(style.look.value("size", Width.DESKTOP) or 17)
                 for style in self._site.styles if style.key != "button"}
        bold = block.weight >= BOLD_STROKE
        bold_styles = {"title", "heading", "minor"}

        def apart(key: str) -> float:
            return abs(sizes[key] - block.size) / block.size + (
                0.12 if (key in bold_styles) != (bold or block.size >= _TITLE) else 0)

        key = min(sizes, key=apart, default="body")
        off = abs(sizes.get(key, 17) - block.size) / block.size
        limits = TABLE["size"]
        size = _bounded(block.size, int(limits.low), int(limits.high))
        return key, (size if off > 0.08 else None)

    def _button(self, box: Box) -> Item:
        words = box.texts[0]
        pad = _bounded((box.rect.width - words.rect.width) / 2, 0, 400)
        look: Values = {"radius": _bounded(box.radius, 0, 200)}
        # One that is far wider than its words fills its column, on a phone too.
        look |= {"width": "full"} if pad > _MOST_PAD else {"pad_left": pad, "pad_right": pad}
        outlined = bool(box.edge)
        if not outlined and self._colour(box.fill) != "main":
            look |= {"fill": self._colour(box.fill), "colour": self._colour(words.colour)}
        call = self._words(words) if self._with_words and words.words else (
            self._site.brief.call_to_action.strip() or _filler(words))
        return self._p.button(call, looks="second" if outlined else "main", **look)

    def _colour(self, value: str) -> str:
        """Return the role of the brand that has this colour, or the colour itself."""
        near = nearest_colour(self._site.brand, value)
        return near.role if near and difference(value, near.value) <= _SAME else value


@dataclass(frozen=True, slots=True)
class _Made:
    rect: Rect
    node: Row


_Placed = TypeVar("_Placed", _Thing, _Made)


def _things(texts: Sequence[TextBlock], pictures: Sequence[Rect], boxes: Sequence[Box],
            ) -> list[_Thing]:
    found = [_Thing(_with_leading(text), text) for text in texts]
    found += [_Thing(rect, rect) for rect in pictures] + [_Thing(box.rect, box) for box in boxes]
    return sorted(found, key=lambda thing: (thing.rect.top, thing.rect.left))


def _with_leading(text: TextBlock) -> Rect:
    """Return the room that the lines take, as a browser lays them out."""
    high = text.pitch or text.size * (1.18 if text.size > _TITLE else 1.55)
    room = round(0.25 * text.size + (high - 1.2 * text.size) / 2)
    base = text.rect.top + 0.72 * text.size + (text.lines - 1) * text.pitch
    return Rect(text.rect.left, text.rect.top - room, text.rect.right,
                max(round(base + room), text.rect.bottom))


def _cut(things: list[_Thing], axis: int, gap: int) -> list[list[_Thing]]:
    """Return things parted where nothing stands for `gap`: across (0) or down (1)."""
    def span(thing: _Thing) -> tuple[int, int]:
        rect = thing.rect
        return (rect.left, rect.right) if axis == 0 else (rect.top, rect.bottom)

    groups: list[list[_Thing]] = []
    end = 0
    for thing in sorted(things, key=span):
        begin, stop = span(thing)
        if groups and begin < end + gap:
            groups[-1].append(thing)
            end = max(end, stop)
        else:
            groups.append([thing])
            end = stop
    return [sorted(group, key=lambda one: one.rect.top) for group in groups]


def _around(things: Sequence[_Thing]) -> Rect:
    rect = things[0].rect
    for thing in things[1:]:
        rect = rect.joined(thing.rect)
    return rect


def _pairs(found: Sequence[_Placed]) -> list[tuple[_Placed, _Placed]]:
    return list(itertools.pairwise(found))


def _bounded(value: float, low: int, high: int) -> int:
    return int(min(high, max(low, round(value))))


def _filler(block: TextBlock) -> str:
    """Return placeholder words about as long as the text in the picture."""
    letters = max(3, round(block.lines * block.rect.width / (block.size * _LETTERS_A_SIZE)) - (
        0 if block.lines == 1 else round(block.rect.width / block.size * 0.6)))
    words: list[str] = []
    while len(" ".join(words)) < letters - 2:
        words.append(_WORDS[len(words) % len(_WORDS)])
    return " ".join(words or ["Words"]).capitalize()
