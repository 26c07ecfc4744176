"""Measuring pages as a browser lays them out, once for each page, width and look of it."""

import contextlib
import hashlib
import json
from collections import deque
from dataclasses import dataclass
from pathlib import Path

import msgspec
from PyQt6.QtCore import QObject, QRunnable, QThreadPool, pyqtSignal
from PyQt6.QtGui import QImage

from needle.core.render.context import Context
from needle.core.render.document import still_page
from needle.core.site.site import Page, Site, Variant
from needle.core.snags.laid import Box, LaidItem, LaidPage, LaidText
from needle.core.snags.pixels import least_contrasting
from needle.core.values.strict import StrictError
from needle.store.files import write_atomically
from needle.store.media import EditPictures
from needle.ui.builder.hidden import HiddenPage
from needle.ui.builder.live.engine import LiveEngine
from needle.ui.builder.live.fonts import FONT_CSS
from needle.ui.pixels import pixels_of

__all__ = ["SCREENS", "Layouts", "Wanted", "wanted_of"]

# Width and height of the first screen, in CSS pixels, where snags are looked for.
SCREENS = ((1280, 720), (390, 664))
_HIGHEST = 12_000
# Another number where a record says more than before, so that older ones are made again.
_FORM = 1
_HIDE_WORDS = """(() => { const style = document.createElement('style');
  style.textContent = '*{color:transparent!important;-webkit-text-fill-color:transparent!important;'
    + 'text-shadow:none!important;text-decoration-color:transparent!important}';
  document.head.append(style); return 0; })()"""
_MEASURE = """JSON.stringify((() => {
  const box = (r) => [r.left + scrollX, r.top + scrollY, r.width, r.height].map(Math.round);
  const seen = (e) => e.checkVisibility({opacityProperty: true, visibilityProperty: true});
  const owner = (e) => e.closest('[data-n]');
  const hex = (c) => '#' + (c.match(/[\\d.]+/g) || [0, 0, 0]).slice(0, 3)
    .map((v) => Math.round(+v).toString(16).padStart(2, '0')).join('');
  // A link within a line of words may be as small as they are.
  const inLine = (e) => getComputedStyle(e).display === 'inline';
  const items = [], texts = [];
  for (const e of document.querySelectorAll('main [data-n]')) {
    if (!seen(e)) continue;
    const clicks = [e, ...e.querySelectorAll('a[href],button')].filter((c) =>
      c.matches('a[href],button') && owner(c) === e && seen(c) && !inLine(c)
      && c.getClientRects().length)
      .map((c) => box(c.getBoundingClientRect()));
    clicks.sort((a, b) => Math.min(a[2], a[3]) - Math.min(b[2], b[3]));
    if (!e.querySelector('[data-n]')) {
      items.push({node: e.dataset.n, box: box(e.getBoundingClientRect()),
                  click: clicks[0] || null});
    }
  }
  for (const backed of document.querySelectorAll('main .backed')) {
    const walk = document.createTreeWalker(backed, NodeFilter.SHOW_TEXT);
    for (let t = walk.nextNode(); t && texts.length < 400; t = walk.nextNode()) {
      const e = t.parentElement;
      if (!t.data.trim() || !seen(e) || !owner(e)) continue;
      const style = getComputedStyle(e), range = document.createRange();
      range.selectNodeContents(t);
      for (const r of range.getClientRects()) {
        if (r.width > 1 && r.height > 1) {
          texts.push({node: owner(e).dataset.n, box: box(r), ink: hex(style.color),
                      size: parseFloat(style.fontSize), bold: +style.fontWeight >= 700});
        }
      }
    }
  }
  const root = document.scrollingElement;
  return {height: Math.ceil(document.getElementById('needle-strip').getBoundingClientRect().top
                            + scrollY),
          reach: root.scrollWidth, items, texts};
})())"""


@dataclass(frozen=True)
class Wanted:
    """A page to be measured at one width.

    Attributes:
        digest: Names what it shows, for the cache.
    """

    page: str
    variant: str
    width: int
    fold: int
    html: str
    digest: str


def wanted_of(site: Site, page: Page, variant: Variant) -> list[Wanted]:
    """Return what is to be measured of a variant: it once at each width of `SCREENS`."""
    context = Context(site, page, variant, "edit", EditPictures(), "/walk/")
    html = still_page(context, FONT_CSS)
    return [Wanted(page.id, variant.key, width, fold, html, hashlib.sha256(
        f"{_FORM} {width} {fold} {html}".encode()).hexdigest()[:24]) for width, fold in SCREENS]


class _Keep(QRunnable):
    """Makes a record of what a view told and writes it, in a thread: pictures are large."""

    def __init__(self, layouts: "Layouts", path: Path, wanted: "Wanted",
                 found: dict[str, object], ground: QImage) -> None:
        super().__init__()
        self._layouts, self._path = layouts, path
        self._wanted, self._found, self._ground = wanted, found, ground

    def run(self) -> None:
        try:
            record = record_of(self._wanted, self._found, self._ground)
        except (StrictError, KeyError, TypeError, ValueError):
            self._layouts.kept.emit(None)
            return
        with contextlib.suppress(OSError):  # A full disk costs the cache, not the record.
            write_atomically(self._path, msgspec.json.encode(record))
        self._layouts.kept.emit(record)


class Layouts(QObject):
    """Measures pages in a hidden view, one after another, and keeps the records on disk.

    Signals:
        measured: A record is there (a `LaidPage`).
        idle: Everything that was asked for is measured, or could not be.
        kept: A thread has made a record (a `LaidPage`), or could not (`None`).
    """

    measured = pyqtSignal(object)
    kept = pyqtSignal(object)
    idle = pyqtSignal()

    def __init__(self, engine: LiveEngine, project: Path, parent: QObject) -> None:
        super().__init__(parent)
        self._folder = project / ".cache" / "laid"
        self._queue: deque[Wanted] = deque()
        self._now: Wanted | None = None
        self._found: dict[str, object] = {}
        self.failed = self._making = 0
        self.kept.connect(self._on_kept)
        self._pool = QThreadPool(self)
        self._pool.setMaxThreadCount(1)
        self._hidden = HiddenPage(engine, self)
        self._hidden.loaded.connect(self._loaded)
        self._hidden.painted.connect(self._painted)

    @property
    def left(self) -> int:
        """How many are still to be measured."""
        return len(self._queue) + (self._now is not None) + self._making

    def known(self, wanted: Wanted) -> LaidPage | None:
        """Return the record from the cache, or `None`; it may be asked in any thread."""
        try:
            raw = (self._folder / f"{wanted.digest}.json").read_bytes()
            return msgspec.json.decode(raw, type=LaidPage)
        except (OSError, msgspec.DecodeError, UnicodeDecodeError):
            return None

    def ask(self, wanted: list[Wanted]) -> None:
        """Measure these and nothing else that still waits."""
        self._queue = deque(wanted)
        if self._now is None:
            self._next()

    def rest(self) -> None:
        """Measure nothing more than what is under way."""
        self._queue.clear()

    def end(self) -> None:
        """Let go of the hidden view."""
        self._queue.clear()
        self._now = None
        self._pool.waitForDone()
        self._hidden.end()

    def _next(self) -> None:
        self._now = self._queue.popleft() if self._queue else None
        if self._now is not None:
            self._hidden.load(self._now.html, self._now.width, self._now.fold)

    def _loaded(self, fine: bool) -> None:
        if self._now is not None and fine:
            self._hidden.run(_MEASURE, self._measured)
        elif self._now is not None:
            self._fail()

    def _measured(self, told: object) -> None:
        if self._now is None:
            return
        try:
            found = json.loads(str(told))
        except ValueError:
            self._fail()
            return
        self._found = found
        if found["texts"]:
            self._hidden.run(_HIDE_WORDS, lambda _: self._paint())
        else:
            self._keep(QImage())

    def _paint(self) -> None:
        if self._now is not None:
            high = int(self._found["height"])  # type: ignore[call-overload]
            self._hidden.paint(self._now.width, max(1, min(high, _HIGHEST)))

    def _painted(self, fine: bool) -> None:
        if self._now is not None and fine:
            self._keep(self._hidden.grab())
        elif self._now is not None:
            self._fail()

    def _keep(self, ground: QImage) -> None:
        assert self._now is not None
        self._making += 1
        self._pool.start(_Keep(self, self._folder / f"{self._now.digest}.json", self._now,
                               self._found, ground))
        self._next()

    def _on_kept(self, record: LaidPage | None) -> None:
        self._making -= 1
        if record is None:
            self.failed += 1
        else:
            self.measured.emit(record)
        self._say_if_idle()

    def _fail(self) -> None:
        self.failed += 1
        self._next()
        self._say_if_idle()

    def _say_if_idle(self) -> None:
        if not self.left:
            self.idle.emit()


def record_of(wanted: Wanted, found: dict[str, object], ground: QImage) -> LaidPage:
    """Return the record of what a view told.

    Args:
        ground: The page painted without its words; null where no words stand on pictures.

    Raises:
        StrictError, KeyError, TypeError, ValueError: The view told something else.
    """
    items = tuple(LaidItem(str(one["node"]), Box(*one["box"]),
                           Box(*one["click"]) if one["click"] else None)
                  for one in found["items"])  # type: ignore[attr-defined]
    pixels = pixels_of(ground)
    texts = []
    for one in found["texts"]:  # type: ignore[attr-defined]
        box = Box(*one["box"])
        part = pixels[max(0, box.top):max(0, box.bottom), max(0, box.left):max(0, box.right)]
        if part.size:
            texts.append(LaidText(str(one["node"]), box, one["ink"], least_contrasting(
                part, one["ink"]), float(one["size"]), bool(one["bold"])))
    return LaidPage(wanted.page, wanted.variant, wanted.width, int(found["height"]),  # type: ignore[call-overload]
                    wanted.fold, int(found["reach"]), items, tuple(texts))  # type: ignore[call-overload]

