"""Publish: what is live, what changed since, and sending it."""

from collections.abc import Callable
from datetime import datetime
from pathlib import Path
from typing import TypeVar

from PyQt6.QtCore import Qt, QUrl, pyqtSignal
from PyQt6.QtGui import QColor, QDesktopServices
from PyQt6.QtWidgets import (
    QApplication,
    QFileDialog,
    QHBoxLayout,
    QLineEdit,
    QPlainTextEdit,
    QProgressBar,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from needle.core.edit.invented import placeholders
from needle.core.edit.pages import set_page
from needle.core.values.counting import counted
from needle.core.values.ids import Id
from needle.publish.folder import publish_folder
from needle.publish.live import send_pages, take_off
from needle.publish.refusing import PublishError
from needle.ui.builder.live.engine import LiveEngine
from needle.ui.cards import Card, Table, button, label, panel
from needle.ui.commands import Command
from needle.ui.language import tr
from needle.ui.outcomes import Outcomes
from needle.ui.publish.checking import Checker
from needle.ui.publish.snags import SnagList
from needle.ui.session import Session
from needle.ui.theme import tokens
from needle.ui.waiting import watched
from needle.ui.words import MarkupLabel

__all__ = ["PublishStage"]

T = TypeVar("T")

_TITLE_FITS, _DESCRIPTION_FITS = 60, 155


class PublishStage(QWidget):
    """Snags, pages with their state, where they go, and how they look in a search.

    Signals:
        form_asked: The person wants to put a form right (its id).
        node_asked: The person wants to put a part of a page right (its id).
    """

    form_asked = pyqtSignal(str)
    node_asked = pyqtSignal(str)

    def __init__(self, session: Session, outcomes: Outcomes, engine: LiveEngine) -> None:
        super().__init__()
        self._session = session
        self._outcomes = outcomes
        self._left_out: set[Id] = set()
        self._stop = self._sending = False
        self._far = (0, 0)
        self.checker = Checker(engine, session.folder, self)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        row.addWidget(self._search_side())
        row.addWidget(self._work(), 1)

    def ring(self) -> list[QWidget]:
        """The parts that F6 goes round."""
        return [self.snags, self.title, self.pages, self._address_part, self._folder_part]

    def end(self) -> None:
        """Stop looking for snags before the window goes."""
        self._stop = True
        self.checker.end()

    # Search: title and description of the chosen page

    def _search_side(self) -> QWidget:
        side = panel("side", 318)
        column = QVBoxLayout(side)
        column.setContentsMargins(16, 12, 16, 12)
        column.setSpacing(4)
        self.snags = SnagList(self._session, self.checker)
        self.snags.form_asked.connect(self.form_asked)
        self.snags.node_asked.connect(self.node_asked)
        column.addWidget(self.snags, 1)
        column.addSpacing(8)
        self._search_head = label(tr("Found in a search"), "title")
        column.addWidget(self._search_head)
        column.addWidget(label(tr("Title"), "small"))
        self.title = QLineEdit()
        self.title.setAccessibleName(tr("Title of the page"))
        self.title.textEdited.connect(lambda words: self._take("title", words))
        self._title_note = label("", "small")
        self.description = QPlainTextEdit()
        self.description.setAccessibleName(tr("Description of the page"))
        self.description.setTabChangesFocus(True)
        self.description.setFixedHeight(78)
        self.description.textChanged.connect(
            lambda: self._take("description", self.description.toPlainText()))
        self._description_note = label("", "small")
        column.addWidget(self.title)
        column.addWidget(self._title_note)
        column.addSpacing(6)
        column.addWidget(label(tr("Description"), "small"))
        column.addWidget(self.description)
        column.addWidget(self._description_note)
        column.addSpacing(12)
        column.addWidget(label(tr("As a result"), "small"))
        self._as_found = MarkupLabel()
        self._as_found.setWordWrap(True)
        column.addWidget(self._as_found)
        return side

    def _take(self, field: str, words: str) -> None:
        page = self._session.page.id
        tidy = " ".join(words.split("\n"))
        self._session.edit(tr("{field} of page", field=field),
                           lambda site: set_page(site, page, **{field: tidy}),
                           group=f"page:{page}:{field}", asker=self)
        self._show_search()

    def _show_search(self) -> None:
        page = self._session.page
        look = tokens()
        self._search_head.setText(tr("{name} in a search", name=page.name))
        if self.title.text() != page.title:
            self.title.setText(page.title)
        if self.description.toPlainText() != page.description:
            self.description.blockSignals(True)
            self.description.setPlainText(page.description)
            self.description.blockSignals(False)
        self._title_note.setText(_fit(len(page.title), _TITLE_FITS))
        self._description_note.setText(_fit(len(page.description), _DESCRIPTION_FITS))
        address = self._outcomes.address(page).removeprefix("http://") or f"/{page.slug}"
        self._as_found.fill(
            "<span style='color:{sky};font-size:16px'>{title}</span><br>"
            "<span style='color:{good}'>{address}</span><br>"
            "<span style='color:{dim}'>{description}</span>",
            sky=look.sky, good=look.good, dim=look.ink_second, address=address,
            title=page.title[:70] or page.name,
            description=page.description[:160] or tr("No description yet."))

    # Pages

    def _work(self) -> QWidget:
        work = panel("work")
        column = QVBoxLayout(work)
        column.setContentsMargins(18, 14, 18, 14)
        column.setSpacing(14)
        column.addWidget(self._pages_card())
        row = QHBoxLayout()
        row.setSpacing(14)
        self._address_part, self._folder_part = self._address_card(), self._folder_card()
        row.addWidget(self._address_part, 1, Qt.AlignmentFlag.AlignTop)
        row.addWidget(self._folder_part, 1, Qt.AlignmentFlag.AlignTop)
        column.addLayout(row)
        column.addStretch()
        return work

    def _pages_card(self) -> Card:
        card = Card(tr("Pages"))
        self._send = button(tr("Send"), self.send, main=True)
        self._take_off = button(tr("Take off"), self.take_chosen_off)
        self._open = button(tr("Open in browser"), self.open_chosen)
        for widget in (self._open, self._take_off, self._send):
            card.head.addWidget(widget)
        self.pages = Table(tr("Pages"), ("", tr("Page"), tr("Address"), tr("Live since"),
                                         tr("Changed since")), 4)
        self.pages.itemChanged.connect(self._on_checked)
        self.pages.itemSelectionChanged.connect(self._on_chosen)
        self._progress = QProgressBar()
        self._stop_button = button(tr("Stop"), self._ask_stop)
        line = QHBoxLayout()
        line.addWidget(self._progress, 1)
        line.addWidget(self._stop_button)
        self._progress.hide()
        self._stop_button.hide()
        card.body.addWidget(self.pages)
        card.body.addLayout(line)
        return card

    def _address_card(self) -> Card:
        card = Card(tr("Test address"))
        self._address = label("", "mono")
        self._address.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        self._address_note = label("", "small", wrap=True)
        card.body.addWidget(self._address)
        card.body.addWidget(self._address_note)
        line = QHBoxLayout()
        line.addWidget(button(tr("Copy"), self._copy_address))
        line.addStretch()
        card.body.addLayout(line)
        return card

    def _folder_card(self) -> Card:
        card = Card(tr("Folder"))
        card.body.addWidget(label(tr("The whole site as files, for any web server."), "small"))
        line = QHBoxLayout()
        line.addWidget(button(tr("Write to a folder…"), self._ask_folder))
        line.addStretch()
        card.body.addLayout(line)
        return card

    def commands(self) -> list[Command]:
        """Return what can be done in Publish."""
        return [
            Command(id="publish.send", menu="Publish", title=tr("Send the chosen pages"),
                    keys="Ctrl+Return", run=self.send, keywords="publish live",
                    unless=lambda: "" if self.to_send() else
                    tr("Every page is as it is live. Nothing to send.")),
            Command(id="publish.off", menu="Publish",
                    title=tr("Take the page off the test address"),
                    run=self.take_chosen_off, unless=self._not_live),
            Command(id="publish.open", menu="Publish", title=tr("Open the page in a browser"),
                    keys="Ctrl+Alt+O", run=self.open_chosen, unless=self._not_live),
            Command(id="publish.folder", menu="Publish", title=tr("Write the site to a folder…"),
                    run=self._ask_folder)]

    def _not_live(self) -> str:
        page = self._session.page
        return "" if self._outcomes.live_page(page.id) else tr(
            "“{name}” is not live.", name=page.name)

    def to_send(self) -> list[Id]:
        """Return the pages that are ticked."""
        return [page.id for page in self._session.site.pages
                if self._outcomes.changes(page) != [] and page.id not in self._left_out]

    def send(self) -> None:
        """Make the ticked pages live."""
        wanted = self.to_send()
        if not wanted:
            self._session.said.emit(tr("Every page is as it is live. Nothing to send."), False)
            return
        if self._sending:
            self._session.said.emit(tr("It is being sent just now."), False)
            return
        try:
            site, folder = self._session.site, self._session.folder
            self._apart(lambda: send_pages(site, folder, wanted, self._on_progress))
        except PublishError as error:
            self._session.said.emit(str(error), True)
        else:
            count = tr("1 page is") if len(wanted) == 1 else tr(
                "{count} pages are", count=len(wanted))
            left = sum(1 for one in placeholders(self._session.site)
                       if one.page is None or one.page.id in wanted)
            said = tr("{count} live at {address}", count=count, address=self._outcomes.address())
            self._session.said.emit(said + _left_words(left), bool(left))
        self._outcomes.look()
        self.refresh()

    def _apart(self, job: Callable[[], T]) -> T:
        """Do a job in a thread, with the bar and the button that stops it."""
        self._stop, self._sending, self._far = False, True, (0, 0)
        self._progress.show()
        self._stop_button.show()
        self._stop_button.setFocus()
        try:
            return watched(job, self._show_progress)
        finally:
            self._sending = False
            self._progress.hide()
            self._stop_button.hide()

    def _on_progress(self, done: int, whole: int) -> bool:
        """Note how far it is; called in the thread that sends."""
        self._far = (done, whole)
        return not self._stop

    def _show_progress(self) -> None:
        done, whole = self._far
        self._progress.setMaximum(whole)
        self._progress.setValue(done)

    def _ask_stop(self) -> None:
        self._stop = True

    def take_chosen_off(self) -> None:
        """Take the chosen page off the test address."""
        page = self._session.page
        if self._outcomes.live_page(page.id) is None:
            self._session.said.emit(tr("“{name}” is not live.", name=page.name), True)
            return
        try:
            take_off(self._session.folder, [page.id])
        except PublishError as error:
            self._session.said.emit(str(error), True)
            return
        self._session.said.emit(tr("“{name}” is off the test address. Its leads are kept.",
                                   name=page.name),
                                False)
        self._outcomes.look()
        self.refresh()

    def open_chosen(self) -> None:
        """Open the chosen page where it is live."""
        page = self._session.page
        address = self._outcomes.address(page)
        if self._outcomes.live_page(page.id) is None or not address:
            self._session.said.emit(tr("“{name}” is not live yet. Send it first.", name=page.name),
                                    True)
            return
        QDesktopServices.openUrl(QUrl(address))

    def _copy_address(self) -> None:
        clipboard = QApplication.clipboard()
        assert clipboard is not None
        clipboard.setText(self._outcomes.address(self._session.page))
        self._session.said.emit(tr("The address is on the clipboard."), False)

    def _ask_folder(self) -> None:
        folder = QFileDialog.getExistingDirectory(self, tr("Write the site to a folder"))
        if not folder:
            return
        try:
            site, project = self._session.site, self._session.folder
            pages = self._apart(lambda: publish_folder(site, project, Path(folder),
                                                       self._on_progress))
        except PublishError as error:
            self._session.said.emit(str(error), True)
        else:
            self._session.said.emit(tr("{count} pages are in {folder}.",
                                       count=len(pages), folder=folder), False)

    # Showing

    def refresh(self) -> None:
        """Show the pages as they are, and as they are live."""
        self.snags.refresh()
        site = self._session.site
        rows = []
        for page in site.pages:
            live = self._outcomes.live_page(page.id)
            changes = self._outcomes.changes(page)
            keys = " + ".join(v.key for v in page.variants) if page.tested else ""
            rows.append(("", f"{page.name}  {keys}".strip(), f"/{page.slug}",
                         _local(live.sent_at) if live else "–",
                         tr("never sent") if changes is None else ", ".join(changes)
                         or tr("same as live")))
        self.pages.blockSignals(True)
        self.pages.show_rows(rows, [page.id for page in site.pages])
        self._tick_and_tint()
        self.pages.fit_height()
        self.pages.blockSignals(False)
        self._show_send()
        self._address.setText(self._outcomes.address(self._session.page) or tr("not running"))
        gone = self._outcomes.gone_pages()
        self._address_note.setText(
            tr("Still live though deleted here: {list}.",
               list=", ".join(p.name for p in gone)) if gone
            else tr("On this machine only, served by Needle's own host."))
        self._show_search()

    def _tick_and_tint(self) -> None:
        look = tokens()
        for number, page in enumerate(self._session.site.pages):
            changes = self._outcomes.changes(page)
            tick, state = self.pages.item(number, 0), self.pages.item(number, 4)
            assert isinstance(tick, QTableWidgetItem) and state is not None
            if changes != []:
                tick.setFlags(tick.flags() | Qt.ItemFlag.ItemIsUserCheckable)
                tick.setCheckState(Qt.CheckState.Unchecked if page.id in self._left_out
                                   else Qt.CheckState.Checked)
            elif tick.data(Qt.ItemDataRole.CheckStateRole) is not None:
                tick.setFlags(tick.flags() & ~Qt.ItemFlag.ItemIsUserCheckable)
                tick.setData(Qt.ItemDataRole.CheckStateRole, None)
            state.setForeground(QColor(look.good if changes == [] else look.amber))
            if page.id == self._session.page.id:
                self.pages.selectRow(number)

    def _show_send(self) -> None:
        count = len(self.to_send())
        self._send.setText(tr("Send {count}",
                              count=counted(count, "page")) if count else tr("Send"))
        self._send.setEnabled(bool(count))

    def _on_checked(self, item: QTableWidgetItem) -> None:
        page = item.data(Qt.ItemDataRole.UserRole)
        if item.column() == 0 and page:
            if item.checkState() == Qt.CheckState.Checked:
                self._left_out.discard(page)
            else:
                self._left_out.add(page)
            self._show_send()

    def _on_chosen(self) -> None:
        key = self.pages.chosen_key()
        if key and key != self._session.page.id:
            self._session.show_page(key)
            self._show_search()
            self._address.setText(self._outcomes.address(self._session.page) or tr("not running"))


def _left_words(left: int) -> str:
    """Return how many invented things went along, as a sentence of its own."""
    if not left:
        return ""
    said = tr(". 1 placeholder is left on it") if left == 1 else tr(
        ". {left} placeholders are left on them", left=left)
    return said + tr(": F9 in Build goes through them.")


def _local(iso: str) -> str:
    """Return an ISO time in UTC as this place's day and hour."""
    return f"{datetime.fromisoformat(iso).astimezone():%d %b  %H:%M}"


def _fit(length: int, fits: int) -> str:
    if not length:
        return tr("empty: searches then choose words by themselves")
    return f"{length} characters" + (tr(", cut after about {fits}",
                                        fits=fits) if length > fits else tr(", fits"))
