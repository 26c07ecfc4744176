"""The trial visit: every live page opened in a clean browser, and which codes fired on it."""

import time
from collections.abc import Callable, Sequence

import httpx
from PyQt6.QtCore import QObject, pyqtSignal

from needle.core.leads.firing import Asked, Complaint, firings
from needle.core.site.site import Page, Site
from needle.ui.connect.visiting import HiddenVisitor
from needle.ui.language import tr
from needle.ui.timers import once
from needle.ui.waiting import Stopped, one_apart

__all__ = ["TrialVisit"]

_SETTLE_MS = 1200
_AGREE = tr("(() => {\n  const button = document.querySelector('[data-consent-banner] "
            "[data-answer=\"all\"]');\n  if (button) { "
            "localStorage.removeItem(\"needle-consent\"); button.click(); }\n  return "
            "!!button;\n})()")


class TrialVisit(QObject):
    """Visits pages one after another.

    Signals:
        visited: A page and what became of every code on it.
        progress: How many pages are done, of how many.
        ended: It is over; with words if something went wrong.
    """

    visited = pyqtSignal(object, object)
    progress = pyqtSignal(int, int)
    ended = pyqtSignal(str)

    def __init__(self, site: Site, pages: Sequence[Page], base: str, receiver: str,
                 seal: str) -> None:
        super().__init__()
        self._site = site
        self._pages = list(pages)
        self._base = base
        self._receiver = receiver
        self._seal = seal
        self._at = -1
        self._visitor: HiddenVisitor | None = None
        self._began = self._agreed = 0.0
        self._then: Callable[[], None] = self._agree
        self._settle = once(self, _SETTLE_MS)
        self._settle.timeout.connect(lambda: self._then())

    def begin(self) -> None:
        """Visit the first page."""
        self._next()

    def stop(self, words: str = "") -> None:
        """Visit no more."""
        self._settle.stop()
        self._end_visitor()
        self.ended.emit(words)

    def _next(self) -> None:
        self._end_visitor()
        self._at += 1
        self.progress.emit(self._at, len(self._pages))
        if self._at >= len(self._pages):
            self.ended.emit("")
            return
        # A visitor of its own for each page, so that none has agreed to anything yet.
        self._visitor = HiddenVisitor(self._base, self._receiver, self._seal)
        self._visitor.page.loadFinished.connect(self._on_loaded)
        self._began, self._agreed = time.monotonic(), 0.0
        self._visitor.open(self._pages[self._at].slug)

    def _end_visitor(self) -> None:
        if self._visitor is not None:
            self._visitor.end()
            self._visitor = None

    def _on_loaded(self, fine: bool) -> None:
        if not fine:
            self.stop(tr("The page “{name}” could not be opened.", name=self._pages[self._at].name))
            return
        self._wait(self._agree)

    def _wait(self, then: Callable[[], None]) -> None:
        self._then = then
        self._settle.start()

    def _agree(self) -> None:
        if self._visitor is None:
            return
        self._agreed = time.monotonic()
        self._visitor.page.runJavaScript(_AGREE, lambda there: self._wait(self._tell) if there
                                         else self._tell())

    def _tell(self) -> None:
        if self._visitor is None:
            return
        page = self._pages[self._at]
        try:
            html, statuses = one_apart(None, tr("Reading the page…"), lambda: (
                httpx.get(f"{self._base}/{page.slug}", timeout=5, trust_env=False).text,
                self._statuses()))
        except (httpx.HTTPError, Stopped) as error:
            self.stop(tr("The host cannot be reached: {name}.", name=type(error).__name__))
            return
        if self._visitor is None:  # It was stopped meanwhile.
            return
        asked = [Asked(address, int((at - self._began) * 1000), bool(self._agreed)
                       and at >= self._agreed, statuses.get(address, 200))
                 for address, at in self._visitor.asked]
        heard = [Complaint(words, line, bool(self._agreed) and at >= self._agreed)
                 for words, line, at in self._visitor.heard]
        self.visited.emit(page, firings(self._site, page, html, asked, heard))
        self._next()

    def _statuses(self) -> dict[str, int]:
        """Return what the practice receiver answered, by address."""
        if not self._receiver:
            return {}
        seen = httpx.get(f"{self._receiver}/practice/seen", timeout=5, trust_env=False).json()
        return {one["address"]: one["status"] for one in seen}
