"""What is offered beside an order."""

from PyQt6.QtWidgets import QCheckBox, QFormLayout

from needle.core.edit.shop import change_shop
from needle.core.site.site import Site
from needle.core.tables.goods import linked_to
from needle.core.values.shop import Extra
from needle.ui.cards import Card, label
from needle.ui.editors import ChoiceEdit, WordsEdit
from needle.ui.language import tr
from needle.ui.session import Session

__all__ = ["ExtraCard"]


class ExtraCard(Card):
    """Asks which thing is offered to whoever orders another, and for how much less."""

    def __init__(self, session: Session) -> None:
        super().__init__(tr("Offered beside an order"))
        self._session = session
        self.thing = ChoiceEdit(tr("Thing"), {}, inherit=False)
        self.percent = WordsEdit(tr("Less, in percent"))
        self.percent.setPlaceholderText("20")
        self.words = WordsEdit(tr("Why they might want it"))
        self.before = QCheckBox(tr("With the cart"))
        self.after = QCheckBox(tr("Once something was ordered, with one click and a confirmation"))
        self.thing.chosen.connect(self._choose)
        self.percent.kept.connect(
            lambda words: self._set(percent=words.strip().replace(",", ".")))
        self.words.kept.connect(lambda words: self._set(words=" ".join(words.split())))
        self.before.clicked.connect(lambda on: self._set(before=on))
        self.after.clicked.connect(lambda on: self._set(after=on))
        form = self._form = QFormLayout()
        form.setFieldGrowthPolicy(QFormLayout.FieldGrowthPolicy.AllNonFixedFieldsGrow)
        for edit in (self.thing, self.percent, self.words):
            form.addRow(edit.accessibleName(), edit)
        form.addRow("", self.before)
        form.addRow("", self.after)
        self.body.addLayout(form)
        self.body.addWidget(label(tr(
            "One piece costs less for whoever orders something else as well. What is often bought "
            "with a thing is offered with the cart by itself, once the order book told the table."),
            "small", wrap=True))

    def refresh(self) -> None:
        """Show what is offered."""
        site = self._session.site
        extra = site.shop.extra
        self.thing.clear()
        for key, words in ({"": tr("nothing")} | _things(site)).items():
            self.thing.addItem(words, key)
        self.thing.show_value(extra.key if extra is not None else "")
        for edit in (self.percent, self.words, self.before, self.after):
            self._form.setRowVisible(edit, extra is not None)
        if extra is not None:
            self.percent.show_words(extra.percent)
            self.words.show_words(extra.words)
            self.before.setChecked(extra.before)
            self.after.setChecked(extra.after)

    def _choose(self, key: object) -> None:
        row, _, option = str(key or "").partition(".")

        def how(site: Site) -> Site:
            return change_shop(site, extra=Extra(row=row, option=option) if row else None)

        self._session.edit(tr("offered beside an order"), how)
        self.refresh()

    def _set(self, **fields: object) -> None:
        extra = self._session.site.shop.extra
        if extra is not None:
            made = {"row": extra.row, "option": extra.option, "percent": extra.percent,
                    "words": extra.words, "before": extra.before, "after": extra.after} | fields
            self._session.edit(tr("offered beside an order"), lambda site: change_shop(
                site, extra=Extra(**made)))  # type: ignore[arg-type]
            self.refresh()


def _things(site: Site) -> dict[str, str]:
    """Return what is sold, by the key of a cart's line: options one by one."""
    table = site.table(site.shop.table)
    found: dict[str, str] = {}
    for row in table.rows if table is not None else ():
        assert table is not None
        name = table.label(row)
        linking, linked = linked_to(site, table, row)
        options = [(one.table.label(option), option.id)
                   for one, rows in zip(linking, linked, strict=True) if one.options
                   for option in rows]
        found |= {f"{row.id}.{key}": f"{name}, {option}" for option, key in options} \
            or {row.id: name}
    return found
