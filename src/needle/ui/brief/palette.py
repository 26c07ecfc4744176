"""The palette: roles, contrast, how people see it, pairs in use."""

import io
from pathlib import Path

import numpy as np
from PIL import Image
from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QColor
from PyQt6.QtWidgets import (
    QApplication,
    QCheckBox,
    QColorDialog,
    QFileDialog,
    QHBoxLayout,
    QMenu,
    QPushButton,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from needle.core.colour.clusters import clusters
from needle.core.colour.contrast import contrast
from needle.core.colour.palette import chief_colours
from needle.core.colour.sight import Sight, seen
from needle.core.colour.tokens import TokenError, css_variables, read_tokens, tokens_json
from needle.core.edit.brand import set_dark, set_palette, set_swatch, suggest_palette
from needle.core.edit.legibility import PairInUse, pairs_in_use
from needle.core.images.picturefile import PictureError, take_in
from needle.core.images.vector import looks_like_svg
from needle.core.site.site import Swatch
from needle.store.files import write_atomically
from needle.ui.brief.drawings import vector_pixels
from needle.ui.cards import PICTURE_FILTER, Card, label, repaint_role
from needle.ui.editors import Segments, WordsEdit
from needle.ui.language import tr
from needle.ui.session import Session
from needle.ui.words import Words, set_tip

__all__ = ["PairsCard", "PaletteCard"]

_SIGHTS = {Sight.PROTAN: tr("no red cones (protan)"), Sight.DEUTAN: tr("no green cones (deutan)"),
           Sight.TRITAN: tr("no blue cones (tritan)")}
_SURFACES = ("paper", "mist")
_MOST_PAIRS = 8


class PaletteCard(Card):
    """The colours of the brand; one change recolours the whole site."""

    def __init__(self, session: Session) -> None:
        super().__init__(tr("Palette"), tr("one change recolours the whole site"))
        self._session = session
        self._rows: dict[str, _SwatchRow] = {}
        self._list = QVBoxLayout()
        self._list.setSpacing(0)
        self.body.addLayout(self._list)
        self.body.addLayout(self._foot())

    def _foot(self) -> QHBoxLayout:
        line = QHBoxLayout()
        self._ground = Segments(tr("Ground"), {False: tr("Light"), True: tr("Dark")})
        self._ground.chosen.connect(self._turn)
        self._dark = QCheckBox(tr("also dark, as the visitor's system is"))
        self._dark.toggled.connect(lambda on: self._session.edit(
            tr("dark colours"), lambda site: set_dark(site, on)))
        more = QToolButton()
        more.setText(tr("Work out afresh ▾"))
        more.setAccessibleName(tr("Work the palette out afresh"))
        more.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        menu = QMenu(more)
        for words, run in ((tr("From the main colour"), self.from_main),
                           (tr("From main colour and accent"), self.from_both),
                           (tr("From a logo or picture…"), self._ask_picture)):
            menu.addAction(words, run)
        menu.addSeparator()
        for words, run in ((tr("Read design tokens…"), self._ask_tokens),
                           (tr("Write design tokens…"), self._ask_write_tokens),
                           (tr("Copy as CSS variables"), self._copy_css)):
            menu.addAction(words, run)
        more.setMenu(menu)
        line.addWidget(self._ground)
        line.addWidget(self._dark)
        line.addStretch()
        line.addWidget(more)
        return line

    # What the person does

    def set_colour(self, role: str, value: str) -> None:
        """Change a colour of the brand."""
        colour = QColor(value.strip())
        if not colour.isValid():
            self._session.said.emit(tr("“{value}” is no colour. Type one like #0e6b54.",
                                       value=value), True)
            self.refresh()
            return
        self._session.edit(tr("brand colour"), lambda site: set_swatch(site, role, colour.name()))

    def _pick(self, role: str) -> None:
        swatch = self._session.site.brand.swatch(role)
        if swatch is not None:
            colour = QColorDialog.getColor(QColor(swatch.value), self, swatch.name)
            if colour.isValid():
                self.set_colour(role, colour.name())

    def _is_dark(self) -> bool:
        colours = self._session.site.brand.colours()
        paper = colours.get("paper", "#ffffff")
        return contrast(paper, "#000000") < contrast(paper, "#ffffff")

    def _turn(self, dark: object) -> None:
        self._suggest(with_accent=True, dark=bool(dark))

    def from_main(self) -> None:
        """Work all roles out from the main colour."""
        self._suggest(with_accent=False, dark=self._is_dark())

    def from_both(self) -> None:
        """Work all roles out from main colour and accent."""
        self._suggest(with_accent=True, dark=self._is_dark())

    def _suggest(self, with_accent: bool, dark: bool) -> None:
        colours = self._session.site.brand.colours()
        accent = colours.get("accent", "") if with_accent else ""
        self._session.edit(tr("palette"), lambda site: suggest_palette(
            site, colours["main"], accent, dark))

    def _ask_picture(self) -> None:
        path, _ = QFileDialog.getOpenFileName(self, tr("Colours from a logo or picture"), "",
                                              PICTURE_FILTER)
        if path:
            self.from_picture(Path(path))

    def from_picture(self, path: Path) -> None:
        """Work all roles out from the colours of a logo or picture."""
        try:
            pixels = _pixels(path)
        except (PictureError, OSError) as error:
            self._session.said.emit(str(error), True)
            return
        main, accent = chief_colours(clusters(pixels))
        dark = self._is_dark()
        self._session.edit(tr("palette from picture"), lambda site: suggest_palette(
            site, main, accent, dark))
        self._session.said.emit(tr("The palette is worked out from {main}", main=main)
                                + (tr(" and {accent}.", accent=accent) if accent else "."), False)

    def _ask_tokens(self) -> None:
        path, _ = QFileDialog.getOpenFileName(self, tr("Read design tokens"), "",
                                              tr("Design tokens (*.json *.tokens)"))
        if path:
            self.read_tokens(Path(path))

    def read_tokens(self, path: Path) -> None:
        """Take the colours from a file of design tokens."""
        try:
            colours = read_tokens(path.read_text("utf-8"))
        except (OSError, UnicodeDecodeError, TokenError) as error:
            said = str(error) if isinstance(error, TokenError) else (
                tr("“{name}” cannot be read as text.", name=path.name))
            self._session.said.emit(said, True)
            return
        self._session.edit(tr("design tokens"), lambda site: set_palette(site, colours))
        self._session.said.emit(tr("{count} colours are taken from “{name}”.",
                                   count=len(colours), name=path.name), False)

    def _ask_write_tokens(self) -> None:
        path, _ = QFileDialog.getSaveFileName(self, tr("Write design tokens"), "brand.tokens.json",
                                              tr("Design tokens (*.json)"))
        if path:
            self.write_tokens(Path(path))

    def write_tokens(self, path: Path) -> None:
        """Write palette and type as design tokens."""
        brand = self._session.site.brand
        faces = {"heading": brand.heading_face, "body": brand.body_face}
        try:
            write_atomically(path, tokens_json(brand.colours(), faces, brand.size,
                                               brand.ratio).encode())
        except OSError as error:
            self._session.said.emit(tr("{path} cannot be written: {strerror}.",
                                       path=path, strerror=error.strerror), True)
        else:
            self._session.said.emit(tr("The brand is in {path}.", path=path), False)

    def _copy_css(self) -> None:
        clipboard = QApplication.clipboard()
        assert clipboard is not None
        clipboard.setText(css_variables(self._session.site.brand.colours()))
        self._session.said.emit(tr("The palette is on the clipboard as CSS."), False)

    # Showing

    def refresh(self) -> None:
        """Show the palette as it is now."""
        brand = self._session.site.brand
        if list(self._rows) != [swatch.role for swatch in brand.palette]:
            self._make_rows(brand.palette)
        for swatch in brand.palette:
            against = brand.swatch("on_main" if swatch.role == "main" else (
                "main" if swatch.role == "on_main" else "paper"))
            self._rows[swatch.role].show_swatch(swatch, against)
        self._ground.show_values([self._is_dark()])
        self._dark.blockSignals(True)
        self._dark.setChecked(bool(brand.dark))
        self._dark.blockSignals(False)

    def _make_rows(self, palette: tuple[Swatch, ...]) -> None:
        for row in self._rows.values():
            self._list.removeWidget(row)
            row.deleteLater()
        self._rows = {}
        for swatch in palette:
            row = _SwatchRow(swatch.name)
            row.picked.connect(lambda r=swatch.role: self._pick(r))
            row.typed.connect(lambda value, r=swatch.role: self.set_colour(r, value))
            self._rows[swatch.role] = row
            self._list.addWidget(row)


class _SwatchRow(QWidget):
    """A colour of the brand: patch, name, value, contrast, and as others see it.

    Signals:
        picked: The person wants to choose another colour.
        typed: The person typed another one.
    """

    picked = pyqtSignal()
    typed = pyqtSignal(str)

    def __init__(self, name: str) -> None:
        super().__init__()
        self.setObjectName("cardline")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._patch = QPushButton()
        self._patch.setFixedSize(38, 24)
        self._patch.setAccessibleName(tr("Change {name}", name=name))
        self._patch.clicked.connect(lambda _=False: self.picked.emit())
        self._name = label("")
        self._value = WordsEdit(tr("Value of {name}", name=name))
        self._value.setFixedWidth(82)
        self._value.kept.connect(self.typed)
        self._note = label("", "good")
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 2, 0, 2)
        row.setSpacing(10)
        row.addWidget(self._patch)
        row.addWidget(self._name, 3)
        row.addWidget(self._value)
        row.addWidget(self._note, 3)
        self._seen: dict[Sight, Words] = {}
        seen_row = QHBoxLayout()
        seen_row.setSpacing(3)
        for sight in _SIGHTS:
            patch = Words()
            patch.setFixedSize(18, 18)
            self._seen[sight] = patch
            seen_row.addWidget(patch)
        row.addLayout(seen_row)

    def show_swatch(self, swatch: Swatch, against: Swatch | None) -> None:
        """Show a colour and how it stands out from the one it is used with."""
        self._patch.setStyleSheet(f"background: {swatch.value}")
        self._name.setText(swatch.name)
        self._value.show_words(swatch.value)
        for sight, patch in self._seen.items():
            value = seen(swatch.value, sight)
            patch.setStyleSheet(f"background: {value}; border: 1px solid palette(mid); "
                                "border-radius: 3px")
            set_tip(patch, tr("{name} as seen with {sights}: {value}",
                              name=swatch.name, sights=_SIGHTS[sight], value=value))
        if against is None or swatch.role in _SURFACES:
            self._note.setText("surface")
            repaint_role(self._note, "dim")
            return
        ratio = contrast(swatch.value, against.value)
        place = tr("under words") if swatch.role == "main" else (
            tr("on main") if swatch.role == "on_main" else tr("on paper"))
        words = f"{ratio:.1f} : 1 {place}"
        self._note.setText(words if ratio >= 4.5 else tr("{words}, mended", words=words))
        set_tip(self._note, "" if ratio >= 4.5 else
                              tr("Too little to read. Words take the nearest colour that passes."))
        repaint_role(self._note, "good" if ratio >= 4.5 else "unsure")


class PairsCard(Card):
    """The pairs that words on pages make, and whether they can be read."""

    def __init__(self, session: Session) -> None:
        super().__init__(tr("Words on the pages"), tr("WCAG 2.2 asks for 4.5 : 1"))
        self._session = session
        self._lines = QVBoxLayout()
        self._lines.setSpacing(2)
        self.body.addLayout(self._lines)

    def refresh(self) -> None:
        """Show the pairs that are in use now."""
        while (item := self._lines.takeAt(0)) is not None:
            widget = item.widget()
            if widget is not None:
                widget.deleteLater()
        pairs = pairs_in_use(self._session.site)
        for pair in pairs[:_MOST_PAIRS]:
            self._lines.addWidget(self._line(pair))
        rest = len(pairs) - _MOST_PAIRS
        if not pairs:
            self._lines.addWidget(label(tr("No words on any page yet."), "small"))
        elif rest > 0:
            self._lines.addWidget(label(tr("and {rest} rarer pairs, all readable", rest=rest),
                                        "small"))

    def _line(self, pair: PairInUse) -> QWidget:
        brand = self._session.site.brand
        ink, ground = brand.swatch(pair.ink), brand.swatch(pair.ground)
        assert ink is not None and ground is not None
        line = QWidget()
        row = QHBoxLayout(line)
        row.setContentsMargins(0, 0, 0, 0)
        sample = Words(tr("Words"))
        sample.setFixedSize(58, 22)
        sample.setAlignment(Qt.AlignmentFlag.AlignCenter)
        sample.setStyleSheet(f"background: {ground.value}; color: {pair.shown}; "
                             "border: 1px solid palette(mid); border-radius: 3px")
        row.addWidget(sample)
        row.addWidget(label(tr("{name} on {name2}", name=ink.name, name2=ground.name)), 1)
        row.addWidget(label(f"{pair.count} ×", "small"))
        mended = pair.shown != ink.value
        row.addWidget(label(
            tr("{ratio:.1f} : 1, shown as {shown}", ratio=pair.ratio,
               shown=pair.shown) if mended else f"{pair.ratio:.1f} : 1",
            "unsure" if mended else "good"))
        return line


def _pixels(path: Path) -> np.ndarray:
    """Return a picture's pixels, those that are clear left out where it has a clear ground."""
    data = path.read_bytes()
    if looks_like_svg(data):
        image = vector_pixels(take_in(data, path.name).data, 256)
    else:
        image = Image.open(io.BytesIO(take_in(data, path.name).data)).convert("RGBA")
        image.thumbnail((512, 512))
    pixels = np.asarray(image)
    solid = pixels[pixels[..., 3] > 128]
    return (solid if len(solid) else pixels.reshape(-1, 4))[:, :3].reshape(1, -1, 3)
