"""The stock of sentences that drafts are written from; see `words/pages.toml`."""

import tomllib
from collections.abc import Mapping
from functools import cache
from importlib.resources import files

import msgspec

__all__ = ["OfferWords", "Sentences", "sentences"]

_Pair = tuple[str, str]


class OfferWords(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """What is said of one kind of offer.

    Attributes:
        calls: Words of the one button.
        steps: For each of three steps its wordings: title and words.
        questions: What people ask.
        closings: Last calls: title and words.
        ask: What the form asks besides name and e-mail, then the answers to it.
        problem: How it is without it.
    """

    calls: tuple[str, ...]
    steps: tuple[tuple[_Pair, ...], tuple[_Pair, ...], tuple[_Pair, ...]]
    questions: tuple[str, ...]
    closings: tuple[_Pair, ...]
    ask: tuple[tuple[str, ...], ...]
    problem: tuple[str, ...]


class Sentences(msgspec.Struct, frozen=True):
    """All sentences, by what they are for.

    Attributes:
        headlines: Patterns by "all" and "free".
        told: Patterns of sentences by slot.
        heads: How a fact is headed, by slot.
        labels: How a fact is named in a list, by slot.
        titles: Titles of sections.
        gaps: What to put where the idea says nothing.
        moments: For each part of a day, what may happen in it.
        moment_times: How these parts are headed.
        thanks: Said after sending.
        offers: By the kinds of `slots.OFFERS`.
    """

    headlines: Mapping[str, tuple[str, ...]]
    told: Mapping[str, tuple[str, ...]]
    heads: Mapping[str, tuple[str, ...]]
    labels: Mapping[str, str]
    titles: Mapping[str, tuple[str, ...]]
    gaps: Mapping[str, tuple[str, ...]]
    moments: tuple[tuple[str, ...], ...]
    moment_times: tuple[tuple[str, ...], ...]
    thanks: tuple[str, ...]
    offers: Mapping[str, OfferWords]


@cache
def sentences() -> Sentences:
    """Return the stock; it is read once."""
    raw = tomllib.loads((files(__package__) / "words" / "pages.toml").read_text("utf-8"))
    shared = {name: raw.pop(name) for name in (
        "headlines", "told", "heads", "labels", "titles", "gaps")}
    gaps = shared["gaps"]
    apart = {"moments": gaps.pop("moment"), "moment_times": gaps.pop("moment_time")}
    return msgspec.convert(
        shared | apart | {"thanks": raw.pop("thanks")["all"], "offers": raw}, Sentences)
