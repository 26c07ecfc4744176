"""Looking for snags beside the window: rules in a thread, laid-out pages in a hidden view."""

import logging
from collections.abc import Mapping
from pathlib import Path

from PyQt6.QtCore import QObject, QRunnable, QThreadPool, pyqtSignal

from needle.core.edit.areas import changed_areas
from needle.core.site.site import Page, Site
from needle.core.snags.beyond import LinkAnswer
from needle.core.snags.finding import SnagFinder
from needle.core.snags.laid import LaidPage
from needle.core.snags.snag import Snag
from needle.core.values.areas import Area
from needle.core.values.ids import Id
from needle.publish.beyond import beyond_of
from needle.ui.builder.live.engine import LiveEngine
from needle.ui.publish.layout import Layouts, Wanted, wanted_of
from needle.ui.timers import once

__all__ = ["Checker"]

_log = logging.getLogger(__name__)
# Areas that no laid-out page shows.
_UNSEEN = {Area.CONTENT, Area.BRIEF, Area.SERVICES, Area.KEPT, Area.ADDRESS, Area.FOLDERS,
           Area.TRACKING, Area.PASSED, Area.TARGETS}
# Pages are laid out once nothing has been changed for so long.
_REST_MS = 1200
# Records that come while many pages are measured are shown together.
_GATHER_MS = 400

_Key = tuple[Id, str, int]


class _Look(QRunnable):
    """One look at a site, in a thread. Values never change, so the window goes on meanwhile."""

    def __init__(self, checker: "Checker", site: Site) -> None:
        super().__init__()
        self._checker = checker
        self._site = site

    def run(self) -> None:
        try:
            self._checker.look_apart(self._site)
        except Exception:  # The list stays as it was; the next edit is looked at again.
            _log.exception("looking for snags failed")
            self._checker.looked.emit(self._site, None, [])


class Checker(QObject):
    """Finds the snags of a site again whenever it is asked to, never in the window's thread.

    Signals:
        found: The snags of a site (a list of `Snag`).
        measuring: How many pages are still laid out to be measured.
        looked: A look in the thread has ended (the site, its snags, what is to be measured).
    """

    found = pyqtSignal(object)
    measuring = pyqtSignal(int)
    looked = pyqtSignal(object, object, object)

    def __init__(self, engine: LiveEngine, project: Path, parent: QObject) -> None:
        super().__init__(parent)
        self._project = project
        self._finder = SnagFinder()
        self._answers: Mapping[str, LinkAnswer] = {}
        # The pages that go along with the next send; all of them before anybody has chosen.
        self.going: frozenset[Id] | None = None
        self._layouts = Layouts(engine, project, self)
        self._layouts.measured.connect(self._on_measured)
        self._layouts.idle.connect(lambda: self.measuring.emit(0))
        self._pool = QThreadPool(self)
        self._pool.setMaxThreadCount(1)
        self._busy = self._ended = False
        self._next: Site | None = None
        self._site: Site | None = None
        # Kept by the thread: what each page wants measured, and the records that are there.
        self._wanted: dict[Id, tuple[Page, list[Wanted]]] = {}
        self._laid_site: Site | None = None
        self._records: dict[str, LaidPage] = {}
        self._missing: list[Wanted] = []
        self._at_rest = once(self, _REST_MS)
        self._at_rest.timeout.connect(self._measure)
        self._soon = once(self, _GATHER_MS)
        self._soon.timeout.connect(self._again)
        self.looked.connect(self._on_looked)

    def check(self, site: Site) -> None:
        """Look at a site; of several that come meanwhile only the last is looked at."""
        if self._ended:
            return
        self._next = site
        if not self._busy:
            self._begin()

    def take_answers(self, answers: Mapping[str, LinkAnswer]) -> None:
        """Look again with what came of asking outside links."""
        self._answers = answers
        if self._site is not None:
            self.check(self._site)

    @property
    def site(self) -> Site | None:
        """The site that was looked at last."""
        return self._site

    @property
    def busy(self) -> bool:
        """Whether anything is still looked at or measured."""
        return self._busy or self._next is not None or self.left > 0 or (
            self._soon.isActive() or self._at_rest.isActive())

    @property
    def left(self) -> int:
        """How many pages are still to be laid out."""
        return self._layouts.left + len(self._missing)

    @property
    def settled(self) -> bool:
        """Whether every page was laid out as it is now."""
        return not self.left and self._next is None

    @property
    def failed(self) -> int:
        """How many pages could not be laid out."""
        return self._layouts.failed

    def rest(self) -> None:
        """Measure nothing more for now."""
        self._at_rest.stop()
        self._missing = []
        self._layouts.rest()

    def end(self) -> None:
        """Stop, and let go of the hidden view."""
        self._ended = True
        self._at_rest.stop()
        self._next = None
        self._soon.stop()
        self._pool.waitForDone()
        self._layouts.end()

    def _begin(self) -> None:
        site, self._next = self._next, None
        if site is not None:
            self._busy = True
            self._pool.start(_Look(self, site))

    def look_apart(self, site: Site) -> None:
        """Run the rules; called in the thread."""
        if self._laid_site is None or changed_areas(self._laid_site, site) - _UNSEEN:
            self._wanted.clear()
        self._laid_site = site
        wishes = [wish for page in site.pages for wish in self._wishes(site, page)]
        for wish in wishes:
            if wish.digest not in self._records and (known := self._layouts.known(wish)):
                self._records[wish.digest] = known
        laid = [self._records[wish.digest] for wish in wishes if wish.digest in self._records]
        missing = [wish for wish in wishes if wish.digest not in self._records]
        going = [page.id for page in site.pages] if self.going is None else self.going
        beyond = beyond_of(self._project, site, self._answers, going)
        self.looked.emit(site, self._finder.find(site, laid, beyond), missing)

    def _wishes(self, site: Site, page: Page) -> list[Wanted]:
        held = self._wanted.get(page.id)
        if held is None or held[0] is not page:
            held = self._wanted[page.id] = (page, [
                wish for variant in page.variants for wish in wanted_of(site, page, variant)])
        return held[1]

    def _on_looked(self, site: Site, snags: list[Snag] | None, missing: list[Wanted]) -> None:
        self._busy = False
        if self._ended:  # It was under way when the window went.
            return
        self._site = site
        if self._next is None:
            self._missing = missing
        if snags is not None:
            self.found.emit(snags)
        if self._next is not None:
            self._begin()
        else:
            self._at_rest.start()
            self.measuring.emit(self.left)

    def _measure(self) -> None:
        missing, self._missing = self._missing, []
        self._layouts.ask(missing)
        self.measuring.emit(self.left)

    def _on_measured(self, _record: LaidPage) -> None:
        self.measuring.emit(self.left)
        self._soon.start()

    def _again(self) -> None:
        if self._site is not None and not self._busy:
            self.check(self._site)
