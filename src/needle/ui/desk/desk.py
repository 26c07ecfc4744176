"""The desk: every site of this user, and what needs somebody, worst first."""

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QCloseEvent, QKeyEvent, QKeySequence, QPixmap, QShortcut
from PyQt6.QtWidgets import (
    QFileDialog,
    QHBoxLayout,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QMainWindow,
    QVBoxLayout,
    QWidget,
)

from needle.publish.standing import Standing
from needle.store.sites import KnownSite, forget_site, known_sites, moved_site, remember_site
from needle.ui.cards import PACKAGES, Card, button, label, panel, repaint_role
from needle.ui.desk.homes import Homes
from needle.ui.desk.newsite import NewSiteDialog
from needle.ui.desk.reading import StandingReader
from needle.ui.desk.rows import SITE, STANDING, SiteHeads, SiteRow, row_words
from needle.ui.language import tr
from needle.ui.opening import open_site, start_demo
from needle.ui.room import give_room, keep_room
from needle.ui.words import Words

__all__ = ["Desk"]


class _Sites(QListWidget):
    """The list; Enter opens, Del takes one off it."""

    def __init__(self, desk: "Desk") -> None:
        super().__init__()
        self._desk = desk
        self.setAccessibleName(tr("Sites"))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._desk.open_chosen()
        elif event.key() == Qt.Key.Key_Delete:
            self._desk.forget_chosen()
        else:
            super().keyPressEvent(event)


class Desk(QMainWindow):
    """The window of all sites."""

    def __init__(self, open_: Callable[[Path], bool] = open_site,
                 demo: Callable[[], bool] = start_demo) -> None:
        """Show the sites that are known.

        Args:
            open_: Opens a site; returns whether that could be tried.
            demo: Opens a fresh copy of the demo, likewise.
        """
        super().__init__()
        self.setWindowTitle("Needle")
        self._open, self._demo = open_, demo
        self._standings: dict[str, Standing] = {}
        self._rows = SiteRow()
        self._pictures: dict[str, QPixmap] = {}
        self._rows.pictures = self._pictures
        self._reader = StandingReader(self)
        self._reader.read.connect(self._on_read)
        self._homes = Homes(self)
        self._homes.made.connect(self._on_picture)
        self.list = _Sites(self)
        self.list.setItemDelegate(self._rows)
        self.list.itemActivated.connect(lambda _: self.open_chosen())
        self.list.currentItemChanged.connect(lambda *_: self._show_actions())
        self._heads = SiteHeads(self.list)
        self.needs = QListWidget()
        self.needs.setAccessibleName(tr("Needs somebody"))
        self.needs.setWordWrap(True)
        self.needs.itemActivated.connect(self._open_need)
        self.search = QLineEdit()
        self.search.setAccessibleName(tr("Find in every site"))
        self.search.setPlaceholderText(tr("Find in every site: names, pages, words   Ctrl K"))
        self.search.setFixedWidth(360)
        self.search.textChanged.connect(self._filter)
        self._count, self.said = Words(), label("", "small", wrap=True)
        self._lay_out()
        for keys, run in (("Ctrl+K", self.search.setFocus), ("Ctrl+N", self.new_site),
                          ("Ctrl+O", self.open_folder), ("Ctrl+Q", self.close)):
            QShortcut(QKeySequence(keys), self).activated.connect(run)
        give_room(self, "desk")
        self.refresh()

    def _lay_out(self) -> None:
        head = panel("deskhead")
        row = QHBoxLayout(head)
        row.setContentsMargins(16, 14, 16, 14)
        row.addWidget(label("Needle", "big"))
        row.addWidget(self._count)
        row.addStretch()
        row.addWidget(self.search)
        begin = Card(tr("Begin"))
        self.new = button(tr("New site…   Ctrl N"), self.new_site, main=True)
        for made in (self.new, button(tr("Open a folder…   Ctrl O"), self.open_folder),
                     button(tr("Open a package…"), self.open_package),
                     button(tr("The demo"), self.open_demo)):
            begin.body.addWidget(made)
        waits = Card(tr("Needs somebody"), grows=True)
        waits.body.addWidget(self.needs)
        left = QVBoxLayout()
        left.addWidget(begin)
        left.addWidget(waits, 1)
        sites = Card(tr("Sites"), tr("last opened first; visits and leads of seven days"),
                     grows=True)
        self.copy = button(tr("Copy of it…"), self.copy_chosen)
        self.forget = button(tr("Take off the list"), self.forget_chosen)
        self.moved = button(tr("Where it is now…"), self.find_moved)
        for made in (self.moved, self.copy, self.forget):
            sites.head.addWidget(made)
        self._empty = label(tr("No site yet. Make one, open a folder, or look at the demo: a "
                               "whole site with leads and a split test, all of it made up."),
                            "dim", wrap=True)
        sites.body.addWidget(self._empty)
        sites.body.addWidget(self._heads)
        sites.body.addWidget(self.list, 1)
        sites.body.addWidget(self.said)
        work = panel("work")
        whole = QHBoxLayout(work)
        whole.setContentsMargins(16, 16, 16, 16)
        whole.setSpacing(16)
        whole.addLayout(left, 3)
        whole.addWidget(sites, 10)
        body = QWidget()
        column = QVBoxLayout(body)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(head)
        column.addWidget(work, 1)
        self.setCentralWidget(body)

    # What is there

    def refresh(self) -> None:
        """List the known sites at once; what is read of them follows."""
        chosen = self._chosen()
        self._standings, known = {}, known_sites()
        self.list.clear()
        for site in known:
            item = QListWidgetItem()
            item.setData(SITE, site)
            item.setData(Qt.ItemDataRole.AccessibleTextRole, row_words(site, None))
            self.list.addItem(item)
            if chosen is not None and site.folder == chosen.folder:
                self.list.setCurrentItem(item)
            self._reader.ask(site.folder)
        if known and self.list.currentRow() < 0:
            self.list.setCurrentRow(0)
        self._empty.setVisible(not known)
        for one in (self._heads, self.list):
            one.setVisible(bool(known))
        self._count.setText(tr("{n} sites", n=len(known)) if len(known) != 1 else tr("1 site"))
        self._show_needs()
        self._show_actions()
        (self.list if known else self.new).setFocus()

    def _item(self, folder: str) -> QListWidgetItem | None:
        return next((item for row in range(self.list.count())
                     if (item := self.list.item(row)) is not None
                     and item.data(SITE).folder == folder), None)

    def _on_read(self, folder: str, standing: Standing) -> None:
        item = self._item(folder)
        if item is None:
            return
        self._standings[folder] = standing
        item.setData(STANDING, standing)
        item.setData(Qt.ItemDataRole.AccessibleTextRole, row_words(item.data(SITE), standing))
        self._show_needs()
        self._show_actions()
        self._filter()
        if not standing.fault:
            self._homes.ask(folder)

    def _on_picture(self, folder: str, picture: QPixmap) -> None:
        self._pictures[folder] = picture
        self.list.viewport().update()  # type: ignore[union-attr]

    def _show_needs(self) -> None:
        told = sorted(((need.weight, standing.name, need.words, folder)
                       for folder, standing in self._standings.items()
                       for need in standing.needs), key=lambda one: one[:3])
        names = {site.folder: site.name for site in known_sites()}
        told = [(1, names.get(folder) or Path(folder).name, tr("it cannot be read"), folder)
                for folder, standing in self._standings.items() if standing.fault] + told
        self.needs.clear()
        for number, (_, name, words, folder) in enumerate(told, 1):
            item = QListWidgetItem(f"{number}  {words[:1].upper()}{words[1:]}\n     {name}")
            item.setData(SITE, folder)
            self.needs.addItem(item)
        if not told and self._standings:
            self.needs.addItem(QListWidgetItem(tr("Nothing waits.")))

    def _filter(self) -> None:
        asked = self.search.text().lower().split()
        for row in range(self.list.count()):
            item = self.list.item(row)
            assert item is not None
            site, standing = item.data(SITE), item.data(STANDING)
            words = f"{site.name} {site.folder} {standing.words if standing else ''}".lower()
            item.setHidden(not all(one in words for one in asked))

    def _chosen(self) -> KnownSite | None:
        item = self.list.currentItem()
        return item.data(SITE) if item is not None else None

    def _show_actions(self) -> None:
        chosen = self._chosen()
        standing = self._standings.get(chosen.folder) if chosen else None
        self.copy.setEnabled(standing is not None and not standing.fault)
        self.forget.setEnabled(chosen is not None)
        gone = standing is not None and bool(standing.fault) and not Path(
            chosen.folder if chosen else "").exists()
        self.moved.setVisible(gone)
        self.moved.setEnabled(gone)

    def _say(self, words: str, fault: bool = False) -> None:
        self.said.setText(words)
        repaint_role(self.said, "fault" if fault else "small")

    # What can be done

    def open_chosen(self) -> None:
        """Open the chosen site, or bring its window to the front."""
        if (site := self._chosen()) is not None:
            self._open_folder(Path(site.folder))

    def _open_need(self, item: QListWidgetItem) -> None:
        if folder := item.data(SITE):
            self._open_folder(Path(str(folder)))

    def _open_folder(self, folder: Path) -> None:
        if not (folder / "site.json").exists():
            self._say(tr("There is no site in {folder}. If it was moved, say where it is now; "
                         "taking it off the list deletes nothing.", folder=folder), True)
        elif self._open(folder):
            self._say(tr("Opening {name}…", name=folder.name))
        else:
            self._say(tr("{name} could not be opened: no program could be started.",
                         name=folder.name), True)

    def new_site(self, begins_as: str = "") -> None:
        """Ask for a new site, make it and open it."""
        asking = NewSiteDialog([one for one in known_sites() if one.folder in self._standings
                                and not self._standings[one.folder].fault], begins_as, self)
        if asking.exec() and asking.folder is not None:
            self.take_up(asking.folder)

    def open_package(self) -> None:
        """Ask for a page package, and for the site that begins with its page."""
        path, _ = QFileDialog.getOpenFileName(self, tr("Open a page package"), "", PACKAGES)
        if not path:
            return
        asking = NewSiteDialog([], "", self)
        asking.take_package(Path(path))
        if asking.exec() and asking.folder is not None:
            self.take_up(asking.folder)

    def copy_chosen(self) -> None:
        """Ask for a new site that begins as the chosen one is."""
        if (site := self._chosen()) is not None:
            self.new_site(site.folder)

    def open_folder(self) -> None:
        """Ask for a folder with a site in it, and open that."""
        chosen = QFileDialog.getExistingDirectory(self, tr("Open the folder of a site"))
        if chosen:
            self.take_up(Path(chosen))

    def take_up(self, folder: Path) -> None:
        """Put a site on the list and open it."""
        if (folder / "site.json").exists():
            self._kept(lambda: remember_site(folder, folder.name))
            self.refresh()
        self._open_folder(folder)

    def find_moved(self) -> None:
        """Ask where the folder of the chosen site is now."""
        site = self._chosen()
        chosen = QFileDialog.getExistingDirectory(self, tr("Where the site is now"))
        if site is None or not chosen:
            return
        if not (Path(chosen) / "site.json").exists():
            self._say(tr("There is no site in {folder}.", folder=chosen), True)
            return
        self._kept(lambda: moved_site(site.folder, Path(chosen)))
        self.refresh()

    def forget_chosen(self) -> None:
        """Take the chosen site off the list; nothing of it is deleted."""
        if (site := self._chosen()) is not None:
            self._kept(lambda: forget_site(site.folder))
            self.refresh()
            self._say(tr("{name} is off the list. Its folder is as it was: {folder}",
                         name=site.name or Path(site.folder).name, folder=site.folder))

    def _kept(self, change: Callable[[], object]) -> None:
        try:
            change()
        except OSError as error:
            self._say(tr("The list of sites cannot be written: {strerror}.",
                         strerror=error.strerror or error), True)

    def open_demo(self) -> None:
        """Open a fresh copy of the demo."""
        fine = self._demo()
        self._say(tr("A fresh copy of the demo is being made…") if fine else
                  tr("The demo could not be started."), not fine)

    def closeEvent(self, event: QCloseEvent | None) -> None:
        keep_room(self, "desk")
        self._reader.end()
        self._homes.end()
        super().closeEvent(event)
