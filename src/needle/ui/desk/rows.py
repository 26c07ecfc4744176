"""The list of sites: a picture, how far each is, and what came in seven days."""

from collections.abc import Mapping
from datetime import datetime
from typing import NamedTuple

from PyQt6.QtCore import QModelIndex, QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QFont, QPainter, QPaintEvent, QPen, QPixmap, QPolygonF
from PyQt6.QtWidgets import (
    QListWidget,
    QStyle,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QWidget,
)

from needle.core.progress import STAGES
from needle.publish.standing import Standing
from needle.store.sites import KnownSite
from needle.ui.language import tr
from needle.ui.theme import mono, slab, tokens

__all__ = ["PICTURE", "SITE", "STANDING", "SiteRow", "row_words"]

SITE, STANDING = Qt.ItemDataRole.UserRole, Qt.ItemDataRole.UserRole + 1
PICTURE = QSize(92, 58)
_HEIGHT = 74
_RING = 5.0


class _Columns(NamedTuple):
    """How far from the right each column stands, in px; 0 where there is no room for it.

    Attributes:
        state, days, worked: Where it begins.
        numbers: Where visits, leads and the rate end.
    """

    state: int
    days: int
    worked: int
    numbers: tuple[int, int, int]


_WIDE, _NARROW = _Columns(586, 412, 84, (230, 158, 96)), _Columns(390, 0, 0, (146, 74, 12))
_STATE_WIDTH, _NUMBER_WIDTH = 164, 88
# In a narrower list a site's name would have less room than its state has.
_WIDE_FROM = 860


def _columns(width: float) -> _Columns:
    """Return the columns of a list that is so wide; a narrow one keeps names and numbers."""
    return _WIDE if width >= _WIDE_FROM else _NARROW


def worst_words(standing: Standing) -> tuple[str, int]:
    """Return what is said of how far a site is, and its weight; 9 where nothing waits."""
    if standing.needs:
        need = standing.needs[0]
        return need.words, need.weight
    waiting = [f"{stage}: {status.words}" for stage, status in standing.statuses.items()
               if status.waiting]
    return (waiting[0], 4) if waiting else (tr("all sent"), 9)


def row_words(site: KnownSite, standing: Standing | None) -> str:
    """Return a row in words, for who cannot see it."""
    if standing is None:
        return tr("{name}, being read", name=site.name)
    if standing.fault:
        return tr("{name}: {fault}", name=site.name, fault=standing.fault)
    return tr("{name}, {address}; {state}; {visits:,} visits and {leads:,} leads in seven days",
              name=standing.name, address=standing.address or tr("test address only"),
              state=worst_words(standing)[0], visits=standing.visits, leads=standing.leads)


class SiteHeads(QWidget):
    """What each column of the list is."""

    def __init__(self, rows: QListWidget) -> None:
        super().__init__()
        self.setFixedHeight(26)
        self._rows = rows
        bar = rows.verticalScrollBar()
        assert bar is not None
        bar.rangeChanged.connect(lambda *_: self.update())

    def paintEvent(self, event: QPaintEvent | None) -> None:
        shown = self._rows.viewport()
        assert shown is not None
        # With many sites the scroll bar makes the rows narrower than these heads.
        painter, right = QPainter(self), shown.width()
        columns = _columns(right)
        painter.setFont(_small(painter))
        painter.setPen(QColor(tokens().ink_second))
        middle = Qt.AlignmentFlag.AlignVCenter
        painter.drawText(QRectF(PICTURE.width() + 34, 0, 200, self.height()), middle, tr("Site"))
        for words, edge in ((tr("Where it stands"), columns.state),
                            (tr("Seven days"), columns.days), (tr("Worked on"), columns.worked)):
            if edge:
                painter.drawText(QRectF(right - edge, 0, 200, self.height()), middle, words)
        for words, edge in zip((tr("Visits"), tr("Leads"), tr("Rate")), columns.numbers,
                               strict=True):
            painter.drawText(_number_place(right, edge, 0, self.height()),
                             middle | Qt.AlignmentFlag.AlignRight, words)


class SiteRow(QStyledItemDelegate):
    """Paints a row.

    Attributes:
        pictures: The picture of each site's home page, by its folder.
    """

    def __init__(self) -> None:
        super().__init__()
        self.pictures: Mapping[str, QPixmap] = {}

    def sizeHint(self, option: QStyleOptionViewItem, index: QModelIndex) -> QSize:
        return QSize(_NARROW.state + PICTURE.width() + 34, _HEIGHT)

    def paint(self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex,
              ) -> None:
        assert painter is not None
        look, box = tokens(), QRectF(option.rect)
        site, standing = index.data(SITE), index.data(STANDING)
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if option.state & QStyle.StateFlag.State_Selected:
            painter.fillRect(box, QColor(look.thread_wash))
        painter.setPen(QColor(look.edge))
        painter.drawLine(box.bottomLeft(), box.bottomRight())
        self._paint_picture(painter, box, site.folder)
        self._paint_name(painter, box, site, standing)
        if standing is not None and not standing.fault:
            self._paint_state(painter, box, standing)
            if _columns(box.width()).days:
                self._paint_days(painter, box, standing)
            self._paint_numbers(painter, box, standing)
        painter.restore()

    def _paint_picture(self, painter: QPainter, box: QRectF, folder: str) -> None:
        place = QRectF(box.left() + 12, box.top() + 8, PICTURE.width(), PICTURE.height())
        picture = self.pictures.get(folder)
        if picture is None or picture.isNull():
            painter.fillRect(place, QColor(tokens().pewter))
        else:
            painter.drawPixmap(place, picture, QRectF(picture.rect()))

    @staticmethod
    def _paint_name(painter: QPainter, box: QRectF, site: KnownSite,
                    standing: Standing | None) -> None:
        look, left = tokens(), box.left() + PICTURE.width() + 34
        room = box.right() - _columns(box.width()).state - left - 12
        fault = standing.fault if standing else ""
        if fault:
            room = box.right() - left - 12
        for font, colour, words, top in (
                (slab(15), look.ink, (standing.name if standing else "") or site.name
                 or site.folder, 28),
                (mono(12), look.fault if fault else look.ink_second,
                 fault or (standing.address if standing else "") or (
                     tr("test address only") if standing else tr("being read…")), 48)):
            painter.setFont(font)
            painter.setPen(QColor(colour))
            painter.drawText(QPointF(left, box.top() + top), painter.fontMetrics().elidedText(
                words.splitlines()[0], Qt.TextElideMode.ElideRight, int(room)))

    def _paint_state(self, painter: QPainter, box: QRectF, standing: Standing) -> None:
        look, left = tokens(), box.right() - _columns(box.width()).state
        y, step = box.top() + 26, 26.0
        painter.setPen(QPen(QColor(look.edge), 1.5, Qt.PenStyle.DashLine))
        painter.drawLine(QPointF(left + _RING, y), QPointF(left + 4 * step + _RING, y))
        broken = {need.stage for need in standing.needs if need.weight == 1}
        for place, stage in enumerate(STAGES):
            status = standing.statuses.get(stage)
            waits = status is not None and status.waiting
            fill = look.fault if stage in broken else look.amber if waits else look.bottle
            if stage == "Measure" and not standing.visits and stage not in broken:
                fill = look.paper
            painter.setBrush(QColor(fill))
            painter.setPen(QPen(QColor(look.edge if fill == look.paper else fill), 1.2))
            painter.drawEllipse(QPointF(left + _RING + place * step, y), _RING, _RING)
        words, weight = worst_words(standing)
        painter.setFont(_small(painter))
        painter.setPen(QColor({1: look.fault, 9: look.good}.get(weight, look.amber)))
        painter.drawText(QPointF(left, y + 24), painter.fontMetrics().elidedText(
            words, Qt.TextElideMode.ElideRight, _STATE_WIDTH))

    @staticmethod
    def _paint_days(painter: QPainter, box: QRectF, standing: Standing) -> None:
        left = box.right() - _columns(box.width()).days
        width, foot, tall = 78.0, box.top() + 46, 24.0
        days = standing.days or (0,) * 7
        most = max(max(days), 1)
        points = [QPointF(left + place * width / 6, foot - tall * count / most)
                  for place, count in enumerate(days)]
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(QColor(tokens().ink), 1.4))
        painter.drawPolyline(QPolygonF(points))

    @staticmethod
    def _paint_numbers(painter: QPainter, box: QRectF, standing: Standing) -> None:
        look, columns = tokens(), _columns(box.width())
        rate = f"{standing.leads / standing.visits:.1%}".replace("%", " %") \
            if standing.visits else "–"
        told = (f"{standing.visits:,}" if standing.days else "–",
                f"{standing.leads:,}" if standing.days else "–", rate)
        painter.setFont(_small(painter))
        painter.setPen(QColor(look.ink))
        for words, edge in zip(told, columns.numbers, strict=True):
            painter.drawText(_number_place(box.right(), edge, box.top(), box.height()),
                             Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, words)
        if not columns.worked:
            return
        painter.setPen(QColor(look.ink_second))
        worked = datetime.fromtimestamp(standing.worked)
        painter.drawText(QRectF(box.right() - columns.worked, box.top(), 80, box.height()),
                         Qt.AlignmentFlag.AlignVCenter, f"{worked:%d %b %H:%M}"
                         if worked.date() == datetime.now().date() else f"{worked:%d %b %y}")


def _number_place(right: float, edge: int, top: float, height: float) -> QRectF:
    return QRectF(right - edge - _NUMBER_WIDTH, top, _NUMBER_WIDTH, height)


def _small(painter: QPainter) -> QFont:
    font = painter.font()
    font.setFamily("IBM Plex Sans")
    font.setPixelSize(13)
    font.setBold(False)
    return font
