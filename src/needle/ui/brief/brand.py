"""Brand: palette, type, sign and share picture, seen at once on a page of the site."""

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QImage, QPixmap, QResizeEvent
from PyQt6.QtWidgets import QHBoxLayout, QSizePolicy, QVBoxLayout, QWidget

from needle.ui.brief.palette import PairsCard, PaletteCard
from needle.ui.brief.sign import ShareCardEditor, SignCard
from needle.ui.brief.themes import ThemesCard
from needle.ui.brief.typefaces import TypeCard
from needle.ui.builder.stills import Stills
from needle.ui.cards import Card, panel, scrolled
from needle.ui.language import tr
from needle.ui.session import Session
from needle.ui.timers import once
from needle.ui.words import Words

__all__ = ["BrandPart"]

_PHONE_PX, _SHOWN_PX = 390, 240
_SOON_MS = 350
_ROOM_FOR_PHONE_PX = 1160


class BrandPart(QWidget):
    """Everything that is set once for the site and followed everywhere."""

    def __init__(self, session: Session, stills: Stills) -> None:
        super().__init__()
        self._session = session
        self._stills = stills
        self.themes = ThemesCard(session, stills)
        self.palette_card = PaletteCard(session)
        self.pairs = PairsCard(session)
        self.type = TypeCard(session)
        self.sign = SignCard(session)
        self.share = ShareCardEditor(session)
        self._preview = Words()
        self._preview.setAlignment(Qt.AlignmentFlag.AlignTop)
        self._preview.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Ignored)
        self._seen: object = None
        self._soon = once(self, _SOON_MS)
        self._soon.timeout.connect(self._take_still)
        work = panel("work")
        row = QHBoxLayout(work)
        row.setContentsMargins(16, 14, 16, 14)
        row.setSpacing(14)
        row.addLayout(_column(self.palette_card, self.themes, self.pairs, self.sign), 6)
        row.addLayout(_column(self.type, self.share), 4)
        self._page = page = Card(tr("On the phone"), grows=True)
        page.body.addWidget(self._preview, 1)
        page.setFixedWidth(_SHOWN_PX + 28)
        row.addWidget(page)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.addWidget(scrolled(work))

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Leave the page on the phone out where there is no room beside the rest."""
        super().resizeEvent(event)
        self._page.setVisible(self.width() >= _ROOM_FOR_PHONE_PX)

    def refresh(self) -> None:
        """Show the brand as it is now."""
        for card in (self.themes, self.palette_card, self.pairs, self.type, self.sign, self.share):
            card.refresh()
        seen = (self._session.site.brand, self._session.site.styles, self._session.page.id,
                self._session.row)
        if seen != self._seen:
            self._seen = seen
            self._soon.start()

    def _take_still(self) -> None:
        if self.isVisible():
            self._stills.ask(self._session.context(), _PHONE_PX, _PHONE_PX, self._show,
                             highest=1240)

    def _show(self, image: QImage) -> None:
        pixmap = QPixmap.fromImage(image.copy(0, 0, image.width(), min(image.height(), 1220)))
        pixmap.setDevicePixelRatio(_PHONE_PX / _SHOWN_PX)
        self._preview.setPixmap(pixmap)


def _column(*cards: QWidget) -> QVBoxLayout:
    column = QVBoxLayout()
    column.setSpacing(12)
    for card in cards:
        column.addWidget(card)
    column.addStretch()
    return column
