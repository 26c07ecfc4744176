"""A draft in a language that Needle cannot write: the person's own words, the language's forms."""

import random
import re
import tomllib
from collections.abc import Mapping
from functools import cache
from importlib.resources import files

import msgspec

from needle.core.draft.copy import Copy, Fact, Offered, Point, Wish
from needle.core.draft.phrases import bare
from needle.core.draft.reading.agreeing import capital
from needle.core.draft.slots import Slots

__all__ = ["PageWords", "foreign_copy", "page_words"]

_NAME_FITS = 40
_HEADLINE_FITS, _TITLE_FITS, _DESCRIPTION_FITS = 84, 62, 158


class PageWords(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """What stands on pages of a language besides the person's own words."""

    labels: Mapping[str, str]
    free: str
    call: tuple[str, ...]
    facts_title: str
    more_title: str
    closing: tuple[str, str]
    email: str
    name: str
    thanks_title: str
    thanks: str
    back: str
    privacy: str
    privacy_note: tuple[str, ...]
    footer: str


_ENGLISH = PageWords(
    labels={}, free="Free", call=(), facts_title="", more_title="", closing=("", ""),
    email="Your e-mail", name="Your name", thanks_title="Thank you",
    thanks="", back="Back to the start", privacy="Privacy",
    privacy_note=("Who answers for this site: name, street and town still to be written.",
                  "What the form asks is kept to answer you and to send what you asked for. It is "
                  "deleted when you ask for it.",
                  "This site counts visits without names. Nothing is passed on to anybody else "
                  "unless it says so here."),
    footer="Street, town, and who answers for it")


@cache
def page_words(language: str) -> PageWords:
    """Return the words of a language, those of English where there are none."""
    raw = tomllib.loads((files(__package__) / "words" / "other-languages.toml").read_text("utf-8"))
    return msgspec.convert(raw[language], PageWords) if language in raw else _ENGLISH


def foreign_copy(wish: Wish) -> Copy:
    """Return the words of a draft whose idea is not told in English."""
    slots, words = wish.slots, page_words(wish.slots.language)
    dice = random.Random(f"{wish.seed} {slots.idea}")
    sentences = [part.strip() for part in re.split(r"(?<=[.!?])\s+", slots.idea) if part.strip()]
    first = sentences[0].rstrip(".") if sentences else ""
    heads = [capital(slots.what), *([first] if len(first) <= _HEADLINE_FITS else ())]
    if len(slots.what.split()) < 3:
        heads.reverse()
    heads = [head for head in dict.fromkeys(heads) if head] or [slots.idea[:_HEADLINE_FITS] or "–"]
    told = [f"{plain}." for sentence in sentences
            if (plain := sentence.rstrip(".")) != heads[0]]
    call = wish.brief.call_to_action.strip() or dice.choice(words.call)
    where = bare(slots.place) if slots.place else ""
    names = tuple(dict.fromkeys(name for name in (
        slots.name, f"{capital(slots.what)} {where}".strip()[:_NAME_FITS], capital(slots.what)[:28],
        " ".join(slots.what.split()[:2]).title()) if name))
    price = f"{slots.price} {slots.per}".strip()
    return Copy(
        names=names, headlines=tuple(heads), subs=(" ".join(told[:2]) or words.closing[1],),
            call=call,
        eyebrow=capital(", ".join(part for part in (slots.when, slots.place) if part)),
        facts_title=words.facts_title, facts=_facts(slots, words, price),
        story_title=words.more_title if len(told) > 2 else "", story=tuple(told[2:]),
        offer=Offered(title=capital(slots.what)[:44], price=price, unit="", included=(),
                      sure=True) if price else None,
        offer_title=words.labels["price"],
        closing=Point(title=words.closing[0], words=words.closing[1]), thanks=words.thanks,
        title=heads[0][:_TITLE_FITS], description=" ".join(told)[:_DESCRIPTION_FITS] or heads[0])


def _facts(slots: Slots, words: PageWords, price: str) -> tuple[Fact, ...]:
    told = (("who", slots.who), ("place", slots.place), ("when", slots.when), ("price", price),
            ("free", words.free if slots.free else ""))
    return tuple(Fact(label=words.labels[slot], words=capital(said)) for slot, said in told if said)
