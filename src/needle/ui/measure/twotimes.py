"""Asking for two times that are held against each other."""

from datetime import date, timedelta

from PyQt6.QtCore import QDate
from PyQt6.QtWidgets import QDateEdit, QDialog, QFormLayout, QHBoxLayout, QVBoxLayout, QWidget

from needle.ui.cards import button, foot, label
from needle.ui.language import tr

__all__ = ["EPOCH", "TwoTimesDialog"]

EPOCH = date(1970, 1, 1)
_MOST_DAYS = 731


class _Day(QDateEdit):
    """A date. Tab leaves it; the arrows go from part to part."""

    def __init__(self, name: str, day: int) -> None:
        shown = EPOCH + timedelta(days=day)
        super().__init__(QDate(shown.year, shown.month, shown.day))
        self.setDisplayFormat("d MMM yyyy")
        self.setCalendarPopup(True)
        self.setAccessibleName(name)

    def focusNextPrevChild(self, forward: bool) -> bool:
        return QWidget.focusNextPrevChild(self, forward)

    def day(self) -> int:
        """Return it as days since 1970."""
        told = self.date()
        return (date(told.year(), told.month(), told.day()) - EPOCH).days


class TwoTimesDialog(QDialog):
    """From and to, twice.

    Attributes:
        times: First and last day of the one, first and last day of the other, since 1970.
    """

    def __init__(self, times: tuple[int, int, int, int], parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("Two times"))
        self.setMinimumWidth(420)
        self.times = times
        self.days = [_Day(name, day) for name, day in zip(
            (tr("First day"), tr("Last day"), tr("First day of the other time"),
             tr("Last day of the other time")), times, strict=True)]
        form = QFormLayout()
        for words, first, last in ((tr("Show"), self.days[0], self.days[1]),
                                   (tr("Against"), self.days[2], self.days[3])):
            line = QHBoxLayout()
            line.addWidget(first, 1)
            line.addWidget(label(tr("to"), "dim"))
            line.addWidget(last, 1)
            form.addRow(words, line)
        self.said = label("", "fault", wrap=True)
        column = QVBoxLayout(self)
        column.addLayout(form)
        column.addWidget(label(tr("Days are those of UTC. Times need not be of one length: shares "
                                  "are compared."), "small", wrap=True))
        column.addWidget(self.said)
        column.addLayout(foot(button(tr("Cancel"), self.reject),
                              button(tr("Show them"), self._take, main=True)))

    def _take(self) -> None:
        first, last, other_first, other_last = (one.day() for one in self.days)
        if last < first or other_last < other_first:
            self.said.setText(tr("A time ends before it begins: choose a later last day."))
        elif max(last - first, other_last - other_first) >= _MOST_DAYS:
            self.said.setText(tr("At most two years are shown at once."))
        elif first <= other_last and other_first <= last:
            self.said.setText(tr("The two times share days: visits of those would be held against "
                                 "themselves."))
        else:
            self.times = (first, last, other_first, other_last)
            self.accept()
