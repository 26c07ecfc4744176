"""Asking what a page that is taken off leaves at its address."""

from collections.abc import Mapping, Sequence

from PyQt6.QtWidgets import QDialog, QHBoxLayout, QRadioButton, QVBoxLayout, QWidget

from needle.core.values.ids import Id
from needle.ui.cards import button, foot, label
from needle.ui.hearing import NamedCombo
from needle.ui.language import tr

__all__ = ["LeavingDialog"]


class LeavingDialog(QDialog):
    """Three ways: it leads to another page, it is gone for good, or nothing is said of it."""

    def __init__(self, name: str, others: Sequence[tuple[Id, str]], parent: QWidget) -> None:
        """Ask about a page.

        Args:
            others: Id and name of the pages that are still live.
        """
        super().__init__(parent)
        self.setWindowTitle(tr("Take “{name}” off", name=name))
        self._on = QRadioButton(tr("Its address leads to another page (301)"))
        self._page = NamedCombo(tr("The page that it leads to"))
        for key, words in others:
            self._page.addItem(words, key)
        self._gone = QRadioButton(tr("It is gone for good (410): searches forget it soon"))
        self._nothing = QRadioButton(tr("Nothing is there any more (404): it may come back"))
        self._on.setEnabled(bool(others))
        self._page.setEnabled(bool(others))
        (self._on if others else self._gone).setChecked(True)
        column = QVBoxLayout(self)
        column.setSpacing(8)
        column.addWidget(label(tr("Whoever follows an old link to it:"), "small"))
        line = QHBoxLayout()
        line.addWidget(self._on)
        line.addWidget(self._page, 1)
        column.addLayout(line)
        column.addWidget(self._gone)
        column.addWidget(self._nothing)
        column.addLayout(foot(button(tr("Leave it on"), self.reject),
                              button(tr("Take it off"), self.accept, main=True)))

    def leads(self, page: Id) -> Mapping[Id, Id]:
        """Return where the address of a page leads, as `take_off` takes it."""
        if self._nothing.isChecked():
            return {}
        return {page: str(self._page.currentData()) if self._on.isChecked() else ""}
