"""`./needle bench stalls [PAGES]`: how long the window keeps a person waiting while a large site
is sent: a first release, one with nothing changed, one after a word was changed.

A timer of the window's thread should fire every few milliseconds; how much later it fires is the
stall that a key would meet. The floor is the same window at rest.
"""

import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QTimer
from PyQt6.QtTest import QTest
from tests.sites import PAGE, small_site

from needle.app import make_app
from needle.core.edit.nodes import set_words
from needle.core.edit.pages import duplicate_page
from needle.core.values.words import text
from needle.store.project import Project
from needle.ui.publish.stage import PublishStage
from needle.ui.session import Session
from needle.ui.window import Window

_PAGES, _BEAT_MS = 300, 4


class _Beat:
    """What a key would have waited, at each moment."""

    def __init__(self) -> None:
        self._timer = QTimer()
        self._timer.setInterval(_BEAT_MS)
        self._timer.timeout.connect(self._on_beat)
        self.waits: list[float] = []

    def _on_beat(self) -> None:
        now = time.perf_counter()
        self.waits.append((now - self._last) * 1000 - _BEAT_MS)
        self._last = now

    def during(self, work: Callable[[], object]) -> None:
        """Measure while something is done in the window's thread."""
        self.waits = []
        self._last = time.perf_counter()
        self._timer.start()
        work()
        self._timer.stop()
        self._on_beat()


def main(_app: object, pages: int = _PAGES) -> None:
    """Print the longest stalls of each kind of send."""
    with tempfile.TemporaryDirectory() as made:
        site = small_site()
        for _ in range(pages - 1):
            site, _ = duplicate_page(site, PAGE)
        Project.create(Path(made) / "p", site).close()
        session = Session(Project(Path(made) / "p"))
        window = Window(session, None)
        window.resize(1280, 800)
        window.show()
        window.show_stage("Publish")
        stage = window.stages["Publish"]
        assert isinstance(stage, PublishStage)
        end = time.monotonic() + 600
        while stage.checker.busy and time.monotonic() < end:
            QTest.qWait(100)
        beat = _Beat()

        def change() -> None:
            session.edit("words", lambda old: set_words(old, "head1", (text("Anew"),)))
            QTest.qWait(1500)

        rows = {"at rest": lambda: QTest.qWait(2000),
                "first release": stage.send,
                "nothing changed": stage.send,
                "a word is changed": change,
                "one word changed": stage.send}
        for name, work in rows.items():
            began = time.perf_counter()
            beat.during(work)
            worst = " ".join(f"{wait:.0f}" for wait in sorted(beat.waits)[-5:][::-1])
            print(f"{name:20} {pages} pages  {time.perf_counter() - began:6.2f} s  "
                  f"longest waits in ms: {worst}", flush=True)
        window.close()
        window.deleteLater()
        QTest.qWait(20)


if __name__ == "__main__":
    main(make_app(), int(sys.argv[1]) if sys.argv[1:] else _PAGES)
