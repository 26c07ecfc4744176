"""Which language an idea is told in."""

import re

import py3langid  # type: ignore[import-untyped]

from needle.core.draft.reading.lexicon import SMALL

__all__ = ["LANGUAGES", "language_of"]

# Languages that are told apart, each with small words that nearly every sentence of it has. English
# is taken where nothing speaks for another one: names of things look alike everywhere.
LANGUAGES = {
    "de": "in der die das und für ein eine einen mit wir ich im dem den von zu auf ist nicht "
          "oder bei",
    "fr": "le la les des et pour avec une un du dans sur nous est au aux de",
    "es": "el la los las para con una un del en y que por de al",
    "it": "in il lo gli di della per una un con che nel dei",
    "nl": "in het een voor met van op wij en de in ons",
    "pt": "os as um uma para com do da em que por no na"}
_SMALL = {code: frozenset(words.split()) for code, words in LANGUAGES.items()}
_ACCENTS = re.compile(r"[äöüßéèêàçñáíóúãõœ]", re.IGNORECASE)

py3langid.set_languages(["en", *LANGUAGES])


def language_of(words: str) -> str:
    """Return the ISO 639-1 code of the language of a text; "en" where nothing tells."""
    found = re.findall(r"\w+", words.casefold())
    guess = str(py3langid.classify(words)[0]) if found else "en"
    if guess == "en":
        return "en"
    small = sum(word in _SMALL[guess] for word in found)
    english = sum(word in SMALL and word not in _SMALL[guess] for word in found)
    if small > english or (small == english == 0 and _ACCENTS.search(words)):
        return guess
    return "en"
