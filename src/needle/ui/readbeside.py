"""Reading results and files beside the window, the last question only."""

import logging
from collections.abc import Callable

from PyQt6.QtCore import QObject, QRunnable, QThreadPool, pyqtSignal
from sqlalchemy.exc import SQLAlchemyError

__all__ = ["ReadBeside"]

_log = logging.getLogger(__name__)


class _Job(QRunnable):
    def __init__(self, reader: "ReadBeside", number: int, what: Callable[[], object]) -> None:
        super().__init__()
        self._reader, self._number, self._what = reader, number, what

    def run(self) -> None:
        try:
            found = self._what()
        except SQLAlchemyError as error:
            _log.error("the results cannot be read (%s)", type(error).__name__)
            found = None
        self._reader.came.emit(self._number, found)


class ReadBeside(QObject):
    """Reads in a thread; of several questions only the last one is answered.

    Signals:
        read: What was asked for is there; `None` if it could not be read.
    """

    read = pyqtSignal(object)
    came = pyqtSignal(int, object)

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._pool = QThreadPool(self)
        self._pool.setMaxThreadCount(1)
        self._asked = 0
        self._ended = False
        self.came.connect(self._take)

    def ask(self, what: Callable[[], object]) -> None:
        """Read; `what` is called in the thread and may raise `SQLAlchemyError`."""
        if self._ended:
            return
        self._asked += 1
        self._pool.clear()
        self._pool.start(_Job(self, self._asked, what))

    def _take(self, number: int, found: object) -> None:
        if number == self._asked:
            self.read.emit(found)

    def end(self) -> None:
        """Wait for what is under way, and read no more."""
        self._ended = True
        self._pool.clear()
        self._pool.waitForDone()
