"""Edits on a page of 50, 500 and 2,000 items, until both views have painted them."""

import statistics
import tempfile
import time
from collections.abc import Callable, Iterator
from pathlib import Path

from PyQt6.QtTest import QTest
from tests.sites import long_page

from bench.ratio import Ratio
from needle.app import make_app
from needle.core.edit.looks import set_look
from needle.core.edit.nodes import delete, insert, move, set_words
from needle.core.kinds.heading import Heading
from needle.core.values.ids import new_id
from needle.core.values.words import text
from needle.store.project import Project
from needle.ui.session import Session
from needle.ui.window import Window

APP = make_app()
TIMES = 24
ITEMS_A_SECTION = 10
PAGE = "document.getElementById('page').contentDocument"
HEAD = f"{PAGE}.querySelector('[data-n=\"head0\"]')"
# What a bare script does for the same change, in each view.
BARE = {
    "text": f"{HEAD}.textContent = 'Heading ' + $N",
    "style": f"{HEAD}.style.fontSize = (20 + $N % 30) + 'px'",
    "move": f"$N % 2 ? {HEAD}.parentNode.append({HEAD}) : {HEAD}.parentNode.prepend({HEAD})",
    "insert": f"{HEAD}.insertAdjacentHTML('afterend', '<h2 class=bare>Bare</h2>')",
    "delete": f"{PAGE}.querySelector('.bare') && {PAGE}.querySelector('.bare').remove()",
    "undo": f"{HEAD}.textContent = 'Heading again ' + $N",
}
# Whether a bare script has done its work; a floor that does not counts for nothing.
DONE = {
    "text": f"{HEAD}.textContent === 'Heading ' + $N",
    "style": f"{HEAD}.style.fontSize === (20 + $N % 30) + 'px'",
    "move": f"{HEAD}.parentNode[$N % 2 ? 'lastElementChild' : 'firstElementChild'] === {HEAD}",
    "insert": f"!!{PAGE}.querySelector('.bare')",
    "delete": "true",
    "undo": f"{HEAD}.textContent === 'Heading again ' + $N",
}


def measure() -> Iterator[Ratio]:
    own: dict[tuple[str, int], float] = {}
    for items in (50, 500, 2000):
        with tempfile.TemporaryDirectory() as name:
            site = long_page(items // ITEMS_A_SECTION, ITEMS_A_SECTION)
            Project.create(Path(name) / "p", site).close()
            bench = _Bench(Path(name) / "p")
            for what in BARE:
                own[what, items], painted, floor = bench.run(what)
                yield Ratio(f"{what} painted in both views, {items} items (floor: bare script)",
                            floor, painted, 1.5)
            own["select", items] = bench.select()
            bench.end()
    for what in (*BARE, "select"):
        yield Ratio(f"Needle's own part of {what}, 2000 items (floor: 50 items)",
                    own[what, 50], own[what, 2000], 1.5)


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
        QTest.qWait(4500)
        self.session.select("head0")
        QTest.qWait(500)
        self.count = 0
        self.made: list[str] = []

    def _heard(self, message: dict[str, object], view: int) -> None:
        if message["t"] == "painted":
            self.painted.add(view)

    def _until_painted(self, change: Callable[[], None]) -> tuple[float, float]:
        """Return the time in `change` itself, and until both views have painted, in ms."""
        self.painted.clear()
        start = time.perf_counter()
        change()
        own = time.perf_counter() - start
        for view in self.views:
            view.call("painted", self.count)
        end = start + 5
        while len(self.painted) < 2 and time.perf_counter() < end:
            QTest.qWait(0)
        return own * 1000, (time.perf_counter() - start) * 1000

    def _edit(self, what: str) -> None:
        session, n = self.session, self.count
        if what == "text":
            session.edit("text", lambda s: set_words(s, "head0", (text(f"Heading {n}"),)))
        elif what == "style":
            session.edit("style", lambda s: set_look(s, ["head0"], "size", 20 + n % 30))
        elif what == "move":
            column = session.path("head0")[-2]
            at = [child.id for child in column.children].index("head0")
            other = column.children[at + 1 if at + 1 < len(column.children) else 0].id
            session.edit("move", lambda s: move(s, "head0", other, "after"))
        elif what == "insert":
            node = Heading(id=new_id(), words=text("Bare"))
            self.made.append(node.id)
            session.edit("insert", lambda s: insert(s, node, "head0", "after"))
        elif what == "delete" and self.made:
            gone = self.made.pop()
            session.edit("delete", lambda s: delete(s, gone))
        elif what == "undo":
            session.undo()

    def _bare(self, what: str) -> None:
        for view in self.views:
            code = f"{BARE[what]}; {DONE[what]}".replace("$N", str(self.count))
            view.page().runJavaScript(code, 1, self._check_floor)

    @staticmethod
    def _check_floor(done: object) -> None:
        assert done is True, "the bare script did not do its work"

    def run(self, what: str) -> tuple[float, float, float]:
        ours, floors = [], []
        if what == "undo":
            for _ in range(TIMES):
                self.count += 1
                self._edit("text")
            QTest.qWait(800)
        for _ in range(TIMES):  # In turns, so that a busy machine disturbs both alike.
            self.count += 1
            floors.append(self._until_painted(lambda: self._bare(what)))
            QTest.qWait(15)
            ours.append(self._until_painted(lambda: self._edit(what)))
            QTest.qWait(15)
        return (statistics.median(o for o, _ in ours), statistics.median(p for _, p in ours),
                statistics.median(p for _, p in floors))

    def select(self) -> float:
        """Return what choosing another item costs Needle itself, in ms."""
        ids = [node.id for node in self.session.page.variants[0].nodes()][:60]
        taken = []
        for node_id in ids:
            start = time.perf_counter()
            self.session.select(node_id)
            taken.append((time.perf_counter() - start) * 1000)
            QTest.qWait(5)
        return statistics.median(taken)

    def end(self) -> None:
        self.window.close()
        self.window.deleteLater()
        QTest.qWait(50)
