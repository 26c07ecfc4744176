"""Timers, made in one line."""

from PyQt6.QtCore import QObject, QTimer

__all__ = ["every", "once"]


def once(parent: QObject | None, ms: int = 0) -> QTimer:
    """Return a timer that fires once after each start."""
    made = every(parent, ms)
    made.setSingleShot(True)
    return made


def every(parent: QObject | None, ms: int) -> QTimer:
    """Return a timer that fires again and again once it is started."""
    made = QTimer(parent)
    made.setInterval(ms)
    return made
