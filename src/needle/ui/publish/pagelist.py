"""The pages with what changed on them, and which of them go along."""

from collections.abc import Sequence
from datetime import datetime
from functools import lru_cache

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QColor
from PyQt6.QtWidgets import QTableWidgetItem

from needle.core.site.site import Page
from needle.core.values.ids import Id
from needle.ui.cards import Table
from needle.ui.language import tr
from needle.ui.outcomes import Outcomes
from needle.ui.session import Session
from needle.ui.theme import tokens
from needle.ui.timers import once

__all__ = ["PageList"]

_TICK, _CHANGED = 0, 4
# So many rows are set before keys are listened to again.
_AT_ONCE = 60


class PageList(Table):
    """One row a page; those that differ from what is live have a tick that can be taken away.

    Signals:
        ticked: Other pages are to go along.
    """

    ticked = pyqtSignal()

    def __init__(self, session: Session, outcomes: Outcomes) -> None:
        super().__init__(tr("Pages"), ("", tr("Page"), tr("Address"), tr("Live since"),
                                       tr("Changed since")), _CHANGED)
        self._session, self._outcomes = session, outcomes
        self._left_out: set[Id] = set()
        self._listed: list[tuple[str, ...]] = []
        self._keys: list[Id] = []
        self._to_show: list[tuple[int, Page, tuple[str, ...]]] = []
        self._more = once(self)
        self._more.timeout.connect(self._show_some)
        self.itemChanged.connect(self._on_item)
        self.itemSelectionChanged.connect(self._on_chosen)

    def to_send(self) -> list[Id]:
        """Return the pages that are ticked."""
        since = self._outcomes.since
        return [page.id for page in self._session.whole.pages
                if since.changes(page) != [] and page.id not in self._left_out]

    def refresh(self) -> None:
        """Show the pages as they are, and as they are live."""
        pages = self._session.whole.pages
        keys = [page.id for page in pages]
        rows = [self._cells(page) for page in pages]
        if keys != self._keys:
            self._keys, self._listed = keys, [()] * len(keys)
            self.blockSignals(True)
            self.show_rows([[""] * self.columnCount()] * len(keys), keys)
            self.blockSignals(False)
            self.fit_height()
        self._to_show = [(number, page, cells) for number, (page, cells) in enumerate(
            zip(pages, rows, strict=True)) if cells != self._listed[number]]
        self._show_some()
        here = self._here()
        if self.chosen_key() != here and here in keys:
            self.blockSignals(True)
            self.selectRow(keys.index(here))
            self.blockSignals(False)

    def _show_some(self) -> None:
        """Show the next rows that differ; the others follow once keys were listened to."""
        now, self._to_show = self._to_show[:_AT_ONCE], self._to_show[_AT_ONCE:]
        if now:
            self.blockSignals(True)
            with self.columns_held():
                for number, page, cells in now:
                    self.show_row(number, cells)
                    self._tick_and_tint(number, page)
                    self._listed[number] = cells
            self.blockSignals(False)
        if self._to_show:
            self._more.start()

    def _changes(self, page: Page) -> Sequence[str] | None:
        since = self._outcomes.since
        return since.changes(page) if since.known(page) else [tr("looking…")]

    def _cells(self, page: Page) -> tuple[str, ...]:
        live, changes = self._outcomes.live_page(page.id), self._changes(page)
        keys = " + ".join(v.key for v in page.variants) if page.tested else ""
        return ("", f"{page.name}  {keys}".strip(), f"/{page.slug}",
                _local(live.sent_at) if live else "–",
                tr("never sent") if changes is None else ", ".join(changes) or tr("same as live"))

    def _tick_and_tint(self, row: int, page: Page) -> None:
        look, same = tokens(), self._changes(page) == []
        tick, state = self.item(row, _TICK), self.item(row, _CHANGED)
        assert tick is not None and state is not None
        if not same:
            tick.setFlags(tick.flags() | Qt.ItemFlag.ItemIsUserCheckable)
            tick.setCheckState(Qt.CheckState.Unchecked if page.id in self._left_out
                               else Qt.CheckState.Checked)
        elif tick.data(Qt.ItemDataRole.CheckStateRole) is not None:
            tick.setFlags(tick.flags() & ~Qt.ItemFlag.ItemIsUserCheckable)
            tick.setData(Qt.ItemDataRole.CheckStateRole, None)
        state.setForeground(QColor(look.good if same else look.amber))

    def _on_item(self, item: QTableWidgetItem) -> None:
        page = item.data(Qt.ItemDataRole.UserRole)
        if item.column() == _TICK and page:
            if item.checkState() == Qt.CheckState.Checked:
                self._left_out.discard(page)
            else:
                self._left_out.add(page)
            self.ticked.emit()

    def _here(self) -> Id:
        page = self._session.published
        return page.id if page is not None else ""

    def _on_chosen(self) -> None:
        key = self.chosen_key()
        if key and key != self._here():
            self._session.show_page(key)


@lru_cache(maxsize=1024)
def _local(iso: str) -> str:
    """Return an ISO time in UTC as this place's day and hour."""
    return f"{datetime.fromisoformat(iso).astimezone():%d %b  %H:%M}"
