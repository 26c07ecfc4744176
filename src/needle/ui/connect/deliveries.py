"""The last deliveries of a form, and what exactly went over the wire."""

import time
from datetime import datetime
from typing import Any

from PyQt6.QtGui import QColor
from PyQt6.QtWidgets import (
    QDialog,
    QHBoxLayout,
    QListWidget,
    QPlainTextEdit,
    QVBoxLayout,
    QWidget,
)

from needle.core.values.form import Form
from needle.store.results.deliveries import Sent, deliveries_of, recent_deliveries, resend
from needle.ui.cards import Table, button, label
from needle.ui.language import tr
from needle.ui.outcomes import Outcomes
from needle.ui.session import Session
from needle.ui.theme import tokens

__all__ = ["Deliveries", "ExchangeDialog", "delivery_words", "route_words"]


def route_words(session: Session, route: str) -> str:
    """Return what a thread is called."""
    fixed = {"letter": tr("letter to the visitor"), "confirm": tr("question to confirm"),
             "orders": tr("link to all of their orders")}
    for form in session.site.forms:
        for one in form.routes:
            if one.id == route:
                service = session.site.service(one.service)
                return service.name if service else tr("a service that is gone")
    return fixed.get(route, "a thread that was cut")


def delivery_words(sent: Sent) -> str:
    """Return what became of a delivery."""
    if sent.state == "held":
        return tr("waits until the visitor confirms")
    if sent.state == "waiting" and sent.tries:
        due = datetime.fromtimestamp(sent.due_ms / 1000).strftime("%H:%M:%S")
        return tr("{result}, kept, next try {due}", result=sent.result, due=due)
    return sent.result or tr("on its way")


class Deliveries(QWidget):
    """The last leads of a form, with what became of each."""

    def __init__(self, session: Session, outcomes: Outcomes) -> None:
        super().__init__()
        self._session = session
        self._outcomes = outcomes
        self.table = Table(tr("Last deliveries"), (tr("When"), tr("Lead"), tr("Where it went")), 2)
        self.table.cellDoubleClicked.connect(lambda *_: self.show_exchange())
        self.table.cellActivated.connect(lambda *_: self.show_exchange())
        self._none = label("", "dim", wrap=True)
        column = QVBoxLayout(self)
        column.setContentsMargins(16, 0, 16, 8)
        column.addWidget(self._none)
        column.addWidget(self.table)
        self.dialog: ExchangeDialog | None = None

    def show_form(self, form: Form | None) -> None:
        """Show the last leads of a form."""
        recent: list[tuple[Any, list[Sent]]] = \
            recent_deliveries(self._outcomes.engine, form.id) if form else []
        rows = [_row(lead, sent) for lead, sent in recent]
        self.table.show_rows(rows, [str(lead.id) for lead, _ in recent])
        look = tokens()
        for number, (lead, sent) in enumerate(recent):
            waits = any(s.state in ("waiting", "refused") for s in sent)
            colour = look.ink_second if lead.robot else look.fault if waits else look.good
            cell = self.table.item(number, 2)
            assert cell is not None
            cell.setForeground(QColor(colour))
        self._none.setVisible(not rows)
        self.table.setVisible(bool(rows))
        self._none.setText(tr("No lead has come through this form yet. Put it on a page, send "
                              "the page, and fill it in at the test address, or send a trial "
                              "lead."))

    def show_exchange(self) -> None:
        """Show the very requests and answers of the chosen lead."""
        key = self.table.chosen_key()
        if not key:
            self._session.said.emit(tr("Choose a lead in the last deliveries first."), True)
            return
        self.dialog = ExchangeDialog(self, self._session, self._outcomes, int(key))
        self.dialog.show()


def _row(lead: Any, sent: list[Sent]) -> tuple[str, str, str]:
    when = datetime.fromtimestamp(lead.at / 1000).strftime("%d %b %H:%M:%S")
    who = f"{lead.email} (trial)" if lead.trial else lead.email
    if lead.robot:
        return when, who, tr("looks like a robot ({signs}): kept, not sent", signs=lead.signs)
    return when, who, "   ·   ".join(delivery_words(s) for s in sent) or tr("lead book")


class ExchangeDialog(QDialog):
    """Each delivery of a lead: the request as it went, the answer as it came, keys hidden."""

    def __init__(self, parent: QWidget, session: Session, outcomes: Outcomes, lead: int) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("What went over the wire"))
        self._session = session
        self._outcomes = outcomes
        self._lead = lead
        self._sent: list[Sent] = []
        self.list = QListWidget()
        self.list.setAccessibleName(tr("Deliveries of this lead"))
        self.list.setFixedWidth(290)
        self.list.setWordWrap(True)
        self.list.currentRowChanged.connect(self._show)
        self.request, self.answer = QPlainTextEdit(), QPlainTextEdit()
        right = QVBoxLayout()
        for words, place in ((tr("Sent"), self.request), (tr("Answered"), self.answer)):
            place.setReadOnly(True)
            place.setAccessibleName(words)
            place.setProperty("role", "mono")
            right.addWidget(label(words, "title"))
            right.addWidget(place, 1)
        row = QHBoxLayout()
        row.addWidget(self.list)
        row.addLayout(right, 1)
        foot = QHBoxLayout()
        foot.addStretch()
        foot.addWidget(button(tr("Send this one again"), self.send_again))
        foot.addWidget(button(tr("Close"), self.accept))
        column = QVBoxLayout(self)
        column.addLayout(row)
        column.addLayout(foot)
        self.resize(860, 520)
        self._fill()

    def _fill(self) -> None:
        at = max(0, self.list.currentRow())
        self._sent = deliveries_of(self._outcomes.engine, self._lead)
        self.list.clear()
        for sent in self._sent:
            name = route_words(self._session, sent.route)
            self.list.addItem(f"{name}\n{delivery_words(sent)}\n{sent.tries} tries")
        self.list.setCurrentRow(min(at, len(self._sent) - 1))

    def _show(self, row: int) -> None:
        sent = self._sent[row] if 0 <= row < len(self._sent) else None
        self.request.setPlainText(sent.request if sent else "")
        self.answer.setPlainText(sent.answer or sent.result if sent else "")

    def send_again(self) -> None:
        """Send the chosen delivery again."""
        row = self.list.currentRow()
        if 0 <= row < len(self._sent):
            resend(self._outcomes.engine, self._sent[row].id, int(time.time() * 1000))
            self._session.said.emit(tr("It is sent again now."), False)
            self._fill()
