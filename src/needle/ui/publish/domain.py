"""A domain of one's own: the way there step by step, and the records that each step takes."""

import time
from collections.abc import Sequence
from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QHideEvent, QPainter, QPaintEvent, QPen, QShowEvent
from PyQt6.QtWidgets import QApplication, QHBoxLayout, QVBoxLayout, QWidget

from needle.core.domains.diagnosis import Report, Step, zone_lines
from needle.core.domains.found import Found, Record, Wanted
from needle.core.edit.domain import served_at, set_domain, set_served_at
from needle.core.edit.place import EditError
from needle.core.values.counting import counted
from needle.ui.cards import Card, Table, button, label, panel, repaint_role, scrolled
from needle.ui.editors import WordsEdit
from needle.ui.language import tr
from needle.ui.outcomes import Outcomes
from needle.ui.publish.certificate import CertificateCard
from needle.ui.publish.domainreading import Reading, ToRead
from needle.ui.session import Session
from needle.ui.theme import tokens
from needle.ui.timers import every

if TYPE_CHECKING:
    from needle.services.names import Net

__all__ = ["DomainPart"]

_AGAIN_S = 20
_SOON_S = 4
_TITLES = {"name": tr("The name exists"), "servers": tr("Its name servers decide"),
           "trust": tr("Its signatures hold (DNSSEC)"), "way": tr("Nothing is in the way"),
           "records": tr("Its records lead here"), "seen": tr("Seen from outside"),
           "safe": tr("Safe, over https")}


class _Mark(QWidget):
    """The mark of a step on the stitched line: done, at fault, or still to come."""

    def __init__(self, state: str, last: bool) -> None:
        super().__init__()
        self._state, self._last = state, last
        self.setFixedWidth(30)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        look = tokens()
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        middle = QPointF(14, 14)
        if not self._last:
            painter.setPen(QPen(QColor(look.brass_dim), 1.6, Qt.PenStyle.DashLine))
            painter.drawLine(QPointF(14, 26), QPointF(14, self.height()))
        colour = {"done": look.bottle, "fault": look.thread}.get(self._state)
        painter.setPen(Qt.PenStyle.NoPen if colour else QPen(QColor(look.brass_dim), 2))
        painter.setBrush(QColor(colour) if colour else Qt.BrushStyle.NoBrush)
        painter.drawEllipse(middle, 10, 10)
        if colour:
            painter.setPen(QColor(look.on_bottle))
            painter.drawText(QRectF(4, 4, 20, 20), Qt.AlignmentFlag.AlignCenter,
                             "✓" if self._state == "done" else "!")
        painter.end()


class DomainPart(QWidget):
    """The domain, the steps to it, and the records.

    Signals:
        told: A reading has ended (the domain, a `Found` and its `Report`, or `None` twice).
    """

    told = pyqtSignal(str, object, object)

    def __init__(self, session: Session, outcomes: Outcomes) -> None:
        super().__init__()
        self._session = session
        self.net: Net | None = None
        self.certificate = CertificateCard(session, outcomes)
        self.certificate.asked.connect(self._soon)
        self.report: Report | None = None
        self._found: Found | None = None
        self._read_at = 0.0
        self._reading = False
        self.told.connect(self._on_told)
        self._clock = every(self, 1000)
        self._clock.timeout.connect(self._on_clock)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        row.addWidget(self._side())
        row.addWidget(scrolled(self._work()), 1)

    def ring(self) -> list[QWidget]:
        """The parts that F6 goes round."""
        return [self.domain, self._delete.table, self._add.table, self.certificate.directory]

    def _side(self) -> QWidget:
        side = panel("side", 396)
        column = QVBoxLayout(side)
        column.setContentsMargins(16, 12, 16, 12)
        column.setSpacing(4)
        self.domain = WordsEdit(tr("Domain of the site"), self._session.site.domain)
        self.domain.setPlaceholderText(tr("www.quillmoor.example"))
        self.domain.kept.connect(self._take_domain)
        self.place = WordsEdit(tr("Where the pages stand"), self._session.site.served_at)
        self.place.setPlaceholderText(tr("host.example, or 198.51.100.20, 2001:db8::20"))
        self.place.kept.connect(self._take_place)
        self.elsewhere = WordsEdit(tr("A server where a record was made"))
        self.elsewhere.setPlaceholderText(tr("ns1.example, if you are not sure"))
        self.elsewhere.kept.connect(lambda _: self.read())
        again = button(tr("Read again"), self.read)
        line = QHBoxLayout()
        line.addWidget(self.domain, 1)
        line.addWidget(again)
        column.addWidget(label(tr("Own address"), "title"))
        column.addLayout(line)
        for words, editor in ((tr("The pages stand at"), self.place),
                              (tr("You made a record at"), self.elsewhere)):
            column.addWidget(label(words, "small"))
            column.addWidget(editor)
        column.addSpacing(8)
        self._steps = QVBoxLayout()
        self._steps.setSpacing(0)
        column.addLayout(self._steps)
        column.addStretch()
        self._when = label("", "small", wrap=True)
        column.addWidget(self._when)
        return side

    def _work(self) -> QWidget:
        work = panel("work")
        column = QVBoxLayout(work)
        column.setContentsMargins(18, 14, 18, 14)
        column.setSpacing(14)
        self._now = Card("")
        self._now_words = label("", "small", wrap=True)
        self._now.body.addWidget(self._now_words)
        self._delete = _RecordsCard(tr("First delete"), self._session)
        self._add = _RecordsCard(tr("Then add"), self._session)
        self._left = _RecordsCard(tr("Left alone"), self._session)
        self._copy_zone = button(tr("Copy as a zone file"), self.copy_zone)
        self._copy_letter = button(tr("Copy a letter to whoever runs the domain"),
                                   self.copy_letter)
        line = QHBoxLayout()
        line.addWidget(self._copy_zone)
        line.addWidget(self._copy_letter)
        line.addStretch()
        self._add.body.addLayout(line)
        for card in (self._now, self._delete, self._add, self.certificate, self._left):
            column.addWidget(card)
        column.addStretch()
        return work

    # Changing

    def _take_domain(self, words: str) -> None:
        self._session.edit(tr("domain of the site"), lambda site: set_domain(site, words))
        self.refresh()
        self.read()

    def _take_place(self, words: str) -> None:
        self._session.edit(tr("where the pages stand"), lambda site: set_served_at(site, words))
        self.refresh()
        self.read()

    def ask_for_certificate(self) -> None:
        """Go to where a certificate is asked for; ask at once where it is known from whom."""
        self.certificate.directory.setFocus()
        if self.certificate.directory.text():
            self.certificate.ask()

    # Reading

    def wanted(self) -> Wanted:
        """Return where the domain should lead."""
        try:
            host, addresses = served_at(self._session.site.served_at)
        except EditError:
            host, addresses = "", ()
        return Wanted(host, addresses)

    def read(self) -> None:
        """Read the domain now, beside the window."""
        site = self._session.site
        if self._reading or not site.domain or not site.served_at:
            return
        self._reading = True
        self._show_when()
        Reading(self.told.emit, ToRead(
            site.domain, self.wanted(), self.net, tuple(self.elsewhere.text().split()),
            self.certificate.wanted, self.certificate.door())).start()

    def _on_told(self, domain: str, found: Found | None, report: Report | None) -> None:
        self._reading, self._read_at = False, time.monotonic()
        if domain != self._session.site.domain:
            self.read()
            return
        if report is not None:
            self._found, self.report = found, report
            self._show()
        self._show_when()

    def _soon(self) -> None:
        """Read again as soon as something may have come of asking."""
        self._read_at = time.monotonic() - _AGAIN_S + _SOON_S

    def _on_clock(self) -> None:
        self.certificate.refresh()
        if not self._reading and self.report is not None and not self.report.done and (
                time.monotonic() - self._read_at > _AGAIN_S):
            self.read()
        self._show_when()

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        self._clock.start()
        self.read()

    def hideEvent(self, event: QHideEvent | None) -> None:
        super().hideEvent(event)
        self._clock.stop()

    def end(self) -> None:
        """Read no more."""
        self._clock.stop()

    # Showing

    def refresh(self) -> None:
        """Show the domain as it is now; what was read of another one goes."""
        site = self._session.site
        self.domain.show_words(site.domain)
        self.place.show_words(site.served_at)
        if self._found is not None and self._found.bare != site.domain.removeprefix("www."):
            self._found = self.report = None
        self.certificate.refresh()
        self._show()

    def _show(self) -> None:
        report = self.report
        while self._steps.count():
            item = self._steps.takeAt(0)
            widget = item.widget() if item else None
            if widget is not None:
                widget.hide()
                widget.deleteLater()
        steps = report.steps if report else tuple(Step(one, "waits") for one in _TITLES)
        for number, step in enumerate(steps):
            self._steps.addWidget(self._step(step, number == len(steps) - 1))
        bare = self._found.bare if self._found else ""
        for card, records in ((self._delete, report.delete if report else ()),
                              (self._add, report.add if report else ()),
                              (self._left, report.left if report else ())):
            card.show_records(records, bare)
        self._show_now()
        self._show_when()

    def _show_now(self) -> None:
        report, site = self.report, self._session.site
        if not site.domain:
            words, more = tr("Which name shall the site have?"), tr(
                "Type it at the left: www.quillmoor.example. Needle reads who decides about it "
                "and says which records to delete and to add.")
        elif not site.served_at:
            words, more = tr("Where do the pages stand?"), tr(
                "Type the name or the addresses of the machine that serves them: your own server, "
                "or the machine that a Needle host runs on.")
        elif report is None:
            words, more = tr("Reading {name}…", name=site.domain), ""
        elif report.done:
            words, more = tr("https://{name} is open, with www and without",
                             name=site.domain), self._where_to_look()
        elif report.leads:
            words = tr("{name} leads here, with www and without", name=site.domain)
            more = "\n".join([
                tr("Nothing is left to do at its name servers. Now it needs a certificate."),
                *(str(fault.words) for fault in report.faults)])
        else:
            where = tr("Now: at {place}", place=report.place) if report.place else tr("Now")
            words, more = where, "\n".join(str(fault.words) for fault in report.faults)
        self._now.title.setText(words)
        self._now_words.setText(more)
        repaint_role(self._now_words, "good" if report is not None and report.done else "small")

    def _step(self, step: Step, last: bool) -> QWidget:
        made = QWidget()
        row = QHBoxLayout(made)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(8)
        row.addWidget(_Mark(step.state, last))
        column = QVBoxLayout()
        column.setContentsMargins(0, 4, 0, 14)
        column.setSpacing(2)
        head = label(_TITLES[step.id], "title" if step.state != "waits" else "dim", wrap=True)
        words = self._step_words(step)
        column.addWidget(head)
        column.addWidget(label(words, "fault" if step.state == "fault" else "small", wrap=True))
        row.addLayout(column, 1)
        made.setAccessibleName(f"{_TITLES[step.id]}: {words or step.state}")
        return made

    def _step_words(self, step: Step) -> str:
        if step.state == "fault":
            return str(step.faults[0].words) + (
                tr(" And {count} more.", count=len(step.faults) - 1)
                if len(step.faults) > 1 else "")
        found = self._found
        if step.state == "waits" or found is None:
            return tr("after the steps before it")
        return {"name": found.bare, "servers": ", ".join(found.parent_ns[:4]),
                "trust": tr("signed, and followed from the root") if found.dnssec == "secure"
                else tr("not signed, which is allowed"),
                "way": tr("no old address, no CNAME where none may be"),
                "records": tr("{bare} and {www}", bare=found.bare, www=found.www),
                "seen": tr("by {count}", count=counted(len(found.resolvers), "resolver")),
                "safe": _safe_words(found)}[step.id]

    def _where_to_look(self) -> str:
        door = self.certificate.door()
        if door is None:
            return tr("Nothing is left to do.")
        return tr("This is practice: the name leads nowhere in your browser. Your host answers "
                  "for it at port {port} of this machine.", port=door.port)

    def _show_when(self) -> None:
        if self._reading:
            words = tr("Reading…")
        elif not self._read_at:
            words = ""
        else:
            ago = int(time.monotonic() - self._read_at)
            words = tr("Read {ago} s ago.", ago=ago)
            if self.report is not None and not self.report.done:
                words += tr(" Again in {left} s.", left=max(0, _AGAIN_S - ago))
        self._when.setText(words)

    # Out

    def copy_zone(self) -> None:
        """Put the records to add on the clipboard, as lines of a zone file."""
        if self.report is not None and self._found is not None:
            _copy(zone_lines(self.report.add, self._found.bare))
            self._session.said.emit(tr("The lines are on the clipboard."), False)

    def letter(self) -> str:
        """Return what to write to whoever runs the domain."""
        report, found = self.report, self._found
        if report is None or found is None:
            return ""
        lines = [tr("Please change the zone of {name} at {place}.", name=found.bare,
                    place=report.place)]
        for words, records in ((tr("Delete:"), report.delete), (tr("Add:"), report.add)):
            if records:
                lines += ["", words, *(f"  {one.name}  {one.type}  {one.value}"
                                       for one in records)]
        if report.left:
            lines += ["", tr("Leave what belongs to mail (MX, TXT) as it is.")]
        if report.faults:
            lines += ["", tr("Why:"), *(f"- {fault.words}" for fault in report.faults)]
        return "\n".join([*lines, ""])

    def copy_letter(self) -> None:
        """Put that letter on the clipboard."""
        _copy(self.letter())
        self._session.said.emit(tr("The letter is on the clipboard."), False)


class _RecordsCard(Card):
    """Records, with a way to copy the chosen one's value."""

    def __init__(self, title: str, session: Session) -> None:
        super().__init__(title)
        self._session = session
        self._records: Sequence[Record] = ()
        self._copy = button(tr("Copy the value"), self.copy_chosen)
        self.head.addWidget(self._copy)
        self.table = Table(title, (tr("Type"), tr("Name"), tr("Value"), tr("Remembered for")), 2)
        self.body.addWidget(self.table)

    def show_records(self, records: Sequence[Record], bare: str) -> None:
        """Show records; without any the card is not there."""
        self.setVisible(bool(records))
        if records == self._records:
            return
        self._records = records
        self.table.show_rows([(one.type, _short(one.name, bare), one.value,
                               counted(one.ttl, tr("second")) if one.ttl else "–")
                              for one in records])
        self.table.fit_height()
        if records:
            self.table.selectRow(0)

    def copy_chosen(self) -> None:
        """Put the value of the chosen record on the clipboard."""
        row = self.table.currentRow()
        if 0 <= row < len(self._records):
            _copy(self._records[row].value)
            self._session.said.emit(tr("{value} is on the clipboard.",
                                       value=self._records[row].value), False)


def _safe_words(found: Found) -> str:
    if not found.shown:
        return ""
    first = found.shown[0]
    return tr("certified by {issuer} until {day}", issuer=first.issuer, day=first.until[:10])


def _short(name: str, bare: str) -> str:
    return "@" if name == bare else name.removesuffix(f".{bare}")


def _copy(words: str) -> None:
    clipboard = QApplication.clipboard()
    assert clipboard is not None
    clipboard.setText(words)

