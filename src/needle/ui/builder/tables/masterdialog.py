"""Asking of which table a page becomes one for each row."""

from typing import Any

from PyQt6.QtWidgets import QDialog, QFormLayout, QVBoxLayout, QWidget

from needle.core.tables.mastering import best_row
from needle.core.values.tables import Table
from needle.ui.cards import button, foot, label
from needle.ui.editors import ChoiceEdit
from needle.ui.language import tr
from needle.ui.session import Session

__all__ = ["MasterDialog"]


class MasterDialog(QDialog):
    """Which table, and whose words stand on the page now."""

    def __init__(self, session: Session, table: Table | None, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("One page for each row"))
        self._session = session
        tables = session.site.tables
        self.which = ChoiceEdit(tr("Table"), {one.id: one.name for one in tables}, inherit=False)
        self.which.show_value(table.id if table is not None else tables[-1].id)
        self.row = ChoiceEdit(tr("Whose words are on it"), {}, inherit=False)
        self.which.chosen.connect(lambda _: self._show())
        form = QFormLayout()
        form.setFieldGrowthPolicy(QFormLayout.FieldGrowthPolicy.AllNonFixedFieldsGrow)
        form.addRow(tr("Table"), self.which)
        form.addRow(tr("Whose words are on it"), self.row)
        column = QVBoxLayout(self)
        column.setSpacing(8)
        column.addLayout(form)
        column.addWidget(label(tr(
            "Wherever the page has the words of that row, each page shows those of its own row: "
            "in words, title, description and address. More can be chosen afterwards."),
            "small", wrap=True))
        column.addLayout(foot(button(tr("Cancel"), self.reject),
                              button(tr("Make them"), self.accept, main=True)))
        self.resize(460, 210)
        self._show()

    @property
    def table(self) -> Table:
        """The chosen table."""
        found = self._session.site.table(str(self.which.currentData()))
        assert found is not None
        return found

    def _show(self) -> None:
        table: Any = self.table
        self.row.clear()
        for row in table.rows[:2000]:
            self.row.addItem(table.label(row), row.id)
        best = best_row(self._session.page, table)
        if best is not None:
            self.row.show_value(best.id)
