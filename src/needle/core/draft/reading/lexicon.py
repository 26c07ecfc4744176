"""Words by which an idea is taken apart: who people are, what places are, what kinds of offer."""

import re
import tomllib
from importlib.resources import files

__all__ = ["DOING", "MAKING", "NO_NAMES", "OFFERING", "PLACED", "SHOWING", "SMALL", "WISHES",
           "are_people", "is_mass", "is_place", "keyed", "keyed_offer", "offer_of"]

_WORDS = tomllib.loads((files("needle.core.draft") / "words" / "english.toml").read_text("utf-8"))


def _set(name: str) -> frozenset[str]:
    return frozenset(_WORDS[name].split())


_PEOPLE, _NO_PEOPLE, _MASS, _PLACES = map(_set, ("people", "no_people", "mass", "places"))
_PERSONAL = tuple(_WORDS["personal"].split())
# Verbs after which stands what is offered; of all others the whole phrase is what is done.
OFFERING = _set("offering")
MAKING = _set("making")
NO_NAMES, PLACED, SHOWING, SMALL, WISHES = map(
    _set, ("no_names", "placed", "showing", "small", "wishes"))
# What becomes of "we repair bicycles": bicycle repairs.
DOING: dict[str, str] = _WORDS["doing"]
_OFFERS: dict[str, frozenset[str]] = {
    offer: frozenset(words.split()) for offer, words in _WORDS["offers"].items()}
# What tells the kind of offer wherever it stands, and how much it weighs.
_TELLING = (
    ("cause", 6.0, re.compile(
        r"\b(?:volunteers?|donat\w+|petition|signatures|sign the|write to the council)\b|"
        r"^(?:help us|save|stop) ", re.I)),
    ("membership", 7.0, re.compile(
        r"\bmembers?\b.*\b(?:a|per|every) (?:month|year)|\bmonthly box\b|"
        r"\bbox(?:es)?\b.*\b(?:every|each|a) (?:month|week)", re.I)),
    ("event", 4.0, re.compile(r"\b(?:first|second|third|last) \w+day of (?:every|each|the) month",
                              re.I)),
    ("software", 9.0, re.compile(r"\b(?:open[- ]source|online payments|browser)\b|"
                                 r"\btool (?:that|which|to)\b", re.I)))

def is_mass(noun: str) -> bool:
    """Whether there is no "one" of a noun in the singular."""
    low = noun.casefold()
    return low in _MASS or (low.endswith("ing") and low not in (
        "evening", "morning", "painting", "meeting", "building", "gathering", "outing",
        "training", "ring", "wedding", "reading", "screening", "tasting"))


def is_place(noun: str) -> bool:
    """Whether a noun, in the singular, is a place where one can be."""
    return noun.casefold() in _PLACES


def are_people(who: str) -> bool:
    """Whether words name people: "toddlers", "anyone who bakes", "small shops"."""
    words = who.casefold().split()
    if not words or not words[0][0].isalpha() or len(words) > 14:
        return False
    if words[0] in ("anyone", "everyone", "people", "those", "everybody", "anybody", "someone"):
        return True
    if words[0] in ("a", "an", "the", "your", "sale", "rent", "hire", "just", "only", "my"):
        words = words[1:]
    head = re.split(r"\s(?:who|with|that|and|in|of|aged)\s", " ".join(words))[0].split()
    return bool(head) and (head[-1] in _PEOPLE or (
        head[-1] not in _NO_PEOPLE and head[-1].endswith(_PERSONAL)))


def keyed(words: str) -> list[str]:
    """Return the words in lower case, each also without its plural ending."""
    found = re.findall(r"[a-zà-ÿ]+(?:-[a-z]+)?", words.casefold())
    parts = [piece for word in found for piece in ({word} | set(word.split("-")))]
    return [form for word in parts for form in {word, word.removesuffix("s"),
                                                word.removesuffix("es")}]


def keyed_offer(noun: str) -> bool:
    """Whether a noun names an event or a course: "weekend", "class"."""
    return any(form in _OFFERS[offer] for offer in ("event", "course") for form in keyed(noun))


def offer_of(head: str, what: str, doing: str, whole: str, many: bool) -> str:
    """Return the kind of offer that words speak of most: the last noun counts most.

    Args:
        head: The last noun of what is offered.
        doing: What is done for customers, if that is how it was told.
        whole: Everything that was told.
    """
    weights = ((4.0, keyed(head)), (2.0, keyed(what)), (0.4, keyed(whole)))
    scores = {offer: sum(weight * sum(word in words for word in found)
                         for weight, found in weights) for offer, words in _OFFERS.items()}
    for offer, weight, pattern in _TELLING:
        scores[offer] += weight * bool(pattern.search(whole))
    scores["service"] += 3.0 * bool(doing) + 1.5 * head.casefold().endswith(("ing", "ers"))
    scores["product"] += 1.0 * many + 0.5
    best: str = max(scores, key=lambda offer: scores[offer])
    return best
