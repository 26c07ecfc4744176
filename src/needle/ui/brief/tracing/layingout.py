"""Saved pages laid out by the engine, inert: their picture, and the map of what stands where."""

from collections.abc import Callable
from importlib.resources import files

from PyQt6 import sip
from PyQt6.QtCore import QObject
from PyQt6.QtGui import QImage
from PyQt6.QtWebEngineCore import QWebEngineProfile

from needle.core.render.document import STRIP_PX
from needle.core.seeing.laidout import LaidOut, read_laid
from needle.store.savedpages import SavedPage
from needle.ui.builder.hidden import HiddenPage
from needle.ui.builder.live.engine import SchemeHandler, install_scheme
from needle.ui.timers import once

__all__ = ["HIGHEST", "SavedPages"]

# As much of a page as its picture shows, in CSS pixels.
HIGHEST = 8000
_SCREEN_HIGH = 800
# What a saved page may show: its own styles, pictures and fonts. No script of it ever runs.
_POLICY = (b"default-src 'none'; style-src 'unsafe-inline' 'self'; img-src 'self' data:; "
           b"font-src 'self' data:; script-src 'none'; form-action 'none'")
# Heights that follow the screen must not follow the height of the view, which is as high as the
# page. What is fixed to the screen stands where it stood at the page's top.
_STEADY = """(() => {
  const high = %d / 100;
  const still = (style) => { for (const name of [...style]) {
    const value = style.getPropertyValue(name);
    if (/\\d[dsl]?vh\\b/.test(value)) style.setProperty(name, value.replace(
      /(\\d*\\.?\\d+)[dsl]?vh\\b/g, (all, n) => n * high + 'px'), style.getPropertyPriority(name));
  } };
  const each = (rules) => { for (const rule of rules) {
    if (rule.style) still(rule.style);
    if (rule.cssRules) each(rule.cssRules);
  } };
  for (const sheet of document.styleSheets) { try { each(sheet.cssRules); } catch { } }
  for (const e of document.querySelectorAll('[style]')) still(e.style);
  for (const e of document.querySelectorAll('body *')) {
    const style = getComputedStyle(e);
    if (style.position === 'fixed') e.style.setProperty('position', 'absolute', 'important');
    if (style.position === 'sticky') e.style.setProperty('position', 'relative', 'important');
    if (e.loading) e.loading = 'eager';
  }
  document.documentElement.style.scrollBehavior = 'auto';
  return document.documentElement.scrollHeight;
})()"""
_STRIP = f"""(() => {{ const strip = document.createElement('div');
  strip.id = 'needle-strip'; strip.style.cssText = 'position:absolute;height:0;overflow:hidden';
  const room = document.createElement('div'); room.style.height = '{STRIP_PX}px';
  strip.append(room); document.body.append(strip); }})(); 0"""

Done = Callable[[QImage, LaidOut | None], None]


class _Engine:
    """A profile that reaches nothing but one saved page."""

    def __init__(self) -> None:
        self.page: SavedPage | None = None
        self.documents: dict[str, str] = {}
        self.profile = QWebEngineProfile()
        self._handler = SchemeHandler(self._answer, _POLICY, self.profile)
        self._interceptor = install_scheme(self.profile, self._handler)

    def _answer(self, path: str) -> tuple[bytes, str] | None:
        return self.page.answer(path) if self.page is not None else None


class SavedPages(QObject):
    """Lays saved pages out, one at a time; asking for another gives up the one before."""

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._engine: _Engine | None = None
        self._hidden: HiddenPage | None = None
        self._done: Done | None = None
        self._width = 0
        self._image = QImage()
        # Not at once: what ends comes from the very page that is then taken apart.
        self._over = once(self, 0)
        self._over.timeout.connect(self._hand_over)
        self._laid: LaidOut | None = None

    def lay_out(self, page: SavedPage, width: int, done: Done) -> None:
        """Lay a page out.

        Args:
            width: Of the window it is laid out in, in CSS pixels.
            done: Gets its picture and its map; a null picture if it could not be laid out.
        """
        self.stop()
        self._engine = _Engine()
        self._engine.page = page
        self._hidden = HiddenPage(self._engine, self)
        self._hidden.loaded.connect(self._loaded)
        self._hidden.painted.connect(self._painted)
        self._width, self._done, self._laid = width, done, None
        self._hidden.go_to(page.entry, width, _SCREEN_HIGH)

    def stop(self) -> None:
        """Lay nothing out any longer; what was asked for does not come."""
        self._done = None
        self._over.stop()
        if self._hidden is not None and self._engine is not None:
            self._hidden.end()
            sip.delete(self._engine.profile)
            self._hidden = self._engine = None

    def _loaded(self, fine: bool) -> None:
        if self._hidden is None:
            return
        if fine:
            self._hidden.run(_STEADY % _SCREEN_HIGH, self._map)
        else:
            self._finish(QImage())

    def _map(self, height: object) -> None:
        if self._hidden is None:
            return
        high = int(height) if isinstance(height, int | float) else _SCREEN_HIGH
        high = max(1, min(high, HIGHEST))
        self._hidden.run(_STRIP)
        source = (files(__package__) / "laidout.js").read_text("utf-8").strip()
        self._hidden.run(f"{source}({self._width}, {high})", lambda said: self._take(said, high))

    def _take(self, said: object, high: int) -> None:
        if self._hidden is None:
            return
        try:
            self._laid = read_laid(said)
        except ValueError:
            self._finish(QImage())
            return
        self._hidden.paint(self._width, high)

    def _painted(self, fine: bool) -> None:
        if self._hidden is not None:
            self._finish(self._hidden.grab() if fine else QImage())

    def _finish(self, image: QImage) -> None:
        self._image = image
        self._over.start()

    def _hand_over(self) -> None:
        done, laid, image = self._done, self._laid, self._image
        self.stop()
        if done is not None:
            done(image, None if image.isNull() else laid)
