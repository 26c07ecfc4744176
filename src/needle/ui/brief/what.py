"""What the site is for: the words that everything else draws on."""

from PyQt6.QtCore import QSignalBlocker, pyqtSignal
from PyQt6.QtWidgets import QLineEdit, QPlainTextEdit, QVBoxLayout, QWidget

from needle.core.edit.invented import placeholders
from needle.core.edit.whole import brief_fault, set_brief, set_language, set_site_name
from needle.core.messages.catalogue import languages
from needle.core.messages.formats import language_name
from needle.core.progress import brief_gaps
from needle.core.values.language import LANGUAGES
from needle.ui.cards import button, label, panel, repaint_role, scrolled
from needle.ui.editors import WordsEdit
from needle.ui.hearing import NamedCombo
from needle.ui.language import tr
from needle.ui.session import Session

__all__ = ["WhatFor"]

_PARTS = (("idea", tr("In a sentence or two"), 80, ""),
          ("call_to_action", tr("The one thing a visitor should do"), 0, tr("Ask for a visit")),
          ("audience", tr("Who it is for"), 48, ""),
          ("facts", tr("What they come to find out, one thing a line"), 92, ""),
          ("phrases", tr("Key phrases, parted by commas"), 0, ""),
          ("voice", tr("Voice"), 0, tr("warm, exact, a little dry")),
          ("deadline", tr("Ends on"), 0, tr("2026-12-31, or empty")),
          ("links", tr("Links that pages may use, one a line"), 44, ""))


class WhatFor(QWidget):
    """The words of the brief, at the left of the stage.

    Signals:
        placeholder_asked: Show the first thing that waits to be confirmed.
    """

    placeholder_asked = pyqtSignal()

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._fields: dict[str, QLineEdit | QPlainTextEdit] = {}
        side = panel("side")
        column = QVBoxLayout(side)
        column.setContentsMargins(16, 12, 16, 12)
        column.setSpacing(3)
        column.addWidget(label(tr("What it is for"), "title"))
        self._name = WordsEdit(tr("Name of the site"))
        self._name.kept.connect(lambda words: self._session.edit(
            tr("name of site"), lambda site: set_site_name(site, words)))
        column.addWidget(label(tr("Name of the site"), "small"))
        column.addWidget(self._name)
        self._language = NamedCombo(tr("Language of the pages"))
        self._language.activated.connect(self._take_language)
        column.addWidget(label(tr("Language of the pages"), "small"))
        column.addWidget(self._language)
        self._own_words = label("", "small", wrap=True)
        column.addWidget(self._own_words)
        for key, words, height, hint in _PARTS:
            column.addWidget(label(words, "small"))
            column.addWidget(self._field(key, words, height, hint))
        self._fault = label("", "fault", wrap=True)
        self._gaps = label("", "small", wrap=True)
        self._waiting = button("", self.placeholder_asked.emit)
        for widget in (self._fault, self._gaps, self._waiting):
            column.addWidget(widget)
        column.addStretch()
        self.setFixedWidth(300)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.addWidget(scrolled(side))

    def _field(self, key: str, words: str, height: int, hint: str) -> QWidget:
        field: QLineEdit | QPlainTextEdit = QPlainTextEdit() if height else QLineEdit()
        field.setAccessibleName(words)
        field.setPlaceholderText(hint)
        if isinstance(field, QPlainTextEdit):
            field.setFixedHeight(height)
            field.setTabChangesFocus(True)
            field.textChanged.connect(lambda k=key: self._take(k))
        else:
            field.textEdited.connect(lambda _, k=key: self._take(k))
        self._fields[key] = field
        return field

    def field(self, key: str) -> QLineEdit | QPlainTextEdit:
        """Return the field for a part of the brief."""
        return self._fields[key]

    def _take_language(self) -> None:
        chosen = str(self._language.currentData())
        self._session.edit(tr("language"), lambda site: set_language(site, chosen))

    def _show_language(self) -> None:
        language = self._session.site.language
        if not self._language.count():
            for one in sorted(LANGUAGES, key=language_name):
                self._language.addItem(language_name(one), one)
        if self._language.findData(language) < 0:
            self._language.addItem(language_name(language), language)
        self._language.setCurrentIndex(self._language.findData(language))
        own = language.partition("-")[0]
        self._own_words.setText("" if own in languages() else (
            tr("Forms, countdowns and letters say words of their own. They are in English on these "
               "pages; Needle has them in {list}.",
               list=", ".join(sorted(language_name(one) for one in languages())))))
        self._own_words.setVisible(bool(self._own_words.text()))

    def _take(self, key: str) -> None:
        field = self._fields[key]
        words = field.toPlainText() if isinstance(field, QPlainTextEdit) else field.text()
        self._session.edit(tr("brief"), lambda site: set_brief(site, key, words),
                           group=f"brief:{key}", asker=self)
        self._show_state()

    def refresh(self) -> None:
        """Show the brief as it is now."""
        site = self._session.site
        self._name.show_words(site.name)
        self._show_language()
        for key, field in self._fields.items():
            words = getattr(site.brief, key)
            with QSignalBlocker(field):
                if isinstance(field, QPlainTextEdit):
                    if field.toPlainText() != words:
                        field.setPlainText(words)
                elif field.text() != words:
                    field.setText(words)
        self._show_state()

    def _show_state(self) -> None:
        site = self._session.site
        fault, gaps = brief_fault(site.brief), brief_gaps(site)
        waiting = sum(1 for _ in placeholders(site))
        self._fault.setText(str(fault or ""))
        self._fault.setVisible(bool(fault))
        self._gaps.setText(tr("Still open: ") + ", ".join(gaps) + "." if gaps
                           else tr("Nothing is missing here."))
        repaint_role(self._gaps, "unsure" if gaps else "good")
        self._waiting.setText(tr("{waiting} invented things wait for your word: show",
                                 waiting=waiting)
                              if waiting != 1 else tr("1 invented thing waits for your word: show"))
        self._waiting.setVisible(bool(waiting))
