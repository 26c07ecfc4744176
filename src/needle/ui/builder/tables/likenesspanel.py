"""How alike the pages of a table are: worked out beside the window, shown pair by pair."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from PyQt6.QtCore import QObject, QRunnable, Qt, QThreadPool, pyqtSignal
from PyQt6.QtGui import QImage
from PyQt6.QtWidgets import QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from needle.core.site.site import Page
from needle.core.tables.comparing import Comparison, compared, compared_again
from needle.core.tables.likeness import (
    FLOOR,
    Likeness,
    Pair,
    chasers,
    own_words,
    percent,
    worst_pairs,
)
from needle.core.values.tables import Table
from needle.ui.builder.tables.matrix import MatrixView, painted
from needle.ui.cards import label
from needle.ui.language import tr
from needle.ui.timers import once

__all__ = ["LikenessPanel"]

_PAIRS = 40
# So many pages are compared; of more, the first.
MOST = 1000
# Of many pages, all are compared again only once nobody has typed for a moment: two threads that
# compute share one turn.
_MANY, _QUIET_MS = 300, 400


@dataclass(frozen=True, slots=True)
class _Found:
    """What was worked out of pages, with all that takes long for a thousand of them."""

    pages: Sequence[Page]
    comparison: Comparison
    likeness: Likeness
    worst: Sequence[Pair]
    picture: QImage


class _Told(QObject):
    worked_out = pyqtSignal(object)


class _Job(QRunnable):
    def __init__(self, told: _Told, pages: Sequence[Page], before: Comparison | None) -> None:
        super().__init__()
        self._told, self._pages, self._before = told, pages, before

    def run(self) -> None:
        made = compared_again(self._before, self._pages) if self._before is not None \
            else compared(self._pages)
        likeness = made.likeness
        self._told.worked_out.emit(_Found(self._pages, made, likeness,
                                          worst_pairs(likeness, _PAIRS), painted(likeness.whole)))


class LikenessPanel(QWidget):
    """Matrix, worst pairs, and what makes the page of the row its own.

    Signals:
        known: The likeness was worked out (the pages, the `Likeness`).
        asked: A page is to be looked at, by its place.
    """

    known = pyqtSignal(object, object)
    asked = pyqtSignal(int)

    def __init__(self) -> None:
        super().__init__()
        self.matrix = MatrixView()
        self.pairs = QListWidget()
        self.pairs.setAccessibleName(tr("Pairs that are most alike"))
        self.pairs.setWordWrap(True)
        self.pairs.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.own = label("", "small", wrap=True)
        self.said = label("", "small", wrap=True)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        column.addWidget(label(tr("How alike the pages are"), "title"))
        column.addWidget(self.matrix)
        column.addWidget(self.said)
        column.addWidget(self.pairs, 1)
        column.addWidget(self.own)
        self.matrix.chosen.connect(lambda one, _: self.asked.emit(one))
        self.pairs.itemActivated.connect(self._open)
        self.pairs.itemClicked.connect(self._open)
        self._told = _Told(self)
        self._told.worked_out.connect(self._on_worked_out)
        self._pool = QThreadPool(self)
        self._pool.setMaxThreadCount(1)
        self._quiet = once(self)
        self._quiet.timeout.connect(self._begin)
        self._wanted: Sequence[Page] | None = None
        self.pages: Sequence[Page] = ()
        self.likeness: Likeness | None = None
        # Of which pages, and at which place, it says what only one of them has.
        self._shown: tuple[Sequence[Page], int] = ((), -1)
        self._compared: Comparison | None = None
        self._table: Table | None = None

    def ask(self, pages: Sequence[Page], table: Table | None) -> None:
        """Work out how alike some pages are, unless that is known."""
        pages = tuple(pages[:MOST])
        self._table = table
        if self._wanted is not None and len(pages) == len(self._wanted) and all(
                one is other for one, other in zip(pages, self._wanted, strict=True)):
            return
        self._wanted = pages
        self._pool.clear()
        self._quiet.stop()
        if len(pages) > 1:
            self._quiet.start(_QUIET_MS if len(pages) > _MANY else 0)
        else:
            self._show_none()

    def _begin(self) -> None:
        if self._wanted is not None:
            self._pool.start(_Job(self._told, self._wanted, self._compared))

    def end(self) -> None:
        """Wait for what is under way."""
        self._quiet.stop()
        self._pool.clear()
        self._pool.waitForDone()

    def show_row(self, place: int) -> None:
        """Show what only the page at a place has."""
        if self._shown[0] is self.pages and self._shown[1] == place:
            return
        self._shown = (self.pages, place)
        if self.likeness is None or not 0 <= place < len(self.pages):
            self.own.setText("")
            return
        words = own_words(self.pages, place)
        name = self._name(place)
        self.own.setText(tr("Only on {name}: {words}", name=name, words=", ".join(words))
                         if words else tr("No word is on {name} alone.", name=name))
        nearest = self.likeness.whole[place].copy()
        nearest[place] = 0
        self.matrix.choose(place, int(nearest.argmax()))

    def _name(self, place: int) -> str:
        page = self.pages[place]
        row = self._table.row(page.row.row) if self._table else None
        return self._table.label(row) if self._table is not None and row is not None else page.name

    def _show_none(self) -> None:
        self.pages, self.likeness = (), None
        self.matrix.show_likeness(np.zeros((0, 0)), [], QImage())
        self.pairs.clear()
        self.said.setText(tr("Two pages or more are compared."))
        self.own.setText("")
        self.known.emit((), None)

    def _on_worked_out(self, found: _Found) -> None:
        self._compared = found.comparison
        if found.pages is not self._wanted:
            return
        self.pages, self.likeness = found.pages, found.likeness
        self.matrix.show_likeness(found.likeness.whole, [
            self._name(place) for place in range(len(found.pages))], found.picture)
        self._list_pairs(found.worst)
        self.known.emit(found.pages, found.likeness)

    def _list_pairs(self, worst: Sequence[Pair]) -> None:
        self.pairs.clear()
        alike = sum(pair.share >= FLOOR for pair in worst)
        self.said.setText(tr("Red: a search engine may take them for one page.") if alike
                          else tr("No two are so alike that a search engine would take them for "
                                  "one page."))
        for phrase, places in chasers(self._phrases()).items():
            self._add(tr("Same phrase “{phrase}”: {names}", phrase=phrase, names=", ".join(
                self._name(place) for place in places[:6])), places[0])
        for pair in worst:
            words = tr("{share} % {one} and {other}", share=percent(pair.share),
                       one=self._name(pair.one), other=self._name(pair.other))
            why = self._why(pair.one, pair.other) if pair.share >= FLOOR else ""
            self._add(f"{words}\n{why}" if why else words, pair.one)

    def _add(self, words: str, place: int) -> None:
        item = QListWidgetItem(words)
        item.setData(Qt.ItemDataRole.UserRole, place)
        self.pairs.addItem(item)

    def _phrases(self) -> list[str]:
        table = self._table
        column = next((one for one in table.columns if "phrase" in one.name.casefold()
                       or "keyword" in one.name.casefold()), None) if table else None
        if table is None or column is None:
            return []
        rows = [table.row(page.row.row) for page in self.pages]
        return [table.cell(row, column.id) if row else "" for row in rows]

    def _why(self, one: int, other: int) -> str:
        """Return what would tell two pages apart: columns that are empty for both."""
        if self._table is None:
            return ""
        rows = [self._table.row(self.pages[place].row.row) for place in (one, other)]
        empty = [column.name for column in self._table.columns if column.kind in ("text", "long")
                 and all(row is not None and not self._table.cell(row, column.id)
                         for row in rows)]
        return tr("Empty for both: {columns}.", columns=", ".join(empty)) if empty else ""

    def _open(self, item: QListWidgetItem) -> None:
        self.asked.emit(int(item.data(Qt.ItemDataRole.UserRole)))
