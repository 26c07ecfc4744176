"""Connect: forms, the threads to services, and what became of the last leads."""

import time
from datetime import datetime

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QColor
from PyQt6.QtWidgets import (
    QHBoxLayout,
    QListWidget,
    QListWidgetItem,
    QVBoxLayout,
    QWidget,
)

from needle.core.edit.forms import add_form, delete_form
from needle.core.edit.whole import set_service
from needle.core.site.form import Form
from needle.core.site.ids import Id
from needle.practice.addresses import practice_folder
from needle.practice.mailbox import is_down, messages, set_down
from needle.practice.mailing import FAULTS
from needle.services.access import list_access
from needle.services.mailing import MailingClient, ServiceError
from needle.store.keys import write_key
from needle.store.results.deliveries import Sent, recent_deliveries, retry_now
from needle.ui.cards import Table, button, label, panel, scrolled
from needle.ui.commands import Command
from needle.ui.connect.board import Board
from needle.ui.connect.service import ServiceDialog
from needle.ui.editors import ChoiceEdit
from needle.ui.outcomes import Outcomes
from needle.ui.session import Session
from needle.ui.theme import tokens

__all__ = ["ConnectStage"]

_ROW_ROLE = Qt.ItemDataRole.UserRole


class ConnectStage(QWidget):
    """The forms at the left, the board of the chosen one, its last deliveries below.

    Attributes:
        board: The threads of the chosen form.
    """

    def __init__(self, session: Session, outcomes: Outcomes) -> None:
        super().__init__()
        self._session = session
        self._outcomes = outcomes
        self._form_id: Id = session.site.forms[0].id if session.site.forms else ""
        self.board = Board(session, outcomes)
        self.board.read.connect(self._show_list_state)
        self.forms = QListWidget()
        self.forms.setAccessibleName("Forms")
        self.forms.currentItemChanged.connect(lambda *_: self._on_chosen())
        self._deliveries = Table("Last deliveries", ("When", "Lead", "Where it went"), 2)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        row.addWidget(self._side())
        row.addLayout(self._work(), 1)

    def _side(self) -> QWidget:
        side = panel("side", 248)
        column = QVBoxLayout(side)
        column.setContentsMargins(0, 10, 1, 10)
        head = QHBoxLayout()
        head.setContentsMargins(14, 0, 10, 0)
        head.addWidget(label("Forms", "title"))
        head.addStretch()
        head.addWidget(button("New form", self.new_form))
        column.addLayout(head)
        column.addWidget(self.forms, 1)
        services = label("Services", "title")
        services.setContentsMargins(14, 6, 0, 0)
        column.addWidget(services)
        self._services_box = self._services()
        column.addWidget(self._services_box)
        self._side_column = column
        return side

    def _services(self) -> QWidget:
        self._services_shown = self._session.site.services
        self._list_state = label("", "small", wrap=True)
        self._mail_state = label("", "small", wrap=True)
        self.fault = ChoiceEdit("What the practice list does", FAULTS, inherit=False)
        self.fault.chosen.connect(self._set_fault)
        self.mail_fault = ChoiceEdit("What the practice mailbox does",
                                     {False: "works", True: "is down (451)"}, inherit=False)
        self.mail_fault.chosen.connect(self._set_mail_fault)
        box = QWidget()
        inner = QVBoxLayout(box)
        inner.setContentsMargins(14, 0, 12, 0)
        inner.setSpacing(4)
        for service in self._session.site.services:
            name = QHBoxLayout()
            name.addWidget(label(service.name))
            if service.practice:
                name.addWidget(label("practice", "tag"))
            name.addStretch()
            inner.addLayout(name)
            change = button("Change…", lambda i=service.id: self.ask_service(i))  # type: ignore[misc]
            change.setAccessibleName(f"Change {service.name}")
            mailing = service.does == "list"
            inner.addWidget(self._list_state if mailing else self._mail_state)
            line = QHBoxLayout()
            if service.practice:
                line.addWidget(self.fault if mailing else self.mail_fault, 1)
            else:
                line.addWidget(label(service.address, "mono"), 1)
            line.addWidget(change)
            inner.addLayout(line)
            inner.addSpacing(6)
        return box

    def _work(self) -> QVBoxLayout:
        below = panel("tray")
        below.setFixedHeight(196)
        inner = QVBoxLayout(below)
        inner.setContentsMargins(16, 8, 16, 8)
        head = QHBoxLayout()
        head.addWidget(label("Last deliveries", "title"))
        head.addStretch()
        head.addWidget(button("Try waiting ones now", self.retry))
        inner.addLayout(head)
        self._none = label("", "dim", wrap=True)
        inner.addWidget(self._none)
        inner.addWidget(self._deliveries)
        column = QVBoxLayout()
        column.setSpacing(0)
        area = scrolled(self.board)
        area.setObjectName("work")
        column.addWidget(area, 1)
        column.addWidget(below)
        return column

    def commands(self) -> list[Command]:
        """Return what can be done in Connect."""
        return [
            Command(id="connect.new", menu="Connect", title="New form", keys="Ctrl+Alt+F",
                    run=self.new_form),
            Command(id="connect.delete", menu="Connect", title="Delete the chosen form",
                    run=self.delete_chosen),
            Command(id="connect.retry", menu="Connect", title="Try waiting deliveries now",
                    run=self.retry)]

    def new_form(self) -> None:
        """Add a form and choose it."""
        made: list[Id] = []

        def how(site):  # type: ignore[no-untyped-def]
            site, fresh = add_form(site, "New form")
            made.append(fresh)
            return site

        if self._session.edit("new form", how):
            self._form_id = made[0]
            self.refresh()

    def delete_chosen(self) -> None:
        """Delete the chosen form, unless a page shows it."""
        form = self._form_id
        self._session.edit("delete form", lambda site: delete_form(site, form))
        self.refresh()

    def choose(self, form_id: Id) -> None:
        """Show a form."""
        self._form_id = form_id
        self.refresh()

    def _on_chosen(self) -> None:
        item = self.forms.currentItem()
        if item is not None:
            self.choose(str(item.data(_ROW_ROLE)))

    # Services

    def _client(self) -> MailingClient | None:
        service = next((s for s in self._session.site.services if s.does == "list"), None)
        access = list_access(self._session.folder, service) if service else None
        return MailingClient(service.name, *access) if service and access else None

    def ask_service(self, service_id: Id) -> None:
        """Ask where a service is."""
        service = self._session.site.service(service_id)
        if service is None:
            return
        dialog = ServiceDialog(self, service)
        if dialog.exec() == ServiceDialog.DialogCode.Accepted:
            self.take_service(service_id, dialog.practice.isChecked(), dialog.address.text(),
                              dialog.key.text())

    def take_service(self, service_id: Id, practice: bool, address: str, key: str) -> None:
        """Use a service at this address from now on (once the pages are sent again)."""
        if self._session.edit("service", lambda site: set_service(
                site, service_id, practice, address)):
            if key:
                write_key(service_id, key)
            self._show_services()
            self.board.read_fields(afresh=True)

    def _show_services(self) -> None:
        """Show each service with its mark; the practice ones with what they do."""
        old = self._services_box
        fresh = self._services()
        self._side_column.replaceWidget(old, fresh)
        old.deleteLater()
        self._services_box = fresh

    def _set_fault(self, fault: object) -> None:
        client = self._client()
        try:
            if client is not None:
                client.set_fault(str(fault))
        except ServiceError as error:
            self._session.said.emit(str(error), True)
        self.board.read_fields(afresh=True)

    def _set_mail_fault(self, down: object) -> None:
        set_down(practice_folder(self._session.folder, "mail"), bool(down))

    def retry(self) -> None:
        """Make every waiting delivery due now."""
        count = retry_now(self._outcomes.engine, int(time.time() * 1000))
        self._session.said.emit(f"{count} waiting deliveries are tried now." if count
                                else "Nothing is waiting.", False)

    # Showing

    def refresh(self) -> None:
        """Show forms, threads and deliveries as they are now."""
        site = self._session.site
        if site.form(self._form_id) is None:
            self._form_id = site.forms[0].id if site.forms else ""
        if site.services != self._services_shown:
            self._show_services()
        self._show_forms()
        self.board.show_form(site.form(self._form_id))
        self._show_deliveries()
        box = practice_folder(self._session.folder, "mail")
        self._mail_state.setText(f"e-mail notices · {len(messages(box))} in the mailbox")
        self.mail_fault.show_value(is_down(box))
        self._show_list_state()

    def _show_list_state(self) -> None:
        self._list_state.setText(self.board.list_words)
        self.fault.show_value(self.board.list_fault)

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
        goes = "" if form.routes else " · goes nowhere yet"
        return (", ".join(pages) or "on no page") + goes

    def _show_deliveries(self) -> None:
        form = self._session.site.form(self._form_id)
        recent = recent_deliveries(self._outcomes.engine, self._form_id) if form else []
        rows = [self._delivery_row(lead, sent) for lead, sent in recent]
        self._deliveries.show_rows(rows)
        look = tokens()
        for number, (lead, sent) in enumerate(recent):
            waits = any(s.state != "done" for s in sent)
            colour = look.ink_second if lead.robot else look.fault if waits else look.good  # type: ignore[attr-defined]
            cell = self._deliveries.item(number, 2)
            assert cell is not None
            cell.setForeground(QColor(colour))
        self._none.setVisible(not rows)
        self._deliveries.setVisible(bool(rows))
        self._none.setText("No lead has come through this form yet. Put it on a page, send the "
                           "page, and fill it in at the test address.")

    def _delivery_row(self, lead: object, sent: list[Sent]) -> tuple[str, str, str]:
        when = datetime.fromtimestamp(lead.at / 1000).strftime("%d %b %H:%M:%S")  # type: ignore[attr-defined]
        if lead.robot:  # type: ignore[attr-defined]
            return when, lead.email, f"looks like a robot ({lead.signs}): kept, not sent"  # type: ignore[attr-defined]
        words = []
        for s in sent:
            if s.state == "waiting" and s.tries:
                due = datetime.fromtimestamp(s.due_ms / 1000).strftime("%H:%M:%S")
                words.append(f"{s.result}, kept, next try {due}")
            else:
                words.append(s.result or "on its way")
        return when, lead.email, "   ·   ".join(words) or "lead book"  # type: ignore[attr-defined]


