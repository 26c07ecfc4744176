"""The log, as a window shows it."""

from pathlib import Path

from PyQt6.QtGui import QTextCursor
from PyQt6.QtWidgets import QDialog, QHBoxLayout, QPlainTextEdit, QVBoxLayout, QWidget

from needle.store.logs import log_file
from needle.ui.cards import button
from needle.ui.editors import ChoiceEdit
from needle.ui.language import tr
from needle.ui.words import Words

__all__ = ["LogView"]

_LOGS = {"window": tr("This window"), "host": tr("The host")}
_SHOWN = 200_000


class LogView(QDialog):
    """The newest lines of a log, plain and to be copied."""

    def __init__(self, parent: QWidget | None) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("Log"))
        self.which = ChoiceEdit(tr("Whose log"), _LOGS, inherit=False)
        self.which.show_value("window")
        self.which.setMinimumContentsLength(12)
        self.which.chosen.connect(lambda _: self.refresh())
        self._place = Words()
        self._place.setProperty("role", "mono")
        self.lines = QPlainTextEdit()
        self.lines.setReadOnly(True)
        self.lines.setAccessibleName(tr("Log"))
        self.lines.setProperty("role", "mono")
        head = QHBoxLayout()
        head.addWidget(self.which)
        head.addWidget(self._place, 1)
        head.addWidget(button(tr("Read again"), self.refresh))
        column = QVBoxLayout(self)
        column.addLayout(head)
        column.addWidget(self.lines, 1)
        self.resize(860, 520)
        self.refresh()

    def refresh(self) -> None:
        """Read the log again."""
        path = log_file(str(self.which.currentData()))
        self._place.setText(str(path))
        self.lines.setPlainText(_newest(path) or tr("Nothing has been written yet."))
        self.lines.moveCursor(QTextCursor.MoveOperation.End)


def _newest(path: Path) -> str:
    try:
        with path.open("rb") as file:
            file.seek(max(0, path.stat().st_size - _SHOWN))
            return file.read().decode("utf-8", "replace")
    except OSError:
        return ""
