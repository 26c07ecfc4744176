"""Watching what runs beside the window: the host, and deliveries that are behind."""

import logging
import time
from collections.abc import Callable

import httpx
import msgspec
from PyQt6.QtCore import QObject, QRunnable, QThreadPool, pyqtSignal

from needle.running.children import ChildError
from needle.running.stand import Stand
from needle.ui.language import tr
from needle.ui.outcomes import Outcomes
from needle.ui.timers import every

__all__ = ["Watch"]

_log = logging.getLogger(__name__)
_EACH_MS = 8_000
_PATIENCE_S = 4.0
# A host that is asked while the machine is busy may be late once.
_SILENT_TWICE = 2


class _Health(msgspec.Struct, frozen=True):
    """What the host tells of itself."""

    ok: bool = False
    faults: tuple[str, ...] = ()
    waiting: int = 0
    failed: int = 0
    oldest_s: int = 0


class _Look(QRunnable):
    def __init__(self, look: Callable[[], None]) -> None:
        super().__init__()
        self._look = look

    def run(self) -> None:
        self._look()


class Watch(QObject):
    """Asks the host how it fares, in a thread, and begins it again when it has ended.

    Signals:
        told: How things stand now, if that is new (words, whether it is a fault).

    Attributes:
        alarm: What is wrong now, in words; empty if nothing is.
        waiting: How many deliveries wait after a failed try.
    """

    told = pyqtSignal(str, bool)
    _looked = pyqtSignal(str, int)

    def __init__(self, outcomes: Outcomes, stand: Stand | None) -> None:
        super().__init__()
        self._outcomes = outcomes
        self._stand = stand
        self.alarm = ""
        self.waiting = 0
        self._silent = 0
        self._pool = QThreadPool(self)
        self._pool.setMaxThreadCount(1)
        self._looked.connect(self._take)
        self._timer = every(self, _EACH_MS)
        self._timer.timeout.connect(self.look)
        if stand is not None:
            self._timer.start()

    def look(self) -> None:
        """Look now; what is found comes by `told`."""
        if self._pool.activeThreadCount() == 0:
            self._pool.start(_Look(self._ask))

    def end(self) -> None:
        """Look no more."""
        self._timer.stop()
        self._pool.waitForDone()

    def _ask(self) -> None:
        stand = self._stand
        if stand is None:
            return
        host = stand.child("host")
        if host is None or not host.alive:
            self._looked.emit(self._begin_again(stand), 0)
            return
        try:
            answer = httpx.get(f"http://127.0.0.1:{stand.port}/_needle/health",
                               timeout=_PATIENCE_S, trust_env=False)
            health = msgspec.json.decode(answer.content, type=_Health)
        except (httpx.HTTPError, msgspec.DecodeError, UnicodeDecodeError):
            self._silent += 1
            words = tr("The host does not answer. Visitors may see nothing, and no lead is taken.")
            self._looked.emit(words if self._silent >= _SILENT_TWICE else self.alarm, self.waiting)
            return
        self._silent = 0
        words = tr("The host says: {list}.",
                   list="; ".join(health.faults)[:300]) if health.faults else ""
        self._looked.emit(words, health.failed)

    def _begin_again(self, stand: Stand) -> str:
        try:
            stand.start_host(stand.port)
        except ChildError as error:
            return tr("The host has ended and did not start again: {error}", error=error)
        _log.warning("the host had ended and was begun again")
        return ""

    def _take(self, words: str, waiting: int) -> None:
        self.waiting = waiting
        if words == self.alarm:
            return
        before, self.alarm = self.alarm, words
        if words:
            self.told.emit(words, True)
        elif before:
            self.told.emit(tr("All is well again since {time}.", time=time.strftime("%H:%M")),
                           False)
