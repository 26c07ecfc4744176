"""What is live and what it has brought: read from disk and results, kept until they change."""

import logging
import time
from collections.abc import Iterable
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal
from sqlalchemy import Engine
from sqlalchemy.exc import SQLAlchemyError

from needle.core.measure.period import SplitPeriod
from needle.core.progress import Results
from needle.core.site.site import Page, Site
from needle.core.values.areas import Area
from needle.core.values.ids import Id
from needle.publish.release import Live, LivePage, Release
from needle.publish.releases import LiveError, Releases, live_folder
from needle.publish.sharing import tests_live
from needle.running.stand import Stand
from needle.store.results.counting import PageCount
from needle.store.results.place import database_of
from needle.store.results.tables import open_results, results_engine
from needle.ui.figures import Counter, Figures
from needle.ui.session import Change, Session
from needle.ui.since import Since

__all__ = ["Outcomes"]


_log = logging.getLogger(__name__)
# After a count, this many times its own duration passes before the next one.
_REST = 20
# Areas that show on no page but the one that was edited.
_OWN = {Area.CONTENT, Area.BRIEF, Area.KEPT, Area.SERVICES, Area.ADDRESS,
        Area.PASSED, Area.TARGETS, Area.WORTHS, Area.TABLES}


class Outcomes(QObject):
    """The live side of a project.

    Signals:
        changed: Something was published, or visitors or leads came in.
        said: Something about the results that the person should know.

    Attributes:
        engine: The results.
        since: What changed on the pages since they were sent.
    """

    changed = pyqtSignal()
    said = pyqtSignal(str)

    def __init__(self, session: Session, stand: Stand | None) -> None:
        super().__init__()
        self._session = session
        self.stand = stand
        self.folder: Path = session.folder
        self.engine: Engine = _opened(self.folder)
        self._stamp: object = None
        self.release: Release | None = None
        self._live_fault = ""
        self._live_pages: dict[Id, LivePage] = {}
        self.since = Since(session, self.folder)
        self.since.found.connect(self.changed)
        self.figures = Figures()
        self._faults: list[str] = []
        self._counting = self._again = False
        self._tests: list[SplitPeriod] = []
        self._next_count = 0.0
        self._began = 0.0
        self._counter = Counter(self.engine, self)
        self._counter.counted.connect(self._on_counted)
        session.changed.connect(self._on_change)
        self.look()

    def look(self) -> None:
        """Read again what has changed on disk since the last look; figures follow in a moment."""
        self._next_count = 0.0
        self.glance()

    def glance(self) -> None:
        """Look at what is live, and count again if something came in.

        Counting is done beside the window, and rests a while after it took long.
        """
        stamp = self._read_stamp()
        due = time.monotonic() >= self._next_count
        if stamp == self._stamp or not due:
            return
        self._stamp = stamp
        self._read_live()
        self._count()
        self.changed.emit()

    def _read_live(self) -> None:
        try:
            self.release, self._live_fault = Releases(self.folder).current(), ""
        except LiveError as error:
            self._live_fault = str(error)
        self._live_pages = {page.id: page for page in self.live.pages} if self.live else {}
        self.since.begin(self.release)
        self._tell_faults()

    def _count(self) -> None:
        self._tests = self._wanted_tests()
        if self._counting:
            self._again = True
            return
        self._counting, self._began = True, time.monotonic()
        self._counter.count(tuple(self._tests), self.figures)

    def _on_counted(self, found: Figures) -> None:
        self._counting = False
        self._next_count = time.monotonic() + _REST * (time.monotonic() - self._began)
        self.figures = found
        self._tell_faults()
        if self._again:
            self._again = False
            self._count()
        self.changed.emit()

    def _tell_faults(self) -> None:
        faults = [fault for fault in (self._live_fault, self.figures.fault) if fault]
        if faults != self._faults:
            self._faults = faults
            for words in faults:
                self.said.emit(words)

    @property
    def counting(self) -> bool:
        """Whether figures are being counted just now."""
        return self._counting

    def _read_stamp(self) -> object:
        if self.engine.dialect.name != "sqlite":
            # A server's database has no file to look at; every few seconds is often enough.
            return [_stamp_of(live_folder(self.folder) / "live.json"), int(time.monotonic() / 5)]
        names = (live_folder(self.folder) / "live.json", self.folder / "results.db",
                 self.folder / "results.db-wal")
        return [_stamp_of(path) for path in names]

    def end(self) -> None:
        """Close the results."""
        self.since.end()
        self._counter.end()
        self.engine.dispose()

    # Live pages

    @property
    def live(self) -> Live | None:
        """What is live of the site; `None` if nothing is."""
        return self.release.live if self.release else None

    def address(self, page: Page | None = None) -> str:
        """Return the test address of a page, or of the site."""
        port = self.stand.port if self.stand else 0
        slug = f"/{page.slug}" if page else ""
        return f"http://{self._session.site.address}.localhost:{port}{slug}" if port else ""

    def live_page(self, page_id: Id) -> LivePage | None:
        """Return how a page is live, or `None`."""
        return self._live_pages.get(page_id)

    def gone_pages(self) -> list[LivePage]:
        """Return pages that are live but no longer in the site."""
        live = self.live.pages if self.live else ()
        still = {page.id for page in self._session.whole.pages}
        return [page for page in live if page.id not in still]

    def set_drifted(self, site: Site, looked_at: Iterable[Id], pages: set[Id]) -> None:
        """Take note of pages that would come out otherwise than they were sent.

        Args:
            looked_at: All that were looked at, as they are in `site`.
        """
        if self.since.set_drifted(site, looked_at, pages):
            self.changed.emit()

    def _on_change(self, change: Change) -> None:
        if change.areas - _OWN:  # What other areas show on pages may be otherwise now.
            self.since.forget()
        if change.areas & {Area.PAGES, Area.CONTENT} and self._wanted_tests() != self._tests:
            self._count()

    def pages_to_send(self) -> int | None:
        """Return how many pages differ from what is live; `None` while they are looked at."""
        return self.since.to_send()

    # Results

    def totals(self) -> Results:
        """Return what all pages brought together."""
        figures = self.figures
        return Results(figures.leads, sum(count.visitors for count in figures.pages),
                       sum(count.conversions for count in figures.pages), figures.known)

    def counts(self, page_id: Id) -> list[PageCount]:
        """Return the counts of a page's variants."""
        return [count for count in self.figures.pages if count.page == page_id]

    def tests(self) -> list[SplitPeriod]:
        """Return the split tests of all pages, each with its time."""
        return self._wanted_tests()

    def _wanted_tests(self) -> list[SplitPeriod]:
        return tests_live(self._session.site, self.live)


def _stamp_of(path: Path) -> tuple[int, int] | None:
    try:
        facts = path.stat()
    except OSError:
        return None
    return facts.st_mtime_ns, facts.st_size


def _opened(folder: Path) -> Engine:
    """Open the project's results; those of a server that is away are left for later."""
    place = database_of(folder)
    try:
        return open_results(place)
    except SQLAlchemyError as error:
        _log.error("the results cannot be opened (%s)", type(error).__name__)
        return results_engine(place)
