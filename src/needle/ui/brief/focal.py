"""A picture in which the point is chosen that stays in sight."""

from PyQt6.QtCore import QPointF, QRect, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPixmap
from PyQt6.QtWidgets import QWidget

from needle.ui.language import tr
from needle.ui.theme import tokens

__all__ = ["FocalPicture"]

_KEYS = {Qt.Key.Key_Left: (-2, 0), Qt.Key.Key_Right: (2, 0), Qt.Key.Key_Up: (0, -2),
         Qt.Key.Key_Down: (0, 2)}


class FocalPicture(QWidget):
    """Shows a picture with its focal point; a click or the arrow keys move it.

    Signals:
        moved: The point is another (across and down, in percent).
    """

    moved = pyqtSignal(int, int)

    def __init__(self, wide: int, high: int) -> None:
        super().__init__()
        self.setFixedSize(wide, high)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(tr("Focal point: arrow keys move it"))
        self._pixmap = QPixmap()
        self._point = (50, 50)

    def show_picture(self, pixmap: QPixmap, across: int, down: int) -> None:
        """Show a picture and its point, in percent."""
        self._pixmap, self._point = pixmap, (across, down)
        self.update()

    def _frame(self) -> QRect:
        size = self._pixmap.size()
        size.scale(self.size(), Qt.AspectRatioMode.KeepAspectRatio)
        return QRect((self.width() - size.width()) // 2, (self.height() - size.height()) // 2,
                     size.width(), size.height())

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.fillRect(self.rect(), QColor(tokens().pewter))
        frame = self._frame()
        painter.drawPixmap(frame, self._pixmap)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        middle = QPointF(frame.left() + frame.width() * self._point[0] / 100,
                         frame.top() + frame.height() * self._point[1] / 100)
        for colour, width in ((tokens().paper, 4), (tokens().thread, 2)):
            painter.setPen(QPen(QColor(colour), width))
            painter.drawEllipse(middle, 9, 9)
        if self.hasFocus():
            painter.setPen(QPen(QColor(tokens().bottle), 2))
            painter.drawRect(self.rect().adjusted(1, 1, -1, -1))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        frame = self._frame()
        if event is not None and frame.width() and frame.height():
            self.setFocus()
            at = event.position()
            self._move(round(100 * (at.x() - frame.left()) / frame.width()),
                       round(100 * (at.y() - frame.top()) / frame.height()))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        step = _KEYS.get(Qt.Key(event.key())) if event else None
        if step is None:
            super().keyPressEvent(event)
        else:
            self._move(self._point[0] + step[0], self._point[1] + step[1])

    def _move(self, across: int, down: int) -> None:
        self._point = (min(100, max(0, across)), min(100, max(0, down)))
        self.update()
        self.moved.emit(*self._point)
