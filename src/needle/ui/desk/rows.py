"""The list of sites: a picture, how far each is, and what came in seven days."""

from collections.abc import Mapping
from datetime import datetime

from PyQt6.QtCore import QModelIndex, QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QFont, QPainter, QPaintEvent, QPen, QPixmap, QPolygonF
from PyQt6.QtWidgets import QStyle, QStyledItemDelegate, QStyleOptionViewItem, QWidget

from needle.core.progress import STAGES
from needle.publish.standing import Standing
from needle.store.sites import KnownSite
from needle.ui.language import tr
from needle.ui.theme import mono, slab, tokens

__all__ = ["PICTURE", "SITE", "STANDING", "SiteRow", "row_words"]

SITE, STANDING = Qt.ItemDataRole.UserRole, Qt.ItemDataRole.UserRole + 1
PICTURE = QSize(92, 58)
_HEIGHT = 74
# Where columns begin, from the right: seam, days, visits, leads, rate, worked on.
_FROM_RIGHT = (586, 412, 300, 218, 146, 84)
_RING = 5.0


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

    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(26)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter, right = QPainter(self), self.width()
        painter.setFont(_small(painter))
        painter.setPen(QColor(tokens().ink_second))
        middle = Qt.AlignmentFlag.AlignVCenter
        for words, left in ((tr("Site"), PICTURE.width() + 34.0),
                            (tr("Where it stands"), right - _FROM_RIGHT[0]),
                            (tr("Seven days"), right - _FROM_RIGHT[1]),
                            (tr("Worked on"), right - _FROM_RIGHT[5])):
            painter.drawText(QRectF(left, 0, 200, self.height()), middle, words)
        for words, edge in zip((tr("Visits"), tr("Leads"), tr("Rate")), _FROM_RIGHT[3:],
                               strict=True):
            painter.drawText(QRectF(right - edge - 100, 0, 88, self.height()),
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
        return QSize(700, _HEIGHT)

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
        room = box.right() - _FROM_RIGHT[0] - left - 12
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
        look, left = tokens(), box.right() - _FROM_RIGHT[0]
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
            words, Qt.TextElideMode.ElideRight, _FROM_RIGHT[0] - _FROM_RIGHT[1] - 10))

    @staticmethod
    def _paint_days(painter: QPainter, box: QRectF, standing: Standing) -> None:
        left, width, foot, tall = box.right() - _FROM_RIGHT[1], 78.0, box.top() + 46, 24.0
        days = standing.days or (0,) * 7
        most = max(max(days), 1)
        points = [QPointF(left + place * width / 6, foot - tall * count / most)
                  for place, count in enumerate(days)]
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(QColor(tokens().ink), 1.4))
        painter.drawPolyline(QPolygonF(points))

    @staticmethod
    def _paint_numbers(painter: QPainter, box: QRectF, standing: Standing) -> None:
        look = tokens()
        rate = f"{standing.leads / standing.visits:.1%}".replace("%", " %") \
            if standing.visits else "–"
        told = (f"{standing.visits:,}" if standing.days else "–",
                f"{standing.leads:,}" if standing.days else "–", rate)
        painter.setFont(_small(painter))
        painter.setPen(QColor(look.ink))
        for words, right in zip(told, _FROM_RIGHT[3:], strict=True):
            painter.drawText(QRectF(box.right() - right - 100, box.top(), 88, box.height()),
                             Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, words)
        painter.setPen(QColor(look.ink_second))
        worked = datetime.fromtimestamp(standing.worked)
        painter.drawText(QRectF(box.right() - _FROM_RIGHT[5], box.top(), 80, box.height()),
                         Qt.AlignmentFlag.AlignVCenter, f"{worked:%d %b %H:%M}"
                         if worked.date() == datetime.now().date() else f"{worked:%d %b %y}")


def _small(painter: QPainter) -> QFont:
    font = painter.font()
    font.setFamily("IBM Plex Sans")
    font.setPixelSize(13)
    font.setBold(False)
    return font
