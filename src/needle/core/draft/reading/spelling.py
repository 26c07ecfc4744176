"""Typing errors in an idea, put right where there is no doubt."""

import re
from functools import cache
from importlib.resources import as_file, files

from symspellpy import SymSpell, Verbosity  # type: ignore[import-untyped]

__all__ = ["corrected", "is_known"]

# A word must be this frequent for another to be taken as it with an error in it: of these there
# are some twenty thousand.
_COMMON = 2_000_000
_SHORTEST = 6
_WORD = re.compile(r"(?<![\w'’@./-])[a-z]+(?![\w'’@./-])")
# Words that are written for one another, where the words beside them tell.
_MEANT = ((re.compile(r"\b(take|use|do|keep|find|lose|make|share|bring|love|get|with|of|for) there "
                      r"(?=[a-z]+s?\b)(?!is\b|are\b|was\b|to\b)"), r"\1 their "),
          (re.compile(r"\byour (?=welcome\b|not\b|going\b)"), "you're "),
          (re.compile(r"\bits (?=a\b|an\b|the\b|for\b|about\b)"), "it's "),
          (re.compile(r"\bhand made\b"), "handmade"))


@cache
def _speller() -> SymSpell:
    speller = SymSpell(max_dictionary_edit_distance=1)
    name = "frequency_dictionary_en_82_765.txt"
    with as_file(files("symspellpy") / name) as path:
        speller.load_dictionary(path, 0, 1)
    return speller


def is_known(word: str) -> bool:
    """Whether the dictionary knows a word in lower case."""
    return word in _speller().words


def corrected(words: str) -> tuple[str, tuple[tuple[str, str], ...]]:
    """Return an English text without its typing errors, and the pairs that were changed.

    Only words in lower case that no dictionary knows and that are one sign away from a common one
    are taken as errors: names and the words of a trade stay.
    """
    changed: list[tuple[str, str]] = []
    speller = _speller()

    def put_right(found: re.Match[str]) -> str:
        word = found.group(0)
        if len(word) < _SHORTEST or word in speller.words:
            return word
        best = next(iter(speller.lookup(word, Verbosity.TOP, max_edit_distance=1)), None)
        if best is None or best.count < _COMMON:
            return word
        changed.append((word, best.term))
        return str(best.term)

    made = _WORD.sub(put_right, words)
    for pattern, meant in _MEANT:
        found = pattern.search(made)
        if found:
            changed.append((found.group(0).strip(), found.expand(meant).strip()))
            made = pattern.sub(meant, made)
    return made, tuple(changed)
