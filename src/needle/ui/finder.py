"""Ctrl+K: a command, a page, a section, a word on a page."""

from collections.abc import Callable, Iterable
from dataclasses import dataclass

from PyQt6.QtCore import QEvent, QObject, Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QDialog, QLineEdit, QListWidget, QListWidgetItem, QVBoxLayout, QWidget
from rapidfuzz import fuzz, process

from needle.core.edit.outline import node_words
from needle.core.render.context import Context
from needle.core.render.holders import kind_of
from needle.core.render.texts import texts_of
from needle.core.values.styletable import PROPERTIES
from needle.store.media import EditPictures
from needle.ui.commands import Command
from needle.ui.language import tr
from needle.ui.session import Session

__all__ = ["Finder", "Found", "everything"]

_MOST = 40


@dataclass(frozen=True, slots=True)
class Found:
    """One thing that can be found.

    Attributes:
        words: What is matched and shown.
        note: What it is.
    """

    words: str
    note: str
    run: Callable[[], object]


def everything(session: Session, commands: Iterable[Command],
               show_setting: Callable[[str], object]) -> list[Found]:
    """Return all that can be found now: commands, pages, parts of pages, settings."""
    found = [Found(c.words, f"{c.menu}{f' · {c.keys}' if c.keys else ''}", c.run)
             for c in commands if not c.unless()]
    for page in session.site.pages:
        found.append(Found(page.name, f"page · /{page.slug}",
                           lambda p=page: session.show_page(p.id)))  # type: ignore[misc]
        for variant in page.variants:
            context = Context(session.site, page, variant, "edit", EditPictures())
            where = f"{page.name} {variant.key}" if page.tested else page.name
            for node in variant.nodes():
                words = node_words(node, context)
                if node.name or texts_of(node):
                    found.append(Found(words[:200], f"{tr(kind_of(node).label).lower()} · {where}",
                                       lambda n=node: session.go_to(n.id)))  # type: ignore[misc]
    found.extend(Found(page.name, f"page · /{page.slug}",
                       lambda p=page: session.show_page(p.id))  # type: ignore[misc]
                 for page in session.whole.pages if page.row.page)
    found.extend(Found(tr(row.label), tr("setting of the chosen item"),
                       lambda r=row: show_setting(r.name))  # type: ignore[misc]
                 for row in PROPERTIES)
    return found


class Finder(QDialog):
    """A line to type in and what fits, best first."""

    def __init__(self, parent: QWidget, things: list[Found]) -> None:
        super().__init__(parent, Qt.WindowType.Popup)
        self.setWindowTitle(tr("Find anything"))
        self.setObjectName("popup")
        self._things = things
        self._shown: list[Found] = []
        self.line = QLineEdit()
        self.line.setPlaceholderText(tr("Find a command, a page, a section, a setting, a word…"))
        self.line.setAccessibleName(tr("Find anything"))
        self.list = QListWidget()
        self.list.setAccessibleName(tr("Found"))
        column = QVBoxLayout(self)
        column.setContentsMargins(8, 8, 8, 8)
        column.addWidget(self.line)
        column.addWidget(self.list)
        self.resize(560, 380)
        self.line.textChanged.connect(self._search)
        self.line.returnPressed.connect(self._take)
        self.list.itemActivated.connect(lambda _: self._take())
        self.list.itemClicked.connect(lambda _: self._take())
        self.line.installEventFilter(self)
        self._search("")

    def _search(self, words: str) -> None:
        self._shown = self._ranked(words.strip())
        self.list.clear()
        for found in self._shown:
            self.list.addItem(QListWidgetItem(f"{found.words}      {found.note}"))
        if self._shown:
            self.list.setCurrentRow(0)
        elif words:
            self.list.addItem(tr("Nothing is called “{words}”. Try another word.", words=words))

    def _ranked(self, words: str) -> list[Found]:
        if not words:
            return self._things[:_MOST]
        asked = words.casefold()
        names = [f"{thing.words} {thing.note}".casefold() for thing in self._things]
        hits = process.extract(asked, names, scorer=fuzz.WRatio, limit=_MOST, score_cutoff=55)
        near = {index: score for _, score, index in hits}
        # What has words that begin with all that was typed goes before what is merely like it; what
        # holds the very words before that, and first of all what begins with them.
        near |= {index: 102.0 for index, name in enumerate(names) if _begins_all(asked, name)}
        near |= {index: 120.0 if name.startswith(asked) else 105.0
                 for index, name in enumerate(names)
                 if asked in self._things[index].words.casefold()}
        best = sorted(near, key=lambda index: (-near[index], len(names[index])))
        return [self._things[index] for index in best[:_MOST]]

    def _take(self) -> None:
        row = self.list.currentRow()
        if 0 <= row < len(self._shown):
            self.accept()
            self._shown[row].run()

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress and (
                event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down)):
            step = 1 if event.key() == Qt.Key.Key_Down else -1
            last = len(self._shown) - 1
            self.list.setCurrentRow(max(0, min(last, self.list.currentRow() + step)))
            return True
        return super().eventFilter(watched, event)


def _begins_all(asked: str, name: str) -> bool:
    """Whether each word that was typed begins a word of a name."""
    parts = name.split()
    return all(any(part.startswith(word) for part in parts) for word in asked.split())
