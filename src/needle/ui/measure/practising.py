"""Practice visitors, from the window: sent, stopped, held against what was counted, taken out."""

import logging
import time
from collections import Counter

from PyQt6.QtCore import QObject, QThreadPool, pyqtSignal
from PyQt6.QtGui import QCloseEvent
from PyQt6.QtWidgets import QDialog, QFormLayout, QHBoxLayout, QProgressBar, QVBoxLayout, QWidget
from sqlalchemy.exc import SQLAlchemyError

from needle.core.measure.events import PRACTICE
from needle.crowd.ledger import Ledger, counted_events, differences, take_out
from needle.crowd.people import Crowd, people_of
from needle.crowd.walking import Walkers
from needle.store.seals import Seals
from needle.ui.cards import button, label, repaint_role
from needle.ui.editors import NumberEdit
from needle.ui.language import tr
from needle.ui.measure.browserwalk import BrowserWalk
from needle.ui.outcomes import Outcomes
from needle.ui.session import Session

__all__ = ["PracticeDialog"]

_log = logging.getLogger(__name__)
_HOUR_MS = 3_600_000
_FAULT = tr("The results cannot be read or written just now. Nothing was changed.")


class _Heard(QObject):
    """Outlives the dialog, as the thread may.

    Signals:
        done: So many people have been there.
        walked: All over plain HTTP have.
        ended: All have (the `Ledger`, and what was counted otherwise, in words).
        kept: So many events of theirs are there now, by kind; `None` if that cannot be read.
        freed: What they left was taken out, or not, which it says in words.
    """

    done = pyqtSignal(int)
    walked = pyqtSignal()
    ended = pyqtSignal(object, object)
    kept = pyqtSignal(object)
    freed = pyqtSignal(str, bool)


class PracticeDialog(QDialog):
    """How many come and what is true of them; below, how far they are and what came of it."""

    def __init__(self, session: Session, outcomes: Outcomes, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("Practice visitors"))
        self.setMinimumWidth(560)
        self._session, self._outcomes = session, outcomes
        self._walkers: Walkers | None = None
        self._browser: BrowserWalk | None = None
        self._before: Counter[str] = Counter()
        self._busy = False
        self._pool = QThreadPool(self)
        self._pool.setMaxThreadCount(1)
        self.heard = _Heard()
        self.heard.done.connect(self._on_done)
        self.heard.walked.connect(self._walk_in_browser)
        self.heard.ended.connect(self._on_ended)
        self.heard.kept.connect(self._show_kept)
        self.heard.freed.connect(self._on_freed)
        self._edits = {
            "count": NumberEdit(tr("Visitors"), 1, 50_000, 100),
            "days": NumberEdit(tr("Over the last days"), 1, 84, 1),
            "rate": NumberEdit(tr("Truly converts"), 0.1, 90, 1, "%"),
            "gain": NumberEdit(tr("Variant B is better by"), -90, 900, 5, "%"),
            "browser": NumberEdit(tr("More of them in a real browser"), 0, 200, 1)}
        self._numbers: dict[str, float] = {}
        form = QFormLayout()
        for name, value in (("count", 500), ("days", 28), ("rate", 6), ("gain", 20),
                            ("browser", 5)):
            self._take(name, value)
            self._edits[name].chosen.connect(lambda told, n=name: self._take(n, told))
            self._edits[name].refused.connect(lambda words: self._say(words, True))
            form.addRow(self._edits[name].accessibleName(), self._edits[name])
        self.says = label("", "small", wrap=True)
        self.left = label("", "small", wrap=True)
        self.bar = QProgressBar()
        self.bar.setAccessibleName(tr("How many have been there"))
        self.bar.hide()
        self._lay_out(form)
        self._show_ready()
        self._count()

    def _lay_out(self, form: QFormLayout) -> None:
        column = QVBoxLayout(self)
        column.addWidget(label(tr(
            "Made-up people visit your live pages through the host, on several days, with phones "
            "and desktops, some of them robots. Their leads are delivered nowhere. All that they "
            "leave is marked, and counted like anybody's until you take it out."), "", wrap=True))
        column.addLayout(form)
        for shown in (self.bar, self.says, self.left):
            column.addWidget(shown)
        column.addStretch()
        foot = QHBoxLayout()
        self.remove = button(tr("Take out what they left"), self.take_them_out)
        self.start = button(tr("Send them"), self.send, main=True)
        self.stop = button(tr("Stop"), self._stop)
        foot.addWidget(self.remove)
        foot.addStretch()
        for made in (button(tr("Close"), self.close), self.stop, self.start):
            foot.addWidget(made)
        column.addLayout(foot)

    def _take(self, name: str, told: object) -> None:
        if isinstance(told, int | float):
            self._numbers[name] = float(told)
        self._edits[name].show_value(self._numbers[name])

    def _say(self, words: str, fault: bool = False) -> None:
        self.says.setText(words)
        repaint_role(self.says, "fault" if fault else "small")

    def _why_not(self) -> str:
        """Return why nobody can be sent, or an empty text."""
        live = self._outcomes.live
        if live is None or not live.pages:
            return tr("Nothing is live yet. Send pages first, in Publish.")
        if self._outcomes.stand is None or not self._outcomes.address():
            return tr("The host does not run, so there is nothing to visit.")
        return ""

    def _show_ready(self) -> None:
        why = self._why_not()
        self.start.setEnabled(not why and not self._busy)
        self.stop.setVisible(self._busy and self._walkers is not None)
        self.bar.setVisible(self._busy and self._walkers is not None)
        self.remove.setEnabled(not self._busy)
        if why:
            self._say(why)

    # Sending

    def send(self) -> None:
        """Send the people, in a thread."""
        live, stand = self._outcomes.live, self._outcomes.stand
        if self._why_not() or self._busy or live is None or stand is None:
            return
        numbers = self._numbers
        now = int(time.time() * 1000)
        gain = numbers["gain"] / 100
        crowd = Crowd(int(numbers["count"]), int(numbers["days"]), numbers["rate"] / 100,
                      {"B": gain}, seed=now)
        seal = Seals(self._outcomes.folder, self._outcomes.engine).seal(PRACTICE, now + _HOUR_MS)
        self._walkers = Walkers([f"http://127.0.0.1:{stand.port}"],
                                f"{live.address}.localhost:{stand.port}", live, crowd, seal,
                                told=self.heard.done.emit)
        slugs = [page.slug for page in self._walkers.entrances() if page.forms] or [
            page.slug for page in live.pages]
        self._browser = BrowserWalk(
            self._walkers.hosts[0], slugs, crowd, seal, self._walkers.ledger,
            range(crowd.count, crowd.count + int(numbers["browser"])), self)
        self._browser.done.connect(lambda: self._on_done(self.bar.value() + 1))
        self._browser.ended.connect(self._hold_against)
        self.bar.setRange(0, crowd.count + int(numbers["browser"]))
        self.bar.setValue(0)
        self._busy = True
        self._say(tr("They are on their way…"))
        walkers = self._walkers
        self._pool.start(lambda: self._walk(walkers, crowd, now))
        self._show_ready()

    def _walk(self, walkers: Walkers, crowd: Crowd, now: int) -> None:
        """Run in the thread."""
        try:
            self._before = counted_events(self._outcomes.engine)
            walkers.run(people_of(crowd, now))
        except SQLAlchemyError as error:
            _log.error("what practice visitors left cannot be read (%s)", type(error).__name__)
            self.heard.ended.emit(walkers.ledger, [_FAULT])
        else:
            self.heard.walked.emit()

    def _walk_in_browser(self) -> None:
        if self._browser is not None:
            self._browser.begin()

    def _hold_against(self) -> None:
        walkers = self._walkers
        if walkers is not None:
            self._pool.start(lambda: self._compare(walkers.ledger))

    def _compare(self, ledger: Ledger) -> None:
        """Run in the thread."""
        try:
            other = list(differences(ledger, self._outcomes.engine, self._before))
        except SQLAlchemyError as error:
            _log.error("what practice visitors left cannot be read (%s)", type(error).__name__)
            other = [_FAULT]
        self.heard.ended.emit(ledger, other)

    def _stop(self) -> None:
        if self._walkers is not None:
            self._walkers.stop()
            if self._browser is not None:
                self._browser.stop()
            self._say(tr("Those who are on their way come to their end…"))

    def _on_done(self, count: int) -> None:
        self.bar.setValue(count)

    def _on_ended(self, ledger: Ledger, other: list[str]) -> None:
        self._busy, self._walkers, self._browser = False, None, None
        came, won = sum(ledger.came.values()), sum(ledger.won.values())
        words = [tr("They were seen on pages {came:,} times and converted {won:,} times, and left "
                    "{count:,} events.", came=came, won=won, count=sum(ledger.events.values()))]
        if ledger.robots:
            words.append(tr("{robots:,} visits were by robots.", robots=ledger.robots))
        if ledger.failed:
            words.append(tr("The host did not take: {failed}.", failed=", ".join(
                f"{why} ({count:,})" for why, count in sorted(ledger.failed.items()))))
        words.append(tr("Counted otherwise: {other}.", other="; ".join(other)) if other else
                     tr("The host has counted exactly that."))
        self._say(" ".join(words), bool(ledger.failed or other))
        self._show_ready()
        self._count()
        self._outcomes.look()

    # What is there

    def _count(self) -> None:
        self._pool.start(self._read_kept)

    def _read_kept(self) -> None:
        try:
            self.heard.kept.emit(counted_events(self._outcomes.engine))
        except SQLAlchemyError as error:
            _log.error("what practice visitors left cannot be read (%s)", type(error).__name__)
            self.heard.kept.emit(None)

    def _show_kept(self, kept: Counter[str] | None) -> None:
        if kept is None:
            self.left.setText(_FAULT)
            return
        count = sum(kept.values())
        self.left.setText(tr("{count:,} events of practice visitors are in the results.",
                             count=count) if count else
                          tr("Nothing of practice visitors is in the results."))
        self.remove.setEnabled(bool(count) and not self._busy)

    def take_them_out(self) -> None:
        """Take out all that practice visitors left, in a thread."""
        self._busy = True
        self._say(tr("Taking it out, and counting again what stays…"))
        self._show_ready()
        self._pool.start(self._take_out)

    def _take_out(self) -> None:
        try:
            count = take_out(self._outcomes.engine)
        except SQLAlchemyError as error:
            _log.error("practice visitors cannot be taken out (%s)", type(error).__name__)
            self.heard.freed.emit(_FAULT, True)
        else:
            self.heard.freed.emit(tr("{count:,} events were taken out.", count=count), False)

    def _on_freed(self, words: str, fault: bool) -> None:
        self._busy = False
        self._say(words, fault)
        self._show_ready()
        self._count()
        self._outcomes.look()

    def closeEvent(self, event: QCloseEvent | None) -> None:
        """Let nobody be on their way to a host that may end with the window."""
        if self._walkers is not None:
            self._walkers.stop()
        if self._browser is not None:
            self._browser.end()
            self._browser = None
        self._pool.waitForDone()
        super().closeEvent(event)
