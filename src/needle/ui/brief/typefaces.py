"""Type: families, their pairs, own fonts, scale and room."""

from pathlib import Path

from PyQt6.QtCore import QByteArray, Qt
from PyQt6.QtGui import QDragEnterEvent, QDropEvent, QFont, QFontDatabase
from PyQt6.QtWidgets import (
    QFileDialog,
    QGridLayout,
    QHBoxLayout,
    QMenu,
    QSizePolicy,
    QToolButton,
    QWidget,
)

from needle.core.edit.brand import set_room, set_scale, set_typefaces
from needle.core.edit.everywhere import nodes_of
from needle.core.edit.media import add_fonts, drop_family
from needle.core.render.texts import plain_lines
from needle.core.site.site import Font, Site
from needle.core.type.faces import PAIRS, families
from needle.core.type.fontfile import FONT_ENDINGS, FontError, letters_of, missing_letters
from needle.store.media import keep_font
from needle.ui.cards import Card, button, label, repaint_role
from needle.ui.editors import ChoiceEdit, NumberEdit
from needle.ui.language import tr
from needle.ui.session import Session
from needle.ui.words import Words, agreed

__all__ = ["TypeCard"]

_FILTER = tr("Fonts (") + " ".join(f"*{ending}" for ending in FONT_ENDINGS) + ")"


class TypeCard(Card):
    """Two families, a scale of sizes and how much room there is."""

    def __init__(self, session: Session) -> None:
        super().__init__(tr("Type"))
        self._session = session
        self._loaded: dict[str, str] = {}
        self.setAcceptDrops(True)
        self.head.addWidget(button(tr("Add fonts…"), self._ask_fonts))
        self._heading, self._body = Words(), Words()
        self._body.setWordWrap(True)
        grid = QGridLayout()
        grid.setVerticalSpacing(5)
        self._faces: dict[str, ChoiceEdit] = {}
        for row, (key, words) in enumerate((("heading", tr("Headings")), ("body", tr("All else")))):
            grid.addWidget(label(words, "dim"), row, 0)
            choice = ChoiceEdit(words, {}, inherit=False)
            choice.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
            choice.chosen.connect(lambda family, k=key: self._session.edit(
                tr("face of brand"), lambda site: set_typefaces(site, **{k: str(family)})))
            self._faces[key] = choice
            grid.addWidget(choice, row, 1)
        grid.addWidget(self._pairs(), 2, 1)
        grid.setColumnStretch(1, 1)
        self._missing = label("", "fault", wrap=True)
        for widget in (self._heading, self._body):
            self.body.addWidget(widget)
        self.body.addLayout(grid)
        self.body.addWidget(self._missing)
        self.body.addLayout(self._numbers())
        self._own = label("", "small", wrap=True)
        self._own.linkActivated.connect(self.drop)
        self.body.addWidget(self._own)

    def _pairs(self) -> QWidget:
        pairs = QToolButton()
        pairs.setText(tr("Choose a pair ▾"))
        pairs.setAccessibleName(tr("Choose a pair of families"))
        pairs.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        menu = QMenu(pairs)
        for pair in PAIRS:
            names = pair.heading if pair.heading == pair.body else f"{pair.heading} + {pair.body}"
            action = menu.addAction(f"{names}: {pair.character}")
            assert action is not None
            font = QFont(pair.heading)
            font.setPixelSize(15)
            action.setFont(font)
            action.triggered.connect(lambda _=False, p=pair: self._session.edit(
                tr("pair of faces"), lambda site: set_typefaces(site, p.heading, p.body)))
        pairs.setMenu(menu)
        return pairs

    def _numbers(self) -> QHBoxLayout:
        line = QHBoxLayout()
        self._size = NumberEdit(tr("Common words"), 14, 24, 1, "px")
        self._ratio = NumberEdit(tr("Scale"), 1.05, 1.6, 0.05, "×")
        self._room = NumberEdit(tr("Room"), 50, 200, 10, "%")
        self._size.chosen.connect(lambda value: self._scale(value, None))
        self._ratio.chosen.connect(lambda value: self._scale(None, value))
        self._room.chosen.connect(self._set_room)
        for words, edit in ((tr("Words px"), self._size), (tr("Scale ×"), self._ratio),
                            (tr("Room %"), self._room)):
            edit.setFixedWidth(52)
            edit.refused.connect(lambda said: self._session.said.emit(said, True))
            line.addWidget(label(words, "dim"))
            line.addWidget(edit)
            line.addSpacing(6)
        line.addStretch()
        return line

    def _scale(self, size: float | None, ratio: float | None) -> None:
        brand = self._session.site.brand
        self._session.edit(tr("scale of type"), lambda site: set_scale(
            site, round(size or brand.size), ratio or brand.ratio), group="scale")

    def _set_room(self, percent: float | None) -> None:
        self._session.edit(tr("room"), lambda site: set_room(site, round(percent or 100)),
                           group="room")

    # Own fonts

    def _ask_fonts(self) -> None:
        paths, _ = QFileDialog.getOpenFileNames(self, tr("Add fonts"), "", _FILTER)
        self.add_fonts([Path(path) for path in paths])

    def add_fonts(self, paths: list[Path]) -> None:
        """Take font files into the site; they can be chosen at once."""
        found: list[Font] = []
        for path in paths:
            try:
                found.extend(keep_font(self._session.folder, path))
            except FontError as error:
                if not error.forbidden or not self._licensed(str(error)):
                    self._session.said.emit(str(error), True)
                    continue
                try:
                    found.extend(keep_font(self._session.folder, path, licensed=True))
                except FontError as again:
                    self._session.said.emit(str(again), True)
        if found:
            self._session.edit(tr("add fonts"), lambda site: add_fonts(site, found))
            names = ", ".join(dict.fromkeys(font.family for font in found))
            cuts = "1 cut" if len(found) == 1 else f"{len(found)} cuts"
            lost = missing_letters(self._letters(found[0].family), _words(self._session.site))
            self._session.said.emit(tr("{names}: {cuts} added, ready to choose.",
                                       names=names, cuts=cuts) + (
                tr(" It lacks {list}, which stand on your pages.",
                   list=" ".join(lost[:12])) if lost else ""),
                bool(lost))

    def _licensed(self, words: str) -> bool:
        return agreed(self, tr("Fonts"), tr("{words}\n\nDo you hold such a licence?", words=words),
                      tr("I hold a licence"), tr("Leave the font out"))

    def drop(self, family: str) -> None:
        """Take an added family away again."""
        self._session.edit(tr("remove fonts"), lambda site: drop_family(site, family))

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        if event is not None and _font_paths(event):
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent | None) -> None:
        if event is not None:
            self.add_fonts(_font_paths(event))

    def _letters(self, family: str) -> frozenset[str]:
        """Return the characters of an added family, or nothing for one that ships."""
        own = next((font for font in self._session.site.fonts if font.family == family), None)
        if own is None:
            return frozenset()
        try:
            return letters_of((self._session.folder / "media" / own.file).read_bytes())
        except OSError:
            return frozenset()

    # Showing

    def refresh(self) -> None:
        """Show the type as it is now, in the site's own words."""
        site = self._session.site
        self._load(site)
        names = {family: family for family in families(site)}
        for key, choice in self._faces.items():
            if [choice.itemData(n) for n in range(choice.count())] != list(names):
                choice.clear()
                for family in names:
                    choice.addItem(family, family)
                    font = QFont(self._loaded.get(family, family))
                    choice.setItemData(choice.count() - 1, font, Qt.ItemDataRole.FontRole)
            choice.show_value(getattr(site.brand, f"{key}_face"))
        words = _words(site)
        self._show_sample(self._heading, site.brand.heading_face, 25, 600,
                          next((line for line in words if 12 < len(line) < 34), site.name))
        self._show_sample(self._body, site.brand.body_face, 14, 400, next(
            (line for line in words if 50 < len(line) < 150),
            tr("Words of your pages stand here.")))
        self._size.show_value(site.brand.size)
        self._ratio.show_value(site.brand.ratio)
        self._room.show_value(site.brand.room)
        self._show_own(site, words)

    def _show_own(self, site: Site, words: list[str]) -> None:
        own = list(dict.fromkeys(font.family for font in site.fonts))
        self._own.setText(tr("Added: ") + ", ".join(
            f"{family} (<a href='{family}'>remove</a>)" for family in own) if own else "")
        self._own.setVisible(bool(own))
        lost = {family: missing_letters(self._letters(family), words)
                for family in (site.brand.heading_face, site.brand.body_face) if family in own}
        told = [tr("{family} lacks {list}", family=family, list=" ".join(signs[:12])) for family,
                signs in lost.items() if signs]
        self._missing.setText("; ".join(told) + tr(" of your words.") if told else "")
        self._missing.setVisible(bool(told))
        repaint_role(self._missing, "fault")

    def _load(self, site: Site) -> None:
        """Make the fonts that were added known to Qt, once each."""
        for font in site.fonts:
            if font.file in self._loaded:
                continue
            try:
                data = (self._session.folder / "media" / font.file).read_bytes()
            except OSError:
                continue
            number = QFontDatabase.addApplicationFontFromData(QByteArray(data))
            known = QFontDatabase.applicationFontFamilies(number) if number >= 0 else []
            self._loaded[font.file] = font.family
            if known:
                self._loaded[font.family] = known[0]

    def _show_sample(self, sample: Words, family: str, px: int, weight: int, words: str) -> None:
        sample.setText(words)
        sample.setStyleSheet(f"font-family: '{self._loaded.get(family, family)}'; "
                             f"font-size: {px}px; font-weight: {weight}")


def _words(site: Site) -> list[str]:
    """Return the words of the site's pages, line by line."""
    return [line for _, node in nodes_of(site) for line in plain_lines(node)]


def _font_paths(event: QDragEnterEvent | QDropEvent) -> list[Path]:
    data = event.mimeData()
    return [Path(url.toLocalFile()) for url in data.urls()
            if url.toLocalFile().lower().endswith(FONT_ENDINGS)] if data else []
