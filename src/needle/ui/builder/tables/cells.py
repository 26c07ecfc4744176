"""Editing one cell: long text in several lines, choices and pictures from a list."""

from collections.abc import Callable

from PyQt6.QtCore import QAbstractItemModel, QEvent, QModelIndex, QObject, Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import (
    QComboBox,
    QPlainTextEdit,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QWidget,
)

from needle.core.values.tables import TableColumn

__all__ = ["CellEditing"]

_LINES_HIGH = 132


class CellEditing(QStyledItemDelegate):
    """Gives each kind of column its editor."""

    def __init__(self, column_of: Callable[[int], TableColumn | None],
                 pictures: Callable[[], list[str]],
                 linked: Callable[[TableColumn], list[str]], parent: QWidget) -> None:
        """Prepare to edit.

        Args:
            column_of: Returns the column at a place.
            pictures: Returns the names of the pictures that the site has.
            linked: Returns what the rows are called that a column's cells may name.
        """
        super().__init__(parent)
        self._column_of, self._pictures, self._linked = column_of, pictures, linked

    def createEditor(self, parent: QWidget | None, option: QStyleOptionViewItem,
                     index: QModelIndex) -> QWidget | None:
        column = self._column_of(index.column())
        if column is None:
            return None
        if column.kind == "long":
            lines = QPlainTextEdit(parent)
            lines.setAccessibleName(column.name)
            lines.setTabChangesFocus(True)
            return lines
        offered = {"choice": list(column.choices), "yes": ["yes", "no"]}.get(column.kind) or (
            self._pictures() if column.kind == "picture" else
            self._linked(column) if column.kind == "link" else [])
        if offered:
            box = QComboBox(parent)
            box.setEditable(column.kind != "yes")
            box.addItem("")
            box.addItems(offered)
            box.setAccessibleName(column.name)
            return box
        made = super().createEditor(parent, option, index)
        if made is not None:
            made.setAccessibleName(column.name)
        return made

    def updateEditorGeometry(self, editor: QWidget | None, option: QStyleOptionViewItem,
                             index: QModelIndex) -> None:
        super().updateEditorGeometry(editor, option, index)
        if isinstance(editor, QPlainTextEdit):
            editor.resize(max(editor.width(), 320), _LINES_HIGH)

    def setEditorData(self, editor: QWidget | None, index: QModelIndex) -> None:
        words = str(index.data(Qt.ItemDataRole.EditRole) or "")
        if isinstance(editor, QPlainTextEdit):
            editor.setPlainText(words)
        elif isinstance(editor, QComboBox):
            place = editor.findText(words)
            if place >= 0:
                editor.setCurrentIndex(place)
            else:
                editor.setEditText(words)
        else:
            super().setEditorData(editor, index)

    def setModelData(self, editor: QWidget | None, model: QAbstractItemModel | None,
                     index: QModelIndex) -> None:
        if isinstance(editor, QPlainTextEdit) and model is not None:
            model.setData(index, editor.toPlainText())
        elif isinstance(editor, QComboBox) and model is not None:
            model.setData(index, editor.currentText())
        else:
            super().setModelData(editor, model, index)

    def eventFilter(self, editor: QObject | None, event: QEvent | None) -> bool:
        # In several lines Enter goes to the next one; with Ctrl it is done.
        if isinstance(editor, QPlainTextEdit) and isinstance(event, QKeyEvent) and (
                event.type() == QEvent.Type.KeyPress
                and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter)
                and not event.modifiers() & Qt.KeyboardModifier.ControlModifier):
            return False
        return super().eventFilter(editor, event)

