"""The lines on the thread board: something a thread starts from, or goes to."""

from collections.abc import Callable
from typing import Literal

from PyQt6.QtCore import QEvent, QPoint, QPointF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QFocusEvent, QKeyEvent, QMouseEvent, QPainter, QPaintEvent
from PyQt6.QtWidgets import QHBoxLayout, QWidget

from needle.ui.cards import label
from needle.ui.theme import tokens
from needle.ui.words import set_tip

__all__ = ["BoardRow"]

_HIGH = 24
_OWN_KEYS = (Qt.Key.Key_Delete, Qt.Key.Key_Backspace, Qt.Key.Key_Return, Qt.Key.Key_Enter,
             Qt.Key.Key_Space, Qt.Key.Key_Escape, Qt.Key.Key_Up, Qt.Key.Key_Down,
             Qt.Key.Key_Left, Qt.Key.Key_Right)


class BoardRow(QWidget):
    """A line with a name, small notes, and a place where threads are tied.

    Signals:
        chosen: It has the focus now.
        pulled: A thread is dragged from it to a point (in its own coordinates).
        let_go: The dragged thread was dropped at a point (in its own coordinates).
        key: A key that the board answers.

    Attributes:
        name: Names it on its board: a field's id, a service field's key, and so on.
        side: "from" at the left of the threads, "to" at their right, "" for neither.
    """

    chosen = pyqtSignal()
    pulled = pyqtSignal(QPoint)
    let_go = pyqtSignal(QPoint)

    def __init__(self, name: tuple[str, ...], side: Literal["from", "to", ""], words: str,
                 note: str = "", right: str = "", role: str = "") -> None:
        """Make a line; `role` is that of its note at the right ("fault", "good", …)."""
        super().__init__()
        self.name = name
        self.side = side
        self._picked = self._chosen = False
        self._from: QPoint | None = None
        self._dragging = False
        self.answers: Callable[[BoardRow, QKeyEvent], bool] = lambda *_: False
        self.setObjectName("cardline")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setFixedHeight(_HIGH)
        self.setAccessibleName(" ".join(part for part in (words, note, right) if part))
        self.words = label(words)
        row = QHBoxLayout(self)
        row.setContentsMargins(12, 0, 12, 0)
        row.setSpacing(6)
        row.addWidget(self.words)
        if note:
            row.addWidget(label(note, "small"))
        row.addStretch()
        if right:
            row.addWidget(label(right, role or "small"))
        set_tip(self, right if role == "fault" else "")

    def port(self, board: QWidget) -> QPointF:
        """Return where threads are tied, on the board."""
        card = self.parentWidget() or self
        left = card.mapTo(board, QPoint(0, 0)).x()
        x = left + card.width() if self.side == "from" else left
        return QPointF(x, self.mapTo(board, QPoint(0, self.height() // 2)).y())

    def pick(self, picked: bool) -> None:
        """Show that a thread's end is in hand here."""
        self._picked = picked
        self.update()

    def mark(self, chosen: bool) -> None:
        """Show that the settings are this line's, also while the focus is in them."""
        self._chosen = chosen
        self.update()

    @property
    def marked(self) -> bool:
        """Whether the settings are this line's."""
        return self._chosen

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        super().focusInEvent(event)
        self.update()
        self.chosen.emit()

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        super().focusOutEvent(event)
        self.update()

    def event(self, event: QEvent | None) -> bool:
        """Keep the board's keys from the window's shortcuts."""
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.ShortcutOverride and (
                event.key() in _OWN_KEYS):
            event.accept()
            return True
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and not self.answers(self, event):
            super().keyPressEvent(event)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event and event.button() == Qt.MouseButton.LeftButton:
            self._from = event.position().toPoint()
            self.setFocus(Qt.FocusReason.MouseFocusReason)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None or self._from is None or not self.side:
            return
        here = event.position().toPoint()
        if self._dragging or (here - self._from).manhattanLength() > 6:
            self._dragging = True
            self.pulled.emit(here)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        dragged, self._dragging, self._from = self._dragging, False, None
        if event and dragged:
            self.let_go.emit(event.position().toPoint())

    def paintEvent(self, event: QPaintEvent | None) -> None:
        super().paintEvent(event)
        if not (self._chosen or self._picked or self.hasFocus()):
            return
        painter = QPainter(self)
        look = tokens()
        painter.fillRect(self.rect().adjusted(0, 0, 0, -1), QColor(look.thread_wash))
        painter.fillRect(0, 0, 3, self.height() - 1,
                         QColor(look.sky if self._picked else look.thread))
