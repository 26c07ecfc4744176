"""Collecting unused memory in the window's thread, in small pieces, and never while a person works.

Python looks for cycles whenever enough was made, in whatever thread made it, and holds all threads
meanwhile: half a second in a site of 300 pages. And what Qt made may go in this thread only.
"""

import gc
import math
import time

from PyQt6.QtCore import QObject, Qt
from PyQt6.QtWidgets import QApplication

from needle.ui.timers import every

__all__ = ["Collector"]

_LOOK_MS = 50
# Once there are so many young objects, and rounds of them, these are looked through.
_YOUNG, _ROUNDS = 700, 2
# A window that is never left is looked through all the same.
_LONGEST_S = 3600


class Collector(QObject):
    """Looks for cycles in Python's stead as long as the application lives.

    All is looked through whenever the person turns to another program.
    """

    def __init__(self, app: QApplication) -> None:
        super().__init__(app)
        gc.disable()
        self._last = -math.inf  # What the start made is looked through once the window stands.
        app.applicationStateChanged.connect(self._on_state)
        self._timer = every(self, _LOOK_MS)
        self._timer.timeout.connect(self._look)
        self._timer.start()

    def _on_state(self, state: Qt.ApplicationState) -> None:
        if state == Qt.ApplicationState.ApplicationInactive:
            self._collect_all()

    def _look(self) -> None:
        young, rounds, _ = gc.get_count()
        if time.monotonic() - self._last > _LONGEST_S:
            self._collect_all()
        elif young > _YOUNG:
            gc.collect(1 if rounds > _ROUNDS else 0)

    def _collect_all(self) -> None:
        """Look through everything; what is left is not looked through again until next time."""
        gc.unfreeze()
        gc.collect()
        gc.freeze()
        self._last = time.monotonic()
