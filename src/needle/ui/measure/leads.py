"""The lead book: every lead, found as one types, and what can be done with all of them."""

import time
from collections.abc import Callable
from pathlib import Path

import msgspec
from PyQt6.QtCore import QAbstractTableModel, QModelIndex, Qt
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QCheckBox,
    QFileDialog,
    QHBoxLayout,
    QHeaderView,
    QInputDialog,
    QLineEdit,
    QMenu,
    QPushButton,
    QTableView,
    QWidget,
)

from needle.core.leads.importing import LeadFileError, read_leads
from needle.core.measure.places import pages_at
from needle.store.results.book import (
    MOST_COUNTED,
    STATUSES,
    Filter,
    Lead,
    count_leads,
    known_tags,
    leads_csv_rows,
    list_leads,
    list_unfinished,
)
from needle.store.results.filters import Filters, change_filters, kept_filters
from needle.store.results.importing import take_imported
from needle.ui.cards import Card, label
from needle.ui.editors import ChoiceEdit
from needle.ui.language import tr
from needle.ui.measure.exporting import Export, export_cards
from needle.ui.measure.leadpanel import LeadPanel
from needle.ui.measure.places import PlaceChoice
from needle.ui.outcomes import Outcomes
from needle.ui.session import Session
from needle.ui.timers import once
from needle.ui.words import plain_tip, set_tip

__all__ = ["LeadBook"]

_HEADER = (tr("When"), "E-mail", tr("Answers"), tr("Form"), tr("Source"), tr("Status"))
_STEP = 200
_ROBOTS = {"without": "people", "with": "all", "only": "robots", "unfinished": tr("not sent")}
_SINCE = {0: tr("any time"), 1: tr("last day"), 7: tr("last 7 days"), 30: tr("last 30 days")}
_DAY_MS = 86_400_000


class _LeadModel(QAbstractTableModel):
    """Leads, fetched from the results as the person scrolls.

    Attributes:
        rows: Those fetched so far.
    """

    def __init__(self, outcomes: Outcomes) -> None:
        super().__init__()
        self._outcomes = outcomes
        self.rows: list[Lead] = []
        self._filter = Filter()
        self._more = False

    def search(self, of: Filter, half: bool) -> None:
        """Show the leads that match, or what was answered but not sent."""
        self.beginResetModel()
        self._filter = of
        self.rows = list_unfinished(self._outcomes.engine) if half else list_leads(
            self._outcomes.engine, of, _STEP)
        self._more = len(self.rows) == _STEP and not half
        self.endResetModel()

    def rowCount(self, parent: QModelIndex = QModelIndex()) -> int:
        return 0 if parent.isValid() else len(self.rows)

    def columnCount(self, parent: QModelIndex = QModelIndex()) -> int:
        return len(_HEADER)

    def canFetchMore(self, parent: QModelIndex) -> bool:
        return self._more

    def fetchMore(self, parent: QModelIndex) -> None:
        fresh = list_leads(self._outcomes.engine, self._filter, _STEP, self.rows[-1].id)
        self._more = len(fresh) == _STEP
        if fresh:
            self.beginInsertRows(QModelIndex(), len(self.rows), len(self.rows) + len(fresh) - 1)
            self.rows.extend(fresh)
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
        lead = self.rows[index.row()]
        answers = " · ".join(answer for _, _, answer in lead.answers if answer != lead.email)
        state = tr("robot: {signs}",
                   signs=lead.signs) if lead.robot else lead.status if lead.id else lead.signs
        if lead.tags:
            state += f" · {', '.join(lead.tags)}"
        cells = (f"{lead.at.astimezone():%d %b  %H:%M}", lead.email, " ".join(answers.split()),
                 lead.form_name, lead.source, state)
        words = cells[index.column()]
        return plain_tip(words) if role == Qt.ItemDataRole.ToolTipRole else words


class LeadBook(QWidget):
    """Every lead, searched as one types; the chosen one's way at the right.

    Attributes:
        line: The search.
        panel: The chosen lead.
    """

    def __init__(self, session: Session, outcomes: Outcomes) -> None:
        super().__init__()
        self.setObjectName("work")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._session, self._outcomes = session, outcomes
        self.model = _LeadModel(outcomes)
        self.table = self._table()
        self.panel = LeadPanel(session, outcomes)
        self.panel.changed.connect(self.refresh)
        self._export: Export | None = None
        self.line = QLineEdit()
        self.line.setPlaceholderText(tr("Search all answers…"))
        self.line.setAccessibleName(tr("Search the leads"))
        self.line.setMinimumWidth(150)
        self._pause = once(self, 150)
        self._pause.timeout.connect(self.refresh)
        self.line.textChanged.connect(lambda _: self._pause.start())
        self.one_each = QCheckBox(tr("one each"))
        set_tip(self.one_each, tr("Only the newest lead of each e-mail address"))
        self.one_each.toggled.connect(lambda _: self.refresh())
        self._filters()
        self._empty = label("", "dim", wrap=True)
        self._lay_out()

    def _filters(self) -> None:
        self.robots = ChoiceEdit(tr("Robots"), _ROBOTS, inherit=False)
        self.since = ChoiceEdit(tr("Since"), _SINCE, inherit=False)
        self.status = ChoiceEdit(tr("Status"), {"": tr("any status")} | dict(STATUSES),
                                 inherit=False)
        self.form = ChoiceEdit(tr("Form"), {"": tr("any form")}, inherit=False)
        self.tag = ChoiceEdit(tr("Tag"), {"": tr("any tag")}, inherit=False)
        self.place = PlaceChoice()
        for choice in (self.robots, self.since, self.status, self.form, self.tag, self.place):
            choice.chosen.connect(lambda _: self.refresh())

    def _lay_out(self) -> None:
        card = Card(tr("Leads"), grows=True)
        self._count = card.note
        card.head.insertWidget(1, self.line, 1)
        card.head.addWidget(self._kept_button())
        card.head.addWidget(self._out_button())
        for filters in ((self.form, self.place, self.status),
                        (self.tag, self.since, self.robots, self.one_each)):
            line = QHBoxLayout()
            line.setSpacing(6)
            for one in filters:
                line.addWidget(one, 1)
            card.body.addLayout(line)
        card.body.addWidget(self.table, 1)
        card.body.addWidget(self._empty)
        row = QHBoxLayout(self)
        row.setContentsMargins(18, 14, 18, 14)
        row.setSpacing(12)
        row.addWidget(card, 1)
        row.addWidget(self.panel)

    def _kept_button(self) -> QPushButton:
        made = QPushButton(tr("Filters"))
        menu = QMenu(made)
        menu.aboutToShow.connect(lambda: self._fill_filters(menu))
        made.setMenu(menu)
        return made

    def _fill_filters(self, menu: QMenu) -> None:
        menu.clear()
        for name, of in kept_filters(self._outcomes.folder).items():
            action = menu.addAction(name)
            assert action is not None
            action.triggered.connect(lambda _=False, f=of: self.show_filter(f))
        menu.addSeparator()
        for words, run in ((tr("Keep this filter…"), self.ask_keep),
                           (tr("Drop all kept filters"), self.drop_filters),
                           (tr("Show everything"), lambda: self.show_filter(Filter()))):
            action = menu.addAction(words)
            assert action is not None
            action.triggered.connect(lambda _=False, r=run: r())

    def _out_button(self) -> QPushButton:
        made = QPushButton(tr("In and out"))
        menu = QMenu(made)
        for words, run in ((tr("Export as CSV…"), self.ask_export),
                           (tr("Export as contacts (vCard)…"), self.ask_cards),
                           (tr("Import from CSV…"), self.ask_import)):
            action = menu.addAction(words)
            assert action is not None
            action.triggered.connect(lambda _=False, r=run: r())
        made.setMenu(menu)
        return made

    def _table(self) -> QTableView:
        table = QTableView()
        table.setAccessibleName(tr("Leads"))
        table.setModel(self.model)
        table.setShowGrid(False)
        table.setTabKeyNavigation(False)
        table.setWordWrap(False)
        table.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        table.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        rows, header = table.verticalHeader(), table.horizontalHeader()
        assert rows is not None and header is not None
        rows.hide()
        rows.setDefaultSectionSize(28)
        header.setHighlightSections(False)
        for column, width in enumerate((122, 206, 0, 124, 90, 90)):
            if width:
                table.setColumnWidth(column, width)
        header.setSectionResizeMode(2, QHeaderView.ResizeMode.Stretch)
        chosen = table.selectionModel()
        assert chosen is not None
        chosen.currentRowChanged.connect(lambda at, _: self.open_row(at.row()))
        return table

    def open_row(self, row: int) -> None:
        """Show the lead of a row at the right."""
        self.panel.show_lead(self.model.rows[row] if 0 <= row < len(self.model.rows) else None)

    # Filters

    @property
    def filter(self) -> Filter:
        """What is asked for now."""
        robots = str(self.robots.currentData())
        days = int(self.since.currentData() or 0)
        place = str(self.place.currentData() or "")
        return Filter(
            place=place, pages=pages_at(self._session.whole, place) if place else (),
            words=self.line.text().strip(), form=str(self.form.currentData() or ""),
            robots="without" if robots == "unfinished" else robots,
            status=str(self.status.currentData() or ""), tag=str(self.tag.currentData() or ""),
            since_ms=int(time.time() * 1000) - days * _DAY_MS if days else 0,
            one_each=self.one_each.isChecked())

    def show_filter(self, of: Filter) -> None:
        """Ask for these leads."""
        self._fill_choices(of.form, of.tag, of.place)
        self.line.setText(of.words)
        for choice, value in ((self.robots, of.robots), (self.status, of.status),
                              (self.form, of.form), (self.tag, of.tag), (self.since, 0)):
            choice.show_value(value)
        self.one_each.setChecked(of.one_each)
        self.refresh()

    def ask_keep(self) -> None:
        """Ask for a name and keep the filter under it."""
        name, taken = QInputDialog.getText(self, tr("Keep this filter"), tr("Name"))
        if taken and name.strip():
            fresh = {name.strip(): msgspec.structs.replace(self.filter, since_ms=0)}
            if self._change_filters(lambda kept: kept | fresh):
                self._session.said.emit(tr("The filter “{name}” is kept.", name=name.strip()),
                                        False)

    def drop_filters(self) -> None:
        """Forget the kept filters."""
        self._change_filters(lambda _: {})

    def _change_filters(self, how: Callable[[Filters], Filters]) -> bool:
        try:
            change_filters(self._outcomes.folder, how)
        except OSError as error:
            self._session.said.emit(tr("The filters could not be kept: {strerror}.",
                                       strerror=error.strerror or error),
                                    True)
            return False
        return True

    # Showing

    def refresh(self) -> None:
        """Show the leads that match now."""
        self._fill_choices(*(str(choice.currentData() or "")
                             for choice in (self.form, self.tag, self.place)))
        half = self.robots.currentData() == "unfinished"
        of = self.filter
        row = self.table.currentIndex().row()
        shown = self.model.rows[row].key if 0 <= row < len(self.model.rows) else ""
        self.model.search(of, half)
        self._count.setText(self._count_words(of, half))
        nothing = not self.model.rows
        self._empty.setVisible(nothing)
        self.table.setVisible(not nothing)
        self._empty.setText(tr("No lead holds “{line}”.",
                               line=self.line.text()) if self.line.text() else
                            tr("No lead yet. Each one that a form brings stands here at once.")
                            if of == Filter() else tr("No lead is like that."))
        again = next((n for n, lead in enumerate(self.model.rows) if lead.key == shown), -1)
        if again >= 0:
            self.table.selectRow(again)
        elif shown:
            self.panel.show_lead(None)

    def _count_words(self, of: Filter, half: bool) -> str:
        if half or of.one_each:
            count = len(self.model.rows)
            return f"{count}{'+' if count == _STEP else ''} shown"
        count = count_leads(self._outcomes.engine, of, MOST_COUNTED)
        return f"{min(count, MOST_COUNTED):,}{'+' if count > MOST_COUNTED else ''} shown"

    def _fill_choices(self, form: str, tag: str, place: str) -> None:
        self.place.show_places(self._session.whole, place)
        forms = {"": tr("any form")} | {one.id: one.name for one in self._session.site.forms}
        tags = {"": tr("any tag")} | {name: name for name in known_tags(self._outcomes.engine)}
        for choice, values, chosen in ((self.form, forms, form), (self.tag, tags, tag)):
            if [choice.itemData(n) for n in range(choice.count())] != list(values):
                choice.clear()
                for value, words in values.items():
                    choice.addItem(words, value)
            choice.show_value(chosen)

    # In and out

    def ask_export(self) -> None:
        """Ask for a file and write what is found to it."""
        path, _ = QFileDialog.getSaveFileName(self, tr("Export the leads"), "leads.csv",
                                              tr("CSV (*.csv)"))
        if path:
            self.export(Path(path))

    def export(self, path: Path) -> None:
        """Write what is found, robots marked, as CSV; it goes on beside the window."""
        of = self.filter
        of = msgspec.structs.replace(of, robots="with") if of.robots == "without" else of
        names = {page.id: page.name for page in self._session.whole.pages}
        engine = self._outcomes.engine
        self._export = Export(lambda: leads_csv_rows(engine, names, of), path,
                              tr("The leads are in {path}, robots marked.", path=path))
        self._export.said.told.connect(lambda words, fault: self._session.said.emit(words, fault))
        self._export.begin()

    def ask_cards(self) -> None:
        """Ask for a file and write what is found to it as contacts."""
        path, _ = QFileDialog.getSaveFileName(self, tr("Export contacts"), "leads.vcf",
                                              tr("vCard (*.vcf)"))
        if path:
            self._session.said.emit(*export_cards(
                self._outcomes.engine, self._session.site, self.filter, Path(path)))

    def ask_import(self) -> None:
        """Ask for a CSV file and take its lines as leads."""
        path, _ = QFileDialog.getOpenFileName(self, tr("Import leads"), "",
                                              tr("CSV (*.csv *.txt *.tsv)"))
        if path:
            self.take_file(Path(path))

    def take_file(self, path: Path) -> None:
        """Take the lines of a CSV file as leads; a line taken before is not taken again."""
        try:
            found = read_leads(path.read_bytes())
        except OSError as error:
            self._session.said.emit(tr("{path} cannot be read: {strerror}.",
                                       path=path, strerror=error.strerror), True)
            return
        except LeadFileError as error:
            self._session.said.emit(f"{path.name}: {error}", True)
            return
        fresh = take_imported(self._outcomes.engine, found, path.name)
        known = len(found) - fresh
        self._session.said.emit(tr("{fresh} leads came in from {name}",
                                   fresh=fresh, name=path.name)
                                + (tr("; {known} were there already.",
                                      known=known) if known else "."), False)
        self.refresh()
