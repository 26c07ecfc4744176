"""The sign of the site, the icon in a browser's tab, and share pictures."""

import msgspec
from PyQt6.QtCore import QSize, Qt
from PyQt6.QtGui import QIcon, QImage, QPixmap
from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QToolButton

from needle.core.brand.marks import SHAPES, mark_svg
from needle.core.edit.brand import set_mark, set_share_card
from needle.core.render.sharing import LAYOUTS, share_picture
from needle.core.site.site import Mark, ShareCard
from needle.ui.brief.drawings import vector_pixmap
from needle.ui.cards import Card, label
from needle.ui.editors import ChoiceEdit, WordsEdit
from needle.ui.language import tr
from needle.ui.session import Session
from needle.ui.words import Words, set_tip

__all__ = ["ShareCardEditor", "SignCard"]

_SHARE_PX = 340
_GROUNDS = {"ink": tr("on ink"), "main": tr("on the main colour"), "paper": tr("on paper"),
            "mist": tr("on mist"), "accent": tr("on the accent")}


class SignCard(Card):
    """A shape and letters, or a logo of one's own."""

    def __init__(self, session: Session) -> None:
        super().__init__(tr("Sign"), tr("logo and icon in the tab"))
        self._session = session
        self._shapes: dict[str, QToolButton] = {}
        grid = QGridLayout()
        grid.setSpacing(3)
        for number, key in enumerate(("", *SHAPES)):
            shape = QToolButton()
            shape.setCheckable(True)
            shape.setIconSize(QSize(26, 26))
            words = SHAPES[key].name if key else tr("Letters alone")
            set_tip(shape, words)
            shape.setAccessibleName(tr("Sign: {words}", words=words))
            shape.clicked.connect(lambda _=False, k=key: self._change(shape=k, medium=""))
            self._shapes[key] = shape
            grid.addWidget(shape, number // 9, number % 9)
        self._letters = WordsEdit(tr("Letters on the sign"))
        self._letters.setMaxLength(2)
        self._letters.setFixedWidth(44)
        self._letters.kept.connect(lambda words: self._change(letters=words.strip()))
        self._own = ChoiceEdit(tr("Own logo"), {}, inherit=False)
        self._own.chosen.connect(lambda medium: self._change(medium=str(medium)))
        self._large = Words()
        self._large.setFixedHeight(30)
        line = QHBoxLayout()
        line.addWidget(self._large)
        line.addSpacing(10)
        line.addWidget(label(tr("Letters"), "dim"))
        line.addWidget(self._letters)
        line.addSpacing(10)
        line.addWidget(label(tr("or own logo"), "dim"))
        line.addWidget(self._own, 1)
        self.body.addLayout(grid)
        self.body.addLayout(line)

    def _change(self, **fields: str) -> None:
        mark = msgspec.structs.replace(self._session.site.brand.mark, **fields)
        self._session.edit(tr("sign"), lambda site: set_mark(site, mark))

    def refresh(self) -> None:
        """Show the sign as it is now, and the others in the same colours."""
        site, media = self._session.site, self._session.folder / "media"
        mark = site.brand.mark
        for key, shape in self._shapes.items():
            other = msgspec.structs.replace(site, brand=msgspec.structs.replace(
                site.brand, mark=Mark(shape=key, letters=mark.letters)))
            shape.setIcon(QIcon(vector_pixmap(mark_svg(other, media).encode(), 52, 52)))
            shape.setChecked(key == mark.shape and not mark.medium)
        self._letters.show_words(mark.letters)
        logos = {"": "none"} | {m.id: m.name for m in site.media if m.is_picture}
        if [self._own.itemData(n) for n in range(self._own.count())] != list(logos):
            self._own.clear()
            for medium, name in logos.items():
                self._own.addItem(name, medium)
        self._own.show_value(mark.medium)
        own = site.medium(mark.medium)
        if own is None:
            pixmap = vector_pixmap(mark_svg(site, media).encode(), 60, 60)
        elif own.is_vector:
            pixmap = vector_pixmap((media / own.file).read_bytes(), 160, 60)
        else:
            pixmap = QPixmap(str(media / own.file)).scaledToHeight(
                60, Qt.TransformationMode.SmoothTransformation)
        pixmap.setDevicePixelRatio(2)
        self._large.setPixmap(pixmap)


class ShareCardEditor(Card):
    """How the pictures look that are shown where pages are shared."""

    def __init__(self, session: Session) -> None:
        super().__init__(tr("Share picture"), tr("made for each page, 1200 × 630"))
        self._session = session
        self._picture = Words()
        self._picture.setFixedSize(_SHARE_PX, round(_SHARE_PX * 630 / 1200))
        self._seen: object = None
        self._layout = ChoiceEdit(tr("Layout"), LAYOUTS, inherit=False)
        self._layout.chosen.connect(lambda value: self._change(layout=str(value)))
        self._ground = ChoiceEdit(tr("Ground"), _GROUNDS, inherit=False)
        self._ground.chosen.connect(lambda value: self._change(ground=str(value)))
        self._medium = ChoiceEdit(tr("Picture"), {}, inherit=False)
        self._medium.chosen.connect(lambda value: self._change(medium=str(value)))
        self._words = WordsEdit(tr("Words on the share picture"))
        self._words.setPlaceholderText(tr("empty: each page's own title"))
        self._words.kept.connect(lambda words: self._change(words=words.strip()))
        line = QHBoxLayout()
        line.addWidget(self._layout, 1)
        line.addWidget(self._ground, 1)
        self.body.addWidget(self._picture)
        self.body.addLayout(line)
        self.body.addWidget(self._medium)
        self.body.addWidget(self._words)

    def _change(self, **fields: str) -> None:
        card = msgspec.structs.replace(self._session.site.brand.share, **fields)
        self._session.edit(tr("share picture"), lambda site: set_share_card(site, card))

    def refresh(self) -> None:
        """Show the picture of the page that is shown."""
        site = self._session.site
        page = self._session.published or self._session.page
        card: ShareCard = site.brand.share
        self._layout.show_value(card.layout)
        self._ground.show_value(card.ground)
        self._words.show_words(card.words)
        self._medium.setVisible(card.layout == "picture")
        wide = {"": tr("no picture yet")} | {m.id: m.name for m in site.media
                                         if m.is_picture and not m.is_vector}
        if [self._medium.itemData(n) for n in range(self._medium.count())] != list(wide):
            self._medium.clear()
            for medium, name in wide.items():
                self._medium.addItem(name, medium)
        self._medium.show_value(card.medium)
        seen = (site.brand, site.name, page.title, page.name, site.media)
        if seen == self._seen:
            return
        self._seen = seen
        image = QImage.fromData(share_picture(site, page, self._session.folder / "media"))
        pixmap = QPixmap.fromImage(image.scaledToWidth(
            _SHARE_PX * 2, Qt.TransformationMode.SmoothTransformation))
        pixmap.setDevicePixelRatio(2)
        self._picture.setPixmap(pixmap)
