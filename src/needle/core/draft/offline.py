"""Words for a first draft from a grammar of pages that sell, without any network.

The pattern: problem, promise, proof, plan, price, push. Every choice comes from the seed.
"""

import random
import re
from collections.abc import Iterable, Mapping, Sequence

from needle.core.draft.copy import Copy, Offered, Point, Said, Wish
from needle.core.draft.fields import Pair, Topic
from needle.core.draft.idea import Idea, read_idea
from needle.core.draft.names import name_proposals

__all__ = ["OfflineWriter"]

_SLOT = re.compile(r"\{(\w+)\}")
_PROBLEM_TITLES = ("You know how it is", "How it is today", "Does this sound like you?",
                   "Where it hurts")
_POINTS_TITLES = ("What changes", "Why {a_what}, and why here", "What you get out of it",
                  "What is good about it")
_STEPS_TITLES = ("Three steps", "How it goes", "From here to there", "This is the plan")
_VOICES_TITLES = ("What people say", "Afterwards", "In their words")
_OFFER_TITLES = ("What it costs", "The price, and what is in it", "One price")
_QUESTION_TITLES = ("Before you ask", "Good questions", "What people ask first")
_NAMES = ("Ilse", "Tomas", "Mara", "Oren", "Pia", "Joris", "Nadia", "Bram", "Lene", "Aziz")
_ABOUT = ("was there in spring", "has been there twice", "came with a friend", "tried it first",
          "from the next town")
_DESCRIPTION_FITS = 158
_TITLE_FITS = 62


class OfflineWriter:
    """Writes with the grammar that ships."""

    def write(self, wish: Wish) -> Copy:
        """Return the words; any idea gives some."""
        idea = read_idea(wish.idea or wish.brief.idea)
        dice = random.Random(f"{wish.seed} {idea.words}")
        return _Draft(idea, wish, dice).copy()


class _Draft:
    """One draft being written."""

    def __init__(self, idea: Idea, wish: Wish, dice: random.Random) -> None:
        self._idea = idea
        self._brief = wish.brief
        self._dice = dice
        self._slots = _slots(idea, wish)

    def copy(self) -> Copy:
        idea, form, dice = self._idea, self._idea.form, self._dice
        names = name_proposals(idea, dice)
        heads = self._headlines()
        subs = tuple(self._unrepeated(sub, heads[0]) for sub in self._all(form.subs)) or (
            f"{self._slots['A_what']}.",)
        call = self._brief.call_to_action.strip() or dice.choice(form.calls)
        return Copy(
            names=names, headlines=heads, subs=subs, call=call, eyebrow=self._eyebrow(),
            problem_title=dice.choice(_PROBLEM_TITLES), problem=form.problem or idea.topic.problem,
            points_title=self._one(_POINTS_TITLES), points=self._points(),
            steps_title=dice.choice(_STEPS_TITLES), steps=self._pairs(form.steps),
            voices_title=dice.choice(_VOICES_TITLES), voices=self._voices(),
            figures=form.figures, offer_title=dice.choice(_OFFER_TITLES), offer=self._offer(),
            questions_title=dice.choice(_QUESTION_TITLES), questions=self._questions(),
            closing=Point(title=form.closing[0], words=self._fill(form.closing[1])),
            ask=form.ask, choices=form.choices, thanks=form.thanks,
            title=_fitting((heads[0], self._slots["A_what"]), f" | {names[0]}", _TITLE_FITS),
            description=_whole_sentences(f"{heads[0].rstrip('.')}. {subs[0]}",
                                         _DESCRIPTION_FITS))

    def _headlines(self) -> tuple[str, ...]:
        """Return headlines, those that say most about this very idea first."""
        said = self._all(self._idea.form.heads)
        if not self._idea.english:
            said = (_short_sentence(self._idea.words), *said)
        benefit = [head for head in said if self._slots["Benefit"] and head.startswith(
            self._slots["Benefit"])]
        rest = [head for head in said if head not in benefit and len(head) <= 90]
        keep = [head for head in rest if self._slots["does"] and self._slots["does"] in head]
        others = [head for head in rest if head not in keep]
        best = [*benefit, *keep, *others] if self._idea.english else said
        return tuple(dict.fromkeys(best))[:4] or (_capital(self._slots["a_what"]),)

    def _unrepeated(self, sub: str, head: str) -> str:
        """Return a sub-headline without the sentence that says again what the headline says."""
        told = [part for part in (self._slots["who"], self._slots["A_what"]) if part in head]
        sentences = re.split(r"(?<=[.!?])\s+", sub)
        fresh = [s for s in sentences if not any(part.casefold() in s.casefold() for part in told)]
        return " ".join(fresh or sentences)

    def _eyebrow(self) -> str:
        parts = [part for part in (self._idea.when, self._idea.place) if part]
        if parts:
            return _capital(", ".join(_bare(part) for part in parts))
        who = self._slots["who"]
        return f"For {who}" if len(who) < 48 else ""

    def _points(self) -> tuple[Point, ...]:
        extras = tuple((_capital(_no_article(extra)), "It is part of it, and there is time to use "
                        "it.") for extra in self._idea.extras[:2]) if len(
                            self._idea.extras) > 1 else ()
        own = list(self._idea.form.points)
        self._dice.shuffle(own)
        topic = () if self._idea.form.problem else self._idea.topic.points
        both = [*extras, *topic, *own][:6]
        return self._pairs(both)

    def _voices(self) -> tuple[Said, ...]:
        names = self._dice.sample(_NAMES, 3)
        abouts = self._dice.sample(_ABOUT, 3)
        return tuple(Said(quote=quote, name=name, about=about) for quote, name, about in zip(
            self._idea.form.voices, names, abouts, strict=False))

    def _offer(self) -> Offered:
        form = self._idea.form
        title = _capital(self._idea.what if len(self._idea.what) < 40 else self._idea.head)
        return Offered(title=title, price=self._idea.price or "Price to come", unit=form.unit,
                       included=form.included, missing=(form.missing,))

    def _questions(self) -> tuple[Point, ...]:
        """Return what people ask: what the brief says they come for goes first."""
        asked = [line.strip(" ·-*•\t") for line in self._brief.facts.splitlines() if line.strip()]
        own = [Point(title=_as_question(fact), words="The answer is still to be written.")
               for fact in asked[:4]]
        known = {word for point in own for word in point.title.casefold().split() if len(word) > 4}
        rest = [point for point in self._pairs(self._idea.form.questions)
                if not known & set(re.findall(r"\w{5,}", point.title.casefold()))]
        return (*own, *rest)[: max(4, len(own))]

    # Slots

    def _fill(self, words: str) -> str:
        """Return words with their slots filled, or nothing if one of them stays empty."""
        if any(not self._slots.get(slot) and slot not in _MAY_BE_EMPTY
               for slot in _SLOT.findall(words)):
            return ""
        return re.sub(r"\s+([.,])", r"\1", words.format_map(self._slots)).replace("  ", " ")

    def _all(self, choices: Iterable[str]) -> tuple[str, ...]:
        return tuple(filled for words in choices if (filled := self._fill(words)))

    def _one(self, choices: Sequence[str]) -> str:
        return self._dice.choice(self._all(choices))

    def _pairs(self, pairs: Iterable[Pair]) -> tuple[Point, ...]:
        return tuple(Point(title=self._fill(title), words=self._fill(words))
                     for title, words in pairs)


_MAY_BE_EMPTY = frozenset({"place", "when"})


def _slots(idea: Idea, wish: Wish) -> Mapping[str, str]:
    """Return what the slots of the grammar stand for in this idea."""
    audience = wish.brief.audience.strip().split("\n")[0].rstrip(".")
    who = idea.who or (_lower(audience) if 3 < len(audience) < 70 else "") or idea.topic.people
    a_what = f"{idea.article} {idea.what}".strip()
    does = idea.does if len(idea.does) < 90 else ""
    many, place = idea.plural, f" {idea.place}" if idea.place else ""
    return {
        "what": idea.what, "a_what": a_what, "A_what": _capital(a_what),
        "who": who, "for_who": "" if " for " in idea.what else f"for {who}",
        "for_whom": f"for {idea.who}" if idea.who and " for " not in idea.what else "",
        "in_place": place, "place": place,
        "when": f" {idea.when}" if idea.when else "", "does": does,
        "that_does": does, "benefit": idea.benefit, "Benefit": _capital(idea.benefit),
        "pain": idea.topic.pain if _is_about(idea.what, idea.topic) else "",
        "it": "they" if many else "it",
        "it_obj": "them" if many else "it"}


def _is_about(what: str, topic: Topic) -> bool:
    """Whether the thing itself, not only what is said about it, belongs to a topic."""
    words = {form for word in what.casefold().split() for form in (word, word.removesuffix("s"))}
    return bool(words & topic.keywords)


def _capital(words: str) -> str:
    return words[:1].upper() + words[1:]


def _lower(words: str) -> str:
    return words if words[:2].isupper() else words[:1].lower() + words[1:]


def _bare(phrase: str) -> str:
    """Return a phrase of place or time without its preposition: "Leeds", "every Tuesday"."""
    return re.sub(r"^(?:in|at|on|near)\s+", "", phrase)


def _no_article(words: str) -> str:
    return re.sub(r"^(?:an?|the|some)\s+", "", words)


def _as_question(fact: str) -> str:
    plain = _capital(fact.rstrip(".?! "))
    return f"{plain}?"


def _short_sentence(words: str) -> str:
    first = re.split(r"(?<=[.!?])\s", words)[0].rstrip(".")
    return " ".join(first.split()[:14])


def _fitting(choices: Sequence[str], more: str, most: int) -> str:
    """Return the first choice that fits, with the addition if both fit."""
    for words in (word.rstrip(".") for word in choices):
        if len(words) <= most:
            return words + more if len(words + more) <= most else words
    return choices[-1][:most].rsplit(" ", 1)[0].rstrip(" ,:;")


def _whole_sentences(words: str, most: int) -> str:
    """Return as many whole sentences as fit."""
    kept = ""
    for sentence in re.split(r"(?<=[.!?])\s+", words):
        if len(f"{kept} {sentence}".strip()) > most:
            break
        kept = f"{kept} {sentence}".strip()
    return kept or words[:most].rsplit(" ", 1)[0]
