"""How wide items are shown at each width of a screen, so that a browser fetches pictures to fit.

Follows from the looks of sections, rows and columns as the style sheet lays them out; what text or
a theme adds to a card is taken as the usual padding.
"""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass

from needle.core.site.tree import Column, Row, Section, children_of
from needle.core.values.ids import Id
from needle.core.values.node import Node
from needle.core.values.styletable import TABLE
from needle.core.values.widths import Width

__all__ = ["Shown", "shown_widths"]

# As the base sheet has them, in CSS pixels.
_INNER, _EDGE, _GAP, _CARD, _HANG = 1120, 20, 24, 24, 120
_BEGINS = {Width.PHONE: 0, Width.TABLET: 700, Width.DESKTOP: 1080}
_ENDS = {Width.PHONE: 700, Width.TABLET: 1080, Width.DESKTOP: 100_000}


@dataclass(frozen=True, slots=True)
class _Length:
    """So much of the screen's width, and so many pixels; where the section no longer grows with
    the screen, `most` pixels."""

    part: float
    px: float
    most: float

    def less(self, px: float) -> "_Length":
        return _Length(self.part, self.px - px, self.most - px)

    def times(self, share: float) -> "_Length":
        return _Length(self.part * share, self.px * share, self.most * share)


@dataclass(frozen=True, slots=True)
class Shown:
    """How wide one item is shown.

    Attributes:
        lengths: Its width at each width of a screen.
        full: From which width of the screen on its section no longer grows, for each.
        most: What the item itself allows, for each; 0 for no limit.
    """

    lengths: Mapping[Width, _Length]
    full: Mapping[Width, int]
    most: Mapping[Width, int]

    def sizes(self, factor: float = 1) -> str:
        """Return a `sizes` attribute (HTML, "source size list").

        Args:
            factor: How much wider the whole picture is than what is seen of it.
        """
        entries = [entry for width in (Width.DESKTOP, Width.TABLET, Width.PHONE)
                   for entry in self._entries(width, factor)]
        told = [(begins, size) for place, (begins, size) in enumerate(entries)
                if place + 1 == len(entries) or entries[place + 1][1] != size]
        return ", ".join(f"(min-width:{begins}px) {size}" if begins else size
                         for begins, size in told)

    def parted(self, across: int, gap: float) -> "Shown":
        """Return how wide one of so many cells in the item is; on a phone each has a line."""
        return Shown({width: length if width is Width.PHONE
                      else length.less(gap * (across - 1)).times(1 / across)
                      for width, length in self.lengths.items()}, self.full, self.most)

    def _entries(self, width: Width, factor: float) -> Iterator[tuple[int, str]]:
        begins, full, length = _BEGINS[width], self.full[width], self.lengths[width]
        limit = self.most[width]
        if full < _ENDS[width]:
            most = min(length.most, limit) if limit else length.most
            yield max(begins, full), f"{most * factor:.0f}px"
        if begins < full:
            size, more = f"{length.part * factor:.4g}vw", round(length.px * factor)
            if more:
                size = f"calc({size} {'-' if more < 0 else '+'} {abs(more)}px)"
            yield begins, f"min({size}, {limit * factor:.0f}px)" if limit else size


def shown_widths(tops: Sequence[Node], letter_width: int = 0) -> dict[Id, Shown]:
    """Return how wide each item in sections is shown; popups and what is in them are left out.

    Args:
        tops: What stands on a page.
        letter_width: The width of content that the page sets for all sections, in pixels; 0 for
            none.
    """
    found: dict[Id, Shown] = {}
    for top in tops:
        if isinstance(top, Section):
            inner = {width: _number(top, "inner", width, letter_width or _INNER)
                     for width in Width}
            full = {width: int(inner[width]) + 2 * _EDGE for width in Width}
            lengths = {width: _Length(100, -2 * _EDGE, inner[width]) for width in Width}
            for row in top.children:
                _row(row, lengths, full, found)
    return found


def _row(row: Row, outer: Mapping[Width, _Length], full: Mapping[Width, int],
         found: dict[Id, Shown]) -> None:
    for column in row.children:
        lengths = {width: _in_column(column, width, _of_row(row, column, width, outer[width]))
                   for width in Width}
        for item in children_of(column):
            most = {width: int(_number(item, "max_width", width, 0)
                               or _number(item, "wide", width, 0)) for width in Width}
            hung = {width: lengths[width].less(-_hung(item, width)) for width in Width}
            found[item.id] = Shown(hung, full, most)


def _of_row(row: Row, column: Column, width: Width, length: _Length) -> _Length:
    gap = _number(row, "gap", width, _GAP)
    cells = int(_number(row, "cells", width, 0))
    if cells:
        return length.less(gap * (cells - 1)).times(1 / cells)
    if width is Width.PHONE and _look(row, "stack", width) != "never":
        return length
    shares = [_number(one, "share", width, 1) for one in row.children]
    return length.less(gap * (len(shares) - 1)).times(
        _number(column, "share", width, 1) / sum(shares))


def _in_column(column: Column, width: Width, length: _Length) -> _Length:
    usual = _CARD if _look(column, "card", width) == "theme" else 0
    return length.less(sum(_number(column, side, width, usual)
                           for side in ("pad_left", "pad_right")))


def _hung(item: Node, width: Width) -> float:
    """Return how far an item hangs out at a side, in pixels."""
    return _number(item, "hang_by", width, _HANG) if _look(item, "hang", width) in (
        "left", "right") else 0


def _number(node: Node, name: str, width: Width, usual: float) -> float:
    value = _look(node, name, width)
    return float(value) if isinstance(value, int | float) else usual


def _look(node: Node, name: str, width: Width) -> object:
    """Return a value as it holds at a width, with what the style sheet sets for phones."""
    on_phone = TABLE[name].phone
    if width is Width.PHONE and on_phone is not None and name in node.look.base and (
            name not in node.look.at(width)):
        return on_phone
    return node.look.value(name, width)
