"""Agreement of verbs and articles, which needs no parser."""

import re

__all__ = ["capital", "starts_with_vowel", "third"]

_THIRD = {"be": "is", "have": "has", "do": "does", "go": "goes", "can": "can", "are": "is",
          "were": "was"}
# What begins with the sound of a vowel: letters alone by their names, "hour", not "union".
_SPOKEN_VOWEL = re.compile(
    r"(?!(?:uni|use|usu|uti|ute|ura|eu|ewe|one\b|once\b|u[a-z]?[- ]))[aeiou]"
    r"|(?:hour|honest|honou?r|heir)|(?-i:[AEFHILMNORSX][A-Z0-9]*\b)", re.IGNORECASE)


def capital(words: str) -> str:
    """Return words with a capital at the beginning."""
    return words[:1].upper() + words[1:]


def third(verb: str) -> str:
    """Return the third person of a base form: "teach" gives "teaches"."""
    if verb in _THIRD:
        return _THIRD[verb]
    if verb.endswith(("ch", "sh", "ss", "x", "zz")):
        return f"{verb}es"
    if verb.endswith("y") and verb[-2:-1] not in "aeiou":
        return f"{verb[:-1]}ies"
    return verb if verb.endswith("s") else f"{verb}s"


def starts_with_vowel(words: str) -> bool:
    """Whether "an" stands before these words, not "a"."""
    return _SPOKEN_VOWEL.match(words) is not None
