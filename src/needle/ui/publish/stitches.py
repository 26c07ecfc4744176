"""A ring of stitches: how far one is with something, as a picture and in words."""

import math

from PyQt6.QtCore import QPointF, QSize
from PyQt6.QtGui import QColor, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from needle.ui.theme import tokens
from needle.ui.words import set_tip

__all__ = ["StitchRing"]

_STITCHES, _SIDE = 16, 26


class StitchRing(QWidget):
    """Sixteen stitches in a ring; those that are done are sewn."""

    def __init__(self) -> None:
        super().__init__()
        self._share = 0.0
        self.setFixedSize(_SIDE, _SIDE)

    def show_share(self, share: float, words: str) -> None:
        """Show a share of 0 to 1, and say it in words to those who hear the window.

        The last stitch is sewn only when everything is done, the first with the first of it.
        """
        if (share, words) == (self._share, self.accessibleName()):
            return
        self._share = share
        self.setAccessibleName(words)
        set_tip(self, words)
        self.update()

    @property
    def sewn(self) -> int:
        """How many stitches are sewn."""
        whole = math.floor(self._share * _STITCHES)
        return max(whole, 1) if self._share > 0 else 0

    def sizeHint(self) -> QSize:
        return QSize(_SIDE, _SIDE)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        look = tokens()
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        middle, far, length = _SIDE / 2, _SIDE / 2 - 3.0, 0.22
        for number in range(_STITCHES):
            turn = 2 * math.pi * number / _STITCHES - math.pi / 2
            sewn = number < self.sewn
            pen = QPen(QColor(look.good if sewn else look.edge), 2.6 if sewn else 1.4)
            painter.setPen(pen)
            ends = [QPointF(middle + far * math.cos(turn + side * length / 2),
                            middle + far * math.sin(turn + side * length / 2))
                    for side in (-1, 1)]
            painter.drawLine(ends[0], ends[1])
        painter.end()
