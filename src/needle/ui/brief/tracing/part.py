"""From a picture: the board with its tools, what they measured, and what was read."""

from pathlib import Path

import msgspec
import numpy as np
from PIL import Image
from PyQt6.QtCore import (
    QBuffer,
    QIODevice,
    QPointF,
    QSize,
    Qt,
    QThreadPool,
    QUrl,
    pyqtSignal,
)
from PyQt6.QtGui import QColor, QDragEnterEvent, QDropEvent, QImage, QPainter, QPixmap
from PyQt6.QtPdf import QPdfDocument
from PyQt6.QtWidgets import (
    QApplication,
    QCheckBox,
    QFileDialog,
    QHBoxLayout,
    QInputDialog,
    QListWidget,
    QListWidgetItem,
    QProgressBar,
    QSlider,
    QVBoxLayout,
    QWidget,
)

from needle.core.edit.brand import set_swatch
from needle.core.edit.media import add_medium
from needle.core.edit.pages import add_whole_page, free_name
from needle.core.images.picturefile import PictureError
from needle.core.seeing.building import build_sections
from needle.core.seeing.measuring import area_colour, letter_size, nearest_colour, snapped
from needle.core.seeing.shapes import Found, Rect
from needle.core.site.site import Medium, Page, Site, Variant
from needle.core.values.ids import Id, new_id
from needle.store.media import keep_picture
from needle.store.originals import Pinned, pin, pinned, set_css_width, unpin
from needle.ui.brief.tracing.structure import Reader, Reading, Taking, band_words
from needle.ui.brief.tracing.view import BoardArea, Measured, Tool
from needle.ui.builder.stills import Stills
from needle.ui.cards import button, label, panel, pasted_picture
from needle.ui.editors import ChoiceEdit, NumberEdit, Segments
from needle.ui.session import Session
from needle.ui.timers import once
from needle.ui.waiting import Stopped, one_apart
from needle.ui.words import Words, set_tip

__all__ = ["BoardPart"]

_FILTER = "Pictures and PDF (*.png *.jpg *.jpeg *.webp *.pdf)"
_TOOLS = {Tool.CHOOSE: "Choose  V", Tool.DROPPER: "Dropper  I", Tool.RULER: "Ruler  R",
          Tool.LETTER: "Letter  T", Tool.LAY: "Page over it  O"}
_HINTS = {
    Tool.CHOOSE: "A click leaves a frame out or takes it again.",
    Tool.DROPPER: "Click a colour, or drag over an area to average it.",
    Tool.RULER: "Drag along what you measure; the ends stick to edges. Arrow keys move the end.",
    Tool.LETTER: "Drag a frame around one capital letter to measure its type.",
    Tool.LAY: "Drag the page, or move it with the arrow keys, until both lie on each other."}
_DROP = 2
_SEEN_DIFFERENCE = 26
_PDF_PX = 2560
_SOON_MS = 400


class BoardPart(QWidget):
    """Pictures to work from, with tools to measure, compare and read them.

    Signals:
        made: Sections were made and their page is shown.
    """

    made = pyqtSignal()

    def __init__(self, session: Session, stills: Stills) -> None:
        super().__init__()
        self._session = session
        self._stills = stills
        self._one: Pinned | None = None
        self._pixels = np.zeros((1, 1, 3), np.uint8)
        self._taking: Taking | None = None
        self._reading: Reading | None = None
        self._page = QImage()
        self._shift = QPointF(0, 0)
        self.setAcceptDrops(True)
        self._soon = once(self, _SOON_MS)
        self._soon.timeout.connect(self.refresh)
        session.changed.connect(lambda _: self._soon.start())
        session.turned.connect(self._soon.start)
        self.area = BoardArea()
        self.area.canvas.measured.connect(self._measure)
        self.area.canvas.picked.connect(self._toggle)
        self.area.canvas.shifted.connect(self._move_page)
        self.area.tool_asked.connect(self.take_tool)
        work = panel("work")
        column = QVBoxLayout(work)
        column.setContentsMargins(14, 10, 14, 10)
        column.addLayout(self._upper())
        column.addLayout(self._lower())
        column.addWidget(self.area, 1)
        self._empty = label("Pin a picture here: a drawn prototype, a screenshot, a page of a PDF."
                            "\nDrop it, paste it, or choose a file.", wrap=True)
        self._empty.setAlignment(Qt.AlignmentFlag.AlignCenter)
        column.addWidget(self._empty, 1)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        row.addWidget(work, 1)
        row.addWidget(self._side())
        self._show_list("")

    # Laying out

    def _upper(self) -> QHBoxLayout:
        line = QHBoxLayout()
        self._choice = ChoiceEdit("Picture", {}, inherit=False)
        self._choice.setMinimumWidth(120)
        self._choice.chosen.connect(lambda file: self._show(str(file)))
        self._wide = NumberEdit("Width of the page in the picture", 100, 6000, 10, "px")
        self._wide.setFixedWidth(60)
        self._wide.chosen.connect(self._set_width)
        self._scale = label("", "mono")
        line.addWidget(self._choice)
        line.addWidget(button("Pin…", self._ask))
        line.addWidget(button("Paste", self.paste))
        line.addWidget(button("Unpin", self._unpin))
        line.addSpacing(10)
        line.addWidget(label("page is", "dim"))
        line.addWidget(self._wide)
        line.addWidget(label("px wide", "dim"))
        line.addWidget(self._scale)
        line.addStretch()
        line.addWidget(button("−", lambda: self.area.zoom_by(-1)))
        line.addWidget(button("Fit", self.area.fit))
        line.addWidget(button("+", lambda: self.area.zoom_by(1)))
        return line

    def _lower(self) -> QHBoxLayout:
        line = QHBoxLayout()
        self._tools = Segments("Tool", _TOOLS)
        self._tools.chosen.connect(self.take_tool)
        self._strength = QSlider(Qt.Orientation.Horizontal)
        self._strength.setRange(0, 100)
        self._strength.setValue(50)
        self._strength.setFixedWidth(110)
        self._strength.setAccessibleName("How solid the page over the picture is, in percent")
        self._strength.valueChanged.connect(lambda _: self._show_page())
        self._differs = QCheckBox("difference")
        self._differs.toggled.connect(lambda _: self._show_page())
        line.addWidget(self._tools)
        line.addWidget(self._strength)
        line.addWidget(self._differs)
        line.addStretch()
        return line

    def _side(self) -> QWidget:
        side = panel("side", 280)
        column = QVBoxLayout(side)
        column.setContentsMargins(16, 12, 16, 12)
        column.setSpacing(5)
        column.addWidget(label("Measured", "title"))
        self._chip = Words()
        self._chip.setFixedHeight(26)
        self._told = label("", "big", wrap=True)
        self._more = label("", "small", wrap=True)
        self._use = button("Take as the main colour", self._use_colour)
        self._copy = button("Copy", self._copy_measured)
        line = QHBoxLayout()
        line.addWidget(self._copy)
        line.addWidget(self._use)
        line.addStretch()
        for widget in (self._chip, self._told, self._more):
            column.addWidget(widget)
        column.addLayout(line)
        column.addSpacing(8)
        column.addWidget(label("Found in the picture", "title"))
        self._summary = label("", "small", wrap=True)
        self._palette = Words()
        self.sections = QListWidget()
        self.sections.setAccessibleName("Sections that were found")
        self.sections.itemChanged.connect(self._tick)
        self._join = button("Join with next", self._join_sections)
        self._make = button("Make these sections", self.make_sections, main=True)
        self._read = button("Read its structure", self.read, main=True)
        self._stop = button("Stop", self._stop_reading)
        self._busy = QProgressBar()
        self._busy.setRange(0, 0)
        reading = QHBoxLayout()
        for part in (self._busy, self._stop, self._read):
            reading.addWidget(part)
        self._busy.hide()
        self._stop.hide()
        column.addLayout(reading)
        column.addWidget(self._summary)
        column.addWidget(self._palette)
        column.addWidget(self.sections, 1)
        column.addWidget(self._join)
        column.addWidget(self._make)
        column.addStretch()
        return side

    # Pictures on the board

    def _ask(self) -> None:
        path, _ = QFileDialog.getOpenFileName(self, "Pin a picture", "", _FILTER)
        if path:
            self.pin_file(Path(path))

    def pin_file(self, path: Path) -> None:
        """Put a picture or a page of a PDF on the board."""
        try:
            data = _pdf_page(path, self) if path.suffix.lower() == ".pdf" else path.read_bytes()
        except (OSError, PictureError) as error:
            said = str(error) if isinstance(error, PictureError) else (
                f"“{path.name}” cannot be read: {error.strerror}.")
            self._session.said.emit(said, True)
            return
        if data:
            self._pin(data, path.name)

    def _pin(self, data: bytes, name: str) -> None:
        try:
            one = one_apart(self, "Pinning the picture…",
                            lambda: pin(self._session.folder, data, name))
        except (PictureError, Stopped) as error:
            self._session.said.emit(str(error), True)
            return
        self._show_list(one.file.name)

    def paste(self) -> None:
        """Put the picture on the clipboard on the board."""
        picture = pasted_picture()
        if picture:
            self._pin(picture, "Pasted.png")
        else:
            self._session.said.emit("There is no picture on the clipboard.", True)

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        data = event.mimeData() if event else None
        if event is not None and data is not None and data.hasUrls():
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent | None) -> None:
        data = event.mimeData() if event else None
        for url in data.urls() if data else []:
            self.pin_file(Path(QUrl(url).toLocalFile()))

    def _unpin(self) -> None:
        if self._one is not None:
            unpin(self._session.folder, self._one)
            self._show_list("")

    def _show_list(self, file: str) -> None:
        ones = pinned(self._session.folder)
        self._choice.clear()
        for one in ones:
            self._choice.addItem(one.name, one.file.name)
        there = bool(ones)
        self.area.setVisible(there)
        self._empty.setVisible(not there)
        self._read.setEnabled(there)
        self._one = None
        if there:
            self._show(file or ones[-1].file.name)
        else:
            self._forget()

    def _show(self, file: str) -> None:
        one = next((one for one in pinned(self._session.folder) if one.file.name == file), None)
        if one is None:
            return
        self._choice.show_value(file)
        self._one = one
        with Image.open(one.file) as image:
            self._pixels = np.asarray(image.convert("RGB"))
        self.area.show_picture(QPixmap(str(one.file)))
        self._forget()
        self.take_tool(Tool.CHOOSE)

    def _forget(self) -> None:
        """Show nothing of what was measured or read in another picture."""
        self._stop_reading()
        self._taking = None
        self._page = QImage()
        self._shift = QPointF(0, 0)
        self._tell("", "", "")
        self._show_found()
        if self._one is not None:
            self._wide.show_value(self._one.css_width)
            self._scale.setText(f"1 : {self._one.scale:.2f}")

    def _set_width(self, width: float | None) -> None:
        if self._one is not None and width:
            self._one = set_css_width(self._session.folder, self._one, round(width))
            self._forget()

    # Measuring

    def take_tool(self, tool: object) -> None:
        """Take a tool in hand."""
        assert isinstance(tool, Tool)
        self.area.tool = tool
        self._tools.show_values([tool])
        if tool is Tool.LAY:
            self._ask_page()
        for widget in (self._strength, self._differs):
            widget.setVisible(tool is Tool.LAY)
        self._show_page()
        self._tell("", _HINTS[tool], "")
        self.area.show_measured(None, "")

    def _measure(self, measured: Measured) -> None:
        if self._one is None:
            return
        if measured.tool is Tool.RULER:
            self._measure_length(measured)
        elif measured.tool is Tool.DROPPER:
            self._measure_colour(measured)
        else:
            self._measure_letter(measured)

    def _measure_length(self, measured: Measured) -> None:
        assert self._one is not None
        upright = abs(measured.bottom - measured.top) > abs(measured.right - measured.left)
        left, top, right, bottom = (round(value) for value in (
            measured.left, measured.top, measured.right, measured.bottom))
        if upright:
            top, bottom = (snapped(self._pixels, at, left, True) for at in (top, bottom))
            right = left
        else:
            left, right = (snapped(self._pixels, at, top, False) for at in (left, right))
            bottom = top
        pixels = abs(bottom - top) if upright else abs(right - left)
        words = f"{pixels / self._one.scale:.1f}".rstrip("0").rstrip(".") + " px"
        self.area.show_measured(Measured(Tool.RULER, left, top, right, bottom), words)
        begin = (top if upright else left) / self._one.scale
        self._tell(words, f"from {begin:.0f} to {begin + pixels / self._one.scale:.0f} px "
                   + ("down" if upright else "across") + "; "
                   f"{pixels} pixels of the picture", "")

    def _measure_colour(self, measured: Measured) -> None:
        left, right = sorted((round(measured.left), round(measured.right)))
        top, bottom = sorted((round(measured.top), round(measured.bottom)))
        if right - left < _DROP and bottom - top < _DROP:
            right, bottom = left + 1, top + 1
        value = area_colour(self._pixels, left, top, right, bottom)
        near = nearest_colour(self._session.site.brand, value)
        told = "" if near is None else (
            f"{near.name} is the same" if near.apart < 0.5 else
            f"nearest: {near.name} {near.value}, ΔE {near.apart:.1f}"
            + (", hardly to be told apart" if near.apart < 2 else ""))
        self.area.show_measured(Measured(Tool.DROPPER, left, top, right, bottom), value)
        self._tell(value, told, value)

    def _measure_letter(self, measured: Measured) -> None:
        assert self._one is not None
        left, right = sorted((round(measured.left), round(measured.right)))
        top, bottom = sorted((round(measured.top), round(measured.bottom)))
        size = letter_size(self._pixels, left, top, right, bottom) / self._one.scale
        words = f"{size:.0f} px type" if size else ""
        self.area.show_measured(Measured(Tool.LETTER, left, top, right, bottom), words)
        self._tell(words, "from the height of the letter in the frame; capitals are 0.7 of the "
                   "size in common faces" if size else _HINTS[Tool.LETTER], "")

    def _tell(self, words: str, more: str, colour: str) -> None:
        self._told.setText(words)
        self._more.setText(more)
        self._chip.setVisible(bool(colour))
        self._chip.setStyleSheet(f"background: {colour}; border: 1px solid palette(mid)"
                                 if colour else "")
        self._use.setVisible(bool(colour))
        self._copy.setVisible(bool(words))

    def _use_colour(self) -> None:
        value = self._told.text()
        self._session.edit("main colour from picture",
                           lambda site: set_swatch(site, "main", value))

    def _copy_measured(self) -> None:
        clipboard = QApplication.clipboard()
        assert clipboard is not None
        clipboard.setText(self._told.text().removesuffix(" type").removesuffix(" px"))

    # The page over the picture

    def _ask_page(self) -> None:
        if self._one is not None:
            self._stills.ask(self._session.context(), self._one.css_width, self._one.css_width,
                             self._got_page, at_once=True)

    def _got_page(self, image: QImage) -> None:
        self._page = image
        self._show_page()

    def _move_page(self, across: float, down: float) -> None:
        self._shift += QPointF(across, down)
        self._show_page()

    def _show_page(self) -> None:
        marks = self._taking.marks(self._one.scale) if self._taking and self._one else []
        self.area.show_marks([] if self.area.tool is Tool.LAY else marks)
        laid = self.area.tool is Tool.LAY and self._one is not None and not self._page.isNull()
        if not laid:
            self.area.show_difference(QImage())
            self.area.show_page(QImage(), 1, QPointF(0, 0), 0)
            return
        assert self._one is not None
        scale = self._one.width / max(1, self._page.width())
        self.area.show_page(self._page, scale, self._shift, self._strength.value() / 100)
        if self._differs.isChecked():
            image, share = self._difference(scale)
            self.area.show_difference(image)
            self._tell(f"{share:.1%} differs".replace("%", " %"),
                       "Red is where picture and page depart. The page is the one shown in "
                       "Build.", "")
        else:
            self.area.show_difference(QImage())

    def _difference(self, scale: float) -> tuple[QImage, float]:
        """Return the picture in pale grey with red where the page departs, and how much does."""
        high, wide = self._pixels.shape[:2]
        laid = QImage(wide, high, QImage.Format.Format_RGB888)
        laid.fill(Qt.GlobalColor.white)
        painter = QPainter(laid)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.translate(self._shift)
        painter.scale(scale, scale)
        painter.drawImage(0, 0, self._page)
        painter.end()
        bits = laid.constBits()
        assert bits is not None
        rows = np.frombuffer(bits.asstring(laid.sizeInBytes()), np.uint8).reshape(
            high, laid.bytesPerLine())[:, : wide * 3].reshape(high, wide, 3)
        away = np.abs(rows.astype(np.int16) - self._pixels).max(axis=2) >= _SEEN_DIFFERENCE
        shown = np.repeat((200 + self._pixels.mean(axis=2) / 255 * 55).astype(
            np.uint8)[:, :, None], 3, axis=2)
        shown[away] = (216, 58, 34)
        held = np.ascontiguousarray(shown)
        image = QImage(held.tobytes(), wide, high, wide * 3, QImage.Format.Format_RGB888).copy()
        return image, float(away.mean())

    # Reading

    def read(self) -> None:
        """Read the structure in a thread."""
        if self._one is None:
            return
        self._reading = Reading()
        self._reading.done.connect(self._was_read)
        self._busy.show()
        self._stop.show()
        self._read.hide()
        pool = QThreadPool.globalInstance()
        assert pool is not None
        pool.start(Reader(self._one, self._reading))

    def _stop_reading(self) -> None:
        self._reading = None
        self._busy.hide()
        self._stop.hide()
        self._read.show()

    def _was_read(self, found: object) -> None:
        if self.sender() is not self._reading:
            return
        self._stop_reading()
        if isinstance(found, Found):
            self._taking = Taking(found)
            self.take_tool(Tool.CHOOSE)
            self._show_found()
        else:
            self._session.said.emit(str(found), True)

    def _show_found(self) -> None:
        taking = self._taking
        self.sections.blockSignals(True)
        kept = self.sections.currentRow()
        self.sections.clear()
        for widget in (self._join, self._make, self._palette, self.sections):
            widget.setVisible(taking is not None)
        if taking is None or self._one is None:
            self._summary.setText("Nothing yet. “Read its structure” proposes sections, columns, "
                                  "boxes, pictures, texts and buttons.")
            self.area.show_marks([])
            self.sections.blockSignals(False)
            return
        for number, band in enumerate(taking.found.bands):
            item = QListWidgetItem(f"{number + 1}  {band_words(band)}")
            item.setFlags(item.flags() | Qt.ItemFlag.ItemIsUserCheckable)
            item.setCheckState(Qt.CheckState.Unchecked if f"b{number}" in taking.left_out
                               else Qt.CheckState.Checked)
            self.sections.addItem(item)
        self.sections.setCurrentRow(max(0, kept))
        self.sections.blockSignals(False)
        self.area.show_marks(taking.marks(self._one.scale))
        self._summary.setText(_found_words(taking.found))
        self._palette.setPixmap(_palette_pixmap(taking.found))
        set_tip(self._palette, _palette_words(taking.found, self._session.site))

    def _toggle(self, key: str) -> None:
        if self._taking is not None and key:
            self._taking = self._taking.toggled(key)
            self._show_found()

    def _tick(self, item: QListWidgetItem) -> None:
        self._toggle(f"b{self.sections.row(item)}")

    def _join_sections(self) -> None:
        if self._taking is not None:
            self._taking = self._taking.joined(self.sections.currentRow())
            self._show_found()

    def make_sections(self) -> None:
        """Make a page of the sections that are taken."""
        if self._taking is None or self._one is None:
            return
        media: list[Medium] = []
        faults: list[str] = []

        def cut_out(rect: Rect) -> Id:
            try:
                media.append(self._cut_out(rect, len(media) + 1))
            except PictureError as error:
                faults.append(str(error))
                return ""
            return media[-1].id

        bands, made, one = self._taking.bands(), "", self._one

        def how(site: Site) -> Site:
            nonlocal made
            sections = build_sections(bands, site, new_id, cut_out)
            for medium in media:
                site = add_medium(site, medium)
            page = Page(id=new_id(), name="", variants=(
                Variant(key="A", children=tuple(sections)),))
            site, made = add_whole_page(site, page, free_name(
                site, f"From {one.name.rpartition('.')[0] or one.name}"))
            return site

        if not bands:
            self._session.said.emit("Take at least one section.", True)
        elif self._session.edit("sections from picture", how):
            self._session.show_page(made)
            self._session.said.emit(faults[0] if faults else
                                    f"{len(bands)} sections are there, on a page of their own. "
                                    "Words and pictures are placeholders.", bool(faults))
            self.made.emit()

    def _cut_out(self, rect: Rect, number: int) -> Medium:
        """Return a part of the picture as a medium that stands in for the real one."""
        assert self._one is not None
        scale = self._one.scale
        part = self._pixels[round(rect.top * scale): round(rect.bottom * scale),
                            round(rect.left * scale): round(rect.right * scale)]
        buffer = QBuffer()
        buffer.open(QIODevice.OpenModeFlag.WriteOnly)
        held = np.ascontiguousarray(part)
        QImage(held.tobytes(), held.shape[1], held.shape[0], held.shape[1] * 3,
               QImage.Format.Format_RGB888).save(buffer, "PNG")
        medium = keep_picture(self._session.folder, bytes(buffer.data().data()),
                              f"Cut {number} from {self._one.name}.png")
        known = next((m for m in self._session.site.media if m.file == medium.file), None)
        return known or msgspec.structs.replace(medium, invented=True)

    def refresh(self) -> None:
        """Follow the page that is laid over."""
        if self.area.tool is Tool.LAY and self.isVisible():
            self._ask_page()


def _pdf_page(path: Path, parent: QWidget) -> bytes:
    """Return one page of a PDF as PNG; which one is asked if there are several.

    Raises:
        PictureError: It cannot be read, or is closed by a password.
    """
    document = QPdfDocument(parent)
    fault = document.load(str(path))
    if fault != QPdfDocument.Error.None_ or not document.pageCount():
        closed = fault == QPdfDocument.Error.IncorrectPassword
        raise PictureError(f"“{path.name}” is closed by a password." if closed else
                           f"“{path.name}” is not a PDF that can be read.")
    number, taken = 1, True
    if document.pageCount() > 1:
        number, taken = QInputDialog.getInt(parent, "Pin a picture", "Which page?", 1, 1,
                                            document.pageCount())
    if not taken:
        return b""
    size = document.pagePointSize(number - 1)
    high = round(_PDF_PX * size.height() / max(1.0, size.width()))
    rendered = document.render(number - 1, QSize(_PDF_PX, min(high, 9000)))
    image = QImage(rendered.size(), QImage.Format.Format_RGB32)
    image.fill(Qt.GlobalColor.white)
    painter = QPainter(image)
    painter.drawImage(0, 0, rendered)
    painter.end()
    buffer = QBuffer()
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    image.save(buffer, "PNG")
    return bytes(buffer.data().data())


def _found_words(found: Found) -> str:
    sizes = sorted({round(text.size) for text in found.texts()}, reverse=True)[:6]
    return (f"{len(found.bands)} sections, {len(found.buttons())} buttons, "
            f"{len(found.texts())} texts ({', '.join(map(str, sizes))} px), "
            f"{len(found.pictures())} pictures. A click on a frame leaves it out.")


def _palette_pixmap(found: Found) -> QPixmap:

    pixmap = QPixmap(2 * 248, 2 * 22)
    pixmap.fill(Qt.GlobalColor.transparent)
    painter = QPainter(pixmap)
    for number, (colour, _) in enumerate(found.palette[:10]):
        painter.fillRect(number * 50, 0, 44, 44, QColor(colour))
    painter.end()
    pixmap.setDevicePixelRatio(2)
    return pixmap


def _palette_words(found: Found, site: Site) -> str:
    lines = []
    for colour, share in found.palette[:10]:
        near = nearest_colour(site.brand, colour)
        beside = f", nearest {near.name} (ΔE {near.apart:.1f})" if near else ""
        lines.append(f"{colour} on {share:.1%}{beside}".replace("%", " %"))
    return "\n".join(lines)
