"""Pictures of home pages, one after another; kept between starts."""

import hashlib
from pathlib import Path

import msgspec
from PyQt6.QtCore import QObject, Qt, pyqtSignal
from PyQt6.QtGui import QImage, QPixmap

from needle.core.render.context import Context
from needle.core.render.document import still_page
from needle.core.site.site import Page, Site
from needle.core.tables.expanding import page_shown
from needle.core.tables.listing import has_lists
from needle.store.kept import config_folder
from needle.store.media import EditPictures
from needle.store.project import ProjectError, read_site
from needle.ui.builder.hidden import HiddenPage
from needle.ui.builder.live.engine import LiveEngine
from needle.ui.builder.live.fonts import FONT_CSS
from needle.ui.desk.rows import PICTURE

__all__ = ["Homes"]

_WIDTH, _HEIGHT = 1180, 744
_KEPT_SCALE = 2


class Homes(QObject):
    """Makes them.

    Signals:
        made: A picture is there (the folder of the site, the picture).
    """

    made = pyqtSignal(str, QPixmap)

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._waiting: list[str] = []
        self._engine: LiveEngine | None = None
        self._hidden: HiddenPage | None = None
        self._file = Path()

    def ask(self, folder: str) -> None:
        """Make the picture of a site's home page when its turn comes, or take the one that is kept.
        """
        try:
            site = read_site(Path(folder))
        except ProjectError:
            return
        kept = _kept_file(folder, site)
        if kept.exists():
            self.made.emit(folder, QPixmap(str(kept)))
            return
        self._waiting.append(folder)
        if self._hidden is None:
            self._next()

    def _next(self) -> None:
        self._let_go()
        if not self._waiting:
            return
        folder = Path(self._waiting[0])
        try:
            site = read_site(folder)
        except ProjectError:
            self._waiting.pop(0)
            self._next()
            return
        self._file = _kept_file(str(folder), site)
        self._engine = LiveEngine(str, folder)
        self._hidden = HiddenPage(self._engine, self)
        self._hidden.loaded.connect(self._on_loaded)
        self._hidden.painted.connect(self._on_painted)
        page = page_shown(site, _home(site), None)
        self._hidden.load(still_page(Context(site, page, page.variants[0], "edit", EditPictures(),
                                             "/walk/"), FONT_CSS), _WIDTH, _HEIGHT)

    def _on_loaded(self, fine: bool) -> None:
        if self._hidden is None:
            return
        if fine:
            self._hidden.paint(_WIDTH, _HEIGHT)
        else:
            self._on_painted(False)

    def _on_painted(self, fine: bool) -> None:
        if self._hidden is None:
            return
        folder = self._waiting.pop(0)
        image = self._hidden.grab() if fine else QImage()
        if not image.isNull():
            small = image.scaled(PICTURE * _KEPT_SCALE, Qt.AspectRatioMode.IgnoreAspectRatio,
                                 Qt.TransformationMode.SmoothTransformation)
            self._file.parent.mkdir(parents=True, exist_ok=True)
            small.save(str(self._file))  # A disk that refuses it costs the picture's next start.
            self.made.emit(folder, QPixmap.fromImage(small))
        self._next()

    def _let_go(self) -> None:
        if self._hidden is not None:
            self._hidden.end()
            self._hidden = None
        if self._engine is not None:
            self._engine.end()
            self._engine = None

    def end(self) -> None:
        """Make no more."""
        self._waiting.clear()
        self._let_go()


def _kept_file(folder: str, site: Site) -> Path:
    page = _home(site)
    told = msgspec.json.encode((page.variants[0], site.brand, site.styles,
                                site.tables if has_lists(page) else ()))
    name = hashlib.sha256(folder.encode() + told).hexdigest()[:32]
    return config_folder() / "homes" / f"{name}.png"


def _home(site: Site) -> Page:
    return next((page for page in site.pages if not page.slug), site.pages[0])
