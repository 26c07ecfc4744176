"""How alike pages are, each pair as a square: the redder, the more alike."""

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QPoint, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QImage, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QWidget

from needle.core.tables.likeness import FLOOR, percent
from needle.ui.language import tr
from needle.ui.theme import tokens
from needle.ui.words import set_tip

__all__ = ["MatrixView", "painted"]

_LEAST, _MOST = 140, 420
# With more pages than this, squares have no room for a line between them.
_PARTED = 60
_STEPS = 1001


class MatrixView(QWidget):
    """The matrix of likeness; a click or the arrow keys choose a pair.

    Signals:
        chosen: Two pages were chosen, by their places.
    """

    chosen = pyqtSignal(int, int)

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName(tr("How alike the pages are"))
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        policy = QSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Preferred)
        policy.setHeightForWidth(True)
        self.setSizePolicy(policy)
        self.shares: NDArray[np.float64] = np.zeros((0, 0))
        self._names: list[str] = []
        self._image = QImage()
        self.pair = (0, 0)

    def show_likeness(self, shares: NDArray[np.float64], names: list[str], picture: QImage,
                      ) -> None:
        """Show how alike pages are, from 0 to 1, and what they are called.

        Args:
            picture: As `painted` returns it for the shares.
        """
        self.shares, self._names, self._image = shares, names, picture
        count = len(names)
        self.setVisible(count > 0)
        self.pair = (min(self.pair[0], max(0, count - 1)), min(self.pair[1], max(0, count - 1)))
        self.updateGeometry()
        self.update()

    def choose(self, one: int, other: int) -> None:
        """Mark a pair."""
        self.pair = (one, other)
        self.setAccessibleDescription(self._words(one, other))
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(260, 260)

    def minimumSizeHint(self) -> QSize:
        return QSize(_LEAST, _LEAST)

    def heightForWidth(self, width: int) -> int:
        return min(width, _MOST)

    def hasHeightForWidth(self) -> bool:
        return True

    def _side(self) -> float:
        return float(min(self.width(), self.height()))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        count = len(self._names)
        if not count:
            return
        painter, side = QPainter(self), self._side()
        painter.drawImage(QRectF(0, 0, side, side), self._image)
        step = side / count
        if count <= _PARTED:
            painter.setPen(QPen(QColor(tokens().paper), 1))
            for place in range(count + 1):
                at = round(place * step)
                painter.drawLine(at, 0, at, round(side))
                painter.drawLine(0, at, round(side), at)
        painter.setPen(QPen(QColor(tokens().ink), 2))
        one, other = self.pair
        for row, column in ((one, other), (other, one)):
            painter.drawRect(QRectF(column * step, row * step, max(step, 4), max(step, 4)))

    def _at(self, point: QPoint) -> tuple[int, int] | None:
        count, side = len(self._names), self._side()
        if not count or not (0 <= point.x() < side and 0 <= point.y() < side):
            return None
        return int(point.y() * count / side), int(point.x() * count / side)

    def _words(self, one: int, other: int) -> str:
        if one == other:
            return self._names[one]
        return tr("{share} %: {one} and {other}", share=percent(self.shares[one, other]),
                  one=self._names[one], other=self._names[other])

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        at = self._at(event.position().toPoint())
        if at is not None:
            set_tip(self, self._words(*at))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        at = self._at(event.position().toPoint())
        if at is not None:
            self.choose(*at)
            self.chosen.emit(*at)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        steps = {Qt.Key.Key_Up: (-1, 0), Qt.Key.Key_Down: (1, 0), Qt.Key.Key_Left: (0, -1),
                 Qt.Key.Key_Right: (0, 1)}
        step, count = steps.get(Qt.Key(event.key())), len(self._names)
        if step is None or not count:
            super().keyPressEvent(event)
            return
        one, other = ((at + by) % count for at, by in zip(self.pair, step, strict=True))
        self.choose(one, other)
        self.chosen.emit(one, other)


def painted(shares: NDArray[np.float64]) -> QImage:
    """Return a picture of a pixel a pair: paper for 0, red from the floor on. Any thread may ask.
    """
    count = len(shares)
    if not count:
        return QImage()
    look = tokens()
    paper, red, own = (np.array(QColor(colour).getRgb()[:3], float) for colour in (
        look.paper, look.fault, look.edge))
    # What is little alike is all the same; from the floor on it is red at once.
    steps = np.linspace(0, 1, _STEPS)
    strength = np.where(steps >= FLOOR, 1.0, (steps / FLOOR) ** 2 * 0.55)
    colours = np.full((_STEPS + 1, 4), 255, np.uint8)
    colours[:_STEPS, :3] = (paper + (red - paper) * strength[:, None]).round()[:, ::-1]
    colours[_STEPS, :3] = own[::-1]
    places = (np.clip(shares, 0, 1) * (_STEPS - 1)).astype(np.int32)
    np.fill_diagonal(places, _STEPS)
    return QImage(colours[places].tobytes(), count, count, count * 4,
                  QImage.Format.Format_RGB32).copy()
