"""Opening sites: each in a program of its own, so that none takes another down with it."""

import sys
from pathlib import Path

from PyQt6.QtCore import QProcess

from needle.ui.fronting import bring_to_front

__all__ = ["open_desk", "open_site", "start_demo"]


def _start(*arguments: str) -> bool:
    started, _ = QProcess.startDetached(sys.executable, ["-m", "needle", *arguments])
    return bool(started)


def open_site(folder: Path) -> bool:
    """Open a site, or bring its window to the front; return whether that could be tried."""
    return bring_to_front(folder) or _start("open", str(folder))


def open_desk() -> bool:
    """Open the desk of all sites; return whether it could be started."""
    return _start()


def start_demo() -> bool:
    """Open a fresh copy of the demo; return whether it could be started."""
    return _start("demo")
