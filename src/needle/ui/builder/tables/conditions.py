"""Asking which rows of a table have a page, or a part of one."""

from collections.abc import Iterable, Sequence

from PyQt6.QtWidgets import QCheckBox, QDialog, QHBoxLayout, QVBoxLayout, QWidget

from needle.core.tables.cells import CellError, taken
from needle.core.tables.goods import Linking
from needle.core.values.language import Language
from needle.core.values.tables import Condition, Table
from needle.ui.cards import button, foot, label
from needle.ui.editors import ChoiceEdit, WordsEdit
from needle.ui.language import tr

__all__ = ["ConditionsDialog"]

_TESTS = {"is": tr("is"), "isnt": tr("is not"), "has": tr("has in it"), "more": tr("is more than"),
          "less": tr("is less than"), "filled": tr("is filled in"), "empty": tr("is empty")}
# Of rows of another table that link to the row.
_LINKED = {"linked": tr("there are some"), "unlinked": tr("there are none")}
_BARE = ("filled", "empty", *_LINKED)
_MOST = 4


class _Line(QHBoxLayout):
    """One condition: a column, a test, a value."""

    def __init__(self, number: int, table: Table, linking: Sequence[Linking]) -> None:
        super().__init__()
        self._linking = {one.column.id for one in linking}
        self.which = ChoiceEdit(tr("Column {number}", number=number), {
            "": tr("any"), **{one.id: one.name for one in table.columns},
            **{one.column.id: tr("Rows of “{table}”", table=one.table.name)
               for one in linking}}, inherit=False)
        self.test = ChoiceEdit(tr("Test {number}", number=number), _TESTS, inherit=False)
        self.value = WordsEdit(tr("Value {number}", number=number))
        for widget, stretch in ((self.which, 2), (self.test, 2), (self.value, 3)):
            self.addWidget(widget, stretch)
        for edit in (self.which, self.test):
            edit.chosen.connect(lambda _: self._fit())
        self._fit()

    def show_condition(self, condition: Condition) -> None:
        """Show a condition."""
        self.which.show_value(condition.column)
        self._fit()
        self.test.show_value(condition.test)
        self.value.show_words(condition.value)
        self._fit()

    def _fit(self) -> None:
        column, test = str(self.which.currentData()), self.test.currentData()
        offered = _LINKED if column in self._linking else _TESTS
        if test not in offered:
            self.test.clear()
            for key, words in offered.items():
                self.test.addItem(words, key)
        self.test.setEnabled(bool(column))
        self.value.setEnabled(bool(column) and self.test.currentData() not in _BARE)

    def condition(self, table: Table, language: Language) -> Condition | None:
        """Return what stands there, its value in the form of the column; `None` for nothing.

        Raises:
            CellError: The value is none that the column takes.
        """
        column, test = str(self.which.currentData() or ""), str(self.test.currentData())
        if not column:
            return None
        own = table.column(column)
        words = self.value.text().strip()
        if test in _BARE:
            words = ""
        elif own is not None and test != "has":  # Part of a text need be no whole value.
            words = taken(own, words, language)
        return Condition(column=column, test=test, value=words)


class ConditionsDialog(QDialog):
    """A few conditions, all of which a row must meet.

    Attributes:
        conditions: What was chosen, once it was accepted.
    """

    def __init__(self, title: str, said: str, table: Table, linking: Sequence[Linking],
                 conditions: Iterable[Condition], language: Language, parent: QWidget,
                 besides: bool | None = None) -> None:
        """Show conditions.

        Args:
            linking: The tables that link to this one.
            besides: Rows have the page besides others; `None` does not ask it.
        """
        super().__init__(parent)
        self.setWindowTitle(title)
        self._table, self._language = table, language
        self.conditions = tuple(conditions)
        self.said = label("", "fault", wrap=True)
        column = QVBoxLayout(self)
        column.setSpacing(8)
        column.addWidget(label(said, "small", wrap=True))
        self.lines = [_Line(number + 1, table, linking)
                      for number in range(max(_MOST, len(self.conditions)))]
        for line in self.lines:
            column.addLayout(line)
        for line, condition in zip(self.lines, self.conditions, strict=False):
            line.show_condition(condition)
        self.alone = QCheckBox(tr("These rows have this page alone, not also those of their table "
                                  "whose conditions are fewer"))
        self.alone.setChecked(not besides)
        self.alone.setVisible(besides is not None)
        column.addWidget(self.alone)
        column.addWidget(self.said)
        column.addLayout(foot(button(tr("Cancel"), self.reject),
                              button(tr("Keep them"), self._keep, main=True)))
        self.resize(600, 10)

    @property
    def besides(self) -> bool:
        """Whether rows have the page besides others of their table."""
        return not self.alone.isChecked()

    def _keep(self) -> None:
        """Take what stands there; or say what is wrong."""
        found = []
        for line in self.lines:
            try:
                condition = line.condition(self._table, self._language)
            except CellError as error:
                self.said.setText(f"{line.which.currentText()}: {error}")
                return
            if condition is not None:
                found.append(condition)
        self.conditions = tuple(found)
        self.accept()
