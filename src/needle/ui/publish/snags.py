"""The list of snags: worst first, one click to the very place."""

from PyQt6.QtCore import QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QHideEvent, QIcon, QPainter, QPixmap
from PyQt6.QtWidgets import QHBoxLayout, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from needle.core.site.site import Site
from needle.core.snags.finding import RULES
from needle.core.snags.snag import Snag
from needle.ui.cards import button, label
from needle.ui.publish.checking import Checker
from needle.ui.session import Session
from needle.ui.theme import tokens
from needle.ui.words import plain_tip

__all__ = ["SnagList"]


class SnagList(QWidget):
    """What is wrong, worst first.

    Signals:
        node_asked: Go to a part of a page (its id).
        form_asked: Go to a form (its id).
    """

    node_asked = pyqtSignal(str)
    form_asked = pyqtSignal(str)

    def __init__(self, session: Session, checker: Checker) -> None:
        super().__init__()
        self._session = session
        self._checker = checker
        self._seen: Site | None = None
        self._snags: list[Snag] | None = None
        self._count = label("looking…", "small")
        self._none = label("No snags. Everything that Needle can check is in order.", "good",
                           wrap=True)
        self.list = QListWidget()
        self.list.setAccessibleName("Snags")
        self.list.setWordWrap(True)
        self.list.setIconSize(QSize(20, 20))
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.list.itemActivated.connect(self._go)
        self.list.itemClicked.connect(self._go)
        self.list.currentRowChanged.connect(lambda _: self._show_reason())
        self._reason = label("", "small", wrap=True)
        self.mend = button("Mend it", self.mend_current)
        self.mend.setAccessibleName("Mend the chosen snag")
        self._lay_out()
        checker.found.connect(self._show)
        checker.measuring.connect(lambda _: self._show_count())

    def _lay_out(self) -> None:
        head = QHBoxLayout()
        head.addWidget(label("Snags", "title"))
        head.addStretch()
        head.addWidget(self._count)
        foot = QHBoxLayout()
        foot.addWidget(self._reason, 1)
        foot.addWidget(self.mend)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        column.addLayout(head)
        column.addWidget(self._none)
        column.addWidget(self.list, 1)
        column.addLayout(foot)
        column.addStretch()
        for shown in (self._none, self.list, self._reason, self.mend):
            shown.hide()

    def refresh(self) -> None:
        """Look again, if the site has changed."""
        if self._session.site is not self._seen:
            self._seen = self._session.site
            self._checker.check(self._seen)

    def hideEvent(self, event: QHideEvent | None) -> None:
        super().hideEvent(event)
        self._checker.rest()
        self._seen = None  # What was not measured yet is asked for again.

    def _show(self, snags: list[Snag]) -> None:
        if snags != self._snags:
            chosen = self._chosen()
            self._snags = snags
            self.list.clear()
            for number, snag in enumerate(snags, 1):
                item = QListWidgetItem(_mark(number, snag.weight), f"{snag.words}\n{snag.where}")
                item.setToolTip(plain_tip(RULES[snag.rule].reason))
                self.list.addItem(item)
            if chosen in snags:
                self.list.setCurrentRow(snags.index(chosen))
            self._none.setVisible(not snags)
            self.list.setVisible(bool(snags))
            self._show_reason()
        self._show_count()

    def _show_count(self) -> None:
        """Say how many there are, and what is still looked at: it may hold more."""
        parts = [f"{len(self._snags)} open"] if self._snags else []
        if left := self._checker.left:
            parts.append(f"{left} still to be laid out")
        elif self._checker.failed:
            parts.append(f"{self._checker.failed} could not be laid out")
        self._count.setText(" · ".join(parts))

    def _chosen(self) -> Snag | None:
        row = self.list.currentRow()
        return self._snags[row] if self._snags and 0 <= row < len(self._snags) else None

    def _show_reason(self) -> None:
        snag = self._chosen()
        rule = RULES[snag.rule] if snag else None
        self._reason.setText(f"{rule.reason} ({rule.source})" if rule else "")
        self._reason.setVisible(rule is not None)
        self.mend.setVisible(rule is not None and rule.mend is not None)

    def mend_current(self) -> None:
        """Mend the chosen snag, as one step of undo."""
        snag = self._chosen()
        mend = RULES[snag.rule].mend if snag else None
        if snag is None or mend is None:
            return
        before = self._session.site
        if self._session.edit(f"mend: {snag.words}", lambda site: mend(site, snag)) and (
                self._session.site is before):
            self._session.said.emit("This one takes a person: go there and say it.", True)

    def _go(self, item: QListWidgetItem) -> None:
        assert self._snags is not None
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
