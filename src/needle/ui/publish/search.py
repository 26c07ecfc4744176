"""How pages look in a search and where they are shared: one page at the left, all in a table."""

from collections import Counter
from pathlib import Path

from PyQt6.QtCore import QObject, QRunnable, Qt, QThreadPool, pyqtSignal
from PyQt6.QtGui import QColor, QImage, QPixmap
from PyQt6.QtWidgets import QCheckBox, QHBoxLayout, QLineEdit, QPlainTextEdit, QVBoxLayout, QWidget

from needle.core.edit.domain import set_domain
from needle.core.edit.pages import set_page, set_slug
from needle.core.readymade.lostpage import LOST_SLUG, add_lost_page
from needle.core.render.sharing import share_picture
from needle.core.render.structured import page_address
from needle.core.site.site import Page, Site
from needle.core.values.counting import counted
from needle.core.values.ids import Id
from needle.ui.cards import Card, Table, button, label, panel, scrolled
from needle.ui.editors import WordsEdit
from needle.ui.language import tr
from needle.ui.outcomes import Outcomes
from needle.ui.publish.about import AboutCard
from needle.ui.session import Session
from needle.ui.theme import tokens
from needle.ui.timers import once
from needle.ui.words import MarkupLabel, plain_tip

__all__ = ["SearchPart"]

_TITLE_FITS, _DESCRIPTION_FITS = 60, 155
_SHARE_WIDTH = 286
_REST_MS = 500


class _Share(QRunnable):
    """Makes the picture of a share in a thread."""

    def __init__(self, part: "_Pictures", site: Site, page: Page, media: Path) -> None:
        super().__init__()
        self._part, self._site, self._page, self._media = part, site, page, media

    def run(self) -> None:
        own = self._site.medium(self._page.share)
        try:
            raw = (self._media / own.file).read_bytes() if own else share_picture(
                self._site, self._page, self._media)
        except (OSError, ValueError):
            raw = b""
        self._part.made.emit(self._page.id, QImage.fromData(raw))


class _Pictures(QObject):
    """Pictures of shares.

    Signals:
        made: One is there (the page's id, the picture; a null one if it cannot be made).
    """

    made = pyqtSignal(str, QImage)


class SearchPart(QWidget):
    """Title, description and address of the chosen page, and of all of them.

    Attributes:
        FIELDS: What is put right here, by the name that a snag's setting has.
    """

    FIELDS = ("title", "description", "slug", "advert", "about")

    def __init__(self, session: Session, outcomes: Outcomes) -> None:
        super().__init__()
        self._session = session
        self._outcomes = outcomes
        self._pictures = _Pictures(self)
        self._pictures.made.connect(self._show_share)
        self._pool = QThreadPool(self)
        self._pool.setMaxThreadCount(1)
        self._pictured: tuple[object, ...] = ()
        self._later = once(self, _REST_MS)
        self._later.timeout.connect(self._picture)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        row.addWidget(self._side())
        row.addWidget(scrolled(self._work()), 1)

    def ring(self) -> list[QWidget]:
        """The parts that F6 goes round."""
        return [self.title, self.pages]

    def _side(self) -> QWidget:
        side = panel("side")
        column = QVBoxLayout(side)
        column.setContentsMargins(16, 12, 16, 12)
        column.setSpacing(4)
        self._head = label("", "title", wrap=True)
        self.title = QLineEdit()
        self.title.setAccessibleName(tr("Title of the page"))
        self.title.textEdited.connect(lambda words: self._take("title", words))
        self._title_note = label("", "small")
        self.description = QPlainTextEdit()
        self.description.setAccessibleName(tr("Description of the page"))
        self.description.setTabChangesFocus(True)
        self.description.setFixedHeight(78)
        self.description.textChanged.connect(
            lambda: self._take("description", self.description.toPlainText()))
        self._description_note = label("", "small")
        self.advert = QLineEdit()
        self.advert.setAccessibleName(tr("What the advert says that leads here"))
        self.advert.setPlaceholderText(tr("The snags see that the page says it, too"))
        self.advert.textEdited.connect(lambda words: self._take("advert", words))
        self.slug = QLineEdit()
        self.slug.setAccessibleName(tr("Address of the page"))
        self.slug.editingFinished.connect(self._take_slug)
        self.unlisted = QCheckBox(tr("Searches leave it out (noindex)"))
        self.unlisted.clicked.connect(self._take_unlisted)
        self._found = MarkupLabel()
        self._found.setWordWrap(True)
        self._share = label("")
        self._share.setAccessibleName(tr("The picture where the page is shared"))
        self._share.setFixedSize(_SHARE_WIDTH, _SHARE_WIDTH * 630 // 1200)
        self._shared = MarkupLabel()
        self._shared.setWordWrap(True)
        for widget in (self._head, label(tr("Title"), "small"), self.title, self._title_note,
                       label(tr("Description"), "small"), self.description,
                       self._description_note, label(tr("Address"), "small"), self.slug,
                       label(tr("The advert that leads here says"), "small"), self.advert,
                       self.unlisted):
            column.addWidget(widget)
        for words, shown in ((tr("As a result"), self._found), (tr("Where it is shared"), None)):
            column.addSpacing(10)
            column.addWidget(label(words, "small"))
            if shown:
                column.addWidget(shown)
        column.addWidget(self._share)
        column.addWidget(self._shared)
        column.addStretch()
        outer = QWidget()
        outer.setFixedWidth(_SHARE_WIDTH + 46)  # With the bar that scrolls it.
        around = QVBoxLayout(outer)
        around.setContentsMargins(0, 0, 0, 0)
        around.addWidget(scrolled(side))
        return outer

    def _work(self) -> QWidget:
        work = panel("work")
        column = QVBoxLayout(work)
        column.setContentsMargins(18, 14, 18, 14)
        card = Card(tr("All pages"))
        self._card = card
        self.pages = Table(tr("All pages"), (tr("Page"), tr("Address"), tr("Title"), "",
                                             tr("Description"), ""), 2, 4, right=(3, 5))
        self.pages.itemSelectionChanged.connect(self._on_chosen)
        self.pages.itemActivated.connect(lambda item: self.edit(
            self.pages.chosen_key() or "", "description" if item.column() > 3 else
            "slug" if item.column() == 1 else "title"))
        card.body.addWidget(self.pages)
        column.setSpacing(14)
        self.about = AboutCard(self._session)
        column.addWidget(self._whole_site())
        column.addWidget(self.about)
        column.addWidget(card)
        column.addStretch()
        return work

    def _whole_site(self) -> Card:
        """Return what holds for all pages: the domain, the map of the site, wrong addresses."""
        card = Card(tr("The whole site"))
        line = QHBoxLayout()
        line.addWidget(label(tr("Domain")))
        self.domain = WordsEdit(tr("Domain of the site"), self._session.site.domain)
        self.domain.setPlaceholderText(tr("www.quillmoor.example"))
        self.domain.setMaximumWidth(260)
        self.domain.kept.connect(self._take_domain)
        line.addWidget(self.domain)
        line.addStretch()
        self._lost = button(tr("Make a page for wrong addresses"), self.make_lost_page)
        line.addWidget(self._lost)
        card.body.addLayout(line)
        self._site_note = label("", "small", wrap=True)
        card.body.addWidget(self._site_note)
        return card

    def _take_domain(self, words: str) -> None:
        self._session.edit(tr("domain of the site"), lambda site: set_domain(site, words))
        self.domain.show_words(self._session.site.domain)

    def make_lost_page(self) -> None:
        """Make the page that visitors get where there is none."""
        made: list[Id] = []

        def how(site: Site) -> Site:
            site, page = add_lost_page(site)
            made.append(page)
            return site

        if self._session.edit(tr("page for wrong addresses"), how):
            self._session.show_page(made[-1])
            self._session.said.emit(tr("“{name}” is shown wherever no page stands, once it is "
                                       "sent.", name=self._session.page.name), False)
            self.refresh()

    def edit(self, page: Id, field: str) -> None:
        """Show a page, and give the keys to one of its fields."""
        self._session.show_page(page)
        self.refresh()
        if field == "about":
            self.about.edit()
            return
        editor: QWidget = {"title": self.title, "slug": self.slug,
                            "advert": self.advert}.get(field, self.description)
        editor.setFocus(Qt.FocusReason.OtherFocusReason)

    # Changing

    def _take(self, field: str, words: str) -> None:
        page = self._session.page.id
        tidy = " ".join(words.split("\n"))
        self._session.edit(tr("{field} of page", field=field),
                           lambda site: set_page(site, page, **{field: tidy}),
                           group=f"page:{page}:{field}", asker=self)
        self._show_page()

    def _take_slug(self) -> None:
        page, words = self._session.page, self.slug.text().strip().strip("/")
        if words != page.slug:
            self._session.edit(tr("address of page"), lambda site: set_slug(site, page.id, words))
        self.slug.setText(self._session.page.slug)

    def _take_unlisted(self, on: bool) -> None:
        page = self._session.page.id
        self._session.edit(tr("whether searches list a page"),
                           lambda site: set_page(site, page, unlisted=on))

    def _on_chosen(self) -> None:
        key = self.pages.chosen_key()
        if key and key != self._page().id:
            self._session.show_page(key)
            self._show_page()

    # Showing

    def _page(self) -> Page:
        """The page that is shown; of one for each row, that of the row that is looked at."""
        return self._session.published or self._session.page

    def refresh(self) -> None:
        """Show the pages as they are."""
        pages, look = self._session.whole.pages, tokens()
        rows = [(page.name, f"/{page.slug}", page.title or tr("missing"), str(len(page.title)),
                 page.description or tr("missing"), str(len(page.description)))
                for page in pages]
        self.pages.blockSignals(True)
        self.pages.show_rows(rows, [page.id for page in pages])
        faults = 0
        for column, field, fits in ((2, "title", _TITLE_FITS), (4, "description",
                                                                _DESCRIPTION_FITS)):
            twice = Counter(getattr(page, field).strip().casefold() for page in pages)
            for row, page in enumerate(pages):
                words = getattr(page, field).strip()
                doubled = bool(words) and twice[words.casefold()] > 1
                bad = not words or doubled
                long = len(words) > fits
                faults += bad
                for place in (column, column + 1):
                    item = self.pages.item(row, place)
                    assert item is not None
                    item.setForeground(QColor(look.fault if bad else look.amber if long
                                              else look.ink))
                    item.setToolTip(plain_tip(
                        tr("Another page has the same.") if doubled else
                        tr("Cut after about {fits} characters.", fits=fits) if long else ""))
        for row, page in enumerate(pages):
            if page.id == self._page().id:
                self.pages.selectRow(row)
        self.pages.fit_height()
        self.pages.blockSignals(False)
        self._show_site()
        self._card.note.setText(tr("{count} missing or doubled", count=faults) if faults
                                else tr("Each page has words of its own."))
        self._show_page()

    def _show_site(self) -> None:
        site = self._session.site
        self.domain.show_words(site.domain)
        self._lost.setEnabled(bool(site.pages) and all(
            page.slug != LOST_SLUG for page in site.pages))
        listed = sum(not page.unlisted and page.slug != LOST_SLUG
                     for page in self._session.whole.pages)
        self._site_note.setText(tr(
            "{address} is where searches are sent; sitemap.xml lists {count}, robots.txt names it.",
            address=f"https://{site.domain}/", count=counted(listed, "page"))
            if site.domain else tr("Without a domain there is no true address to tell searches, "
                                   "and no map of the site."))

    def _show_page(self) -> None:
        page, look = self._page(), tokens()
        # What is made of a row is changed where the rows are.
        made = bool(page.row.page)
        for editor in (self.title, self.description, self.slug):
            editor.setReadOnly(made)
        self._head.setText(tr("{name} in a search", name=page.name))
        if self.title.text() != page.title:
            self.title.setText(page.title)
            self.title.setCursorPosition(0)
        if self.description.toPlainText() != page.description:
            self.description.blockSignals(True)
            self.description.setPlainText(page.description)
            self.description.blockSignals(False)
        if self.advert.text() != page.advert:
            self.advert.setText(page.advert)
            self.advert.setCursorPosition(0)
        self.about.refresh()
        self.unlisted.setChecked(page.unlisted)
        if not self.slug.hasFocus():
            self.slug.setText(page.slug)
        self._title_note.setText(tr("Made of the table's row: Ctrl+T shows it.") if made
                                 else _fit(len(page.title), _TITLE_FITS))
        self._description_note.setText(_fit(len(page.description), _DESCRIPTION_FITS))
        address = page_address(self._session.site.domain, page.slug).removeprefix("https://") or (
            self._outcomes.address(page).removeprefix("http://") or f"/{page.slug}")
        title = page.title[:70] or page.name
        self._found.fill(
            "<span style='color:{dim}'>{address}</span><br>"
            "<b style='color:{ink};font-size:15px'>{title}</b><br>"
            "<span style='color:{dim}'>{description}</span>",
            ink=look.ink, dim=look.ink_second, address=address, title=title,
            description=page.description[:160] or tr("No description yet."))
        self._shared.fill("<b>{title}</b><br><span style='color:{dim}'>{site}</span>",
                          title=title, dim=look.ink_second, site=self._session.site.name)
        self._later.start()

    def _picture(self) -> None:
        site, page = self._session.whole, self._page()
        told = (site.name, page.id, page.title, page.name, page.share, site.brand)
        if told != self._pictured and self.isVisible():
            self._pictured = told
            self._pool.start(_Share(self._pictures, site, page, self._session.folder / "media"))

    def _show_share(self, page: Id, image: QImage) -> None:
        if page != self._page().id:
            return
        ratio = self.devicePixelRatioF()
        shown = QPixmap() if image.isNull() else QPixmap.fromImage(image).scaled(
            self._share.size() * ratio, Qt.AspectRatioMode.KeepAspectRatioByExpanding,
            Qt.TransformationMode.SmoothTransformation)
        shown.setDevicePixelRatio(ratio)
        self._share.setPixmap(shown)


def _fit(length: int, fits: int) -> str:
    if not length:
        return tr("empty: searches then choose words by themselves")
    if length > fits:
        return tr("{length} characters, cut after about {fits}", length=length, fits=fits)
    return tr("{length} characters, fits", length=length)
