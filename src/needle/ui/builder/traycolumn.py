"""A column of the tray."""

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QVBoxLayout, QWidget

from needle.ui.words import Words

__all__ = ["TrayColumn", "dim_label"]


class TrayColumn(QWidget):
    """One column: a title and lines of a label with its editors."""

    def __init__(self, title: str) -> None:
        super().__init__()
        self.setObjectName("traycolumn")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        head = Words(title)
        head.setProperty("role", "title")
        self._grid = QGridLayout()
        self._grid.setHorizontalSpacing(5)
        self._grid.setVerticalSpacing(3)
        self._grid.setColumnStretch(1, 1)
        column = QVBoxLayout(self)
        column.setContentsMargins(8, 6, 2, 4)
        column.setSpacing(3)
        column.addWidget(head)
        column.addLayout(self._grid)
        column.addStretch()

    def add_line(self, label: QWidget, *editors: QWidget) -> None:
        """Add a line; the editors share the room beside the label."""
        row = self._grid.rowCount()
        self._grid.addWidget(label, row, 0)
        side = QHBoxLayout()
        side.setSpacing(3)
        for editor in editors:
            side.addWidget(editor)
        self._grid.addLayout(side, row, 1)

    def add_wide(self, editor: QWidget) -> None:
        """Add an editor that takes the whole line."""
        self._grid.addWidget(editor, self._grid.rowCount(), 0, 1, 2)


def dim_label(words: str) -> Words:
    """Return the label of a line."""
    label = Words(words)
    label.setProperty("role", "dim")
    return label
