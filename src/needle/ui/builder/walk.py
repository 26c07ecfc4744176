"""The walk-through: the draft as a visitor would see it, scripts and all, sending nothing."""

import mimetypes
from pathlib import Path

from PyQt6 import sip
from PyQt6.QtCore import QUrl
from PyQt6.QtGui import QCloseEvent
from PyQt6.QtWebEngineCore import QWebEngineProfile
from PyQt6.QtWebEngineWidgets import QWebEngineView
from PyQt6.QtWidgets import QDialog, QHBoxLayout, QVBoxLayout, QWidget

from needle.core.site.site import Site
from needle.publish.rendering import Rendered, Renderer
from needle.ui.builder.live.engine import HOST, GuardedPage, SchemeHandler, install_scheme
from needle.ui.cards import label
from needle.ui.editors import Segments
from needle.ui.language import tr

__all__ = ["WalkThrough"]

_WIDTHS = {1180: tr("Desktop"), 820: tr("Tablet"), 390: tr("Phone")}
_HEIGHT = 760
_POLICY = b"default-src 'self' data: 'unsafe-inline'"


class WalkThrough(QDialog):
    """A window with the finished pages of the draft; its own profile, no way out of the site."""

    def __init__(self, parent: QWidget, site: Site, project: Path, page_slug: str) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("Walk-through: {name}", name=site.name))
        self._renderer = Renderer(site, project, "walk")
        self._done: Rendered = self._renderer.render()
        self._profile = QWebEngineProfile()
        self._handler = SchemeHandler(self._answer, _POLICY, self._profile)
        self._guard = install_scheme(self._profile, self._handler)
        self._page = GuardedPage(self._profile, None)
        self.view = QWebEngineView()
        self.view.setPage(self._page)
        self._widths = Segments(tr("Width"), _WIDTHS)
        self._widths.chosen.connect(self.show_width)
        head = QHBoxLayout()
        head.addWidget(label(tr("Draft. Forms say so and send nothing."), "dim"))
        head.addStretch()
        head.addWidget(self._widths)
        column = QVBoxLayout(self)
        column.setContentsMargins(8, 8, 8, 8)
        column.addLayout(head)
        column.addWidget(self.view, 1)
        self.show_width(1180)
        self._page.load(QUrl(f"{HOST}/{page_slug + '/' if page_slug else ''}"))

    def show_width(self, width: object) -> None:
        """Give the page this many CSS pixels."""
        assert isinstance(width, int)
        self._widths.show_values([width])
        self.view.setFixedWidth(width)
        self.resize(width + 16, _HEIGHT)

    def _answer(self, path: str) -> tuple[bytes, str] | None:
        if path.startswith("assets/"):
            name = path.removeprefix("assets/")
            try:
                data = self._renderer.asset_bytes(self._done, name)
            except KeyError:
                return None
            return data, mimetypes.guess_type(name)[0] or "font/woff2"
        page = self._done.pages.get(f"{path.rstrip('/')}/index.html".lstrip("/"))
        return (page.encode(), "text/html; charset=utf-8") if page is not None else None

    def closeEvent(self, event: QCloseEvent | None) -> None:
        super().closeEvent(event)
        if not sip.isdeleted(self._page):
            self.view.setPage(None)
            sip.delete(self._page)
            sip.delete(self._profile)
