"""Sending: the snags, the pages with what changed on them, where they go, and the way back."""

from pathlib import Path

from PyQt6.QtCore import QUrl
from PyQt6.QtGui import QDesktopServices, QHideEvent, QShowEvent
from PyQt6.QtWidgets import (
    QApplication,
    QFileDialog,
    QHBoxLayout,
    QVBoxLayout,
    QWidget,
)

from needle.core.edit.invented import placeholders
from needle.core.snags.finding import find_snags
from needle.core.snags.passing import page_of, sorted_out
from needle.core.snags.snag import Snag
from needle.core.values.counting import counted
from needle.core.values.ids import Id
from needle.publish.beyond import beyond_of
from needle.publish.folder import publish_folder
from needle.publish.live import send_pages, take_off
from needle.publish.refusing import PublishError
from needle.publish.release import Release
from needle.publish.releases import Releases
from needle.publish.schedule import schedule_off, schedule_sending
from needle.ui.builder.live.engine import LiveEngine
from needle.ui.cards import Card, button, panel, scrolled
from needle.ui.language import tr
from needle.ui.outcomes import Outcomes
from needle.ui.publish.checking import Checker
from needle.ui.publish.differences import DifferencesDialog
from needle.ui.publish.drifting import Drift
from needle.ui.publish.earlier import EarlierCard
from needle.ui.publish.later import LaterCard, LaterDialog
from needle.ui.publish.leaving import LeavingDialog
from needle.ui.publish.pagelist import PageList
from needle.ui.publish.sendingwork import SendingBar
from needle.ui.publish.snags import SnagList
from needle.ui.publish.targets import TargetsCard
from needle.ui.session import Session
from needle.ui.timers import every
from needle.ui.words import agreed

__all__ = ["SendPart"]

_NAMED = 5
_LOOK_MS = 2000


class SendPart(QWidget):
    """Snags at the left; pages, targets and earlier sends beside them."""

    def __init__(self, session: Session, outcomes: Outcomes, checker: Checker,
                 engine: LiveEngine) -> None:
        super().__init__()
        self._engine = engine
        self._session = session
        self._outcomes = outcomes
        self._releases = Releases(session.folder)
        # Snags that lose leads, about which the person was asked and sent all the same.
        self._agreed: set[tuple[str, str]] = set()
        self.drift = Drift(session.folder, self)
        self.drift.found.connect(outcomes.set_drifted)
        self.bar = SendingBar()
        self.snags = SnagList(session, checker)
        self.targets = TargetsCard(session, outcomes, self.bar)
        self.to_come = LaterCard(session)
        self.to_come.done.connect(self._on_done_meanwhile)
        self._clock = every(self, _LOOK_MS)
        self._clock.timeout.connect(self.to_come.refresh)
        self.earlier = EarlierCard(session, outcomes, self.bar, self.targets)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        side = panel("side", 318)
        column = QVBoxLayout(side)
        column.setContentsMargins(16, 12, 16, 12)
        column.addWidget(self.snags)
        row.addWidget(side)
        row.addWidget(scrolled(self._work()), 1)

    def end(self) -> None:
        """Look no more before the window goes."""
        self._clock.stop()
        self.snags.links.end()
        self.drift.end()

    def ring(self) -> list[QWidget]:
        """The parts that F6 goes round."""
        return [self.snags, self.pages, self.to_come.table, self.targets.table,
                self.earlier.table]

    def _work(self) -> QWidget:
        work = panel("work")
        column = QVBoxLayout(work)
        column.setContentsMargins(18, 14, 18, 14)
        column.setSpacing(14)
        self._pages_part = self._pages_card()
        column.addWidget(self._pages_part)
        column.addWidget(self.to_come)
        self._finish_targets()
        column.addWidget(self.targets)
        column.addWidget(self.earlier)
        column.addStretch()
        return work

    def _pages_card(self) -> Card:
        card = Card(tr("Pages"))
        self._send = button(tr("Send"), self.send, main=True)
        self._take_off = button(tr("Take off…"), self.take_chosen_off)
        self._open = button(tr("Open in browser"), self.open_chosen)
        self._differences = button(tr("What changed…"), self.show_differences)
        self._later = button(tr("Later…"), self.set_for_later)
        for widget in (self._differences, self._open, self._take_off, self._later, self._send):
            card.head.addWidget(widget)
        self.pages = PageList(self._session, self._outcomes)
        self.pages.ticked.connect(self._show_send)
        self.pages.ticked.connect(self._look_for_snags)
        self.pages.itemActivated.connect(lambda _: self.show_differences())
        card.body.addWidget(self.pages)
        card.body.addWidget(self.bar)
        return card

    def _finish_targets(self) -> None:
        line = QHBoxLayout()
        line.addWidget(button(tr("Copy the test address"), self._copy_address))
        line.addWidget(button(tr("Write the draft to a folder…"), self.ask_folder))
        line.addStretch()
        for one in self.targets.foot:
            line.addWidget(one)
        self.targets.body.addLayout(line)

    def not_live(self) -> str:
        """Say why the chosen page cannot be opened or taken off; empty if it can."""
        page = self._session.published
        return "" if page is not None and self._outcomes.live_page(page.id) else tr(
            "“{name}” is not live.", name=(page or self._session.page).name)

    # Sending

    def to_send(self) -> list[Id]:
        """Return the pages that are ticked."""
        return self.pages.to_send()

    def send(self) -> None:
        """Make the ticked pages live, and send them to every target that goes along."""
        wanted = self.to_send()
        if not wanted:
            self._session.said.emit(tr("Every page is as it is live. Nothing to send."), False)
            return
        if self.bar.busy:
            self._session.said.emit(tr("It is being sent just now."), False)
            return
        if not self._may_send(wanted):
            return
        try:
            site, folder, note = self._session.site, self._session.folder, self.bar.note

            def work() -> Release | None:
                send_pages(site, folder, wanted, note)
                return self._releases.current()  # Read beside the window, too.

            release = self.bar.run(tr("Sending"), work)
        except PublishError as error:
            self._session.said.emit(str(error), True)
            release = None
        else:
            self._say_sent(wanted)
        self._outcomes.look()
        if release is not None:
            self.targets.send_with(release)
        self.refresh()

    def _say_sent(self, wanted: list[Id]) -> None:
        count = tr("1 page is") if len(wanted) == 1 else tr(
            "{count} pages are", count=len(wanted))
        left = sum(1 for one in placeholders(self._session.site)
                   if one.page is None or one.page.id in wanted)
        said = tr("{count} live at {address}", count=count, address=self._outcomes.address())
        self._session.said.emit(said + _left_words(left), bool(left))

    def _may_send(self, wanted: list[Id]) -> bool:
        """Ask about snags that lose leads on these pages, once for each of them."""
        found = self.bar.run(tr("Looking for snags"), lambda: self._worst(wanted))
        worst = [snag for snag in found
                 if (snag.rule, snag.target) not in self._agreed]
        if not worst:
            return True
        lines = [f"{snag.words} ({snag.where})" for snag in worst[:_NAMED]]
        if len(worst) > _NAMED:
            lines.append(tr("and {count} more", count=len(worst) - _NAMED))
        fine = agreed(self, tr("Before it is sent"),
                      tr("{count} open that cost leads:\n\n{list}\n\nNobody is asked about these "
                         "again.",
                         count=counted(len(worst), "snag"), list="\n".join(lines)),
                      tr("Send all the same"), tr("Back to the snags"))
        if fine:
            self._agreed |= {(snag.rule, snag.target) for snag in worst}
        return fine

    def _worst(self, wanted: list[Id]) -> list[Snag]:
        site, whole = self._session.site, self._session.whole
        # What stands on the page of each row stands on the page that makes them.
        origins = {page.row.page or page.id for page in whole.pages if page.id in wanted}
        found, _ = sorted_out(site, find_snags(
            site, (), beyond_of(self._session.folder, site, going=wanted)))
        return [snag for snag in found if snag.weight == 1
                and page_of(site, snag) in ("", *origins)]

    def differences(self) -> DifferencesDialog:
        """Return the dialog that shows draft against live."""
        return DifferencesDialog(self._session, self._outcomes, self._engine, self)

    def show_differences(self) -> None:
        """Show draft against live, in words and pictures."""
        self.differences().exec()

    # One page

    def take_chosen_off(self) -> None:
        """Take the chosen page off, once the person has said where its address leads then."""
        page = self._session.published
        if page is None or self.not_live():
            self._session.said.emit(self.not_live(), True)
            return
        dialog = LeavingDialog(page.name, self._others(page.id), self)
        if not dialog.exec():
            return
        try:
            take_off(self._session.folder, [page.id], dialog.leads(page.id))
            release = self._releases.current()
        except PublishError as error:
            self._session.said.emit(str(error), True)
            return
        self._session.said.emit(tr("“{name}” is off. Its leads are kept.", name=page.name), False)
        self._outcomes.look()
        if release is not None:
            self.targets.send_with(release)
        self.refresh()

    # Later

    def set_for_later(self) -> None:
        """Ask for a time, at which the ticked pages are sent, or the chosen one is taken off."""
        wanted = self.to_send()
        page = self._session.published or self._session.page
        dialog = LaterDialog(
            tr("Send {count}", count=counted(len(wanted), "page")) if wanted else "",
            "" if self.not_live() else tr("Take “{name}” off", name=page.name), self)
        if not dialog.exec():
            return
        try:
            if dialog.send.isChecked():
                if not self._may_send(wanted):
                    return
                site, folder, note = self._session.site, self._session.folder, self.bar.note
                self.bar.run(tr("Making the pages"), lambda: schedule_sending(
                    site, folder, wanted, dialog.moment, note))
            else:
                leaving = LeavingDialog(page.name, self._others(page.id), self)
                if not leaving.exec():
                    return
                schedule_off(self._session.folder, {page.id: page.name}, dialog.moment,
                             leaving.leads(page.id))
        except PublishError as error:
            self._session.said.emit(str(error), True)
            return
        self._session.said.emit(tr("Set for {time}.",
                                   time=f"{dialog.moment.astimezone():%d %b %Y %H:%M}"), False)
        self.to_come.refresh()

    def _others(self, page_id: Id) -> list[tuple[Id, str]]:
        """Return the other pages that are live, with their names."""
        return [(one.id, one.name) for one in self._session.whole.pages
                if one.id != page_id and self._outcomes.live_page(one.id)]

    def _on_done_meanwhile(self) -> None:
        self._outcomes.look()
        self.refresh()

    def open_chosen(self) -> None:
        """Open the chosen page where it is live."""
        page = self._session.published
        address = self._outcomes.address(page) if page is not None else ""
        if page is None or self._outcomes.live_page(page.id) is None or not address:
            self._session.said.emit(tr("“{name}” is not live yet. Send it first.",
                                       name=(page or self._session.page).name), True)
            return
        QDesktopServices.openUrl(QUrl(address))

    def _copy_address(self) -> None:
        clipboard = QApplication.clipboard()
        assert clipboard is not None
        clipboard.setText(self._outcomes.address(self._session.published))
        self._session.said.emit(tr("The address is on the clipboard."), False)

    def ask_folder(self) -> None:
        """Write the draft of the whole site to a folder."""
        folder = QFileDialog.getExistingDirectory(self, tr("Write the draft to a folder"))
        if not folder:
            return
        try:
            site, project, note = self._session.site, self._session.folder, self.bar.note
            pages = self.bar.run(tr("Writing"), lambda: publish_folder(
                site, project, Path(folder), note))
        except PublishError as error:
            self._session.said.emit(str(error), True)
        else:
            self._session.said.emit(tr("{count} pages are in {folder}.",
                                       count=len(pages), folder=folder), False)

    # Showing

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        self._clock.start()

    def hideEvent(self, event: QHideEvent | None) -> None:
        super().hideEvent(event)
        self._clock.stop()
        self.drift.rest()

    def refresh(self) -> None:
        """Show the pages as they are, and as they are live."""
        ready = self._outcomes.since.ready()
        self._look_for_snags()
        self.pages.refresh()
        self._show_send()
        release = self._outcomes.release
        self.to_come.refresh()
        self.targets.refresh(release)
        if release is not None and ready and self.isVisible():
            self.drift.ask(self._session.whole, release, self._outcomes.since.unchanged())
        self.earlier.refresh()
        gone = self._outcomes.gone_pages()
        self._pages_part.note.setText(tr("Still live though deleted here: {list}.", list=", ".join(
            page.name for page in gone)) if gone else "")

    def _look_for_snags(self) -> None:
        """Look, once it is known which pages go along; until then nothing is said of them."""
        if self._outcomes.since.ready():
            release = self._outcomes.release
            self.snags.refresh(release.id if release else "", frozenset(self.to_send()))

    def _show_send(self) -> None:
        if not self._outcomes.since.ready():
            self._send.setEnabled(False)
            return
        count = len(self.to_send())
        self._send.setText(tr("Send {count}",
                              count=counted(count, "page")) if count else tr("Send"))
        self._send.setEnabled(bool(count))


def _left_words(left: int) -> str:
    """Return how many invented things went along, as a sentence of its own."""
    if not left:
        return ""
    said = tr(". 1 placeholder is left on it") if left == 1 else tr(
        ". {left} placeholders are left on them", left=left)
    return said + tr(": F9 in Build goes through them.")
