"""Brief: what the site is for, its colours and type, its pictures."""

from pathlib import Path

import msgspec
from PyQt6.QtCore import QSize, Qt
from PyQt6.QtGui import QColor, QIcon, QPixmap
from PyQt6.QtWidgets import (
    QColorDialog,
    QFileDialog,
    QHBoxLayout,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QPlainTextEdit,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from needle.core.colour import contrast
from needle.core.edit.whole import (
    add_medium,
    set_brief,
    set_medium_alt,
    set_site_name,
    set_swatch,
)
from needle.core.images.reading import PictureError
from needle.core.site.site import Swatch
from needle.core.type.faces import FACES
from needle.store.media import import_picture
from needle.ui.cards import PICTURE_FILTER, Card, button, label, panel, repaint_role
from needle.ui.editors import ChoiceEdit, WordsEdit
from needle.ui.session import Session

__all__ = ["BriefStage"]

_PARTS = (("idea", "In one sentence", 62),
          ("call_to_action", "The one thing a visitor should do", 0),
          ("audience", "Who it is for", 44), ("facts", "What they come to find out", 88),
          ("phrases", "Key phrases", 0), ("voice", "Voice", 0))


class BriefStage(QWidget):
    """What is gathered before the first section."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._fields: dict[str, QLineEdit | QPlainTextEdit] = {}
        self._swatches: dict[str, _SwatchRow] = {}
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        row.addWidget(self._side())
        row.addWidget(self._work(), 1)

    def _side(self) -> QWidget:
        side = panel("side", 300)
        column = QVBoxLayout(side)
        column.setContentsMargins(16, 12, 16, 12)
        column.setSpacing(4)
        column.addWidget(label("What it is for", "title"))
        self._name = WordsEdit("Name of the site")
        self._name.kept.connect(lambda words: self._session.edit(
            "name of site", lambda site: set_site_name(site, words)))
        column.addWidget(label("Name of the site", "small"))
        column.addWidget(self._name)
        for key, words, height in _PARTS:
            column.addSpacing(4)
            column.addWidget(label(words, "small"))
            field: QLineEdit | QPlainTextEdit = QPlainTextEdit() if height else QLineEdit()
            field.setAccessibleName(words)
            if isinstance(field, QPlainTextEdit):
                field.setFixedHeight(height)
                field.setTabChangesFocus(True)
                field.textChanged.connect(lambda k=key: self._take(k))
            else:
                field.textEdited.connect(lambda _, k=key: self._take(k))
            self._fields[key] = field
            column.addWidget(field)
        column.addStretch()
        return side

    def _take(self, key: str) -> None:
        field = self._fields[key]
        words = field.toPlainText() if isinstance(field, QPlainTextEdit) else field.text()
        self._session.edit("brief", lambda site: set_brief(site, key, words),
                           group=f"brief:{key}", asker=self)

    def _work(self) -> QWidget:
        work = panel("work")
        grid = QHBoxLayout(work)
        grid.setContentsMargins(18, 16, 18, 16)
        grid.setSpacing(16)
        left = QVBoxLayout()
        left.addWidget(self._palette_card())
        left.addWidget(self._type_card())
        left.addStretch()
        grid.addLayout(left, 1)
        grid.addWidget(self._media_card(), 1)
        return work

    def _palette_card(self) -> Card:
        card = Card("Brand", "one change recolours the whole site")
        for swatch in self._session.site.brand.palette:
            line = _SwatchRow(swatch)
            line.picked.clicked.connect(lambda _=False, r=swatch.role: self._pick(r))
            self._swatches[swatch.role] = line
            card.body.addWidget(line)
        return card

    def _pick(self, role: str) -> None:
        swatch = self._session.site.brand.swatch(role)
        assert swatch is not None
        colour = QColorDialog.getColor(QColor(swatch.value), self, swatch.name)
        if colour.isValid():
            self.set_colour(role, colour.name())

    def set_colour(self, role: str, value: str) -> None:
        """Change a colour of the brand."""
        self._session.edit("brand colour", lambda site: set_swatch(site, role, value))

    def _type_card(self) -> Card:
        card = Card("Type")
        families = {face.family: face.family for face in FACES}
        self._faces = {}
        for key, words in (("heading_face", "Headings"), ("body_face", "Everything else")):
            choice = ChoiceEdit(words, families, inherit=False)
            choice.chosen.connect(lambda family, k=key: self._set_face(k, family))
            line = QHBoxLayout()
            line.addWidget(label(words, "dim"), 1)
            line.addWidget(choice, 2)
            card.body.addLayout(line)
            self._faces[key] = choice
        self._sample = label("The darkest hill", "big")
        card.body.addWidget(self._sample)
        return card

    def _set_face(self, key: str, family: object) -> None:
        self._session.edit("face of brand", lambda site: msgspec.structs.replace(
            site, brand=msgspec.structs.replace(site.brand, **{key: family})))

    def _media_card(self) -> Card:
        card = Card("Pictures", grows=True)
        card.head.addWidget(button("Add pictures…", self._add))
        self._media = QListWidget()
        self._media.setAccessibleName("Pictures")
        self._media.setViewMode(QListWidget.ViewMode.IconMode)
        self._media.setIconSize(QSize(148, 96))
        self._media.setGridSize(QSize(166, 128))
        self._media.setResizeMode(QListWidget.ResizeMode.Adjust)
        self._media.setMovement(QListWidget.Movement.Static)
        self._media.currentItemChanged.connect(lambda *_: self._show_alt())
        self._alt = WordsEdit("What the picture shows")
        self._alt.setPlaceholderText("Choose a picture and say what it shows")
        self._alt.kept.connect(self._take_alt)
        self._facts = label("", "small")
        card.body.addWidget(self._media, 1)
        card.body.addWidget(label("What it shows, for those who cannot see it", "small"))
        card.body.addWidget(self._alt)
        card.body.addWidget(self._facts)
        return card

    def _add(self) -> None:
        paths, _ = QFileDialog.getOpenFileNames(self, "Add pictures", "", PICTURE_FILTER)
        for path in paths:
            self.add_picture(Path(path))

    def add_picture(self, path: Path) -> None:
        """Take one picture file into the site."""
        try:
            medium = import_picture(self._session.folder, path)
        except PictureError as error:
            self._session.said.emit(str(error), True)
            return
        if any(m.file == medium.file for m in self._session.site.media):
            self._session.said.emit(f"“{path.name}” is already among the pictures.", False)
        self._session.edit("add picture", lambda site: add_medium(site, medium))

    def _chosen_medium(self) -> str:
        item = self._media.currentItem()
        return str(item.data(Qt.ItemDataRole.UserRole)) if item else ""

    def _show_alt(self) -> None:
        medium = self._session.site.medium(self._chosen_medium())
        self._alt.show_words(medium.alt if medium else "")
        self._facts.setText(f"{medium.name} · {medium.width} × {medium.height} px · "
                            f"{medium.weight / 1000:,.0f} kB" if medium else "")

    def _take_alt(self, words: str) -> None:
        if chosen := self._chosen_medium():
            self._session.edit("alt text", lambda site: set_medium_alt(site, chosen, words))

    def refresh(self) -> None:
        """Show the brief as it is now."""
        site = self._session.site
        self._name.show_words(site.name)
        for key, field in self._fields.items():
            words = getattr(site.brief, key)
            shown = field.toPlainText() if isinstance(field, QPlainTextEdit) else field.text()
            if shown != words:
                field.blockSignals(True)
                if isinstance(field, QPlainTextEdit):
                    field.setPlainText(words)
                else:
                    field.setText(words)
                field.blockSignals(False)
        for role, line in self._swatches.items():
            line.show_swatch(site.brand.swatch(role), site.brand.swatch("paper"),
                             site.brand.swatch("on_main"))
        for key, choice in self._faces.items():
            choice.show_value(getattr(site.brand, key))
        self._sample.setStyleSheet(f"font-family: '{site.brand.heading_face}'; font-size: 24px")
        self._show_media()

    def _show_media(self) -> None:
        media = tuple(m for m in self._session.site.media if not m.is_video)
        shown = [self._media.item(i).data(Qt.ItemDataRole.UserRole)  # type: ignore[union-attr]
                 for i in range(self._media.count())]
        if shown == [medium.id for medium in media]:
            return
        self._media.clear()
        for medium in media:
            pixmap = QPixmap(str(self._session.folder / "media" / medium.file)).scaled(
                296, 192, Qt.AspectRatioMode.KeepAspectRatio,
                Qt.TransformationMode.SmoothTransformation)
            item = QListWidgetItem(QIcon(pixmap), medium.name)
            item.setData(Qt.ItemDataRole.UserRole, medium.id)
            self._media.addItem(item)


class _SwatchRow(QWidget):
    """A colour of the brand: patch, name, value, contrast."""

    def __init__(self, swatch: Swatch) -> None:
        super().__init__()
        self.setObjectName("cardline")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.picked = QPushButton()
        self.picked.setFixedSize(40, 28)
        self.picked.setAccessibleName(f"Change {swatch.name}")
        self._name = label("")
        self._value = label("", "mono")
        self._note = label("", "good")
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 4, 0, 4)
        row.addWidget(self.picked)
        row.addWidget(self._name, 2)
        row.addWidget(self._value, 1)
        row.addWidget(self._note, 2)

    def show_swatch(self, swatch: Swatch | None, paper: Swatch | None,
                    on_main: Swatch | None) -> None:
        if swatch is None:
            return
        self.picked.setStyleSheet(f"background: {swatch.value}")
        self._name.setText(swatch.name)
        self._value.setText(swatch.value)
        against = on_main if swatch.role == "main" else paper
        if against is None or swatch.role in ("paper", "mist", "on_main"):
            self._note.setText("surface" if swatch.role in ("paper", "mist") else "")
            return
        ratio = contrast(swatch.value, against.value)
        beside = f"under {against.name}" if swatch.role == "main" else "on paper"
        self._note.setText(f"{ratio:.1f} : 1 {beside}")
        repaint_role(self._note, "good" if ratio >= 4.5 else "fault")


