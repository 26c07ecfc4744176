"""Build, put together: bar, Script, live views, tray, and the commands that work on a page."""

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QMimeData
from PyQt6.QtGui import QCursor
from PyQt6.QtWidgets import (
    QApplication,
    QFileDialog,
    QInputDialog,
    QMenu,
    QSplitter,
    QVBoxLayout,
    QWidget,
)

from needle.core.edit.clipping import clip, clip_words, paste
from needle.core.edit.forms import add_form
from needle.core.edit.nodes import (
    add_top,
    delete,
    duplicate,
    insert,
    node_rank,
    nudge,
    set_field,
    set_hidden,
    split_row,
)
from needle.core.edit.pages import (
    add_page,
    delete_page,
    duplicate_page,
    rename_page,
    set_slug,
    split_page,
)
from needle.core.edit.whole import add_medium
from needle.core.images.reading import PictureError
from needle.core.kinds import ITEM_KINDS
from needle.core.render.holders import KINDS, kind_of, render_node
from needle.core.site.ids import Id, new_id
from needle.core.site.kind import Kind
from needle.core.site.site import Site
from needle.core.site.tree import Column, Popup, Row, Section
from needle.core.site.widths import Width
from needle.store.media import import_picture
from needle.ui.build.bar import Bar
from needle.ui.build.canvas import Canvas
from needle.ui.build.script import Script
from needle.ui.build.tray import Tray
from needle.ui.build.walk import WalkThrough
from needle.ui.cards import PICTURE_FILTER
from needle.ui.commands import Command
from needle.ui.session import Session
from needle.ui.theme import icon

__all__ = ["BuildStage"]

PART_MIME = "application/x-needle-part+json"


class BuildStage(QWidget):
    """The main screen."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.canvas = Canvas(session)
        self.script = Script(session)
        self.tray = Tray(session)
        self._bar = Bar(session, self.insert_menu)
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
        column.addWidget(self._bar)
        column.addWidget(split, 1)
        column.addWidget(self.tray)
        self.tray.medium_asked.connect(self._choose_medium)
        self.tray.form_asked.connect(lambda _: self._new_form())
        self.canvas.measured.connect(self.tray.show_measured)
        self.script.menu_asked.connect(self._pop_menu)
        self.canvas.menu_asked.connect(self._pop_menu)

    # Commands

    def commands(self) -> list[Command]:
        """Return what can be done to pages and their parts."""
        return [*self._page_commands(), *self._node_commands(), *self._insert_commands(),
                *self._view_commands()]

    def _page_commands(self) -> list[Command]:
        s = self._session
        return [
            Command(id="page.new", menu="Page", title="New page…", keys="Ctrl+Alt+N",
                    run=self._new_page),
            Command(id="page.copy", menu="Page", title="Duplicate page",
                    run=lambda: self._made_page("duplicate page",
                                                lambda site: duplicate_page(site, s.page.id))),
            Command(id="page.name", menu="Page", title="Rename page…", run=self._rename_page),
            Command(id="page.slug", menu="Page", title="Change address…", keywords="slug",
                    run=self._change_slug),
            Command(id="page.delete", menu="Page", title="Delete page", run=lambda: s.edit(
                "delete page", lambda site: delete_page(site, s.page.id))),
            Command(id="page.split", menu="Page", title="Split test: add a variant",
                    keywords="variant test", run=self._split),
        ]

    def _split(self) -> None:
        s = self._session
        page = s.page.id
        if s.edit("add variant", lambda site: split_page(site, page, s.today())):
            s.show_page(page, s.page.variants[-1].key)

    def _node_commands(self) -> list[Command]:
        s = self._session

        def on_node(label: str, how: Callable[[Site, Id], Site]) -> Callable[[], object]:
            return lambda: s.edit(label, lambda site: how(site, s.selection))

        def chosen() -> bool:
            return bool(s.selection)

        return [
            Command(id="node.edit", menu="Edit", title="Type in the Script", keys="F2",
                    run=self.script.edit_chosen, enabled=chosen),
            Command(id="node.copy", menu="Edit", title="Duplicate", keys="Ctrl+D",
                    run=self._duplicate, enabled=chosen),
            Command(id="node.clip", menu="Edit", title="Copy", keys="Ctrl+C", run=self._clip,
                    enabled=chosen),
            Command(id="node.cut", menu="Edit", title="Cut", keys="Ctrl+X", run=self._cut,
                    enabled=chosen),
            Command(id="node.paste", menu="Edit", title="Paste", keys="Ctrl+V",
                    run=self._paste),
            Command(id="node.up", menu="Edit", title="Move up", keys="Alt+Up", enabled=chosen,
                    run=on_node("move up", lambda site, i: nudge(site, i, -1))),
            Command(id="node.down", menu="Edit", title="Move down", keys="Alt+Down",
                    enabled=chosen, run=on_node("move down", lambda site, i: nudge(site, i, 1))),
            Command(id="node.delete", menu="Edit", title="Delete", keys="Del", enabled=chosen,
                    run=on_node("delete", delete)),
            Command(id="node.outer", menu="Edit", title="Choose what holds it", keys="Alt+Left",
                    enabled=chosen, run=self._choose_outer),
            *(Command(id=f"node.hide.{width.value}", menu="Edit", keys=keys, enabled=chosen,
                      title=f"Hide or show on {width.value}",
                      run=lambda w=width: self._toggle_hidden(w))  # type: ignore[misc]
              for width, keys in ((Width.PHONE, "Alt+1"), (Width.TABLET, "Alt+2"),
                                  (Width.DESKTOP, "Alt+3"))),
            *(Command(id=f"row.columns.{n}", menu="Edit", keywords="split row columns",
                      title=f"Row of {n} columns", enabled=self._in_row,
                      run=lambda n=n: self._split_row(n)) for n in (1, 2, 3, 4)),  # type: ignore[misc]
            Command(id="words.strong", menu="Edit", title="Bold", keys="Ctrl+B",
                    run=lambda: self._mark("strong")),
            Command(id="words.emphasis", menu="Edit", title="Italic", keys="Ctrl+I",
                    run=lambda: self._mark("emphasis")),
            Command(id="words.link", menu="Edit", title="Link the chosen words…", keys="Ctrl+L",
                    run=self._link),
        ]

    def _insert_commands(self) -> list[Command]:
        kinds = [kind for kind in KINDS if kind.type is not Column]
        return [
            Command(id="insert.menu", menu="Insert", title="Insert…", keys="Ins",
                    run=self.pop_insert_menu),
            *(Command(id=f"insert.{kind.key}", menu="Insert", title=kind.label,
                      keywords=f"add new {kind.label}", run=lambda k=kind: self.insert(k))  # type: ignore[misc]
              for kind in kinds)]

    def _view_commands(self) -> list[Command]:
        return [
            Command(id="view.walk", menu="View", title="Walk through the draft", keys="F5",
                    run=self.walk_through, keywords="preview"),
            Command(id="view.tray", menu="View", title="Fold the tray away or back", keys="F8",
                    run=lambda: self.tray.setVisible(not self.tray.isVisible())),
            Command(id="view.script", menu="View", title="Fold the Script away or back",
                    keys="F4", run=lambda: self.script.setVisible(not self.script.isVisible())),
            Command(id="view.swap", menu="View", title="Swap the two views",
                    run=self.canvas.swap),
            Command(id="view.desktop", menu="View", title="Only the left view", keys="Ctrl+Alt+1",
                    run=lambda: self.canvas.show_alone(self.canvas.frames[0])),
            Command(id="view.phone", menu="View", title="Only the right view", keys="Ctrl+Alt+2",
                    run=lambda: self.canvas.show_alone(self.canvas.frames[1])),
            *(Command(id=f"view.scope.{key}", menu="View", title=words,
                      run=lambda w=width: self._session.set_scope(w))  # type: ignore[misc]
              for key, width, words in (
                  ("all", None, "Change looks for every width"),
                  ("desktop", Width.DESKTOP, "Change looks for the desktop only"),
                  ("tablet", Width.TABLET, "Change looks for the tablet only"),
                  ("phone", Width.PHONE, "Change looks for the phone only")))]

    # Pages

    def _new_page(self) -> None:
        name, taken = QInputDialog.getText(self, "New page", "What is the page called?")
        if taken:
            self._made_page("new page", lambda site: add_page(site, name))

    def _made_page(self, label: str, how: Callable[[Site], tuple[Site, Id]]) -> None:
        """Run an edit that makes a page, and show that page."""
        if made := self._made(label, how):
            self._session.show_page(made)

    def _made(self, label: str, how: Callable[[Site], tuple[Site, Id]]) -> Id:
        """Run an edit that makes something, and return its id, or nothing if it was refused."""
        made: list[Id] = []

        def run(site: Site) -> Site:
            after, made_id = how(site)
            made.append(made_id)
            return after

        return made[0] if self._session.edit(label, run) and made else ""

    def _rename_page(self) -> None:
        page = self._session.page
        name, taken = QInputDialog.getText(self, "Rename page", "Name", text=page.name)
        if taken:
            self._session.edit("rename page", lambda site: rename_page(site, page.id, name))

    def _change_slug(self) -> None:
        page = self._session.page
        slug, taken = QInputDialog.getText(self, "Change address", "Address below the site",
                                           text=page.slug)
        if taken:
            self._session.edit("address of page", lambda site: set_slug(site, page.id, slug))

    # Parts

    def insert(self, kind: Kind) -> None:
        """Add a fresh node of a kind after the chosen one, or at the end of the page."""
        session = self._session
        node = kind.new(new_id())

        def how(site: Site) -> Site:
            target = session.node()
            if target is None or isinstance(node, Popup) or (
                    isinstance(node, Section) and session.popup_of(target.id)):
                return add_top(site, session.page.id, session.variant.key, node)
            inside = node_rank(target) > node_rank(node)
            return insert(site, node, target.id, "inside" if inside else "after")

        if session.edit(f"add {kind.label.lower()}", how):
            session.select(node.id)

    def insert_menu(self, menu: QMenu) -> None:
        """Fill a menu with everything that can be added."""
        for kind in KINDS:
            if kind.type is Column:
                continue
            if kind is next(iter(ITEM_KINDS.values())):
                menu.addSeparator()
            action = menu.addAction(icon(kind.mark), kind.label)
            assert action is not None
            action.triggered.connect(lambda _=False, k=kind: self.insert(k))

    def pop_insert_menu(self) -> None:
        """Show everything that can be added, at the bar's button."""
        self._bar.insert_button.showMenu()

    def _duplicate(self) -> None:
        made = self._made("duplicate", lambda site: duplicate(site, self._session.selection))
        if made:
            self._session.select(made)

    def _clip(self) -> None:
        """Put the chosen part on the clipboard, for this and other Needle windows."""
        session = self._session
        mime = QMimeData()
        mime.setData(PART_MIME, clip(session.site, session.selection))
        mime.setText(clip_words(session.site, session.selection))
        mime.setHtml(str(render_node(session.path(session.selection)[-1], session.context())))
        clipboard = QApplication.clipboard()
        assert clipboard is not None
        clipboard.setMimeData(mime)

    def _cut(self) -> None:
        self._clip()
        self._session.edit("cut", lambda site: delete(site, self._session.selection))

    def _paste(self) -> None:
        clipboard = QApplication.clipboard()
        mime = clipboard.mimeData() if clipboard else None
        session = self._session
        if mime is None or not mime.hasFormat(PART_MIME):
            session.said.emit("The clipboard holds no part of a page. Copy a section or an item "
                              "first; to paste words, click into a text.", True)
            return
        data = bytes(mime.data(PART_MIME).data())
        made = self._made("paste", lambda site: paste(
            site, data, session.page.id, session.variant.key, session.selection))
        if made:
            session.select(made)

    def _choose_outer(self) -> None:
        path = self._session.path(self._session.selection)
        if len(path) > 1:
            self._session.select(path[-2].id)

    def _toggle_hidden(self, width: Width) -> None:
        node = self._session.node()
        if node is not None:
            hide = width not in node.hidden
            self._session.edit(f"{'hide' if hide else 'show'} on {width.value}",
                               lambda site: set_hidden(site, node.id, width, hide))

    def _row(self) -> Row | None:
        return next((n for n in self._session.path(self._session.selection)
                     if isinstance(n, Row)), None)

    def _in_row(self) -> bool:
        return self._row() is not None

    def _split_row(self, columns: int) -> None:
        row = self._row()
        if row is not None:
            self._session.edit("columns of row", lambda site: split_row(site, row.id, columns))

    def _mark(self, kind: str, value: str = "") -> None:
        for view in self.canvas.views:
            view.call("mark", kind, value)

    def _link(self) -> None:
        address, taken = QInputDialog.getText(self, "Link", "Address (empty takes the link away)")
        if taken:
            self._mark("link", address.strip())

    def _choose_medium(self, node_id: Id, field: str) -> None:
        path, _ = QFileDialog.getOpenFileName(self, "Add a picture", "", PICTURE_FILTER)
        if path:
            self.add_picture(Path(path), node_id, field)
        else:
            self.tray.refresh()

    def add_picture(self, path: Path, node_id: Id, field: str = "medium") -> None:
        """Take a picture file into the site and show it in a node."""
        try:
            medium = import_picture(self._session.folder, path)
        except PictureError as error:
            self._session.said.emit(str(error), True)
            self.tray.refresh()
            return
        known = next((m for m in self._session.site.media if m.file == medium.file), medium)
        self._session.edit("add picture", lambda site: set_field(
            add_medium(site, medium), node_id, field, known.id))

    def _new_form(self) -> None:
        session = self._session
        node = session.node()
        made = self._made("new form", lambda site: add_form(site, "New form"))
        if made and node is not None:
            session.edit("form of item", lambda site: set_field(site, node.id, "form", made))

    def walk_through(self) -> None:
        """Show the draft as a visitor would see it."""
        session = self._session
        self.walk = WalkThrough(self, session.site, session.folder, session.page.slug)
        self.walk.show()

    def _pop_menu(self) -> None:
        node = self._session.node()
        if node is None:
            return
        menu = QMenu(self)
        menu.addSection(kind_of(node).label)
        for command in self._node_commands():
            if command.id.startswith("words") or not command.enabled():
                continue
            action = menu.addAction(f"{command.words}\t{command.keys}")
            assert action is not None
            action.triggered.connect(lambda _=False, c=command: c.run())
        menu.popup(QCursor.pos())
