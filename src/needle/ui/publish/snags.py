"""The list of snags: worst first, one click to the very place."""

from PyQt6.QtCore import QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QIcon, QPainter, QPixmap
from PyQt6.QtWidgets import QHBoxLayout, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from needle.core.site.site import Site
from needle.core.snags.finding import find_snags
from needle.core.snags.snag import Snag
from needle.ui.cards import label
from needle.ui.session import Session
from needle.ui.theme import tokens

__all__ = ["SnagList"]


class SnagList(QWidget):
    """What is wrong, worst first.

    Signals:
        node_asked: Go to a part of a page (its id).
        form_asked: Go to a form (its id).
    """

    node_asked = pyqtSignal(str)
    form_asked = pyqtSignal(str)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._seen: Site | None = None
        self._snags: list[Snag] = []
        self._count = label("", "small")
        self._none = label("No snags. Everything that Needle can check is in order.", "good",
                           wrap=True)
        self.list = QListWidget()
        self.list.setAccessibleName("Snags")
        self.list.setWordWrap(True)
        self.list.setIconSize(QSize(20, 20))
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.list.itemActivated.connect(self._go)
        self.list.itemClicked.connect(self._go)
        head = QHBoxLayout()
        head.addWidget(label("Snags", "title"))
        head.addStretch()
        head.addWidget(self._count)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        column.addLayout(head)
        column.addWidget(self._none)
        column.addWidget(self.list, 1)
        column.addStretch()

    def refresh(self) -> None:
        """Look again, if the site has changed."""
        if self._session.site is self._seen:
            return
        self._seen = self._session.site
        self._snags = find_snags(self._seen)
        self._count.setText(f"{len(self._snags)} open" if self._snags else "")
        self._none.setVisible(not self._snags)
        self.list.setVisible(bool(self._snags))
        self.list.clear()
        for number, snag in enumerate(self._snags, 1):
            item = QListWidgetItem(_mark(number, snag.weight), f"{snag.words}\n{snag.where}")
            item.setToolTip("Go there")
            self.list.addItem(item)

    def _go(self, item: QListWidgetItem) -> None:
        snag = self._snags[self.list.row(item)]
        if snag.kind == "page":
            self._session.show_page(snag.target)
        elif snag.kind == "form":
            self.form_asked.emit(snag.target)
        else:
            self.node_asked.emit(snag.target)


def _mark(number: int, weight: int) -> QIcon:
    """Return a small square with the number, coloured by how bad it is."""
    look = tokens()
    colour = {1: look.thread, 2: look.amber, 3: look.ink_second}[weight]
    pixmap = QPixmap(40, 40)
    pixmap.fill(Qt.GlobalColor.transparent)
    painter = QPainter(pixmap)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setBrush(QColor(colour))
    painter.setPen(Qt.PenStyle.NoPen)
    painter.drawRoundedRect(pixmap.rect(), 6, 6)
    painter.setPen(QColor(look.paper))
    font = painter.font()
    font.setPixelSize(24)
    font.setBold(True)
    painter.setFont(font)
    painter.drawText(pixmap.rect(), Qt.AlignmentFlag.AlignCenter, str(number))
    painter.end()
    pixmap.setDevicePixelRatio(2)
    return QIcon(pixmap)
