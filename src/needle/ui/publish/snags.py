"""The list of snags: worst first, one click to the very place."""

from PyQt6.QtCore import QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QHideEvent, QIcon, QPainter, QPixmap
from PyQt6.QtWidgets import (
    QCheckBox,
    QHBoxLayout,
    QInputDialog,
    QListWidget,
    QListWidgetItem,
    QMenu,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from needle.core.site.site import Site
from needle.core.snags.finding import RULES
from needle.core.snags.passing import let_pass, sorted_out, take_back
from needle.core.snags.snag import Snag
from needle.core.values.passing import Passed
from needle.ui.cards import button, label
from needle.ui.language import tr
from needle.ui.publish.checking import Checker
from needle.ui.session import Session
from needle.ui.theme import tokens
from needle.ui.words import plain_tip

__all__ = ["SnagList"]

_ALL_WELL = tr("No snags. Everything that Needle can check is in order.")


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
        self._found: list[Snag] | None = None
        self._snags: list[Snag] | None = None
        self._passed: list[tuple[Passed, Snag]] = []
        self._rows: list[Snag] = []
        self._count = label(tr("looking…"), "small")
        self._none = label(_ALL_WELL, "good", wrap=True)
        self.list = QListWidget()
        self.list.setAccessibleName(tr("Snags"))
        self.list.setWordWrap(True)
        self.list.setIconSize(QSize(20, 20))
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.list.itemActivated.connect(self._go)
        self.list.itemClicked.connect(self._go)
        self.list.currentRowChanged.connect(lambda _: self._show_reason())
        self._reason = label("", "small", wrap=True)
        self.mend = button(tr("Mend it"), self.mend_current)
        self.mend.setAccessibleName(tr("Mend the chosen snag"))
        self.pass_by = QPushButton(tr("Let pass"))
        self.pass_by.setAccessibleName(tr("Let the chosen snag pass"))
        self._ways = QMenu(self.pass_by)
        self._one = self._ways.addAction(tr("This one…"), lambda: self._ask_why(False))
        self._whole = self._ways.addAction(tr("Whatever this rule says on the page…"),
                                           lambda: self._ask_why(True))
        self.pass_by.setMenu(self._ways)
        self.back = button(tr("Take back"), self.take_back)
        self.back.setAccessibleName(tr("Hear the chosen snag again"))
        self.shows_passed = QCheckBox()
        self.shows_passed.toggled.connect(lambda _: self._list_all())
        self._lay_out()
        checker.found.connect(self._show)
        checker.measuring.connect(lambda _: self._show_count())

    def _lay_out(self) -> None:
        head = QHBoxLayout()
        head.addWidget(label(tr("Snags"), "title"))
        head.addStretch()
        head.addWidget(self.shows_passed)
        head.addWidget(self._count)
        foot = QHBoxLayout()
        foot.addWidget(self._reason, 1)
        for action in (self.mend, self.pass_by, self.back):
            foot.addWidget(action)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        column.addLayout(head)
        column.addWidget(self._none)
        column.addWidget(self.list, 1)
        column.addLayout(foot)
        column.addStretch()
        for shown in (self._none, self.list, self._reason, self.mend, self.pass_by, self.back,
                      self.shows_passed):
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
        self._found = snags
        still, passed = sorted_out(self._session.site, snags)
        if (still, passed) != (self._snags, self._passed):
            self._snags, self._passed = still, passed
            self._list_all()
        self._show_count()

    def _listed(self) -> list[Snag]:
        """Return what the list shows: the open ones, or those that are let pass."""
        if self.shows_passed.isChecked():
            return [snag for _, snag in self._passed]
        return self._snags or []

    def _list_all(self) -> None:
        chosen = self._chosen()
        self._rows = self._listed()
        self.list.clear()
        for number, snag in enumerate(self._rows, 1):
            item = QListWidgetItem(_mark(number, snag.weight), f"{snag.words}\n{snag.where}")
            item.setToolTip(plain_tip(RULES[snag.rule].reason))
            self.list.addItem(item)
        if chosen in self._rows:
            self.list.setCurrentRow(self._rows.index(chosen))
        self.shows_passed.setText(tr("{count} let pass", count=len(self._passed)))
        self.shows_passed.setVisible(bool(self._passed))
        if not self._passed and self.shows_passed.isChecked():
            self.shows_passed.setChecked(False)
        self._none.setText(tr("Nothing is open. What was let pass is still so.") if self._passed
                           else _ALL_WELL)
        self._none.setVisible(not self._rows and not self.shows_passed.isChecked())
        self.list.setVisible(bool(self._rows))
        self._show_reason()

    def _show_count(self) -> None:
        """Say how many there are, and what is still looked at: it may hold more."""
        parts = [tr("{count} open", count=len(self._snags))] if self._snags else []
        if left := self._checker.left:
            parts.append(tr("{left} still to be laid out", left=left))
        elif self._checker.failed:
            parts.append(tr("{failed} could not be laid out", failed=self._checker.failed))
        self._count.setText(" · ".join(parts))

    def _chosen(self) -> Snag | None:
        row = self.list.currentRow()
        return self._rows[row] if 0 <= row < len(self._rows) else None

    def _word(self, snag: Snag) -> Passed | None:
        return next((word for word, one in self._passed if one == snag), None)

    def _show_reason(self) -> None:
        snag = self._chosen()
        rule = RULES[snag.rule] if snag else None
        word = self._word(snag) if snag and self.shows_passed.isChecked() else None
        said = f"{rule.reason} ({rule.source})" if rule else ""
        self._reason.setText(tr("Let pass: {reason}", reason=word.reason) if word else said)
        self._reason.setVisible(rule is not None)
        self.mend.setVisible(rule is not None and rule.mend is not None and word is None)
        self.pass_by.setVisible(rule is not None and word is None)
        self.back.setVisible(word is not None)
        if snag is not None and self._whole is not None:
            self._whole.setEnabled(snag.kind != "form")

    def _ask_why(self, on_page: bool) -> None:
        snag = self._chosen()
        if snag is None:
            return
        reason, taken = QInputDialog.getText(self, tr("Let pass"), tr("Why may it stay?"))
        if taken:
            self.let_pass(snag, reason, on_page)

    def let_pass(self, snag: Snag, reason: str, on_page: bool = False) -> None:
        """Let a snag be, as one step of undo."""
        if self._session.edit(tr("let a snag pass"),
                              lambda site: let_pass(site, snag, reason, on_page)) and self._found:
            self._show(self._found)

    def take_back(self) -> None:
        """Hear the chosen snag again, as one step of undo."""
        snag = self._chosen()
        word = self._word(snag) if snag else None
        if word is not None and self._session.edit(
                tr("hear a snag again"), lambda site: take_back(site, word)) and self._found:
            self._show(self._found)

    def mend_current(self) -> None:
        """Mend the chosen snag, as one step of undo."""
        snag = self._chosen()
        mend = RULES[snag.rule].mend if snag else None
        if snag is None or mend is None:
            return
        before = self._session.site
        done = self._session.edit(tr("mend: {words}", words=snag.words),
                                  lambda site: mend(site, snag))
        if done and self._session.site is before:
            self._session.said.emit(tr("This one takes a person: go there and say it."), True)

    def _go(self, item: QListWidgetItem) -> None:
        snag = self._rows[self.list.row(item)]
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
