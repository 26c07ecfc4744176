"""Pictures of pages and sections, taken one after another by a hidden view."""

import hashlib
import time
from collections import deque
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

from PyQt6 import sip
from PyQt6.QtCore import QBuffer, QIODevice, QObject, QSize, Qt, QTimer, QUrl, pyqtSignal
from PyQt6.QtGui import QColor, QImage
from PyQt6.QtWebEngineCore import QWebEngineScript, QWebEngineSettings
from PyQt6.QtWebEngineWidgets import QWebEngineView

from needle.core.render.context import Context
from needle.core.render.document import STRIP_PX, still_page
from needle.store.files import write_atomically
from needle.ui.builder.live.engine import HOST, GuardedPage, LiveEngine
from needle.ui.builder.live.fonts import FONT_CSS

__all__ = ["Stills"]

_WORLD = QWebEngineScript.ScriptWorldId.ApplicationWorld.value
_HIGHEST = 4000
_POLL_MS = 25
_LONGEST_S = 6.0
_MOST_TRIES = 3
_COLOURS = ("#fe01dc", "#01fedc")


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
        self._engine = engine
        self._folder = project / ".cache" / "stills"
        self._queue: deque[_Wish] = deque()
        self._now: _Wish | None = None
        self._tries = 0
        self._until = 0.0
        self._colour = _COLOURS[0]
        self._view: QWebEngineView | None = None
        self._page: GuardedPage | None = None
        self._poll = QTimer(self, singleShot=True, interval=_POLL_MS)
        self._poll.timeout.connect(self._look)
        engine.still_html = self._html

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
        self._poll.stop()
        self._now = None
        if self._view is not None and self._page is not None:
            self._view.setPage(None)
            sip.delete(self._page)
            sip.delete(self._view)
            self._view = self._page = None

    def _html(self) -> str:
        return self._now.html if self._now else ""

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
        if self._now is None:
            return
        self._tries += 1
        # Another colour each time, so that what is left of the last page is not taken for this.
        self._colour = _COLOURS[self._colour == _COLOURS[0]]
        view = self._hidden_view()
        view.resize(self._now.width, 700)
        view.load(QUrl(f"{HOST}/still?{self._now.digest}"))

    def _hidden_view(self) -> QWebEngineView:
        if self._view is None:
            self._view = QWebEngineView()
            self._page = GuardedPage(self._engine.profile, None)
            self._view.setPage(self._page)
            settings = self._page.settings()
            assert settings is not None
            settings.setAttribute(QWebEngineSettings.WebAttribute.ShowScrollBars, False)
            self._view.setAttribute(Qt.WidgetAttribute.WA_DontShowOnScreen)
            self._view.show()
            self._page.loadFinished.connect(self._loaded)
        return self._view

    def _loaded(self, fine: bool) -> None:
        if self._now is None or self._page is None:
            return
        if not fine:
            self._give_up()
            return
        self._page.runJavaScript(
            "Math.ceil(document.getElementById('needle-strip').getBoundingClientRect().bottom)",
            _WORLD, self._grow)

    def _grow(self, height: object) -> None:
        if self._now is None or self._view is None:
            return
        high = int(height) if isinstance(height, int | float) else 700
        self._view.resize(self._now.width, max(STRIP_PX + 1, min(high, self._now.highest)))
        if self._page is not None:
            # The strip takes its colour once every picture has been decoded, so whatever shows
            # that colour shows the pictures too.
            self._page.runJavaScript(
                "Promise.all([...document.images].map((i) => { i.decoding = 'sync';"
                " return i.decode().catch(() => 0); })).then(() => {"
                " const strip = document.getElementById('needle-strip').style;"
                " strip.cssText = 'position:fixed;left:0;right:0;bottom:0';"
                f" strip.background = '{self._colour}'; }}); 0", _WORLD)
        self._until = time.monotonic() + _LONGEST_S
        self._poll.start()

    def _look(self) -> None:
        """Grab once the strip at the foot shows that the page is painted."""
        if self._now is None or self._view is None:
            return
        corner = self._view.grab(self._view.rect().adjusted(
            0, self._view.height() - STRIP_PX + 2, 0, 0)).toImage()
        if corner.pixelColor(4, 2) == QColor(self._colour):
            self._finish(self._view.grab().toImage())
        elif time.monotonic() > self._until:
            self._give_up()
        else:
            self._poll.start()

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
            image = image.copy(0, 0, image.width(), max(1, image.height() - STRIP_PX - 1))
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
