"""The sends so far: who sent what when, under which name, and the way back to one."""

import contextlib
from datetime import datetime

from PyQt6.QtGui import QColor
from PyQt6.QtWidgets import QInputDialog, QSpinBox

from needle.core.values.counting import counted
from needle.publish.live import bring_back
from needle.publish.refusing import PublishError
from needle.publish.release import Release, Summary
from needle.publish.releases import KEPT, LiveError, Releases
from needle.ui.cards import Card, Table, button, label
from needle.ui.language import tr
from needle.ui.outcomes import Outcomes
from needle.ui.publish.sendingwork import SendingBar
from needle.ui.publish.targets import TargetsCard
from needle.ui.session import Session
from needle.ui.theme import tokens
from needle.ui.timers import once
from needle.ui.words import plain_tip

__all__ = ["EarlierCard"]

# More rows than these are scrolled; so many releases are read at a time.
_ROWS = 5
_AT_ONCE = 8


class EarlierCard(Card):
    """Every release that is kept, the last first."""

    def __init__(self, session: Session, outcomes: Outcomes, bar: SendingBar,
                 targets: TargetsCard) -> None:
        super().__init__(tr("Sends so far"))
        self._session, self._outcomes, self._bar = session, outcomes, bar
        self._targets = targets
        self._store = Releases(session.folder)
        # The id of the release that is live, once the list shows it.
        self._shown: str | None = None
        # Releases that are listed, and those that still are to be read, a few at a time.
        self._read: list[Summary] = []
        self._left: list[str] = []
        self._more = once(self)
        self._more.timeout.connect(self._read_more)
        self.table = Table(tr("Sends so far"), (tr("When"), tr("Live"), tr("What was sent"),
                                                tr("Who")), 2)
        self.table.itemSelectionChanged.connect(self._show_actions)
        self._back = button(tr("Bring back"), self.bring_chosen_back)
        self._name = button(tr("Name it…"), self.name_chosen)
        self.keep = QSpinBox()
        self.keep.setRange(1, 10_000)
        self.keep.setAccessibleName(tr("How many sends are kept"))
        self.keep.setSuffix(tr(" are kept"))
        self.keep.setButtonSymbols(QSpinBox.ButtonSymbols.NoButtons)
        self.keep.editingFinished.connect(self._keep_at_most)
        for one in (self.keep, self._name, self._back):
            self.head.addWidget(one)
        self.body.addWidget(self.table)
        self._none = label(tr("Nothing was sent yet. Each send is kept here, and can be brought "
                              "back."), "small", wrap=True)
        self.body.addWidget(self._none)

    def refresh(self) -> None:
        """Show the releases, if there are other ones: each of them has one that is live."""
        live = self._outcomes.release.id if self._outcomes.release else ""
        if self._shown == live:
            return
        self._shown = live
        try:
            pointer = self._store.pointer()
        except LiveError:
            pointer = None  # Said elsewhere.
        self._read, self._left = [], self._store.ids()
        if not self.keep.hasFocus():
            self.keep.setValue(pointer.keep if pointer else KEPT)
        self._none.setVisible(not self._left)
        for one in (self.table, self._back, self._name, self.keep):
            one.setVisible(bool(self._left))
        self._read_more()

    def _read_more(self) -> None:
        """Read a few releases more, and list them once all are read, or these are the first."""
        first, some = not self._read, self._left[:_AT_ONCE]
        self._left = self._left[_AT_ONCE:]
        for one in some:
            with contextlib.suppress(LiveError):  # One that is broken cannot come back anyway.
                self._read.append(self._store.summary(one))
        if first or not self._left:
            self._list(self._read, self._shown or "")
        if self._left:
            self._more.start()

    def _list(self, releases: list[Summary], live: str) -> None:
        look = tokens()
        self.table.show_rows([(_when(one), tr("live now") if one.id == live else counted(
            len(one.live.pages), "page"), _what(one), one.who) for one in releases],
            [one.id for one in releases])
        for row, one in enumerate(releases):
            item = self.table.item(row, 1)
            assert item is not None
            item.setForeground(QColor(look.good if one.id == live else look.ink_second))
            words = self.table.item(row, 2)
            if words is not None and one.told:
                words.setToolTip(plain_tip("\n".join(
                    f"{page.name}: {', '.join(page.changes) or tr('new')}" for page in one.told)))
        self.table.fit_height(_ROWS)
        if self.table.currentRow() < 0 and releases:
            self.table.selectRow(0)
        self._show_actions()

    def chosen(self) -> str:
        """Return the id of the release that is chosen, or an empty text."""
        return self.table.chosen_key() or ""

    def _show_actions(self) -> None:
        live = self._shown or ""
        self._back.setEnabled(self.chosen() not in ("", live))
        self._name.setEnabled(bool(self.chosen()))

    def bring_chosen_back(self) -> None:
        """Make the chosen release live again, here and at every target that goes with a send."""
        chosen = self.chosen()
        if not chosen or self._bar.busy:
            return
        project = self._session.folder
        try:
            then = self._store.read(chosen)
            self._bar.run(tr("Bringing back"), lambda: bring_back(project, chosen))
            now = self._store.current()
        except PublishError as error:
            self._session.said.emit(str(error), True)
            return
        self._session.said.emit(tr("What was sent at {time} is live again. Your draft is as it "
                                   "was.", time=_when(then)), False)
        self._outcomes.look()
        if now is not None:
            self._targets.send_with(now)
        self.refresh()

    def name_chosen(self) -> None:
        """Give the chosen release a name."""
        chosen = self.chosen()
        if not chosen:
            return
        try:
            name, taken = QInputDialog.getText(self, tr("Name it"), tr("What is this send called?"),
                                               text=self._store.read(chosen).name)
            if taken:
                self._store.renamed(chosen, name)
        except PublishError as error:
            self._session.said.emit(str(error), True)
        self._shown = None
        self.refresh()

    def _keep_at_most(self) -> None:
        try:
            pointer = self._store.pointer()
            if pointer is None or pointer.keep == self.keep.value():
                return
            gone = self._store.keep_at_most(self.keep.value())
        except PublishError as error:
            self._session.said.emit(str(error), True)
            return
        self._shown = None
        if gone:
            self._session.said.emit(tr("{count} let go. The one that is live always stays.",
                                       count=counted(gone, "earlier send")), False)
        self.refresh()


def _when(one: Summary | Release) -> str:
    return f"{datetime.fromisoformat(one.at).astimezone():%d %b  %H:%M}"


def _what(one: Summary) -> str:
    if one.back_to:
        done = tr("an earlier send, brought back")
    elif one.off:
        done = tr("taken off: {names}", names=", ".join(one.off))
    else:
        done = ", ".join(page.name for page in one.told)
    return f"{one.name}: {done}" if one.name and done else one.name or done


