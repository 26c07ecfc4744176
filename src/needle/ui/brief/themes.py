"""Themes: how pages are built up, each seen on a page of the site before it is chosen."""

from functools import partial

import msgspec
from PyQt6.QtCore import QSize
from PyQt6.QtGui import QColor, QImage, QPixmap
from PyQt6.QtWidgets import QGridLayout, QListWidgetItem

from needle.core.brand.themes import THEMES, theme_of
from needle.core.edit.brand import set_facet, set_theme
from needle.core.render.context import Context
from needle.core.site.site import Page
from needle.core.values.theme import FACETS, Theme
from needle.store.media import EditPictures
from needle.ui.builder.stills import Stills
from needle.ui.cards import Card, label, picture_grid, picture_icon
from needle.ui.editors import ChoiceEdit
from needle.ui.language import tr
from needle.ui.session import Session
from needle.ui.theme import tokens
from needle.ui.timers import once
from needle.ui.words import plain_tip

__all__ = ["ThemesCard"]

_PICTURE = QSize(112, 128)
_PAGE_PX = 1180
_NAME_PX = 32
_SOON_MS = 500
_FACETS_A_LINE = 3


class ThemesCard(Card):
    """Chooses a theme with one click, and any facet of it by itself.

    Attributes:
        list: The themes, each as a picture of the page that is shown in Build.
    """

    def __init__(self, session: Session, stills: Stills) -> None:
        super().__init__(tr("Theme"))
        self._session = session
        self._stills = stills
        self._pictured: object = None
        self._soon = once(self, _SOON_MS)
        self._soon.timeout.connect(self._take_stills)
        self.list = picture_grid(tr("Themes"), _PICTURE, _NAME_PX)
        self.list.setFixedHeight(3 * (_PICTURE.height() + _NAME_PX) + 6)
        still_drawn = QPixmap(_PICTURE)
        still_drawn.fill(QColor(tokens().pewter))
        for named in THEMES:
            # All items are as large as the first one is at first.
            item = QListWidgetItem(picture_icon(still_drawn), tr(named.name))
            item.setToolTip(plain_tip(tr(named.note)))
            self.list.addItem(item)
        self.list.itemClicked.connect(lambda _: self._take())
        self.list.itemActivated.connect(lambda _: self._take())
        self._note = label("", "small", wrap=True)
        self.body.addWidget(self.list)
        self.body.addWidget(self._note)
        self.body.addLayout(self._facets())

    def _facets(self) -> QGridLayout:
        grid = QGridLayout()
        grid.setHorizontalSpacing(10)
        grid.setVerticalSpacing(2)
        self._edits: dict[str, ChoiceEdit] = {}
        for number, facet in enumerate(FACETS):
            edit = ChoiceEdit(tr(facet.label), {
                key: tr(choice.name) for key, choice in facet.choices.items()}, inherit=False)
            edit.chosen.connect(partial(self._set_facet, facet.key))
            line, place = divmod(number, _FACETS_A_LINE)
            grid.addWidget(label(tr(facet.label), "small"), line * 2, place)
            grid.addWidget(edit, line * 2 + 1, place)
            grid.setColumnStretch(place, 1)
            self._edits[facet.key] = edit
        return grid

    def refresh(self) -> None:
        """Show the theme as it is now."""
        brand = self._session.site.brand
        found = theme_of(brand.theme)
        self.list.setCurrentRow(THEMES.index(found) if found else -1)
        self._note.setText(_words_of(brand.theme))
        for key, edit in self._edits.items():
            edit.show_value(getattr(brand.theme or Theme(), key))
        seen = (msgspec.structs.replace(brand, theme=None), self._session.page.id,
                self._session.row)
        if seen != self._pictured:
            self._pictured = seen
            self._soon.start()

    def _take(self) -> None:
        named = THEMES[self.list.currentRow()]
        self._session.edit(tr("theme"), lambda site: set_theme(site, named))

    def _set_facet(self, key: str, choice: object) -> None:
        self._session.edit(tr("theme"), lambda site: set_facet(site, key, str(choice)))

    # Pictures of the page in each theme

    def _take_stills(self) -> None:
        if not self.isVisible():
            self._pictured = None
            return
        session = self._session
        shown = session.context()
        for number, named in enumerate(THEMES):
            context = Context(set_theme(session.site, named), shown.page, shown.variant, "edit",
                              EditPictures(), "/walk/")
            self._stills.ask(context, _PAGE_PX, _PICTURE.width() * 2,
                             partial(self._show, number, session.page),
                             highest=_PAGE_PX * _PICTURE.height() // _PICTURE.width())

    def _show(self, number: int, page: Page, image: QImage) -> None:
        item = self.list.item(number)
        if image.isNull() or item is None or page.id != self._session.page.id:
            return
        item.setIcon(picture_icon(QPixmap.fromImage(image.copy(
            0, 0, image.width(), min(image.height(), _PICTURE.height() * 2)))))


def _words_of(theme: Theme | None) -> str:
    found = theme_of(theme)
    if theme is None:
        return tr("No theme yet: sections stand as they were made. A click gives the whole site "
                  "one; Ctrl+Z takes it back.")
    if found is None:
        return tr("Your own. What a part sets for itself goes before the theme.")
    return tr("{name}. {note} What a part sets for itself goes before the theme.",
              name=tr(found.name), note=tr(found.note))
