"""Asking which words an advert's address may put in place of the chosen ones."""

from PyQt6.QtWidgets import QDialog, QFormLayout, QPlainTextEdit, QVBoxLayout, QWidget

from needle.core.edit.adverts import add_advert, advert_of, set_advert, value_lines
from needle.core.edit.place import EditError
from needle.core.site.site import Site
from needle.ui.cards import button, foot, label
from needle.ui.editors import ChoiceEdit, WordsEdit
from needle.ui.language import tr
from needle.ui.session import Session

__all__ = ["AdvertDialog"]


class AdvertDialog(QDialog):
    """Those that the site has, or new ones; their name in the address, and their values.

    Attributes:
        chosen: The id of the advert words that were put on the words; empty to take them off;
            `None` until it was answered.
    """

    def __init__(self, session: Session, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("Words from the advert"))
        self.resize(560, 440)
        self._session = session
        self.chosen: str | None = None
        adverts = session.site.adverts
        self.which = ChoiceEdit(tr("Which"), {
            "": tr("New ones"), **{one.id: f"{one.param}: {one.values[0].shown}, …"
                                   for one in adverts if one.values}}, inherit=False)
        self.which.chosen.connect(lambda _: self._show())
        self.param = WordsEdit(tr("Name in the address"))
        self.lines = QPlainTextEdit()
        self.lines.setAccessibleName(tr("What may stand there"))
        self.lines.setTabChangesFocus(True)
        self.lines.setPlaceholderText(tr("meteor shower = Sixty shooting stars an hour\n"
                                         "school trip = A night out for your class"))
        self.said = label("", "fault", wrap=True)
        self._lay_out()
        self._show()

    def _lay_out(self) -> None:
        form = QFormLayout()
        form.setFieldGrowthPolicy(QFormLayout.FieldGrowthPolicy.AllNonFixedFieldsGrow)
        form.addRow(tr("Which"), self.which)
        form.addRow(tr("Name in the address"), self.param)
        column = QVBoxLayout(self)
        column.setSpacing(8)
        column.addLayout(form)
        column.addWidget(label(tr(
            "A line each: what the address says, “=”, what the page shows for it. Nothing else "
            "ever stands there; for any other address the chosen words stay. Measure counts each "
            "by itself, in Journey."), "small", wrap=True))
        column.addWidget(self.lines, 1)
        column.addWidget(self.said)
        column.addLayout(foot(
            button(tr("Cancel"), self.reject), button(tr("Put on the words"), self._put, main=True),
            left=(button(tr("Take it off the words"), self._take_off),)))

    def _show(self) -> None:
        known = advert_of(self._session.site, str(self.which.currentData()))
        self.param.show_words(known.param if known else "utm_term")
        self.lines.setPlainText(value_lines(known) if known else "")
        self.said.setText("")

    def _put(self) -> None:
        site, known = self._session.site, str(self.which.currentData())
        param, lines = self.param.text(), self.lines.toPlainText()
        try:
            made = (set_advert(site, known, param, lines), known) if known else (
                add_advert(site, param, lines))
        except EditError as error:
            self.said.setText(str(error))
            return

        def how(now: Site) -> Site:
            return set_advert(now, known, param, lines) if known else made[0]

        self._session.edit(tr("words from the advert"), how)
        self.chosen = made[1]
        self.accept()

    def _take_off(self) -> None:
        self.chosen = ""
        self.accept()
