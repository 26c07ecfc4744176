"""The table beside the page: its cells, its file, and what its pages are called."""

from functools import partial

from PyQt6.QtCore import QItemSelectionModel, QModelIndex, Qt, pyqtSignal
from PyQt6.QtWidgets import (
    QFormLayout,
    QHBoxLayout,
    QLineEdit,
    QMenu,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from needle.core.site.site import Site
from needle.core.tables.choosing import is_master
from needle.core.tables.editing import (
    add_column,
    delete_column,
    shape_column,
    used_by,
)
from needle.core.tables.mastering import set_said
from needle.core.tables.rowwords import columns_in_reach, sample_of
from needle.core.values.ids import Id
from needle.core.values.tables import Table
from needle.core.values.words import Text
from needle.store.tablefiles import csv_file
from needle.ui.builder.tables.cells import CellEditing
from needle.ui.builder.tables.columns import ColumnDialog
from needle.ui.builder.tables.grid import RowsGrid
from needle.ui.builder.tables.patternedit import PatternEdit
from needle.ui.cards import button, label
from needle.ui.editors import ChoiceEdit
from needle.ui.language import tr
from needle.ui.session import Session

__all__ = ["TableCard"]

_WIDEST = 260
# A column is as wide as so many rows need.
_MEASURED = 60
# So many rows of another table are offered; the rest can be typed.
_OFFERED = 1000


class TableCard(QWidget):
    """One table of the site, and the pages that are made of it.

    Signals:
        shown: Another table is shown.
        master_asked: The page that is shown is to be one for each row.
    """

    shown = pyqtSignal()
    master_asked = pyqtSignal()

    def __init__(self, session: Session, menu: QMenu) -> None:
        super().__init__()
        self._session = session
        self._chosen: Id = ""
        self.which = ChoiceEdit(tr("Table"), {}, inherit=False)
        self.which.chosen.connect(self._choose)
        self.file = label("", "small")
        self.more = QToolButton()
        self.more.setText(tr("CSV"))
        self.more.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        self.more.setMenu(menu)
        self.line = QLineEdit()
        self.line.setPlaceholderText(tr("Find a row"))
        self.line.setAccessibleName(tr("Find a row"))
        self.line.setClearButtonEnabled(True)
        self.line.textChanged.connect(lambda _: self.refresh())
        self.view = RowsGrid(session, lambda: self.table)
        self.view.cleared.connect(self.line.clear)
        self.model = self.view.cells
        self.view.setItemDelegate(CellEditing(
            self._column_at, lambda: [one.name for one in session.site.media],
            lambda column: [other.label(row) for row in other.rows[:_OFFERED]]
            if (other := session.site.table(column.of)) is not None else [], self.view))
        chosen = self.view.selectionModel()
        assert chosen is not None
        chosen.currentRowChanged.connect(lambda now, _: self._on_row(now))
        head = self.view.horizontalHeader()
        assert head is not None
        head.setResizeContentsPrecision(_MEASURED)
        head.setContextMenuPolicy(Qt.ContextMenuPolicy.CustomContextMenu)
        head.customContextMenuRequested.connect(
            lambda at: self.column_menu(head.logicalIndexAt(at)).popup(head.mapToGlobal(at)))
        head.sectionDoubleClicked.connect(self.ask_column)
        self.said = {field: PatternEdit(words, lines) for field, words, lines in (
            ("slug", tr("Address"), 1), ("title", tr("Title"), 1),
            ("description", tr("Description"), 2))}
        for field, edit in self.said.items():
            edit.done.connect(lambda words, f=field: self._keep_said(f, words))
        self.pages = QWidget()
        # The pages that are made of the table, where another one is shown.
        self.others = QHBoxLayout()
        self._offered: list[Id] = []
        self._lay_out()

    def _lay_out(self) -> None:
        head = QHBoxLayout()
        head.addWidget(self.which, 1)
        head.addWidget(self.file)
        head.addWidget(self.more)
        foot = QHBoxLayout()
        foot.addWidget(button(tr("Add a row"), self.view.add_row))
        foot.addWidget(button(tr("Add a column…"), lambda: self.ask_column(-1)))
        foot.addStretch()
        form = QFormLayout(self.pages)
        form.setContentsMargins(0, 4, 0, 0)
        form.setFieldGrowthPolicy(QFormLayout.FieldGrowthPolicy.AllNonFixedFieldsGrow)
        for edit in self.said.values():
            row = QHBoxLayout()
            row.addWidget(edit, 1)
            put = QToolButton()
            put.setText(tr("Column"))
            put.setAccessibleName(tr("Put a column into: {name}", name=edit.accessibleName()))
            put.clicked.connect(lambda _=False, e=edit, b=put: e.column_menu(b).popup(
                b.mapToGlobal(b.rect().bottomLeft())))
            row.addWidget(put)
            form.addRow(edit.accessibleName(), row)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        column.addLayout(head)
        column.addWidget(self.line)
        column.addWidget(self.view, 1)
        column.addLayout(foot)
        column.addWidget(self.pages)
        column.addLayout(self.others)

    # What is shown

    @property
    def table(self) -> Table | None:
        """The table that is shown: that of the page, or the chosen one."""
        site = self._session.site
        return site.table(self._chosen) or site.table(self._session.page.master.table) or (
            site.tables[0] if site.tables else None)

    def show_table(self, table_id: Id) -> None:
        """Show a table."""
        self._chosen = table_id
        self.refresh()
        self.shown.emit()

    def follow_page(self) -> None:
        """Show the table of the page that is shown."""
        self._chosen = self._session.page.master.table or self._chosen
        self.refresh()

    def _choose(self, table_id: object) -> None:
        self.show_table(str(table_id))

    def refresh(self) -> None:
        """Show the table as it is."""
        site, table = self._session.site, self.table
        names = [(one.id, one.name) for one in site.tables]
        if names != [(self.which.itemData(n), self.which.itemText(n))
                     for n in range(self.which.count())]:
            self.which.clear()
            for table_id, name in names:
                self.which.addItem(name, table_id)
        if table is not None:
            self.which.show_value(table.id)
        fresh = self.model.table is None or table is None or self.model.table.id != table.id
        at = self.view.currentIndex()
        held = self.model.rows[at.row()].id if 0 <= at.row() < len(self.model.rows) else ""
        self.model.show(table, self.line.text().strip())
        if held and not self.view.currentIndex().isValid() and (
                place := self.model.place_of(held)) >= 0:
            self.view.setCurrentIndex(self.model.index(place, at.column()))
        self.file.setText(f"{csv_file(table)} · {len(table.rows):,}" if table else "")
        if fresh:
            self._fit_columns()
        page = self._session.page
        own = table is not None and is_master(page) and page.master.table == table.id
        self.pages.setVisible(own)
        if table is not None and own:
            site = self._session.site
            columns = columns_in_reach(site, table)
            for field, edit in self.said.items():
                edit.show_words(getattr(page.master, field), columns,
                                partial(sample_of, site, table))
        self._offer_pages(table, own)
        self._show_row()

    def _offer_pages(self, table: Table | None, own: bool) -> None:
        """Offer the pages that are made of the table, or to make the shown one one for each row."""
        site = self._session.site
        pages = used_by(site, table.id) if table is not None and not own else []
        offered = [page.id for page in pages] or ([] if own or table is None else [""])
        if offered == self._offered:
            return
        self._offered = offered
        while (item := self.others.takeAt(0)) is not None:
            if (widget := item.widget()) is not None:
                widget.deleteLater()
        for page in pages:
            self.others.addWidget(button(tr("Show “{page}”", page=page.name),
                                         partial(self._session.show_page, page.id)))
        if offered == [""]:
            self.others.addWidget(button(tr("One page for each row…"),
                                         self.master_asked.emit, main=True))
        self.others.addStretch()

    def _fit_columns(self) -> None:
        self.view.resizeColumnsToContents()
        for place in range(self.model.columnCount()):
            self.view.setColumnWidth(place, min(self.view.columnWidth(place) + 10, _WIDEST))

    def fit_likeness(self) -> None:
        """Have the column of likeness stand beside the names, where it is seen."""
        self._fit_columns()
        head, last = self.view.horizontalHeader(), self.model.columnCount() - 1
        if head is not None and self.model.table and last == len(self.model.table.columns):
            head.moveSection(head.visualIndex(last), 1)

    def _show_row(self) -> None:
        row, chosen = self._session.row, self.view.selectionModel()
        place = self.model.place_of(row.id) if row is not None else -1
        if chosen is not None and place >= 0 and self.view.currentIndex().row() != place:
            at = self.model.index(place, max(0, self.view.currentIndex().column()))
            chosen.setCurrentIndex(at, QItemSelectionModel.SelectionFlag.ClearAndSelect
                                   | QItemSelectionModel.SelectionFlag.Rows)

    def _on_row(self, now: QModelIndex) -> None:
        if now.isValid() and now.row() < len(self.model.rows):
            self._session.look_at_row(self.model.rows[now.row()].id)

    def _column_at(self, place: int):  # type: ignore[no-untyped-def]
        table = self.model.table
        return table.columns[place] if table and 0 <= place < len(table.columns) else None

    def _keep_said(self, field: str, words: Text) -> None:
        page = self._session.page.id
        if not self._session.edit(tr("{field} of the pages", field=field),
                                  lambda site: set_said(site, page, field, words)):
            self.said[field].clearFocus()
            self.refresh()

    # Columns

    def column_menu(self, place: int) -> QMenu:
        """Return what can be done to a column."""
        menu, column = QMenu(self), self._column_at(place)
        if column is not None:
            for words, run in ((tr("Name, kind and meaning…"), lambda: self.ask_column(place)),
                               (tr("Delete column"), lambda: self.delete_column(column.id))):
                action = menu.addAction(words)
                assert action is not None
                action.triggered.connect(lambda _=False, r=run: r())
        return menu

    def delete_column(self, column: Id) -> None:
        """Take a column out of the table."""
        table = self.table
        if table is not None:
            self._session.edit(tr("delete column"),
                               lambda site: delete_column(site, table.id, column))

    def ask_column(self, place: int) -> None:
        """Ask what a column is called and of which kind it is; a new one for -1."""
        table, column = self.table, self._column_at(place)
        if table is None or (place >= 0 and column is None):
            return
        asking = ColumnDialog(column, self._session.site.tables, self._session.site.language,
                              self)
        if not asking.exec():
            return
        name, (kind, of, means), counts = asking.name.text(), asking.answers(), asking.counted()

        def how(site: Site) -> Site:
            if column is not None:
                return shape_column(site, table.id, column.id, name, kind, of, means, counts)
            site, made = add_column(site, table.id, name, kind, of)
            return shape_column(site, table.id, made, name, kind, of, means, counts)

        self._session.edit(tr("column") if column else tr("add column"), how)
