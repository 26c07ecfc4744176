"""Pictures and files: everything that pages show or hand out."""

from collections.abc import Callable
from functools import partial
from pathlib import Path

from PyQt6.QtCore import QSize, Qt, QUrl
from PyQt6.QtGui import (
    QDragEnterEvent,
    QDropEvent,
    QIcon,
    QImageReader,
    QKeySequence,
    QPainter,
    QPixmap,
    QShortcut,
)
from PyQt6.QtWidgets import (
    QApplication,
    QFileDialog,
    QHBoxLayout,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QVBoxLayout,
    QWidget,
)

from needle.core.edit.media import (
    add_medium,
    delete_media,
    media_uses,
    replace_medium,
    set_medium,
    unused_media,
)
from needle.core.films.filmfile import FilmError
from needle.core.images.picturefile import PictureError
from needle.core.images.sizes import visitor_weights
from needle.core.site.site import Cut, Medium, Site
from needle.store.media import (
    FILE_ENDINGS,
    import_file,
    import_film,
    import_picture,
    keep_cut,
    keep_picture,
)
from needle.ui.brief.cutting import CutDialog
from needle.ui.brief.drawings import vector_pixmap
from needle.ui.brief.focal import FocalPicture
from needle.ui.cards import (
    FILM_ENDINGS,
    button,
    label,
    panel,
    pasted_picture,
    picture_grid,
    picture_icon,
    repaint_role,
)
from needle.ui.editors import Segments, WordsEdit
from needle.ui.language import tr
from needle.ui.session import Session
from needle.ui.waiting import Stopped, done_apart, one_apart
from needle.ui.words import agreed

__all__ = ["MediaPart"]

_ICON = QSize(148, 96)
_HEAVY = 1_000_000
_FILTER = (tr("Pictures, videos and files (*.png *.jpg *.jpeg *.webp *.gif *.svg *.mp4 *.m4v "
              "*.webm ")
           + " ".join(f"*{ending}" for ending in FILE_ENDINGS) + ")")
_SHOWS = {"all": tr("All"), "pictures": tr("Pictures"), "videos": tr("Videos"),
          "files": tr("Files"),
          "unused": tr("Unused")}


class MediaPart(QWidget):
    """The media of the site: taking in, cutting, replacing, finding the unused."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._shows = "all"
        self._icons: dict[str, QIcon] = {}
        self._weights: dict[str, dict[int, int]] = {}
        self.setAcceptDrops(True)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        row.addWidget(self._work(), 1)
        row.addWidget(self._side())
        paste = QShortcut(QKeySequence.StandardKey.Paste, self.list)
        paste.setContext(Qt.ShortcutContext.WidgetShortcut)
        paste.activated.connect(self.paste)
        delete = QShortcut(QKeySequence.StandardKey.Delete, self.list)
        delete.setContext(Qt.ShortcutContext.WidgetShortcut)
        delete.activated.connect(self.delete_chosen)

    def _work(self) -> QWidget:
        work = panel("work")
        column = QVBoxLayout(work)
        column.setContentsMargins(16, 12, 16, 12)
        line = QHBoxLayout()
        self._filter = Segments(tr("Show"), _SHOWS)
        self._filter.chosen.connect(lambda key: self._show_only(str(key)))
        self._find = QLineEdit()
        self._find.setPlaceholderText(tr("Find by name or words"))
        self._find.setAccessibleName(tr("Find a picture or file"))
        self._find.setFixedWidth(190)
        self._find.setClearButtonEnabled(True)
        self._find.textChanged.connect(lambda _: self._fill())
        line.addWidget(self._filter)
        line.addWidget(self._find)
        line.addStretch()
        line.addWidget(button(tr("Paste"), self.paste))
        line.addWidget(button(tr("Add…"), self._ask, main=True))
        self.list = picture_grid(tr("Pictures and files"), _ICON)
        self.list.setSelectionMode(QListWidget.SelectionMode.ExtendedSelection)
        self.list.currentItemChanged.connect(lambda *_: self._show_chosen())
        self._empty = label("", wrap=True)
        self._empty.setAlignment(Qt.AlignmentFlag.AlignCenter)
        column.addLayout(line)
        column.addWidget(self.list, 1)
        column.addWidget(self._empty, 1)
        return work

    def _side(self) -> QWidget:
        side = panel("side", 330)
        column = QVBoxLayout(side)
        column.setContentsMargins(16, 12, 16, 12)
        column.setSpacing(5)
        self._picture = FocalPicture(298, 190)
        self._picture.moved.connect(self._set_focus)
        self._name = label("", "title", wrap=True)
        self._facts = label("", "small", wrap=True)
        self._alt = WordsEdit(tr("What it shows"))
        self._alt.setPlaceholderText(tr("What it shows, for those who cannot see it"))
        self._alt.kept.connect(lambda words: self._set(tr("alt text"), alt=words.strip()))
        self._focus_note = label("", "small", wrap=True)
        self._downloads = label("", "small", wrap=True)
        self._uses = label("", "small", wrap=True)
        self._cut = button(tr("Crop and turn…"), self.cut_chosen)
        self._replace = button(tr("Replace…"), self._ask_replacement)
        self._delete = button(tr("Remove"), self.delete_chosen)
        line = QHBoxLayout()
        for widget in (self._cut, self._replace, self._delete):
            line.addWidget(widget)
        column.addWidget(self._picture)
        column.addWidget(self._focus_note)
        column.addWidget(self._name)
        column.addWidget(self._facts)
        column.addWidget(self._alt)
        column.addLayout(line)
        column.addSpacing(6)
        column.addWidget(label(tr("What a visitor downloads"), "title"))
        column.addWidget(self._downloads)
        column.addSpacing(4)
        column.addWidget(label(tr("Used on"), "title"))
        column.addWidget(self._uses)
        column.addStretch()
        return side

    # Taking in

    def _ask(self) -> None:
        paths, _ = QFileDialog.getOpenFileNames(self, tr("Add pictures and files"), "", _FILTER)
        self.add_files([Path(path) for path in paths])

    def add_files(self, paths: list[Path]) -> None:
        """Take files into the site, each as what it is."""
        media: list[Medium] = []
        faults = []
        for taken in done_apart(self, tr("Taking files in…"),
                                [partial(self._taken, path) for path in paths]):
            if isinstance(taken, PictureError | FilmError | Stopped):
                faults.append(str(taken))
            elif isinstance(taken, Exception):
                raise taken
            else:
                media.extend(taken)
        self._add(media)
        if faults:
            more = tr(" And {count} more could not be used.",
                      count=len(faults) - 1) if len(faults) > 1 else ""
            self._session.said.emit(faults[0] + more, True)

    def _taken(self, path: Path) -> tuple[Medium, ...]:
        ending = path.suffix.lower()
        if ending in FILM_ENDINGS:
            return import_film(self._session.folder, path)
        if ending in FILE_ENDINGS:
            return (import_file(self._session.folder, path),)
        return (import_picture(self._session.folder, path),)

    def _add(self, media: list[Medium]) -> None:
        known = {medium.file: medium.id for medium in self._session.site.media}
        fresh = [medium for medium in media if medium.file not in known]
        for medium in media:
            if medium.file in known:
                self._session.said.emit(tr("“{name}” is already here.", name=medium.name), False)
                self._choose(known[medium.file])

        def add_all(site: Site) -> Site:
            for medium in fresh:
                site = add_medium(site, medium)
            return site

        if fresh:
            self._session.edit(tr("add pictures") if len(fresh) > 1 else tr("add picture"), add_all)
            self.refresh()
            self._choose(fresh[-1].id)
            heavy = [medium.name for medium in fresh if medium.weight > 8 * _HEAVY]
            if heavy:
                self._session.said.emit(tr("“{heavy}” is large; visitors get smaller sizes of it.",
                                           heavy=heavy[0]), False)

    def paste(self) -> None:
        """Take in the picture or the files on the clipboard."""
        clipboard = QApplication.clipboard()
        data = clipboard.mimeData() if clipboard else None
        paths = [Path(url.toLocalFile()) for url in data.urls()] if data and data.hasUrls() else []
        if paths:
            self.add_files(paths)
            return
        picture = pasted_picture()
        if not picture:
            self._session.said.emit(tr("There is no picture on the clipboard."), True)
            return
        try:
            medium = one_apart(self, tr("Taking the picture in…"), lambda: keep_picture(
                self._session.folder, picture, "Pasted.png"))
        except (PictureError, Stopped) as error:
            self._session.said.emit(str(error), True)
        else:
            self._add([medium])

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        data = event.mimeData() if event else None
        if event is not None and data is not None and data.hasUrls():
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent | None) -> None:
        data = event.mimeData() if event else None
        if data is not None:
            self.add_files([Path(QUrl(url).toLocalFile()) for url in data.urls()])

    # What is done with one

    def chosen(self) -> Medium | None:
        """Return the medium that is shown at the right."""
        item = self.list.currentItem()
        return self._session.site.medium(str(item.data(Qt.ItemDataRole.UserRole))) if item else None

    def _choose(self, medium_id: str) -> None:
        for number in range(self.list.count()):
            item = self.list.item(number)
            if item is not None and item.data(Qt.ItemDataRole.UserRole) == medium_id:
                self.list.setCurrentItem(item)

    def _set(self, words: str, **fields: object) -> None:
        medium = self.chosen()
        if medium is not None:
            self._session.edit(words, lambda site: set_medium(site, medium.id, **fields))

    def _set_focus(self, across: int, down: int) -> None:
        self._set(tr("focal point"), focus_x=across, focus_y=down)

    def cut_chosen(self) -> None:
        """Crop, turn and resize the chosen picture."""
        medium = self.chosen()
        if medium is None or not medium.is_picture or medium.is_vector:
            self._session.said.emit(tr("Choose a picture of pixels to cut."), True)
            return
        source = self._session.folder / "media" / (medium.original or medium.file)
        self.cutting = CutDialog(source, medium.cut, self)
        if self.cutting.exec():
            self.cut(medium, self.cutting.cut())

    def cut(self, medium: Medium, cut: Cut) -> None:
        """Show another part of a picture everywhere it is used."""
        try:
            changed = keep_cut(self._session.folder, medium, cut)
        except PictureError as error:
            self._session.said.emit(str(error), True)
            return
        self._session.edit(tr("cut picture"), lambda site: set_medium(
            site, medium.id, **{name: getattr(changed, name) for name in (
                "file", "width", "height", "weight", "cut", "original")}))

    def _ask_replacement(self) -> None:
        path, _ = QFileDialog.getOpenFileName(self, tr("Replace everywhere"), "", _FILTER)
        if path:
            self.replace(Path(path))

    def replace(self, path: Path) -> None:
        """Put another file in the place of the chosen one, wherever it is used."""
        medium = self.chosen()
        if medium is None:
            return
        try:
            other = one_apart(self, tr("Taking the file in…"), lambda: self._taken(path))[0]
        except (PictureError, FilmError, Stopped) as error:
            self._session.said.emit(str(error), True)
            return
        places = media_uses(self._session.site)[medium.id]
        if self._session.edit(tr("replace picture"),
                              lambda site: replace_medium(site, medium.id, other)):
            count = "1 place" if len(places) == 1 else f"{len(places)} places"
            self._session.said.emit(tr("“{name}” is shown in its place, in {count}.",
                                       name=path.name, count=count), False)

    def delete_chosen(self) -> None:
        """Remove the chosen ones, after a question if pages show them."""
        ids = [str(item.data(Qt.ItemDataRole.UserRole)) for item in self.list.selectedItems()]
        uses = media_uses(self._session.site)
        used = [medium for medium in ids if uses.get(medium)]
        if used:
            places = ", ".join(dict.fromkeys(place for medium in used for place in uses[medium]))
            if not agreed(self, tr("Remove"), tr("It is shown on {places}. Remove it all the same?",
                                             places=places),
                          tr("Remove it"), tr("Keep it")):
                return
        if ids:
            self._session.edit(tr("remove picture"), lambda site: delete_media(site, ids))
            self.refresh()

    # Showing

    def _show_only(self, key: str) -> None:
        self._shows = key
        self._fill()

    def refresh(self) -> None:
        """Show the media as they are now."""
        self._filter.show_values([self._shows])
        unused = len(unused_media(self._session.site))
        self._filter.show_words("unused",
                                tr("Unused {unused}", unused=unused) if unused else tr("Unused"))
        self._fill()

    def _wanted(self) -> list[Medium]:
        site, words = self._session.site, self._find.text().casefold().strip()
        unused = set(unused_media(site)) if self._shows == "unused" else set()
        ways: dict[str, Callable[[Medium], bool]] = {
            "all": lambda m: True, "pictures": lambda m: m.is_picture,
            "videos": lambda m: m.is_video, "unused": lambda m: m.id in unused,
            "files": lambda m: not m.is_picture and not m.is_video}
        fits = ways[self._shows]
        return [m for m in site.media
                if fits(m) and words in f"{m.name} {m.alt}".casefold()]

    def _fill(self) -> None:
        media, kept = self._wanted(), self.chosen()
        shown = [(m.id, m.file, m.name) for m in media]
        if shown != getattr(self, "_shown", None):
            self._shown = shown
            self.list.blockSignals(True)
            self.list.clear()
            for medium in media:
                item = QListWidgetItem(self._icon(medium), medium.name)
                item.setData(Qt.ItemDataRole.UserRole, medium.id)
                self.list.addItem(item)
            self.list.blockSignals(False)
            if kept is not None:
                self._choose(kept.id)
            if self.list.currentItem() is None and self.list.count():
                self.list.setCurrentRow(0)
        self.list.setVisible(bool(media))
        self._empty.setVisible(not media)
        self._empty.setText(
            tr("Nothing here is unused.") if self._shows == "unused" else
            tr("Nothing fits.") if self._session.site.media else
            tr("Pictures, videos and files of the site stand here.\nDrop some, paste one, or add "
               "them with the button above."))
        self._show_chosen()

    def _icon(self, medium: Medium) -> QIcon:
        if medium.file not in self._icons:
            path = self._session.folder / "media" / medium.file
            wide, high = _ICON.width() * 2, _ICON.height() * 2
            if medium.is_vector:
                pixmap = vector_pixmap(path.read_bytes() if path.exists() else b"", wide, high)
            elif medium.is_picture:
                reader = QImageReader(str(path))
                size = reader.size()
                size.scale(wide, high, Qt.AspectRatioMode.KeepAspectRatio)
                reader.setScaledSize(size)
                pixmap = _in_the_middle(QPixmap.fromImage(reader.read()), wide, high)
            else:
                words = "video" if medium.is_video else medium.file.rpartition(".")[2].upper()
                made = label(words, "title")
                made.setAlignment(Qt.AlignmentFlag.AlignCenter)
                made.setFixedSize(_ICON)
                pixmap = made.grab()
            self._icons[medium.file] = picture_icon(pixmap)
        return self._icons[medium.file]

    def _show_chosen(self) -> None:
        medium = self.chosen()
        for widget in (self._alt, self._replace, self._delete):
            widget.setEnabled(medium is not None)
        pixels = medium is not None and medium.is_picture and not medium.is_vector
        self._cut.setEnabled(pixels)
        self._picture.setVisible(medium is not None and medium.is_picture)
        if medium is None:
            for words in (self._name, self._facts, self._focus_note, self._downloads, self._uses):
                words.setText("")
            return
        self._name.setText(medium.name)
        self._alt.show_words(medium.alt)
        self._facts.setText(_facts(medium))
        repaint_role(self._facts, "unsure" if medium.invented else "small")
        if medium.is_picture:
            self._show_focus(medium)
        self._focus_note.setText(
            tr("Click the point that stays in sight where it is cut to fit.") if medium.is_picture
            else "")
        self._downloads.setText(self._download_words(medium))
        places = media_uses(self._session.site)[medium.id]
        self._uses.setText("\n".join(places) or tr("nothing yet"))

    def _show_focus(self, medium: Medium) -> None:
        path = self._session.folder / "media" / medium.file
        size = QSize(medium.width, medium.height)
        size.scale(596, 380, Qt.AspectRatioMode.KeepAspectRatio)
        if medium.is_vector:
            pixmap = vector_pixmap(path.read_bytes() if path.exists() else b"", size.width(),
                                   size.height())
        else:
            reader = QImageReader(str(path))
            reader.setScaledSize(size)
            pixmap = QPixmap.fromImage(reader.read())
        self._picture.show_picture(pixmap, medium.focus_x, medium.focus_y)

    def _download_words(self, medium: Medium) -> str:
        if not medium.is_picture or medium.is_vector:
            return f"{medium.weight / 1000:,.0f} kB" + (
                tr(", the same at every width") if medium.is_vector else "")
        if medium.file not in self._weights:
            try:
                data = (self._session.folder / "media" / medium.file).read_bytes()
                self._weights[medium.file] = visitor_weights(data, medium.width)
            except (OSError, ValueError):
                return tr("Its file is missing or damaged. Replace it.")
        return "  ·  ".join(tr("{width} px {weight:,.0f} kB", width=width, weight=weight / 1000)
                            for width, weight in self._weights[medium.file].items())


def _in_the_middle(pixmap: QPixmap, wide: int, high: int) -> QPixmap:
    """Return a picture on a clear ground, so that all stand in line."""
    ground = QPixmap(wide, high)
    ground.fill(Qt.GlobalColor.transparent)
    painter = QPainter(ground)
    painter.drawPixmap((wide - pixmap.width()) // 2, (high - pixmap.height()) // 2, pixmap)
    painter.end()
    return ground


def _facts(medium: Medium) -> str:
    parts = [f"{medium.width} × {medium.height} px"] if medium.width else []
    parts.append(f"{medium.weight / 1000:,.0f} kB")
    if medium.is_video:
        parts.append(f"{medium.seconds:.0f} s")
    if medium.original:
        parts.append("cut")
    if medium.invented:
        parts.append(tr("stands in for a picture to come"))
    return "  ·  ".join(parts)
