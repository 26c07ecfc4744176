"""The list of snags: worst first, one click to the very place, and how far one is with them."""

from datetime import datetime

from PyQt6.QtCore import QModelIndex, QPoint, Qt, pyqtSignal
from PyQt6.QtGui import QHideEvent, QKeyEvent
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QCheckBox,
    QHBoxLayout,
    QInputDialog,
    QListView,
    QMenu,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from needle.core.site.site import Site
from needle.core.snags.finding import RULES
from needle.core.snags.passing import let_pass, sorted_out, take_back
from needle.core.snags.progress import Progress, Row, progressed, rows
from needle.core.snags.snag import Snag
from needle.core.values.ids import Id
from needle.core.values.passing import Passed
from needle.ui.cards import button, label
from needle.ui.language import tr
from needle.ui.publish.checking import Checker
from needle.ui.publish.linkasking import LinkLine
from needle.ui.publish.snagrows import RowDelegate, SnagModel
from needle.ui.publish.stitches import StitchRing
from needle.ui.session import Session

__all__ = ["SnagList"]

_ALL_WELL = tr("No snags. Everything that Needle can check is in order.")


class _Rows(QListView):
    """The rows; Right unfolds a group, Left folds it.

    Signals:
        fold_asked: A key asks for a row's group to be unfolded, or folded.
    """

    fold_asked = pyqtSignal(int, bool)

    def __init__(self, model: SnagModel) -> None:
        super().__init__()
        self.setModel(model)
        self.setAccessibleName(tr("Snags"))
        self.setItemDelegate(RowDelegate(self))
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setVerticalScrollMode(QAbstractItemView.ScrollMode.ScrollPerPixel)
        self.setResizeMode(QListView.ResizeMode.Adjust)
        self.setContextMenuPolicy(Qt.ContextMenuPolicy.CustomContextMenu)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        row = self.currentIndex().row()
        if event is not None and row >= 0 and event.key() in (Qt.Key.Key_Right, Qt.Key.Key_Left):
            self.fold_asked.emit(row, event.key() == Qt.Key.Key_Right)
            return
        super().keyPressEvent(event)


class SnagList(QWidget):
    """What is wrong, worst first.

    Signals:
        asked: Go to where a `Snag` is put right.
    """

    asked = pyqtSignal(object)

    def __init__(self, session: Session, checker: Checker) -> None:
        super().__init__()
        self._session = session
        self._checker = checker
        self._seen: Site | None = None
        self._looked_at: Site | None = None
        self._around: tuple[str, frozenset[Id]] = ("", frozenset())
        self._steps = 0
        self._found: list[Snag] | None = None
        self._passed: list[tuple[Passed, Snag]] = []
        self._unfolded: frozenset[str] = frozenset()
        self.progress = Progress()
        self.model = SnagModel(self)
        self.list = _Rows(self.model)
        self._ring = StitchRing()
        self._count = label(tr("looking…"), "small")
        self._none = label(_ALL_WELL, "good", wrap=True)
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
        self.links = LinkLine(session)
        self.links.answered.connect(checker.take_answers)
        self._lay_out()
        self._connect()

    def _lay_out(self) -> None:
        head = QHBoxLayout()
        head.addWidget(self._ring)
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
        column.addWidget(self.links)
        for shown in (self._none, self.list, self._reason, self.mend, self.pass_by, self.back,
                      self.shows_passed):
            shown.hide()

    def _connect(self) -> None:
        selection = self.list.selectionModel()
        assert selection is not None
        selection.currentChanged.connect(lambda *_: self._show_reason())
        self.list.activated.connect(self._go)
        self.list.clicked.connect(self._go)
        self.list.fold_asked.connect(self._fold)
        self.list.customContextMenuRequested.connect(self._show_menu)
        self.shows_passed.toggled.connect(lambda _: self._list_all())
        self._checker.found.connect(self._show)
        self._checker.measuring.connect(lambda _: self._show_count())

    def refresh(self, release: str = "", going: frozenset[Id] = frozenset()) -> None:
        """Look again, if the site has changed, another release is live, or other pages go along.
        """
        now = (release, going)
        if self._session.site is not self._seen or now != self._around:
            self._seen, self._around, self._checker.going = self._session.site, now, going
            self._checker.check(self._seen)
        self.links.refresh()

    def hideEvent(self, event: QHideEvent | None) -> None:
        super().hideEvent(event)
        self._checker.rest()
        self._seen = None  # What was not measured yet is asked for again.

    def _show(self, snags: list[Snag]) -> None:
        first, self._found = self._found is None, snags
        self._looked_at = self._checker.site
        still, self._passed = sorted_out(self._session.site, snags)
        before = Progress() if first else self.progress
        self.progress = progressed(before, still, [snag for _, snag in self._passed],
                                   self._checker.settled, f"{datetime.now():%H:%M}")
        self._list_all()
        if self._steps:  # It waited for a look at the site as it is now.
            by, self._steps = self._steps, 0
            self._step(by)
            if not self.isVisible():
                self._checker.rest()

    def _listed(self) -> list[Row]:
        """Return what the list shows: the open ones, or those that are let pass."""
        if self.shows_passed.isChecked():
            return [Row(snag) for _, snag in self._passed]
        return rows(self.progress, self._unfolded)

    def _list_all(self) -> None:
        chosen = self._chosen()
        if not self._passed and self.shows_passed.isChecked():
            self.shows_passed.setChecked(False)  # Which lists all again.
            return
        self.model.show(self._listed())
        self._choose(chosen)
        self.shows_passed.setText(tr("{count} let pass", count=len(self._passed)))
        self.shows_passed.setVisible(bool(self._passed))
        self._none.setText(tr("Nothing is open. What was let pass is still so.") if self._passed
                           else _ALL_WELL)
        self._none.setVisible(not self.progress.open and not self.shows_passed.isChecked())
        self.list.setVisible(bool(self.model.rows))
        self._show_count()
        self._show_reason()

    def _choose(self, snag: Snag | None) -> None:
        place = next((number for number, row in enumerate(self.model.rows)
                      if row.snag == snag and not row.done), None)
        if place is not None and place != self.list.currentIndex().row():
            self.list.setCurrentIndex(self.model.index(place))

    def _show_count(self) -> None:
        """Say how many there are, and what is still looked at: it may hold more."""
        still, mended = len(self.progress.open), len(self.progress.mended)
        parts = [tr("{count} open", count=still)] if still else []
        parts += [tr("{count} mended", count=mended)] if mended else []
        if left := self._checker.left:
            parts.append(tr("{left} still to be laid out", left=left))
        elif self._checker.failed:
            parts.append(tr("{failed} could not be laid out", failed=self._checker.failed))
        self._count.setText(" · ".join(parts))
        self._ring.setVisible(bool(mended))
        self._ring.show_share(self.progress.share, tr(
            "{mended} of {whole} mended since the site was opened", mended=mended,
            whole=mended + still))

    def _row(self) -> Row | None:
        place = self.list.currentIndex().row()
        return self.model.rows[place] if 0 <= place < len(self.model.rows) else None

    def _chosen(self) -> Snag | None:
        row = self._row()
        return row.snag if row and not row.done else None

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

    def _show_menu(self, at: QPoint) -> None:
        """What can be done with the row under the pointer, which is not gone to."""
        index = self.list.indexAt(at)
        if not index.isValid():
            return
        self.list.setCurrentIndex(index)
        if self._chosen() is None:
            return
        menu = QMenu(self)
        menu.addAction(tr("Go there"), lambda: self.asked.emit(self.model.rows[index.row()].snag))
        if not self.mend.isHidden():
            menu.addAction(tr("Mend it"), self.mend_current)
        if self.back.isHidden():
            menu.addActions(self._ways.actions())
        else:
            menu.addAction(tr("Take back"), self.take_back)
        viewport = self.list.viewport()
        assert viewport is not None
        menu.exec(viewport.mapToGlobal(at))

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
                              lambda site: let_pass(site, snag, reason, on_page)):
            self._show(self._found or [])

    def take_back(self) -> None:
        """Hear the chosen snag again, as one step of undo."""
        snag = self._chosen()
        word = self._word(snag) if snag else None
        if word is not None and self._session.edit(
                tr("hear a snag again"), lambda site: take_back(site, word)):
            self._show(self._found or [])

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

    def _fold(self, place: int, unfold: bool) -> None:
        row = self.model.rows[place]
        rule = {row.snag.rule}
        if (unfold and not row.more) or (not unfold and row.snag.rule not in self._unfolded):
            return
        self._unfolded = self._unfolded | rule if unfold else self._unfolded - rule
        snag = row.snag if unfold else next(
            one.snag for one in self.model.rows if one.snag.rule == row.snag.rule)
        self.model.show(self._listed())
        self._choose(snag)
        self._show_reason()

    def _go(self, index: QModelIndex) -> None:
        row = self.model.rows[index.row()]
        if row.more:
            self._fold(index.row(), True)
        else:
            self.asked.emit(row.snag)

    def step(self, by: int) -> None:
        """Go to the next open snag, or the one before; after the last comes the first.

        In another stage nothing looks for snags, so the site is looked at first if it changed.
        """
        if self._looked_at is self._session.site:
            self._step(by)
        else:
            self._steps = by
            self._checker.check(self._session.site)

    def _step(self, by: int) -> None:
        still = self.progress.open
        if not still:
            self._session.said.emit(tr("No snag is open."), False)
            return
        if self.shows_passed.isChecked():
            self.shows_passed.setChecked(False)
        chosen = self._chosen()
        place = still.index(chosen) if chosen in still else -1 if by > 0 else 0
        snag = still[(place + by) % len(still)]
        if not any(row.snag == snag and not row.done for row in self.model.rows):
            self._unfolded |= {snag.rule}
            self.model.show(self._listed())
        self._choose(snag)
        self._session.said.emit(tr("{number} of {whole}: {words}", number=still.index(snag) + 1,
                                   whole=len(still), words=snag.words), False)
        self.asked.emit(snag)

    def nothing_open(self) -> str:
        """Say why there is no next snag; empty if there is one."""
        known = self._looked_at is self._session.site
        return tr("No snag is open.") if known and not self.progress.open else ""
