"""Forms: the list of them, the threads of the chosen one, and the tray below."""

import time

import msgspec
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QColor
from PyQt6.QtWidgets import (
    QHBoxLayout,
    QListWidget,
    QListWidgetItem,
    QSizePolicy,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from needle.core.edit.forms import add_form, copy_form, delete_form
from needle.core.readymade.forms import form_of
from needle.core.site.site import Site
from needle.core.values.form import Form
from needle.core.values.ids import Id, new_id
from needle.store.results.deliveries import retry_now
from needle.ui.cards import button, panel, scrolled, side_list
from needle.ui.connect.deliveries import Deliveries
from needle.ui.connect.described import ServiceReader
from needle.ui.connect.firstform import FirstForm
from needle.ui.connect.settings import SettingsTray
from needle.ui.connect.table import ThreadTable
from needle.ui.connect.threadboard import Board
from needle.ui.editors import Segments
from needle.ui.language import tr
from needle.ui.outcomes import Outcomes
from needle.ui.session import Session
from needle.ui.theme import tokens

__all__ = ["FormsPart"]

_ROW_ROLE = Qt.ItemDataRole.UserRole
_VIEWS = ("board", "table", "first")


class FormsPart(QWidget):
    """The forms at the left, the board of the chosen one, its settings or deliveries below.

    Attributes:
        board: The threads of the chosen form.
        deliveries: What became of its last leads.
        settings: Those of the chosen line.
    """

    def __init__(self, session: Session, outcomes: Outcomes, reader: ServiceReader) -> None:
        super().__init__()
        self._session = session
        self._outcomes = outcomes
        self._shape = "board"
        self._form_id: Id = session.site.forms[0].id if session.site.forms else ""
        self._line: tuple[str, ...] = ("form",)
        self.board = Board(session, outcomes, reader)
        self.board.chosen.connect(self._on_line)
        self.table = ThreadTable(session, reader)
        self.settings = SettingsTray(session, reader)
        self.deliveries = Deliveries(session, outcomes)
        reader.read.connect(lambda _: self.refresh() if self.isVisible() else None)
        self.forms = QListWidget()
        self.forms.setAccessibleName(tr("Forms"))
        self.forms.currentItemChanged.connect(lambda *_: self._on_chosen())
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        row.addWidget(side_list(tr("Forms"), self.forms, button(tr("New form"), self.new_form),
                                button(tr("Copy"), self.copy_chosen)))
        row.addLayout(self._work(), 1)

    def _work(self) -> QVBoxLayout:
        self._views = QStackedWidget()
        area = scrolled(self.board)
        area.setObjectName("work")
        self._views.addWidget(area)
        self._views.addWidget(self.table)
        self.first = FirstForm()
        self.first.wanted.connect(self.make_kind)
        self._views.addWidget(self.first)
        self._lower = below = panel("tray")
        below.setFixedHeight(180)
        inner = QVBoxLayout(below)
        inner.setContentsMargins(0, 6, 0, 0)
        inner.setSpacing(2)
        head = QHBoxLayout()
        head.setContentsMargins(16, 0, 12, 0)
        self.tabs = Segments(tr("Below the board"), {"settings": tr("Settings"),
                                                 "deliveries": tr("Last deliveries")})
        self.tabs.chosen.connect(self.show_below)
        head.addWidget(self.tabs)
        head.addStretch()
        self._again = button(tr("Try waiting ones now"), self.retry)
        self._wire_button = button(tr("What went over the wire…"), self.deliveries.show_exchange)
        head.addWidget(self._wire_button)
        head.addWidget(self._again)
        self.shape = Segments(tr("Threads"), {"board": tr("Board"), "table": tr("Table")})
        self.shape.chosen.connect(self.show_as)
        self.shape.setSizePolicy(QSizePolicy.Policy.Maximum, QSizePolicy.Policy.Fixed)
        head.addWidget(self.shape)
        inner.addLayout(head)
        self._below = QStackedWidget()
        self._below.addWidget(self.settings)
        self._below.addWidget(self.deliveries)
        inner.addWidget(self._below, 1)
        column = QVBoxLayout()
        column.setSpacing(0)
        column.addWidget(self._views, 1)
        column.addWidget(below)
        self.show_below("deliveries")
        self.show_as("board")
        return column

    def ring(self) -> list[QWidget]:
        """The parts that F6 goes round."""
        return [self.forms, self._views, self._lower]

    def show_below(self, what: str) -> None:
        """Show the settings of the chosen line, or the last deliveries."""
        self.tabs.show_values([what])
        self._below.setCurrentIndex(["settings", "deliveries"].index(what))
        for one in (self._again, self._wire_button):
            one.setVisible(what == "deliveries")

    def show_as(self, what: str) -> None:
        """Show the threads as a board or as a table."""
        self.shape.show_values([what])
        self._shape = what
        self._views.setCurrentIndex(_VIEWS.index(what if self._session.site.forms else "first"))

    @property
    def form(self) -> Form | None:
        """The chosen form."""
        return self._session.site.form(self._form_id)

    # Forms

    def new_form(self) -> None:
        """Add a form and choose it."""
        self._make(tr("new form"), lambda site: add_form(site, tr("New form")))

    def make_kind(self, key: str) -> None:
        """Add a form of a kind, with its fields and its way to a notice, and choose it."""
        if not key:
            self.new_form()
            return

        def how(site: Site) -> tuple[Site, Id]:
            form = form_of(key, site, new_id)
            return msgspec.structs.replace(site, forms=(*site.forms, form)), form.id

        self._make(tr("new form"), how)

    def copy_chosen(self) -> None:
        """Copy the chosen form with its threads."""
        form = self._form_id
        self._make(tr("copy form"), lambda site: copy_form(site, form))

    def _make(self, what: str, how) -> None:  # type: ignore[no-untyped-def]
        made: list[Id] = []

        def run(site):  # type: ignore[no-untyped-def]
            site, fresh = how(site)
            made.append(fresh)
            return site

        if self._session.edit(what, run) and made:
            self.choose(made[0])
            self.show_below("settings")

    def delete_chosen(self) -> None:
        """Delete the chosen form, unless a page shows it."""
        form = self._form_id
        self._session.edit(tr("delete form"), lambda site: delete_form(site, form))
        self.refresh()

    def choose(self, form_id: Id) -> None:
        """Show a form."""
        if form_id != self._form_id:
            self._line = ("form",)
        self._form_id = form_id
        self.refresh()

    def _on_chosen(self) -> None:
        item = self.forms.currentItem()
        if item is not None:
            self.choose(str(item.data(_ROW_ROLE)))

    def _on_line(self, name: tuple[str, ...]) -> None:
        self._line = name
        self.show_below("settings")
        self.settings.show_line(self.form, name)

    def retry(self) -> None:
        """Make every waiting delivery due now."""
        count = retry_now(self._outcomes.engine, int(time.time() * 1000))
        self._session.said.emit(tr("{count} waiting deliveries are tried now.",
                                   count=count) if count
                                else tr("Nothing is waiting."), False)

    # Showing

    def refresh(self) -> None:
        """Show the forms and the chosen one as they are now."""
        forms = self._session.site.forms
        if self.form is None:
            self._form_id = forms[0].id if forms else ""
            self._line = ("form",)
        self._show_forms()
        self.show_as(self._shape)
        self._lower.setVisible(bool(forms))
        self.board.show_form(self.form)
        self.table.show_form(self.form)
        self.settings.show_line(self.form, self._line)
        self.deliveries.show_form(self.form)

    def _show_forms(self) -> None:
        look = tokens()
        self.forms.blockSignals(True)
        self.forms.clear()
        for form in self._session.site.forms:
            item = QListWidgetItem(f"{form.name}\n{self._where(form)}")
            item.setData(_ROW_ROLE, form.id)
            if not form.routes:
                item.setForeground(QColor(look.fault))
            self.forms.addItem(item)
            if form.id == self._form_id:
                self.forms.setCurrentItem(item)
        self.forms.blockSignals(False)

    def _where(self, form: Form) -> str:
        pages = [page.name for page in self._session.site.pages
                 if any(getattr(node, "form", "") == form.id
                        for variant in page.variants for node in variant.nodes())]
        goes = "" if form.routes else tr(" · goes nowhere yet")
        return (", ".join(pages) or tr("on no page")) + goes
