"""An idea as plain words: without markup, control signs and more than anyone reads."""

import re

import regex

__all__ = ["MOST_WORDS", "tidied"]

MOST_WORDS = 400
_LONGEST_WORD = 40


def tidied(words: str) -> str:
    """Return an idea without markup, control signs, addresses and more words than anyone reads."""
    plain = regex.sub(r"<(script|style)\b.*?(?:</\1>|$)", " ", words[:40_000],
                      flags=regex.IGNORECASE | regex.DOTALL)
    plain = regex.sub(r"<[^>]{0,400}>", " ", plain)
    plain = regex.sub(r"[\p{Cc}\p{Cf}\p{Co}\p{Cs}<>{}\[\]|\\`^~*_#=]+", " ", plain)
    plain = regex.sub(r"https?://\S+|\S+@\S+", " ", plain)
    kept = " ".join(word[:_LONGEST_WORD] for word in plain.split()[:MOST_WORDS])
    return re.sub(r"\s+([,.;:!?])", r"\1", kept).strip(" ,;:-–—")
