"""The cells of a table: chosen, typed, copied and pasted as in spreadsheets."""

from collections.abc import Callable, Sequence
from functools import partial

from PyQt6.QtCore import QEvent, QModelIndex, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QKeySequence
from PyQt6.QtWidgets import QAbstractItemView, QApplication, QHeaderView, QMenu, QTableView

from needle.core.site.site import Site
from needle.core.tables.csvfile import copied, pasted
from needle.core.tables.editing import add_rows, delete_rows, move_rows, set_cells
from needle.core.values.ids import Id
from needle.core.values.tables import Table
from needle.ui.builder.tables.model import TableModel
from needle.ui.language import tr
from needle.ui.session import Session

__all__ = ["RowsGrid"]


class RowsGrid(QTableView):
    """The rows of a table, with the keys of spreadsheets.

    Signals:
        cleared: All rows are to be shown again.

    Attributes:
        cells: What it shows.
    """

    cleared = pyqtSignal()

    def __init__(self, session: Session, table: Callable[[], Table | None]) -> None:
        """Make an empty one.

        Args:
            table: Returns the table that is shown.
        """
        super().__init__()
        self._session, self.table = session, table
        self.cells = TableModel(session)
        self.setModel(self.cells)
        self.setContextMenuPolicy(Qt.ContextMenuPolicy.CustomContextMenu)
        self.customContextMenuRequested.connect(
            lambda at: self.row_menu().popup(self.mapToGlobal(at)))
        self.setAccessibleName(tr("Rows"))
        self.setAlternatingRowColors(False)
        self.setTabKeyNavigation(False)
        self.setWordWrap(False)
        self.setSelectionMode(QAbstractItemView.SelectionMode.ExtendedSelection)
        self.setHorizontalScrollMode(QAbstractItemView.ScrollMode.ScrollPerPixel)
        self.setEditTriggers(QAbstractItemView.EditTrigger.DoubleClicked
                             | QAbstractItemView.EditTrigger.EditKeyPressed
                             | QAbstractItemView.EditTrigger.AnyKeyPressed)
        side = self.verticalHeader()
        assert side is not None
        side.setDefaultSectionSize(30)
        side.setSectionResizeMode(QHeaderView.ResizeMode.Fixed)

    def _rows(self) -> list[Id]:
        chosen = self.selectionModel()
        rows = sorted({index.row() for index in chosen.selectedIndexes()}) if chosen else []
        return [self.cells.rows[row].id for row in rows if row < len(self.cells.rows)]

    def add_row(self) -> None:
        """Add an empty row at the end, and begin to fill it in."""
        table = self.table()
        if table is None:
            return
        made: list[Id] = []

        def how(site: Site) -> Site:
            site, rows = add_rows(site, table.id, [[]])
            made.extend(rows)
            return site

        self.cleared.emit()
        if self._session.edit(tr("add row"), how):
            place = self.cells.place_of(made[0])
            self.setCurrentIndex(self.cells.index(place, 0))
            self.edit(self.cells.index(place, 0))

    def delete_rows(self) -> None:
        """Take the chosen rows out of the table."""
        table, rows = self.table(), self._rows()
        if table is not None and rows:
            self._session.edit(tr("delete rows"), lambda site: delete_rows(site, table.id, rows))

    def row_menu(self) -> QMenu:
        """Return what can be done to the chosen rows."""
        menu = QMenu(self)
        for words, keys, run in (
                (tr("Add a row"), "", self.add_row), (tr("Delete rows"), "", self.delete_rows),
                (tr("Move up"), "Alt+Up", partial(self.move_rows, -1)),
                (tr("Move down"), "Alt+Down", partial(self.move_rows, 1)),
                (tr("Copy"), "Ctrl+C", self.copy), (tr("Paste"), "Ctrl+V", self.paste)):
            action = menu.addAction(f"{words}\t{keys}" if keys else words)
            assert action is not None
            action.triggered.connect(lambda _=False, r=run: r())
        return menu

    def move_rows(self, by: int) -> None:
        """Move the chosen rows up or down."""
        table, rows = self.table(), self._rows()
        if table is not None and rows:
            self._session.edit(tr("order of rows"),
                               lambda site: move_rows(site, table.id, rows, by), group="rows")

    def empty_cells(self) -> None:
        """Empty the chosen cells."""
        self._set([(index, "") for index in self._cells()])

    def _cells(self) -> list[QModelIndex]:
        chosen, table = self.selectionModel(), self.table()
        return [index for index in chosen.selectedIndexes()
                if table is not None and index.column() < len(table.columns)] if chosen else []

    def _set(self, cells: Sequence[tuple[QModelIndex, str]]) -> None:
        table = self.table()
        if table is None or not cells:
            return
        wanted = [(self.cells.rows[index.row()].id, table.columns[index.column()].id, words)
                  for index, words in cells]
        self._session.edit(tr("cells"), lambda site: set_cells(site, table.id, wanted))

    def copy(self) -> None:
        """Put the chosen cells on the clipboard, as spreadsheets take them."""
        lines: dict[int, list[str]] = {}
        for index in sorted(self._cells(), key=lambda one: (one.row(), one.column())):
            cell = self.cells.rows[index.row()].cells[index.column()]
            lines.setdefault(index.row(), []).append(cell)
        clipboard = QApplication.clipboard()
        if clipboard is not None and lines:
            clipboard.setText(copied(lines.values()))

    def paste(self) -> None:
        """Put cells from the clipboard in, from the current one on; more rows come as needed."""
        clipboard, table = QApplication.clipboard(), self.table()
        at = self.currentIndex()
        if clipboard is None or table is None or not at.isValid():
            return
        block = pasted(clipboard.text())
        columns = table.columns[at.column():]
        rows = self.cells.rows[at.row():]
        label_ = tr("paste cells")

        def how(site: Site) -> Site:
            more = len(block) - len(rows)
            ids = [row.id for row in rows]
            if more > 0:
                site, fresh = add_rows(site, table.id, [[]] * more)
                ids += fresh
            return set_cells(site, table.id, [
                (row, column.id, words) for row, line in zip(ids, block, strict=False)
                for column, words in zip(columns, line, strict=False)])

        if block:
            self._session.edit(label_, how)

    # Keys

    def event(self, event: QEvent | None) -> bool:
        # These keys are the table's while it has the keys, not those of parts of the page.
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.ShortcutOverride and (
                self._meant(event) is not None):
            event.accept()
            return True
        return super().event(event)

    def _meant(self, event: QKeyEvent) -> Callable[[], object] | None:
        """Return what keys ask for; nothing if they are none of the table's own."""
        for keys, run in ((QKeySequence.StandardKey.Copy, self.copy),
                          (QKeySequence.StandardKey.Paste, self.paste),
                          (QKeySequence.StandardKey.Delete, self.empty_cells)):
            if event.matches(keys):
                return run
        if event.modifiers() == Qt.KeyboardModifier.AltModifier:
            return {Qt.Key.Key_Up: partial(self.move_rows, -1),
                    Qt.Key.Key_Down: partial(self.move_rows, 1)}.get(Qt.Key(event.key()))
        return None

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        run = self._meant(event)
        if run is not None:
            run()
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and (
                self.state() != QAbstractItemView.State.EditingState):
            self.edit(self.currentIndex())
        else:
            super().keyPressEvent(event)
