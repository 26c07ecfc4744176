"""Brief: what is gathered before the first section."""

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QDialog, QHBoxLayout, QVBoxLayout, QWidget

from needle.core.edit.invented import placeholders
from needle.ui.brief.brand import BrandPart
from needle.ui.brief.commands import PARTS
from needle.ui.brief.draft import DraftDialog
from needle.ui.brief.media import MediaPart
from needle.ui.brief.overview import Overview
from needle.ui.brief.templates import TemplatesPart
from needle.ui.brief.tracing.part import BoardPart
from needle.ui.brief.what import WhatFor
from needle.ui.builder.stills import Stills
from needle.ui.cards import Tabbed
from needle.ui.language import tr
from needle.ui.session import Session

__all__ = ["BriefStage"]


class _Words(QWidget):
    """The words of the brief beside the pages as they are now."""

    def __init__(self, what: WhatFor, overview: Overview) -> None:
        super().__init__()
        self._what, self._overview = what, overview
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        row.addWidget(what)
        row.addWidget(overview, 1)

    def refresh(self) -> None:
        """Show both as they are now."""
        self._what.refresh()
        self._overview.refresh()


class BriefStage(Tabbed):
    """What is gathered before the first section.

    Attributes:
        what: The words of the brief.
        brand: Colours, type and sign.
        media: Pictures and files.
        templates: Whole pages to start from.
        board: Pictures to work from.

    Signals:
        node_asked: Show an item in Build (its id).
        page_asked: Show a page in Build (its id).
    """

    node_asked = pyqtSignal(str)
    page_asked = pyqtSignal(str)

    def __init__(self, session: Session, stills: Stills) -> None:
        super().__init__()
        self._session = session
        self._stills = stills
        self.beside: QDialog | None = None
        self.what = WhatFor(session)
        self.overview = Overview(session, stills)
        self.brand = BrandPart(session, stills)
        self.media = MediaPart(session)
        self.templates = TemplatesPart(session, stills)
        self.board = BoardPart(session, stills)
        self.board.made.connect(lambda: self.page_asked.emit(session.page.id))
        self.templates.made.connect(lambda: self.page_asked.emit(session.page.id))
        self.lay_out(dict(zip(PARTS, (
            _Words(self.what, self.overview), self.brand, self.media, self.templates, self.board),
            strict=True)))
        self.what.placeholder_asked.connect(self.show_placeholder)
        self.overview.page_asked.connect(self.page_asked)
        self.overview.asked.connect(self._begin)

    def _turn(self, name: str) -> None:
        self._stills.forget()
        super()._turn(name)

    def _begin(self, way: str) -> None:
        """Begin in one of the ways that the overview offers."""
        {"draft": self.open_draft, "templates": lambda: self.show_part("Templates"),
         "picture": lambda: self.show_part("From a picture"),
         "package": self.templates.ask_package}[way]()

    def open_draft(self) -> None:
        """Open the first draft from an idea."""
        self.draft = DraftDialog(self._session, self._stills, self)
        if self.draft.exec():
            self.page_asked.emit(self._session.page.id)

    def open_beside(self) -> None:
        """Open the board in a window of its own, to stand beside the page in Build."""
        if self.beside is None:
            self.beside = QDialog(self)
            self.beside.setWindowTitle(tr("Picture beside the page"))
            column = QVBoxLayout(self.beside)
            column.setContentsMargins(0, 0, 0, 0)
            self.board_beside = BoardPart(self._session, self._stills)
            column.addWidget(self.board_beside)
            self.beside.resize(980, 700)
        self.beside.show()
        self.beside.raise_()

    def end(self) -> None:
        """Stop what is being laid out before the window goes."""
        self.board.end()
        if self.beside is not None:
            self.board_beside.end()

    def show_placeholder(self) -> None:
        """Show the first thing that waits to be confirmed."""
        first = next((one for one in placeholders(self._session.site) if one.node), None)
        if first is not None:
            self.node_asked.emit(first.node)
