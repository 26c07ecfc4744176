"""Reading where many sites stand, beside the window."""

from pathlib import Path

from PyQt6.QtCore import QObject, QRunnable, QThreadPool, pyqtSignal

from needle.publish.standing import read_standing

__all__ = ["StandingReader"]

_AT_ONCE = 2


class _Job(QRunnable):
    def __init__(self, reader: "StandingReader", folder: str) -> None:
        super().__init__()
        self._reader, self._folder = reader, folder

    def run(self) -> None:
        self._reader.read.emit(self._folder, read_standing(Path(self._folder)))


class StandingReader(QObject):
    """Reads one site after another.

    Signals:
        read: A site was read (its folder, its `Standing`).
    """

    read = pyqtSignal(str, object)

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._pool = QThreadPool(self)
        self._pool.setMaxThreadCount(_AT_ONCE)

    def ask(self, folder: str) -> None:
        """Read a site when its turn comes."""
        self._pool.start(_Job(self, folder))

    def end(self) -> None:
        """Read no more, and wait for what is under way."""
        self._pool.clear()
        self._pool.waitForDone()
