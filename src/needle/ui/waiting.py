"""Work that may take a while: done in a thread, with progress and a stop."""

import threading
import time
from collections.abc import Callable, Sequence
from typing import TypeVar

from PyQt6.QtCore import QEventLoop, Qt
from PyQt6.QtWidgets import QDialog, QProgressBar, QPushButton, QVBoxLayout, QWidget

from needle.ui.language import tr
from needle.ui.timers import every
from needle.ui.words import Words

__all__ = ["Stopped", "done_apart", "one_apart", "watched"]

T = TypeVar("T")
# Shorter work shows nothing.
_SHOWN_AFTER_S = 0.4
_LOOK_MS = 15


class Stopped(Exception):  # noqa: N818 - it is no fault
    """The person stopped the work, or it took longer than it may."""


class _Waiting(QDialog):
    """Says what goes on, how far it is, and offers to stop it."""

    def __init__(self, parent: QWidget | None, words: str, many: int) -> None:
        super().__init__(parent)
        self.setWindowTitle("Needle")
        self.setWindowModality(Qt.WindowModality.WindowModal)
        self.stopped = False
        self._bar = QProgressBar()
        self._bar.setRange(0, many if many > 1 else 0)
        self._bar.setTextVisible(False)
        stop = QPushButton(tr("Stop"))
        stop.clicked.connect(self.reject)
        column = QVBoxLayout(self)
        column.addWidget(Words(words))
        column.addWidget(self._bar)
        column.addWidget(stop, alignment=Qt.AlignmentFlag.AlignRight)
        self.resize(340, 90)

    def show_done(self, count: int) -> None:
        """Show how many of the jobs are done."""
        self._bar.setValue(count)

    def reject(self) -> None:
        self.stopped = True
        super().reject()


def done_apart(parent: QWidget | None, words: str, jobs: Sequence[Callable[[], T]],
               longest_s: float = 60.0) -> list[T | Exception]:
    """Do jobs in a thread, one after the other, and return what each gave or raised.

    A job that has not begun when the person stops it, or that has taken `longest_s`, gives
    `Stopped`; what it does afterwards counts for nothing.
    """
    given: list[T | Exception] = []
    leave = threading.Event()

    def work() -> None:
        for job in jobs:
            if leave.is_set():
                return
            try:
                result: T | Exception = job()
            except Exception as error:
                result = error
            if not leave.is_set():
                given.append(result)

    thread = threading.Thread(target=work, daemon=True)
    thread.start()
    thread.join(_SHOWN_AFTER_S)
    if thread.is_alive():
        _wait(parent, words, given, thread, len(jobs), longest_s)
    leave.set()
    done = list(given)
    return [*done, *(Stopped(tr("It was stopped.")) for _ in jobs[len(done):])]


def one_apart(parent: QWidget | None, words: str, job: Callable[[], T]) -> T:
    """Do one job as `done_apart` does, and return what it gave.

    Raises:
        Exception: What the job raised, or `Stopped`.
    """
    (given,) = done_apart(parent, words, [job])
    if isinstance(given, Exception):
        raise given
    return given


def watched(job: Callable[[], T], look: Callable[[], object]) -> T:
    """Do one job in a thread while the window goes on, and return what it gave.

    Args:
        look: Called again and again meanwhile, in the window's thread; to show how far it is.

    Raises:
        Exception: What the job raised.
    """
    given: list[T | Exception] = []

    def work() -> None:
        try:
            given.append(job())
        except Exception as error:
            given.append(error)

    thread = threading.Thread(target=work, daemon=True)
    loop, timer = QEventLoop(), every(None, _LOOK_MS)
    timer.timeout.connect(look)
    timer.timeout.connect(lambda: None if thread.is_alive() else loop.quit())
    thread.start()
    timer.start()
    loop.exec()
    timer.stop()
    thread.join()
    if isinstance(given[0], Exception):
        raise given[0]
    return given[0]


def _wait(parent: QWidget | None, words: str, given: Sequence[object], thread: threading.Thread,
          many: int, longest_s: float) -> None:
    loop, began = QEventLoop(), time.monotonic()
    dialog = _Waiting(parent, words, many)
    last, changed = 0, began

    def look() -> None:
        nonlocal last, changed
        now = time.monotonic()
        if len(given) != last:
            last, changed = len(given), now
            dialog.show_done(last)
        if not thread.is_alive() or dialog.stopped or now - changed > longest_s:
            loop.quit()

    timer = every(None, _LOOK_MS)
    timer.timeout.connect(look)
    timer.start()
    dialog.show()
    loop.exec()
    timer.stop()
    dialog.close()
    dialog.deleteLater()
