"""`./needle bench pauses`: what Needle spends in the window's thread after a pause in typing, at
one page and at a hundred; and what looking for snags costs that thread.

The floor of each row is the same at one page. CPU time of the thread is counted, so that what other
processes and threads do meanwhile is not.
"""

import contextlib
import statistics
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

from PyQt6.QtTest import QTest
from tests.sites import PAGE, small_site

from bench.ratio import Ratio
from needle.app import make_app
from needle.core.edit.nodes import set_words
from needle.core.edit.pages import duplicate_page
from needle.core.site.site import Site
from needle.core.values.words import text
from needle.publish.live import send_pages
from needle.store.project import Project
from needle.ui.session import Session
from needle.ui.window import Window

_TIMES, _PAUSE_MS = 14, 700


def _site(pages: int) -> Site:
    site = small_site()
    for _ in range(pages - 1):
        site, _ = duplicate_page(site, PAGE)
    return site


class _Desk:
    def __init__(self, pages: int, stage: str, snags: bool = True) -> None:
        self._folder = tempfile.TemporaryDirectory()
        folder = Path(self._folder.name) / "p"
        site = _site(pages)
        Project.create(folder, site).close()
        send_pages(site, folder, [page.id for page in site.pages])
        self.session = Session(Project(folder))
        self.window = Window(self.session, None)
        self.window.show()
        self.window.show_stage(stage)
        QTest.qWait(3000)
        self._count = 0
        shown = self.window.stages["Publish"]
        self.checker = shown.checker  # type: ignore[attr-defined]
        if not snags:  # All of Publish goes on, but its list of snags.
            self.until(lambda: not self.checker.busy)
            shown.snags.refresh = lambda *_: None  # type: ignore[attr-defined]

    def until(self, holds: Callable[[], object]) -> None:
        end = time.monotonic() + 600
        while not holds():
            assert time.monotonic() < end, "it did not come to rest"
            QTest.qWait(50)

    def letter(self) -> float:
        """Type a letter and return what the thread spends until the pause is over, in ms."""
        self._count += 1
        start, began = time.thread_time(), time.monotonic()
        self.session.edit("words", lambda site: set_words(
            site, "head1", (text(f"Words {self._count}"),)), group="typing")
        QTest.qWait(_PAUSE_MS)
        while self.checker.busy:  # What is looked at and laid out because of it, too.
            QTest.qWait(_PAUSE_MS)
        idle = self._idle_share * (time.monotonic() - began)
        return (time.thread_time() - start - idle) * 1000

    def _idle(self) -> float:
        """Return which part of the time the thread works while nobody does anything."""
        start, began = time.thread_time(), time.monotonic()
        QTest.qWait(_PAUSE_MS)
        return (time.thread_time() - start) / (time.monotonic() - began)

    def spent(self) -> float:
        """Return the median of a letter and its pause, without what an idle window spends."""
        self._idle_share = statistics.median(self._idle() for _ in range(7))
        return max(0.01, statistics.median(self.letter() for _ in range(_TIMES)))

    def end(self) -> None:
        self.window.close()
        self.window.deleteLater()
        QTest.qWait(20)
        self._folder.cleanup()


def main(_app: object) -> None:
    """Print the ratios; the application is kept as long as its windows."""
    spent: dict[tuple[int, str], float] = {}
    for pages in (1, 100):
        for kind in ("Build", "Publish without snags", "Publish"):
            desk = _Desk(pages, kind.split()[0], kind != "Publish without snags")
            with contextlib.closing(_Ending(desk)):
                checker = desk.checker
                desk.until(lambda c=checker: not c.busy)  # type: ignore[misc]
                looks: list[object] = []
                checker.looked.connect(lambda *told, seen=looks: seen.append(told))
                spent[pages, kind] = desk.spent()
                if kind == "Publish":
                    assert looks, "no rule ran"
                else:
                    assert not looks, "rules ran though no list of snags was shown"
                    print(f"looks for snags in {kind}, {pages} pages: {len(looks)}")
    print(f"{'what':58} {'floor ms':>9} {'ours ms':>9} {'ratio':>6}  aim")
    print(Ratio("a letter and its pause, 100 pages (floor: 1 page)", spent[1, "Build"],
                spent[100, "Build"], 1.5))
    snags = {pages: spent[pages, "Publish"] - spent[pages, "Publish without snags"]
             for pages in (1, 100)}
    print(f"snags and their list after one edit, window's thread: {snags[100]:.1f} ms at 100 "
          f"pages, {snags[1]:.1f} ms at 1 (aim: below 30)")


class _Ending:
    def __init__(self, desk: _Desk) -> None:
        self.close = desk.end


if __name__ == "__main__":
    main(make_app())
