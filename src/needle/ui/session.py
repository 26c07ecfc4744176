"""The one door for change: edits, undo and selection in an open project."""

from collections.abc import Callable, Sequence
from datetime import UTC, datetime
from functools import cached_property
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from needle.core.edit.areas import changed_areas
from needle.core.edit.history import History
from needle.core.edit.linked import follow_links
from needle.core.edit.nodes import set_words
from needle.core.edit.place import EditError, find, node_at, path_to
from needle.core.render.context import Context
from needle.core.render.texts import read_lines
from needle.core.site.fresh import with_menus_written_down
from needle.core.site.site import Page, Site, Variant
from needle.core.site.tree import Popup
from needle.core.tables.choosing import is_master, rows_for
from needle.core.tables.expanding import expanded, page_shown
from needle.core.tables.filling import row_addresses, row_page_id, unfilled, with_row_pages
from needle.core.tables.mastering import depart, departures_of
from needle.core.values.areas import Area
from needle.core.values.ids import Id
from needle.core.values.node import Node
from needle.core.values.strict import StrictError
from needle.core.values.tables import TableRow
from needle.core.values.widths import Width
from needle.core.values.words import Text
from needle.store.media import EditPictures
from needle.store.project import Project
from needle.ui.language import tr
from needle.ui.saving import Saving

__all__ = ["Change", "Session"]



class Change:
    """What an edit did.

    Attributes:
        old, new: The site before and after.
        asker: Who asked for it, and so shows it already; `None` for undo and redo.
    """

    def __init__(self, old: Site, new: Site, asker: object | None) -> None:
        self.old = old
        self.new = new
        self.asker = asker

    @cached_property
    def areas(self) -> frozenset[Area]:
        """The areas of the site that it changed."""
        return changed_areas(self.old, self.new)


class Session(QObject):
    """An open project and what the person is looking at.

    Signals:
        changed: The site changed (a `Change`).
        selected: Another node, or others with it, are chosen (the one shown, or empty).
        turned: Another page or variant is shown.
        scoped: Looks are now changed for another width.
        rowed: A page that is one for each row is looked at for another row.
        saved: Saving ended (a fault in words, or empty).
        said: Something to tell the person (the words, whether it is a fault).

    Attributes:
        saving: What keeps the project on disk.
    """

    changed = pyqtSignal(object)
    selected = pyqtSignal(str)
    turned = pyqtSignal()
    scoped = pyqtSignal()
    rowed = pyqtSignal()
    saved = pyqtSignal(str)
    said = pyqtSignal(str, bool)

    def __init__(self, project: Project) -> None:
        super().__init__()
        self._project = project
        self._history = History(with_menus_written_down(project.saved))
        self._row_id: Id = ""
        self.selection: Id = ""
        self.also: tuple[Id, ...] = ()
        self.scope: Width | None = None
        home = next((p for p in self.site.pages if p.tested), None)
        first = home or (self.site.pages[0] if self.site.pages else None)
        self._page_id: Id = first.id if first else ""
        self._variant_key = "A" if first is None else first.variants[0].key
        self.saving = Saving(project, lambda: self.site, self)
        self.saving.saved.connect(self.saved)
        self.saving.said.connect(self.said)
        if self.unsaved:
            self.saving.soon()

    # What there is

    @property
    def site(self) -> Site:
        """The site as it is now."""
        return self._history.site

    @property
    def whole(self) -> Site:
        """The site with a page for each row of its tables, as it is published."""
        return expanded(self.site)

    @property
    def folder(self) -> Path:
        """The project's folder."""
        return self._project.folder

    @property
    def page(self) -> Page:
        """The page that is shown."""
        return self.site.page(self._page_id) or self.site.pages[0]

    @property
    def variant(self) -> Variant:
        """The variant that is shown."""
        return self.page.variant(self._variant_key)

    @property
    def row(self) -> TableRow | None:
        """The row of which the shown page is looked at, if it is one page for each row."""
        page = self.page
        table = self.site.table(page.master.table) if is_master(page) else None
        if table is None:
            return None
        held = table.row(self._row_id)
        return held if held is not None else next(iter(rows_for(self.site, page)), None)

    @property
    def published(self) -> Page | None:
        """The shown page as it is published: that of the row that is looked at; `None` if the
        page has no row."""
        page, row = self.page, self.row
        if not is_master(page):
            return page
        return self.whole.page(row_page_id(page.id, row.id)) if row is not None else None

    @property
    def address(self) -> str | None:
        """The address of the shown page as it is published; `None` if the page has no row."""
        page, row = self.page, self.row
        if not is_master(page):
            return page.slug
        made = row_page_id(page.id, row.id) if row is not None else ""
        return next((known[made] for known in row_addresses(with_row_pages(self.site))
                     if made in known), None)

    def look_at_row(self, row_id: Id) -> None:
        """Look at the shown page as it is for another row."""
        if row_id != self._row_id:
            self._row_id = row_id
            self.rowed.emit()

    def context(self) -> Context:
        """Return the surroundings for the editor's own renders of the shown variant."""
        page = self.page_of(self.site)
        assert page is not None
        row = self.row
        own = frozenset(one.node for one in departures_of(self.page, row.id)) if row else (
            frozenset[Id]())
        return Context(self.site, page, page.variant(self._variant_key), "edit", EditPictures(),
                       "/walk/", own)

    def page_of(self, site: Site) -> Page | None:
        """Return the shown page of a site (this one, or as it was) as the editor shows it."""
        page = site.page(self._page_id)
        if page is None:
            return None
        table, row = site.table(page.master.table), self.row
        held = table.row(row.id) if table is not None and row is not None else None
        return page_shown(site, page, held)

    def node(self, node_id: Id | None = None) -> Node | None:
        """Return a node (by default the chosen one), or `None` if it is gone."""
        wanted = self.selection if node_id is None else node_id
        try:
            return node_at(self.site, find(self.site, wanted)) if wanted else None
        except EditError:
            return None

    def path(self, node_id: Id) -> list[Node]:
        """Return the nodes from the section or popup down to a node; nothing if it is gone."""
        try:
            return path_to(self.site, find(self.site, node_id))
        except EditError:
            return []

    def popup_of(self, node_id: Id) -> Popup | None:
        """Return the popup that a node stands in, if it does."""
        path = self.path(node_id)
        return path[0] if path and isinstance(path[0], Popup) else None

    # What the person does

    def edit(self, label: str, how: Callable[[Site], Site], *, group: str = "",
             asker: object | None = None) -> bool:
        """Run an edit and announce it; return whether it was allowed.

        Args:
            label: What it does, as undo names it.
            group: Edits of one gesture share it and are one step of undo.
        """
        old = self.site
        try:
            new = follow_links(old, how(old))
        except (EditError, StrictError) as error:
            self.said.emit(str(error), True)
            return False
        if new is old:
            return True
        self._history = self._history.edited(new, label, group, self.selection)
        self.saving.note(label, self._page_id)
        self._announce(old, asker)
        return True

    def hindrance(self, how: Callable[[Site], Site]) -> str:
        """Return why an edit cannot be done, by trying it on the value; empty if it can."""
        try:
            return "" if how(self.site) is not self.site else tr("This would change nothing here.")
        except (EditError, StrictError) as error:
            return str(error)

    def close_group(self) -> None:
        """End a gesture: the next edit is a step of its own."""
        self._history = self._history.closed()

    def undo(self) -> None:
        """Take the last step back."""
        self._turn(self._history.undone(), tr("undo {label}", label=self.undo_label))

    def redo(self) -> None:
        """Do the last undone step again."""
        self._turn(self._history.redone(), tr("redo {label}", label=self.redo_label))

    def _turn(self, history: History, words: str) -> None:
        if history is self._history:
            return
        self.saving.note(words, self._page_id)
        old, self._history = self.site, history
        self._announce(old, None)

    @property
    def undo_label(self) -> str:
        """What undo would take back, or an empty text."""
        return self._history.undo_label

    @property
    def redo_label(self) -> str:
        """What redo would do again, or an empty text."""
        return self._history.redo_label

    def _announce(self, old: Site, asker: object | None) -> None:
        if self.site.page(self._page_id) is None:
            self.show_page(self.site.pages[0].id)
        elif old.page(self._page_id) is not None and self.variant.key != self._variant_key:
            self.show_page(self._page_id, self.variant.key)
        self.changed.emit(Change(old, self.site, asker))
        if self.selection and self.node() is None:
            self.select("")
        self.saving.soon()

    def select(self, node_id: Id, also: Sequence[Id] = ()) -> None:
        """Choose a node, and perhaps others with it."""
        others = tuple(dict.fromkeys(other for other in also if other != node_id))
        if (node_id, others) != (self.selection, self.also):
            self.selection, self.also = node_id, others
            self.close_group()
            self.selected.emit(node_id)

    def select_more(self, node_id: Id) -> None:
        """Choose one node more, or no longer if it was chosen."""
        if node_id in self.chosen:
            rest = [other for other in self.chosen if other != node_id]
            self.select(rest[-1] if rest else "", rest[:-1])
        else:
            self.select(node_id, self.chosen)

    @property
    def chosen(self) -> tuple[Id, ...]:
        """Every chosen node that is still there, the one that the tray shows last."""
        every = (*self.also, self.selection) if self.selection else ()
        return tuple(node_id for node_id in every if self.node(node_id) is not None)

    def show_page(self, page_id: Id, variant: str = "") -> None:
        """Show another page, or another variant of it; of a row's page, the one that makes it."""
        made = self.whole.page(page_id)
        if made is not None and made.row.page:
            page_id = made.row.page
            self.look_at_row(made.row.row)
        page = self.site.page(page_id)
        if page is None:
            return
        self._page_id = page_id
        self._variant_key = page.variant(variant).key
        self.selection, self.also = "", ()
        self.close_group()
        self.turned.emit()
        self.selected.emit("")

    def go_to(self, node_id: Id) -> None:
        """Show the page that a node is on, and choose it."""
        try:
            place = find(self.site, node_id)
        except EditError:
            return
        page = self.site.pages[place.page]
        variant = page.variants[place.variant]
        if (page.id, variant.key) != (self._page_id, self.variant.key):
            self.show_page(page.id, variant.key)
        self.select(node_id)

    def set_scope(self, width: Width | None) -> None:
        """Change looks for one width from now on, or for every width with `None`."""
        if width != self.scope:
            self.scope = width
            self.scoped.emit()

    def now(self) -> datetime:
        """Return the moment at which a split test starts or ends."""
        return datetime.now(UTC)

    def wording(self, node_id: Id, path: str, lines: tuple[Text, ...]) -> Callable[[Site], Site]:
        """Return the edit that puts these lines where they were typed.

        On the page of a row they may be that page's own; else they are those of the page that
        makes it, and the row's values among them stand for their columns.
        """
        page, row = self.page, self.row
        if row is not None and any(
                (one.node, one.path) == (node_id, path) for one in departures_of(page, row.id)):
            return lambda site: depart(site, page.id, row.id, node_id, path, lines)
        node = self.node(node_id)
        kept = unfilled(lines, read_lines(node, path)) if node is not None else lines
        return lambda site: set_words(site, node_id, kept, path)

    # Saving

    @property
    def unsaved(self) -> bool:
        """Whether something is not on disk yet."""
        return self.saving.unsaved

    def settle(self) -> None:
        """Have everything on disk now, versions too."""
        self.saving.settle()

    def save_now(self) -> None:
        """Save without waiting, and say what became of it."""
        self.saving.save_now()

    def close(self) -> str:
        """Write what is not on disk yet and let go of the project; return a fault in words."""
        return self.saving.close()
