"""What is live and what it has brought: read from disk and results, kept until they change."""

import time
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal
from sqlalchemy import Engine

from needle.core.edit.changes import Sent, as_sent, changes_since
from needle.core.progress import Results
from needle.core.site.ids import Id
from needle.core.site.site import Page
from needle.publish.live import Live, LivePage, live_folder, read_live, read_sent
from needle.running.stand import Stand
from needle.store.results.book import count_leads
from needle.store.results.counting import PageCount, page_counts
from needle.store.results.tables import open_results
from needle.ui.session import Session

__all__ = ["Outcomes"]


# After a look, this many times its own duration passes before the next one.
_REST = 20


class Outcomes(QObject):
    """The live side of a project.

    Signals:
        changed: Something was published, or visitors or leads came in.

    Attributes:
        engine: The results.
    """

    changed = pyqtSignal()

    def __init__(self, session: Session, stand: Stand | None) -> None:
        super().__init__()
        self._session = session
        self.stand = stand
        self.folder: Path = session.folder
        self.engine: Engine = open_results(self.folder / "results.db")
        self._stamp: object = None
        self._live: Live | None = None
        self._sent: dict[Id, Sent | None] = {}
        self._counts: list[PageCount] = []
        self._leads = 0
        self.look()

    def look(self) -> None:
        """Read again what has changed on disk since the last look."""
        self._next_look = 0.0
        self.glance()

    def glance(self) -> None:
        """Look, unless the last look took long and was a short while ago.

        With millions of visits counting takes seconds; the window must not spend its time on it.
        """
        stamp = self._read_stamp()
        started = time.monotonic()
        if stamp == self._stamp or started < self._next_look:
            return
        self._stamp = stamp
        self._live = read_live(self.folder)
        self._sent.clear()
        self._counts = page_counts(self.engine)
        self._leads = count_leads(self.engine)
        self._next_look = time.monotonic() + _REST * (time.monotonic() - started)
        self.changed.emit()

    def _read_stamp(self) -> object:
        names = (live_folder(self.folder) / "live.json", self.folder / "results.db",
                 self.folder / "results.db-wal")
        return [(path.stat().st_mtime_ns, path.stat().st_size) if path.exists() else None
                for path in names]

    def end(self) -> None:
        """Close the results."""
        self.engine.dispose()

    # Live pages

    def address(self, page: Page | None = None) -> str:
        """Return the test address of a page, or of the site."""
        port = self.stand.port if self.stand else 0
        slug = f"/{page.slug}" if page else ""
        return f"http://{self._session.site.address}.localhost:{port}{slug}" if port else ""

    def live_page(self, page_id: Id) -> LivePage | None:
        """Return how a page is live, or `None`."""
        return self._live.page(page_id) if self._live else None

    def gone_pages(self) -> list[LivePage]:
        """Return pages that are live but no longer in the site."""
        live = self._live.pages if self._live else ()
        return [page for page in live if self._session.site.page(page.id) is None]

    def changes(self, page: Page) -> list[str] | None:
        """Return what changed since a page was sent, or `None` if it never was."""
        if self.live_page(page.id) is None:
            return None
        if page.id not in self._sent:
            self._sent[page.id] = read_sent(self.folder, page.id)
        sent, site = self._sent[page.id], self._session.site
        if sent is None:
            return None
        return changes_since(sent, as_sent(site, page))

    def pages_to_send(self) -> int:
        """Return how many pages differ from what is live."""
        return sum(self.changes(page) != [] for page in self._session.site.pages)

    # Results

    def totals(self) -> Results:
        """Return what all pages brought together."""
        return Results(self._leads, sum(count.visitors for count in self._counts),
                       sum(count.conversions for count in self._counts))

    def counts(self, page_id: Id) -> list[PageCount]:
        """Return the counts of a page's variants."""
        return [count for count in self._counts if count.page == page_id]
