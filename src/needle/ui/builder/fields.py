"""Editors of the tray for code, entries and a choice of pages."""

from collections.abc import Callable, Sequence

import msgspec
from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import QAction, QFocusEvent
from PyQt6.QtWidgets import QMenu, QPlainTextEdit, QToolButton

from needle.core.kinds.kind import Field
from needle.core.render.texts import plain_lines, texts_of
from needle.core.site.site import Medium, Page
from needle.core.values.ids import Id
from needle.core.values.node import Node
from needle.ui.language import tr
from needle.ui.theme import mono

__all__ = ["CodeEdit", "EntriesEdit", "PagesEdit"]


class CodeEdit(QPlainTextEdit):
    """A few lines of code, taken when the person leaves them.

    Signals:
        kept: The code is another than that shown before.
    """

    kept = pyqtSignal(str)

    def __init__(self, name: str) -> None:
        super().__init__()
        self._before = ""
        self.setAccessibleName(name)
        self.setFont(mono(12))
        self.setFixedHeight(64)
        self.setTabChangesFocus(True)
        self.setLineWrapMode(QPlainTextEdit.LineWrapMode.NoWrap)

    def show_code(self, code: str) -> None:
        """Show other code, unless the person is changing this."""
        if code != self._before or not self.hasFocus():
            self._before = code
            if self.toPlainText() != code:
                self.setPlainText(code)

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        super().focusOutEvent(event)
        if self.toPlainText() != self._before:
            self._before = self.toPlainText()
            self.kept.emit(self._before)


class EntriesEdit(QToolButton):
    """The entries of an item: add one, order them, take one away. Their words are typed in place.

    Signals:
        chosen: The entries are others now (a tuple).
        medium_asked: The person wants to add a picture for an entry (its number, the part).
    """

    chosen = pyqtSignal(object)
    medium_asked = pyqtSignal(int, str)

    def __init__(self, name: str, new_entry: Callable[[], object], parts: Sequence[Field] = (),
                 ) -> None:
        super().__init__()
        self._name = name
        self._new_entry = new_entry
        self._parts = parts
        self._entries: tuple[object, ...] = ()
        self.setAccessibleName(name)
        self.setProperty("role", "segment")
        self.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        self.setMenu(QMenu(self))

    def show_entries(self, entries: tuple[object, ...], node: Node, media: Sequence[Medium],
                     ) -> None:
        """Show the entries, each by its first words."""
        self._entries = entries
        self.setText(tr("{count} · add, order, take away", count=len(entries)))
        menu = self.menu()
        assert menu is not None
        menu.clear()
        self._offer(menu, tr("Add one at the end"), (*entries, self._new_entry()))
        menu.addSeparator()
        for number in range(len(entries)):
            inner = menu.addMenu(self._called(node, number, media) or tr("Empty"))
            assert inner is not None
            for part in self._parts:
                self._offer_media(inner, part, number, media)
            self._offer(inner, tr("Move up"), self._swapped(number, number - 1))
            self._offer(inner, tr("Move down"), self._swapped(number, number + 1))
            self._offer(inner, tr("Take away"), entries[:number] + entries[number + 1 :])

    def _called(self, node: Node, number: int, media: Sequence[Medium]) -> str:
        """Return the first words of an entry, or else what its picture is called."""
        first = next((path for path in texts_of(node) if path.split(".")[1] == str(number)), "")
        if first:
            return " ".join(plain_lines(node, first))[:40]
        shown = {getattr(self._entries[number], part.name) for part in self._parts}
        return next((medium.name for medium in media if medium.id in shown), "").replace("&", "&&")

    def _swapped(self, one: int, other: int) -> tuple[object, ...]:
        order = list(self._entries)
        if 0 <= other < len(order):
            order[one], order[other] = order[other], order[one]
        return tuple(order)

    def _offer_media(self, menu: QMenu, part: Field, number: int, media: Sequence[Medium]) -> None:
        choice = menu.addMenu(tr(part.label))
        assert choice is not None
        entry = self._entries[number]

        def with_part(value: Id) -> tuple[object, ...]:
            fresh = msgspec.structs.replace(entry, **{part.name: value})  # type: ignore[type-var]
            return (*self._entries[:number], fresh, *self._entries[number + 1 :])

        self._offer(choice, tr("none"), with_part(""))
        for medium in media:
            if not medium.is_video:
                self._offer(choice, medium.name, with_part(medium.id))
        add = QAction(tr("Add a picture…"), choice)
        add.triggered.connect(lambda: self.medium_asked.emit(number, part.name))
        choice.addAction(add)

    def _offer(self, menu: QMenu, words: str, entries: tuple[object, ...]) -> None:
        action = QAction(words, menu)
        action.triggered.connect(lambda: self.chosen.emit(entries))
        menu.addAction(action)


class PagesEdit(QToolButton):
    """Which pages are in a menu: a list of ticks.

    Signals:
        chosen: The pages that it leads to, in their order (a tuple of ids).
    """

    chosen = pyqtSignal(object)

    def __init__(self, name: str) -> None:
        super().__init__()
        self._shown: tuple[Id, ...] = ()
        self.setAccessibleName(name)
        self.setProperty("role", "segment")
        self.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        self.setMenu(QMenu(self))

    def show_pages(self, pages: Sequence[Page], shown: tuple[Id, ...]) -> None:
        """Show which pages there are and which it leads to."""
        self._shown = shown
        menu = self.menu()
        assert menu is not None
        menu.clear()
        known = {page.id: page for page in pages}
        there = [page for page in shown if page in known]
        for page in (*(known[one] for one in there), *(p for p in pages if p.id not in shown)):
            if there and page.id not in shown and menu.actions()[-1].isChecked():
                menu.addSeparator()
            action = QAction(page.name, menu)
            action.setCheckable(True)
            action.setChecked(page.id in shown)
            action.triggered.connect(lambda on, p=page.id: self._take(p, on))
            menu.addAction(action)
        self._offer_order(menu, [known[one] for one in there])
        self.setText(tr("{count} of {count2} pages", count=len(there), count2=len(pages)))

    def _offer_order(self, menu: QMenu, there: Sequence[Page]) -> None:
        if len(there) < 2:
            return
        order = menu.addMenu(tr("Move up"))
        assert order is not None
        for at, page in list(enumerate(there))[1:]:
            moved = [one.id for one in there]
            moved[at - 1], moved[at] = moved[at], moved[at - 1]
            action = QAction(page.name, order)
            action.triggered.connect(lambda _=False, m=tuple(moved): self.chosen.emit(m))
            order.addAction(action)

    def _take(self, page: Id, shown: bool) -> None:
        rest = tuple(other for other in self._shown if other != page)
        self.chosen.emit((*rest, page) if shown else rest)
