"""Which slot a piece of a sentence fills."""

import re

import inflection
from spacy.language import Language
from spacy.tokens import Doc

from needle.core.draft.reading.agreeing import capital
from needle.core.draft.reading.found import Found
from needle.core.draft.reading.lexicon import PLACED, are_people, is_place
from needle.core.draft.reading.marks import FREE, LIMIT, WHEN, price_in
from needle.core.draft.reading.parting import DAY
from needle.core.draft.reading.turning import as_base, as_fact, as_third_person, second_person

__all__ = ["CAN", "IT_IS_FREE", "LEARN", "LED", "Classifier", "is_clause"]

LED = re.compile(r"\b(?:taught|led|run|hosted|made|written|founded|given|guided|cooked|baked|"
                  r"built|sewn|woven|drawn|painted|started|held|organi[sz]ed) by\b|"
                  r"\bsince (?:19|20)\d\d\b|\bfor (?:over |more than )?\d+ years\b|"
                  r"\bby half\b|\bby \d+ ?%|\b\d+ years of\b", re.IGNORECASE)
# "learn to sharpen your own knives" is what they can do then.
LEARN = re.compile(r"(?:you(?:'ll| will)? )?learn (?:how )?to (?P<can>\S+ .+)$", re.IGNORECASE)
_THOSE = ("people", "you", "they", "everyone", "anyone", "we", "everybody")
CAN = re.compile(rf"^(?:so that |so |where |with which )?(?:{'|'.join(_THOSE)}|[a-z]+s) "
                  r"(?:can|could|may|will be able to|are able to) (?P<can>.+)$", re.IGNORECASE)
IT_IS_FREE = re.compile(r"(?:it|this|everything|entry|admission|joining|coming)(?: is|'s) free\b|"
                         r"\bfree of charge\b|\bcosts nothing\b|\bfree and open\b", re.IGNORECASE)
_GOAL = re.compile(r"\b(?:goal|target|raise|raised|need)\b", re.IGNORECASE)
_LIST = re.compile(r"\s*(?:,|;|\band\b|&|\bplus\b)\s*")
_MOST_WHAT, _MOST_WHERE = 8, 13


class Classifier:
    """Puts pieces into the slots that they fill."""

    def __init__(self, nlp: Language) -> None:
        """Classify with a parser."""
        self._nlp = nlp

    def take(self, piece: str, found: Found) -> None:
        """Put one piece of the sentence into the slot that it fills."""
        piece = piece.strip(" ,:;-–—")
        if not piece:
            return
        low = piece.casefold()
        if (learn := LEARN.match(piece)) and not found.change:
            found.change = second_person(learn["can"])
            return
        price, per, where = price_in(piece)
        if where is not None and (_GOAL.search(piece) or found.price):
            found.facts.append(capital(piece))  # A goal, or a second price: no slot for it.
            return
        if where is not None and not found.price and (
                len(where.group(0).split()) >= len(piece.split()) - 4):
            found.price, found.per = price, per
            self.take(re.sub(r"^\s*(?:and|or|for)\b", "", (
                piece[: where.start()] + piece[where.end():])), found)
            return
        if FREE.fullmatch(low) or IT_IS_FREE.fullmatch(low):
            found.free = True
            return
        if IT_IS_FREE.search(low):
            found.free = True
        moment = WHEN.search(piece)
        if low.startswith("open ") and moment:
            found.when = found.when or piece
            return
        if moment and re.match(r"\w+(?:ed|ent|eld) ", piece) and moment.start() < 16:
            if re.match(r"(?:held|opened|shown) ", low):
                found.when = found.when or moment.group(0)
            found.facts.append(capital(piece))
            return
        if moment and self._take_both(piece, moment, found):
            return
        if moment and len(moment.group(0)) >= 0.6 * len(piece):
            joined = " " if re.match(r"(?:of|at|in) ", low) else ", "
            found.when = f"{found.when}{joined}{piece}" if found.when else piece
            return
        if LIMIT.search(piece) and len(piece.split()) <= 6:
            found.facts.append(capital(piece))
            return
        if LED.search(piece) and low.split()[0] not in ("that", "which"):
            found.proof.append(piece)
            return
        self._by_first_word(piece, low.split()[0], found)

    def _take_both(self, piece: str, moment: "re.Match[str]", found: Found) -> bool:
        """Take "Tuesdays 5 to 7 pm at the library": a time and the place after it."""
        after = re.search(rf"\b(?P<word>{'|'.join(PLACED)}) (?P<where>\D.*)$",
                          piece[moment.end():])
        if moment.start() or found.when or after is None or not self._is_somewhere(after["where"]):
            return False
        found.when = piece[: moment.end() + after.start()].strip()
        found.place = f"{found.place} {after.group(0)}".strip()
        return True

    def _by_first_word(self, piece: str, first: str, found: Found) -> None:
        rest = piece.partition(" ")[2].strip()
        if first == "for" and rest.split(" ")[0].endswith("ing") and not found.does and (
                len(rest.split()) > 1):
            verb, _, thing = rest.partition(" ")
            self.take_does(as_third_person(f"{as_base(verb)} {thing}"), found)
        elif first in ("for", "to") and are_people(rest):
            found.who = found.who or rest
        elif first == "who" and rest and found.who:
            found.who = f"{found.who} {piece}"
        elif first in ("with", "including", "plus", "includes") and rest:
            found.extras += [one for one in _LIST.split(rest) if one]
        elif first in ("that", "which") and rest:
            self.take_does(rest, found)
        elif first == "where" and rest and not CAN.match(piece):
            if len(f"{found.what} {piece}".split()) <= _MOST_WHERE:
                found.what = f"{found.what} {piece}"
            else:
                found.facts.append(capital(rest))
        elif (can := CAN.match(piece)) and not found.change and len(can["can"].split()) > 2:
            found.change = second_person(can["can"])
        elif first == "to" and rest and not found.change and not found.does:
            self.take_does(as_third_person(rest), found)
        elif first in PLACED and self._is_somewhere(rest):
            found.place = f"{found.place} {piece}".strip()
        elif self._is_name_of_place(piece):
            found.place = found.place or f"at {piece}"
        elif first in ("of", "for", "in", "on", "about", "against", "from") and rest and not (
                found.facts or found.extras) and len(f"{found.what} {piece}".split()) <= _MOST_WHAT:
            found.what = f"{found.what} {piece}"
        elif first.endswith("ing") and rest and not found.does and first not in ("including",):
            self.take_does(as_third_person(as_base(first) + " " + rest), found)
        elif self._is_finite(piece) and not found.does and piece[:1].islower():
            self.take_does(piece, found)
        elif fact := as_fact(self._nlp(capital(piece))):
            found.facts.append(fact)

    def take_does(self, said: str, found: Found) -> None:
        if found.does:
            found.facts.append(capital(said))
            return
        said, so, purpose = said.partition(" so ")
        if so and (can := CAN.match(f"so {purpose}")):
            found.change = found.change or second_person(can["can"])
        elif so:
            said = f"{said} so {purpose}"
        found.does = said
        doc = self._nlp(f"It {said}")
        verb = next((t for t in doc if t.dep_ == "ROOT"), None)
        if verb is None or found.who:
            return
        for helped in verb.subtree:
            if helped.pos_ not in ("NOUN", "PROPN") or helped.dep_ not in (
                    "dobj", "nsubj", "dative", "pobj"):
                continue
            who = " ".join(t.text for t in helped.subtree if t.i <= helped.i)
            if are_people(who):
                found.who = who
                return

    def _is_finite(self, piece: str) -> bool:
        """Whether a piece begins with a verb in the present, by itself and after "it"."""
        after, alone = self._nlp(f"It {piece}"), self._nlp(piece)
        return len(after) > 2 and after[1].tag_ == "VBZ" and alone[0].tag_ == "VBZ"

    def _is_somewhere(self, words: str) -> bool:
        if re.match(r"(?:the |our |my )?[A-Z]", words) and not DAY.match(words):
            return True
        doc = self._nlp(words)
        if any(ent.label_ in ("GPE", "LOC", "FAC") for ent in doc.ents):
            return True
        nouns = [token for token in doc if token.pos_ in ("NOUN", "PROPN")]
        if any(token.pos_ == "PROPN" and token.text[:1].isupper() for token in nouns):
            return True
        # "in cities" is no place: where one can go stands in the singular, or is that one.
        return any(is_place(token.text) or (is_place(str(inflection.singularize(token.text)))
                                            and doc[0].pos_ in ("DET", "PRON"))
                   for token in nouns[:2])

    def _is_name_of_place(self, piece: str) -> bool:
        words = piece.split()
        if not words[0][:1].isupper() or len(words) > 6:
            return False
        doc = self._nlp(f"We meet at {piece}")
        return all(token.pos_ in ("PROPN", "ADP", "DET", "CCONJ") for token in doc[3:])


def is_clause(doc: Doc) -> bool:
    """Whether a text says that somebody does something."""
    return any(token.dep_ in ("nsubj", "nsubjpass", "expl") and token.head.pos_ in ("VERB", "AUX")
               and token.i < 4 for token in doc)
