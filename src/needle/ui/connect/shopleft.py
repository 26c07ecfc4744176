"""The one letter to whoever left a cart."""

from typing import Any

from PyQt6.QtWidgets import QFormLayout, QPlainTextEdit

from needle.core.edit.shop import change_shop
from needle.core.site.site import Site
from needle.core.values.form import Role
from needle.core.values.shop import LeftCart
from needle.ui.cards import Card, button, label
from needle.ui.editors import ChoiceEdit, NumberEdit, WordsEdit
from needle.ui.language import tr
from needle.ui.session import Session

__all__ = ["LeftCard"]


class LeftCard(Card):
    """Asks by which tick people agree to it, what it says, and when it goes."""

    def __init__(self, session: Session) -> None:
        super().__init__(tr("A letter to whoever left a cart"))
        self._session = session
        self.consent = ChoiceEdit(tr("They agree by"), {}, inherit=False)
        self.service = ChoiceEdit(tr("Sent by"), {}, inherit=False)
        self.subject = WordsEdit(tr("Subject"))
        self.words = QPlainTextEdit()
        self.words.setAccessibleName(tr("Words"))
        self.words.setFixedHeight(64)
        self.words.setTabChangesFocus(True)
        self.hours = NumberEdit(tr("Hours after"), 1, 168, 1)
        self.hours.refused.connect(lambda words: session.said.emit(words, True))
        form = self._form = QFormLayout()
        form.setFieldGrowthPolicy(QFormLayout.FieldGrowthPolicy.AllNonFixedFieldsGrow)
        for edit in (self.consent, self.service, self.subject, self.words, self.hours):
            form.addRow(edit.accessibleName(), edit)
        self.body.addLayout(form)
        self.keep = button(tr("Use this letter"), self._keep)
        self.body.addWidget(self.keep)
        self._why = label("", "small", wrap=True)
        self.body.addWidget(self._why)
        self.consent.chosen.connect(lambda _: self._fit())

    def refresh(self) -> None:
        """Show the letter as it is."""
        site = self._session.site
        left = site.shop.left
        form = site.form(site.shop.form)
        ticks = {field.id: field.label for field in form.fields if field.role is Role.CONSENT} \
            if form is not None else {}
        mails = {one.id: one.name for one in site.services if one.does == "mail"}
        for edit, offered, chosen in (
                (self.consent, {"": tr("nobody is written to")} | ticks,
                 left.consent if left else ""),
                (self.service, mails, left.service if left else next(iter(mails), ""))):
            edit.clear()
            for key, words in offered.items():
                edit.addItem(words, key)
            edit.show_value(chosen)
        self.subject.show_words(left.subject if left else "")
        if not self.words.hasFocus():
            self.words.setPlainText(left.words if left else "")
        self.hours.show_value(left.hours if left else 4)
        keeps = form is not None and form.keep_unfinished
        self._why.setText(_why(bool(ticks), bool(mails), keeps))
        self._fit()

    def _fit(self) -> None:
        for edit in (self.service, self.subject, self.words, self.hours):
            self._form.setRowVisible(edit, bool(self.consent.currentData()))

    def _keep(self) -> None:
        consent = str(self.consent.currentData() or "")
        service, hours = str(self.service.currentData() or ""), self.hours.text().strip()
        fields: dict[str, Any] = {
            "consent": consent, "service": service, "words": self.words.toPlainText().strip(),
            "subject": " ".join(self.subject.text().split()),
            "hours": int(hours) if hours.isdecimal() else 4}

        def how(site: Site) -> Site:
            return change_shop(site, left=LeftCart(**fields) if consent and service else None)

        self._session.edit(tr("letter about carts that were left"), how)
        self.refresh()


def _why(ticks: bool, mails: bool, keeps: bool) -> str:
    """Return what is in the way, or what happens."""
    if not ticks:
        return tr("The form of the order has no field for consent. Add one in Forms that says what "
                  "they agree to.")
    if not mails:
        return tr("There is no mail service yet. Add one in Services.")
    if not keeps:
        return tr("The form of the order does not keep what was begun. Switch that on in Forms, "
                  "else nobody is known to have left.")
    return tr("Each person is written to once, if they ticked it and ordered nothing since. The "
              "letter has a link that brings their cart back.")
