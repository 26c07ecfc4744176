"""The seam: the five stages, joined by a stitched line, with what is left to do in each."""

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import (
    QAbstractButton,
    QHBoxLayout,
    QPushButton,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from needle.core.progress import STAGES, StageStatus
from needle.ui.language import tr
from needle.ui.theme import slab, tokens
from needle.ui.words import Words, set_tip

__all__ = ["Seam"]

_HEIGHT = 56
_DOT = 6


class _Stage(QAbstractButton):
    """One stage: a ring on the stitched line, its name, its status."""

    def __init__(self, name: str) -> None:
        super().__init__()
        self._name = tr(name)
        self._status = StageStatus("")
        self.setCheckable(True)
        self.setAutoExclusive(True)
        self.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Fixed)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setAccessibleName(self._name)

    def show_status(self, status: StageStatus) -> None:
        self._status = status
        self.setAccessibleDescription(status.words)
        set_tip(self, f"{self._name}: {status.words}")
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(164, _HEIGHT)

    def minimumSizeHint(self) -> QSize:
        return QSize(112, _HEIGHT)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        look = tokens()
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        line_y, dot_x = 20.0, 8.0
        painter.setFont(slab(15))
        name_width = painter.fontMetrics().horizontalAdvance(self._name)
        stitch = QPen(QColor(look.brass_dim), 2, Qt.PenStyle.CustomDashLine)
        stitch.setDashPattern([3, 2])
        painter.setPen(stitch)
        painter.drawLine(QPointF(dot_x + _DOT + 4, line_y), QPointF(dot_x + _DOT + 10, line_y))
        painter.drawLine(QPointF(dot_x + 30 + name_width, line_y), QPointF(self.width(), line_y))
        painter.setPen(QPen(QColor(look.brass if self.isChecked() else look.brass_dim), 2))
        painter.setBrush(QColor(look.brass if self.isChecked() else look.enamel))
        painter.drawEllipse(QPointF(dot_x, line_y), _DOT, _DOT)
        painter.setPen(QColor(look.brass if self.isChecked() else look.on_enamel))
        left = int(dot_x + 22)
        painter.drawText(left, int(line_y + 5), self._name)
        self._paint_status(painter, left)
        if self.hasFocus():
            painter.setPen(QPen(QColor(look.brass), 1))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(QRectF(left - 4.5, line_y - 12.5, name_width + 9, 24))

    def _paint_status(self, painter: QPainter, left: int) -> None:
        look = tokens()
        font = self.font()
        font.setPixelSize(12)
        painter.setFont(font)
        painter.setPen(QColor(look.brass if self._status.waiting else look.on_enamel_dim))
        words = painter.fontMetrics().elidedText(
            self._status.words, Qt.TextElideMode.ElideRight, self.width() - left - 4)
        painter.drawText(left, 42, words)


class Seam(QWidget):
    """The top bar.

    Signals:
        asked: A stage was chosen (its name).
        find_asked: The finder was asked for.
    """

    asked = pyqtSignal(str)
    find_asked = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(_HEIGHT)
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._name = Words()
        self._saved = Words()
        self._stages = {name: _Stage(name) for name in STAGES}
        self._find = QPushButton(tr("Find anything   Ctrl K"))
        self._find.clicked.connect(self.find_asked)
        self._lay_out()
        self.dress()

    def _lay_out(self) -> None:
        titles = QVBoxLayout()
        titles.setSpacing(0)
        titles.setContentsMargins(0, 9, 0, 8)
        titles.addWidget(self._name)
        titles.addWidget(self._saved)
        row = QHBoxLayout(self)
        row.setContentsMargins(14, 0, 14, 0)
        row.setSpacing(0)
        row.addLayout(titles, 3)
        for name, stage in self._stages.items():
            row.addWidget(stage, 2)
            stage.clicked.connect(lambda _checked=False, n=name: self.asked.emit(n))
        row.addSpacing(14)
        row.addWidget(self._find)

    def dress(self) -> None:
        """Take the colours of the theme."""
        look = tokens()
        self.setStyleSheet(
            f"Seam {{ background: {look.enamel}; }}"
            f"QPushButton {{ background: transparent; color: {look.on_enamel};"
            f" border: 1px solid {look.brass_dim}; padding: 5px 10px; }}"
            f"QPushButton:hover {{ background: {look.enamel_raised}; }}"
            f"QPushButton:focus {{ border: 1px solid {look.brass}; }}")
        self._name.setFont(slab(17))
        self._name.setStyleSheet(f"color: {look.on_enamel}; font-family: 'Zilla Slab';"
                                 "font-size: 17px; font-weight: 600")
        self._saved.setStyleSheet(f"color: {look.on_enamel_dim}; font-size: 12px")
        self.update()

    def show_stage(self, name: str) -> None:
        """Mark the stage that is shown."""
        self._stages[name].setChecked(True)

    def show_statuses(self, statuses: dict[str, StageStatus]) -> None:
        """Show what is left to do."""
        for name, status in statuses.items():
            self._stages[name].show_status(status)

    def show_project(self, name: str, saved: str) -> None:
        """Show the site's name and when it was saved."""
        self._name.setText(name)
        self._saved.setText(saved)
