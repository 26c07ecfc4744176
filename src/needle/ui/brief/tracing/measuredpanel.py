"""What was measured last, at the side: in words, as a colour, to copy or to take."""

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QApplication, QHBoxLayout, QVBoxLayout, QWidget

from needle.ui.cards import button, label
from needle.ui.language import tr
from needle.ui.words import Words

__all__ = ["MeasuredPanel"]


class MeasuredPanel(QWidget):
    """Shows a measure.

    Signals:
        taken: The colour is to be the main one.

    Attributes:
        told, more: The labels that say it.
    """

    taken = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self._chip = Words()
        self._chip.setFixedHeight(26)
        self.told = label("", "big", wrap=True)
        self.more = label("", "small", wrap=True)
        self._use = button(tr("Take as the main colour"),
                           lambda: self.taken.emit(self.told.text()))
        self._copy = button(tr("Copy"), self._copy_it)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(5)
        for widget in (label(tr("Measured"), "title"), self._chip, self.told, self.more):
            column.addWidget(widget)
        line = QHBoxLayout()
        line.addWidget(self._copy)
        line.addWidget(self._use)
        line.addStretch()
        column.addLayout(line)

    def tell(self, words: str, more: str, colour: str = "") -> None:
        """Show a measure and, if it is one, its colour."""
        self.told.setText(words)
        self.more.setText(more)
        self._chip.setVisible(bool(colour))
        self._chip.setStyleSheet(f"background: {colour}; border: 1px solid palette(mid)"
                                 if colour else "")
        self._use.setVisible(bool(colour))
        self._copy.setVisible(bool(words))

    def _copy_it(self) -> None:
        clipboard = QApplication.clipboard()
        assert clipboard is not None
        clipboard.setText(self.told.text().removesuffix(" type").removesuffix(" px"))
