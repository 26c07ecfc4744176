"""The rows of the list of snags: a model, and how a row is painted."""

from PyQt6.QtCore import QAbstractListModel, QModelIndex, QObject, QRect, QSize, Qt
from PyQt6.QtGui import QColor, QFont, QFontMetrics, QPainter
from PyQt6.QtWidgets import QStyle, QStyledItemDelegate, QStyleOptionViewItem

from needle.core.snags.finding import RULES
from needle.core.snags.progress import Row
from needle.ui.language import tr
from needle.ui.theme import Tokens, tokens
from needle.ui.words import plain_tip

__all__ = ["RowDelegate", "SnagModel"]

_TILE, _LEFT, _EDGE, _GAP = 20, 12, 8, 7
_WEIGHTS = {1: tr("loses leads"), 2: tr("loses visitors"), 3: tr("could be better")}


def _second_line(row: Row) -> str:
    if row.done:
        return tr("{where} · mended {at}", where=row.snag.where, at=row.done)
    if row.more:
        return tr("{where} · and {count} more", where=row.snag.where, count=row.more)
    return row.snag.where


class SnagModel(QAbstractListModel):
    """What the list shows. A new list that differs in a few rows changes those alone."""

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self.rows: list[Row] = []

    def rowCount(self, parent: QModelIndex = QModelIndex()) -> int:
        return 0 if parent.isValid() else len(self.rows)

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        if not index.isValid():
            return None
        row = self.rows[index.row()]
        if role == Qt.ItemDataRole.DisplayRole:
            return f"{row.snag.words}\n{_second_line(row)}"
        if role == Qt.ItemDataRole.AccessibleTextRole:
            state = tr("mended") if row.done else _WEIGHTS[row.snag.weight]
            return f"{row.snag.words}, {_second_line(row)}, {state}"
        if role == Qt.ItemDataRole.ToolTipRole:
            return plain_tip(RULES[row.snag.rule].reason)
        return None

    def show(self, rows: list[Row]) -> None:
        """Show other rows: what stands alike at the beginning and the end stays as it is."""
        old = self.rows
        if rows == old:
            return
        same = 0
        while same < min(len(old), len(rows)) and old[same] == rows[same]:
            same += 1
        tail = 0
        while tail < min(len(old), len(rows)) - same and old[-1 - tail] == rows[-1 - tail]:
            tail += 1
        gone, come = len(old) - tail - same, len(rows) - tail - same
        both = min(gone, come)
        self.rows = old[:same] + rows[same:same + both] + old[same + both:]
        if both:
            self.dataChanged.emit(self.index(same), self.index(same + both - 1))
        if gone > both:
            self.beginRemoveRows(QModelIndex(), same + both, same + gone - 1)
            self.rows = rows
            self.endRemoveRows()
        elif come > both:
            self.beginInsertRows(QModelIndex(), same + both, same + come - 1)
            self.rows = rows
            self.endInsertRows()


class RowDelegate(QStyledItemDelegate):
    """Paints a row: its number on a tile coloured by how bad it is, what is wrong, and where."""

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._heights: dict[tuple[str, str, int], int] = {}

    def sizeHint(self, option: QStyleOptionViewItem, index: QModelIndex) -> QSize:
        row: Row = index.model().rows[index.row()]  # type: ignore[union-attr]
        words, where = row.snag.words, _second_line(row)
        width = self._words_width(option.rect.width())
        key = (words, where, width)
        if key not in self._heights:
            strong, small = _fonts(option.font)
            self._heights[key] = _EDGE * 2 + _tall(words, strong, width) + _tall(
                where, small, width)
        return QSize(option.rect.width(), self._heights[key])

    @staticmethod
    def _words_width(whole: int) -> int:
        return max(60, whole - _LEFT - _TILE - _GAP - 8)

    def paint(self, painter: QPainter | None, option: QStyleOptionViewItem,
              index: QModelIndex) -> None:
        assert painter is not None
        row: Row = index.model().rows[index.row()]  # type: ignore[union-attr]
        look, whole = tokens(), option.rect
        painter.save()
        if option.state & QStyle.StateFlag.State_Selected:
            painter.fillRect(whole, QColor(look.thread_wash))
        painter.setPen(QColor(look.pewter))
        painter.drawLine(whole.bottomLeft(), whole.bottomRight())
        tile = QRect(whole.left() + _LEFT, whole.top() + _EDGE, _TILE, _TILE)
        _paint_tile(painter, tile, row, look)
        strong, small = _fonts(option.font)
        width = self._words_width(whole.width())
        words = QRect(tile.right() + _GAP, whole.top() + _EDGE, width,
                      _tall(row.snag.words, strong, width))
        wrap = Qt.TextFlag.TextWordWrap
        painter.setFont(strong)
        painter.setPen(QColor(look.ink_second if row.done else look.ink))
        painter.drawText(words, wrap, row.snag.words)
        painter.setFont(small)
        painter.setPen(QColor(look.ink_second))
        below = QRect(words.left(), words.bottom() + 1, width, whole.bottom() - words.bottom())
        painter.drawText(below, wrap, _second_line(row))
        painter.restore()


def _fonts(base: QFont) -> tuple[QFont, QFont]:
    strong, small = QFont(base), QFont(base)
    strong.setPixelSize(13)
    strong.setWeight(QFont.Weight.DemiBold)
    small.setPixelSize(12)
    return strong, small


def _tall(words: str, font: QFont, width: int) -> int:
    return QFontMetrics(font).boundingRect(QRect(0, 0, width, 10_000), Qt.TextFlag.TextWordWrap,
                                           words).height()


def _paint_tile(painter: QPainter, tile: QRect, row: Row, look: Tokens) -> None:
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    font = painter.font()
    font.setPixelSize(11 if row.number > 99 else 12)
    font.setBold(True)
    painter.setFont(font)
    if row.done:
        painter.setPen(QColor(look.good))
        painter.setBrush(Qt.BrushStyle.NoBrush)
    else:
        colour = {1: look.thread, 2: look.amber, 3: look.ink_second}[row.snag.weight]
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(colour))
    painter.drawRoundedRect(tile, 3, 3)
    painter.setPen(QColor(look.good if row.done else look.paper))
    painter.drawText(tile, Qt.AlignmentFlag.AlignCenter,
                     "✓" if row.done else str(row.number or "–"))
    painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)
