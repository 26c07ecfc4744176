"""Looking beside the window whether pages that are called the same come out the same."""

import logging
from pathlib import Path

from PyQt6.QtCore import QObject, QRunnable, QThreadPool, pyqtSignal

from needle.core.site.site import Site
from needle.core.values.ids import Id
from needle.publish.drift import drifted
from needle.publish.release import Release
from needle.ui.timers import once

__all__ = ["Drift"]

_log = logging.getLogger(__name__)
# Pages are rendered once nothing has been changed for so long.
_REST_MS = 2500


class _Look(QRunnable):
    def __init__(self, drift: "Drift", ticket: int, site: Site, release: Release,
                 pages: list[Id]) -> None:
        super().__init__()
        self._drift, self._ticket = drift, ticket
        self._site, self._release, self._pages = site, release, pages

    def run(self) -> None:
        try:
            found = drifted(self._site, self._drift.project, self._release, self._pages,
                            lambda: self._drift.ticket == self._ticket)
        except Exception:  # What is said of the pages stays as it was.
            _log.exception("pages could not be compared with what is live")
            return
        self._drift.looked.emit(self._ticket, found)


class Drift(QObject):
    """Compares what pages come to with what is live, at rest.

    Signals:
        found: What was looked at (the site, the ids of pages), and those of them that come out
            otherwise (a set of their ids).
        looked: A look in the thread has ended (its number, what it found).

    Attributes:
        ticket: The number of the last look that was asked for; earlier ones stop.
    """

    found = pyqtSignal(object, object, object)
    looked = pyqtSignal(int, object)

    def __init__(self, project: Path, parent: QObject) -> None:
        super().__init__(parent)
        self.project = project
        self.ticket = 0
        self._asked: tuple[Site, Release, list[Id]] | None = None
        self._pool = QThreadPool(self)
        self._pool.setMaxThreadCount(1)
        self._rest = once(self, _REST_MS)
        self._rest.timeout.connect(self._begin)
        self.looked.connect(self._on_looked)

    def ask(self, site: Site, release: Release, pages: list[Id]) -> None:
        """Look at pages that are called the same as live, if these were not looked at yet."""
        known = self._asked
        if known and (known[0] is site and known[1].id == release.id and known[2] == pages):
            return
        self._asked = (site, release, pages)
        self.ticket += 1
        self._rest.start()

    @property
    def busy(self) -> bool:
        """Whether a look is still to come, or under way."""
        return self._rest.isActive() or self._pool.activeThreadCount() > 0

    def _begin(self) -> None:
        if self._asked is not None and self._asked[2]:
            self._pool.start(_Look(self, self.ticket, *self._asked))

    def _on_looked(self, ticket: int, found: set[Id]) -> None:
        if ticket == self.ticket and self._asked is not None:
            self.found.emit(self._asked[0], self._asked[2], found)

    def rest(self) -> None:
        """Look at nothing for now."""
        self.ticket += 1
        self._asked = None
        self._rest.stop()

    def end(self) -> None:
        """Stop before the window goes."""
        self.rest()
        self._pool.waitForDone()
