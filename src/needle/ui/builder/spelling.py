"""The system's dictionary, read once for all windows, in a thread."""

from collections.abc import Sequence

from PyQt6.QtCore import QObject, QRunnable, QThreadPool, pyqtSignal

from needle.core.wording.spelling import Speller, find_dictionary

__all__ = ["Spelling"]


class _Reading(QRunnable):
    def __init__(self, done: "Spelling") -> None:
        super().__init__()
        self._done = done

    def run(self) -> None:
        path = find_dictionary()
        if path is None:
            return
        try:
            Spelling.speller = Speller(path)
        except (OSError, ValueError, KeyError):
            return  # Without a dictionary that can be read, nothing is marked.
        try:
            self._done.ready.emit()
        except RuntimeError:
            return  # The window has gone meanwhile.


class Spelling(QObject):
    """Tells which words are unknown; none while the dictionary is read or if there is none.

    Signals:
        ready: The dictionary has been read.
    """

    ready = pyqtSignal()
    speller: Speller | None = None
    _begun = False

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        if not Spelling._begun:
            Spelling._begun = True
            pool = QThreadPool.globalInstance()
            assert pool is not None
            pool.start(_Reading(self))

    def misspelt(self, words: str) -> Sequence[tuple[int, int]]:
        """Return where each unknown word begins and ends."""
        return list(Spelling.speller.misspelt(words)) if Spelling.speller else []
