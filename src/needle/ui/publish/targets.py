"""Where the site goes: the test address, and the targets that the person told of."""

from collections.abc import Callable
from datetime import datetime

from PyQt6.QtGui import QColor
from PyQt6.QtWidgets import QMenu, QPushButton

from needle.core.edit.targets import delete_target, keep_target
from needle.core.values.ids import new_id
from needle.core.values.targets import TARGET_KINDS, Target
from needle.publish.refusing import PublishError
from needle.publish.release import Release
from needle.publish.releases import Releases
from needle.publish.targets.opening import (
    Note,
    forget,
    known_password,
    may_replace,
    notes,
    send_release,
    set_up,
    tell,
)
from needle.publish.targets.sending import SentThere
from needle.running.addresses import practice_folder, read_address
from needle.running.children import ChildError
from needle.ui.cards import Card, Table, button
from needle.ui.language import tr
from needle.ui.outcomes import Outcomes
from needle.ui.publish.sendingwork import SendingBar
from needle.ui.publish.targetdialog import PracticePlace, TargetDialog
from needle.ui.session import Session
from needle.ui.theme import tokens

__all__ = ["TargetsCard"]

_TEST = "test"


class TargetsCard(Card):
    """The places that a release is sent to, and what each of them holds."""

    def __init__(self, session: Session, outcomes: Outcomes, bar: SendingBar) -> None:
        super().__init__(tr("Goes to"))
        self._session, self._outcomes, self._bar = session, outcomes, bar
        self._store = Releases(session.folder)
        # What is shown; asked again when something was sent or told.
        self._shown: tuple[object, ...] = ()
        self._adds = QPushButton(tr("Add a target"))
        menu = QMenu(self._adds)
        for kind, words in TARGET_KINDS.items():
            menu.addAction(f"{words}…", lambda k=kind: self.add(k))
        self._adds.setMenu(menu)
        self._send = button(tr("Send there"), self.send_chosen)
        self._change = button(tr("Change…"), self.change_chosen)
        self._remove = button(tr("Take off the list"), self.remove_chosen)
        self.head.addWidget(self._adds)
        self.table = Table(tr("Targets"), (tr("Target"), tr("Place"), tr("Holds")), 1)
        self.table.itemSelectionChanged.connect(self._show_actions)
        self.table.itemActivated.connect(lambda _: self.change_chosen())
        self.body.addWidget(self.table)
        self.foot = [self._send, self._change, self._remove]

    # Showing

    def refresh(self, release: Release | None) -> None:
        """Show the places, and what each holds.

        Args:
            release: The one that is live at the test address.
        """
        address = self._outcomes.address()
        state = (self._session.site.targets, release.id if release else "", address)
        if state == self._shown:
            return
        self._shown = state
        look, told = tokens(), notes(self._store)
        rows = [(tr("Test address"), address.removeprefix("http://")
                 or tr("not running"), tr("live") if release else tr("nothing yet"))]
        states = [look.good if release else look.ink_second]
        for target in self._session.site.targets:
            note = told.get(target.id, Note())
            rows.append((target.name, _place_words(target),
                         self._state(target, note, release)))
            states.append(look.fault if note.fault else look.good if note.release and release
                          and note.release == release.id else look.amber)
        self.table.show_rows(rows, [_TEST, *(one.id for one in self._session.site.targets)])
        for row, colour in enumerate(states):
            item = self.table.item(row, 2)
            assert item is not None
            item.setForeground(QColor(colour))
        self.table.fit_height()
        if self.table.currentRow() < 0:
            self.table.selectRow(0)
        self._show_actions()

    def _state(self, target: Target, note: Note, release: Release | None) -> str:
        if not set_up(self._session.site.id, target):
            return tr("not set up on this machine: Change…")
        if note.fault:
            return note.fault
        if not note.release:
            return tr("nothing yet")
        if release is not None and note.release == release.id:
            return tr("as live")
        return tr("as of {day}", day=_day(note.at))

    def chosen(self) -> Target | None:
        """Return the target that is chosen; `None` for the test address."""
        return self._session.site.target(self.table.chosen_key() or "")

    def _show_actions(self) -> None:
        for one in self.foot:
            one.setEnabled(self.chosen() is not None)

    # Changing

    def add(self, kind: str) -> None:
        """Ask for a new target of a kind, and keep it."""
        names = {target.name for target in self._session.site.targets}
        name, number = TARGET_KINDS[kind], 2
        while name in names:
            name, number = f"{TARGET_KINDS[kind]} {number}", number + 1
        self._ask(Target(new_id(), name, kind, ""))

    def change_chosen(self) -> None:
        """Ask for what the chosen target should be."""
        target = self.chosen()
        if target is not None:
            self._ask(target)

    def _ask(self, target: Target) -> None:
        site = self._session.site
        dialog = TargetDialog(site, target, known_password(site.id, target),
                              may_replace(site.id, target), self,
                              self._practice if self._outcomes.stand else None)
        if not dialog.exec():
            return
        kept = dialog.target
        try:
            if target.place:
                forget(site.id, target)
            tell(site.id, kept, dialog.password, dialog.replaces)
        except OSError as error:
            self._session.said.emit(tr("The password could not be kept: {why}.",
                                       why=error.strerror or ""), True)
            return
        self._session.edit(tr("target"), lambda site: keep_target(site, kept))
        self._shown = ()
        self.refresh(self._current())

    def _practice(self) -> PracticePlace:
        """Start the practice server.

        Raises:
            ChildError: It did not start.
        """
        stand, folder = self._outcomes.stand, practice_folder(self._session.folder, "server")
        if stand is None:
            raise ChildError("child-ended")
        stand.start_practice("server")
        facts = read_address(folder) or {}
        return PracticePlace(str(facts.get("url", "")), str(facts.get("user", "")),
                             str(facts.get("key", "")), folder)

    def remove_chosen(self) -> None:
        """Take the chosen target off the list; what was sent there stays there."""
        target = self.chosen()
        if target is None:
            return
        self._session.edit(tr("take a target off the list"),
                           lambda site: delete_target(site, target.id))
        self._session.said.emit(tr("“{name}” is off the list. What was sent there stays there.",
                                   name=target.name), False)
        self.refresh(self._current())

    # Sending

    def _current(self) -> Release | None:
        try:
            return self._store.current()
        except PublishError as error:
            self._session.said.emit(str(error), True)
            return None

    def send_chosen(self) -> None:
        """Send what is live to the chosen target."""
        target, release = self.chosen(), self._current()
        if target is None:
            return
        if release is None:
            self._session.said.emit(tr("Nothing was sent yet. Send the pages first."), True)
            return
        self.send_to([target], release)

    def send_with(self, release: Release) -> list[str]:
        """Send a release to every target that goes with each send; return what went wrong."""
        site = self._session.site
        return self.send_to([target for target in site.targets if target.together
                             and set_up(site.id, target)], release)

    def send_to(self, targets: list[Target], release: Release) -> list[str]:
        """Send a release to some targets, one after the other, and return what went wrong."""
        faults = []
        for target in targets:
            try:
                done = self._bar.run(tr("To {name}", name=target.name), self._job(target, release))
            except PublishError as error:
                faults.append(str(error))
                self._session.said.emit(str(error), True)
            else:
                self._session.said.emit(tr(
                    "“{name}” holds the release: {put} files sent, {same} as they were.",
                    name=target.name, put=done.put, same=done.same), False)
        self._shown = ()
        self.refresh(self._current())
        return faults

    def _job(self, target: Target, release: Release) -> Callable[[], SentThere]:
        site, store, note = self._session.site, self._store, self._bar.note
        now = f"{datetime.now().astimezone():%Y-%m-%dT%H:%M:%S%z}"
        return lambda: send_release(site, target, release, store, note, now)


def _place_words(target: Target) -> str:
    if target.kind == "bucket":
        return f"{target.bucket}/{target.folder}".rstrip("/")
    return f"{target.place}{target.folder if target.kind == 'sftp' else ''}"


def _day(iso: str) -> str:
    try:
        return f"{datetime.fromisoformat(iso).astimezone():%d %b  %H:%M}"
    except ValueError:
        return "?"


