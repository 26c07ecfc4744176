"""Ready-made sections and one's own, shown as pictures of themselves in the site's colours."""

from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass

import msgspec
from PyQt6.QtCore import QEvent, QObject, QPoint, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QIcon, QImage, QKeyEvent, QPainter, QPixmap
from PyQt6.QtWidgets import (
    QApplication,
    QDialog,
    QHBoxLayout,
    QInputDialog,
    QLineEdit,
    QListView,
    QListWidget,
    QListWidgetItem,
    QMenu,
    QVBoxLayout,
    QWidget,
)

from needle.core.edit.linked import drop_kept, linked_uses, rename_kept, use_kept
from needle.core.readymade.arriving import Arrived, seen
from needle.core.readymade.catalogue import all_purposes, find_ready_made, make_section
from needle.core.render.context import Context
from needle.core.site.site import Site, Variant
from needle.core.site.tree import Section, children_of
from needle.core.values.counting import counted
from needle.core.values.ids import Id, new_id
from needle.core.values.node import Node
from needle.store.media import EditPictures, keep_made
from needle.ui.builder.stills import Stills
from needle.ui.language import tr
from needle.ui.session import Session
from needle.ui.theme import tokens
from needle.ui.words import Words, plain_tip

__all__ = ["SectionDrawer"]

_EVERY, _OWN = tr("Every purpose"), tr("Kept by you")
_PICTURE = QSize(296, 190)
_PAGE_PX = 920


@dataclass(frozen=True)
class _Offer:
    """One section that can be put in.

    Attributes:
        sample: What its picture shows.
        make: Makes a fresh one, with all it needs, for the site as it is then.
        kept: The id it is kept under; empty for a ready-made one.
    """

    name: str
    note: str
    sample: Arrived[Section]
    make: Callable[[Site], Arrived[Section]]
    kept: Id = ""


class SectionDrawer(QDialog):
    """Find a section by purpose or word, see it in the site's own colours, put it in.

    Signals:
        chosen: The person took one (an `Arrived` section).
    """

    chosen = pyqtSignal(object)

    def __init__(self, session: Session, stills: Stills, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("Sections"))
        self._session = session
        self._stills = stills
        self._offers: list[_Offer] = []
        self._turn = 0
        self.line = QLineEdit()
        self.line.setPlaceholderText(tr("Find a section: prices, video, questions, two columns…"))
        self.line.setAccessibleName(tr("Find a section"))
        self.purposes = QListWidget()
        self.purposes.setAccessibleName(tr("Purpose"))
        self.purposes.setFixedWidth(150)
        self.list = QListWidget()
        self.list.setViewMode(QListView.ViewMode.IconMode)
        self.list.setIconSize(_PICTURE)
        self.list.setGridSize(QSize(_PICTURE.width() + 12, _PICTURE.height() + 34))
        self.list.setResizeMode(QListView.ResizeMode.Adjust)
        self.list.setMovement(QListView.Movement.Static)
        self.list.setTextElideMode(Qt.TextElideMode.ElideNone)
        self.list.setAccessibleName(tr("Sections"))
        self._note = Words()
        self._note.setProperty("role", "dim")
        body = QHBoxLayout()
        body.addWidget(self.purposes)
        body.addWidget(self.list, 1)
        column = QVBoxLayout(self)
        column.addWidget(self.line)
        column.addLayout(body, 1)
        column.addWidget(self._note)
        self.resize(1130, 690)
        self._fill_purposes()
        self.line.textChanged.connect(lambda _: self.refresh())
        self.purposes.currentRowChanged.connect(lambda _: self.refresh())
        self.list.itemClicked.connect(lambda _: self._take(bool(
            QApplication.keyboardModifiers() & Qt.KeyboardModifier.ControlModifier)))
        self.line.installEventFilter(self)
        self.list.installEventFilter(self)
        self.list.setContextMenuPolicy(Qt.ContextMenuPolicy.CustomContextMenu)
        self.list.customContextMenuRequested.connect(self._pop_menu)
        self.refresh()

    def _fill_purposes(self) -> None:
        self.purposes.addItem(_EVERY)
        if self._session.site.kept:
            self.purposes.addItem(_OWN)
        self.purposes.addItems(all_purposes())
        self.purposes.setCurrentRow(0)

    def refresh(self) -> None:
        """Show what fits the purpose and the words."""
        item = self.purposes.currentItem()
        purpose, words = item.text() if item else _EVERY, self.line.text().strip()
        self._stills.forget()
        self._turn += 1
        self._offers = [*self._kept(purpose, words), *self._ready(purpose, words)]
        self.list.clear()
        for number, offer in enumerate(self._offers):
            entry = QListWidgetItem(_shown(_blank()), offer.name if not offer.kept
                                    else f"{offer.name} ({offer.note})")
            entry.setToolTip(plain_tip(offer.note))
            self.list.addItem(entry)
            self._picture(number, offer)
        if self._offers:
            self.list.setCurrentRow(0)
        count = len(self._offers)
        self._note.setText(
            tr("{count}. Enter or a click puts one in after the chosen section; with Ctrl, more "
               "can follow.",
               count=counted(count, "section")) if count else
            tr("No section is called “{words}”. Try another word, or every purpose.", words=words))

    def _kept(self, purpose: str, words: str) -> list[_Offer]:
        if purpose not in (_EVERY, _OWN):
            return []
        site = self._session.site
        found = []
        for kept in site.kept:
            uses = len(linked_uses(site, kept.id))
            note = tr("linked, on {count}",
                      count=counted(uses, "page")) if kept.linked else tr("kept as a copy")
            if all(word in f"{kept.name} {note}".casefold() for word in words.casefold().split()):
                found.append(_Offer(
                    kept.name, note, Arrived(kept.section, site, {}),
                    lambda now, k=kept.id: Arrived(use_kept(now, k), now, {}),  # type: ignore[misc]
                    kept.id))
        return found

    def _ready(self, purpose: str, words: str) -> list[_Offer]:
        if purpose == _OWN:
            return []
        wanted = "" if purpose == _EVERY else purpose
        return [_Offer(one.name, one.purpose, make_section(one, self._session.site, new_id),
                       lambda now, o=one: make_section(o, now, new_id))  # type: ignore[misc]
                for one in find_ready_made(words, wanted)]

    def _picture(self, number: int, offer: _Offer) -> None:
        session, sample = self._session, offer.sample
        variant = Variant(key="A", children=(_named_apart(sample.part, number),))
        page = seen(sample.site, msgspec.structs.replace(
            session.page, variants=(variant,), master=sample.master))
        context = Context(sample.site, page, page.variants[0], "edit", EditPictures(), "/walk/")
        with suppress(OSError):  # The picture lacks its drawing then; putting it in says why.
            keep_made(session.folder, sample.files)
        turn = self._turn

        def show(image: QImage) -> None:
            # Meanwhile the list may show other sections.
            entry = self.list.item(number) if turn == self._turn else None
            if not image.isNull() and entry is not None:
                entry.setIcon(_shown(_framed(image)))

        self._stills.ask(context, _PAGE_PX, _PICTURE.width() * 2, show)

    def _take(self, stays: bool = False) -> None:
        """Put the section in; the drawer goes, or stays for more."""
        row = self.list.currentRow()
        if not 0 <= row < len(self._offers):
            return
        if not stays:
            self.accept()
        self.chosen.emit(self._offers[row].make(self._session.site))
        if stays:
            self._note.setText(tr("“{name}” is on the page. Choose the next one.",
                                  name=self._offers[row].name))
            self.line.setFocus()
            self.line.selectAll()

    def _pop_menu(self, at: QPoint) -> None:
        row = self.list.currentRow()
        if not (0 <= row < len(self._offers)) or not self._offers[row].kept:
            return
        kept_id, name = self._offers[row].kept, self._offers[row].name
        menu = QMenu(self)
        rename = menu.addAction(tr("Rename…"))
        drop = menu.addAction(tr("Keep no longer (pages stay as they are)"))
        assert rename and drop
        rename.triggered.connect(lambda: self._rename(kept_id, name))
        drop.triggered.connect(lambda: self._drop(kept_id))
        menu.popup(self.list.mapToGlobal(at))

    def _drop(self, kept_id: Id) -> None:
        self._session.edit(tr("keep section no longer"), lambda site: drop_kept(site, kept_id))
        self.refresh()

    def _rename(self, kept_id: Id, name: str) -> None:
        new, taken = QInputDialog.getText(self, tr("Rename kept section"), tr("Name"), text=name)
        if taken:
            self._session.edit(tr("name of kept section"),
                               lambda site: rename_kept(site, kept_id, new))
            self.refresh()

    # Qt

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        """Enter puts a section in, with Ctrl one after another; the arrows go into the list."""
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
                self._take(bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier))
                return True
            if event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down) and watched is self.line:
                self.list.setFocus()
                return True
        return super().eventFilter(watched, event)

    def done(self, result: int) -> None:
        self._turn += 1
        self._stills.forget()
        super().done(result)


def _named_apart(section: Section, number: int) -> Section:
    """Return the sample under ids that are the same each time, so its picture is found again."""
    names: dict[Id, Id] = {}

    def walked(node: Node) -> Node:
        names[node.id] = f"s{number}x{len(names)}"
        changes: dict[str, object] = {"id": names[node.id]}
        if inside := children_of(node):
            changes["children"] = tuple(walked(child) for child in inside)
        return msgspec.structs.replace(node, **changes)

    apart = walked(section)
    assert isinstance(apart, Section)
    return apart


def _shown(pixmap: QPixmap) -> QIcon:
    """Return an icon that looks the same when it is chosen."""
    icon = QIcon(pixmap)
    icon.addPixmap(pixmap, QIcon.Mode.Selected)
    return icon


def _blank() -> QPixmap:
    pixmap = QPixmap(_PICTURE)
    pixmap.fill(QColor(tokens().pewter))
    return pixmap


def _framed(image: QImage) -> QPixmap:
    """Return the upper part of a picture in a frame of the list's size."""
    double = _PICTURE * 2
    canvas = QPixmap(double)
    canvas.fill(QColor(tokens().pewter))
    painter = QPainter(canvas)
    top = max(0, (double.height() - image.height()) // 2)
    painter.drawImage(0, top, image)
    painter.end()
    canvas.setDevicePixelRatio(2)
    return canvas

