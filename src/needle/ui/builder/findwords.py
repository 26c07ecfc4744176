"""Find and replace: words on this page or on the whole site."""

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QCheckBox,
    QDialog,
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from needle.core.site.site import Site
from needle.core.values.counting import counted
from needle.core.wording.finding import Hit, Search, find_hits, replace_hits
from needle.ui.language import tr
from needle.ui.session import Session
from needle.ui.words import Words

__all__ = ["FindDialog"]

_MOST = 2000


class FindDialog(QDialog):
    """What is looked for, where it stands, and what comes in its place.

    It stays open beside the page; a click on a place shows it there.
    """

    def __init__(self, session: Session, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("Find and replace words"))
        self._session = session
        self._hits: list[Hit] = []
        self.wanted, self.by = QLineEdit(), QLineEdit()
        self.wanted.setAccessibleName(tr("Find"))
        self.by.setAccessibleName(tr("Replace with"))
        self.everywhere = QCheckBox(tr("on every page"))
        self.case = QCheckBox(tr("Capitals count"))
        self.whole = QCheckBox(tr("whole words only"))
        self.list = QListWidget()
        self.list.setAccessibleName(tr("Places"))
        self._note = Words()
        self._note.setProperty("role", "dim")
        self.one = QPushButton(tr("Replace this one"))
        self.all = QPushButton(tr("Replace all"))
        self.all.setProperty("role", "main")
        self._lay_out()
        self.resize(560, 440)
        for line in (self.wanted,):
            line.textChanged.connect(lambda _: self.search())
        for box in (self.everywhere, self.case, self.whole):
            box.toggled.connect(lambda _: self.search())
        self.list.currentRowChanged.connect(self._show_hit)
        self.one.clicked.connect(lambda: self._replace(self._hits[self.list.currentRow()]))
        self.all.clicked.connect(lambda: self._replace(*self._hits))
        session.changed.connect(lambda _: self.search())
        session.turned.connect(self.search)
        self.search()

    def _lay_out(self) -> None:
        grid = QGridLayout()
        grid.addWidget(Words(tr("Find")), 0, 0)
        grid.addWidget(self.wanted, 0, 1)
        grid.addWidget(Words(tr("Replace with")), 1, 0)
        grid.addWidget(self.by, 1, 1)
        options = QHBoxLayout()
        for box in (self.everywhere, self.case, self.whole):
            options.addWidget(box)
        options.addStretch()
        buttons = QHBoxLayout()
        buttons.addWidget(self._note, 1)
        buttons.addWidget(self.one)
        buttons.addWidget(self.all)
        column = QVBoxLayout(self)
        column.addLayout(grid)
        column.addLayout(options)
        column.addWidget(self.list, 1)
        column.addLayout(buttons)

    def _search(self) -> Search:
        return Search(self.wanted.text(), self.case.isChecked(), self.whole.isChecked())

    def search(self) -> None:
        """Look again."""
        if not self.isVisible() and self._hits:
            return
        site, page = self._session.site, self._session.page
        pages = site.pages if self.everywhere.isChecked() else (page,)
        self._hits = find_hits(pages, self._search())[:_MOST]
        row = self.list.currentRow()
        self.list.blockSignals(True)
        self.list.clear()
        names = {p.id: f"{p.name} · " if self.everywhere.isChecked() else "" for p in site.pages}
        for hit in self._hits:
            tested = f"{hit.variant} · " if self._tested(hit) else ""
            self.list.addItem(QListWidgetItem(f"{names[hit.page]}{tested}{hit.around}"))
        self.list.setCurrentRow(min(max(0, row), len(self._hits) - 1))
        self.list.blockSignals(False)
        count = len(self._hits)
        self._note.setText("" if not self.wanted.text() else counted(count, "place") if count
                           else tr("It stands nowhere."))
        self.one.setEnabled(bool(count))
        self.all.setEnabled(bool(count))

    def _tested(self, hit: Hit) -> bool:
        page = self._session.site.page(hit.page)
        return bool(page and page.tested)

    def _show_hit(self, row: int) -> None:
        if 0 <= row < len(self._hits):
            self._session.go_to(self._hits[row].node)

    def _replace(self, *hits: Hit) -> None:
        count = 0

        def how(site: Site) -> Site:
            nonlocal count
            site, count = replace_hits(site, hits, self._search(), self.by.text())
            return site

        if self._session.edit(tr("replace words"), how):
            self._session.said.emit(tr("{count} changed. Ctrl+Z takes it back.",
                                       count=counted(count, "place")), False)
        self.search()
        self.list.setFocus(Qt.FocusReason.OtherFocusReason)
