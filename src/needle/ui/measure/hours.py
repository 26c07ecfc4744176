"""The hours of the week as a grid, each the darker the more people come."""

import numpy as np
from PyQt6.QtCore import QEvent, QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QHelpEvent, QPainter, QPaintEvent
from PyQt6.QtWidgets import QWidget

from needle.core.measure.hours import WeekHours
from needle.ui.language import tr
from needle.ui.theme import tokens
from needle.ui.words import plain_tip

__all__ = ["DAYS", "HourGrid", "hour_words"]

DAYS = (tr("Monday"), tr("Tuesday"), tr("Wednesday"), tr("Thursday"), tr("Friday"),
        tr("Saturday"), tr("Sunday"))
_LEFT, _FOOT, _ROW = 84, 18, 20
_HOURS = 24


class HourGrid(QWidget):
    """Seven rows of twenty-four cells. A ring in a cell grows with the share that converts."""

    def __init__(self) -> None:
        super().__init__()
        self.setMinimumHeight(7 * _ROW + _FOOT)
        self._hours: WeekHours | None = None
        self.setAccessibleName(tr("By hour of the week"))

    def sizeHint(self) -> QSize:
        return QSize(700, 7 * _ROW + _FOOT)

    def show_hours(self, hours: WeekHours) -> None:
        """Show a week."""
        self._hours = hours
        self.setAccessibleDescription(hour_words(hours))
        self.update()

    def _cell(self, day: int, hour: int) -> QRectF:
        width = (self.width() - _LEFT) / _HOURS
        return QRectF(_LEFT + hour * width + 1, day * _ROW + 1, width - 2, _ROW - 2)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        if self._hours is None:
            return
        look, painter = tokens(), QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        most = max(1, int(self._hours.came.max()))
        with np.errstate(divide="ignore", invalid="ignore"):
            rates = np.where(self._hours.came > 0, self._hours.won / self._hours.came, 0.0)
        top = float(rates.max()) or 1.0
        for day in range(7):
            painter.setPen(QColor(look.ink))
            painter.drawText(QRectF(0, day * _ROW, _LEFT - 8, _ROW),
                             Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight,
                             DAYS[day])
            for hour in range(_HOURS):
                cell, came = self._cell(day, hour), int(self._hours.came[day, hour])
                shade = QColor(look.bottle)
                shade.setAlpha(12 + round(200 * came / most))
                painter.fillRect(cell, shade)
                if self._hours.won[day, hour]:
                    size = 3 + 9 * float(rates[day, hour]) / top
                    painter.setPen(Qt.PenStyle.NoPen)
                    painter.setBrush(QColor(look.amber))
                    painter.drawEllipse(cell.center(), size / 2, size / 2)
        painter.setPen(QColor(look.ink_second))
        for hour in range(0, _HOURS, 3):
            painter.drawText(QRectF(self._cell(0, hour).left() - 20, 7 * _ROW + 2, 48, _FOOT),
                             Qt.AlignmentFlag.AlignHCenter, f"{hour}:00")

    def event(self, event: QEvent | None) -> bool:
        if isinstance(event, QHelpEvent) and self._hours is not None:
            at = event.pos().toPointF()
            self.setToolTip(plain_tip(next(
                (self._words(day, hour) for day in range(7) for hour in range(_HOURS)
                 if self._cell(day, hour).contains(at)), "")))
        return super().event(event)

    def _words(self, day: int, hour: int) -> str:
        assert self._hours is not None
        return tr("{day} {hour}:00: {came:,} came, {won:,} converted", day=DAYS[day], hour=hour,
                  came=int(self._hours.came[day, hour]), won=int(self._hours.won[day, hour]))


def hour_words(hours: WeekHours) -> str:
    """Return what the grid shows, in words."""
    busiest, odd = hours.busiest(), hours.odd_day()
    if busiest is None:
        return tr("Nobody has come in this time.")
    day, hour = busiest
    words = tr("Most come on {day} from {hour}:00 ({count:,}).", day=DAYS[day], hour=hour,
               count=int(hours.came[day, hour]))
    if odd is None:
        return f"{words} " + tr("No weekday converts otherwise than the others by more than "
                                "chance brings.")
    return f"{words} " + (tr("On {day} more of them convert than on the other days.",
                             day=DAYS[odd[0]]) if odd[1] else
                          tr("On {day} fewer of them convert than on the other days.",
                             day=DAYS[odd[0]]))
