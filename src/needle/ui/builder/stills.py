"""Pictures of pages and sections, taken one after another by a hidden view."""

import hashlib
from collections import deque
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

from PyQt6.QtCore import QBuffer, QIODevice, QObject, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QImage

from needle.core.render.context import Context
from needle.core.render.document import STRIP_PX, still_page
from needle.store.files import write_atomically
from needle.ui.builder.hidden import HiddenPage
from needle.ui.builder.live.engine import LiveEngine
from needle.ui.builder.live.fonts import FONT_CSS

__all__ = ["Stills"]

_HIGHEST = 4000
_MOST_TRIES = 3


@dataclass(frozen=True)
class _Wish:
    """One picture to be taken.

    Attributes:
        digest: Names what it shows, for the cache.
        width: Of the page, in CSS pixels.
        shrunk: Width of the picture, in pixels.
        highest: How much of the page is shown, in CSS pixels.
    """

    digest: str
    html: str
    width: int
    shrunk: int
    highest: int
    done: Callable[[QImage], None]


class Stills(QObject):
    """Takes pictures and remembers them in the project's cache.

    Signals:
        idle: Every picture that was asked for has been taken.
    """

    idle = pyqtSignal()

    def __init__(self, engine: LiveEngine, project: Path, parent: QObject) -> None:
        super().__init__(parent)
        self._folder = project / ".cache" / "stills"
        self._queue: deque[_Wish] = deque()
        self._now: _Wish | None = None
        self._tries = 0
        self._hidden = HiddenPage(engine, self)
        self._hidden.loaded.connect(self._loaded)
        self._hidden.painted.connect(self._painted)

    def ask(self, context: Context, width: int, shrunk: int, done: Callable[[QImage], None],
            highest: int = _HIGHEST, at_once: bool = False) -> None:
        """Have a picture taken of the sections of a context's variant.

        Args:
            width: Of the page, in CSS pixels.
            shrunk: Width of the picture.
            done: Gets it, soon or (from the cache) at once.
            highest: How much of the page is wanted, in CSS pixels; less is quicker.
            at_once: Take it before all others that wait.
        """
        html = still_page(context, FONT_CSS)
        digest = hashlib.sha256(f"{width} {shrunk} {highest} {html}".encode()).hexdigest()[:20]
        kept = QImage(str(self._folder / f"{digest}.png"))
        if not kept.isNull():
            done(kept)
            return
        wish = _Wish(digest, html, width, shrunk, highest, done)
        self._queue.insert(0 if at_once else len(self._queue), wish)
        self._next()

    def forget(self) -> None:
        """Take no more of the pictures that were asked for."""
        self._queue.clear()

    def end(self) -> None:
        """Let go of the hidden view, before its profile goes."""
        self._queue.clear()
        self._now = None
        self._hidden.end()

    def _next(self) -> None:
        if self._now is not None:
            return
        if not self._queue:
            self.idle.emit()
            return
        self._now = self._queue.popleft()
        self._tries = 0
        self._load()

    def _load(self) -> None:
        if self._now is not None:
            self._tries += 1
            self._hidden.load(self._now.html, self._now.width, 700)

    def _loaded(self, fine: bool) -> None:
        if self._now is not None and fine:
            self._hidden.run("Math.ceil(document.getElementById('needle-strip')"
                             ".getBoundingClientRect().top)", self._grow)
        elif self._now is not None:
            self._give_up()

    def _grow(self, height: object) -> None:
        if self._now is not None:
            high = int(height) if isinstance(height, int | float) else 700
            self._hidden.paint(self._now.width, max(1, min(high, self._now.highest - STRIP_PX)))

    def _painted(self, fine: bool) -> None:
        if self._now is None:
            return
        if fine:
            self._finish(self._hidden.grab())
        else:
            self._give_up()

    def _give_up(self) -> None:
        """Try once more; in the end none is better than a picture of something else."""
        if self._tries < _MOST_TRIES:
            self._load()
        else:
            self._finish(QImage())

    def _finish(self, image: QImage) -> None:
        wish, self._now = self._now, None
        assert wish is not None
        if not image.isNull():
            image = image.scaled(QSize(wish.shrunk, image.height()),
                                 Qt.AspectRatioMode.KeepAspectRatio,
                                 Qt.TransformationMode.SmoothTransformation)
            self._remember(wish.digest, image)
        wish.done(image)
        self._next()

    def _remember(self, digest: str, image: QImage) -> None:
        buffer = QBuffer()
        buffer.open(QIODevice.OpenModeFlag.WriteOnly)
        image.save(buffer, "PNG")
        try:
            write_atomically(self._folder / f"{digest}.png", bytes(buffer.data().data()))
        except OSError:
            return  # A full disk costs the cache, not the picture.
