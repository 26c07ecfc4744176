"""First draft from an idea: proposals to choose from, seen on a page at once."""

from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass, replace
from functools import partial

import msgspec
from PyQt6.QtCore import QObject, QRunnable, Qt, QThreadPool, pyqtSignal
from PyQt6.QtGui import QColor, QImage, QPainter, QPixmap
from PyQt6.QtWidgets import (
    QCheckBox,
    QDialog,
    QHBoxLayout,
    QLineEdit,
    QPlainTextEdit,
    QProgressBar,
    QVBoxLayout,
    QWidget,
)

from needle.core.brand.marks import mark_svg
from needle.core.draft.copy import Copy, Wish, Writer, WriterError
from needle.core.draft.drafting import Drafted, Picks, draft_site
from needle.core.draft.looks import LookChoices, look_choices
from needle.core.draft.orders import order
from needle.core.draft.reading.tidying import MOST_WORDS
from needle.core.draft.slots import Slots
from needle.core.edit.brand import set_mark, set_palette
from needle.core.edit.invented import placeholders
from needle.core.render.context import Context
from needle.core.values.ids import IdSource, new_id
from needle.running.drafterclient import DrafterClient
from needle.store.media import EditPictures, keep_made
from needle.ui.brief.choices import Choices
from needle.ui.brief.drawings import vector_pixmap
from needle.ui.brief.slotsedit import SlotsEditor
from needle.ui.brief.wordsource import WordSource
from needle.ui.builder.stills import Stills
from needle.ui.cards import button, label, repaint_role, scrolled
from needle.ui.language import tr
from needle.ui.session import Session
from needle.ui.timers import once
from needle.ui.words import Words, shrinking

__all__ = ["DraftDialog"]

_DESK_PX, _PHONE_PX = 1280, 390
_DESK_SHOWN, _PHONE_SHOWN, _HIGH_SHOWN = 512, 186, 590
_SOON_MS = 160
_PREVIEW_SEED = 4711


class _Asked(QObject):
    """Brings words from a thread to the window.

    Signals:
        done: The words, or the fault in words.
    """

    done = pyqtSignal(object)


class _Ask(QRunnable):
    """Asks in a thread."""

    def __init__(self, ask: Callable[[], object], asked: _Asked) -> None:
        super().__init__()
        self._ask, self._asked = ask, asked

    def run(self) -> None:
        try:
            found = self._ask()
        except WriterError as error:
            found = str(error)
        with suppress(RuntimeError):  # The dialog has gone meanwhile.
            self._asked.done.emit(found)


class DraftDialog(QDialog):
    """From an idea to a whole site, with a choice at each step.

    Attributes:
        idea: Where the idea is written.
        slots: What was understood of it.
        replacing: Whether the draft takes the place of all pages.
    """

    def __init__(self, session: Session, stills: Stills, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("First draft from an idea"))
        self._session = session
        self._stills = stills
        self._seed = 0
        self._copy: Copy | None = None
        self._read: Slots | None = None
        self._drafter = DrafterClient()
        self._looks: LookChoices | None = None
        self._picks = Picks(session.site.name)
        self._asked: _Asked | None = None
        self._groups: dict[str, Choices] = {}
        self._soon = once(self, _SOON_MS)
        self._soon.timeout.connect(self._preview)
        body = QHBoxLayout()
        body.addWidget(self._side())
        body.addLayout(self._pictures(), 1)
        column = QVBoxLayout(self)
        column.addLayout(body, 1)
        column.addLayout(self._foot())
        self.resize(1180, 700)
        self._show_parts(False)
        if self.idea.toPlainText().strip():
            self.draft()

    # Laying out

    def _side(self) -> QWidget:
        inside = QWidget()
        column = QVBoxLayout(inside)
        column.setContentsMargins(0, 0, 8, 0)
        column.setSpacing(5)
        column.addWidget(label(tr("The idea, in a sentence or two"), "small"))
        self.idea = QPlainTextEdit(self._session.site.brief.idea)
        self.idea.setAccessibleName(tr("The idea"))
        self.idea.setPlaceholderText(tr("What it is, whom it is for, and what they have from it"))
        self.idea.setTabChangesFocus(True)
        self.idea.setFixedHeight(76)
        column.addWidget(self.idea)
        self._source = WordSource(self._session)
        line = QHBoxLayout()
        self._go = button(tr("Draft"), self.draft, main=True)
        self._again = button(tr("Another one"), partial(self.turn, 1))
        self._back = button(tr("One back"), partial(self.turn, -1))
        self._number = label("", "small")
        for widget in (self._go, self._again, self._back, self._number):
            line.addWidget(widget)
        line.addStretch()
        column.addLayout(line)
        self._busy = QProgressBar()
        self._busy.setRange(0, 0)
        self._stop = button(tr("Stop"), self._stop_asking)
        waiting = QHBoxLayout()
        waiting.addWidget(self._busy, 1)
        waiting.addWidget(self._stop)
        column.addLayout(waiting)
        self._note = label("", "small", wrap=True)
        column.addWidget(self._note)
        self._own_name = QLineEdit()
        self._own_name.setPlaceholderText(tr("or a name of your own"))
        self._own_name.setAccessibleName(tr("A name of your own"))
        self._own_name.setMaxLength(80)
        self._own_name.textEdited.connect(self._take_name)
        site = self._session.site
        if len(site.pages) <= 1 and "name" not in site.invented:
            self._own_name.setText(site.name)  # What a new site was called a moment ago.
        self.slots = SlotsEditor()
        self.slots.changed.connect(self._take_slots)
        column.addWidget(self.slots)
        column.addWidget(self._source)
        for key, words, across in (("name", tr("Name"), 2), ("headline", tr("Headline"), 1),
                                   ("sub", tr("Below it"), 1), ("palette", tr("Colours"), 4),
                                   ("pair", tr("Type"), 3), ("mark", tr("Sign"), 5),
                                   ("theme", tr("Theme"), 4),
                                   ("order", tr("Order of argument"), 2)):
            group = Choices(words, across)
            group.chosen.connect(partial(self._pick, key))
            self._groups[key] = group
            column.addWidget(group)
            if key == "name":
                column.addWidget(self._own_name)
        column.addStretch()
        area = scrolled(inside)
        area.setFixedWidth(400)
        area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        return area

    def _pictures(self) -> QHBoxLayout:
        row = QHBoxLayout()
        self._desk, self._phone = Words(), Words()
        for shown, wide, words in ((self._desk, _DESK_SHOWN, tr("Desktop")),
                                   (self._phone, _PHONE_SHOWN, tr("Phone"))):
            shrinking(shown, wide, _HIGH_SHOWN)
            shown.setAlignment(Qt.AlignmentFlag.AlignTop)
            column = QVBoxLayout()
            column.addWidget(label(words, "small"))
            column.addWidget(shown, 1)
            column.addStretch()
            row.addLayout(column)
        row.addStretch()
        return row

    def _foot(self) -> QHBoxLayout:
        line = QHBoxLayout()
        self.replacing = QCheckBox(tr("in place of the pages, names and colours that are there"))
        self.replacing.setChecked(len(self._session.site.pages) <= 1)
        self.replacing.toggled.connect(lambda _: self._fill())
        self.replacing.toggled.connect(lambda _: self._soon.start())
        self._told = label("", "small")
        self._make = button(tr("Make these pages"), self.accept, main=True)
        line.addWidget(self.replacing)
        line.addStretch()
        line.addWidget(self._told)
        line.addWidget(button(tr("Leave it"), self.reject))
        line.addWidget(self._make)
        return line

    def _show_parts(self, there: bool) -> None:
        for group in self._groups.values():
            group.setVisible(there)
        for widget in (self._own_name, self._again, self._back, self._desk, self._phone,
            self.slots):
            widget.setVisible(there)
        self._make.setEnabled(there)
        self._busy.hide()
        self._stop.hide()

    # Drafting

    def draft(self) -> None:
        """Understand what stands in the field now, and write a draft of it."""
        words = self.idea.toPlainText().strip()
        if not words:
            self._say(tr("Write the idea first: one sentence is enough."), True)
            self.idea.setFocus()
            return
        self._ask(tr("Reading the idea…"), partial(self._drafter.understand, words))

    def _write(self) -> None:
        assert self._read is not None
        wish = Wish(self._read, self._session.site.brief, self._seed)
        writer = self._source.writer(self._drafter)
        self._ask(tr("Writing…") if writer is self._drafter else tr("The endpoint is writing…"),
                  partial(_written, writer, wish))

    def _ask(self, words: str, ask: Callable[[], object]) -> None:
        self._busy.show()
        self._stop.show()
        self._go.setEnabled(False)
        self._say(words, False)
        self._asked = _Asked()
        self._asked.done.connect(self._answered)
        pool = QThreadPool.globalInstance()
        assert pool is not None
        pool.start(_Ask(ask, self._asked))

    def _stop_asking(self) -> None:
        """Wait no longer; what still comes is not looked at."""
        self._asked = None
        self._go.setEnabled(True)
        self._busy.hide()
        self._stop.hide()
        self._say(tr("Stopped."), False)

    def _answered(self, found: object) -> None:
        if self.sender() is not self._asked:
            return
        self._stop_asking()
        if isinstance(found, Slots):
            if not found.idea:
                self._say(tr("There are no words in this idea. Write what it is and whom it is "
                             "for."), True)
                return
            self.slots.show_slots(found)
            self._take_slots(found)
        elif isinstance(found, _Written):
            self._take_copy(found.copy)
            if found.spent:
                self._say(tr("Written by the endpoint, for {spent}.", spent=found.spent), False)
        else:
            self._say(str(found), True)

    def _take_slots(self, slots: object) -> None:
        """Write with slots that were understood, or put right."""
        assert isinstance(slots, Slots)
        self._read = slots
        self._write()

    def turn(self, steps: int) -> None:
        """Show another draft, or the one before."""
        self._seed = max(0, self._seed + steps)
        if self._read is not None:
            self._write()

    def _take_copy(self, copy: Copy) -> None:
        assert self._read is not None
        self._copy = copy
        name = self._own_name.text().strip() or copy.names[0]
        self._looks = look_choices(self._read, name, self._seed)
        self._picks = Picks(name)
        self._show_parts(True)
        self._say(_what_was_read(self._read, self.idea.toPlainText()), False)
        self._fill()
        self._soon.start()

    def _say(self, words: str, fault: bool) -> None:
        self._note.setText(words)
        repaint_role(self._note, "fault" if fault else "small")

    # Choosing

    def _take_name(self, words: str) -> None:
        name = words.strip() or (self._copy.names[0] if self._copy else "")
        self._picks = _with(self._picks, name=name)
        self._fill()
        self._soon.start()

    def _pick(self, key: str, number: int) -> None:
        if key == "name":
            assert self._copy is not None
            self._own_name.clear()
            self._picks = _with(self._picks, name=self._copy.names[number])
        else:
            self._picks = _with(self._picks, **{key: number})
        self._fill()
        self._soon.start()

    def _fill(self) -> None:
        if self._copy is None or self._looks is None:
            return
        copy, looks, picks = self._copy, self._looks, self._picks
        names = copy.names[:6]
        self._groups["name"].show_words(
            names, names.index(picks.name) if picks.name in names else -1)
        self._groups["headline"].show_words(copy.headlines[:4], picks.headline)
        self._groups["sub"].show_words(copy.subs[:3], picks.sub)
        self._groups["palette"].show_pictures(
            [(_strip(palette), tr("Colours around ") + palette["main"])
             for palette in looks.palettes], picks.palette)
        self._groups["pair"].show_faces(
            [(pair.heading, tr("{heading} with {body}: {character}",
                               heading=pair.heading, body=pair.body, character=pair.character))
             for pair in looks.pairs], picks.pair)
        coloured = set_palette(self._session.site, looks.palettes[picks.palette])
        named = msgspec.structs.replace(coloured, name=picks.name)
        self._groups["mark"].show_pictures(
            [(vector_pixmap(mark_svg(set_mark(named, mark)).encode(), 56, 56),
              mark.shape or tr("letters alone")) for mark in looks.marks], picks.mark)
        self._groups["theme"].show_words([tr(theme.name) for theme in looks.themes], picks.theme)
        self._groups["order"].show_words([tr(order(key).name) for key in looks.orders],
                                         picks.order)
        for key in ("palette", "pair", "mark", "theme"):
            self._groups[key].setVisible(self.replacing.isChecked())
        self._number.setText(tr("draft {seed}", seed=self._seed + 1))
        self._back.setEnabled(self._seed > 0)

    def drafted(self, ids: IdSource) -> Drafted:
        """Return the site with the draft as it is chosen now."""
        assert self._copy is not None and self._read is not None and self._looks is not None
        return draft_site(self._session.site, self._read, self._copy, self._looks, self._picks,
                          ids, self.replacing.isChecked())

    def accept(self) -> None:
        """Put the draft into the site, as one step of undo."""
        done = self.drafted(new_id)
        try:
            keep_made(self._session.folder, done.files)
        except OSError as error:
            self._say(tr("The pictures of the draft cannot be written: {strerror}. Make room on "
                         "the disk and try again.",
                         strerror=error.strerror), True)
            return
        self._session.edit(tr("first draft"), lambda _: done.site)
        self._session.show_page(done.start)
        super().accept()

    # Seeing

    def _preview(self) -> None:
        if self._copy is None:
            return
        done = self.drafted(IdSource(_PREVIEW_SEED))
        count = sum(1 for _ in placeholders(done.site))
        self._told.setText(tr("{count} invented things wait for your word afterwards", count=count))
        try:
            keep_made(self._session.folder, done.files)
        except OSError:
            return  # The preview shows no pictures then; making the pages says why.
        page = done.site.page(done.start)
        assert page is not None
        context = Context(done.site, page, page.variants[0], "edit", EditPictures(), "/walk/")
        self._stills.forget()
        self._stills.ask(context, _DESK_PX, _DESK_SHOWN * 2, partial(_show_in, self._desk),
                         highest=round(_HIGH_SHOWN * _DESK_PX / _DESK_SHOWN) + 40)
        self._stills.ask(context, _PHONE_PX, _PHONE_PX, partial(_show_in, self._phone),
                         highest=round(_HIGH_SHOWN * _PHONE_PX / _PHONE_SHOWN) + 40)

    def done(self, result: int) -> None:
        """Let go of what still runs for this dialog."""
        self._soon.stop()
        self._stills.forget()
        self._asked = None
        self._source.end()
        self._drafter.end()
        super().done(result)


def _with(picks: Picks, **fields: object) -> Picks:
    return replace(picks, **fields)  # type: ignore[arg-type]


@dataclass(frozen=True)
class _Written:
    """A draft that was written, and what an endpoint took for it."""

    copy: Copy
    spent: str


def _written(writer: Writer, wish: Wish) -> _Written:
    copy = writer.write(wish)
    return _Written(copy, str(getattr(writer, "spent", "")))


def _what_was_read(slots: Slots, words: str) -> str:
    """Return what there is to know about the reading of an idea."""
    said = tr("This is what was understood. Put right what is wrong: the draft follows.")
    if slots.corrected:
        said += " " + tr("Read {pairs}.", pairs=", ".join(
            tr("“{wrong}” as “{right}”", wrong=wrong, right=right)
            for wrong, right in slots.corrected[:4]))
    if slots.language != "en":
        said += " " + tr("It is not told in English. Needle writes English only: the page keeps "
                         "your own words, and its form speaks your language. An endpoint writes "
                         "more.")
    if len(words.split()) > MOST_WORDS:
        said += " " + tr("Only the first {most_words} words were read.", most_words=MOST_WORDS)
    return said


def _strip(palette: dict[str, str]) -> QPixmap:
    pixmap = QPixmap(128, 48)
    painter = QPainter(pixmap)
    at = 0
    for role, wide in (("paper", 22), ("mist", 22), ("main", 40), ("accent", 22), ("ink", 22)):
        painter.fillRect(at, 0, wide, 48, QColor(palette[role]))
        at += wide
    painter.end()
    return pixmap


def _show_in(shown: Words, image: QImage) -> None:
    if image.isNull():
        return
    try:
        ratio = image.width() / shown.width()
        pixmap = QPixmap.fromImage(image.copy(
            0, 0, image.width(), min(image.height(), round(_HIGH_SHOWN * ratio))))
        pixmap.setDevicePixelRatio(ratio)
        shown.setPixmap(pixmap)
    except RuntimeError:
        return  # The dialog has gone meanwhile.
