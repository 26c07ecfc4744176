"""A typed letter: what Needle spends itself, and until it is painted in both views."""

import statistics
import tempfile
import time
from collections.abc import Callable, Iterator
from pathlib import Path

from PyQt6.QtTest import QTest
from tests.sites import long_page

from bench.ratio import Ratio
from needle.app import make_app
from needle.core.edit.nodes import set_words
from needle.core.site.words import text
from needle.store.project import Project
from needle.ui.session import Session
from needle.ui.window import Window

APP = make_app()
TIMES = 60


def measure() -> Iterator[Ratio]:

    own: dict[int, float] = {}
    for sections in (5, 200):
        with tempfile.TemporaryDirectory() as name:
            Project.create(Path(name) / "p", long_page(sections)).close()
            bench = _Bench(Path(name) / "p")
            own[sections], painted, floor = bench.run()
            bench.end()
        yield Ratio(f"a letter painted in both views, {sections} sections (floor: bare script)",
                    floor, painted, 1.5)
    yield Ratio("Needle's own part of a letter, 200 sections (floor: 5)", own[5], own[200], 1.5)


class _Bench:
    """A window whose views report when they have painted."""

    def __init__(self, project: Path) -> None:
        self.session = Session(Project(project))
        self.window = Window(self.session, None)
        self.window.show()
        self.views = self.window.build.canvas.views
        self.painted: set[int] = set()
        for number, view in enumerate(self.views):
            view.said.connect(lambda m, n=number: self._heard(m, n))
        QTest.qWait(4000)
        self.session.select("head0")
        QTest.qWait(500)
        self.count = 0

    def _heard(self, message: dict[str, object], view: int) -> None:
        if message["t"] == "painted":
            self.painted.add(view)

    def _until_painted(self, change: Callable[[str], None]) -> tuple[float, float]:
        """Return the time in `change` itself, and until both views have painted, in ms."""
        self.count += 1
        self.painted.clear()
        start = time.perf_counter()
        change(f"Heading {self.count}")
        own = time.perf_counter() - start
        for view in self.views:
            view.call("painted", self.count)
        end = start + 5
        while len(self.painted) < 2 and time.perf_counter() < end:
            QTest.qWait(0)
        return own * 1000, (time.perf_counter() - start) * 1000

    def _edit(self, words: str) -> None:
        self.session.edit("words of heading", lambda site: set_words(
            site, "head0", (text(words),)), group="type:head0")

    def _bare(self, words: str) -> None:
        page = "document.getElementById('page').contentDocument"
        for view in self.views:
            view.page().runJavaScript(
                f"{page}.querySelector('[data-n=\"head0\"]').textContent={words!r}", 1)

    def run(self) -> tuple[float, float, float]:
        ours, floors = [], []
        for _ in range(TIMES):  # In turns, so that a busy machine disturbs both alike.
            floors.append(self._until_painted(self._bare))
            QTest.qWait(20)
            ours.append(self._until_painted(self._edit))
            QTest.qWait(20)
        return (statistics.median(o for o, _ in ours), statistics.median(p for _, p in ours),
                statistics.median(p for _, p in floors))

    def end(self) -> None:
        self.window.close()
        self.window.deleteLater()
        QTest.qWait(50)
