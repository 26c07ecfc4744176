"""First draft from an idea: proposals to choose from, seen on a page at once."""

from collections.abc import Callable
from dataclasses import replace
from functools import partial

import msgspec
from PyQt6.QtCore import QObject, QRunnable, QSize, Qt, QThreadPool, pyqtSignal
from PyQt6.QtGui import QColor, QFont, QIcon, QImage, QPainter, QPixmap
from PyQt6.QtWidgets import (
    QCheckBox,
    QDialog,
    QHBoxLayout,
    QLineEdit,
    QPlainTextEdit,
    QProgressBar,
    QPushButton,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from needle.core.brand.marks import mark_svg
from needle.core.draft.copy import Copy, Wish, Writer, WriterError
from needle.core.draft.drafting import Drafted, Picks, draft_site
from needle.core.draft.idea import MOST_WORDS, Idea, read_idea
from needle.core.draft.looks import LookChoices, look_choices
from needle.core.draft.offline import OfflineWriter
from needle.core.edit.brand import set_mark, set_palette
from needle.core.edit.invented import placeholders
from needle.core.render.context import Context
from needle.core.values.ids import IdSource, new_id
from needle.store.files import write_atomically
from needle.store.media import EditPictures
from needle.ui.brief.drawings import vector_pixmap
from needle.ui.brief.wordsource import WordSource
from needle.ui.builder.stills import Stills
from needle.ui.cards import button, label, repaint_role, scrolled
from needle.ui.language import tr
from needle.ui.session import Session
from needle.ui.timers import once
from needle.ui.words import Words, set_tip

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
    """Asks a writer in a thread."""

    def __init__(self, writer: Writer, wish: Wish, asked: _Asked) -> None:
        super().__init__()
        self._writer, self._wish, self._asked = writer, wish, asked

    def run(self) -> None:
        try:
            found: object = self._writer.write(self._wish)
        except WriterError as error:
            found = str(error)
        self._asked.done.emit(found)


class DraftDialog(QDialog):
    """From an idea to a whole site, with a choice at each step.

    Attributes:
        idea: Where the idea is written.
        replacing: Whether the draft takes the place of all pages.
    """

    def __init__(self, session: Session, stills: Stills, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("First draft from an idea"))
        self._session = session
        self._stills = stills
        self._seed = 0
        self._copy: Copy | None = None
        self._read: Idea | None = None
        self._looks: LookChoices | None = None
        self._picks = Picks(session.site.name)
        self._asked: _Asked | None = None
        self._groups: dict[str, _Choices] = {}
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
        column.addWidget(self._source)
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
        for key, words, across in (("name", tr("Name"), 2), ("headline", tr("Headline"), 1),
                                   ("sub", tr("Below it"), 1), ("palette", tr("Colours"), 4),
                                   ("pair", tr("Type"), 3), ("mark", tr("Sign"), 5),
                                   ("layout", tr("Layout"), 4)):
            group = _Choices(words, across)
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
            shown.setFixedSize(wide, _HIGH_SHOWN)
            shown.setAlignment(Qt.AlignmentFlag.AlignTop)
            column = QVBoxLayout()
            column.addWidget(label(words, "small"))
            column.addWidget(shown)
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
        for widget in (self._own_name, self._again, self._back, self._desk, self._phone):
            widget.setVisible(there)
        self._make.setEnabled(there)
        self._busy.hide()
        self._stop.hide()

    # Drafting

    def draft(self) -> None:
        """Write a draft of what stands in the field now."""
        words = self.idea.toPlainText().strip()
        if not words:
            self._say(tr("Write the idea first: one sentence is enough."), True)
            self.idea.setFocus()
            return
        self._read = read_idea(words)
        if not self._read.words:
            self._say(tr("There are no words in this idea. Write what it is and whom it is for."),
                      True)
            return
        wish = Wish(self._read.words, self._session.site.brief, self._seed)
        writer = self._source.writer()
        if isinstance(writer, OfflineWriter):
            self._take_copy(writer.write(wish))
            return
        self._busy.show()
        self._stop.show()
        self._go.setEnabled(False)
        self._say(tr("The endpoint is writing…"), False)
        self._asked = _Asked()
        self._asked.done.connect(self._answered)
        pool = QThreadPool.globalInstance()
        assert pool is not None and writer is not None
        pool.start(_Ask(writer, wish, self._asked))

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
        if isinstance(found, Copy):
            self._take_copy(found)
        else:
            self._say(str(found), True)

    def turn(self, steps: int) -> None:
        """Show another draft, or the one before."""
        self._seed = max(0, self._seed + steps)
        self.draft()

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
        self._groups["layout"].show_words([str(n + 1) for n in range(len(looks.layouts))],
                                          picks.layout)
        for key in ("palette", "pair", "mark"):
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
            self._keep_files(done)
        except OSError as error:
            self._say(tr("The pictures of the draft cannot be written: {strerror}. Make room on "
                         "the disk and try again.",
                         strerror=error.strerror), True)
            return
        self._session.edit(tr("first draft"), lambda _: done.site)
        self._session.show_page(done.start)
        super().accept()

    def _keep_files(self, done: Drafted) -> None:
        for name, data in done.files.items():
            path = self._session.folder / "media" / name
            if not path.exists():
                write_atomically(path, data)

    # Seeing

    def _preview(self) -> None:
        if self._copy is None:
            return
        done = self.drafted(IdSource(_PREVIEW_SEED))
        count = sum(1 for _ in placeholders(done.site))
        self._told.setText(tr("{count} invented things wait for your word afterwards", count=count))
        try:
            self._keep_files(done)
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
        super().done(result)


def _with(picks: Picks, **fields: object) -> Picks:
    return replace(picks, **fields)  # type: ignore[arg-type]


def _what_was_read(idea: Idea, words: str) -> str:
    """Return what was understood, so that the person can put it right."""
    parts = [tr("Understood: {value}", value=f"{idea.article} {idea.what}".strip())]
    parts += [tr("for {who}", who=idea.who)] if idea.who else []
    parts += [part for part in (idea.place, idea.when, idea.price) if part]
    said = ", ".join(parts) + "."
    if not idea.english:
        said += (tr(" The words that ship are English only; your own sentence became the "
                    "headline. An endpoint writes in other languages."))
    if len(words.split()) > MOST_WORDS:
        said += tr(" Only the first {most_words} words were read.", most_words=MOST_WORDS)
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


class _Choices(QWidget):
    """Proposals side by side, one of them taken.

    Signals:
        chosen: The person took one (its place).
    """

    chosen = pyqtSignal(int)

    def __init__(self, words: str, across: int) -> None:
        super().__init__()
        self._words = words
        self._across = across
        self._buttons: list[QToolButton | QPushButton] = []
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 2, 0, 0)
        self._column.setSpacing(3)
        self._column.addWidget(label(words, "small"))

    def _show(self, count: int, taken: int, dress: Callable[[QToolButton, int], None]) -> None:
        if len(self._buttons) != count:
            self._remake(count)
        for number, choice in enumerate(self._buttons):
            assert isinstance(choice, QToolButton)
            dress(choice, number)
            choice.setChecked(number == taken)

    def _remake(self, count: int) -> None:
        while self._column.count() > 1:
            item = self._column.takeAt(1)
            if item is not None and item.widget() is not None:
                item.widget().deleteLater()  # type: ignore[union-attr]
        self._buttons = []
        for start in range(0, count, self._across):
            holder = QWidget()
            row = QHBoxLayout(holder)
            row.setContentsMargins(0, 0, 0, 0)
            row.setSpacing(3)
            for number in range(start, min(count, start + self._across)):
                choice = QToolButton()
                choice.setCheckable(True)
                choice.setProperty("role", "segment")
                choice.setSizePolicy(choice.sizePolicy().Policy.Ignored if self._across < 3
                                     else choice.sizePolicy().Policy.Preferred,
                                     choice.sizePolicy().Policy.Fixed)
                choice.clicked.connect(lambda _=False, n=number: self.chosen.emit(n))
                self._buttons.append(choice)
                row.addWidget(choice, 1 if self._across < 3 else 0)
            if self._across >= 3:
                row.addStretch()
            self._column.addWidget(holder)

    def show_words(self, words: list[str] | tuple[str, ...], taken: int) -> None:
        """Show proposals of words."""
        def dress(choice: QToolButton, number: int) -> None:
            shown = words[number] if len(words[number]) <= 56 else words[number][:55] + "…"
            choice.setText(shown.replace("&", "&&"))
            set_tip(choice, words[number])
            choice.setAccessibleName(f"{self._words}: {words[number]}")

        self._show(len(words), taken, dress)

    def show_pictures(self, pictures: list[tuple[QPixmap, str]], taken: int) -> None:
        """Show proposals that are seen."""
        def dress(choice: QToolButton, number: int) -> None:
            pixmap, words = pictures[number]
            choice.setIcon(QIcon(pixmap))
            choice.setIconSize(QSize(pixmap.width() // 2, pixmap.height() // 2))
            set_tip(choice, words)
            choice.setAccessibleName(f"{self._words}: {words}")

        self._show(len(pictures), taken, dress)

    def show_faces(self, faces: list[tuple[str, str]], taken: int) -> None:
        """Show proposals of type in their own faces."""
        def dress(choice: QToolButton, number: int) -> None:
            family, words = faces[number]
            font = QFont(family)
            font.setPixelSize(15)
            choice.setFont(font)
            choice.setStyleSheet(f"font-family: '{family}'; font-size: 15px")
            choice.setText(family.split(" ", maxsplit=1)[0])
            set_tip(choice, words)
            choice.setAccessibleName(f"{self._words}: {words}")

        self._show(len(faces), taken, dress)
