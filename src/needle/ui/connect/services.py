"""Services: where each is, whether it answers, and the faults of the practice ones."""

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QColor
from PyQt6.QtWidgets import (
    QFormLayout,
    QHBoxLayout,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QMenu,
    QPlainTextEdit,
    QPushButton,
    QRadioButton,
    QVBoxLayout,
    QWidget,
)

from needle.core.edit.services import add_service, delete_service, service_users, set_service
from needle.core.site.site import Service
from needle.core.values.ids import Id
from needle.practice.faults import FAULTS, read_fault, set_fault
from needle.practice.payments import PAY_FAULTS
from needle.practice.shelf import SHELF_FAULTS, is_away, put_away
from needle.running.addresses import practice_folder
from needle.running.children import ChildError
from needle.services.adapter import Setting
from needle.services.registry import PAYMENT_KINDS, SERVICE_KINDS
from needle.services.secrecy import DOTS, keep_secrets, key_of, options_of
from needle.ui.cards import Card, button, label, panel, side_list
from needle.ui.connect.described import ServiceReader
from needle.ui.editors import ChoiceEdit
from needle.ui.language import tr
from needle.ui.outcomes import Outcomes
from needle.ui.session import Session
from needle.ui.theme import tokens
from needle.ui.words import plain_tip

__all__ = ["ServicesPart"]


class ServicesPart(QWidget):
    """The services at the left, the chosen one's settings at the right.

    Attributes:
        list: The services.
        fault: What the chosen practice service does.
    """

    def __init__(self, session: Session, outcomes: Outcomes, reader: ServiceReader) -> None:
        super().__init__()
        self._session = session
        self._outcomes = outcomes
        self._reader = reader
        self._chosen: Id = session.site.services[0].id if session.site.services else ""
        self._shown: object = None
        self._edits: dict[str, QLineEdit | QPlainTextEdit | ChoiceEdit] = {}
        self.list = QListWidget()
        self.list.setAccessibleName(tr("Services"))
        self.list.currentItemChanged.connect(lambda *_: self._on_chosen())
        self.fault = ChoiceEdit(tr("What the practice service does"), FAULTS, inherit=False)
        reader.read.connect(lambda _: self.refresh() if self.isVisible() else None)
        work = panel("work")
        self._work = QVBoxLayout(work)
        self._work.setContentsMargins(22, 16, 22, 16)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        row.addWidget(side_list(tr("Services"), self.list, self._add_button()))
        row.addWidget(work, 1)

    def _add_button(self) -> QPushButton:
        add = QPushButton(tr("Add a service"))
        menu = QMenu(add)
        for key, kind in SERVICE_KINDS.items():
            action = menu.addAction(kind.label)
            assert action is not None
            action.setToolTip(plain_tip(kind.words))
            action.triggered.connect(lambda _=False, k=key: self.add(k))
        add.setMenu(menu)
        return add

    # Doing

    def add(self, does: str) -> None:
        """Add a service of a kind: the practice one, until one's own is told."""
        made: list[Id] = []

        def how(site):  # type: ignore[no-untyped-def]
            site, fresh = add_service(site, does, tr("Practice {label}",
                                                     label=SERVICE_KINDS[does].label.lower()))
            made.append(fresh)
            return site

        if self._session.edit(tr("add service"), how):
            self._chosen = made[0]
            self._start_practice(does)
            self.refresh()

    def _start_practice(self, does: str) -> None:
        stand = self._outcomes.stand
        if stand is not None and not SERVICE_KINDS[does].is_file:
            try:
                stand.start_practice(does)
            except ChildError as error:
                self._session.said.emit(tr("The practice service did not start: {error}",
                                           error=error), True)

    def keep(self) -> None:
        """Use the chosen service as its settings say from now on (once pages are sent again)."""
        service = self._session.site.service(self._chosen)
        if service is None:
            return
        try:
            told = keep_secrets(service, SERVICE_KINDS[service.does].settings,
                                {name: _value(edit) for name, edit in self._edits.items()})
        except OSError as error:
            self._session.said.emit(tr("The keys of {name} could not be kept: {strerror}. "
                                       "Nothing was changed.",
                                       name=service.name, strerror=error.strerror or error), True)
            return
        address = told.pop("address", "")
        if self._session.edit("service", lambda site: set_service(
                site, service.id, name=self.name.text(), practice=self.practice.isChecked(),
                address=address, options=told)):
            changed = self._session.site.service(service.id)
            if changed is not None:
                if changed.practice:
                    self._start_practice(changed.does)
                self._reader.ask(changed)
            self._shown = None
            self.refresh()

    def delete_chosen(self) -> None:
        """Delete the chosen service, unless a form sends to it."""
        service = self._chosen
        self._session.edit(tr("delete service"), lambda site: delete_service(site, service))
        self.refresh()

    def ask_again(self) -> None:
        """Try the chosen service's address and key."""
        service = self._session.site.service(self._chosen)
        if service is not None:
            self._state.setText(tr("is being asked …"))
            self._reader.ask(service)

    def _set_fault(self, fault: object) -> None:
        service = self._session.site.service(self._chosen)
        if service is not None:
            folder = practice_folder(self._session.folder, service.does)
            if not SERVICE_KINDS[service.does].is_file:
                set_fault(folder, str(fault))
            else:
                put_away(folder, fault == "down")
            self._reader.ask(service)

    def choose(self, service_id: Id) -> None:
        """Show a service."""
        self._chosen = service_id
        self.refresh()

    def _on_chosen(self) -> None:
        item = self.list.currentItem()
        if item is not None:
            self.choose(str(item.data(Qt.ItemDataRole.UserRole)))

    # Showing

    def refresh(self) -> None:
        """Show the services as they are now."""
        services = self._session.site.services
        if self._session.site.service(self._chosen) is None:
            self._chosen = services[0].id if services else ""
        self._show_list()
        service = self._session.site.service(self._chosen)
        users = service_users(self._session.site, self._chosen)
        if (service, users) != self._shown:
            self._shown = (service, users)
            self._show_service(service, users)
        self._show_state(service)

    def _show_list(self) -> None:
        self.list.blockSignals(True)
        self.list.clear()
        for service in self._session.site.services:
            facts = self._reader.facts(service)
            kind = SERVICE_KINDS.get(service.does)
            mark = " · practice" if service.practice else ""
            words = facts.words if facts else tr("is being asked …")
            item = QListWidgetItem(f"{service.name}\n{kind.label if kind else '?'}{mark}\n{words}")
            item.setData(Qt.ItemDataRole.UserRole, service.id)
            if facts is not None and facts.fault:
                item.setForeground(QColor(tokens().fault))
            self.list.addItem(item)
            if service.id == self._chosen:
                self.list.setCurrentItem(item)
        self.list.blockSignals(False)

    def _show_service(self, service: Service | None, users: list[str]) -> None:
        while self._work.count():
            item = self._work.takeAt(0)
            widget = item.widget() if item else None
            if widget is not None:
                widget.hide()
                widget.deleteLater()
        if service is None:
            self._work.addWidget(label(tr("There is no service yet. Add one at the left: the "
                                          "practice ones need no account."), "dim", wrap=True))
            self._work.addStretch()
            return
        self._work.addWidget(self._card(service))
        self._work.addWidget(self._state_card(service, users))
        self._work.addStretch()

    def _card(self, service: Service) -> Card:
        kind = SERVICE_KINDS[service.does]
        card = Card(kind.label, kind.words)
        self.name = QLineEdit(service.name)
        self.name.setAccessibleName(tr("Name of the service"))
        self.practice = QRadioButton(tr("The practice one that ships with Needle"))
        self.own = QRadioButton(tr("My own"))
        (self.practice if service.practice else self.own).setChecked(True)
        form = QFormLayout()
        form.addRow(tr("Name"), self.name)
        form.addRow(tr("Which"), self.practice)
        form.addRow("", self.own)
        self._edits = {setting.name: self._edit(service, setting) for setting in kind.settings}
        for setting in kind.settings:
            form.addRow(setting.label, self._edits[setting.name])
        card.body.addLayout(form)
        if any(setting.kind.startswith("secret") for setting in kind.settings):
            card.body.addWidget(label(tr("Keys, passwords and what else opens a service are kept "
                                         "with your keys, never in the project."), "small"))
        line = QHBoxLayout()
        line.addWidget(button(tr("Use these settings"), self.keep, main=True))
        line.addWidget(button(tr("Delete the service"), self.delete_chosen))
        line.addStretch()
        card.body.addLayout(line)
        return card

    def _edit(self, service: Service, setting: Setting,
              ) -> QLineEdit | QPlainTextEdit | ChoiceEdit:
        value = service.address if setting.name == "address" else "" if (
            setting.kind.startswith("secret")) else service.options.get(setting.name, "")
        made: QLineEdit | QPlainTextEdit | ChoiceEdit
        if setting.kind == "choice":
            made = ChoiceEdit(setting.label, dict(setting.choices), inherit=False)
            made.show_value(value or next(iter(setting.choices)))
            made.chosen.connect(lambda _: self.own.setChecked(True))
            return made
        if setting.kind in ("long", "secrets"):
            made = QPlainTextEdit(value)
            made.setFixedHeight(58)
        else:
            made = QLineEdit(value)
            made.textEdited.connect(lambda _: self.own.setChecked(True))
        made.setPlaceholderText(setting.example)
        made.setAccessibleName(setting.label)
        if setting.kind == "secret":
            assert isinstance(made, QLineEdit)
            made.setText("")
            made.setEchoMode(QLineEdit.EchoMode.Password)
            made.setPlaceholderText(tr("unchanged") if key_of(service)
                                    else tr("none yet for this address"))
        elif setting.kind == "secrets" and options_of(service, (setting,)).get(setting.name):
            made.setPlaceholderText(tr("{dots} kept; type anew to change, - to clear", dots=DOTS))
        return made

    def _state_card(self, service: Service, users: list[str]) -> Card:
        card = Card(tr("Does it answer?"))
        self._state = label("", wrap=True)
        line = QHBoxLayout()
        line.addWidget(self._state, 1)
        line.addWidget(button(tr("Ask it now"), self.ask_again))
        card.body.addLayout(line)
        self._lists = label("", "dim", wrap=True)
        card.body.addWidget(self._lists)
        card.body.addWidget(label(tr("Used by ") + (", ".join(users) or tr("no form yet")) + ".",
                                  "small",
                                  wrap=True))
        if service.practice:
            faults = SHELF_FAULTS if SERVICE_KINDS[service.does].is_file else (
                PAY_FAULTS if service.does in PAYMENT_KINDS else FAULTS)
            self.fault = ChoiceEdit(tr("What {name} does", name=service.name), faults,
                                    inherit=False)
            self.fault.chosen.connect(self._set_fault)
            form = QFormLayout()
            form.addRow(tr("Practice: it"), self.fault)
            card.body.addLayout(form)
        return card

    def _show_state(self, service: Service | None) -> None:
        if service is None:
            return
        facts = self._reader.facts(service)
        self._state.setText(facts.words if facts else tr("is being asked …"))
        self._lists.setText(" · ".join(
            f"{name}: {', '.join(field.key for field in facts.fields.get(key, ()))}"
            for key, name in facts.targets.items()) if facts else "")
        self._lists.setVisible(bool(self._lists.text()))
        folder = practice_folder(self._session.folder, service.does)
        process = not SERVICE_KINDS[service.does].is_file
        known = PAY_FAULTS if service.does in PAYMENT_KINDS else FAULTS
        self.fault.show_value(read_fault(folder, known) if process else
                              "down" if is_away(folder) else "none")


def _value(edit: QLineEdit | QPlainTextEdit | ChoiceEdit) -> str:
    if isinstance(edit, ChoiceEdit):
        return str(edit.currentData() or "")
    return edit.text() if isinstance(edit, QLineEdit) else edit.toPlainText()
