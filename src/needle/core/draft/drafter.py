"""Reads ideas and writes drafts: the understanding and the writer, with one parser for both."""

from needle.core.draft.copy import Copy, Wish
from needle.core.draft.reading.judging import is_sound
from needle.core.draft.reading.understanding import Understander
from needle.core.draft.slots import Slots
from needle.core.draft.writing import OfflineWriter

__all__ = ["Drafter"]


class Drafter:
    """Needle's own writer. Making one reads the model in, which takes some seconds."""

    def __init__(self) -> None:
        self._understander = Understander()
        self._writer = OfflineWriter(lambda sentence: is_sound(self._understander.nlp, sentence))

    def understand(self, words: str) -> Slots:
        """Return what an idea says; any text gives a result."""
        return self._understander.slots(words)

    def write(self, wish: Wish) -> Copy:
        """Return the words of a draft; any slots give some."""
        return self._writer.write(wish)
