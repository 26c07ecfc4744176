"""What can be put on a page, by purpose: found by typing, put in by a click, or dragged there."""

import json
import re

from PyQt6.QtCore import QEvent, QMimeData, QObject, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QDrag, QFont, QKeyEvent
from PyQt6.QtWidgets import (
    QDialog,
    QLineEdit,
    QListView,
    QListWidget,
    QListWidgetItem,
    QVBoxLayout,
    QWidget,
)

from needle.core.edit.nodes import node_rank
from needle.core.kinds.kind import PURPOSES, Kind
from needle.core.render.holders import KINDS
from needle.core.site.tree import Column
from needle.core.values.ids import new_id
from needle.ui.builder.live.view import KIND_MIME
from needle.ui.cards import button
from needle.ui.language import tr
from needle.ui.theme import icon, tokens
from needle.ui.words import Words, plain_tip

__all__ = ["INSERTED", "InsertPalette", "kinds_for"]

# A column comes with its row.
INSERTED: tuple[Kind, ...] = tuple(kind for kind in KINDS if kind.type is not Column)
_KIND = Qt.ItemDataRole.UserRole
_ENTRY = QSize(148, 28)
_HEAD_HEIGHT = 24
_ACROSS = 3
_WHOLE_HEIGHT = 644
# The dialog's own margins, the list's frame and its bar.
_EDGES = 16 + 4 + 12


def kinds_for(words: str) -> list[Kind]:
    """Return the kinds in whose label, purpose or line about them a word begins with each asked.

    Those whose label begins with the words come first; else as the purposes follow each other.
    """
    asked = words.casefold().split()

    def told(kind: Kind) -> list[str]:
        words = f"{tr(kind.label)} {tr(kind.purpose)} {tr(kind.about)}".casefold()
        return re.findall(r"\w+", words)

    fit = [kind for kind in INSERTED if all(
        any(one.startswith(word) for one in told(kind)) for word in asked)]
    return sorted(fit, key=lambda kind: (
        not (asked and tr(kind.label).casefold().startswith(asked[0])),
        PURPOSES.index(kind.purpose)))


class _Entries(QListWidget):
    """Kinds as a few columns of entries under the heads of their purposes.

    Signals:
        dragged: One is being dragged away; the list need not be seen any longer.
    """

    dragged = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName(tr("What can be put in"))
        self.setFlow(QListView.Flow.LeftToRight)
        self.setWrapping(True)
        self.setResizeMode(QListView.ResizeMode.Adjust)
        self.setMovement(QListView.Movement.Static)
        self.setDragEnabled(True)
        self.setIconSize(QSize(16, 16))
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)

    def startDrag(self, actions: Qt.DropAction) -> None:
        """Let the page, not the list, have what is dragged."""
        item = self.currentItem()
        kind = item.data(_KIND) if item is not None else None
        if kind is None:
            return
        mime = QMimeData()
        rank = node_rank(kind.new(new_id()))
        mime.setData(KIND_MIME, json.dumps({"kind": kind.key, "rank": rank}).encode())
        drag = QDrag(self)
        drag.setMimeData(mime)
        drag.setPixmap(icon(kind.mark).pixmap(24, 24))
        self.dragged.emit()
        drag.exec(Qt.DropAction.CopyAction)


class InsertPalette(QDialog):
    """A line to type in, and below it what can be put in, by purpose.

    Signals:
        chosen: A kind was taken by key or click (a `Kind`).
        ready_asked: A whole ready-made section is wanted instead.
    """

    chosen = pyqtSignal(object)
    ready_asked = pyqtSignal()

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent, Qt.WindowType.Popup)
        self.setWindowTitle(tr("Insert"))
        self.setObjectName("popup")
        self.line = QLineEdit()
        self.line.setPlaceholderText(tr("Find what to put in: video, prices, FAQ…"))
        self.line.setAccessibleName(tr("Find what to put in"))
        self.list = _Entries()
        self._about = Words()
        self._about.setProperty("role", "dim")
        self._about.setWordWrap(True)
        self._about.setMinimumHeight(34)
        self.ready = button(tr("A ready-made section…"), self._ask_ready)
        column = QVBoxLayout(self)
        column.setContentsMargins(8, 8, 8, 8)
        column.setSpacing(6)
        for widget in (self.line, self.list, self._about, self.ready):
            column.addWidget(widget, 1 if widget is self.list else 0)
        self.line.textChanged.connect(self._fill)
        self.line.installEventFilter(self)
        self.list.installEventFilter(self)
        self.list.itemClicked.connect(lambda _: self._take())
        self.list.currentItemChanged.connect(lambda *_: self._tell())
        self.list.dragged.connect(self.hide)
        self._fill("")
        self.setFixedWidth(_ACROSS * _ENTRY.width() + _EDGES)

    def _fill(self, words: str) -> None:
        """Show what fits: by purpose with nothing typed, else the best first."""
        self.list.clear()
        found = kinds_for(words)
        purpose = ""
        for kind in found:
            if not words.strip() and kind.purpose != purpose:
                purpose = kind.purpose
                self._add_head(tr(purpose))
            entry = QListWidgetItem(icon(kind.mark), tr(kind.label))
            entry.setData(_KIND, kind)
            entry.setSizeHint(_ENTRY)
            entry.setToolTip(plain_tip(tr(kind.about)))
            self.list.addItem(entry)
        self._step(None)
        if not found:
            self._about.setText(tr("Nothing to put in is called “{words}”. Try another word, or "
                                   "look among the ready-made sections.", words=words.strip()))

    def _add_head(self, words: str) -> None:
        head = QListWidgetItem(words)
        head.setFlags(Qt.ItemFlag.NoItemFlags)
        head.setSizeHint(QSize(_ACROSS * _ENTRY.width(), _HEAD_HEIGHT))
        head.setTextAlignment(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignBottom)
        head.setForeground(QColor(tokens().ink_second))
        small = QFont(self.list.font())
        small.setPixelSize(11)
        head.setFont(small)
        self.list.addItem(head)

    def _entries(self) -> list[QListWidgetItem]:
        items = (self.list.item(row) for row in range(self.list.count()))
        return [item for item in items if item is not None and item.data(_KIND) is not None]

    def _step(self, key: int | None) -> None:
        """Go on by an arrow key among what is shown, or to the first."""
        entries = self._entries()
        if not entries:
            return
        current = self.list.currentItem()
        if key is None or current is None:
            self.list.setCurrentItem(entries[0])
            return
        at = entries.index(current)
        rows = [self.list.visualItemRect(item) for item in entries]
        here = rows[at]
        match key:
            case Qt.Key.Key_Left:
                at = max(0, at - 1)
            case Qt.Key.Key_Right:
                at = min(len(entries) - 1, at + 1)
            case _:
                down = key == Qt.Key.Key_Down
                there = [n for n, box in enumerate(rows) if (
                    box.top() > here.top() if down else box.top() < here.top())]
                if there:
                    at = min(there, key=lambda n: (abs(rows[n].top() - here.top()),
                                                   abs(rows[n].left() - here.left())))
        self.list.setCurrentItem(entries[at])

    def _tell(self) -> None:
        item = self.list.currentItem()
        kind = item.data(_KIND) if item is not None else None
        if kind is not None:
            self._about.setText(tr("{about}. A click or Enter puts it in after what is chosen; "
                                   "dragged, it goes where you let go.", about=tr(kind.about)))

    def _take(self) -> None:
        item = self.list.currentItem()
        kind = item.data(_KIND) if item is not None else None
        if kind is not None:
            self.accept()
            self.chosen.emit(kind)

    def _ask_ready(self) -> None:
        self.accept()
        self.ready_asked.emit()

    def open_below(self, place: QWidget) -> None:
        """Show it below a button, whole on the screen, with the caret in its line."""
        self.line.clear()
        self._fill("")
        screen = place.screen()
        room = screen.availableGeometry() if screen is not None else place.rect()
        self.resize(self.width(), min(_WHOLE_HEIGHT, room.height() - 16))
        at = place.mapToGlobal(place.rect().bottomRight())
        self.move(max(room.left(), min(at.x() - self.width(), room.right() - self.width())),
                  max(room.top(), min(at.y() + 2, room.bottom() - self.height())))
        self.show()
        self.line.setFocus()

    # Qt

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        """Arrows go among what is shown while one types; Enter takes."""
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            key = event.key()
            sideways = watched is self.list or not self.line.text()
            if key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
                self._take()
                return True
            if key in (Qt.Key.Key_Up, Qt.Key.Key_Down) or (
                    sideways and key in (Qt.Key.Key_Left, Qt.Key.Key_Right)):
                self._step(key)
                return True
        return super().eventFilter(watched, event)
