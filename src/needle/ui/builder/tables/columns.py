"""Asking about columns: which one stands for words, and of which kind one is."""

from collections.abc import Mapping, Sequence

from PyQt6.QtWidgets import QDialog, QFormLayout, QVBoxLayout, QWidget

from needle.core.site.site import Page, Site
from needle.core.tables.cells import plural_categories
from needle.core.tables.rowwords import columns_in_reach
from needle.core.values.about import ABOUT_KINDS
from needle.core.values.language import Language
from needle.core.values.tables import SHAPES, Fact, Table, TableColumn
from needle.ui.builder.tables.kinds import (
    kind_choices,
    linked_kind,
    meaning_choices,
    parted_kind,
)
from needle.ui.cards import button, foot, label
from needle.ui.editors import ChoiceEdit, WordsEdit
from needle.ui.language import tr
from needle.ui.words import set_tip

__all__ = ["ChipDialog", "ColumnDialog", "FactsDialog"]


class ChipDialog(QDialog):
    """Which column's value stands in place of the chosen words, and how it is written out.

    Attributes:
        chosen: Column and shape, parted by "|"; empty to have the words alone again; `None` until
            it was answered.
    """

    def __init__(self, site: Site, table: Table, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("A column's value"))
        self.chosen: str | None = None
        self.column = ChoiceEdit(tr("Column"), columns_in_reach(site, table), inherit=False)
        self.shape = ChoiceEdit(tr("Written"), {key: tr(words) for key, words in SHAPES.items()},
                                inherit=False)
        form = QFormLayout()
        form.addRow(tr("Column"), self.column)
        form.addRow(tr("Written"), self.shape)
        column = QVBoxLayout(self)
        column.setSpacing(8)
        column.addLayout(form)
        column.addWidget(label(tr("Each row's page shows its own value there. Where a row has "
                                  "none, the chosen words stay."), "small", wrap=True))
        column.addLayout(foot(
            button(tr("Cancel"), self.reject), button(tr("Put on the words"), self._put, main=True),
            left=(button(tr("Take it off the words"), self._take_off),)))

    def _put(self) -> None:
        self.chosen = f"{self.column.currentData()}|{self.shape.currentData() or ''}"
        self.accept()

    def _take_off(self) -> None:
        self.chosen = ""
        self.accept()


_FACTS: Mapping[str, Mapping[str, tuple[str, ...]]] = {
    "event": {"name": ("text",), "starts": ("date",), "ends": ("date",), "place": ("text",),
              "street": ("text",), "price": ("money", "number")},
    "product": {"name": ("text",), "price": ("money", "number")},
    "business": {"name": ("text",), "street": ("text", "long"), "phone": ("text",),
                 "hours": ("text", "long"), "map": ("address", "text")}}
_CALLED = {"street": "Where that is", "phone": "Telephone", "hours": "Open"}


class FactsDialog(QDialog):
    """Which columns searches are told of: an event's days and places, a product's price, where
    and when a business is open."""

    def __init__(self, page: Page, table: Table, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("What searches are told"))
        held = {one.field: one.column for one in page.master.facts}
        self.kind = ChoiceEdit(tr("It is"), {key: tr(words) for key, words in ABOUT_KINDS.items()},
                               inherit=False)
        self.kind.show_value(page.about.kind)
        self.fields: dict[str, ChoiceEdit] = {}
        self._form = QFormLayout()
        self._form.setFieldGrowthPolicy(QFormLayout.FieldGrowthPolicy.AllNonFixedFieldsGrow)
        self._form.addRow(tr("It is"), self.kind)
        for field, kinds in {**_FACTS["event"], **_FACTS["business"]}.items():
            words = tr(_CALLED.get(field, field.capitalize()))
            edit = ChoiceEdit(words, {"": tr("as on the page itself"), **{
                one.id: one.name for one in table.columns if one.kind in kinds}}, inherit=False)
            edit.show_value(held.get(field, ""))
            self.fields[field] = edit
            self._form.addRow(words, edit)
        self.kind.chosen.connect(lambda _: self._show())
        column = QVBoxLayout(self)
        column.setSpacing(8)
        column.addLayout(self._form)
        column.addLayout(foot(button(tr("Cancel"), self.reject),
                              button(tr("Tell them"), self.accept, main=True)))
        self.resize(360, 10)
        self._show()

    def _show(self) -> None:
        fit = _FACTS.get(str(self.kind.currentData()), {})
        for field, edit in self.fields.items():
            self._form.setRowVisible(edit, field in fit)

    def facts(self) -> tuple[Fact, ...]:
        """Return what was chosen."""
        fit = _FACTS.get(str(self.kind.currentData()), {})
        return tuple(Fact(field=field, column=str(edit.currentData()))
                     for field, edit in self.fields.items() if field in fit and edit.currentData())


def _forms(language: Language) -> str:
    """Return an example of the forms that a language has."""
    forms = {"zero": tr("no seats"), "one": tr("seat"), "two": tr("seats (two)"),
             "few": tr("seats (a few)"), "many": tr("seats (many)"), "other": tr("seats")}
    return ", ".join(forms[one] for one in plural_categories(language))


class ColumnDialog(QDialog):
    """What a column is called, of which kind it is, and what it means."""

    def __init__(self, column: TableColumn | None, tables: Sequence[Table], language: Language,
                 parent: QWidget) -> None:
        """Show a column.

        Args:
            tables: Those whose rows its cells may name.
            language: That of the site: how many forms its words have for numbers.
        """
        super().__init__(parent)
        self.setWindowTitle(tr("Column") if column else tr("New column"))
        self.name = WordsEdit(tr("Name"), column.name if column else "")
        self.kind = ChoiceEdit(tr("Kind"), kind_choices(tables), inherit=False)
        self.kind.show_value("text" if column is None else
                             linked_kind(column.kind, column.of))
        self.means = ChoiceEdit(tr("Means"), {}, inherit=False)
        self.counts = WordsEdit(tr("Counts"), ", ".join(column.counts) if column else "")
        self.counts.setPlaceholderText(_forms(language))
        set_tip(self.counts, tr("What the number counts, in each form that the language of the "
                                "site has for numbers: {forms}. Written “With what it counts”.",
                                forms=_forms(language)))
        form = self._form = QFormLayout(self)
        form.setFieldGrowthPolicy(QFormLayout.FieldGrowthPolicy.AllNonFixedFieldsGrow)
        form.addRow(tr("Name"), self.name)
        form.addRow(tr("Kind"), self.kind)
        form.addRow(tr("Means"), self.means)
        form.addRow(tr("Counts"), self.counts)
        self.kind.chosen.connect(lambda _: self._fit(""))
        self._fit(column.means if column else "")
        form.addRow(foot(button(tr("Cancel"), self.reject),
                         button(tr("Keep it") if column else tr("Add it"), self.accept,
                                main=True)))
        self.resize(380, 10)

    def _fit(self, means: str) -> None:
        self.means.clear()
        for key, words in meaning_choices(self.answers()[0]).items():
            self.means.addItem(words, key)
        self.means.show_value(means)
        self.means.setEnabled(self.means.count() > 1)
        self._form.setRowVisible(self.counts, self.answers()[0] == "number")

    def counted(self) -> tuple[str, ...]:
        """Return what the number counts, in its forms."""
        return tuple(tidy[:60] for form in self.counts.text().split(",")
                     if (tidy := " ".join(form.split())))

    def answers(self) -> tuple[str, str, str]:
        """Return the kind, the table whose rows it names, and what it means."""
        kind, of = parted_kind(str(self.kind.currentData()))
        return kind, of, str(self.means.currentData() or "")
