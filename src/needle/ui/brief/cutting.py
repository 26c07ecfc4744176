"""Crop, straighten and resize a picture."""

from pathlib import Path

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import (
    QColor,
    QImageReader,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QPixmap,
    QTransform,
)
from PyQt6.QtWidgets import QDialog, QHBoxLayout, QSlider, QVBoxLayout, QWidget

from needle.core.images.cutting import inner_share
from needle.core.site.site import Cut
from needle.ui.cards import button, label
from needle.ui.editors import ChoiceEdit, NumberEdit
from needle.ui.language import tr
from needle.ui.theme import tokens

__all__ = ["CutDialog"]

_STAGE = QSize(720, 480)
_RATIOS = {"": tr("Any shape"), "1/1": tr("Square"), "4/3": "4 : 3", "3/2": "3 : 2",
           "16/9": "16 : 9",
           "3/4": "3 : 4"}
_NEAR_PX = 12
_LEAST = 0.04


class _Frame(QWidget):
    """The turned picture with the frame of what stays.

    Signals:
        changed: The frame is another.
    """

    changed = pyqtSignal()

    def __init__(self, pixmap: QPixmap) -> None:
        super().__init__()
        self.setFixedSize(_STAGE)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(tr("What stays: arrow keys move the frame, with Shift they size it"))
        self._pixmap = pixmap
        self.turn = 0.0
        self.box = QRectF(0, 0, 1, 1)
        self.ratio = 0.0
        self._grip: str | None = None
        self._from = QPointF()
        self._before = QRectF()

    @property
    def pixels_wide(self) -> int:
        """How wide the picture that is shown is, in pixels."""
        return self._pixmap.width()

    def turned_size(self) -> tuple[float, float]:
        """Return width and height of the turned picture, free of empty corners."""
        quarter = round(self.turn / 90)
        wide, high = self._pixmap.width(), self._pixmap.height()
        if quarter % 2:
            wide, high = high, wide
        share = inner_share(wide, high, self.turn - 90 * quarter)
        return wide * share, high * share

    def _stage(self) -> QRectF:
        wide, high = self.turned_size()
        scale = min(self.width() / wide, self.height() / high)
        return QRectF((self.width() - wide * scale) / 2, (self.height() - high * scale) / 2,
                      wide * scale, high * scale)

    def _shown(self) -> QRectF:
        stage = self._stage()
        return QRectF(stage.left() + self.box.left() * stage.width(),
                      stage.top() + self.box.top() * stage.height(),
                      self.box.width() * stage.width(), self.box.height() * stage.height())

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.fillRect(self.rect(), QColor(tokens().pewter))
        stage = self._stage()
        painter.save()
        painter.setClipRect(stage)
        scale = stage.width() / self.turned_size()[0]
        painter.setTransform(QTransform().translate(stage.center().x(), stage.center().y())
                             .rotate(self.turn).scale(scale, scale))
        painter.drawPixmap(QPointF(-self._pixmap.width() / 2, -self._pixmap.height() / 2),
                           self._pixmap)
        painter.restore()
        shown = self._shown()
        veil = QColor(tokens().enamel)
        veil.setAlpha(150)
        for part in (QRectF(stage.left(), stage.top(), stage.width(), shown.top() - stage.top()),
                     QRectF(stage.left(), shown.bottom(), stage.width(),
                            stage.bottom() - shown.bottom()),
                     QRectF(stage.left(), shown.top(), shown.left() - stage.left(),
                            shown.height()),
                     QRectF(shown.right(), shown.top(), stage.right() - shown.right(),
                            shown.height())):
            painter.fillRect(part, veil)
        painter.setPen(QPen(QColor(tokens().thread), 2, Qt.PenStyle.DashLine))
        painter.drawRect(shown)
        for corner in (shown.topLeft(), shown.topRight(), shown.bottomLeft(),
                       shown.bottomRight()):
            painter.fillRect(QRectF(corner.x() - 4, corner.y() - 4, 8, 8),
                             QColor(tokens().thread))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        self._from, self._before, shown = event.position(), QRectF(self.box), self._shown()
        near = {key for key, distance in (
            ("l", abs(self._from.x() - shown.left())), ("r", abs(self._from.x() - shown.right())),
            ("t", abs(self._from.y() - shown.top())), ("b", abs(self._from.y() - shown.bottom())))
            if distance < _NEAR_PX}
        self._grip = "".join(sorted(near)) if near else (
            "move" if shown.contains(self._from) else None)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None or self._grip is None:
            return
        stage = self._stage()
        gone = event.position() - self._from
        self._drag(self._grip, gone.x() / stage.width(), gone.y() / stage.height())

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        self._grip = None

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        steps = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, -1),
                 Qt.Key.Key_Down: (0, 1)}
        step = steps.get(Qt.Key(event.key())) if event else None
        if event is None or step is None:
            super().keyPressEvent(event)
            return
        self._before = QRectF(self.box)
        sized = event.modifiers() & Qt.KeyboardModifier.ShiftModifier
        self._drag("br" if sized else "move", step[0] * 0.01, step[1] * 0.01)

    def _drag(self, grip: str, x: float, y: float) -> None:
        box = QRectF(self._before)
        if grip == "move":
            box.moveTo(min(1 - box.width(), max(0.0, box.left() + x)),
                       min(1 - box.height(), max(0.0, box.top() + y)))
        else:
            if "l" in grip:
                box.setLeft(min(box.right() - _LEAST, max(0.0, box.left() + x)))
            if "r" in grip:
                box.setRight(max(box.left() + _LEAST, min(1.0, box.right() + x)))
            if "t" in grip:
                box.setTop(min(box.bottom() - _LEAST, max(0.0, box.top() + y)))
            if "b" in grip:
                box.setBottom(max(box.top() + _LEAST, min(1.0, box.bottom() + y)))
            box = self._in_shape(box)
        self.box = box
        self.update()
        self.changed.emit()

    def _in_shape(self, box: QRectF) -> QRectF:
        """Return the box in the chosen proportions, no larger than it was."""
        if not self.ratio:
            return box
        wide, high = self.turned_size()
        share = self.ratio * high / wide
        if box.width() > box.height() * share:
            box.setWidth(box.height() * share)
        else:
            box.setHeight(box.width() / share)
        return box

    def set_ratio(self, ratio: float) -> None:
        """Keep these proportions from now on; 0 for any."""
        self.ratio = ratio
        self.box = self._in_shape(QRectF(self.box))
        self.update()
        self.changed.emit()

    def set_turn(self, degrees: float) -> None:
        """Show the picture turned clockwise."""
        self.turn = degrees
        self.box = self._in_shape(QRectF(self.box))
        self.update()
        self.changed.emit()


class CutDialog(QDialog):
    """Crop, straighten and resize; the file as it came stays whole."""

    def __init__(self, source: Path, cut: Cut, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("Crop and turn"))
        reader = QImageReader(str(source))
        self._whole = reader.size()
        size = QSize(self._whole)
        size.scale(1440, 960, Qt.AspectRatioMode.KeepAspectRatio)
        reader.setScaledSize(size)
        self.frame = _Frame(QPixmap.fromImage(reader.read()))
        self._slider = QSlider(Qt.Orientation.Horizontal)
        self._slider.setRange(-150, 150)
        self._slider.setAccessibleName(tr("Straighten in tenths of a degree"))
        self._slider.valueChanged.connect(lambda _: self._turned())
        self._quarters = 0
        self._angle = label("0.0°", "mono")
        self._ratio = ChoiceEdit(tr("Shape"), _RATIOS, inherit=False)
        self._ratio.chosen.connect(self._take_ratio)
        self._longest = NumberEdit(tr("Longest side"), 0, 4000, 100, "px")
        self._longest.setFixedWidth(64)
        self._longest.chosen.connect(lambda _: self._told())
        self._note = label("", "small")
        self.frame.changed.connect(self._told)
        self._lay_out()
        self._show(cut)

    def _lay_out(self) -> None:
        tools, foot = QHBoxLayout(), QHBoxLayout()
        tools.addWidget(label(tr("Straighten"), "dim"))
        tools.addWidget(self._slider, 1)
        tools.addWidget(self._angle)
        tools.addWidget(button(tr("Quarter turn"), self._quarter))
        tools.addWidget(label(tr("Shape"), "dim"))
        tools.addWidget(self._ratio)
        tools.addWidget(label(tr("Longest px"), "dim"))
        tools.addWidget(self._longest)
        foot.addWidget(self._note)
        foot.addStretch()
        foot.addWidget(button(tr("Whole again"), lambda: self._show(Cut())))
        foot.addWidget(button(tr("Leave it"), self.reject))
        foot.addWidget(button(tr("Cut everywhere it is shown"), self.accept, main=True))
        column = QVBoxLayout(self)
        column.addWidget(self.frame)
        column.addLayout(tools)
        column.addLayout(foot)

    def _show(self, cut: Cut) -> None:
        self._quarters = round(cut.turn / 90) % 4
        rest = cut.turn - 90 * round(cut.turn / 90)
        self._slider.setValue(round(rest * 10))
        self._longest.show_value(cut.longest or None)
        self.frame.ratio = 0
        self._ratio.show_value("")
        self.frame.box = QRectF(cut.left / 100, cut.top / 100, 1 - (cut.left + cut.right) / 100,
                                1 - (cut.top + cut.bottom) / 100)
        self._turned()

    def _quarter(self) -> None:
        self._quarters = (self._quarters + 1) % 4
        self.frame.box = QRectF(0, 0, 1, 1)
        self._turned()

    def _turned(self) -> None:
        self._angle.setText(f"{self._slider.value() / 10:.1f}°")
        self.frame.set_turn(90 * self._quarters + self._slider.value() / 10)

    def _take_ratio(self, ratio: object) -> None:
        wide, _, high = str(ratio).partition("/")
        self.frame.set_ratio(int(wide) / int(high) if high else 0)

    def _told(self) -> None:
        cut = self.cut()
        wide, high = self.frame.turned_size()
        scale = self._whole.width() / max(1, self.frame.pixels_wide)
        size = (wide * scale * self.frame.box.width(), high * scale * self.frame.box.height())
        if cut.longest and max(size) > cut.longest:
            part = cut.longest / max(size)
            size = (size[0] * part, size[1] * part)
        self._note.setText(f"{size[0]:.0f} × {size[1]:.0f} px")

    def cut(self) -> Cut:
        """Return what was chosen."""
        box = self.frame.box
        shown = self._longest.text().strip()
        return Cut(turn=round(self.frame.turn, 1), left=round(100 * box.left(), 2),
                   top=round(100 * box.top(), 2), right=round(100 * (1 - box.right()), 2),
                   bottom=round(100 * (1 - box.bottom()), 2),
                   longest=int(shown) if shown.isdigit() else 0)
