"""The picture of a journey: places as plates, visits as bands sewn between them, losses frayed."""

from collections.abc import Mapping

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import (
    QColor,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPainterPath,
    QPaintEvent,
    QPen,
    QResizeEvent,
)
from PyQt6.QtWidgets import QSizePolicy, QWidget

from needle.core.measure.journey import WON, Journey, Stop
from needle.core.values.counting import counted
from needle.ui.language import tr
from needle.ui.measure.placewords import place_words
from needle.ui.theme import slab, tokens

__all__ = ["FlowView"]

_MARGIN = 14.0
_PLATE_WIDTH = 140.0
_LEAST_HEIGHT = 40.0
# Below a plate there is room for the words of its loss, if it has one.
_GAP, _GAP_WITH_LOSS = 8.0, 25.0
# Bands take this part of the room, so that they can be told apart where they cross.
_FULL = 0.75
_THINNEST = 1.5
_STITCHED = 9.0
_HEIGHT = 350


class FlowView(QWidget):
    """A journey from left to right.

    Signals:
        picked: The person chose a place (its key).
    """

    picked = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName(tr("How visitors went"))
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.MinimumExpanding)
        self.setMouseTracking(True)
        self._journey = Journey()
        self._through = ""
        self._plates: dict[str, QRectF] = {}
        self._current = ""

    def sizeHint(self) -> QSize:
        return QSize(900, _HEIGHT)

    def minimumSizeHint(self) -> QSize:
        return QSize(480, max([_HEIGHT, *(
            round(2 * _MARGIN + sum(_LEAST_HEIGHT + _gap(stop) for stop in column) * 1.2)
            for column in self._columns().values())]))

    def show_journey(self, journey: Journey, through: str) -> None:
        """Show a journey; the place that all its visits went through is marked."""
        self._journey, self._through = journey, through
        if self._current not in journey.stops:
            self._current = ""
        self.setAccessibleDescription("; ".join(
            tr("{place}: {came:,} came, {lost:,} left", place=place_words(stop.place),
               came=stop.came, lost=stop.lost) for stop in self._in_order()))
        self.updateGeometry()
        self._lay_out()
        self.update()

    def _in_order(self) -> list[Stop]:
        return sorted(self._journey.stops.values(), key=lambda stop: (stop.column, -stop.came))

    def plate(self, key: str) -> QRectF:
        """Return where the plate of a place stands."""
        return self._plates[key]

    # Where everything stands

    def _columns(self) -> dict[int, list[Stop]]:
        columns: dict[int, list[Stop]] = {}
        for stop in self._in_order():
            columns.setdefault(stop.column, []).append(stop)
        return columns

    def _lay_out(self) -> None:
        self._plates = {}
        columns = self._columns()
        if not columns:
            return
        room = self.height() - 2 * _MARGIN
        self._scale = _FULL * min(self._scale_of(column, room) for column in columns.values())
        across = (self.width() - 2 * _MARGIN - _PLATE_WIDTH) / max(1, len(columns) - 1)
        for number, column in columns.items():
            heights = [self._height_of(stop) for stop in column]
            free = room - sum(heights) - sum(map(_gap, column))
            top = _MARGIN + max(0.0, free / 2)
            for stop, height in zip(column, heights, strict=True):
                self._plates[stop.place.key] = QRectF(
                    _MARGIN + number * across, top, _PLATE_WIDTH, height)
                top += height + _gap(stop)

    @staticmethod
    def _scale_of(column: list[Stop], room: float) -> float:
        """Return how many pixels high a visit may be, so that a column has room."""
        free = room - sum(map(_gap, column))
        # Those that are as low as can be take no part in the scale; which those are depends on it.
        tall = sorted(stop.came for stop in column)
        low = 0
        while tall:
            scale = (free - low * _LEAST_HEIGHT) / sum(tall)
            if tall[0] * scale >= _LEAST_HEIGHT:
                return scale
            tall.pop(0)
            low += 1
        return _LEAST_HEIGHT / max(stop.came for stop in column)

    def _height_of(self, stop: Stop) -> float:
        return max(_LEAST_HEIGHT, stop.came * self._scale)

    # Painting

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        self._paint_bands(painter)
        for stop in self._in_order():
            self._paint_loss(painter, stop)
            self._paint_plate(painter, stop)

    def _paint_bands(self, painter: QPainter) -> None:
        out: dict[str, float] = {}
        into: dict[str, float] = {}
        moves = sorted(self._journey.moves, key=lambda move: (
            self._plates[move.start].top(), self._plates[move.end].top()))
        sums = self._sums()
        for move in moves:
            start, end = self._plates[move.start], self._plates[move.end]
            if end.left() <= start.right():
                continue  # Back, or beside: that stands in the table.
            thick = max(_THINNEST, move.visits * self._scale)
            begins = start.center().y() - sums[0][move.start] / 2 + out.get(move.start, 0.0)
            ends = end.center().y() - sums[1][move.end] / 2 + into.get(move.end, 0.0)
            out[move.start] = out.get(move.start, 0.0) + thick
            into[move.end] = into.get(move.end, 0.0) + thick
            self._paint_band(painter, QPointF(start.right(), begins + thick / 2),
                             QPointF(end.left(), ends + thick / 2), thick)

    def _sums(self) -> tuple[Mapping[str, float], Mapping[str, float]]:
        """Return how thick all that leaves and all that reaches each place is together."""
        out: dict[str, float] = {}
        into: dict[str, float] = {}
        for move in self._journey.moves:
            if self._plates[move.end].left() > self._plates[move.start].right():
                thick = max(_THINNEST, move.visits * self._scale)
                out[move.start] = out.get(move.start, 0.0) + thick
                into[move.end] = into.get(move.end, 0.0) + thick
        return out, into

    def _paint_band(self, painter: QPainter, start: QPointF, end: QPointF, thick: float) -> None:
        look = tokens()
        path = QPainterPath(start)
        middle = (start.x() + end.x()) / 2
        path.cubicTo(QPointF(middle, start.y()), QPointF(middle, end.y()), end)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for colour, width in ((look.paper, thick + 1.6), (look.bottle, thick)):
            painter.setPen(QPen(QColor(colour), width, Qt.PenStyle.SolidLine,
                                Qt.PenCapStyle.FlatCap))
            painter.drawPath(path)
        if thick >= _STITCHED:
            seam = QPen(QColor(look.on_bottle), 1, Qt.PenStyle.CustomDashLine)
            seam.setDashPattern([6, 4])
            painter.setPen(seam)
            painter.drawPath(path)

    def _paint_loss(self, painter: QPainter, stop: Stop) -> None:
        if not _frays(stop):
            return
        look, plate = tokens(), self._plates[stop.place.key]
        painter.setPen(QPen(QColor(look.thread), 1.2))
        root = QPointF(plate.left() + 9, plate.bottom())
        for lean, length in ((-6, 11), (-2, 15), (3, 13), (8, 16), (12, 10)):
            painter.drawLine(root, QPointF(root.x() + lean, root.y() + length))
        font = self.font()
        font.setPixelSize(12)
        painter.setFont(font)
        words = tr("{lost:,} left", lost=stop.lost)
        around = QRectF(plate.left() + 24, plate.bottom() + 3,
                        painter.fontMetrics().horizontalAdvance(words) + 5, 16)
        painter.fillRect(around, QColor(look.paper))  # A band may pass below.
        painter.setPen(QColor(look.fault))
        painter.drawText(QPointF(plate.left() + 26, plate.bottom() + 15), words)

    def _paint_plate(self, painter: QPainter, stop: Stop) -> None:
        look, plate = tokens(), self._plates[stop.place.key]
        marked = stop.place.key == self._through
        painter.setBrush(QColor(look.paper))
        painter.setPen(QPen(QColor(look.amber if marked else look.edge), 2 if marked else 1))
        painter.drawRoundedRect(plate, 3, 3)
        if self.hasFocus() and stop.place.key == self._current:
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(QColor(look.bottle), 2))
            painter.drawRoundedRect(plate.adjusted(-3, -3, 3, 3), 4, 4)
        inside = plate.adjusted(9, 4, -6, -4)
        painter.setFont(slab(14))
        painter.setPen(QColor(look.ink))
        words = stop.place.name if stop.place.kind in ("popup", "form") else ""
        if stop.place.kind == "step":  # Which form's, the plates before it say.
            words = tr("Step {number}", number=stop.place.number)
        painter.drawText(QPointF(inside.left(), inside.top() + 13),
                         painter.fontMetrics().elidedText(
                             words or place_words(stop.place), Qt.TextElideMode.ElideRight,
                             int(inside.width())))
        font = self.font()
        font.setPixelSize(12)
        painter.setFont(font)
        painter.setPen(QColor(look.ink_second))
        painter.drawText(QPointF(inside.left(), inside.top() + 30), self._figure(stop))

    def _figure(self, stop: Stop) -> str:
        if stop.place.key == WON and self._journey.visits:
            return f"{stop.came:,} · {stop.came / self._journey.visits:.1%}".replace("%", " %")
        return {"popup": tr("{came:,} opened it", came=stop.came),
                "form": tr("{came:,} began it", came=stop.came),
                "step": tr("{came:,} got there", came=stop.came)}.get(
                    stop.place.kind, counted(stop.came, tr("visit")))

    # Choosing

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._lay_out()

    def _at(self, place: QPointF) -> str:
        return next((key for key, plate in self._plates.items() if plate.contains(place)), "")

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        self.setCursor(Qt.CursorShape.PointingHandCursor if self._at(event.position())
                       else Qt.CursorShape.ArrowCursor)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        if key := self._at(event.position()):
            self._current = key
            self.picked.emit(key)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Arrows go from place to place, Enter chooses one."""
        assert event is not None
        order = [stop.place.key for stop in self._in_order()]
        steps = {Qt.Key.Key_Right: 1, Qt.Key.Key_Down: 1, Qt.Key.Key_Left: -1, Qt.Key.Key_Up: -1}
        if event.key() in steps and order:
            step = steps[Qt.Key(event.key())]
            at = order.index(self._current) if self._current in order else min(0, -step)
            self._current = order[(at + step) % len(order)]
            self.setAccessibleDescription(self._said(self._journey.stops[self._current]))
            self.update()
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space) \
                and self._current:
            self.picked.emit(self._current)
        else:
            super().keyPressEvent(event)

    @staticmethod
    def _said(stop: Stop) -> str:
        return tr("{place}: {came:,} came, {lost:,} left", place=place_words(stop.place),
                  came=stop.came, lost=stop.lost)


def _frays(stop: Stop) -> bool:
    return stop.lost > 0 and stop.place.kind not in ("source", "won")


def _gap(stop: Stop) -> float:
    """Return how much room a plate needs below it."""
    return _GAP_WITH_LOSS if _frays(stop) else _GAP
