"""A table of the site as Qt shows one: read from the site's value, edited through the session."""

from collections.abc import Sequence
from typing import Any

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QAbstractTableModel, QModelIndex, Qt
from PyQt6.QtGui import QColor

from needle.core.tables.cells import shown
from needle.core.tables.editing import set_cells
from needle.core.tables.likeness import FLOOR, percent
from needle.core.values.ids import Id
from needle.core.values.tables import Table, TableRow
from needle.ui.language import tr
from needle.ui.session import Session
from needle.ui.theme import tokens

__all__ = ["TableModel"]

_NOWHERE = QModelIndex()
_RIGHT = int(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)


class TableModel(QAbstractTableModel):
    """Rows and columns, and beside them how much each row's page is like another one.

    Attributes:
        rows: Those that are shown: all, or those that were found.
    """

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.table: Table | None = None
        self.rows: Sequence[TableRow] = ()
        self._wanted = ""
        self._alike: dict[Id, float] | None = None

    def show(self, table: Table | None, wanted: str = "") -> None:
        """Show a table, or what is new in it; of its rows those with some words."""
        if table is self.table and wanted == self._wanted:
            return
        old, self.table, self._wanted = self.table, table, wanted
        rows = table.rows if table is not None else ()
        found = [row for row in rows if _has(row, wanted)] if wanted else rows
        same = (old is not None and table is not None and old.columns == table.columns
                and len(found) == len(self.rows)
                and all(a is b or a.id == b.id for a, b in zip(found, self.rows, strict=True)))
        if same:
            changed = [n for n, (a, b) in enumerate(zip(found, self.rows, strict=True))
                       if a is not b]
            self.rows = found
            for number in changed:
                self.dataChanged.emit(self.index(number, 0),
                                      self.index(number, self.columnCount() - 1))
        else:
            self.beginResetModel()
            self.rows = found
            self.endResetModel()

    def show_likeness(self, rows: Sequence[Id], most: NDArray[np.float64] | None) -> None:
        """Show how much the page of each of these rows is like another one; `None` for no pages."""
        before = self._alike is None
        if before and most is None:
            return
        self._alike = None if most is None else dict(zip(rows, most.tolist(), strict=True))
        if before != (self._alike is None):
            self.beginResetModel()
            self.endResetModel()
        elif self.rows:
            last = self.columnCount() - 1
            self.dataChanged.emit(self.index(0, last), self.index(len(self.rows) - 1, last))

    def place_of(self, row: Id) -> int:
        """Return where a row is shown; -1 if it is not."""
        return next((n for n, one in enumerate(self.rows) if one.id == row), -1)

    # What Qt asks

    def rowCount(self, parent: QModelIndex = _NOWHERE) -> int:
        return 0 if parent.isValid() else len(self.rows)

    def columnCount(self, parent: QModelIndex = _NOWHERE) -> int:
        if parent.isValid() or self.table is None:
            return 0
        return len(self.table.columns) + (self._alike is not None)

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        if self.table is None or not index.isValid():
            return None
        row, place = self.rows[index.row()], index.column()
        if place >= len(self.table.columns):
            return self._of_likeness(row, role)
        column, cell = self.table.columns[place], row.cells[place]
        if role == Qt.ItemDataRole.DisplayRole:
            return shown(column, cell, "", self._session.site.language).replace("\n", " ") or (
                tr("empty"))
        if role == Qt.ItemDataRole.EditRole:
            return cell
        if role == Qt.ItemDataRole.ForegroundRole and not cell:
            return QColor(tokens().ink_second)
        if role == Qt.ItemDataRole.TextAlignmentRole and column.kind in ("number", "money"):
            return _RIGHT
        return None

    def _of_likeness(self, row: TableRow, role: int) -> Any:
        share = (self._alike or {}).get(row.id)
        if role == Qt.ItemDataRole.DisplayRole:
            return tr("no page") if share is None else f"{percent(share)} %"
        if role == Qt.ItemDataRole.TextAlignmentRole:
            return _RIGHT
        if role == Qt.ItemDataRole.ForegroundRole:
            look = tokens()
            return QColor(look.ink_second if share is None
                          else look.fault if share >= FLOOR else look.good)
        return None

    def setData(self, index: QModelIndex, value: Any, role: int = Qt.ItemDataRole.EditRole) -> bool:
        if self.table is None or role != Qt.ItemDataRole.EditRole:
            return False
        table, row = self.table, self.rows[index.row()]
        column = table.columns[index.column()]
        words = str(value)
        if words == row.cells[index.column()]:
            return True
        return self._session.edit(
            tr("cell of {row}", row=table.label(row)),
            lambda site: set_cells(site, table.id, [(row.id, column.id, words)]))

    def headerData(self, section: int, orientation: Qt.Orientation,
                   role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        if role != Qt.ItemDataRole.DisplayRole or self.table is None:
            return None
        if orientation == Qt.Orientation.Vertical:
            return str(section + 1)
        if section >= len(self.table.columns):
            return tr("Like others")
        return self.table.columns[section].name

    def flags(self, index: QModelIndex) -> Qt.ItemFlag:
        fine = Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable
        own = self.table is not None and index.column() < len(self.table.columns)
        return fine | Qt.ItemFlag.ItemIsEditable if own else fine


def _has(row: TableRow, wanted: str) -> bool:
    low = wanted.casefold()
    return any(low in cell.casefold() for cell in row.cells)
