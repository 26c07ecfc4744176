"""What changed on each page since it was sent: at once for one page, in slices for hundreds."""

import time
from collections.abc import Iterable
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from needle.core.edit.changes import Sent, as_sent, page_changes, site_changes
from needle.core.site.site import Page, Site
from needle.core.values.ids import Id
from needle.publish.live import page_digest
from needle.publish.release import Release
from needle.publish.releases import read_sent
from needle.ui.language import tr
from needle.ui.session import Session
from needle.ui.timers import once

__all__ = ["Since"]

_SETTINGS = tr("settings that show on it")
# What a person does not feel: so long the window's thread looks at pages in one go.
_AT_ONCE_S, _SLICE_S = 0.015, 0.008


class Since(QObject):
    """Compares pages with how they were sent, and keeps what it found until something changes.

    Signals:
        found: What was still to be looked at is known now.
    """

    found = pyqtSignal()

    def __init__(self, session: Session, project: Path) -> None:
        super().__init__()
        self._session = session
        self._project = project
        self._release: Release | None = None
        self._sent: dict[Id, Sent | None] = {}
        # What changed on a page itself, with the page that was looked at; and all that changed.
        self._on_page: dict[Id, tuple[Page, list[str]]] = {}
        self._all: dict[Id, tuple[Page, list[str] | None]] = {}
        # Pages that are as they were sent, but would come out otherwise now.
        self._drifted: set[Id] = set()
        # Pages of which something without words changed that does not show, as they were then.
        self._cleared: dict[Id, Page] = {}
        # The site that is looked at, those of its pages that may be others than were looked at
        # (`None` for all), and how many differ.
        self._site: Site | None = None
        self._left: dict[Id, Page] | None = None
        self._count: int | None = None
        self._next = once(self)
        self._next.timeout.connect(self._go_on)

    def begin(self, release: Release | None) -> None:
        """Compare with what is live now."""
        self._release = release
        for held in (self._sent, self._on_page, self._all):
            held.clear()
        self._drifted, self._cleared = set(), {}
        self._left = self._count = None

    def forget(self) -> None:
        """Compare anew: something of the site changed that shows on many pages."""
        self._all.clear()
        self._left = self._count = None

    def _follow(self) -> Site:
        """Return the site as it is; of one with the same pages only those are left to be looked at
        that are others now."""
        site, before = self._session.whole, self._site
        if before is None or site is before:
            self._site = site
            return site
        self._site = site
        changed = _changed(before, site)
        if changed is None:
            self._left = self._count = None
        elif self._left is not None:
            self._left |= {page.id: page for _, page in changed}
        # What its tables give to menus shows on many pages.
        if (changed is None or any(map(_renamed, changed))) and (
                site.named_pages() != before.named_pages()):
            self.forget()
        return site

    def end(self) -> None:
        """Look no more."""
        self._next.stop()

    def known(self, page: Page) -> bool:
        """Whether a page was looked at as it is."""
        held = self._all.get(page.id)
        return held is not None and held[0] is page

    def ready(self) -> bool:
        """Look at what is not known; `False` if some is left, which `found` tells of later."""
        if self._next.isActive():
            return False
        if not self._look_for(_AT_ONCE_S):
            self._next.start()
            return False
        return True

    def _go_on(self) -> None:
        if self._look_for(_SLICE_S):
            self.found.emit()
        else:
            self._next.start()

    def _look_for(self, seconds: float) -> bool:
        end, site = time.monotonic() + seconds, self._follow()
        if self._left is None:
            self._left = {page.id: page for page in site.pages}
        while self._left:
            page = next(iter(self._left.values()))
            if not self.known(page):
                if time.monotonic() >= end:
                    return False
                self._look_at(page)
            del self._left[page.id]
        return True

    def changes(self, page: Page) -> list[str] | None:
        """Return what changed since a page was sent, or `None` if it never was."""
        self._follow()
        if not self.known(page):
            self._look_at(page)
            self._left = None  # It may be the page as it is elsewhere, so all are asked for again.
        return self._told(page)

    def _told(self, page: Page) -> list[str] | None:
        found = self._all[page.id][1]
        if found is None:
            return None
        if page.id in self._drifted:
            return found if found not in ([], [_SETTINGS]) else [tr("how it comes out")]
        return [] if found == [_SETTINGS] and self._cleared.get(page.id) is page else found

    def to_send(self) -> int | None:
        """Return how many pages differ from what is live; `None` while they are looked at."""
        if not self.ready():
            return None
        if self._count is None:
            self._count = sum(self._told(page) != [] for page in self._follow().pages)
        return self._count

    def unchanged(self) -> list[Id]:
        """Return the pages of which nothing changed that there are words for."""
        return [page.id for page in self._session.whole.pages
                if self.changes(page) is not None and self._all[page.id][1] in ([], [_SETTINGS])]

    def set_drifted(self, site: Site, looked_at: Iterable[Id], pages: set[Id]) -> bool:
        """Take note of pages that would come out otherwise than they were sent.

        Args:
            looked_at: All that were looked at, as they are in `site`.

        Returns:
            Whether that is news.
        """
        both = set(looked_at) - pages
        cleared = {page.id: page for page in site.pages if page.id in both}
        news = pages != self._drifted or cleared != self._cleared
        self._drifted, self._cleared = pages, cleared
        self._count = None
        return news

    def _look_at(self, page: Page) -> None:
        self._all[page.id] = (page, self._compared(page))
        self._count = None

    def _compared(self, page: Page) -> list[str] | None:
        release = self._release
        if release is None or release.live.page(page.id) is None:
            return None
        # Equal digests need no reading of what was sent.
        if page_digest(self._session.whole, page)[1] == release.sent.get(page.id):
            return []
        if page.id not in self._sent:
            self._sent[page.id] = read_sent(self._project, page.id, release)
        sent = self._sent[page.id]
        if sent is None:
            return None
        # No words for it are no proof that nothing changed.
        return [*self._changes_on(page, sent),
                *site_changes(sent, as_sent(self._session.whole, page))] or [_SETTINGS]

    def _changes_on(self, page: Page, sent: Sent) -> list[str]:
        known = self._on_page.get(page.id)
        if known is None or known[0] is not page:
            known = self._on_page[page.id] = (page, page_changes(sent, page))
        return known[1]


def _changed(before: Site, now: Site) -> list[tuple[Page, Page]] | None:
    """Return the pages that are others than before, as they were and are; `None` if there are
    others."""
    if len(before.pages) != len(now.pages):
        return None
    found = [(was, page) for was, page in zip(before.pages, now.pages, strict=True)
             if was is not page]
    return None if any(was.id != page.id for was, page in found) else found


def _renamed(pair: tuple[Page, Page]) -> bool:
    was, page = pair
    return (was.name, was.slug, was.row.name) != (page.name, page.slug, page.row.name)
