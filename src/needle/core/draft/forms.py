"""Kinds of offer, each with the turns of speech that sell it.

Texts have slots in braces, which `offline.py` fills: {what}, {a_what}, {for_who}, {it_obj} …
A text whose slot stays empty is not used.
"""

import tomllib
from importlib.resources import files

import msgspec

from needle.core.draft.fields import Pair

__all__ = ["FORMS", "Form"]


class Form(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """A kind of offer.

    Attributes:
        likely: Decides where keywords do not, small.
        calls: Words of the one button.
        heads, subs: Headlines and the sentence below.
        points: What speaks for it; six where they hold for whatever is offered, else three that
            stand beside those of the topic.
        problem: How it is today; empty where the topic says it better.
        steps: What happens, in order; three.
        questions: What people ask, and the answers.
        unit: What the price is for.
        included, missing: What is in the price, and what is not.
        voices: What somebody might say afterwards.
        figures: What could be counted.
        closing: The last call: title and words.
        ask: What the form asks besides name and e-mail.
        choices: The answers to that.
        thanks: Said after sending.
    """

    key: str
    keywords: frozenset[str]
    likely: float = 0.0
    calls: tuple[str, ...]
    heads: tuple[str, ...]
    subs: tuple[str, ...]
    points: tuple[Pair, ...]
    problem: tuple[str, ...] = ()
    steps: tuple[Pair, ...]
    questions: tuple[Pair, ...]
    unit: str
    included: tuple[str, ...]
    missing: str
    voices: tuple[str, ...]
    figures: tuple[Pair, ...]
    closing: Pair
    ask: str
    choices: tuple[str, ...]
    thanks: str


def _read() -> tuple[Form, ...]:
    tables = tomllib.loads((files(__package__) / "words" / "offers.toml").read_text("utf-8"))
    for key, table in tables.items():
        table |= {"key": key, "keywords": table["keywords"].split()}
    return msgspec.convert(list(tables.values()), tuple[Form, ...])


FORMS: tuple[Form, ...] = _read()
