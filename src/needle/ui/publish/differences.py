"""What a send would change: draft against live in words, and as two pictures with marks."""

from collections.abc import Sequence

from PyQt6.QtCore import QRect, Qt
from PyQt6.QtGui import QColor, QImage, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import (
    QDialog,
    QHBoxLayout,
    QListWidget,
    QScrollBar,
    QVBoxLayout,
    QWidget,
)

from needle.core.edit.changes import Sent, as_sent, changes_since, site_of
from needle.core.render.context import Context
from needle.core.seeing.differing import Difference, Span, differences
from needle.core.site.site import Page, Site
from needle.core.values.counting import counted
from needle.core.values.ids import Id
from needle.publish.releases import LiveError, read_sent
from needle.store.media import EditPictures
from needle.ui.builder.live.engine import LiveEngine
from needle.ui.builder.stills import Stills
from needle.ui.cards import button, label, scrolled
from needle.ui.editors import Segments
from needle.ui.hearing import NamedCombo
from needle.ui.language import tr
from needle.ui.outcomes import Outcomes
from needle.ui.pixels import pixels_of
from needle.ui.session import Session
from needle.ui.theme import tokens
from needle.ui.waiting import watched

__all__ = ["DifferencesDialog"]

_WIDTHS = {390: tr("Phone"), 1280: tr("Desktop")}
_SHOWN = 430
_HIGHEST = 8000


class _Picture(QWidget):
    """A picture of a page with what differs marked; empty marks say where something is missing."""

    def __init__(self, name: str) -> None:
        super().__init__()
        self._image = QImage()
        self._marks: Sequence[Span] = ()
        self.setAccessibleName(name)
        self.setMinimumWidth(_SHOWN)

    def show_image(self, image: QImage, marks: Sequence[Span]) -> None:
        """Show a picture with marks, which are in its own pixels."""
        self._image, self._marks = image, marks
        high = round(image.height() * self._scale()) if not image.isNull() else 40
        self.setFixedSize(_SHOWN, high)
        self.update()

    def _scale(self) -> float:
        return _SHOWN / max(1, self._image.width())

    def top_of(self, number: int) -> int:
        """Return where a mark stands, in the widget's pixels."""
        return round(self._marks[number].top * self._scale())

    def paintEvent(self, event: QPaintEvent | None) -> None:
        look, scale = tokens(), self._scale()
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.drawImage(QRect(0, 0, self.width(), self.height()), self._image)
        wash = QColor(look.thread)
        wash.setAlpha(26)
        for one in self._marks:
            box = QRect(round(one.left * scale), round(one.top * scale),
                        round((one.right - one.left) * scale) - 1,
                        round((one.bottom - one.top) * scale))
            painter.setPen(QPen(QColor(look.thread), 2, Qt.PenStyle.DashLine if one.empty
                                else Qt.PenStyle.SolidLine))
            if one.empty:
                painter.drawLine(0, box.top(), self.width(), box.top())
            else:
                painter.fillRect(box, wash)
                painter.drawRect(box.adjusted(1, 1, -1, -1))
        painter.end()


class DifferencesDialog(QDialog):
    """Pages that differ; of one of them, what changed in words and in two pictures."""

    def __init__(self, session: Session, outcomes: Outcomes, engine: LiveEngine,
                 parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("What a send would change"))
        self._session, self._outcomes = session, outcomes
        self._stills = Stills(engine, session.folder, self)
        self._images: dict[str, QImage] = {}
        self.found: list[Difference] = []
        self._ticket = 0
        self.pages = QListWidget()
        self.pages.setAccessibleName(tr("Pages that differ from what is live"))
        self.words = QListWidget()
        self.words.setAccessibleName(tr("What changed"))
        self._variant = NamedCombo(tr("Variant"))
        self._width = Segments(tr("Width"), _WIDTHS)
        self._px = 390
        self._width.show_values([self._px])
        self.live = _Picture(tr("The page as it is live"))
        self.draft = _Picture(tr("The page as it is now"))
        self._state = label("", "small")
        self._bars: list[QScrollBar] = []
        self._lay_out()
        self.resize(1240, 720)
        self.pages.currentRowChanged.connect(lambda _: self._show_page())
        self._variant.currentIndexChanged.connect(lambda _: self._ask())
        self._width.chosen.connect(self._set_width)
        self._list_pages()

    def _lay_out(self) -> None:
        left = QVBoxLayout()
        left.addWidget(label(tr("Pages"), "title"))
        left.addWidget(self.pages, 2)
        left.addWidget(label(tr("What changed"), "title"))
        left.addWidget(self.words, 3)
        self.words.setWordWrap(True)
        head = QHBoxLayout()
        head.addWidget(self._variant)
        head.addWidget(self._width)
        head.addStretch()
        head.addWidget(self._state)
        self._next = button(tr("Next difference"), self.step)
        head.addWidget(self._next)
        pictures = QHBoxLayout()
        for words, picture in ((tr("Live"), self.live), (tr("Draft"), self.draft)):
            side = QVBoxLayout()
            side.addWidget(label(words, "title"))
            area = scrolled(picture)
            area.setFixedWidth(_SHOWN + 14)
            area.setWidgetResizable(False)
            bar = area.verticalScrollBar()
            assert bar is not None
            self._bars.append(bar)
            side.addWidget(area, 1)
            pictures.addLayout(side)
        right = QVBoxLayout()
        right.addLayout(head)
        right.addLayout(pictures, 1)
        row = QHBoxLayout(self)
        row.addLayout(left, 1)
        row.addLayout(right)

    def _list_pages(self) -> None:
        self._different = [page.id for page in self._session.whole.pages
                           if self._outcomes.since.changes(page) != []]
        for key in self._different:
            page = self._session.whole.page(key)
            assert page is not None
            changes = self._outcomes.since.changes(page)
            self.pages.addItem(page.name if changes else tr("{name} (never sent)", name=page.name))
        if self._different:
            page = self._session.published
            here = page.id if page is not None else ""
            self.pages.setCurrentRow(self._different.index(here)
                                     if here in self._different else 0)
        else:
            self._state.setText(tr("Every page is as it is live."))

    def show_only(self, page: Id) -> None:
        """Choose a page, if it differs."""
        if page in self._different:
            self.pages.setCurrentRow(self._different.index(page))

    def _page(self) -> Page | None:
        row = self.pages.currentRow()
        return self._session.whole.page(self._different[row]) if row >= 0 else None

    def _sent(self, page: Page) -> Sent | None:
        try:
            return read_sent(self._session.folder, page.id)
        except LiveError:
            return None

    def _show_page(self) -> None:
        page = self._page()
        if page is None:
            return
        sent = self._sent(page)
        self.words.clear()
        self.words.addItems(changes_since(sent, as_sent(self._session.whole, page)) if sent
                            else [tr("the whole page is new")])
        self._variant.blockSignals(True)
        self._variant.clear()
        for variant in page.variants:
            self._variant.addItem(tr("Variant {key}", key=variant.key), variant.key)
        self._variant.blockSignals(False)
        self._variant.setVisible(page.tested)
        self._ask()

    def _set_width(self, px: object) -> None:
        self._px = int(px)  # type: ignore[call-overload]
        self._width.show_values([self._px])
        self._ask()

    def _ask(self) -> None:
        """Have both pictures taken; those that were asked for before count no more."""
        page = self._page()
        if page is None:
            return
        self._ticket += 1
        self._stills.forget()
        self._images = {}
        self.found = []
        self._state.setText(tr("Taking two pictures…"))
        sent = self._sent(page)
        key = str(self._variant.currentData() or page.variants[0].key)
        if sent is None:
            self._images["live"] = QImage()
        else:
            self._take("live", site_of(sent), sent.page, key)
        self._take("draft", self._session.whole, page, key)

    def _take(self, side: str, site: Site, page: Page, key: str) -> None:
        ticket = self._ticket
        variant = next((one for one in page.variants if one.key == key), None)
        if variant is None:
            self._got(side, ticket, QImage())
            return
        context = Context(site, page, variant, "edit", EditPictures(), "/walk/")
        self._stills.ask(context, self._px, self._px, lambda image: self._got(
            side, ticket, image), _HIGHEST)

    def _got(self, side: str, ticket: int, image: QImage) -> None:
        if ticket != self._ticket:
            return
        self._images[side] = image
        if len(self._images) == 2:
            self._compare(ticket)

    def _compare(self, ticket: int) -> None:
        live, draft = self._images["live"], self._images["draft"]
        if live.isNull() or draft.isNull():
            found: list[Difference] = []
        else:
            one, other = pixels_of(live), pixels_of(draft)
            found = watched(lambda: differences(one, other), lambda: None)
        if ticket != self._ticket:  # Another page was chosen meanwhile.
            return
        self.found, self._at = found, -1
        self.live.show_image(live, [one.before for one in found])
        self.draft.show_image(draft, [one.after for one in found])
        self._next.setEnabled(bool(found))
        self._state.setText(
            tr("{count} marked", count=counted(len(found), "difference")) if found else
            tr("Not live yet.") if live.isNull() else tr("No difference to be seen at this width."))
        if found:
            self.step()

    def step(self) -> None:
        """Scroll to the next difference; after the last comes the first."""
        if self.found:
            self._at = (self._at + 1) % len(self.found)
            for bar, picture in zip(self._bars, (self.live, self.draft), strict=True):
                bar.setValue(max(0, picture.top_of(self._at) - 120))

    def done(self, result: int) -> None:
        self._ticket += 1
        self._stills.end()
        super().done(result)

