"""Asking the outside links of a site, when the person wants it: progress, stop, and what came."""

import logging
from collections.abc import Mapping
from datetime import datetime

from PyQt6.QtCore import QRunnable, QThreadPool, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QWidget

from needle.core.snags.beyond import LinkAnswer, outside_addresses
from needle.core.values.counting import counted
from needle.services.links import ask_links
from needle.ui.cards import button, label
from needle.ui.language import tr
from needle.ui.session import Session

__all__ = ["LinkLine"]

_log = logging.getLogger(__name__)


class _Asking(QRunnable):
    def __init__(self, line: "LinkLine", addresses: list[str]) -> None:
        super().__init__()
        self._line, self._addresses = line, addresses

    def run(self) -> None:
        try:
            ask_links(self._addresses, self._line.note)
        except Exception:  # What was asked is shown; the rest can be asked again.
            _log.exception("outside links could not be asked")
        self._line.through.emit()


class LinkLine(QWidget):
    """One line: how many outside links there are, what came of asking, and the button.

    Signals:
        answered: Answers came (by address).
        through: The thread is done.
    """

    answered = pyqtSignal(object)
    through = pyqtSignal()

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._pool = QThreadPool(self)
        self._stopped = False
        self._asked = ""
        self._whole = 0
        # Written by the thread, whole answers at a time.
        self._answers: dict[str, LinkAnswer] = {}
        self.state = label("", "small", wrap=True)
        self.button = button(tr("Ask for outside links"), self.ask_or_stop)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.addWidget(self.state, 1)
        row.addWidget(self.button)
        self.through.connect(self._on_through)

    @property
    def busy(self) -> bool:
        """Whether links are asked just now."""
        return self._pool.activeThreadCount() > 0

    @property
    def answers(self) -> Mapping[str, LinkAnswer]:
        """What came, by address."""
        return dict(self._answers)

    def ask_or_stop(self) -> None:
        """Ask every outside address of the site, or stop asking."""
        if self.busy:
            self._stopped = True
            return
        addresses = outside_addresses(self._session.site)
        if not addresses:
            self._session.said.emit(self.nothing_to_ask(), False)
            return
        self._stopped, self._answers, self._whole = False, {}, len(addresses)
        self._pool.start(_Asking(self, addresses))
        self.refresh()

    def nothing_to_ask(self) -> str:
        """Say why nothing can be asked; empty if something can."""
        return "" if outside_addresses(self._session.site) else tr(
            "No link leads out of the site.")

    def note(self, address: str, answer: LinkAnswer) -> bool:
        """Take an answer and return whether to go on; called in the thread."""
        self._answers[address] = answer
        return not self._stopped

    def _on_through(self) -> None:
        self._pool.waitForDone()
        self._asked = f"{datetime.now():%H:%M}"
        self.answered.emit(self.answers)
        self.refresh()

    def refresh(self) -> None:
        """Say how it stands."""
        addresses = outside_addresses(self._session.site)
        self.setVisible(bool(addresses))
        self.button.setText(tr("Stop") if self.busy else tr("Ask for outside links"))
        known = sum(address in self._answers for address in addresses)
        if self.busy:
            said = tr("{done} of {whole} answered", done=len(self._answers), whole=self._whole)
        elif self._asked:
            said = tr("{known} of {links} asked at {time}", known=known, time=self._asked,
                      links=counted(len(addresses), "outside link"))
        else:
            said = tr("{links}, not asked yet", links=counted(len(addresses), "outside link"))
        self.state.setText(said)

    def end(self) -> None:
        """Stop before the window goes."""
        self._stopped = True
        self._pool.waitForDone()
