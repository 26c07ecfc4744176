"""Starting the application."""

import logging
import sys
import traceback
from collections.abc import Callable
from pathlib import Path
from types import TracebackType

from PyQt6.QtWidgets import QApplication

from needle.core.progress import just_begun
from needle.running.stand import Stand
from needle.store.logs import set_up_log
from needle.store.project import DoubledError, Project, ProjectError
from needle.store.repairing import repair_project
from needle.ui.builder.live.engine import prepare_engine
from needle.ui.collecting import Collector
from needle.ui.language import speak, tr
from needle.ui.theme import apply_theme, load_fonts
from needle.ui.words import agreed, told

__all__ = ["make_app", "run_desk", "run_window"]

_log = logging.getLogger(__name__)
# The window's thread waits no longer for one that computes; Python's own five milliseconds add up
# to stalls that are felt.
_TURN_S = 0.001


def make_app() -> QApplication:
    """Return the application, dressed and with its fonts."""
    prepare_engine()
    app = QApplication.instance()
    if not isinstance(app, QApplication):
        app = QApplication(sys.argv[:1])
        app.setApplicationName("Needle")
        app.setStyle("Fusion")
        speak(app)
        load_fonts()
        apply_theme(app)
        Collector(app)
        sys.setswitchinterval(_TURN_S)
    return app


def _tell_fault(kind: type[BaseException], error: BaseException, trace: TracebackType | None,
                ) -> None:
    """Keep a fault of ours from ending the window: note it, and say what is so."""
    traceback.print_exception(kind, error, trace)
    # Without the fault's own words, which may hold an answer.
    where = traceback.extract_tb(trace)[-1] if trace else None
    _log.error("a fault in the window: %s at %s", kind.__name__,
               f"{Path(where.filename).name}:{where.lineno}" if where else "an unknown place")
    from needle.ui.window import Window

    for window in QApplication.topLevelWidgets():
        if isinstance(window, Window):
            kept = tr("Your work is in this window and not all of it is saved yet") if (
                window.session.unsaved) else tr("Your work is saved")
            window.say(tr("Something went wrong in Needle itself ({fault}). {kept}; undo the last "
                          "step if the page looks odd. Site, Show the log tells more.",
                          fault=f"{kind.__name__}: {error}", kept=kept), True)


def _opened(open_project: Callable[[], Project]) -> Project:
    """Open a project; where ids stand twice, offer to keep both."""
    try:
        return open_project()
    except DoubledError as error:
        if QApplication.platformName() == "offscreen" or not agreed(
                None, "Needle", tr("{error}\n\nA copy of the files as they are is kept.",
                                   error=error),
                tr("Keep both"), tr("Leave it as it is")):
            raise
        repair_project(error.folder)
        return open_project()


def run_window(open_project: Callable[[], Project], with_stand: bool = True) -> int:
    """Open a project in a window and run until it is closed; return the exit code."""
    set_up_log("window")
    app = make_app()
    sys.excepthook = _tell_fault
    try:
        project = _opened(open_project)
    except ProjectError as error:
        print(error, file=sys.stderr)
        if QApplication.platformName() != "offscreen":
            told(None, "Needle", str(error))
        return 2
    # Only now: their tables hold words, and the window has its language since `make_app`.
    from needle.ui.foreigncode import waiting_words
    from needle.ui.session import Session
    from needle.ui.window import Window

    session = Session(project)
    kinds = {service.does for service in session.site.services if service.practice}
    stand = Stand(Path(project.folder), practice=kinds) if with_stand else None
    window = Window(session, stand)
    for fault in stand.faults if stand else ():
        window.say(fault, True)
    if words := waiting_words(session):
        window.say(words, True)
    if just_begun(session.site):
        window.show_stage("Brief")
    window.take_place()
    window.show()
    window.activateWindow()
    return app.exec()


def run_desk() -> int:
    """Show all sites and run until that window is closed; return the exit code."""
    set_up_log("desk")
    app = make_app()
    sys.excepthook = _tell_fault
    from needle.ui.desk.desk import Desk

    desk = Desk()
    desk.show()
    desk.activateWindow()
    return app.exec()
