"""Words that a dictionary of the system does not know."""

import re
from collections.abc import Iterator
from pathlib import Path

from spylls.hunspell import Dictionary

__all__ = ["Speller", "find_dictionary"]

_FOLDERS = (Path("/usr/share/hunspell"), Path("/usr/share/myspell/dicts"),
            Path("/usr/share/myspell"))
_NAMES = ("en_GB", "en_US", "en_AU", "en")
# Letters with apostrophes inside; words with digits and addresses are nobody's spelling.
_WORD = re.compile(r"(?<![\w@./-])[^\W\d_]+(?:['’][^\W\d_]+)*(?![\w@/]|\.\w|://)")


def find_dictionary(folders: tuple[Path, ...] = _FOLDERS) -> Path | None:
    """Return the system's English dictionary without its ending, or `None`."""
    for folder in folders:
        for name in _NAMES:
            if (folder / f"{name}.dic").is_file() and (folder / f"{name}.aff").is_file():
                return folder / name
    return None


class Speller:
    """Looks words up, and remembers what it found."""

    def __init__(self, dictionary: Path) -> None:
        """Read a dictionary, which takes a second or two.

        Args:
            dictionary: The path of its two files without their endings.

        Raises:
            OSError, ValueError, KeyError: It cannot be read.
        """
        self._dictionary = Dictionary.from_files(str(dictionary))
        self._known: dict[str, bool] = {}

    def misspelt(self, words: str) -> Iterator[tuple[int, int]]:
        """Yield where each unknown word begins and ends.

        Words in capitals pass: they are names of things.
        """
        for match in _WORD.finditer(words):
            word = match.group().replace("’", "'")
            if not word.isupper() and not self._knows(word):
                yield match.span()

    def _knows(self, word: str) -> bool:
        known = self._known.get(word)
        if known is None:
            known = self._known[word] = bool(self._dictionary.lookup(word)) or (
                word.endswith("'s") and bool(self._dictionary.lookup(word[:-2])))
        return known
