"""Asking which rows of a table have a page."""

from PyQt6.QtWidgets import QDialog, QHBoxLayout, QVBoxLayout, QWidget

from needle.core.site.site import Page
from needle.core.tables.cells import CellError, taken
from needle.core.values.language import Language
from needle.core.values.tables import Condition, Table
from needle.ui.cards import button, foot, label
from needle.ui.editors import ChoiceEdit, WordsEdit
from needle.ui.language import tr

__all__ = ["ConditionsDialog"]

_TESTS = {"is": tr("is"), "isnt": tr("is not"), "has": tr("has in it"), "more": tr("is more than"),
          "less": tr("is less than"), "filled": tr("is filled in"), "empty": tr("is empty")}
_BARE = ("filled", "empty")
_MOST = 4


class ConditionsDialog(QDialog):
    """A few conditions, all of which a row must meet.

    Attributes:
        conditions: What was chosen, once it was accepted.
    """

    def __init__(self, page: Page, table: Table, language: Language, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("Which rows have a page"))
        self._table, self._language = table, language
        self.conditions: tuple[Condition, ...] = page.master.only
        self.lines: list[tuple[ChoiceEdit, ChoiceEdit, WordsEdit]] = []
        self.said = label("", "fault", wrap=True)
        column = QVBoxLayout(self)
        column.setSpacing(8)
        column.addWidget(label(tr("Rows that meet all of these; without any, all rows."), "small"))
        for number in range(max(_MOST, len(page.master.only))):
            column.addLayout(self._line(number, page.master.only[number:number + 1]))
        column.addWidget(self.said)
        column.addLayout(foot(button(tr("Cancel"), self.reject),
                              button(tr("Keep them"), self._keep, main=True)))
        self.resize(560, 10)

    def _line(self, number: int, held: tuple[Condition, ...]) -> QHBoxLayout:
        which = ChoiceEdit(tr("Column {number}", number=number + 1), {
            "": tr("any"), **{one.id: one.name for one in self._table.columns}}, inherit=False)
        test = ChoiceEdit(tr("Test {number}", number=number + 1), _TESTS, inherit=False)
        value = WordsEdit(tr("Value {number}", number=number + 1))
        for one in held:
            which.show_value(one.column)
            test.show_value(one.test)
            value.show_words(one.value)
        row = QHBoxLayout()
        row.addWidget(which, 2)
        row.addWidget(test, 2)
        row.addWidget(value, 3)

        def fit() -> None:
            value.setEnabled(bool(which.currentData()) and test.currentData() not in _BARE)
            test.setEnabled(bool(which.currentData()))

        for edit in (which, test):
            edit.chosen.connect(lambda _: fit())
        fit()
        self.lines.append((which, test, value))
        return row

    def _keep(self) -> None:
        """Take what stands there, each value in the form of its column; or say what is wrong."""
        found = []
        for which, test, value in self.lines:
            column = self._table.column(str(which.currentData()))
            if column is None:
                continue
            kind = str(test.currentData())
            try:
                # Part of a text need be no whole value.
                words = value.text().strip() if kind == "has" else "" if kind in _BARE \
                    else taken(column, value.text(), self._language)
            except CellError as error:
                self.said.setText(f"{column.name}: {error}")
                return
            found.append(Condition(column=column.id, test=kind, value=words))
        self.conditions = tuple(found)
        self.accept()
