"""A view that nobody sees, in which pages are laid out to be taken pictures of or measured."""

import json
import secrets
from collections.abc import Callable
from itertools import count
from typing import Protocol
from urllib.parse import quote

from PyQt6 import sip
from PyQt6.QtCore import QByteArray, QMarginsF, QObject, QRect, Qt, QUrl, pyqtSignal
from PyQt6.QtGui import QColor, QImage, QPageLayout, QPageSize
from PyQt6.QtWebEngineCore import QWebEngineProfile, QWebEngineScript, QWebEngineSettings
from PyQt6.QtWebEngineWidgets import QWebEngineView

from needle.core.render.document import STRIP_PX
from needle.ui.builder.live.engine import HOST, GuardedPage
from needle.ui.timers import once

__all__ = ["HiddenPage"]

_WORLD = QWebEngineScript.ScriptWorldId.ApplicationWorld.value
_POLL_MS = 25
_ABOVE_PX = 8
_LONGEST_MS = 8000
_COLOURS = ("#fe01dc", "#01fedc")
_NUMBERS = count()
# A page takes the place of the one before within the same document, since a navigation costs the
# window's thread fifteen milliseconds of the engine's own work. Its scripts stay asleep, as they do
# after a navigation. It is there once its fonts and pictures are, those behind words too.
_TAKE_PLACE = """(async () => {
  const pause = () => new Promise((done) => setTimeout(done, 5));
  const html = %s;
  if (html) {
    const made = new DOMParser().parseFromString(html, 'text/html');
    document.replaceChild(document.adoptNode(made.documentElement), document.documentElement);
  }
  scrollTo(0, 0);
  while (innerWidth !== %d || innerHeight !== %d) await pause();
  const behind = new Set();
  for (const e of document.body.querySelectorAll('*')) {
    for (const found of getComputedStyle(e).backgroundImage.matchAll(/url\\("([^"]+)"\\)/g)) {
      behind.add(found[1]);
    }
  }
  await Promise.all([...behind].map((address) => {
    const picture = new Image();
    picture.src = address;
    return picture.decode().catch(() => 0);
  }));
  await document.fonts.ready;
  while ([...document.images].some((picture) => !picture.complete)) await pause();
  document.title = '%s';
})(); 0"""
# The strip takes its colour once every picture has been decoded, so whatever shows that colour
# shows the pictures too.
_PAINT = """Promise.all([...document.images].map((i) => { i.decoding = 'sync';
  return i.decode().catch(() => 0); })).then(() => {
  const strip = document.getElementById('needle-strip').style;
  strip.cssText = 'position:fixed;left:0;right:0;bottom:0';
  strip.background = '%s'; }); 0"""


class Engine(Protocol):
    """What a hidden page is laid out by: its profile, and the pages that it hands out by name."""

    profile: QWebEngineProfile
    documents: dict[str, str]


class HiddenPage(QObject):
    """Shows one page after another; a page that does not come in time counts as failed.

    Signals:
        loaded: The page is there, or is not (whether it is).
        painted: All of it can be grabbed, or cannot (whether it can).
    """

    loaded = pyqtSignal(bool)
    painted = pyqtSignal(bool)

    def __init__(self, engine: Engine, parent: QObject) -> None:
        super().__init__(parent)
        self._engine = engine
        self._name = f"still{next(_NUMBERS)}"
        self._view: QWebEngineView | None = None
        self._page: GuardedPage | None = None
        self._colour = _COLOURS[0]
        self._waits = self._there = False
        self._token, self._size = "", (0, 0)
        self._late = once(self, _LONGEST_MS)
        self._late.timeout.connect(self._too_late)
        self._poll = once(self, _POLL_MS)
        self._poll.timeout.connect(self._look)

    def load(self, html: str, width: int, height: int) -> None:
        """Lay a page out; `loaded` tells when it is there."""
        view = self._hidden_view()
        view.resize(width, height)
        self._token, self._size = secrets.token_hex(8), (width, height)
        self._waits = True
        self._late.start()
        if self._there:
            self._take_place(html)
        else:
            self._engine.documents[self._name] = html
            view.load(QUrl(f"{HOST}/still/{self._name}?{next(_NUMBERS)}"))

    def go_to(self, path: str, width: int, height: int) -> None:
        """Lay out what stands at a path of the engine's scheme; `loaded` tells when it is there."""
        view = self._hidden_view()
        view.resize(width, height)
        self._token, self._size = secrets.token_hex(8), (width, height)
        self._waits, self._there = True, False
        self._late.start()
        view.load(QUrl(f"{HOST}/{quote(path)}"))

    def run(self, script: str, done: Callable[[object], None] | None = None) -> None:
        """Run a script beside the page; `done` gets what it returns."""
        if self._page is not None and done is not None:
            self._page.runJavaScript(script, _WORLD, done)
        elif self._page is not None:
            self._page.runJavaScript(script, _WORLD)

    def paint(self, width: int, height: int) -> None:
        """Have it painted in this size, without the strip; `painted` tells when it is."""
        assert self._view is not None
        # Another colour each time, so that what is left of the last page is not taken for this.
        self._colour = _COLOURS[self._colour == _COLOURS[0]]
        self._view.resize(width, height + STRIP_PX)
        self.run(_PAINT % self._colour)
        self._late.start()
        self._poll.start()

    def grab(self) -> QImage:
        """Return what was painted, without the strip."""
        assert self._view is not None
        return self._view.grab(QRect(
            0, 0, self._view.width(), max(1, self._view.height() - STRIP_PX - 1))).toImage()

    def print(self, done: Callable[[bytes], None]) -> None:
        """Print it on A4 without margins; `done` gets the PDF, empty if it could not be."""
        assert self._page is not None
        self._page.printToPdf(lambda told: done(QByteArray(told).data()), QPageLayout(
            QPageSize(QPageSize.PageSizeId.A4), QPageLayout.Orientation.Portrait, QMarginsF()))

    def end(self) -> None:
        """Let go of the view, before its profile goes."""
        self._late.stop()
        self._poll.stop()
        self._waits = False
        self._engine.documents.pop(self._name, None)
        if self._view is not None and self._page is not None:
            self._view.setPage(None)
            sip.delete(self._page)
            sip.delete(self._view)
            self._view = self._page = None
            self._there = False

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
            self._page.loadFinished.connect(self._navigated)
            self._page.titleChanged.connect(self._titled)
            self._page.renderProcessTerminated.connect(self._ended)
        return self._view

    def _take_place(self, html: str) -> None:
        # JSON may hold the two line ends that a script may hold too since ECMAScript 2019.
        self.run(_TAKE_PLACE % (json.dumps(html), *self._size, self._token))

    def _navigated(self, fine: bool) -> None:
        if self._waits and fine:
            self._there = True
            self._take_place("")
        elif self._waits:
            self._loaded(False)

    def _titled(self, title: str) -> None:
        if self._waits and title == self._token:
            self._loaded(True)

    def _loaded(self, fine: bool) -> None:
        self._waits = False
        self._late.stop()
        self.loaded.emit(fine)

    def _ended(self) -> None:
        """The engine's process of the page is gone: the next page is navigated to."""
        self._there = False

    def _look(self) -> None:
        """Look whether the strip at the foot shows that the page is painted."""
        if self._view is None:
            return
        foot = self._view.grab(self._view.rect().adjusted(
            0, self._view.height() - STRIP_PX - _ABOVE_PX, 0, 0)).toImage()
        scale = foot.devicePixelRatio()
        strip = foot.pixelColor(round(4 * scale), round((_ABOVE_PX + 4) * scale))
        above = foot.pixelColor(round(4 * scale), round(scale))
        # While it grows, the view fills what is not painted yet with the strip's own colour.
        if strip == QColor(self._colour) and above != QColor(self._colour):
            self._late.stop()
            self.painted.emit(True)
        else:
            self._poll.start()

    def _too_late(self) -> None:
        self._poll.stop()
        self._there = False
        if self._waits:
            self._waits = False
            self.loaded.emit(False)
        else:
            self.painted.emit(False)
