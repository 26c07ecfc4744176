"""Words for a first draft, made of the idea's slots and the stock of sentences.

Nothing is claimed that the idea does not tell: where it is silent stands a gap that says what to
put there. Every choice comes from the seed.
"""

import random
import re
from collections.abc import Callable, Iterable, Sequence

from needle.core.draft.copy import Copy, Fact, Line, Offered, Point, Said, Wish
from needle.core.draft.fields import is_about, topic_of
from needle.core.draft.foreign import foreign_copy
from needle.core.draft.names import name_proposals
from needle.core.draft.phrases import bare, phrases_of
from needle.core.draft.reading.agreeing import capital
from needle.core.draft.slots import Slots
from needle.core.draft.stock import sentences

__all__ = ["OfflineWriter"]

_BRACES = re.compile(r"\{(\w+)\}")
# In the order in which a page tells them.
_TOLD = ("does", "doing", "change", "change_theirs", "who", "extras", "proof", "place", "when",
         "price", "free")
# Of these a page makes reasons; where, when and what it costs stand among the facts.
_REASONS = ("does", "doing", "change", "change_theirs", "extras", "proof")
_ICONS = {"does": "sparkles", "doing": "wrench", "change": "flag", "change_theirs": "flag",
    "who": "users", "extras": "gift",
          "proof": "badge-check", "place": "map-pin", "when": "calendar", "price": "tag",
          "free": "gift", "facts": "info", "gap": "list-checks"}
_NUMBER = re.compile(r"(?P<number>\d[\d.,]*\d|\d) ?-?(?P<what>(?:km|kg|m)\b|[a-z][a-z-]+(?: "
                     r"[a-z-]+){0,2})",
                     re.IGNORECASE)
_NO_COUNT = re.compile(
    r"(?:am|pm|of|in|and|or|to|euros?|pounds|dollars|eur|cents|january|february|march|april|may|june|"
    r"july|august|september|october|november|december|st|nd|rd|th)\b", re.IGNORECASE)
_LEAST_POINTS, _MOST_POINTS = 3, 6
_TITLE_FITS, _DESCRIPTION_FITS, _HEADLINE_FITS = 62, 158, 84

Sound = Callable[[str], bool]


class OfflineWriter:
    """Writes with the sentences that ship."""

    def __init__(self, is_sound: Sound = lambda _: True) -> None:
        """Write with a judge.

        Args:
            is_sound: Whether a sentence is one; those that are not are left out.
        """
        self._is_sound = is_sound

    def write(self, wish: Wish) -> Copy:
        """Return the words; any idea gives some."""
        if wish.slots.language != "en":
            return foreign_copy(wish)
        return _Draft(wish, self._is_sound).copy()


class _Draft:
    """One draft being written."""

    def __init__(self, wish: Wish, is_sound: Sound) -> None:
        self._slots, self._brief, self._is_sound = wish.slots, wish.brief, is_sound
        self._dice = random.Random(f"{wish.seed} {wish.slots.idea}")
        self._stock = sentences()
        self._offer = self._stock.offers[wish.slots.offer]
        self._phrases = dict(phrases_of(wish.slots))
        self._gaps: dict[str, list[str]] = {}

    def copy(self) -> Copy:
        """Return everything."""
        slots, stock = self._slots, self._stock
        names = name_proposals(slots, self._dice)
        heads = self._headlines()
        subs = self._subs(heads)
        call = self._brief.call_to_action.strip() or self._dice.choice(self._offer.calls)
        ask = self._dice.choice(self._offer.ask)
        closing = self._dice.choice(self._offer.closings)
        points = self._points()
        return Copy(
            names=names, headlines=heads, subs=subs, call=call, eyebrow=self._eyebrow(heads[0]),
            facts_title=self._title("facts"), facts=self._facts(),
            problem_title=self._title("problem"), problem=self._problem(),
            points_title=self._title("points"), points=points,
            steps_title=self._title("steps"), steps=self._steps(),
            voices_title=self._title("voices"), voices=self._voices(),
            figures=_figures(slots), offer_title=self._offer_title(), offer=self._offered(),
            questions_title=self._title("questions"), questions=self._questions(),
            story_title=self._title("story"), story=self._story(),
            behind="" if slots.proof else self._gap("who"),
            compared_title=self._title("compared"), compared=self._compared(),
            day_title=self._title("day"), day=self._day(),
            gallery_title=self._title("gallery"),
            seen=tuple(self._gap("seen") for _ in range(3)),
            closing=Point(title=closing[0], words=closing[1]), ask=ask[0], choices=ask[1:],
            thanks=self._dice.choice(stock.thanks),
            title=_fitting(heads, f" | {names[0]}" if names else "", _TITLE_FITS),
            description=_whole_sentences(f"{heads[0].rstrip('.')}. {subs[0]}", _DESCRIPTION_FITS))

    # The opening

    def _headlines(self) -> tuple[str, ...]:
        """Return headlines, those that tell most of this very idea first."""
        slots, patterns = self._slots, self._stock.headlines
        wanted = [*patterns["all"], *(patterns["free"] if slots.free else ())]
        made = {pattern: words for pattern in wanted
                if (words := self._filled(pattern)) and self._fits(pattern, words)}
        ranked = sorted(made, key=lambda pattern: -self._weight(pattern, made[pattern]))
        found = list(dict.fromkeys(made[pattern] for pattern in ranked))
        return tuple(found[:4]) or (capital(slots.idea[:_HEADLINE_FITS]) or "What it is",)

    def _fits(self, pattern: str, words: str) -> bool:
        if pattern.startswith("{Change}") and len(self._slots.change.split()) < 3:
            return False
        return len(words) <= _HEADLINE_FITS and self._is_sound(words)

    def _weight(self, pattern: str, words: str) -> float:
        """Return how much a headline says: what it does and changes above where and when."""
        worth = {"Change": 5.0, "that_does": 4.5, "doing": 4.0, "who": 2.4, "place": 1.4,
                 "when": 1.0, "extras": 0.9, "price_per": 0.6, "A_what": 0.5}
        said = sum(worth.get(slot, 0) for slot in _BRACES.findall(pattern))
        return said - max(0, len(words) - 60) * 0.08 + self._dice.random() * 0.5

    def _subs(self, heads: Sequence[str]) -> tuple[str, ...]:
        """Return what stands below the headline: what it does not say."""
        found = []
        for turn in range(3):
            said, told = heads[0], []
            for slot in _TOLD:
                if sentence := self._told(slot, said):
                    told.append(sentence)
                    said += f" {sentence}"
            kept = told[:3] if not turn else self._dice.sample(told, min(len(told), 2))
            if kept:
                found.append(" ".join(kept))
        return tuple(dict.fromkeys(found)) or (self._dice.choice(self._offer.closings)[1],)

    def _told(self, slot: str, besides: str = "") -> str:
        """Return a sentence about a slot; nothing if it is empty or said already."""
        said = self._phrases["price_per" if slot == "price" else slot] if slot != "free" else (
            "free" if self._slots.free else "")
        if not said or said.casefold() in besides.casefold():
            return ""
        patterns = list(self._stock.told[slot])
        self._dice.shuffle(patterns)
        made = (self._filled(pattern) for pattern in patterns)
        return next((words for words in made if words and self._is_sound(words)), "")

    def _eyebrow(self, head: str) -> str:
        parts = [bare(part) for part in (self._slots.when, self._slots.place)
                 if part and part not in head]
        made = ", ".join(parts)
        return capital(made) if 0 < len(made) <= 60 else ""

    # What the idea tells

    def _facts(self) -> tuple[Fact, ...]:
        """Return everything that was told, in a list."""
        labels, slots = self._stock.labels, self._slots
        found = []
        for slot in _TOLD:
            words = {"price": self._phrases["price_per"], "free": "Free" if slots.free else "",
                     "does": self._phrases["it_does"], "doing": f"We {slots.doing}"}.get(
                         slot, self._phrases.get(slot, ""))
            if words and not (slot == "doing" and not slots.doing):
                found.append(Fact(label=labels[slot], words=capital(words)))
        found += [Fact(label=labels["facts"], words=fact) for fact in slots.facts]
        return tuple(found)

    def _points(self) -> tuple[Point, ...]:
        """Return what speaks for it: what was told, then gaps up to three."""
        found = []
        heads = {slot: list(words) for slot, words in self._stock.heads.items()}
        for words in heads.values():
            self._dice.shuffle(words)
        for slot in _REASONS:
            if sentence := self._told(slot):
                head = self._filled(heads[slot].pop())
                found.append(Point(title=head, words=sentence, icon=_ICONS[slot]))
        for fact in self._slots.facts:
            if heads["facts"]:
                found.append(Point(title=heads["facts"].pop(), words=f"{fact.rstrip('.')}.",
                                   icon=_ICONS["facts"]))
        while len(found) < _LEAST_POINTS:
            number = self._next_gap("point")
            gaps = self._stock.gaps
            found.append(Point(title=gaps["point_head"][number], words=gaps["point"][number],
                               icon=_ICONS["gap"]))
        return tuple(found[:_MOST_POINTS])

    # What is much the same for each kind

    def _problem(self) -> tuple[str, ...]:
        topic = topic_of(self._slots.what, self._slots.idea)
        own = self._dice.sample(self._offer.problem, 1)
        head = re.split(r" (?:of|for|in|on|about) ", f"{self._slots.what} ")[0].split()[-1:]
        if self._slots.offer != "cause" and is_about(" ".join(head), topic) and (
                self._dice.random() < 0.5):
            own = list(topic.problem)
        return (*own, self._gap("problem"))

    def _steps(self) -> tuple[Point, ...]:
        chosen = (self._dice.choice(step) for step in self._offer.steps)
        return tuple(Point(title=title, words=words) for title, words in chosen)

    def _voices(self) -> tuple[Said, ...]:
        return tuple(Said(quote=self._gap("voice"), name=self._gap("voice_name"),
                          about=self._gap("voice_about")) for _ in range(3))

    def _offer_title(self) -> str:
        kind = "offer_free" if self._slots.free else "offer"
        return self._title("offer_cause" if self._slots.offer == "cause" else kind)

    def _offered(self) -> Offered | None:
        """Return the offer; a cause has none, and what is free no price."""
        slots = self._slots
        if slots.offer == "cause" and not slots.price:
            return None
        title = capital(slots.what if len(slots.what) < 44 else slots.what.split(" of ")[0][:44])
        own = tuple(map(capital, slots.extras))
        included = own or tuple(self._gap("included") for _ in range(3))
        if slots.free:
            return Offered(title=title, price="Free", unit="", included=included, sure=True)
        missing = (self._gap("missing"),)
        if slots.price:
            return Offered(title=title, price=capital(slots.price), unit=slots.per,
                           included=included, missing=missing, sure=True)
        return Offered(title=title, price="?", unit=self._gap("price"), included=included,
                       missing=missing)

    def _questions(self) -> tuple[Point, ...]:
        """Return what people ask: what the brief says they come for goes first."""
        asked = [line.strip(" ·-*•\t") for line in self._brief.facts.splitlines() if line.strip()]
        known = [Point(title=f"{capital(fact.rstrip('.?! '))}?", words=self._answer(fact))
                 for fact in asked[:4]]
        stock = [question for question in self._dice.sample(
            self._offer.questions, len(self._offer.questions))
            if not any(_alike(question, point.title) for point in known)]
        rest = [Point(title=question, words=self._answer(question)) for question in stock]
        return (*known, *rest)[: max(4, len(known))]

    def _answer(self, question: str) -> str:
        """Return the answer to a question if the idea has it, else a gap."""
        low = question.casefold()
        for pattern, slot in ((r"\bcosts?\b|price|how much|\bpay\b", "price"),
                              (r"\bwhere\b|get there", "place"), (r"\bwhen\b|which day|open",
                               "when"),
                              (r"\bwho (?:teaches|runs|leads|does|will|is behind)", "proof"),
                              (r"for whom|who is it for", "who")):
            if re.search(pattern, low):
                if slot == "price" and self._slots.free:
                    return self._told("free")
                if sentence := self._told(slot):
                    return sentence
        return self._gap("answer")

    # What some orders of argument need

    def _story(self) -> tuple[str, ...]:
        told = [f"{fact.rstrip('.')}." for fact in self._slots.facts
                if len(fact.split()) > 3]
        if self._slots.proof:
            told.append(f"{self._slots.proof.rstrip('.')}.")
        return (self._gap("story_begin"), *told, self._gap("story_turn"), self._gap("story_more"),
                self._gap("story_end"))

    def _compared(self) -> tuple[Line, ...]:
        return tuple(Line(what=self._gap("compare"), there=self._gap("there"),
                          here=self._gap("here")) for _ in range(3))

    def _day(self) -> tuple[Point, ...]:
        stock = self._stock
        times = [self._dice.choice(times) for times in stock.moment_times]
        if 0 < len(self._slots.when) < 24:
            times[0] = capital(bare(self._slots.when))
        return tuple(Point(title=time, words=self._dice.choice(words))
                     for time, words in zip(times, stock.moments, strict=True))

    # Words

    def _title(self, name: str) -> str:
        return self._dice.choice(self._stock.titles[name])

    def _gap(self, name: str) -> str:
        """Return a gap; no two of a page are alike as long as there are others."""
        return self._stock.gaps[name][self._next_gap(name)]

    def _next_gap(self, name: str) -> int:
        left = self._gaps.get(name)
        if not left:
            numbers = list(range(len(self._stock.gaps[name])))
            self._dice.shuffle(numbers)
            left = self._gaps[name] = [str(number) for number in numbers]
        return int(left.pop())

    def _filled(self, words: str) -> str:
        """Return words with their braces filled, or nothing if one of them stays empty."""
        if any(not self._phrases.get(slot) for slot in _BRACES.findall(words) if slot != "s"):
            return ""
        return re.sub(r"\s+([.,])", r"\1", words.format_map(self._phrases)).replace("  ", " ")


def _figures(slots: Slots) -> tuple[tuple[str, str], ...]:
    """Return the numbers that the idea itself tells, and what they count."""
    found = []
    for told in (*slots.facts, *slots.extras):
        for number in _NUMBER.finditer(told):
            what = number["what"]
            if not _NO_COUNT.match(what):
                found.append((number["number"], re.sub(r" (?:in|at|on|for|of|a|the|before|by|and)$",
                                                       "", what)))
    return tuple(found[:4])


def _alike(one: str, other: str) -> bool:
    long = set(re.findall(r"\w{5,}", one.casefold()))
    return bool(long & set(re.findall(r"\w{5,}", other.casefold())))


def _fitting(choices: Iterable[str], more: str, most: int) -> str:
    """Return the first choice that fits, with the addition if both fit."""
    last = ""
    for words in (words.rstrip(".") for words in choices):
        last = words
        if len(words) <= most:
            return words + more if len(words + more) <= most else words
    return last[:most].rsplit(" ", 1)[0].rstrip(" ,:;")


def _whole_sentences(words: str, most: int) -> str:
    """Return as many whole sentences as fit."""
    kept = ""
    for sentence in re.split(r"(?<=[.!?])\s+", words):
        if len(f"{kept} {sentence}".strip()) > most:
            break
        kept = f"{kept} {sentence}".strip()
    return kept or words[:most].rsplit(" ", 1)[0]

