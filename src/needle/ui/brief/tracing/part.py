"""From a picture or a saved page: the board with its tools, what they tell, and what was read."""

from pathlib import Path

import numpy as np
from PIL import Image
from PyQt6.QtCore import (
    QBuffer,
    QIODevice,
    QPointF,
    Qt,
    QUrl,
    pyqtSignal,
)
from PyQt6.QtGui import QDragEnterEvent, QDropEvent, QImage, QPixmap
from PyQt6.QtWidgets import (
    QCheckBox,
    QFileDialog,
    QHBoxLayout,
    QSlider,
    QVBoxLayout,
    QWidget,
)

from needle.core.edit.brand import set_swatch
from needle.core.images.picturefile import PictureError
from needle.core.seeing.laidout import LaidOut, node_at
from needle.store.originals import (
    Pinned,
    pin,
    pin_saved,
    pinned,
    saved_map,
    set_css_width,
    unpin,
)
from needle.store.savedpages import SAVED_ENDINGS, open_saved
from needle.ui.brief.tracing.foundpanel import FoundPanel
from needle.ui.brief.tracing.laying import difference
from needle.ui.brief.tracing.layingout import SavedPages
from needle.ui.brief.tracing.lookpanel import LookPanel
from needle.ui.brief.tracing.making import SectionCutter
from needle.ui.brief.tracing.measuredpanel import MeasuredPanel
from needle.ui.brief.tracing.measures import LETTER_HINT, colour_in, length_in, letter_in
from needle.ui.brief.tracing.pdfpage import pdf_page
from needle.ui.brief.tracing.view import BoardArea, Measured, Tool
from needle.ui.builder.stills import Stills
from needle.ui.cards import button, label, panel, pasted_picture
from needle.ui.editors import ChoiceEdit, NumberEdit, Segments
from needle.ui.language import tr
from needle.ui.session import Session
from needle.ui.timers import once
from needle.ui.waiting import Stopped, one_apart

__all__ = ["BoardPart"]

_FILTER = tr("Pictures, PDF, saved pages (*.png *.jpg *.jpeg *.webp *.pdf *.html *.htm *.xhtml "
             "*.mhtml *.mht)")
# A saved page is first laid out in a window of a common width.
_USUAL_WIDTH = 1280
_TOOLS = {Tool.CHOOSE: tr("Choose  V"), Tool.DROPPER: tr("Dropper  I"), Tool.RULER: tr("Ruler  R"),
          Tool.LETTER: tr("Letter  T"), Tool.LAY: tr("Page over it  O"),
          Tool.LOOK: tr("Look  L")}
_HINTS = {
    Tool.CHOOSE: tr("A click leaves a frame out or takes it again."),
    Tool.DROPPER: tr("Click a colour, or drag over an area to average it."),
    Tool.RULER: tr("Drag along what you measure; the ends stick to edges. Arrow keys move the "
                   "end."),
    Tool.LETTER: LETTER_HINT,
    Tool.LOOK: tr("Click something to see its exact look, and to take it."),
    Tool.LAY: tr("Drag the page, or move it with the arrow keys, until both lie on each other.")}
_SOON_MS = 400


class BoardPart(QWidget):
    """Pictures to work from, with tools to measure, compare and read them.

    Signals:
        made: Sections were made and their page is shown.

    Attributes:
        told: What was measured.
        found: What was read.
    """

    made = pyqtSignal()

    def __init__(self, session: Session, stills: Stills) -> None:
        super().__init__()
        self._session = session
        self._stills = stills
        self._one: Pinned | None = None
        self._laid: LaidOut | None = None
        self._saved = SavedPages(self)
        self._pixels = np.zeros((1, 1, 3), np.uint8)
        self._page = QImage()
        self._shift = QPointF(0, 0)
        self.setAcceptDrops(True)
        self._soon = once(self, _SOON_MS)
        self._soon.timeout.connect(self.refresh)
        session.changed.connect(lambda _: self._soon.start())
        session.turned.connect(self._soon.start)
        self.area = BoardArea()
        self.area.canvas.measured.connect(self._measure)
        self.area.canvas.picked.connect(lambda key: self.found.toggle(key))
        self.area.canvas.shifted.connect(self._move_page)
        self.area.tool_asked.connect(self.take_tool)
        work = panel("work")
        column = QVBoxLayout(work)
        column.setContentsMargins(14, 10, 14, 10)
        column.addLayout(self._upper())
        column.addLayout(self._lower())
        column.addWidget(self.area, 1)
        self._empty = label(tr("Pin a picture here: a drawn prototype, a screenshot, a page of a "
                               "PDF; or a page that a browser has saved.\nDrop it, paste it, or "
                               "choose a file."), wrap=True)
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
        self._choice = ChoiceEdit(tr("Picture"), {}, inherit=False)
        self._choice.setMinimumWidth(170)
        self._choice.chosen.connect(lambda file: self._show(str(file)))
        self._wide = NumberEdit(tr("Width of the page in the picture"), 100, 6000, 10, "px")
        self._wide.setFixedWidth(60)
        self._wide.chosen.connect(self._set_width)
        self._scale = label("", "mono")
        line.addWidget(self._choice)
        line.addWidget(button(tr("Pin…"), self._ask))
        line.addWidget(button(tr("Paste"), self.paste))
        line.addWidget(button(tr("Unpin"), self._unpin))
        line.addSpacing(10)
        line.addWidget(label(tr("page is"), "dim"))
        line.addWidget(self._wide)
        line.addWidget(label(tr("px wide"), "dim"))
        line.addWidget(self._scale)
        line.addStretch()
        line.addWidget(button("−", lambda: self.area.zoom_by(-1)))
        line.addWidget(button(tr("Fit"), self.area.fit))
        line.addWidget(button("+", lambda: self.area.zoom_by(1)))
        return line

    def _lower(self) -> QHBoxLayout:
        line = QHBoxLayout()
        self._tools = Segments(tr("Tool"), _TOOLS)
        self._tools.chosen.connect(self.take_tool)
        self._strength = QSlider(Qt.Orientation.Horizontal)
        self._strength.setRange(0, 100)
        self._strength.setValue(50)
        self._strength.setFixedWidth(110)
        self._strength.setAccessibleName(tr("How solid the page over the picture is, in percent"))
        self._strength.valueChanged.connect(lambda _: self._show_page())
        self._differs = QCheckBox(tr("difference"))
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
        self.told = MeasuredPanel()
        self.told.taken.connect(lambda value: self._session.edit(
            tr("main colour from picture"), lambda site: set_swatch(site, "main", value)))
        self.found = FoundPanel(self._session)
        self.found.found.connect(lambda: self.take_tool(Tool.CHOOSE))
        self.found.changed.connect(self._show_page)
        self.found.making.connect(self.make_sections)
        self.look = LookPanel(self._session)
        column.addWidget(self.told)
        column.addWidget(self.look)
        column.addSpacing(8)
        column.addWidget(self.found, 1)
        column.addStretch()
        return side

    # Pictures on the board

    def _ask(self) -> None:
        path, _ = QFileDialog.getOpenFileName(self, tr("Pin a picture"), "", _FILTER)
        if path:
            self.pin_file(Path(path))

    def pin_file(self, path: Path) -> None:
        """Put a picture, a page of a PDF or a saved page on the board."""
        if path.suffix.lower() in SAVED_ENDINGS:
            self.lay_out(path, _USUAL_WIDTH)
            return
        try:
            data = pdf_page(path, self) if path.suffix.lower() == ".pdf" else path.read_bytes()
        except (OSError, PictureError) as error:
            said = str(error) if isinstance(error, PictureError) else (
                tr("“{name}” cannot be read: {strerror}.", name=path.name, strerror=error.strerror))
            self._session.said.emit(said, True)
            return
        if data:
            self._pin(data, path.name)

    def _pin(self, data: bytes, name: str) -> None:
        try:
            one = one_apart(self, tr("Pinning the picture…"),
                            lambda: pin(self._session.folder, data, name))
        except (PictureError, Stopped) as error:
            self._session.said.emit(str(error), True)
            return
        self._show_list(one.file.name)

    def lay_out(self, path: Path, width: int) -> None:
        """Put a saved page on the board, laid out in a window so many CSS pixels wide."""
        try:
            page = open_saved(path)
        except PictureError as error:
            self._session.said.emit(str(error), True)
            return
        self._session.said.emit(tr("“{name}” is being laid out…", name=path.name), False)
        self._saved.lay_out(page, width, lambda image, laid: self._got_saved(path, image, laid))

    def _got_saved(self, path: Path, image: QImage, laid: LaidOut | None) -> None:
        buffer = QBuffer()
        buffer.open(QIODevice.OpenModeFlag.WriteOnly)
        try:
            if laid is None or not image.save(buffer, "PNG"):
                raise PictureError("saved-not-laid", name=path.name)
            one = pin_saved(self._session.folder, bytes(buffer.data().data()), laid, path)
        except PictureError as error:
            self._session.said.emit(str(error), True)
            return
        self._show_list(one.file.name)
        self.take_tool(Tool.LOOK)
        self._session.said.emit(
            tr("“{name}” is on the board. It is {height} px long; its first {shown} px are shown.",
               name=path.name, height=f"{laid.height:.0f}", shown=f"{laid.shown:.0f}")
            if laid.height > laid.shown else
            tr("“{name}” is on the board. A click on it tells its exact look.", name=path.name),
            False)

    def paste(self) -> None:
        """Put the picture on the clipboard on the board."""
        picture = pasted_picture()
        if picture:
            self._pin(picture, "Pasted.png")
        else:
            self._session.said.emit(tr("There is no picture on the clipboard."), True)

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
        self._one = None
        if there:
            self._show(file or ones[-1].file.name)
        else:
            self._laid = None
            self._forget()
            self.take_tool(Tool.CHOOSE)
            self._tools.button(Tool.LOOK).hide()

    def _show(self, file: str) -> None:
        one = next((one for one in pinned(self._session.folder) if one.file.name == file), None)
        if one is None:
            return
        self._choice.show_value(file)
        self._one = one
        with Image.open(one.file) as image:
            self._pixels = np.asarray(image.convert("RGB"))
        self._laid = saved_map(one)
        self._tools.button(Tool.LOOK).setVisible(self._laid is not None)
        self.area.show_picture(QPixmap(str(one.file)))
        self._forget()
        self.take_tool(Tool.CHOOSE)

    def _forget(self) -> None:
        """Show nothing of what was measured or read in another picture."""
        self._page = QImage()
        self._shift = QPointF(0, 0)
        self.told.tell("", "")
        self.look.tell(None, None)
        self.found.look_at(self._one)
        if self._one is not None:
            self._wide.show_value(self._one.css_width)
            self._scale.setText(f"1 : {self._one.scale:.2f}")

    def _set_width(self, width: float | None) -> None:
        if self._one is not None and width and self._one.source:
            self._lay_out_anew(self._one, round(width))
        elif self._one is not None and width:
            self._one = set_css_width(self._session.folder, self._one, round(width))
            self._forget()

    def _lay_out_anew(self, one: Pinned, width: int) -> None:
        """Lay a saved page out at another width, if it is still where it was."""
        path = Path(one.source)
        if path.is_file():
            self.lay_out(path, width)
        else:
            self._session.said.emit(str(PictureError("saved-gone", name=one.name)), True)
            self._wide.show_value(one.css_width)

    # Measuring

    def take_tool(self, tool: object) -> None:
        """Take a tool in hand; one that the picture is not for leaves the one in hand."""
        assert isinstance(tool, Tool)
        if tool is Tool.LOOK and self._laid is None:
            self._session.said.emit(tr("A picture has no look to take. Pin the saved page itself."),
                                    True)
            return
        self.area.tool = tool
        self._tools.show_values([tool])
        if tool is Tool.LAY:
            self._ask_page()
        for widget in (self._strength, self._differs):
            widget.setVisible(tool is Tool.LAY)
        self._show_page()
        self.told.tell("", _HINTS[tool])
        self.look.tell(None, None)
        self.area.show_measured(None, "")

    def _measure(self, measured: Measured) -> None:
        if self._one is None:
            return
        if measured.tool is Tool.LOOK:
            self._show_look(measured)
            return
        if measured.tool is Tool.RULER:
            told = length_in(self._pixels, self._one.scale, measured)
        elif measured.tool is Tool.DROPPER:
            told = colour_in(self._pixels, self._session.site, measured)
        else:
            told = letter_in(self._pixels, self._one.scale, measured)
        self.area.show_measured(told.measured, told.words)
        self.told.tell(told.words, told.more, told.colour)

    def _show_look(self, measured: Measured) -> None:
        """Tell what stands at a place of a saved page."""
        laid, one = self._laid, self._one
        if laid is None or one is None:
            return
        number = node_at(laid, measured.right / one.scale, measured.bottom / one.scale)
        if number is None:
            return
        node, look = laid.nodes[number], laid.look(number)
        left, top, right, bottom = (side * one.scale for side in node.rect)
        wide, high = node.rect[2] - node.rect[0], node.rect[3] - node.rect[1]
        self.area.show_measured(Measured(Tool.LOOK, left, top, right, bottom),
                                f"{node.tag} {wide:.0f} × {high:.0f}")
        self.told.tell(look.colour, "", look.colour)
        self.look.tell(laid, number)

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
        self.area.show_marks([] if self.area.tool is Tool.LAY else self.found.marks())
        laid = self.area.tool is Tool.LAY and self._one is not None and not self._page.isNull()
        if not laid:
            self.area.show_difference(QImage())
            self.area.show_page(QImage(), 1, QPointF(0, 0), 0)
            return
        assert self._one is not None
        scale = self._one.width / max(1, self._page.width())
        self.area.show_page(self._page, scale, self._shift, self._strength.value() / 100)
        if self._differs.isChecked():
            image, share = difference(self._pixels, self._page, scale, self._shift)
            self.area.show_difference(image)
            self.told.tell(f"{share:.1%} differs".replace("%", " %"),
                       tr("Red is where picture and page depart. The page is the one shown in "
                          "Build."))
        else:
            self.area.show_difference(QImage())

    # Making

    def make_sections(self) -> None:
        """Make a page of the sections that are taken."""
        if self.found.taking is None or self._one is None:
            return
        bands = self.found.taking.bands()
        cutter = SectionCutter(self._session, self._one, self._pixels,
                               self.found.takes_over.isChecked())
        if not bands:
            self._session.said.emit(tr("Take at least one section."), True)
        elif cutter.make(bands):
            self._session.show_page(cutter.page)
            told = tr("{count} sections are there, on a page of their own. Words and pictures are "
                      "placeholders.", count=len(bands)) if not self.found.takes_over.isChecked(
            ) else tr("{count} sections are there, on a page of their own, with the words and "
                      "pictures of the saved page.", count=len(bands))
            self._session.said.emit(cutter.faults[0] if cutter.faults else told,
                                    bool(cutter.faults))
            self.made.emit()

    def end(self) -> None:
        """Let go of the engine before the window goes."""
        self._saved.stop()

    def refresh(self) -> None:
        """Follow the page that is laid over."""
        if self.area.tool is Tool.LAY and self.isVisible():
            self._ask_page()

