"""Asking where the columns of a file belong: into a new table, or into one that is there."""

from collections.abc import Mapping, Sequence

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QDialog,
    QFormLayout,
    QFrame,
    QGridLayout,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from needle.core.tables.csvfile import Sheet
from needle.core.tables.matching import FRESH, ID_COLUMN, Plan, plan_for
from needle.core.values.counting import counted
from needle.core.values.tables import Table
from needle.ui.builder.tables.kinds import (
    kind_choices,
    linked_kind,
    meaning_choices,
    parted_kind,
)
from needle.ui.cards import button, foot, label
from needle.ui.editors import ChoiceEdit, WordsEdit
from needle.ui.language import tr

__all__ = ["IntoDialog", "NewTableDialog"]

_SAMPLES, _SAMPLE = 3, 26
_TALLEST, _CHOICE = 460, 190


class _FileDialog(QDialog):
    """A line for each column of a file: its heading, its first cells, and what becomes of it."""

    def __init__(self, sheet: Sheet, title: str, heads: Sequence[str], parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle(title)
        self._sheet = sheet
        self._grid = QGridLayout()
        self._grid.setHorizontalSpacing(12)
        self._grid.setVerticalSpacing(5)
        for place, words in enumerate((tr("In the file"), tr("First cells"), *heads)):
            self._grid.addWidget(label(words, "small"), 0, place)
        for place, name in enumerate(sheet.names):
            self._grid.addWidget(label(name), place + 1, 0)
            self._grid.addWidget(label(self._samples(place), "dim"), place + 1, 1)
        self._grid.setColumnStretch(1, 1)
        for place in range(len(heads)):
            self._grid.setColumnMinimumWidth(place + 2, _CHOICE)
        self._grid.setRowStretch(len(sheet.names) + 1, 1)

    def _samples(self, place: int) -> str:
        cells = (" ".join(row[place].split()) for row in self._sheet.rows[:200])
        firsts = list(dict.fromkeys(filter(None, cells)))[:_SAMPLES]
        return " · ".join(one if len(one) <= _SAMPLE else f"{one[:_SAMPLE - 1]}…"
                          for one in firsts) or tr("empty")

    def _lay_out(self, above: QFormLayout, below: QFormLayout, said: str, done: str) -> None:
        inside = QWidget()
        inside.setLayout(self._grid)
        scroll = QScrollArea()
        scroll.setFrameShape(QFrame.Shape.NoFrame)
        scroll.setWidgetResizable(True)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        scroll.setWidget(inside)
        scroll.setMinimumHeight(min(_TALLEST, inside.sizeHint().height() + 4))
        column = QVBoxLayout(self)
        column.setSpacing(10)
        column.addLayout(above)
        column.addWidget(scroll, 1)
        column.addLayout(below)
        column.addWidget(label(said, "small", wrap=True))
        column.addLayout(foot(button(tr("Cancel"), self.reject),
                              button(done, self.accept, main=True)))
        self.resize(820, 10)


class NewTableDialog(_FileDialog):
    """Of which kind the columns of a new table are, and what they mean."""

    def __init__(self, sheet: Sheet, name: str, kinds: Sequence[str], of: Sequence[str],
                 means: Sequence[str], tables: Sequence[Table], parent: QWidget) -> None:
        """Offer what was guessed.

        Args:
            kinds, of, means: Of each column, as `made_table` takes them.
            tables: Those that are there, whose rows cells may name.
        """
        super().__init__(sheet, tr("Read a table"), (tr("Becomes"), tr("Means")), parent)
        self.name = WordsEdit(tr("Name of the table"), name)
        self.kinds: list[ChoiceEdit] = []
        self.meanings: list[ChoiceEdit] = []
        offered = kind_choices(tables) | {"": tr("left out")}
        for place, heading in enumerate(sheet.names):
            kind = ChoiceEdit(tr("Kind of {name}", name=heading), offered, inherit=False)
            kind.show_value(linked_kind("link", of[place]) if of[place] else kinds[place])
            meaning = ChoiceEdit(tr("What {name} means", name=heading), {}, inherit=False)
            kind.chosen.connect(lambda _, n=place: self._fit(n, ""))
            self.kinds.append(kind)
            self.meanings.append(meaning)
            self._fit(place, means[place])
            if heading == ID_COLUMN:
                kind.show_value("")
                kind.setEnabled(False)
            self._grid.addWidget(kind, place + 1, 2)
            self._grid.addWidget(meaning, place + 1, 3)
        above = QFormLayout()
        above.addRow(tr("Name of the table"), self.name)
        self._lay_out(above, QFormLayout(), tr(
            "{rows}. The first column names a row. What a column means is how lists find what is "
            "new or on sale, and how prices are worked out.",
            rows=counted(len(sheet.rows), "row")), tr("Read it"))

    def _fit(self, place: int, means: str) -> None:
        """Offer the meanings that a column's kind fits."""
        kind, _ = parted_kind(str(self.kinds[place].currentData()))
        edit = self.meanings[place]
        edit.clear()
        for key, words in meaning_choices(kind).items():
            edit.addItem(words, key)
        edit.show_value(means)
        edit.setEnabled(edit.count() > 1)

    def answers(self) -> tuple[tuple[str, ...], tuple[str, ...], tuple[str, ...]]:
        """Return kinds, meanings, and whose rows are named, of each column."""
        parted = [parted_kind(str(edit.currentData())) for edit in self.kinds]
        return (tuple(kind for kind, _ in parted),
                tuple(str(edit.currentData() or "") for edit in self.meanings),
                tuple(of for _, of in parted))


class IntoDialog(_FileDialog):
    """Into which columns of a table those of a file go, and which row is which."""

    def __init__(self, sheet: Sheet, table: Table, parent: QWidget) -> None:
        super().__init__(sheet, tr("Read into “{table}”", table=table.name), (tr("Goes into"),),
                         parent)
        plan = plan_for(table, sheet)
        offered: Mapping[str, str] = {**{one.id: one.name for one in table.columns},
                                      FRESH: tr("a new column"), "": tr("nowhere")}
        self.places: list[ChoiceEdit] = []
        for place, heading in enumerate(sheet.names):
            edit = ChoiceEdit(tr("Where {name} goes", name=heading), offered, inherit=False)
            edit.show_value(plan.where[place])
            self.places.append(edit)
            self._grid.addWidget(edit, place + 1, 2)
        by_id = {"": tr("the ids that Needle wrote")} if ID_COLUMN in sheet.names else {}
        self.key = ChoiceEdit(tr("Rows are told by"), {
            **by_id, **{one.id: one.name for one in table.columns}}, inherit=False)
        if not by_id:
            self.key.show_value(self._likely_key(table, plan))
        self.keeps = ChoiceEdit(tr("Rows that the file lacks"), {
            True: tr("stay"), False: tr("go")}, inherit=False)
        below = QFormLayout()
        below.addRow(tr("Rows are told by"), self.key)
        below.addRow(tr("Rows that the file lacks"), self.keeps)
        self._lay_out(QFormLayout(), below, tr(
            "{rows}. Where columns go is remembered: the next file with these headings arrives as "
            "this one.", rows=counted(len(sheet.rows), "row")), tr("Read it"))

    @staticmethod
    def _likely_key(table: Table, plan: Plan) -> str:
        """Return the first of the columns that name rows which the file has."""
        sku = table.meaning("sku")
        likely = [table.columns[0].id, *([sku.id] if sku is not None else [])]
        return next((one for one in likely if one in plan.where), table.columns[0].id)

    def plan(self) -> Plan:
        """Return what was chosen."""
        return Plan(tuple(str(edit.currentData() or "") for edit in self.places),
                    str(self.key.currentData() or ""), bool(self.keeps.currentData()))
