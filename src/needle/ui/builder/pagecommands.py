"""Commands on pages: making, naming, folders, their words out and in, their code."""

from collections.abc import Callable
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtWidgets import QFileDialog, QInputDialog, QWidget

from needle.core.edit.pages import (
    add_folder,
    add_page,
    delete_folder,
    delete_page,
    duplicate_page,
    move_page,
    put_in_folder,
    rename_folder,
    rename_page,
    set_slug,
    split_page,
)
from needle.core.edit.place import EditError
from needle.core.site.site import Site
from needle.core.tables.choosing import is_master
from needle.core.values.counting import counted
from needle.core.values.ids import Id
from needle.core.wording.markdown import markdown_of, read_markdown
from needle.store.files import write_atomically
from needle.ui.builder.code import CodeDialog
from needle.ui.builder.findwords import FindDialog
from needle.ui.commands import Command
from needle.ui.language import tr
from needle.ui.session import Session

__all__ = ["PageCommands"]

_MARKDOWN = tr("Markdown (*.md);;All files (*)")


class PageCommands(QObject):
    """What can be done to pages.

    Signals:
        done: A dialog has been closed.
    """

    done = pyqtSignal()

    def __init__(self, session: Session, window: QWidget) -> None:
        super().__init__(window)
        self._session = session
        self._window = window
        self._find: FindDialog | None = None

    def commands(self) -> list[Command]:
        """Return the commands, in the order of the Page menu."""
        s = self._session
        return [
            Command(id="page.new", menu="Page", title=tr("New page…"), keys="Ctrl+Alt+N",
                    run=self._new),
            Command(id="page.copy", menu="Page", title=tr("Duplicate page"),
                    run=lambda: self._made(tr("duplicate page"),
                                           lambda site: duplicate_page(site, s.page.id))),
            Command(id="page.name", menu="Page", title=tr("Rename page…"), run=self._rename),
            Command(id="page.slug", menu="Page", title=tr("Change address…"), keywords="slug",
                    run=self._change_slug, unless=lambda: tr(
                        "Its pages have addresses of their own, which stand below the table.")
                    if is_master(s.page) else ""),
            Command(id="page.delete", menu="Page", title=tr("Delete page"),
                    **self._edits(tr("delete page"), delete_page)),
            Command(id="page.earlier", menu="Page", title=tr("Move page up in the list"),
                    **self._edits(tr("order of pages"), lambda site,
                                  page: move_page(site, page, -1))),
            Command(id="page.later", menu="Page", title=tr("Move page down in the list"),
                    **self._edits(tr("order of pages"), lambda site,
                                  page: move_page(site, page, 1))),
            Command(id="page.folder", menu="Page", title=tr("Put page into a folder…"),
                    keywords="journey group", run=self._choose_folder),
            Command(id="folder.name", menu="Page", title=tr("Rename folder…"),
                    unless=self._in_no_folder, run=self._rename_folder),
            Command(id="folder.delete", menu="Page", title=tr("Delete folder, keep its pages"),
                    unless=self._in_no_folder, run=lambda: s.edit(
                        tr("delete folder"), lambda site: delete_folder(site, s.page.folder))),
            Command(id="page.split", menu="Page", title=tr("Split test: add a variant"),
                    keywords="variant test", run=self._split, unless=lambda: s.hindrance(
                        lambda site: split_page(site, s.page.id, s.now()))),
            Command(id="page.split.part", menu="Page",
                    title=tr("Split test of the chosen section, popup or form"),
                    keywords="variant test part", run=self._split_part,
                    unless=lambda: self._nothing_chosen() or s.hindrance(
                        lambda site: split_page(site, s.page.id, s.now()))),
            Command(id="page.code", menu="Page", title=tr("Outside code and own CSS…"),
                    keywords="head body script tracking style", run=self._code),
            Command(id="words.find", menu="Edit", title=tr("Find and replace words…"),
                    keys="Ctrl+F",
                    run=self.find),
            Command(id="page.words.out", menu="Page", title=tr("Words out to Markdown…"),
                    keywords="export text", run=self._words_out),
            Command(id="page.words.in", menu="Page", title=tr("Words in from Markdown…"),
                    keywords="import text", run=self._words_in),
        ]

    def _in_no_folder(self) -> str:
        return "" if self._session.page.folder else tr("This page is in no folder.")

    def _edits(self, label: str, how: Callable[[Site, Id], Site]) -> dict[str, Any]:
        """Return the ways of a command that is one edit of the page: it, and what hinders it."""
        s = self._session
        return {"run": lambda: s.edit(label, lambda site: how(site, s.page.id)),
                "unless": lambda: s.hindrance(lambda site: how(site, s.page.id))}

    def _made(self, label: str, how: Callable[[Site], tuple[Site, Id]]) -> None:
        """Run an edit that makes a page, and show that page."""
        made: list[Id] = []

        def run(site: Site) -> Site:
            site, page = how(site)
            made.append(page)
            return site

        if self._session.edit(label, run) and made:
            self._session.show_page(made[0])

    def _ask(self, title: str, label: str, text: str = "") -> str | None:
        words, taken = QInputDialog.getText(self._window, title, label, text=text)
        return words if taken else None

    def _new(self) -> None:
        name = self._ask(tr("New page"), tr("What is the page called?"))
        if name is not None:
            self._made(tr("new page"), lambda site: add_page(site, name))

    def _rename(self) -> None:
        page = self._session.page
        name = self._ask(tr("Rename page"), tr("Name"), page.name)
        if name is not None:
            self._session.edit(tr("rename page"), lambda site: rename_page(site, page.id, name))

    def _change_slug(self) -> None:
        page = self._session.page
        slug = self._ask(tr("Change address"), tr("Address below the site"), page.slug)
        if slug is not None:
            self._session.edit(tr("address of page"), lambda site: set_slug(site, page.id, slug))

    def _split(self) -> None:
        s = self._session
        page = s.page.id
        if s.edit(tr("add variant"), lambda site: split_page(site, page, s.now())):
            s.show_page(page, s.page.variants[-1].key)

    def _nothing_chosen(self) -> str:
        return "" if self._session.node() is not None else tr("Choose a part of the page first.")

    def _split_part(self) -> None:
        """Test one part: the page gets a variant in which that part alone is to be changed."""
        s = self._session
        nodes = [node.id for node in s.variant.nodes()]
        place, shown = nodes.index(s.selection), s.variant.key
        page = s.page.id
        if shown != s.page.variants[0].key:
            s.said.emit(tr("Show variant {key} first: a new one is a copy of it.",
                           key=s.page.variants[0].key), True)
        elif s.edit(tr("add variant"), lambda site: split_page(site, page, s.now())):
            s.show_page(page, s.page.variants[-1].key)
            s.select([node.id for node in s.variant.nodes()][place])
            s.said.emit(tr("Variant {key} is here to be changed in this part. Everything else is "
                           "alike, so the test tells what this change does.",
                           key=s.variant.key), False)

    # Folders

    def _choose_folder(self) -> None:
        page, site = self._session.page, self._session.site
        names = [folder.name for folder in site.folders]
        now = site.folder(page.folder)
        name, taken = QInputDialog.getItem(
            self._window, tr("Put page into a folder"),
            tr("A folder that there is, a new name, or nothing for no folder"),
            ["", *names], ["", *names].index(now.name) if now else 0, True)
        if not taken:
            return

        def how(site: Site) -> Site:
            known = next((f.id for f in site.folders if f.name == name.strip()), "")
            if name.strip() and not known:
                site, known = add_folder(site, name)
            return put_in_folder(site, page.id, known)

        self._session.edit(tr("folder of page"), how)

    def _rename_folder(self) -> None:
        folder = self._session.site.folder(self._session.page.folder)
        if folder is None:
            return
        name = self._ask(tr("Rename folder"), tr("Name"), folder.name)
        if name is not None:
            self._session.edit(tr("rename folder"),
                               lambda site: rename_folder(site, folder.id, name))

    # Words and code

    def find(self) -> None:
        """Open the search, or bring it up again."""
        if self._find is None:
            self._find = FindDialog(self._session, self._window)
            self._find.finished.connect(self.done)
        self._find.show()
        self._find.raise_()
        self._find.activateWindow()
        self._find.wanted.setFocus()
        self._find.wanted.selectAll()
        self._find.search()

    def _code(self) -> None:
        self.code_dialog = CodeDialog(self._session, self._window)
        self.code_dialog.finished.connect(self.code_dialog.deleteLater)
        self.code_dialog.finished.connect(self.done)
        self.code_dialog.open()

    def _words_out(self) -> None:
        page, variant = self._session.page, self._session.variant
        path, _ = QFileDialog.getSaveFileName(self._window, tr("Words out to Markdown"),
                                              f"{page.slug or 'home'}.md", _MARKDOWN)
        if path:
            self.write_words(Path(path), markdown_of(page, variant))

    def write_words(self, path: Path, words: str) -> None:
        """Write Markdown to a file, and say so."""
        try:
            write_atomically(path, words.encode())
        except OSError as error:
            self._session.said.emit(tr("{path} could not be written: {strerror}.",
                                       path=path, strerror=error.strerror), True)
            return
        self._session.said.emit(tr("The words are in {path}. Change them there and read them in "
                                   "again.",
                                   path=path), False)

    def _words_in(self) -> None:
        path, _ = QFileDialog.getOpenFileName(self._window, tr("Words in from Markdown"), "",
                                              _MARKDOWN)
        if path:
            self.read_words(Path(path))

    def read_words(self, path: Path) -> None:
        """Take the words of a Markdown file, and say what changed."""
        told = ""

        def how(site: Site) -> Site:
            nonlocal told
            try:
                words = path.read_text("utf-8")
            except (OSError, UnicodeDecodeError) as error:
                raise EditError("words-no-text", name=path.name, why=error) from error
            read = read_markdown(site, words)
            gone = len(read.unknown)
            told = f"{counted(read.changed, 'text')} changed" + (
                tr("; {gone} in the file are on no page any more", gone=gone) if gone else "") + "."
            return read.site

        if self._session.edit(tr("words from Markdown"), how):
            self._session.said.emit(told, False)
