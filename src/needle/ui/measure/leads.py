"""The lead book."""

from pathlib import Path

from PyQt6.QtCore import QAbstractTableModel, QModelIndex, Qt, QTimer
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QCheckBox,
    QFileDialog,
    QHeaderView,
    QLineEdit,
    QTableView,
    QVBoxLayout,
    QWidget,
)

from needle.core.leads.export import to_csv
from needle.store.files import write_atomically
from needle.store.results.counting import Lead, count_leads, leads_csv_rows, list_leads
from needle.ui.cards import Card, button, label
from needle.ui.outcomes import Outcomes
from needle.ui.session import Session

__all__ = ["LeadBook"]

_HEADER = ("When", "E-mail", "Answers", "Form", "Page", "Source", "")
_STEP = 200


class _LeadModel(QAbstractTableModel):
    """Leads, fetched from the results as the person scrolls."""

    def __init__(self, session: Session, outcomes: Outcomes) -> None:
        super().__init__()
        self._session = session
        self._outcomes = outcomes
        self._rows: list[Lead] = []
        self._search = ""
        self._robots = False
        self.total = 0

    def search(self, words: str, robots: bool) -> None:
        self.beginResetModel()
        self._search, self._robots = words, robots
        self.total = count_leads(self._outcomes.engine, words, robots)
        self._rows = self._fetch(0)
        self.endResetModel()

    def _fetch(self, offset: int) -> list[Lead]:
        return list_leads(self._outcomes.engine, self._search, self._robots, _STEP, offset)

    def rowCount(self, parent: QModelIndex = QModelIndex()) -> int:
        return 0 if parent.isValid() else len(self._rows)

    def columnCount(self, parent: QModelIndex = QModelIndex()) -> int:
        return len(_HEADER)

    def canFetchMore(self, parent: QModelIndex) -> bool:
        return len(self._rows) < self.total

    def fetchMore(self, parent: QModelIndex) -> None:
        fresh = self._fetch(len(self._rows))
        if not fresh:
            self.total = len(self._rows)
            return
        self.beginInsertRows(QModelIndex(), len(self._rows), len(self._rows) + len(fresh) - 1)
        self._rows.extend(fresh)
        self.endInsertRows()

    def headerData(self, section: int, orientation: Qt.Orientation,
                   role: int = Qt.ItemDataRole.DisplayRole) -> object:
        if orientation == Qt.Orientation.Horizontal and role == Qt.ItemDataRole.DisplayRole:
            return _HEADER[section]
        if role == Qt.ItemDataRole.TextAlignmentRole:
            return Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter
        return None

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        if role not in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.ToolTipRole):
            return None
        lead = self._rows[index.row()]
        page = self._session.site.page(lead.page)
        answers = " · ".join(answer for _, _, answer in lead.answers if answer != lead.email)
        cells = (f"{lead.at.astimezone():%d %b  %H:%M}", lead.email, answers, lead.form_name,
                 f"{page.name if page else '–'} {lead.variant}", lead.source,
                 f"robot: {lead.signs}" if lead.robot else "")
        return cells[index.column()]


class LeadBook(QWidget):
    """Every lead, searched as one types, and out again as CSV."""

    def __init__(self, session: Session, outcomes: Outcomes) -> None:
        super().__init__()
        self.setObjectName("work")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._session = session
        self._outcomes = outcomes
        self.model = _LeadModel(session, outcomes)
        self.table = self._table()
        self.line = QLineEdit()
        self.line.setPlaceholderText("Search all answers…")
        self.line.setAccessibleName("Search the leads")
        self.line.setMinimumWidth(240)
        self._pause = QTimer(self, singleShot=True, interval=150)
        self._pause.timeout.connect(self.refresh)
        self.line.textChanged.connect(lambda _: self._pause.start())
        self.robots = QCheckBox("with robots")
        self.robots.toggled.connect(lambda _: self.refresh())
        self._empty = label("", "dim", wrap=True)
        card = Card("Leads", grows=True)
        self._count = card.note
        for widget in (self.line, self.robots, button("Export as CSV…", self.ask_export)):
            card.head.addWidget(widget)
        card.body.addWidget(self.table)
        card.body.addWidget(self._empty)
        column = QVBoxLayout(self)
        column.setContentsMargins(18, 14, 18, 14)
        column.addWidget(card)

    def _table(self) -> QTableView:
        table = QTableView()
        table.setAccessibleName("Leads")
        table.setModel(self.model)
        table.setShowGrid(False)
        table.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        rows, header = table.verticalHeader(), table.horizontalHeader()
        assert rows is not None and header is not None
        rows.hide()
        rows.setDefaultSectionSize(28)
        header.setHighlightSections(False)
        for column, width in enumerate((110, 230, 0, 130, 130, 160, 60)):
            if width:
                table.setColumnWidth(column, width)
        header.setSectionResizeMode(2, QHeaderView.ResizeMode.Stretch)
        return table

    def refresh(self) -> None:
        """Show the leads that match now."""
        self.model.search(self.line.text(), self.robots.isChecked())
        self._count.setText(f"{self.model.total:,} shown")
        nothing = self.model.total == 0
        self._empty.setVisible(nothing)
        self.table.setVisible(not nothing)
        self._empty.setText(f"No lead holds “{self.line.text()}”." if self.line.text() else
                            "No lead yet. Each one that a form brings stands here at once.")

    def ask_export(self) -> None:
        """Ask for a file and write the lead book to it."""
        path, _ = QFileDialog.getSaveFileName(self, "Export the leads", "leads.csv", "CSV (*.csv)")
        if path:
            self.export(Path(path))

    def export(self, path: Path) -> None:
        """Write the whole lead book (what the search finds), robots marked."""
        names = {page.id: page.name for page in self._session.site.pages}
        header, rows = leads_csv_rows(self._outcomes.engine, names, self.line.text())
        try:
            write_atomically(path, to_csv(header, rows).encode("utf-8-sig"))
        except OSError as error:
            self._session.said.emit(f"{path} cannot be written: {error.strerror}.", True)
            return
        self._session.said.emit(f"The leads are in {path}, robots marked.", False)


