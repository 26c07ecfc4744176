"""What an offer can be about: the words, worries, hopes and looks of each field of life."""

import tomllib
from importlib.resources import files

import msgspec

__all__ = ["FIELDS", "Pair", "Topic"]

# A title and the words below it.
Pair = tuple[str, str]


class Topic(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """A field of life. Texts of several words are parted by spaces where they are lists.

    Attributes:
        people: Whom it is for when the idea does not say; a plural.
        pain: What one would rather be without; a noun.
        problem: How it is today, in two or three sentences to the reader.
        points: What is good about doing it well.
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
    pain: str
    problem: tuple[str, ...]
    points: tuple[Pair, ...]
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
