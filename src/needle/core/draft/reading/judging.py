"""Whether a sentence is one: what is written is held against the parser that read the idea."""

import re

from spacy.language import Language
from spacy.tokens import Doc, Token

__all__ = ["is_sound"]

_DOUBLED = re.compile(r"\b(\w+) \1\b", re.IGNORECASE)
_ARTICLES = re.compile(r"\b(?:a|an|the) (?:a|an|the|my|our|your|their|some)\b", re.IGNORECASE)
_ODD = re.compile(r"[{}]| [,.;:]|,,|\(\)|\b(?:a|an|the|of|for|with|to|and)[.!?]?$", re.IGNORECASE)
_THIRD = ("he", "she", "it", "this", "that", "everyone", "somebody", "anybody", "nobody")


def is_sound(nlp: Language, sentence: str) -> bool:
    """Return whether a sentence or headline reads as one.

    It is not if a word stands twice, two articles meet, it ends in the middle, or a verb does not
    agree with its subject.
    """
    if not sentence.strip() or any(odd.search(sentence) for odd in (_DOUBLED, _ARTICLES, _ODD)):
        return False
    return all(_agrees(token) for token in _parsed(nlp, sentence) if token.pos_ in ("VERB", "AUX"))


def _parsed(nlp: Language, sentence: str) -> Doc:
    return nlp(sentence)


def _agrees(verb: Token) -> bool:
    """Whether a verb in the present agrees with the pronoun before it; nouns mislead a parser."""
    subject = next((t for t in verb.lefts if t.dep_ in ("nsubj", "nsubjpass")), None)
    if subject is None or subject.pos_ != "PRON" or any(t.dep_ == "aux" for t in verb.lefts):
        return True
    low = subject.text.casefold()
    if verb.tag_ == "VBP" and low in _THIRD and verb.text.casefold() not in ("are",):
        return low == "that"
    return not (verb.tag_ == "VBZ" and low in ("they", "we", "you", "i"))
