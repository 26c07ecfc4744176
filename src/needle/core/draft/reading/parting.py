"""A sentence parted: the noun phrase that it begins with, and the pieces after it."""

import re
from collections.abc import Sequence

import inflection
from spacy.tokens import Doc, Token

from needle.core.draft.reading.lexicon import SHOWING, are_people
from needle.core.draft.reading.marks import WHEN, price_in
from needle.core.draft.reading.spelling import is_known

__all__ = ["DAY", "head_of", "is_plural", "lower_first", "noun_phrase_end", "pieces_of",
           "plain_noun"]

DAY = re.compile(r"\b(?:mon|tues|wednes|thurs|fri|satur|sun)days?\b|\b(?:january|february|april|"
                  r"june|july|august|september|october|november|december)\b", re.IGNORECASE)
# Adjectives of a people or language keep their capital.
_OF_A_PEOPLE = re.compile(r"(?:ish|an|ese|ch|ic|i|k)$")


def noun_phrase_end(doc: Doc) -> int:
    """Return the place after the noun phrase with which a text begins."""
    at = 0
    while at < len(doc) and doc[at].pos_ in ("DET", "PRON") and at < 2:
        at += 1
    last = at
    while at < len(doc) and not (at > 0 and WHEN.match(doc[at:].text)):
        if _is_noun_here(doc, at, last):
            last = at + 1
        elif not _goes_on(doc, at, last):
            break
        at += 1
    return max(last, 1 if len(doc) else 0)


def _is_noun_here(doc: Doc, at: int, last: int) -> bool:
    """Whether a word can end a noun phrase, also a noun that looks like a verb."""
    token, after = doc[at], doc[at + 1] if at + 1 < len(doc) else None
    if token.pos_ in ("NOUN", "PROPN"):
        return True
    if token.tag_ == "VBG":
        return at > 0 and token.text.casefold() not in SHOWING and not _takes_object(after)
    # "harbour tours in"
    return at > 0 and last == at and token.tag_ in ("VBZ", "VBP", "VB") and (
        after is None or after.pos_ in ("ADP", "PUNCT", "CCONJ"))


def _goes_on(doc: Doc, at: int, last: int) -> bool:
    """Whether a noun phrase goes on over a word that cannot end it."""
    token, after = doc[at], doc[at + 1] if at + 1 < len(doc) else None
    low = token.text.casefold()
    if token.tag_ == "VBG" and at > 0 and low in SHOWING:
        return False
    if at == 0 and token.tag_ in ("VB", "VBP", "VBZ"):
        return after is not None and after.pos_ in ("NOUN", "PROPN")  # "run club"
    if token.pos_ in ("ADJ", "NUM", "ADV") or token.tag_ == "POS" or low in ("-", "/", "&"):
        return True
    if token.tag_ in ("VBN", "VBG", "VBD"):
        return last <= at and _noun_follows(doc, at)
    if low in ("and", "or"):
        return last == at and after is not None and after.pos_ in ("NOUN", "PROPN", "ADJ")
    if low in ("of", "against"):
        return last == at and after is not None
    return token.pos_ in ("DET", "PRON") and doc[at - 1].text.casefold() in ("of", "against")


def _takes_object(after: Token | None) -> bool:
    return after is not None and (after.pos_ in ("NOUN", "PROPN", "DET", "PRON", "ADJ")
                                  or after.text.casefold() in ("to", "how"))


def _noun_follows(doc: Doc, at: int) -> bool:
    for token in doc[at + 1: at + 4]:
        if token.pos_ in ("NOUN", "PROPN"):
            return True
        if token.pos_ not in ("ADJ", "NUM", "ADV"):
            return False
    return False


def plain_noun(doc: Doc, end: int) -> str:
    """Return the noun phrase without its article, in lower case but for names."""
    start = 0
    while (start < end - 1 and doc[start].pos_ in ("DET", "PRON")) or (
            start < end - 1 and doc[start].text.casefold() in ("some", "my", "our", "a", "an")):
        start += 1
    words = doc[start:end].text.strip()
    first = words.split(" ")[0]
    named = start < len(doc) and (
        (doc[start].ent_type_ in ("NORP", "LANGUAGE") and _OF_A_PEOPLE.search(first) is not None)
        or (doc[start].ent_type_ in ("GPE", "LOC", "PERSON") and not is_known(first.casefold())))
    if first[1:].islower() and not named and not DAY.match(first) and (
            is_known(first.casefold()) or first.endswith("ing")):
        words = words[:1].lower() + words[1:]
    return words


def pieces_of(doc: Doc, start: int) -> list[tuple[str, str]]:
    """Part the rest of a sentence where another thing begins to be said.

    Returns:
        Each piece with the mark that stood before it, if one did.
    """
    pieces: list[tuple[str, list[Token]]] = [("", [])]
    clause = False
    for token in doc[start:]:
        word = token.text.casefold()
        if token.text in (",", ":", "–", "—", "(", ")") or (token.text == "-" and
                                                            token.whitespace_):
            pieces.append((token.text, []))
            clause = False
            continue
        begins = not clause and (
            _begins_clause(doc, token)
            or (token.pos_ in ("ADP", "SCONJ") and word not in ("of", "than", "per"))
            or (word in ("every", "each") and bool(WHEN.match(doc[token.i:].text))))
        begins = begins or (not clause and token.tag_ in ("VBZ", "VBP", "VBD") and bool(
            pieces[-1][1]) and pieces[-1][1][0].pos_ == "ADP" and not any(
                t.dep_ == "nsubj" and t in pieces[-1][1] for t in token.lefts))
        if begins and pieces[-1][1] and not _belongs(pieces[-1][1], token):
            pieces.append(("", []))
        clause = clause or _begins_clause(doc, token) or (
            token.pos_ in ("VERB", "AUX") and any(
                t.dep_ in ("nsubj", "expl", "nsubjpass") for t in token.lefts))
        pieces[-1][1].append(token)
    return [(mark, doc[part[0].i: part[-1].i + 1].text) for mark, part in pieces if part]


def _begins_clause(doc: Doc, token: Token) -> bool:
    word = token.text.casefold()
    if word in ("that", "which", "who", "where", "so", "because", "since", "whose"):
        return token.tag_ != "DT"
    if word == "to":
        return token.tag_ == "TO" and token.dep_ == "aux"
    return token.tag_ in ("VBG", "VBN") and token.dep_ in ("acl", "advcl", "ROOT", "conj") and (
        _takes_object(doc[token.i + 1] if token.i + 1 < len(doc) else None)
        or (token.tag_ == "VBN" and token.i + 1 < len(doc) and doc[token.i + 1].pos_ in (
            "ADP", "DET", "ADV", "PART")))


def _belongs(piece: Sequence[Token], token: Token) -> bool:
    """Whether a word goes on with the piece before it: "for people who", "by Anna, who"."""
    words = [one.text.casefold() for one in piece]
    word = token.text.casefold()
    after = token.doc[token.i + 1] if token.i + 1 < len(token.doc) else token
    if all(one.pos_ == "ADV" for one in piece) or words[-1] in ("and", "of") or (
            words[0] == "open"):
        return True
    if word == "for" and price_in(" ".join(words))[0]:
        return True
    if words[0] == "for" and are_people(" ".join(words[1:])):
        if word in ("who", "whose") or (word in ("over", "under", "from", "between", "aged")
                                        and after.pos_ == "NUM"):
            return True
        if word == "with":
            return after.text.casefold() not in ("a", "an", "the") and after.pos_ != "NUM"
    if token.text.casefold() in ("who", "for") and {"by", "led", "taught"} & set(words):
        return True
    if words[0] in ("to", "that", "which", "so", "where", "who") or words[0].endswith("ing"):
        return True
    return words == ["and"]


def lower_first(words: str) -> str:
    """Return words with a small letter at the beginning, unless they begin with an abbreviation."""
    first = words.split(" ")[0]
    return words if first.isupper() and len(first) > 1 else words[:1].lower() + words[1:]


def head_of(what: str) -> str:
    """Return the last noun of a thing's name, without what belongs to it."""
    bare = re.split(r"\s(?:in|at|on|of|for|from|about|against|with|to|near|where)\s", f"{what} ")[0]
    return bare.split()[-1] if bare.split() else ""


def is_plural(noun: str) -> bool:
    """Whether a noun takes a verb in the plural."""
    low = noun.casefold().strip("'’")
    if low in ("people", "children", "men", "women", "kids", "folk"):
        return True
    if low in ("news", "yoga", "series", "business", "glass", "class", "course", "bus", "gas",
               "lens", "tennis", "pilates", "physics") or low.endswith(("ss", "us", "is", "ics")):
        return False
    return low.endswith("s") and str(inflection.singularize(low)) != low
