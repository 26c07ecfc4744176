"""Earlier versions: when, what was done, how it looked before and after; bringing one back."""

from datetime import datetime

import msgspec
from PyQt6.QtCore import QAbstractListModel, QModelIndex, Qt
from PyQt6.QtGui import QImage, QPixmap
from PyQt6.QtWidgets import (
    QDialog,
    QHBoxLayout,
    QInputDialog,
    QLineEdit,
    QListView,
    QPushButton,
    QScrollBar,
    QVBoxLayout,
    QWidget,
)

from needle.core.render.context import Context
from needle.core.site.site import Page, Site
from needle.core.values.ids import Id
from needle.store.media import EditPictures
from needle.store.versions import Version, Versions, VersionsError
from needle.ui.builder.stills import Stills
from needle.ui.cards import scrolled
from needle.ui.language import tr
from needle.ui.session import Session
from needle.ui.timers import once
from needle.ui.words import Words, plain_tip

__all__ = ["VersionsDialog", "first_difference"]

_BATCH = 200
_PAGE_PX = 1280
_PICTURE_PX = 330


class _Model(QAbstractListModel):
    """The versions, newest first, read in batches as the list is scrolled."""

    def __init__(self, versions: Versions) -> None:
        super().__init__()
        self._versions = versions
        self._search = ""
        self._rows: list[Version] = []
        self._more = True
        self.search("")

    def search(self, words: str) -> None:
        """Show the versions that hold these words."""
        self.beginResetModel()
        self._search = words
        self._rows = list(self._versions.listed(_BATCH, 0, words))
        self._more = len(self._rows) == _BATCH
        self.endResetModel()

    def version(self, row: int) -> Version | None:
        """Return the version in a row."""
        return self._rows[row] if 0 <= row < len(self._rows) else None

    # Qt

    def rowCount(self, parent: QModelIndex = QModelIndex()) -> int:
        return 0 if parent.isValid() else len(self._rows)

    def canFetchMore(self, parent: QModelIndex) -> bool:
        return self._more

    def fetchMore(self, parent: QModelIndex) -> None:
        more = list(self._versions.listed(_BATCH, len(self._rows), self._search))
        self._more = len(more) == _BATCH
        if more:
            first = len(self._rows)
            self.beginInsertRows(QModelIndex(), first, first + len(more) - 1)
            self._rows.extend(more)
            self.endInsertRows()

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        version = self.version(index.row())
        if version is None or role not in (Qt.ItemDataRole.DisplayRole,
                                           Qt.ItemDataRole.AccessibleTextRole,
                                           Qt.ItemDataRole.ToolTipRole):
            return None
        name = f"“{version.name}”  " if version.name else ""
        words = f"{_when(version)}   {name}{version.words}\n{version.page}"
        return plain_tip(words) if role == Qt.ItemDataRole.ToolTipRole else words


def _when(version: Version) -> str:
    at = datetime.fromtimestamp(version.at_ms / 1000)
    return f"{at:%H:%M}" if at.date() == datetime.now().date() else f"{at:%d %b %H:%M}"


class VersionsDialog(QDialog):
    """The list at the left, the page before and after at the right."""

    def __init__(self, session: Session, stills: Stills, parent: QWidget) -> None:
        """Open the list.

        Raises:
            VersionsError: It cannot be read.
        """
        super().__init__(parent)
        self.setWindowTitle(tr("Earlier versions"))
        self._session = session
        self._stills = stills
        self._versions = Versions(session.folder)
        self._model = _Model(self._versions)
        self.line = QLineEdit()
        self.line.setPlaceholderText(tr("Find a version: a page, an item, a name you gave…"))
        self.line.setAccessibleName(tr("Find a version"))
        self.list = QListView()
        self.list.setModel(self._model)
        self.list.setUniformItemSizes(True)
        self.list.setAccessibleName(tr("Versions"))
        self.before, self.after = Words(), Words()
        self._words = Words()
        self._words.setWordWrap(True)
        self.back = QPushButton(tr("Bring this version back"))
        self.back.setProperty("role", "main")
        self._name = QPushButton(tr("Name it…"))
        self._bars: list[QScrollBar] = []
        self._taken: dict[Words, QImage] = {}
        self._shown: Version | None = None
        self._row = 0
        self._count = Words()
        self._count.setProperty("role", "dim")
        self._lay_out()
        self.resize(1080, 640)
        # Moving through the list with the keys takes no picture of each in passing.
        self._soon = once(self, 180)
        self._soon.timeout.connect(self._show_pictures)
        self._scroll_soon = once(self, 30)
        self._scroll_soon.timeout.connect(self._scroll)
        selection = self.list.selectionModel()
        assert selection is not None
        selection.currentChanged.connect(lambda *_: self._show())
        self.line.textChanged.connect(self._search)
        self.back.clicked.connect(lambda: self._bring_back())
        self._name.clicked.connect(lambda: self._give_name())
        self._search("")

    def _lay_out(self) -> None:
        pictures = QHBoxLayout()
        for words, picture in ((tr("Before"), self.before), (tr("After"), self.after)):
            picture.setAlignment(Qt.AlignmentFlag.AlignTop)
            picture.setAccessibleName(tr("The page {words} this change", words=words.lower()))
            side = QVBoxLayout()
            title = Words(words)
            title.setProperty("role", "title")
            side.addWidget(title)
            area = scrolled(picture)
            area.setFixedWidth(_PICTURE_PX + 8)
            area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
            bar = area.verticalScrollBar()
            assert bar is not None
            self._bars.append(bar)
            side.addWidget(area, 1)
            pictures.addLayout(side)
        self._bars[0].valueChanged.connect(self._bars[1].setValue)
        self._bars[1].valueChanged.connect(self._bars[0].setValue)
        buttons = QHBoxLayout()
        buttons.addWidget(self._name)
        buttons.addStretch()
        buttons.addWidget(self.back)
        right = QVBoxLayout()
        right.addWidget(self._words)
        right.addLayout(pictures, 1)
        right.addLayout(buttons)
        left = QVBoxLayout()
        left.addWidget(self.line)
        left.addWidget(self.list, 1)
        left.addWidget(self._count)
        row = QHBoxLayout(self)
        row.addLayout(left, 1)
        row.addLayout(right)

    def _search(self, words: str) -> None:
        self._model.search(words.strip())
        rows, every = self._model.rowCount(), self._versions.count()
        self._count.setText(
            tr("{every:,} versions are kept",
               every=every) if rows else (
                tr("No version yet: one is kept at every change.") if not every
                else tr("No version holds “{words}”.", words=words)))
        if rows:
            self.list.setCurrentIndex(self._model.index(0))
        self._show()

    def _version(self) -> Version | None:
        return self._model.version(self.list.currentIndex().row())

    def _show(self) -> None:
        version = self._version()
        self.back.setEnabled(version is not None)
        self._name.setEnabled(version is not None)
        self._words.setText(f"{_when(version)}: {version.words} ({version.page})"
                            if version else "")
        self._stills.forget()
        self._shown = version
        self._taken.clear()
        for picture in (self.before, self.after):
            picture.clear()
        self._soon.start()

    def _show_pictures(self) -> None:
        version = self._version()
        if version is None:
            return
        try:
            self._picture(self._versions.site(version.id), version, self.after)
            if earlier := self._versions.before(version.id):
                self._picture(self._versions.site(earlier), version, self.before)
            else:
                self.before.setText(tr("This is the first version."))
        except VersionsError as error:
            self._words.setText(str(error))

    def _picture(self, site: Site, version: Version, label: Words) -> None:
        page = site.page(version.page_id)
        if page is None:
            label.setText(tr("The page was not there."))
            return
        context = Context(site, page, page.variants[0], "edit", EditPictures(), "/walk/")

        def show(image: QImage) -> None:
            if self._shown is not version:
                return  # Another one has been chosen meanwhile.
            if image.isNull():
                label.setText(tr("No picture could be taken."))
                return
            pixmap = QPixmap.fromImage(image)
            pixmap.setDevicePixelRatio(2)
            label.setPixmap(pixmap)
            self._taken[label] = image
            if len(self._taken) == 2:
                self._show_change()

        self._stills.ask(context, _PAGE_PX, _PICTURE_PX * 2, show)

    def _show_change(self) -> None:
        """Scroll both pictures to where they begin to differ."""
        self._row = first_difference(self._taken[self.before], self._taken[self.after])
        # Only once the labels have grown to their pictures can they be scrolled so far.
        self._scroll_soon.start()

    def _scroll(self) -> None:
        for bar in self._bars:
            bar.setValue(max(0, self._row // 2 - 120))

    def _bring_back(self) -> None:
        version = self._version()
        if version is None:
            return
        try:
            site = self._versions.site(version.id)
        except VersionsError as error:
            self._words.setText(str(error))
            return
        self._session.edit(tr("bring back {when}", when=_when(version)), lambda now: _at(site, now))
        self.accept()

    def _give_name(self) -> None:
        version = self._version()
        if version is None:
            return
        name, taken = QInputDialog.getText(self, tr("Name this version"), tr("Name"),
                                           text=version.name)
        if taken:
            self._versions.rename(version.id, name)
            self._search(self.line.text())

    # Qt

    def done(self, result: int) -> None:
        self._shown = None
        self._stills.forget()
        self._soon.stop()
        self._versions.close()
        super().done(result)


def first_difference(one: QImage, other: QImage) -> int:
    """Return the first row of pixels in which two pictures differ, or 0 if they are the same."""
    left, right = (image.convertToFormat(QImage.Format.Format_RGB32) for image in (one, other))
    for row in range(min(left.height(), right.height())):
        width = min(left.bytesPerLine(), right.bytesPerLine())
        first, second = left.constScanLine(row), right.constScanLine(row)
        if first is None or second is None:
            break
        if first.asstring(width) != second.asstring(width):
            return row
    return 0 if one.height() == other.height() else min(one.height(), other.height())


def _at(site: Site, now: Site) -> Site:
    """Return the earlier site; pages that are the same stay the very objects, and media stay."""
    same: dict[Id, Page] = {page.id: page for page in now.pages}
    pages = tuple(same[p.id] if same.get(p.id) == p else p for p in site.pages)
    known = {medium.id for medium in site.media}
    media = (*site.media, *(medium for medium in now.media if medium.id not in known))
    return msgspec.structs.replace(site, pages=pages, media=now.media if media == now.media
                                   else media)
