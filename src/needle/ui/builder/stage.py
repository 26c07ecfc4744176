"""Build, put together: bar, Script, live views, tray, and the commands that work on a page."""

from collections.abc import Sequence
from pathlib import Path

import msgspec
from PyQt6.QtGui import QCursor
from PyQt6.QtWidgets import (
    QFileDialog,
    QSplitter,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from needle.core.edit.forms import add_form
from needle.core.edit.linked import fitted
from needle.core.edit.media import add_medium
from needle.core.edit.nodes import Side, add_top, change, insert, insert_near, set_field
from needle.core.edit.place import EditError, find, node_at
from needle.core.films.filmfile import FilmError
from needle.core.images.picturefile import PictureError
from needle.core.kinds import ITEM_KINDS
from needle.core.kinds.kind import Kind
from needle.core.readymade.arriving import Arrived
from needle.core.render.holders import kind_of
from needle.core.site.fresh import fresh_item
from needle.core.site.site import Medium, Site
from needle.core.site.tree import Popup, Section
from needle.core.tables.mastering import with_following
from needle.core.values.ids import Id, new_id
from needle.core.values.node import Node
from needle.core.values.tables import Table
from needle.core.values.widths import Width
from needle.store.media import import_film, import_picture, keep_made
from needle.store.versions import VersionsError
from needle.ui.builder.bar import Bar
from needle.ui.builder.canvas import Canvas
from needle.ui.builder.confirming import ConfirmCommands
from needle.ui.builder.contextmenu import context_menu
from needle.ui.builder.insertpalette import INSERTED, InsertPalette
from needle.ui.builder.keptcommands import KeptCommands
from needle.ui.builder.pagecommands import PageCommands
from needle.ui.builder.partcommands import PartCommands
from needle.ui.builder.script import Script
from needle.ui.builder.sections import SectionDrawer
from needle.ui.builder.stills import Stills
from needle.ui.builder.tables.commands import TableCommands
from needle.ui.builder.tables.view import TablesView
from needle.ui.builder.tray import Tray
from needle.ui.builder.versions import VersionsDialog
from needle.ui.builder.walk import WalkThrough
from needle.ui.cards import FILM_ENDINGS, FILM_FILTER, PICTURE_FILTER
from needle.ui.commands import Command
from needle.ui.language import tr
from needle.ui.session import Session
from needle.ui.waiting import Stopped, one_apart

__all__ = ["BuildStage"]


def _known(site: Site, medium: Medium) -> Id:
    """Return the id under which the site has this file."""
    return next(m.id for m in site.media if m.file == medium.file)


class BuildStage(QWidget):
    """The main screen."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.canvas = Canvas(session)
        self.script = Script(session)
        self.tray = Tray(session)
        self.inserting: InsertPalette | None = None
        self._bar = Bar(session)
        self._bar.insert_button.clicked.connect(self.show_palette)
        self._bar.walk_button.clicked.connect(self.walk_through)
        split = QSplitter()
        split.setChildrenCollapsible(False)
        split.addWidget(self.script)
        split.addWidget(self.canvas)
        split.setSizes([272, 1008])
        split.setStretchFactor(1, 1)
        self.script.setMinimumWidth(200)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        self._middle = QStackedWidget()
        self._middle.addWidget(split)
        column.addWidget(self._bar)
        column.addWidget(self._middle, 1)
        column.addWidget(self.tray)
        self.tray.medium_asked.connect(self._choose_medium)
        self.tray.form_asked.connect(lambda _: self._new_form())
        self.canvas.measured.connect(self.tray.show_measured)
        self.tray.reach_shown.connect(self.canvas.show_group)
        self.stills = Stills(self.canvas.engine, session.folder, self)
        self._parts = PartCommands(session, self.script, self.canvas, self)
        self._pages = PageCommands(session, self)
        self._kept = KeptCommands(session, self)
        self.tables: TablesView | None = None
        self.tabling = TableCommands(session, self.canvas, self)
        self.tabling.show = self.turn_tables
        self.tabling.files.shown = self.show_table
        self.tabling.step = self._bar.rows.step
        self.tabling.files.table = self._table
        self._pages.done.connect(self._take_focus)
        self.script.menu_asked.connect(self._pop_menu)
        self.canvas.menu_asked.connect(self._pop_menu)
        self.canvas.files_dropped.connect(self.drop_files)
        self.canvas.kind_dropped.connect(self.drop_kind)

    def ring(self) -> list[QWidget]:
        """The parts that F6 goes round."""
        return [self._bar, self.script.tree, *self.canvas.frames, self.tray]

    def end(self) -> None:
        """Take the views apart before the window goes."""
        self.stills.end()
        if self.tables is not None:
            self.tables.end()
        self.canvas.end()

    # Tables

    def turn_tables(self) -> None:
        """Show the tables, or the page again."""
        if self.tables is not None and self.tables.isVisible():
            self._middle.setCurrentIndex(0)
            self._bar.show()
            self.tray.show()
            self._take_focus()
        else:
            self.show_table("")

    def show_table(self, table_id: Id) -> None:
        """Show a table of the site; by default the page's own."""
        if self.tables is None:
            self.tables = TablesView(self._session, self.canvas, self.tabling.doing())
            self.tables.left.connect(self.turn_tables)
            self.tables.card.master_asked.connect(self.tabling.ask_master)
            self._middle.addWidget(self.tables)
        self._bar.hide()
        self.tray.hide()
        self._middle.setCurrentWidget(self.tables)
        self.tables.card.show_table(table_id or self._session.page.master.table)
        self.tables.refresh()
        self.tables.card.view.setFocus()

    def _table(self) -> Table | None:
        if self.tables is not None and self.tables.isVisible():
            return self.tables.card.table
        return self._session.site.table(self._session.page.master.table)

    # Commands

    def commands(self) -> list[Command]:
        """Return what can be done to pages and their parts."""
        return [*self._pages.commands(), *self._parts.commands(),
                *ConfirmCommands(self._session).commands(), *self._insert_commands(),
                *self._kept.commands(), *self.tabling.commands(), *self._view_commands()]

    def _insert_commands(self) -> list[Command]:
        return [
            Command(id="insert.open", menu="Insert", title=tr("Insert…"), keys="Ins",
                    run=self.show_palette),
            Command(id="insert.ready", menu="Insert", title=tr("A ready-made section…"),
                    keys="Shift+Ins", keywords="template block kept own", run=self.show_drawer),
            *(Command(id=f"insert.{kind.key}", menu="Insert", title=tr(kind.label),
                      keywords=f"add new {kind.label}", listed=False,
                      run=lambda k=kind: self.insert(k))  # type: ignore[misc]
              for kind in INSERTED)]

    def _view_commands(self) -> list[Command]:
        return [
            Command(id="view.versions", menu="Site", title=tr("Earlier versions…"), keys="Ctrl+H",
                    keywords="history restore undo", run=self.show_versions),
            Command(id="view.walk", menu="View", title=tr("Walk through the draft"), keys="F5",
                    run=self.walk_through, keywords="preview"),
            Command(id="view.tray", menu="View", title=tr("Fold the tray away or back"), keys="F8",
                    run=lambda: self.tray.setVisible(not self.tray.isVisible())),
            Command(id="view.script", menu="View", title=tr("Fold the Script away or back"),
                    keys="F4", run=lambda: self.script.setVisible(not self.script.isVisible())),
            Command(id="view.swap", menu="View", title=tr("Swap the two views"),
                    run=self.canvas.swap),
            Command(id="view.desktop", menu="View", title=tr("Only the left view"),
                    keys="Ctrl+Alt+1",
                    run=lambda: self.canvas.show_alone(self.canvas.frames[0])),
            Command(id="view.phone", menu="View", title=tr("Only the right view"),
                    keys="Ctrl+Alt+2",
                    run=lambda: self.canvas.show_alone(self.canvas.frames[1])),
            *(Command(id=f"view.scope.{key}", menu="View", title=words,
                      run=lambda w=width: self._session.set_scope(w))  # type: ignore[misc]
              for key, width, words in (
                  ("all", None, tr("Change looks for every width")),
                  ("desktop", Width.DESKTOP, tr("Change looks for the desktop only")),
                  ("tablet", Width.TABLET, tr("Change looks for the tablet only")),
                  ("phone", Width.PHONE, tr("Change looks for the phone only"))))]

    # Parts

    def insert(self, kind: Kind) -> None:
        """Add a fresh node of a kind after the chosen one, or at the end of the page."""
        session = self._session
        node = fresh_item(session.site, kind, new_id())
        if session.edit(tr("add {label}", label=tr(kind.label).lower()), lambda site: insert_near(
                site, node, session.page.id, session.variant.key, session.selection)):
            session.select(node.id)

    def drop_kind(self, key: str, target: Id, side: Side) -> None:
        """Add a fresh node of a kind where it was let go."""
        session, kind = self._session, next(kind for kind in INSERTED if kind.key == key)
        if not target or kind.type is Popup:
            session.select("")
            self.insert(kind)
            return
        node = fresh_item(session.site, kind, new_id())
        if session.edit(tr("add {label}", label=tr(kind.label).lower()),
                        lambda site: insert(site, node, target, side)):
            session.select(node.id)

    def insert_section(self, arrived: Arrived[Section]) -> None:
        """Put a section after the chosen one, or at the end of the page, with all it needs."""
        session, section = self._session, arrived.part
        section = fitted(section, session.variant) if not section.linked else section
        after = self._kept.section()

        def how(_: Site) -> Site:
            page = session.page.id
            site = add_top(arrived.site, page, session.variant.key, section) \
                if after is None else insert(arrived.site, section, after.id, "after")
            return with_following(site, page, arrived.master)

        try:
            keep_made(session.folder, arrived.files)
        except OSError as error:
            session.said.emit(tr("The pictures of this section cannot be written: {strerror}. "
                                 "Make room on the disk and try again.",
                                 strerror=error.strerror), True)
            return
        if session.edit(tr("add section"), how):
            session.select(section.id)

    def show_drawer(self) -> None:
        """Show the ready-made sections and one's own."""
        self.drawer = SectionDrawer(self._session, self.stills, self)
        self.drawer.chosen.connect(self.insert_section)
        self.drawer.finished.connect(self.drawer.deleteLater)
        self.drawer.finished.connect(self._take_focus)
        self.drawer.open()
        self.drawer.line.setFocus()

    def _take_focus(self) -> None:
        """Have the keys work on the page again."""
        window = self.window()
        if window is not None:
            window.activateWindow()
        self.script.tree.setFocus()

    def show_versions(self) -> None:
        """Show the earlier versions, the one of this moment too."""
        self._session.settle()
        try:
            self.versions = VersionsDialog(self._session, self.stills, self)
        except VersionsError as error:
            self._session.said.emit(str(error), True)
            return
        self.versions.finished.connect(self.versions.deleteLater)
        self.versions.finished.connect(self._take_focus)
        self.versions.open()

    def show_palette(self) -> None:
        """Show everything that can be put in, below the bar's button."""
        if self.inserting is None:
            self.inserting = InsertPalette(self)
            self.inserting.chosen.connect(self.insert)
            self.inserting.ready_asked.connect(self.show_drawer)
            self.inserting.finished.connect(self._take_focus)
        self.inserting.open_below(self._bar.insert_button)

    # Media and forms

    def _choose_medium(self, node_id: Id, field: str) -> None:
        film = field == "film"
        path, _ = QFileDialog.getOpenFileName(
            self, tr("Add a video") if film else tr("Add a picture"), "",
            FILM_FILTER if film else PICTURE_FILTER)
        if not path:
            self.tray.refresh()
        elif film:
            self.add_film(Path(path), node_id, field)
        else:
            self.add_picture(Path(path), node_id, field)

    def add_picture(self, path: Path, node_id: Id, field: str = "medium") -> None:
        """Take a picture file into the site and show it in a node."""
        try:
            medium = one_apart(self, tr("Taking the picture in…"),
                               lambda: import_picture(self._session.folder, path))
        except (PictureError, Stopped) as error:
            self._refuse(str(error))
            return
        known = next((m for m in self._session.site.media if m.file == medium.file), medium)
        self._session.edit(tr("add picture"), lambda site: set_field(
            add_medium(site, medium), node_id, field, known.id))

    def add_film(self, path: Path, node_id: Id, field: str = "film") -> None:
        """Take a video file into the site, with a still from it, and show it in a node."""
        try:
            film, still = one_apart(self, tr("Taking the video in…"),
                                    lambda: import_film(self._session.folder, path))
        except (FilmError, Stopped) as error:
            self._refuse(str(error))
            return
        media = {m.file: m for m in self._session.site.media}
        film, still = media.get(film.file, film), media.get(still.file, still)

        def how(site: Site) -> Site:
            site = set_field(add_medium(add_medium(site, film), still), node_id, field, film.id)
            node = node_at(site, find(site, node_id))
            # The still stands where nothing was chosen to stand there.
            place = "poster" if hasattr(node, "poster") else "picture"
            return site if getattr(node, place) else set_field(site, node_id, place, still.id)

        self._session.edit(tr("add video"), how)

    def drop_files(self, paths: Sequence[str], target: Id, side: Side) -> None:
        """Put dropped pictures and videos where they were dropped."""
        for path in map(Path, paths):
            kind = ITEM_KINDS["video" if path.suffix.lower() in FILM_ENDINGS else "picture"]
            held = self._session.node(target)
            empty = isinstance(held, kind.type) and not (
                getattr(held, "medium", "") or getattr(held, "film", ""))
            # A file dropped on a picture that is still to be chosen becomes that picture.
            node = held if empty and held is not None else kind.new(new_id())
            try:
                site = self._with_file(self._session.site, node, path, target, side)
            except (PictureError, FilmError, EditError) as error:
                self._refuse(str(error))
                return
            self._session.edit(tr("drop file"), lambda _, site=site: site)  # type: ignore[misc]
            self._session.select(node.id)
            target, side = node.id, "after"

    def _with_file(self, site: Site, node: Node, path: Path, target: Id, side: Side) -> Site:
        """Return the site with an item that shows a file, which is copied into the project."""
        session = self._session
        if kind_of(node).key == "video":
            film, still = import_film(session.folder, path)
            site = add_medium(add_medium(site, film), still)
            changes = {"film": _known(site, film), "poster": _known(site, still)}
        else:
            medium = import_picture(session.folder, path)
            site = add_medium(site, medium)
            changes = {"medium": _known(site, medium)}
        if node.id == target:
            return change(site, target, lambda old: msgspec.structs.replace(old, **changes))
        node = msgspec.structs.replace(node, **changes)
        if not target:
            return add_top(site, session.page.id, session.variant.key, node)
        return insert(site, node, target, side)

    def _refuse(self, words: str) -> None:
        self._session.said.emit(words, True)
        self.tray.refresh()

    def _new_form(self) -> None:
        session, node = self._session, self._session.node()

        def how(site: Site) -> Site:
            site, fresh = add_form(site, tr("New form"))
            return set_field(site, node.id, "form", fresh) if node is not None else site

        session.edit(tr("new form"), how)

    def walk_through(self) -> None:
        """Show the draft as a visitor would see it."""
        session = self._session
        self.walk = WalkThrough(self, session.site, session.folder,
                                session.address or session.page.slug)
        self.walk.show()

    def _pop_menu(self) -> None:
        if self._session.node() is None:
            return
        self.menu = context_menu(self.commands(), self)
        self.menu.aboutToHide.connect(self.menu.deleteLater)
        self.menu.popup(QCursor.pos())
