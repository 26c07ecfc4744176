"""Templates: whole pages by kind and length, seen in the site's own colours."""

from contextlib import suppress
from functools import partial
from pathlib import Path

import msgspec
from PyQt6.QtCore import QSize, Qt, pyqtSignal
from PyQt6.QtGui import QIcon, QImage, QPixmap
from PyQt6.QtWidgets import (
    QCheckBox,
    QFileDialog,
    QHBoxLayout,
    QListWidget,
    QListWidgetItem,
    QMenu,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from needle.core.edit.packages import unpack_page
from needle.core.edit.pages import add_whole_page, free_name
from needle.core.edit.place import EditError
from needle.core.readymade.arriving import seen
from needle.core.readymade.templates import (
    AMOUNTS,
    TEMPLATES,
    Template,
    all_kinds,
    find_templates,
    framed_by,
    page_of,
)
from needle.core.render.context import Context
from needle.core.site.site import Page, Site
from needle.core.values.ids import IdSource, new_id
from needle.store.media import EditPictures, keep_made
from needle.store.packages import (
    PackageError,
    own_templates,
    read_package,
    take_package,
    templates_folder,
    write_package,
)
from needle.ui.builder.stills import Stills
from needle.ui.cards import PACKAGES, button, label, panel, picture_grid, picture_icon
from needle.ui.editors import Segments, WordsEdit
from needle.ui.language import tr
from needle.ui.session import Session
from needle.ui.timers import once
from needle.ui.words import Words, agreed, shrinking

__all__ = ["TemplatesPart"]

_ICON = QSize(186, 160)
_DESK_PX, _PHONE_PX = 1280, 390
_DESK_SHOWN, _PHONE_SHOWN, _HIGH_SHOWN = 234, 116, 460
_HIGH_PX = 1120
_SOON_MS = 250
_OWN, _EVERY = tr("Your own"), tr("Every kind")
_SEED = 1234


class TemplatesPart(QWidget):
    """Chooses a template, previews it at both widths and makes a page of it.

    Signals:
        made: A page was made and is shown.
    """

    made = pyqtSignal()

    def __init__(self, session: Session, stills: Stills) -> None:
        super().__init__()
        self._session = session
        self._stills = stills
        self._amount = ""
        self._seen: object = None
        self._own_pages: dict[str, tuple[Site, Page]] = {}
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        row.addWidget(self._kinds_side())
        row.addWidget(self._work(), 1)
        row.addWidget(self._preview_side())
        self._soon = once(self, _SOON_MS)
        self._soon.timeout.connect(self._take_stills)

    def _kinds_side(self) -> QWidget:
        side = panel("side", 150)
        column = QVBoxLayout(side)
        column.setContentsMargins(0, 8, 0, 8)
        self.kinds = QListWidget()
        self.kinds.setAccessibleName(tr("Kind of page"))
        self.kinds.addItems([_EVERY, *all_kinds(), _OWN])
        self.kinds.setCurrentRow(0)
        self.kinds.currentRowChanged.connect(lambda _: self._fill())
        column.addWidget(self.kinds)
        return side

    def _work(self) -> QWidget:
        work = panel("work")
        column = QVBoxLayout(work)
        column.setContentsMargins(14, 10, 14, 10)
        line = QHBoxLayout()
        self._amounts = Segments(tr("How much there is to say"), {
            "": tr("Any length"), **{amount: amount.capitalize() for amount in AMOUNTS}})
        self._amounts.chosen.connect(self._take_amount)
        self._amounts.show_values([""])
        line.addWidget(self._amounts)
        line.addStretch()
        more = QToolButton()
        more.setText(tr("Packages ▾"))
        more.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        menu = QMenu(more)
        menu.addAction(tr("Keep the page shown in Build as a template…"), self.keep_page)
        menu.addAction(tr("Export the page shown in Build…"), self._ask_export)
        menu.addAction(tr("Open a page package…"), self.ask_package)
        more.setMenu(menu)
        line.addWidget(more)
        self.list = picture_grid(tr("Templates"), _ICON)
        self.list.currentItemChanged.connect(lambda *_: self._show_chosen())
        self.list.itemActivated.connect(lambda _: self.make_page())
        self._empty = label("", wrap=True)
        self._empty.setAlignment(Qt.AlignmentFlag.AlignCenter)
        column.addLayout(line)
        column.addWidget(self.list, 1)
        column.addWidget(self._empty, 1)
        return work

    def _preview_side(self) -> QWidget:
        side = panel("side", _DESK_SHOWN + _PHONE_SHOWN + 42)
        column = QVBoxLayout(side)
        column.setContentsMargins(14, 12, 14, 12)
        self._title = label("", "title", wrap=True)
        self._note = label("", "small", wrap=True)
        self._desk, self._phone = Words(), Words()
        pictures = QHBoxLayout()
        for shown, wide in ((self._desk, _DESK_SHOWN), (self._phone, _PHONE_SHOWN)):
            shrinking(shown, wide, _HIGH_SHOWN)
            shown.setAlignment(Qt.AlignmentFlag.AlignTop)
            pictures.addWidget(shown)
        self._name = WordsEdit(tr("Name of the new page"))
        self.framed = QCheckBox(tr("with the site's own header and footer"))
        self.framed.toggled.connect(lambda _: self._show_chosen())
        self._make = button(tr("Make this page"), self.make_page, main=True)
        self._drop = button(tr("Remove template"), self._drop_own)
        line = QHBoxLayout()
        line.addWidget(self._make, 1)
        line.addWidget(self._drop)
        column.addWidget(self._title)
        column.addWidget(self._note)
        column.addLayout(pictures, 1)
        column.addStretch()
        column.addWidget(label(tr("Name of the page, and so its address"), "small"))
        column.addWidget(self._name)
        column.addWidget(self.framed)
        column.addLayout(line)
        return side

    # What there is

    def _take_amount(self, amount: object) -> None:
        self._amount = str(amount)
        self._fill()

    def refresh(self) -> None:
        """Show the templates in the colours that hold now."""
        site = self._session.site
        seen = (site.brand, site.styles, site.media)
        if seen != self._seen:
            self._seen = seen
            self._fill()

    def _kind(self) -> str:
        item = self.kinds.currentItem()
        return item.text() if item else _EVERY

    def _fill(self) -> None:
        self._amounts.show_values([self._amount])
        kind, kept = self._kind(), self._chosen_key()
        self._stills.forget()
        self.list.blockSignals(True)
        self.list.clear()
        blank = QPixmap(_ICON)
        blank.fill(Qt.GlobalColor.transparent)
        offers = [] if kind == _OWN else [
            (one.key, one.name) for one in find_templates("" if kind == _EVERY else kind,
                                                          self._amount)]
        if kind in (_OWN, _EVERY):
            offers += [(str(path), path.stem) for path in own_templates()]
        for key, name in offers:
            item = QListWidgetItem(QIcon(blank), name)
            item.setData(Qt.ItemDataRole.UserRole, key)
            self.list.addItem(item)
            if key == kept:
                self.list.setCurrentItem(item)
        self.list.blockSignals(False)
        if self.list.currentItem() is None and offers:
            self.list.setCurrentRow(0)
        self.list.setVisible(bool(offers))
        self._empty.setVisible(not offers)
        self._empty.setText(tr("Pages that you keep as templates stand here, for every "
                               "project.\nShow a page in Build, then keep it with the button "
                               "above.")
                            if kind == _OWN else tr("No template of this kind and length."))
        self._show_chosen()
        self._soon.start()

    def _chosen_key(self) -> str:
        item = self.list.currentItem()
        return str(item.data(Qt.ItemDataRole.UserRole)) if item else ""

    def choose(self, key: str) -> None:
        """Choose a template by its key."""
        for number in range(self.list.count()):
            item = self.list.item(number)
            if item is not None and item.data(Qt.ItemDataRole.UserRole) == key:
                self.list.setCurrentItem(item)

    def _shown(self, key: str, framed: bool) -> tuple[Site, Page] | None:
        """Return a page to look at, and the site it stands in."""
        template = _template(key)
        site = self._session.site
        if template is not None:
            shown = page_of(template, site, IdSource(_SEED), framed)
            with suppress(OSError):  # It is seen without its drawings; making the page says why.
                keep_made(self._session.folder, shown.files)
            return shown.site, shown.part
        if key not in self._own_pages:
            try:
                package, files = read_package(Path(key))
                keep_made(self._session.folder, files)
            except (PackageError, OSError) as error:
                self._session.said.emit(str(error), True)
                return None
            placed, page_id = unpack_page(site, package)
            page = placed.page(page_id)
            assert page is not None
            self._own_pages[key] = (placed, page)
        return self._own_pages[key]

    # Seeing

    def _take_stills(self) -> None:
        if not self.isVisible():
            self._seen = None
            return
        for number in range(self.list.count()):
            item = self.list.item(number)
            assert item is not None
            key = str(item.data(Qt.ItemDataRole.UserRole))
            shown = self._shown(key, False)
            if shown is not None:
                self._stills.ask(_context(*shown), _DESK_PX, _ICON.width() * 2,
                                 partial(self._show_icon, key), highest=_HIGH_PX)

    def _show_icon(self, key: str, image: QImage) -> None:
        if image.isNull():
            return
        picture = QPixmap.fromImage(image.copy(0, 0, image.width(),
                                               min(image.height(), _ICON.height() * 2)))
        for number in range(self.list.count()):
            item = self.list.item(number)
            if item is not None and item.data(Qt.ItemDataRole.UserRole) == key:
                item.setIcon(picture_icon(picture))

    def _show_chosen(self) -> None:
        key = self._chosen_key()
        template = _template(key)
        shown = self._shown(key, self.framed.isChecked()) if key else None
        for widget in (self._make, self._name):
            widget.setEnabled(shown is not None)
        self._drop.setVisible(bool(key) and template is None)
        for picture in (self._desk, self._phone):
            picture.clear()
        if shown is None:
            self._title.setText("")
            self._note.setText("")
            return
        page = shown[1]
        self._title.setText(template.name if template else Path(key).stem)
        count = len(page.variants[0].children)
        self._note.setText(tr("{kind}, {amount}, {count} sections. {note}",
                              kind=template.kind, amount=template.amount, count=count,
                              note=template.note)
                           if template else tr("Your own, {count} sections.", count=count))
        self._name.show_words(free_name(self._session.site, page.name))
        for shown_in, wide, small in ((self._phone, _PHONE_PX, _PHONE_SHOWN),
                                      (self._desk, _DESK_PX, _DESK_SHOWN)):
            self._stills.ask(_context(*shown), wide, small * 2, partial(
                self._show_large, key, shown_in), at_once=True,
                highest=round(_HIGH_SHOWN * wide / small) + 40)

    def _show_large(self, key: str, shown: Words, image: QImage) -> None:
        if image.isNull() or key != self._chosen_key():
            return
        ratio = image.width() / shown.width()
        pixmap = QPixmap.fromImage(image.copy(
            0, 0, image.width(), min(image.height(), round(_HIGH_SHOWN * ratio))))
        pixmap.setDevicePixelRatio(ratio)
        shown.setPixmap(pixmap)

    # Doing

    def make_page(self) -> None:
        """Make a page of the chosen template and show it."""
        key, name = self._chosen_key(), self._name.text().strip()
        template = _template(key)
        if not key:
            return
        session, made = self._session, ""
        framed = self.framed.isChecked()

        def how(site: Site) -> Site:
            nonlocal made
            if template is not None:
                arrived = page_of(template, site, new_id, framed)
                keep_made(session.folder, arrived.files)
                site, page = arrived.site, arrived.part
            else:
                site, page_id = take_package(site, session.folder, Path(key))
                found = site.page(page_id)
                assert found is not None
                page, site = found, _without(site, page_id)
                if framed:
                    page = _framed(site, page)
            site, made = add_whole_page(site, page, name)
            return site

        try:
            fine = session.edit(tr("page from template"), how)
        except PackageError as error:
            session.said.emit(str(error), True)
            return
        except OSError as error:
            session.said.emit(tr("The pictures of this page cannot be written: {strerror}. Make "
                                 "room on the disk and try again.",
                                 strerror=error.strerror), True)
            return
        if fine:
            session.show_page(made)
            session.said.emit(tr("“{name}” is there. Words with a dotted line are placeholders; "
                                 "F9 goes through them.",
                                 name=name), False)
            self.made.emit()

    def keep_page(self) -> None:
        """Keep the page that is shown as a template for every project."""
        page = self._session.page
        path = templates_folder() / f"{_file_name(page.name)}.zip"
        if path.exists() and not agreed(
                self, tr("Templates"), tr("There is a template “{stem}” already. Replace it?",
                                      stem=path.stem),
                tr("Replace it"), tr("Keep the one there is")):
            return
        try:
            path.parent.mkdir(parents=True, exist_ok=True)
            write_package(self._session.site, self._session.folder, page.id, path)
        except (PackageError, OSError) as error:
            self._session.said.emit(str(error), True)
            return
        self._own_pages.pop(str(path), None)
        self.kinds.setCurrentRow(self.kinds.count() - 1)
        self._fill()
        self._session.said.emit(tr("“{name}” is kept as a template for every project.",
                                   name=page.name), False)

    def _drop_own(self) -> None:
        key = self._chosen_key()
        if key and _template(key) is None:
            Path(key).unlink(missing_ok=True)
            self._own_pages.pop(key, None)
            self._fill()

    def _ask_export(self) -> None:
        page = self._session.page
        path, _ = QFileDialog.getSaveFileName(self, tr("Export the page"),
                                              f"{_file_name(page.name)}.zip", PACKAGES)
        if path:
            self.export_page(Path(path))

    def export_page(self, path: Path) -> None:
        """Write the page that is shown as a package."""
        try:
            write_package(self._session.site, self._session.folder, self._session.page.id, path)
        except PackageError as error:
            self._session.said.emit(str(error), True)
        else:
            self._session.said.emit(tr("“{name}” is in {path}.",
                                       name=self._session.page.name, path=path), False)

    def ask_package(self) -> None:
        """Ask for a page package and take its page in."""
        path, _ = QFileDialog.getOpenFileName(self, tr("Open a page package"), "", PACKAGES)
        if path:
            self.open_package(Path(path))

    def open_package(self, path: Path) -> None:
        """Take the page of a package into the site."""
        session, made = self._session, ""

        def how(site: Site) -> Site:
            nonlocal made
            changed, made = take_package(site, session.folder, path)
            return changed

        try:
            fine = session.edit(tr("page from package"), how)
        except (PackageError, EditError) as error:
            session.said.emit(str(error), True)
            return
        if fine:
            session.show_page(made)
            session.said.emit(tr("The page of “{name}” is there.", name=path.name), False)
            self.made.emit()


def _template(key: str) -> Template | None:
    return next((template for template in TEMPLATES if template.key == key), None)


def _context(site: Site, page: Page) -> Context:
    page = seen(site, page)
    return Context(site, page, page.variants[0], "edit", EditPictures(), "/walk/")


def _without(site: Site, page_id: str) -> Site:
    return msgspec.structs.replace(site, pages=tuple(
        page for page in site.pages if page.id != page_id))


def _framed(site: Site, page: Page) -> Page:
    variant = page.variants[0]
    middle = [section for section in variant.children if section.role == "section"]
    return msgspec.structs.replace(page, variants=(msgspec.structs.replace(
        variant, children=tuple(framed_by(site, middle, new_id))),))


def _file_name(name: str) -> str:
    return "".join(sign if sign.isalnum() or sign in " -_" else "-" for sign in name).strip()
