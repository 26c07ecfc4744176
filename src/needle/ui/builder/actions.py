"""Editing what a click does."""

from collections.abc import Callable

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import QAction
from PyQt6.QtWidgets import QInputDialog, QMenu, QToolButton, QVBoxLayout, QWidget

from needle.core.edit.outline import action_words, node_words
from needle.core.kinds.video import Video
from needle.core.render.holders import kind_of
from needle.core.site.tree import Popup, Section
from needle.core.values.actions import (
    Action,
    ClosePopup,
    CountGoal,
    Dial,
    GiveFile,
    GoAddress,
    GoPage,
    GoSection,
    HidePart,
    OpenPopup,
    PlayVideo,
    ShowPart,
    Write,
)
from needle.ui.language import tr
from needle.ui.session import Session

__all__ = ["ActionsEdit"]

_MOST = 5


class ActionsEdit(QWidget):
    """What a click does, in order; each line is a menu of everything it could do.

    Signals:
        chosen: The person changed it (a tuple of actions).
    """

    chosen = pyqtSignal(object)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._actions: tuple[Action, ...] = ()
        self._lines: list[QToolButton] = []
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        for number in range(_MOST):
            line = QToolButton()
            line.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
            line.setAccessibleName(tr("What a click does, {number}", number=number + 1))
            line.setProperty("role", "segment")
            line.setMinimumWidth(130)
            menu = QMenu(line)
            menu.aboutToShow.connect(lambda m=menu, n=number: self._fill(m, n))
            line.setMenu(menu)
            column.addWidget(line)
            self._lines.append(line)

    def show_actions(self, actions: tuple[Action, ...]) -> None:
        """Show what a click does now."""
        self._actions = actions
        for number, line in enumerate(self._lines):
            line.setVisible(number <= len(actions))
            words = action_words(actions[number], self._session.site, self._session.variant) \
                if number < len(actions) else (tr("choose what happens…") if number == 0
                                               else tr("add another…"))
            line.setText(f"{number + 1}   {words}" if number < len(actions) else words)

    def _fill(self, menu: QMenu, number: int) -> None:
        menu.clear()
        site, variant, page = self._session.site, self._session.variant, self._session.page
        pages = menu.addMenu(tr("Go to a page"))
        sections = menu.addMenu(tr("Go to a section"))
        popups = menu.addMenu(tr("Open a popup"))
        assert pages and sections and popups
        for other in site.pages:
            if other.id != page.id:
                self._offer(pages, other.name, number, GoPage(other.id))
        for section in variant.children:
            self._offer(sections, section.name or tr("Section"), number, GoSection(section.id))
        for popup in variant.popups:
            self._offer(popups, popup.name, number, OpenPopup(popup.id))
        popups.setEnabled(bool(variant.popups))
        self._offer(menu, tr("Close the popup"), number, ClosePopup())
        self._offer_parts(menu, number)
        self._ask(menu, tr("Go to an address…"), tr("Address"), number, GoAddress)
        self._ask(menu, tr("Call a number…"), tr("Phone number"), number, Dial)
        files = menu.addMenu(tr("Hand out a file"))
        assert files
        for medium in site.media:
            if not medium.is_picture and not medium.is_video:
                self._offer(files, medium.name, number, GiveFile(medium.id))
        files.setEnabled(not files.isEmpty())
        self._ask(menu, tr("Write an e-mail…"), tr("E-mail address"), number, Write)
        self._ask(menu, tr("Count as a goal…"), tr("What the click counts as"), number, CountGoal)
        if number < len(self._actions):
            menu.addSeparator()
            remove = QAction(tr("Do nothing"), menu)
            remove.triggered.connect(lambda: self._set(number, None))
            menu.addAction(remove)

    def _offer_parts(self, menu: QMenu, number: int) -> None:
        """Offer what can be shown, hidden and played: sections, named parts, videos."""
        variant, context = self._session.variant, self._session.context()
        show, hide = menu.addMenu(tr("Show a part")), menu.addMenu(tr("Hide a part"))
        play = menu.addMenu(tr("Play a video"))
        assert show and hide and play
        for node in variant.nodes():
            if isinstance(node, Video):
                self._offer(play, node_words(node, context)[:40], number, PlayVideo(node.id))
            if isinstance(node, Section) or (node.name and not isinstance(node, Popup)):
                words = node.name or tr(kind_of(node).label)
                self._offer(show, words, number, ShowPart(node.id))
                self._offer(hide, words, number, HidePart(node.id))
        play.setEnabled(not play.isEmpty())

    def _offer(self, menu: QMenu, words: str, number: int, action: Action) -> None:
        entry = QAction(words, menu)
        entry.triggered.connect(lambda: self._set(number, action))
        menu.addAction(entry)

    def _ask(self, menu: QMenu, words: str, label: str, number: int,
             make: Callable[[str], Action]) -> None:
        def ask() -> None:
            answer, taken = QInputDialog.getText(self, words.rstrip("…"), label)
            if taken and answer.strip():
                self._set(number, make(answer.strip()))

        entry = QAction(words, menu)
        entry.triggered.connect(ask)
        menu.addAction(entry)

    def _set(self, number: int, action: Action | None) -> None:
        rest = self._actions[number + 1 :]
        middle = () if action is None else (action,)
        self.chosen.emit((*self._actions[:number], *middle, *rest))
