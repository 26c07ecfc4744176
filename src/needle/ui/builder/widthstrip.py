"""The strip above a live view: which width it shows, to be dragged to any other."""

from PyQt6.QtCore import QPointF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPolygonF
from PyQt6.QtWidgets import QWidget

from needle.core.values.widths import DESKTOP_FROM_PX, TABLET_FROM_PX
from needle.ui.language import tr
from needle.ui.theme import tokens
from needle.ui.words import set_tip

__all__ = ["NARROWEST", "WIDEST", "WidthStrip"]

NARROWEST, WIDEST = 240, 2560
_SHOWN_TO = 1600
_STEP = 10


class WidthStrip(QWidget):
    """A scale of widths with the bands of phone, tablet and desktop, and a grip.

    Signals:
        dragged: The person moved the grip (the width in CSS pixels).
    """

    dragged = pyqtSignal(int)

    def __init__(self) -> None:
        super().__init__()
        self._px = 0
        self.setFixedHeight(12)
        self.setCursor(Qt.CursorShape.SizeHorCursor)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setAccessibleName(tr("Width of this view: drag, or use the arrow keys"))
        set_tip(self, tr("Drag to any width; the page follows"))

    def show_width(self, px: int) -> None:
        """Put the grip at a width."""
        self._px = px
        self.setAccessibleDescription(f"{px} pixels")
        self.update()

    def _x(self, px: float) -> float:
        return (px - NARROWEST) / (_SHOWN_TO - NARROWEST) * (self.width() - 12) + 6

    # Qt

    def paintEvent(self, event: QPaintEvent | None) -> None:
        look, painter = tokens(), QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QColor(look.edge))
        painter.drawLine(6, 9, self.width() - 6, 9)
        for px in (TABLET_FROM_PX, DESKTOP_FROM_PX):
            mark = round(self._x(px))
            painter.setPen(QColor(look.ink_second))
            painter.drawLine(mark, 4, mark, 11)
        x = self._x(min(self._px, _SHOWN_TO))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(look.bottle if self.hasFocus() else look.ink_second))
        painter.drawPolygon(QPolygonF([QPointF(x - 5, 1), QPointF(x + 5, 1), QPointF(x, 9)]))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        self.mouseMoveEvent(event)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and event.buttons() & Qt.MouseButton.LeftButton:
            part = (event.position().x() - 6) / max(1, self.width() - 12)
            self._take(round(NARROWEST + part * (_SHOWN_TO - NARROWEST)))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        steps = {Qt.Key.Key_Right: 1, Qt.Key.Key_Left: -1}.get(Qt.Key(event.key()))
        if steps is None:
            super().keyPressEvent(event)
        else:
            fine = event.modifiers() & Qt.KeyboardModifier.ShiftModifier
            self._take(self._px + steps * (1 if fine else _STEP))

    def _take(self, px: int) -> None:
        self.dragged.emit(max(NARROWEST, min(WIDEST, px)))
