"""Where to begin, and the pages as they are now."""

from functools import partial

from PyQt6.QtCore import QSize, Qt, pyqtSignal
from PyQt6.QtGui import QIcon, QImage, QPixmap
from PyQt6.QtWidgets import QGridLayout, QListWidgetItem, QVBoxLayout, QWidget

from needle.core.render.context import Context
from needle.core.tables.expanding import page_shown
from needle.store.media import EditPictures
from needle.ui.builder.stills import Stills
from needle.ui.cards import Card, button, label, panel, picture_grid, picture_icon
from needle.ui.language import tr
from needle.ui.session import Session
from needle.ui.timers import once
from needle.ui.words import plain_tip

__all__ = ["Overview"]

_WAYS = (("draft", tr("First draft from an idea…"),
          tr("A sentence or two become a whole site, with "
                                                   "names, colours and words to choose from.")),
         ("templates", tr("Choose a template…"),
          tr("Whole pages by kind and length, in your colours.")),
         ("picture", tr("Work from a picture…"),
          tr("Measure a drawing or a page that you like, and "
                                                "have its structure read.")),
         ("package", tr("Open a page package…"),
          tr("A page that was exported from another project.")))
_ICON = QSize(176, 132)
_PAGE_PX, _HIGH_PX, _MOST_PAGES, _SOON_MS = 1280, 980, 24, 300


class Overview(QWidget):
    """The right side of the brief.

    Signals:
        asked: The person wants to begin in one of these ways ("draft", "templates", …).
        page_asked: Show a page in Build (its id).
    """

    asked = pyqtSignal(str)
    page_asked = pyqtSignal(str)

    def __init__(self, session: Session, stills: Stills) -> None:
        super().__init__()
        self._session = session
        self._stills = stills
        self._seen: object = None
        work = panel("work")
        column = QVBoxLayout(work)
        column.setContentsMargins(16, 14, 16, 14)
        column.setSpacing(12)
        ways = Card(tr("Begin"))
        grid = QGridLayout()
        grid.setVerticalSpacing(6)
        grid.setHorizontalSpacing(14)
        for row, (key, words, note) in enumerate(_WAYS):
            way = button(words, partial(self.asked.emit, key), main=row == 0)
            grid.addWidget(way, row, 0)
            grid.addWidget(label(note, "dim", wrap=True), row, 1)
        grid.setColumnStretch(1, 1)
        ways.body.addLayout(grid)
        pages = Card(tr("The pages now"), grows=True)
        self.pages = picture_grid(tr("Pages of the site"), _ICON)
        self.pages.itemActivated.connect(
            lambda item: self.page_asked.emit(item.data(Qt.ItemDataRole.UserRole)))
        pages.body.addWidget(self.pages)
        column.addWidget(ways)
        column.addWidget(pages, 1)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.addWidget(work)
        self._soon = once(self, _SOON_MS)
        self._soon.timeout.connect(self._take_stills)

    def refresh(self) -> None:
        """Show the pages as they are now."""
        site = self._session.site
        seen = (site.pages, site.brand, site.styles, site.media, site.tables)
        if seen == self._seen:
            return
        self._seen = seen
        self.pages.clear()
        blank = QPixmap(_ICON)
        blank.fill(Qt.GlobalColor.transparent)
        for page in site.pages[:_MOST_PAGES]:
            item = QListWidgetItem(QIcon(blank), page.name)
            item.setData(Qt.ItemDataRole.UserRole, page.id)
            item.setToolTip(plain_tip(tr("Enter or double click shows it in Build")))
            self.pages.addItem(item)
        self._soon.start()

    def _take_stills(self) -> None:
        if not self.isVisible():
            self._seen = None
            return
        site = self._session.site
        for page in site.pages[:_MOST_PAGES]:
            shown = page_shown(site, page, None)
            context = Context(site, shown, shown.variants[0], "edit", EditPictures(), "/walk/")
            self._stills.ask(context, _PAGE_PX, _ICON.width() * 2, partial(self._show, page.id),
                             highest=_HIGH_PX)

    def _show(self, page_id: str, image: QImage) -> None:
        if image.isNull():
            return
        # A short page stands at the top of its place, so that all names are level.
        picture = QPixmap.fromImage(image.convertToFormat(QImage.Format.Format_ARGB32).copy(
            0, 0, image.width(), _ICON.height() * 2))
        for number in range(self.pages.count()):
            item = self.pages.item(number)
            if item is not None and item.data(Qt.ItemDataRole.UserRole) == page_id:
                item.setIcon(picture_icon(picture))
