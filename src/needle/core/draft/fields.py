"""What an offer can be about: the words, worries, hopes and looks of each field of life."""

import itertools
import re
import tomllib
from importlib.resources import files

import msgspec

__all__ = ["FIELDS", "Topic", "is_about", "topic_of"]


class Topic(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """A field of life. Texts of several words are parted by spaces where they are lists.

    Attributes:
        people: Whom it is for when the idea does not say; a plural.
        problem: How it is today, in two or three sentences to the reader.
        first, second: Words that names are made of.
        icons: For the sign and the points, the most typical one first.
        hues: Hues in OKLCH that suit it, in degrees.
        moods: Which pairs of type suit it, by their place in `PAIRS`.
        shapes: Shapes of the sign that suit it.
        likely: Decides where keywords do not.
    """

    key: str
    keywords: frozenset[str]
    people: str
    problem: tuple[str, ...]
    first: tuple[str, ...]
    second: tuple[str, ...]
    icons: tuple[str, ...]
    hues: tuple[int, ...]
    moods: tuple[int, ...]
    shapes: tuple[str, ...]
    likely: float = 0.0


def _read() -> tuple[Topic, ...]:
    tables = tomllib.loads((files(__package__) / "words" / "topics.toml").read_text("utf-8"))
    for key, table in tables.items():
        table["key"] = key
        for name in ("keywords", "first", "second", "icons", "shapes"):
            table[name] = table[name].split()
    return msgspec.convert(list(tables.values()), tuple[Topic, ...])


FIELDS: tuple[Topic, ...] = _read()


def is_about(what: str, topic: Topic) -> bool:
    """Whether the thing itself, not only what is said about it, belongs to a topic."""
    words = {form for word in what.casefold().split() for form in (word, word.removesuffix("s"))}
    return bool(words & topic.keywords)


def topic_of(what: str, whole: str) -> Topic:
    """Return the field of life that an idea is of: what the thing is called counts double."""
    name, every = _keyed(what), _keyed(whole)
    return max(FIELDS, key=lambda topic: (2 * _score(topic.keywords, name) + _score(
        topic.keywords, every), topic.likely))


def _score(keywords: frozenset[str], words: list[str]) -> float:
    return sum(1.0 for word in words if word in keywords)


def _keyed(words: str) -> list[str]:
    """Return the words in lower case, each also without its plural ending."""
    found = re.findall(r"[a-zà-ÿ]+(?:-[a-z]+)?", words.casefold())
    parts = [piece for word in found for piece in ({word} | set(word.split("-")))]
    parts += [f"{one}-{two}" for one, two in itertools.pairwise(found)]
    return [form for word in parts for form in {word, word.removesuffix("s"),
                                                word.removesuffix("es")}]
