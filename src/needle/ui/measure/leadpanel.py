"""The chosen lead: its answers, its way from the advert to the services, what became of it."""

from pathlib import Path

from PyQt6.QtCore import QUrl, pyqtSignal
from PyQt6.QtGui import QDesktopServices
from PyQt6.QtWidgets import (
    QFileDialog,
    QHBoxLayout,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from needle.core.values.ids import Id
from needle.store.files import write_atomically
from needle.store.results.attached import attached_file
from needle.store.results.book import STATUSES, Lead, LeadWay, change_lead, way_of
from needle.store.results.erasing import Erased, erase_lead, erase_person, person_holdings
from needle.ui.cards import button, label, panel, scrolled
from needle.ui.connect.deliveries import ExchangeDialog, delivery_words, route_words
from needle.ui.editors import ChoiceEdit, WordsEdit
from needle.ui.language import tr
from needle.ui.measure.receipt import receipt_words
from needle.ui.outcomes import Outcomes
from needle.ui.session import Session
from needle.ui.words import Words, agreed

__all__ = ["LeadPanel"]

_WIDE = 304


class LeadPanel(QWidget):
    """One lead, from where it came to where it went.

    Signals:
        changed: Its status or tags were changed, or it was erased.
    """

    changed = pyqtSignal()

    def __init__(self, session: Session, outcomes: Outcomes) -> None:
        super().__init__()
        self._session, self._outcomes = session, outcomes
        self._lead: Lead | None = None
        self.dialog: ExchangeDialog | None = None
        self.setFixedWidth(_WIDE)
        inside = panel("card")
        self._column = QVBoxLayout(inside)
        self._column.setContentsMargins(14, 10, 14, 12)
        self._column.setSpacing(5)
        area: QScrollArea = scrolled(inside)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(area)
        self.show_lead(None)

    def show_lead(self, lead: Lead | None) -> None:
        """Show a lead, or say how one is chosen."""
        self._lead = lead
        while self._column.count():
            item = self._column.takeAt(0)
            assert item is not None
            widget, inner = item.widget(), item.layout()
            if widget is not None:
                widget.deleteLater()
            elif inner is not None:
                while inner.count():
                    part = inner.takeAt(0)
                    if part is not None and part.widget() is not None:
                        part.widget().deleteLater()  # type: ignore[union-attr]
        if lead is None:
            self._say(tr("Choose a lead to see its answers and its whole way."), "dim")
        else:
            self._fill(lead, way_of(self._outcomes.engine, lead))
        self._column.addStretch()

    def _say(self, words: str, role: str = "") -> Words:
        made = label(words, role, wrap=True)
        self._column.addWidget(made)
        return made

    def _fill(self, lead: Lead, way: LeadWay) -> None:
        self._say(lead.email or tr("No e-mail address"), "title")
        if lead.robot:
            self._say(tr("Put aside as a robot: {signs}", signs=lead.signs), "fault")
        elif lead.signs and lead.id:
            self._say(tr("Taken for a person, though: {signs}", signs=lead.signs), "small")
        if lead.id:
            self._marks(lead)
        self._say(tr("Answers"), "title")
        for _, name, answer in lead.answers:
            self._say(f"{name}", "small")
            self._say(answer)
        for name, path in way.files:
            self._column.addWidget(button(tr("Open {name}", name=name),
                                          lambda p=path: self._open(p)))  # type: ignore[misc]
        self._show_way(lead, way)
        if way.others:
            self._say(tr("{count} more from this address", count=len(way.others)), "title")
            for other in way.others:
                self._say(f"{other.at.astimezone():%d %b %Y} · {other.form_name}", "small")
        if lead.id:
            self._doings(lead)

    def _marks(self, lead: Lead) -> None:
        self.status = ChoiceEdit(tr("Status of the lead"), STATUSES, inherit=False)
        self.status.show_value(lead.status)
        self.status.chosen.connect(lambda status: self._change(str(status), lead.tags))
        self.tags = WordsEdit(tr("Tags, with commas between"), ", ".join(lead.tags))
        self.tags.setPlaceholderText(tr("tags, with commas between"))
        self.tags.kept.connect(lambda said: self._change(lead.status, said.split(",")))
        line = QHBoxLayout()
        line.addWidget(self.status, 2)
        line.addWidget(self.tags, 3)
        self._column.addLayout(line)

    def _change(self, status: str, tags: object) -> None:
        if self._lead is not None:
            change_lead(self._outcomes.engine, self._lead.id, status=status,
                        tags=list(tags))  # type: ignore[call-overload]
            self.changed.emit()

    def _show_way(self, lead: Lead, way: LeadWay) -> None:
        self._say(tr("Its way"), "title")
        first = way.visits[0][3] if way.visits else lead.source
        self._say(tr("from {first}", first=first or lead.source or "direct"), "small")
        if lead.outside:
            self._say(tr("the form stood on {address}", address=lead.outside), "small")
        for at, page, variant, _ in way.visits:
            self._say(f"{at.astimezone():%H:%M:%S}  {self._page(page)} {variant}", "small")
        if lead.id:
            self._say(f"{lead.at.astimezone():%d %b %H:%M:%S}  sent {lead.form_name} on "
                      f"{self._page(lead.page)} {lead.variant}", "small")
        for sent in way.deliveries:
            role = {"done": "good", "held": "dim"}.get(sent.state, "fault" if sent.tries else "dim")
            self._say(f"{route_words(self._session, sent.route)}: {delivery_words(sent)}", role)
        if not way.deliveries:
            self._say(tr("kept in the lead book only"), "small")

    def _page(self, page_id: Id) -> str:
        page = self._session.whole.page(page_id)
        return page.name if page else "–"

    def _doings(self, lead: Lead) -> None:
        self._column.addWidget(button(tr("What went over the wire…"), lambda: self._wire(lead)))
        self._column.addWidget(button(tr("Erase this lead…"), self.ask_erase_lead))
        if lead.email:
            self._column.addWidget(button(tr("Erase this person everywhere…"),
                                          self.ask_erase_person))

    def _wire(self, lead: Lead) -> None:
        self.dialog = ExchangeDialog(self, self._session, self._outcomes, lead.id)
        self.dialog.show()

    def _open(self, path: str) -> None:
        try:
            file = attached_file(self._outcomes.folder, path)
        except OSError as error:
            self._session.said.emit(tr("This file cannot be opened: {strerror}.",
                                       strerror=error.strerror), True)
            return
        QDesktopServices.openUrl(QUrl.fromLocalFile(str(file)))

    # Erasing

    def ask_erase_lead(self) -> None:
        """Ask, then erase this one lead."""
        lead = self._lead
        if lead is not None and self._sure(tr("Erase this lead and what was sent along? It "
                                              "cannot be brought back.")):
            erase_lead(self._outcomes.engine, self._outcomes.folder, lead.id)
            self.show_lead(None)
            self.changed.emit()

    def ask_erase_person(self) -> None:
        """Ask, then erase everything of this person and offer the receipt."""
        lead = self._lead
        if lead is None:
            return
        held = person_holdings(self._outcomes.engine, lead.email)
        if not self._sure(tr("Erase everything of {email}? {held_words}. It cannot be brought "
                             "back.",
                             email=lead.email, held_words=_held_words(held))):
            return
        path, _ = QFileDialog.getSaveFileName(self, tr("Where shall the receipt go?"), "erased.txt",
                                              tr("Text (*.txt)"))
        self.erase_person(lead.email, Path(path) if path else None)

    def erase_person(self, email: str, receipt: Path | None) -> None:
        """Erase everything of a person; the receipt says what that was."""
        erased = erase_person(self._outcomes.engine, self._outcomes.folder, email)
        places = [f"{route_words(self._session, route)} ({words})"
                  for route, words in erased.delivered]
        words = receipt_words(self._session.site.name, email, erased, places)
        if receipt is not None:
            try:
                write_atomically(receipt, words.encode(), 0o600)
            except OSError as error:
                self._session.said.emit(tr("Everything is erased, but {receipt} cannot be "
                                           "written: {strerror}.",
                                           receipt=receipt, strerror=error.strerror), True)
        self._session.said.emit(
            tr("Erased: {held_words}. ", held_words=_held_words(erased)) + (
                tr("It had gone to {list}: erase it there too.",
                   list=", ".join(places)) if places else ""),
            False)
        self.show_lead(None)
        self.changed.emit()

    def _sure(self, words: str) -> bool:
        return agreed(self, tr("Erase"), words, tr("Erase"), tr("Keep"))


def _held_words(held: Erased) -> str:
    return (tr("{leads} leads, {deliveries} deliveries, {unfinished} half-filled forms, {files} "
               "files; {visits} visits become nobody's",
               leads=held.leads, deliveries=held.deliveries, unfinished=held.unfinished,
               files=held.files, visits=held.visits))
