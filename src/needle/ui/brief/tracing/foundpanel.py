"""What was found in the picture, at the side: read in a thread, ticked, joined and made."""

from PyQt6.QtCore import Qt, QThreadPool, pyqtSignal
from PyQt6.QtGui import QColor, QPainter, QPixmap
from PyQt6.QtWidgets import (
    QCheckBox,
    QHBoxLayout,
    QListWidget,
    QListWidgetItem,
    QProgressBar,
    QVBoxLayout,
    QWidget,
)

from needle.core.seeing.measuring import nearest_colour
from needle.core.seeing.shapes import Found
from needle.core.site.site import Site
from needle.store.originals import Pinned
from needle.ui.brief.tracing.structure import Reader, Reading, Taking, band_words
from needle.ui.brief.tracing.view import Mark
from needle.ui.cards import button, label
from needle.ui.language import tr
from needle.ui.session import Session
from needle.ui.words import Words, set_tip

__all__ = ["FoundPanel"]


class FoundPanel(QWidget):
    """The sections that were found in a picture.

    Signals:
        found: The structure was read, and there is something to choose from.
        changed: Other things are taken, so the marks in the picture are others.
        making: The sections that are taken shall be made.

    Attributes:
        taking: What was found and what of it is wanted; `None` before it was read.
        sections: The list of them.
        takes_over: Whether words and pictures of a saved page are taken over, too.
    """

    found = pyqtSignal()
    changed = pyqtSignal()
    making = pyqtSignal()

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._one: Pinned | None = None
        self.taking: Taking | None = None
        self._reading: Reading | None = None
        self._summary = label("", "small", wrap=True)
        self._palette = Words()
        self.sections = QListWidget()
        self.sections.setAccessibleName(tr("Sections that were found"))
        self.sections.itemChanged.connect(
            lambda item: self.toggle(f"b{self.sections.row(item)}"))
        self.takes_over = QCheckBox(tr("Take over its words and pictures"))
        set_tip(self.takes_over, tr("Only where they are yours to use. Else words are placeholders "
                                    "and pictures are drawn."))
        self._join = button(tr("Join with next"), self.join_sections)
        self._make = button(tr("Make these sections"), self.making.emit, main=True)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(5)
        column.addWidget(label(tr("Found in the picture"), "title"))
        column.addLayout(self._reading_line())
        column.addWidget(self._summary)
        column.addWidget(self._palette)
        column.addWidget(self.sections, 1)
        column.addWidget(self._join)
        column.addWidget(self.takes_over)
        column.addWidget(self._make)
        column.addStretch()

    def _reading_line(self) -> QHBoxLayout:
        self._read = button(tr("Read its structure"), self.read, main=True)
        self._stop = button(tr("Stop"), self.stop)
        self._busy = QProgressBar()
        self._busy.setRange(0, 0)
        line = QHBoxLayout()
        for part in (self._busy, self._stop, self._read):
            line.addWidget(part)
        self._busy.hide()
        self._stop.hide()
        return line

    def look_at(self, one: Pinned | None) -> None:
        """Forget what was read, and be ready to read this picture."""
        self.stop()
        self._one, self.taking = one, None
        self.takes_over.setChecked(False)
        self._read.setEnabled(one is not None)
        self._show()

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

    def stop(self) -> None:
        """Wait no longer for what is being read."""
        self._reading = None
        self._busy.hide()
        self._stop.hide()
        self._read.show()

    def _was_read(self, found: object) -> None:
        if self.sender() is not self._reading:
            return
        self.stop()
        if isinstance(found, Found):
            self.taking = Taking(found)
            self.found.emit()
            self._show()
        else:
            self._session.said.emit(str(found), True)

    def marks(self) -> list[Mark]:
        """Return the frames to show in the picture."""
        return self.taking.marks(self._one.scale) if self.taking and self._one else []

    def toggle(self, key: str) -> None:
        """Leave something out, or take it again."""
        if self.taking is not None and key:
            self.taking = self.taking.toggled(key)
            self._show()

    def join_sections(self) -> None:
        """Make one section of the chosen one and the next."""
        if self.taking is not None:
            self.taking = self.taking.joined(self.sections.currentRow())
            self._show()

    def _show(self) -> None:
        taking = self.taking
        for widget in (self._join, self._make, self._palette, self.sections):
            widget.setVisible(taking is not None)
        self.takes_over.setVisible(taking is not None and bool(self._one and self._one.source))
        self._list_sections(taking)
        if taking is None:
            self._summary.setText(tr("Nothing yet. “Read its structure” proposes sections, "
                                     "columns, boxes, pictures, texts and buttons."))
        else:
            self._summary.setText(_found_words(taking.found))
            self._palette.setPixmap(_palette_pixmap(taking.found))
            set_tip(self._palette, _palette_words(taking.found, self._session.site))
        self.changed.emit()

    def _list_sections(self, taking: Taking | None) -> None:
        self.sections.blockSignals(True)
        kept = self.sections.currentRow()
        self.sections.clear()
        for number, band in enumerate(taking.found.bands if taking else ()):
            item = QListWidgetItem(f"{number + 1}  {band_words(band)}")
            item.setFlags(item.flags() | Qt.ItemFlag.ItemIsUserCheckable)
            left_out = taking is not None and f"b{number}" in taking.left_out
            item.setCheckState(Qt.CheckState.Unchecked if left_out else Qt.CheckState.Checked)
            self.sections.addItem(item)
        self.sections.setCurrentRow(max(0, kept))
        self.sections.blockSignals(False)


def _found_words(found: Found) -> str:
    sizes = sorted({round(text.size) for text in found.texts()}, reverse=True)[:6]
    return (tr("{count} sections, {count2} buttons, {count3} texts ({list} px), {count4} "
               "pictures. A click on a frame leaves it out.",
               count=len(found.bands), count2=len(found.buttons()), count3=len(found.texts()),
               list=", ".join(map(str, sizes)), count4=len(found.pictures())))


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
        beside = tr(", nearest {name} (ΔE {apart:.1f})", name=near.name,
                    apart=near.apart) if near else ""
        lines.append(tr("{colour} on {share:.1%}{beside}",
                        colour=colour, share=share, beside=beside).replace("%", " %"))
    return "\n".join(lines)
