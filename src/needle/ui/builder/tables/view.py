"""The screen of a table: its rows, the page of one of them, and how alike all of them are."""

from collections.abc import Callable, Sequence

import numpy as np
from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import (
    QFrame,
    QHBoxLayout,
    QMenu,
    QSplitter,
    QStackedWidget,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from needle.core.site.site import Page
from needle.core.tables.choosing import is_master
from needle.core.tables.likeness import Likeness
from needle.core.tables.mastering import departures_of, put_back
from needle.core.values.counting import counted
from needle.core.values.tables import Table
from needle.store.tablefiles import TABLES, csv_file, edited_outside
from needle.ui.builder.canvas import Canvas
from needle.ui.builder.tables.likenesspanel import LikenessPanel
from needle.ui.builder.tables.rowbar import RowBar
from needle.ui.builder.tables.tablecard import TableCard
from needle.ui.cards import button, label
from needle.ui.language import tr
from needle.ui.readbeside import ReadBeside
from needle.ui.session import Session
from needle.ui.timers import once
from needle.ui.words import Words

__all__ = ["TablesView"]

_PAGE_PX = 640


class TablesView(QWidget):
    """Tables of the site, in Build.

    Signals:
        left: The person wants to go back to the page.
    """

    left = pyqtSignal()

    def __init__(self, session: Session, canvas: Canvas, doing: Sequence[tuple[
            str, Callable[[], object]]]) -> None:
        """Make the screen.

        Args:
            doing: What can be done where there is no table, and from the menu beside its file.
        """
        super().__init__()
        self._session = session
        self.head = Words()
        self.head.setProperty("role", "title")
        self.about = label("", "small")
        self.rows = RowBar(session)
        self.departs = QToolButton()
        self.departs.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        self._own = QMenu(self.departs)
        self.departs.setMenu(self._own)
        self._own.aboutToShow.connect(self._fill_own)
        menu = QMenu(self)
        for words, run in doing:
            action = menu.addAction(words)
            assert action is not None
            action.triggered.connect(lambda _=False, r=run: r())
        self.card = TableCard(session, menu)
        self.view = canvas.add_view(_PAGE_PX)
        self.likeness = LikenessPanel()
        self.likeness.known.connect(self._on_likeness)
        self.likeness.asked.connect(self._look_at)
        self.outside = label("", "fault", wrap=True)
        self._outside_row = QWidget()
        self._outside_row.hide()
        self._stamp: tuple[str, int] | None = None
        self._reader = ReadBeside(self)
        self._reader.read.connect(self._outside_row.setVisible)
        self._stack = QStackedWidget()
        self._lay_out(doing)
        self._soon = once(self, 150)
        self._soon.timeout.connect(self._compare)
        for signal in (session.turned, session.rowed):
            signal.connect(self.refresh)
        session.turned.connect(self.card.follow_page)
        session.changed.connect(lambda _: self.refresh())
        self.card.shown.connect(self.refresh)

    def _lay_out(self, doing: Sequence[tuple[str, Callable[[], object]]]) -> None:
        bar = QWidget()
        bar.setObjectName("bar")
        bar.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        bar.setFixedHeight(36)
        row = QHBoxLayout(bar)
        row.setContentsMargins(10, 0, 10, 0)
        row.setSpacing(10)
        row.addWidget(self.head)
        row.addWidget(self.about)
        row.addStretch()
        for widget in (self.rows, self.departs, button(tr("Back to the page"), self.left.emit)):
            row.addWidget(widget)
        left = QVBoxLayout()
        left.addWidget(self.card, 1)
        again = QHBoxLayout(self._outside_row)
        again.setContentsMargins(0, 0, 0, 0)
        again.addWidget(self.outside, 1)
        for words, run in doing[-2:]:
            again.addWidget(button(words, run))
        left.addWidget(self._outside_row)
        split = QSplitter()
        split.setChildrenCollapsible(False)
        for inside, width in ((_held(left), 490), (self.view, 460), (self._likeness(), 300)):
            split.addWidget(inside)
            split.setStretchFactor(split.count() - 1, width)
        split.setSizes([490, 460, 300])
        self._stack.addWidget(split)
        self._stack.addWidget(_empty(doing))
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(bar)
        column.addWidget(self._stack, 1)

    def _likeness(self) -> QWidget:
        inside = QVBoxLayout()
        inside.addWidget(self.likeness)
        return _held(inside)

    def end(self) -> None:
        """Wait for what is under way."""
        self.likeness.end()
        self._reader.end()

    def refresh(self) -> None:
        """Show the table, the page's row, and what departs there."""
        if not self.isVisible():
            return
        session, page, row = self._session, self._session.page, self._session.row
        table = self.card.table
        self._stack.setCurrentIndex(0 if table is not None else 1)
        self.card.refresh()
        shown = session.page_of(session.site) if is_master(page) and row is not None else None
        self.head.setText(shown.title if shown is not None
                          else table.name if table else tr("Tables"))
        own = table is not None and is_master(page) and page.master.table == table.id
        self.about.setText(self._about(page, own))
        self.rows.setVisible(own and row is not None)
        count = len(departures_of(page, row.id)) if own and row is not None else 0
        self.departs.setVisible(own)
        self.departs.setEnabled(count > 0)
        self.departs.setText(tr("Departs here in {count}", count=counted(count, "place"))
                             if count else tr("Departs here nowhere"))
        self._soon.start()

    def _about(self, page: Page, own: bool) -> str:
        if not own:
            return tr("“{page}” makes no pages of it", page=page.name)
        table = self._session.site.table(page.master.table)
        return tr("one of {count} from the table “{table}”",
                  count=counted(len(self.rows.rows()), "page"), table=table.name if table else "")

    def _pages(self) -> list[Page]:
        page = self._session.page
        table = self.card.table
        if table is None or page.master.table != table.id:
            return []
        return [one for one in self._session.whole.pages if one.row.page == page.id]

    def _compare(self) -> None:
        table = self.card.table
        self.likeness.ask(self._pages(), table)
        self._show_row()
        self._look_outside(table)
        self.outside.setText(tr("Its CSV file was changed outside Needle."))

    def _look_outside(self, table: Table | None) -> None:
        """Say so if somebody else changed the table's file; look only where it is another one."""
        folder = self._session.folder
        try:
            stamp = (table.id, (folder / TABLES / csv_file(table)).stat().st_mtime_ns) \
                if table is not None else None
        except OSError:
            stamp = None
        if stamp != self._stamp:
            self._stamp = stamp
            self._reader.ask(lambda: table is not None
                             and edited_outside(folder, table) is not None)

    def _show_row(self) -> None:
        row = self._session.row
        self.likeness.show_row(next((n for n, page in enumerate(self.likeness.pages)
                                     if row is not None and page.row.row == row.id), -1))

    def _on_likeness(self, pages: Sequence[Page], likeness: Likeness | None) -> None:
        before = self.card.model.columnCount()
        self.card.model.show_likeness(
            [page.row.row for page in pages],
            likeness.most() if likeness is not None else (np.zeros(0) if pages else None))
        if self.card.model.columnCount() != before:
            self.card.fit_likeness()
            self.card.refresh()
        self._show_row()

    def _look_at(self, place: int) -> None:
        self._session.look_at_row(self.likeness.pages[place].row.row)

    def _fill_own(self) -> None:
        self._own.clear()
        page, row = self._session.page, self._session.row
        if row is None:
            return
        for node_id in dict.fromkeys(one.node for one in departures_of(page, row.id)):
            path = self._session.path(node_id)
            name = (path[-1].name or path[0].name if path else "") or tr("A part")
            action = self._own.addAction(tr("Put back: {name}", name=name.replace("&", "&&")))
            assert action is not None
            action.triggered.connect(lambda _=False, n=node_id: self._put_back(n))
        action = self._own.addAction(tr("Put all back"))
        assert action is not None
        action.triggered.connect(lambda _=False: self._put_back(""))

    def _put_back(self, node_id: str) -> None:
        page, row = self._session.page.id, self._session.row
        if row is not None:
            self._session.edit(tr("put back"),
                               lambda site: put_back(site, page, row.id, node_id))


def _held(inside: QVBoxLayout) -> QWidget:
    made = QFrame()
    made.setObjectName("card")
    inside.setContentsMargins(10, 8, 10, 8)
    made.setLayout(inside)
    return made


def _empty(doing: Sequence[tuple[str, Callable[[], object]]]) -> QWidget:
    made = QWidget()
    column = QVBoxLayout(made)
    column.addStretch()
    words = label(tr("A table holds what differs from page to page: towns, products, dates. One "
                     "page of the site then becomes one for each of its rows."), "dim", wrap=True)
    words.setAlignment(Qt.AlignmentFlag.AlignCenter)
    column.addWidget(words)
    row = QHBoxLayout()
    row.addStretch()
    for number, (title, run) in enumerate(doing[:2]):
        row.addWidget(button(title, run, main=number == 0))
    row.addStretch()
    column.addLayout(row)
    column.addStretch()
    return made
