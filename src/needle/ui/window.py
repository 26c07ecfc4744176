"""The window: the seam, the stage that is shown, the menus, and what is said below."""

import time
from collections.abc import Callable
from dataclasses import replace
from functools import partial
from pathlib import Path

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtGui import QCloseEvent
from PyQt6.QtWidgets import (
    QApplication,
    QFileDialog,
    QInputDialog,
    QLineEdit,
    QMainWindow,
    QMenuBar,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from needle.core.edit.whole import set_site_name
from needle.core.progress import STAGES, Results, StageStatus, stage_statuses
from needle.core.snags.snag import Snag
from needle.core.values.ids import Id
from needle.running.stand import Stand
from needle.store.results.place import database_of, remember_database
from needle.store.sites import DEMO_FOLDER, known_sites, remember_site
from needle.ui.cards import repaint_role
from needle.ui.commands import Command, CommandSet
from needle.ui.desk.newsite import NewSiteDialog
from needle.ui.finder import Finder, everything
from needle.ui.foreigncode import ForeignCodeDialog
from needle.ui.fronting import Front
from needle.ui.hearing import go_round
from needle.ui.language import tr
from needle.ui.logview import LogView
from needle.ui.opening import open_desk, open_site
from needle.ui.outcomes import Outcomes
from needle.ui.room import give_room, keep_room
from needle.ui.seam import Seam
from needle.ui.session import Session
from needle.ui.stages import Stages, Ways
from needle.ui.theme import DAY, NIGHT, apply_theme, tokens
from needle.ui.timers import every, once
from needle.ui.watching import Watch
from needle.ui.words import Words, told

__all__ = ["Window"]

_POLL_MS = 800
_SAID_MS = 9000
# How many sites that were opened before stand in the Site menu.
_RECENT = 5


class Window(QMainWindow):
    """One project in one window.

    Attributes:
        session: The open project.
        stages: The five stages by name.
        commands: Everything that menus and the finder offer.
    """

    def __init__(self, session: Session, stand: Stand | None) -> None:
        super().__init__()
        self.session = session
        self._stand = stand
        self.outcomes = Outcomes(session, stand)
        self.seam = Seam()
        self._stack = QStackedWidget()
        self.stages = Stages(session, self.outcomes,
                             Ways(self._go_to, self._go_to_page, self._go_to_snag,
                                  self.show_stage),
                             self._stack.addWidget)
        self.build = self.stages.build
        self._said = Words()
        self._said.setWordWrap(True)
        self._said.setContentsMargins(14, 6, 14, 6)
        self._said.hide()
        self._quiet = once(self, _SAID_MS)
        self._quiet.timeout.connect(self._said.hide)
        self._lay_out()
        bar = QMenuBar()
        self.setMenuBar(bar)
        self.commands = CommandSet(self, bar, lambda words: self.say(words, True), self._menu_opens)
        self._add_commands()
        self.watch = Watch(self.outcomes, stand)
        self._listen()
        self._placed = False
        self.resize(1280, 800)
        self.show_stage("Build")
        self.build.script.tree.setFocus()

    def _lay_out(self) -> None:
        body = QWidget()
        column = QVBoxLayout(body)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(self.seam)
        column.addWidget(self._stack, 1)
        column.addWidget(self._said)
        self.setCentralWidget(body)

    def _listen(self) -> None:
        session = self.session
        self.seam.asked.connect(self.show_stage)
        self.seam.find_asked.connect(self.open_finder)
        session.said.connect(self.say)
        session.saved.connect(self._on_saved)
        session.changed.connect(lambda _: self._refresh_soon.start())
        self._refresh_soon = once(self, 120)
        self._refresh_soon.timeout.connect(self.refresh)
        self._clock = every(self, _POLL_MS)
        self._clock.timeout.connect(self._on_clock)
        self._clock.start()
        self.outcomes.changed.connect(self.refresh)
        self.outcomes.said.connect(lambda words: self.say(words, True))
        self.watch.told.connect(self.say)
        self.watch.told.connect(lambda *_: self.refresh())
        self.refresh()

    def _go_to(self, node: Id) -> None:
        self.show_stage("Build")
        self.session.go_to(node)

    def _go_to_snag(self, snag: Snag) -> None:
        """Go to page, width, item and setting; the setting is marked there."""
        if snag.kind == "form":
            self._go_to_form(snag.target)
        elif snag.kind == "page":
            self._go_to_page(snag.target)
        else:
            self._go_to(snag.target)
            self.session.set_scope(snag.width)
            self.build.tray.mark(snag.setting)

    def _go_to_page(self, page: Id) -> None:
        self.show_stage("Build")
        self.session.show_page(page)

    def _go_to_form(self, form: Id) -> None:
        self.show_stage("Connect")
        self.stages.connect.choose(form)

    def take_place(self) -> None:
        """Stand where it was left, put the site on the desk's list, and listen for whoever wants
        this window in front."""
        self._front = Front(self.session.folder, self._come_to_front, self)
        give_room(self, "site")
        self._placed = True
        if self.session.folder.parent.name.startswith(DEMO_FOLDER):
            return  # A copy of the demo is made anew each time, and swept away by the system.
        try:
            remember_site(self.session.folder, self.session.site.name)
        except OSError as error:
            self.say(tr("The list of sites cannot be written: {strerror}.",
                        strerror=error.strerror or error), True)

    def _come_to_front(self) -> None:
        self.setWindowState(self.windowState() & ~Qt.WindowState.WindowMinimized)
        self.show()
        self.raise_()
        self.activateWindow()

    def _new_site(self) -> None:
        asking = NewSiteDialog(known_sites(), "", self)
        if asking.exec() and asking.folder is not None:
            open_site(asking.folder)

    def _open_site(self) -> None:
        chosen = QFileDialog.getExistingDirectory(self, tr("Open the folder of a site"))
        if not chosen:
            return
        if (Path(chosen) / "site.json").exists():
            open_site(Path(chosen))
        else:
            self.say(tr("There is no site in {folder}.", folder=chosen), True)

    # Commands

    def _recent(self) -> list[Command]:
        """Return a command for each of the sites that were opened before this one."""
        here = str(self.session.folder.resolve())
        others = [one for one in known_sites() if one.folder != here][:_RECENT]
        return [Command(
            id=f"site.recent{number}", menu="Site", keywords="recent last site",
            title=tr("Open “{name}”", name=(one.name or Path(one.folder).name).replace("&", "&&")),
            run=partial(self._open_known, Path(one.folder)))
            for number, one in enumerate(others, 1)]

    def _open_known(self, folder: Path) -> None:
        if (folder / "site.json").exists():
            open_site(folder)
        else:
            self.say(tr("The site is not in {folder} any more. All sites asks where it is now.",
                        folder=str(folder)), True)

    def _add_commands(self) -> None:
        s = self.session
        self.commands.add(
            Command(id="site.new", menu="Site", title=tr("New site…"), keys="Ctrl+N",
                    run=self._new_site, keywords="project copy"),
            Command(id="site.open", menu="Site", title=tr("Open a site…"), keys="Ctrl+O",
                    run=self._open_site, keywords="folder project"),
            Command(id="site.desk", menu="Site", title=tr("All sites"), keys="Ctrl+Shift+O",
                    run=open_desk, keywords="desk recent list"),
            *self._recent(),
            Command(id="site.name", menu="Site", title=tr("Rename site…"),
                    run=self._rename_site),
            Command(id="site.save", menu="Site", title=tr("Save now"), keys="Ctrl+S",
                    run=s.save_now),
            Command(id="site.code", menu="Site", title=tr("Code from elsewhere…"),
                    run=self._show_foreign_code, keywords="allow embed tracking outside"),
            Command(id="site.database", menu="Site", title=tr("Results database…"),
                    run=self._ask_database, keywords="postgresql server leads"),
            Command(id="site.log", menu="Site", title=tr("Show the log"),
                    run=self.show_log, keywords="fault error"),
            Command(id="site.close", menu="Site", title=tr("Close window"), keys="Ctrl+Q",
                    run=self.close),
            Command(id="edit.undo", menu="Edit", keys="Ctrl+Z", run=s.undo,
                    unless=lambda: "" if s.undo_label else tr("There is nothing to take back yet."),
                    title=lambda: tr("Undo: {undo_label}",
                                     undo_label=s.undo_label) if s.undo_label else tr("Undo")),
            Command(id="edit.redo", menu="Edit", keys="Ctrl+Shift+Z", run=s.redo,
                    unless=lambda: "" if s.redo_label else tr("Nothing was taken back."),
                    title=lambda: tr("Redo: {redo_label}",
                                     redo_label=s.redo_label) if s.redo_label else tr("Redo")),
        )
        for name, commands in self.stages.commands().items():
            self.commands.add(*(self._in_build(c) if name == "Build" else self._in_stage(name, c)
                                for c in commands))
        self.commands.add(
            Command(id="go.find", menu="Go", title=tr("Find anything…"), keys="Ctrl+K",
                    run=self.open_finder),
            *(Command(id=f"go.{name.lower()}", menu="Go", title=tr(name), keys=f"Ctrl+{number}",
                      run=lambda n=name: self.show_stage(n))  # type: ignore[misc]
              for number, name in enumerate(STAGES, 1)),
            Command(id="go.part", menu="Go", title=tr("To the next part of the stage"), keys="F6",
                    run=lambda: self._go_round(1), keywords="focus keyboard"),
            Command(id="go.part.back", menu="Go", title=tr("To the part before"), keys="Shift+F6",
                    run=lambda: self._go_round(-1), keywords="focus keyboard"),
            Command(id="go.snag.next", menu="Go", title=tr("To the next snag"), keys="F3",
                    run=lambda: self.stages.publish.snags.step(1), unless=self._no_snag),
            Command(id="go.snag.before", menu="Go", title=tr("To the snag before"),
                    keys="Shift+F3", run=lambda: self.stages.publish.snags.step(-1),
                    unless=self._no_snag),
            Command(id="go.menu", menu="Go", title=tr("Open the menu"), keys="F10",
                    run=self._open_menu, keywords="focus keyboard"),
            Command(id="go.theme", menu="View", title=lambda: tr("Day theme")
                    if tokens() is NIGHT else tr("Night theme"), run=self._turn_theme))

    def _in_build(self, command: Command) -> Command:
        """Return the command as one that brings Build up first, unless it is asked for by keys."""
        def unless() -> str:
            elsewhere = command.keys and not command.id.startswith("page") and (
                self._stack.currentWidget() is not self.build)
            return tr("This works in Build.") if elsewhere else command.unless()

        return replace(self._in_stage("Build", command, always=True), unless=unless)

    def _in_stage(self, name: str, command: Command, always: bool = False) -> Command:
        """Return a command of a stage as one that brings the stage up first.

        A stage that was not made yet is not made only to ask whether something can be done in it.

        Args:
            always: Whatever its menu; else only if it stands in the stage's own.
        """
        def unless() -> str:
            return command.unless() if self.stages.made(name) else ""

        def run() -> object:
            first = not self.stages.made(name)
            shows = always or command.menu == name
            if shows and self._stack.currentWidget() is not self.stages[name]:
                self.show_stage(name)
            why = command.unless() if first else ""
            return self.say(why, True) if why else command.run()  # type: ignore[func-returns-value]

        return replace(command, run=run, unless=unless)

    def _no_snag(self) -> str:
        return self.stages.publish.snags.nothing_open() if self.stages.made("Publish") else ""

    def _menu_opens(self, name: str) -> None:
        """Have the stage of a menu ready, so that the menu can say what cannot be done."""
        if name in self.stages:
            self.stages.make(name)

    def _go_round(self, steps: int) -> None:
        shown = self._stack.currentWidget()
        ring = getattr(shown, "ring", None)
        parts = ring() if ring else [shown] if shown else []
        go_round([*parts, self.seam], steps)

    def _open_menu(self) -> None:
        bar = self.menuBar()
        if bar is not None:
            bar.setFocus(Qt.FocusReason.MenuBarFocusReason)
            bar.setActiveAction(bar.actions()[0])

    def _turn_theme(self) -> None:
        app = QApplication.instance()
        assert isinstance(app, QApplication)
        apply_theme(app, DAY if tokens() is NIGHT else NIGHT)
        self.seam.dress()

    def show_log(self) -> None:
        """Show what happened to Needle itself."""
        self.log = LogView(self)
        self.log.show()

    def _show_foreign_code(self) -> None:
        self.foreign_code = ForeignCodeDialog(self.session, self)
        self.foreign_code.show()

    def _ask_database(self) -> None:
        held = database_of(self.session.folder)
        address, taken = QInputDialog.getText(
            self, tr("Results database"),
            tr("Address of a PostgreSQL database that all hosts share; empty for the file in "
               "the project"), text=held if isinstance(held, str) else "")
        if not taken:
            return
        try:
            remember_database(self.session.folder, address.strip())
        except OSError as error:
            self.say(tr("This could not be kept: {strerror}.", strerror=error.strerror or error),
                     True)
            return
        self.say(tr("Kept with your keys. Window and host use it from the next start on."), False)

    def _rename_site(self) -> None:
        name, taken = QInputDialog.getText(self, tr("Rename site"), tr("Name"),
                                           text=self.session.site.name)
        if taken:
            self.session.edit(tr("name of the site"), lambda site: set_site_name(site, name))

    def open_finder(self) -> None:
        """Open the finder below the seam."""
        def run_and_show(run: Callable[[], object]) -> Callable[[], object]:
            def both() -> None:
                self.show_stage("Build")
                run()
            return both

        things = everything(self.session, self.commands.all(), self._show_setting)
        known = {command.words for command in self.commands.all()}
        things = [thing if thing.words in known else type(thing)(
            thing.words, thing.note, run_and_show(thing.run)) for thing in things]
        finder = Finder(self, things)
        corner = self.mapToGlobal(self.rect().topLeft())
        finder.move(corner.x() + (self.width() - finder.width()) // 2, corner.y() + 84)
        finder.show()
        finder.line.setFocus()
        self.finder = finder

    def _show_setting(self, name: str) -> None:
        self.build.tray.show()
        editor = self.build.tray.editors.get(name)
        if editor is None:
            self.say(tr("Choose an item that has this setting first."), True)
        else:
            editor.setFocus()

    # What is shown

    def show_stage(self, name: str) -> None:
        """Show one of the five stages."""
        self._stack.setCurrentWidget(self.stages[name])
        self.seam.show_stage(name)
        self.refresh()

    def refresh(self) -> None:
        """Bring seam and stage up to date."""
        site = self.session.site
        results: Results = self.outcomes.totals()
        statuses = stage_statuses(site, self.outcomes.pages_to_send(), results)
        if self.watch.waiting:
            count = self.watch.waiting
            words = tr("1 delivery waits") if count == 1 else tr(
                "{count:,} deliveries wait", count=count)
            statuses["Connect"] = StageStatus(words, True)
        self.seam.show_statuses(statuses)
        self._show_saved()
        shown = self._stack.currentWidget()
        refresh = getattr(shown, "refresh", None)
        if refresh is not None:
            refresh()

    def _on_clock(self) -> None:
        self._show_saved()
        self.outcomes.glance()

    def _show_saved(self) -> None:
        seconds = int(time.time() - self.session.saving.at)
        ago = tr("{seconds} s ago", seconds=seconds) if seconds < 60 else tr(
            "{minutes} min ago", minutes=seconds // 60)
        words = tr("saved {ago}", ago=ago)
        if self.session.unsaved:
            words = tr("not saved") if self.session.saving.fault else tr("saving…")
        self.seam.show_project(self.session.site.name, words)
        self.setWindowTitle(f"{self.session.site.name} · Needle")

    def _on_saved(self, fault: str) -> None:
        if fault:
            self.say(fault, True)
        self._show_saved()

    def say(self, words: str, fault: bool) -> None:
        """Tell the person something, in the line at the bottom."""
        self._said.setText(words)
        repaint_role(self._said, "fault" if fault else "good")
        self._said.show()
        self._quiet.start()

    @property
    def last_words(self) -> str:
        """What was said last and is still shown."""
        return self._said.text() if self._said.isVisible() else ""

    # Qt

    def closeEvent(self, event: QCloseEvent | None) -> None:
        assert event is not None
        # What is half typed in a field is taken first; later there is nothing to take it.
        for edit in self.findChildren(QLineEdit):
            edit.clearFocus()
            edit.blockSignals(True)
        fault = self.session.close()
        if fault and self.isVisible():
            told(self, "Needle", fault)
        if self._placed:
            keep_room(self, "site")
        self._clock.stop()
        self.watch.end()
        self.stages.end()
        self.outcomes.end()
        # What is under way was waited for; nothing that is on its way still may begin more of it.
        for teller in (self.session, self.watch, self.outcomes):
            teller.blockSignals(True)
        for timer in self.findChildren(QTimer):
            timer.stop()
        if self._stand is not None:
            self._stand.stop()
        event.accept()


