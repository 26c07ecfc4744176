"""A page as a picture, with where each item stands on it."""

import json
from collections.abc import Mapping

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtGui import QImage

from needle.core.render.context import Context
from needle.core.render.document import still_page
from needle.core.site.site import Site
from needle.store.media import EditPictures
from needle.ui.builder.hidden import HiddenPage
from needle.ui.builder.live.engine import LiveEngine
from needle.ui.builder.live.fonts import FONT_CSS

__all__ = ["Boxes", "PagePicture", "context_of"]

# By item, and by item and "|" and where a link leads: left, top, width and height in CSS pixels;
# of "", the whole page.
Boxes = Mapping[str, list[int]]
_HIGHEST = 9_000
_BOXES = """JSON.stringify(Object.fromEntries([...document.querySelectorAll('[data-n]')]
  .filter((e) => e.getClientRects().length).map((e) => {
    const r = (e.querySelector(':scope > a, :scope > button') || e).getBoundingClientRect();
    return [e.dataset.n, [r.left + scrollX, r.top + scrollY, r.width, r.height].map(Math.round)];
  }).concat([...document.querySelectorAll('[data-n] a[data-link]')]
    .filter((e) => e.getClientRects().length).map((e) => {
      const r = e.getBoundingClientRect();
      return [`${e.closest('[data-n]').dataset.n}|${e.dataset.link}`,
        [r.left + scrollX, r.top + scrollY, r.width, r.height].map(Math.round)];
    })).concat([['', [0, 0, 0, Math.ceil(document.getElementById('needle-strip')
    .getBoundingClientRect().top + scrollY)]]])))"""


def context_of(site: Site, key: str, fallback: str) -> Context:
    """Return what a still page of a variant is made from.

    Args:
        key: "PAGE.VARIANT".
        fallback: The page that is shown if there is none of that id.
    """
    page_id, _, variant_key = key.rpartition(".")
    page = site.page(page_id) or site.page(fallback) or site.pages[0]
    variant = next((one for one in page.variants if one.key == variant_key), page.variants[0])
    return Context(site, page, variant, "edit", EditPictures(), "/walk/")


class PagePicture(QObject):
    """Lays pages out where nobody sees it.

    Signals:
        shown: The picture is there, with where each item stands; it is null if the page could
            only be measured.
        failed: The page could not be laid out.
    """

    shown = pyqtSignal(QImage, object)
    failed = pyqtSignal()

    def __init__(self, engine: LiveEngine, parent: QObject) -> None:
        super().__init__(parent)
        self._hidden = HiddenPage(engine, self)
        self._hidden.loaded.connect(self._on_laid_out)
        self._hidden.painted.connect(self._on_painted)
        self._boxes: Boxes = {}
        self._width = 0
        self._closed = False

    def load(self, context: Context, width: int) -> None:
        """Lay a page out at a width, in CSS pixels."""
        self._width = width
        self._hidden.load(still_page(context, FONT_CSS), width, 720)

    def _on_laid_out(self, fine: bool) -> None:
        if fine and not self._closed:
            self._hidden.run(_BOXES, self._on_measured)
        elif not self._closed:
            self.failed.emit()

    def _on_measured(self, told: object) -> None:
        if self._closed:
            return
        self._boxes = json.loads(told) if isinstance(told, str) else {}
        height = self._boxes.get("", [0, 0, 0, 720])[3]
        self._hidden.paint(self._width, max(1, min(height, _HIGHEST)))

    def _on_painted(self, fine: bool) -> None:
        if not self._closed:
            self.shown.emit(self._hidden.grab() if fine else QImage(), self._boxes)

    def end(self) -> None:
        """Let go of the hidden view, before its profile goes."""
        self._closed = True
        self._hidden.end()
