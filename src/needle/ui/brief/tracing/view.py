"""The picture on the board: zoom, dropper, ruler, letter, what was found, and the page over it."""

from dataclasses import dataclass
from enum import StrEnum

from PyQt6.QtCore import QPoint, QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import (
    QColor,
    QFont,
    QImage,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QPixmap,
    QWheelEvent,
)
from PyQt6.QtWidgets import QScrollArea, QWidget

from needle.ui.language import tr
from needle.ui.theme import tokens

__all__ = ["BoardArea", "Mark", "Measured", "Tool"]

_ZOOMS = (0.1, 0.15, 0.25, 0.33, 0.5, 0.67, 0.75, 1.0, 1.5, 2.0, 3.0, 4.0, 6.0, 8.0, 12.0)


class Tool(StrEnum):
    """What the mouse does on the picture."""

    CHOOSE = "choose"
    DROPPER = "dropper"
    RULER = "ruler"
    LETTER = "letter"
    LAY = "lay"
    LOOK = "look"


@dataclass(frozen=True, slots=True)
class Mark:
    """A frame around something that was found, in pixels of the picture.

    Attributes:
        key: What it belongs to.
        strong: A section, not a thing in one.
    """

    key: str
    rect: QRectF
    words: str
    strong: bool
    taken: bool


@dataclass(frozen=True, slots=True)
class Measured:
    """A stretch or an area that was marked with a tool, in pixels of the picture."""

    tool: Tool
    left: float
    top: float
    right: float
    bottom: float


class _Canvas(QWidget):
    """Paints the picture and takes the mouse and keys.

    Signals:
        measured: A tool was used (a `Measured`), also while it is dragged.
        picked: A mark was clicked (its key).
        shifted: The page over the picture was dragged (by so many pixels of the picture).
    """

    measured = pyqtSignal(object)
    picked = pyqtSignal(str)
    shifted = pyqtSignal(float, float)

    def __init__(self, area: "BoardArea") -> None:
        super().__init__()
        self._area = area
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(tr("Picture: I dropper, R ruler, T letter, O lay the page over "
                                  "it, plus and minus zoom"))
        self._from: QPointF | None = None

    def sizeHint(self) -> QSize:
        return self._area.shown_size()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        self._area.paint(painter)

    def _at(self, event: QMouseEvent) -> QPointF:
        return event.position() / self._area.zoom

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        self.setFocus()
        self._from = self._at(event)
        if self._area.tool is Tool.CHOOSE:
            self.picked.emit(self._area.mark_at(self._from))
        elif self._area.tool is not Tool.LAY:
            self._tell(self._from, self._from)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None or self._from is None:
            return
        now = self._at(event)
        if self._area.tool is Tool.LAY:
            self.shifted.emit(now.x() - self._from.x(), now.y() - self._from.y())
            self._from = now
        elif self._area.tool is not Tool.CHOOSE:
            straight = event.modifiers() & Qt.KeyboardModifier.ShiftModifier
            self._tell(self._from, _straightened(self._from, now) if straight or (
                self._area.tool is Tool.RULER) else now)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        self._from = None

    def _tell(self, one: QPointF, other: QPointF) -> None:
        self.measured.emit(Measured(self._area.tool, one.x(), one.y(), other.x(), other.y()))

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        if event is not None and event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self._area.zoom_by(1 if event.angleDelta().y() > 0 else -1,
                               event.position().toPoint())
            event.accept()
        else:
            super().wheelEvent(event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        tool = {Qt.Key.Key_I: Tool.DROPPER, Qt.Key.Key_R: Tool.RULER, Qt.Key.Key_T: Tool.LETTER,
                Qt.Key.Key_O: Tool.LAY, Qt.Key.Key_V: Tool.CHOOSE,
                Qt.Key.Key_L: Tool.LOOK}.get(Qt.Key(event.key()))
        step = {Qt.Key.Key_Plus: 1, Qt.Key.Key_Equal: 1, Qt.Key.Key_Minus: -1}.get(
            Qt.Key(event.key()))
        nudge = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, -1),
                 Qt.Key.Key_Down: (0, 1)}.get(Qt.Key(event.key()))
        if tool is not None:
            self._area.tool_asked.emit(tool)
        elif step is not None:
            self._area.zoom_by(step)
        elif nudge is not None and self._area.tool is Tool.LAY:
            self.shifted.emit(*nudge)
        elif nudge is not None and self._area.last is not None:
            # The arrow keys move the end of what was measured last, pixel by pixel.
            last = self._area.last
            self.measured.emit(Measured(last.tool, last.left, last.top, last.right + nudge[0],
                                        last.bottom + nudge[1]))
        else:
            super().keyPressEvent(event)


def _straightened(one: QPointF, other: QPointF) -> QPointF:
    """Return the other end moved so that the line is level or upright."""
    flat = abs(other.x() - one.x()) >= abs(other.y() - one.y())
    return QPointF(other.x(), one.y()) if flat else QPointF(one.x(), other.y())


class BoardArea(QScrollArea):
    """The scrolled and zoomed picture.

    Attributes:
        tool: What the mouse does.
        zoom: Pixels on screen for one of the picture.
        last: What was measured last, and is shown.

    Signals:
        tool_asked: A key asks for a tool.
    """

    tool_asked = pyqtSignal(object)

    def __init__(self) -> None:
        super().__init__()
        self.tool = Tool.CHOOSE
        self.zoom = 1.0
        self.last: Measured | None = None
        self._words = ""
        self._pixmap = QPixmap()
        self._marks: list[Mark] = []
        self._page = QImage()
        self._page_scale = 1.0
        self._shift = QPointF(0, 0)
        self._strength = 0.0
        self._difference = QImage()
        self.canvas = _Canvas(self)
        self.setWidget(self.canvas)
        self.setAlignment(Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignTop)

    # What is shown

    def show_picture(self, pixmap: QPixmap) -> None:
        """Show a picture as wide as fits."""
        self._pixmap, self._marks, self.last, self._words = pixmap, [], None, ""
        self._page, self._difference = QImage(), QImage()
        self.fit()

    def fit(self) -> None:
        """Zoom so that the whole width is seen."""
        viewport = self.viewport()
        if not self._pixmap.isNull() and viewport is not None:
            bar = self.verticalScrollBar()
            # A page is higher than the view nearly always: room for its bar is kept free.
            taken = bar.sizeHint().width() if bar is not None and not bar.isVisible() else 0
            room = viewport.width() - taken - 4
            self._set_zoom(min(1.0, max(0.1, room / self._pixmap.width())))

    def show_marks(self, marks: list[Mark]) -> None:
        """Show frames around what was found."""
        self._marks = marks
        self.canvas.update()

    def show_measured(self, measured: Measured | None, words: str) -> None:
        """Show what was measured, with words beside it."""
        self.last, self._words = measured, words
        self.canvas.update()

    def show_page(self, page: QImage, scale: float, shift: QPointF, strength: float) -> None:
        """Lay the page over the picture.

        Args:
            scale: Pixels of the picture for one of the page.
            shift: Where the page begins, in pixels of the picture.
            strength: 0 for not seen, 1 for solid.
        """
        self._page, self._page_scale, self._shift, self._strength = page, scale, shift, strength
        self.canvas.update()

    def show_difference(self, difference: QImage) -> None:
        """Show where picture and page depart; an empty image for the picture itself."""
        self._difference = difference
        self.canvas.update()

    def shown_size(self) -> QSize:
        """How large the canvas is."""
        return QSize(max(1, round(self._pixmap.width() * self.zoom)),
                     max(1, round(self._pixmap.height() * self.zoom)))

    # Zoom

    def zoom_by(self, steps: int, around: QPoint | None = None) -> None:
        """Zoom in or out by steps, keeping a place of the canvas where it is."""
        bigger = [zoom for zoom in _ZOOMS if zoom > self.zoom * 1.01]
        smaller = [zoom for zoom in _ZOOMS if zoom < self.zoom * 0.99]
        wanted = (bigger[0] if bigger else self.zoom) if steps > 0 else (
            smaller[-1] if smaller else self.zoom)
        old, place = self.zoom, around or QPoint(self.canvas.width() // 2, 0)
        self._set_zoom(wanted)
        for bar, at in ((self.horizontalScrollBar(), place.x()),
                        (self.verticalScrollBar(), place.y())):
            if bar is not None:
                bar.setValue(round(bar.value() + at * (wanted / old - 1)))

    def _set_zoom(self, zoom: float) -> None:
        self.zoom = zoom
        self.canvas.resize(self.shown_size())
        self.canvas.update()

    def mark_at(self, at: QPointF) -> str:
        """Return the key of the smallest mark at a place of the picture, or an empty text."""
        hit = [mark for mark in self._marks if mark.rect.contains(at)]
        best = min(hit, key=lambda mark: mark.rect.width() * mark.rect.height(), default=None)
        return best.key if best else ""

    # Painting

    def paint(self, painter: QPainter) -> None:
        """Paint everything, in pixels of the screen."""
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, self.zoom < 1)
        whole = QRectF(0, 0, self._pixmap.width() * self.zoom, self._pixmap.height() * self.zoom)
        if not self._difference.isNull():
            painter.drawImage(whole, self._difference)
        else:
            painter.drawPixmap(whole.toRect(), self._pixmap)
            if not self._page.isNull() and self._strength > 0:
                factor = self._page_scale * self.zoom
                painter.setOpacity(self._strength)
                painter.drawImage(QRectF(
                    self._shift.x() * self.zoom, self._shift.y() * self.zoom,
                    self._page.width() * factor, self._page.height() * factor), self._page)
                painter.setOpacity(1)
        for mark in self._marks:
            self._paint_mark(painter, mark)
        if self.last is not None:
            self._paint_measured(painter, self.last)

    def _on_screen(self, rect: QRectF) -> QRectF:
        return QRectF(rect.left() * self.zoom, rect.top() * self.zoom, rect.width() * self.zoom,
                      rect.height() * self.zoom)

    def _paint_mark(self, painter: QPainter, mark: Mark) -> None:
        look = tokens()
        colour = QColor(look.bottle if mark.taken else look.ink_second)
        inset = 2 if mark.strong else 0
        rect = self._on_screen(mark.rect).adjusted(inset, inset, -inset, -inset)
        pen = QPen(colour, 2 if mark.strong else 1,
                   Qt.PenStyle.DashLine if mark.taken else Qt.PenStyle.DotLine)
        painter.setPen(pen)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(rect)
        if mark.strong:
            self._paint_words(painter, QPointF(rect.right(), rect.top()), mark.words,
                              colour.name(), at_right=True)

    def _paint_measured(self, painter: QPainter, measured: Measured) -> None:
        colour = QColor(tokens().thread)
        one = QPointF(measured.left, measured.top) * self.zoom
        other = QPointF(measured.right, measured.bottom) * self.zoom
        painter.setPen(QPen(colour, 2))
        if measured.tool is Tool.RULER:
            painter.drawLine(one, other)
            for end in (one, other):
                painter.drawEllipse(end, 3, 3)
        else:
            painter.drawRect(QRectF(one, other).normalized())
        self._paint_words(painter, QPointF((one.x() + other.x()) / 2, max(one.y(), other.y()) + 8),
                          self._words, colour.name(), at_right=False)

    def _paint_words(self, painter: QPainter, at: QPointF, words: str, colour: str,
                     at_right: bool) -> None:
        if not words:
            return
        font = QFont("IBM Plex Mono")
        font.setPixelSize(12)
        painter.setFont(font)
        wide = painter.fontMetrics().horizontalAdvance(words) + 12
        left = at.x() - wide if at_right else at.x() - wide / 2
        box = QRectF(min(max(2.0, left), self.canvas.width() - wide - 2.0), at.y(), wide, 19)
        painter.fillRect(box, QColor(colour))
        painter.setPen(QColor(tokens().on_bottle))
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, words)
