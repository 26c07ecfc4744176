"""Proposals for a name."""

import random
import re
import tomllib
from collections.abc import Callable
from functools import cache
from importlib.resources import files

from needle.core.draft.fields import topic_of
from needle.core.draft.slots import Slots

__all__ = ["name_proposals"]

_HOW_MANY = 6
_LONGEST = 28


@cache
def _dull() -> frozenset[str]:
    words = tomllib.loads((files(__package__) / "words" / "english.toml").read_text("utf-8"))
    return frozenset(words["dull"].split())


def _stem(word: str) -> str:
    return word.casefold().removesuffix("s")


def name_proposals(slots: Slots, dice: random.Random) -> tuple[str, ...]:
    """Return six names: what it calls itself first, then words of its field put together."""
    topic = topic_of(slots.what, slots.idea)
    first, second = list(topic.first), list(topic.second)
    dice.shuffle(first)
    dice.shuffle(second)
    found = [slots.name] if slots.name else []
    place = re.sub(r"^(?:in|at|near|above|around|across|outside|on)\s+(?:the\s+)?", "", slots.place)
    dull = _dull()
    own = [word.strip("'’").capitalize() for word in slots.what.split()
           if word.isalpha() and _stem(word) in {_stem(key) for key in topic.keywords}
           and word.casefold() not in dull]
    makers: list[Callable[[], str]] = [
        lambda: f"{first[0]} {second[0]}",
        lambda: f"{second[1]} & {second[2]}",
        lambda: f"The {first[1]} {second[3]}",
        lambda: f"{own[0]} & {second[4]}" if own else f"{first[2]} {second[4]}",
        lambda: f"{place.split(' and ')[0]} {second[5]}" if place else f"{first[3]} {second[5]}",
        lambda: f"{first[4]}{second[6].lower()}",
        lambda: f"{first[5]} {second[7 % len(second)]}",
        lambda: f"{second[2]} & {first[0]}",
    ]
    for make in makers:
        name = make()
        if name not in found and len(name) <= _LONGEST:
            found.append(name)
    return tuple(found[:_HOW_MANY])
