"""Starting the application."""

import sys
import traceback
from collections.abc import Callable
from pathlib import Path
from types import TracebackType

from PyQt6.QtWidgets import QApplication

from needle.running.stand import Stand
from needle.store.project import Project, ProjectError
from needle.ui.build.live.engine import prepare_engine
from needle.ui.session import Session
from needle.ui.theme import apply_theme, load_fonts
from needle.ui.window import Window
from needle.ui.words import told

__all__ = ["make_app", "run_window"]


def make_app() -> QApplication:
    """Return the application, dressed and with its fonts."""
    prepare_engine()
    app = QApplication.instance()
    if not isinstance(app, QApplication):
        app = QApplication(sys.argv[:1])
        app.setApplicationName("Needle")
        app.setStyle("Fusion")
        load_fonts()
        apply_theme(app)
    return app


def _tell_fault(kind: type[BaseException], error: BaseException, trace: TracebackType | None,
                ) -> None:
    """Keep a fault of ours from ending the window: print it, and say that it happened."""
    traceback.print_exception(kind, error, trace)
    for window in QApplication.topLevelWidgets():
        if isinstance(window, Window):
            window.say(f"Something went wrong in Needle itself ({kind.__name__}: {error}). Your "
                       "work is kept; undo the last step if the page looks odd.", True)


def run_window(open_project: Callable[[], Project], with_stand: bool = True) -> int:
    """Open a project in a window and run until it is closed; return the exit code."""
    app = make_app()
    sys.excepthook = _tell_fault
    try:
        project = open_project()
    except ProjectError as error:
        print(error, file=sys.stderr)
        if QApplication.platformName() != "offscreen":
            told(None, "Needle", str(error))
        return 2
    session = Session(project)
    kinds = {service.does for service in session.site.services if service.practice}
    stand = Stand(Path(project.folder), practice=kinds) if with_stand else None
    window = Window(session, stand)
    for fault in stand.faults if stand else ():
        window.say(fault, True)
    window.show()
    window.activateWindow()
    return app.exec()
