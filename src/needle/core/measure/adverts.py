"""What each of the words that an advert's address chooses has brought."""

from collections.abc import Iterable
from dataclasses import dataclass

from needle.core.measure.journey import WayCount
from needle.core.measure.paths import read_path
from needle.core.values.ids import Id

__all__ = ["ShownWords", "shown_words"]


@dataclass(slots=True)
class ShownWords:
    """Visits that saw one value of advert words.

    Attributes:
        number: Of the value; 0 for the page's own words.
        won: Those of them that converted.
    """

    advert: Id
    number: int
    visits: int = 0
    won: int = 0


def shown_words(ways: Iterable[WayCount]) -> list[ShownWords]:
    """Return it for all that were shown, by advert words and number; each visit once in each."""
    found: dict[tuple[Id, int], ShownWords] = {}
    for way in ways:
        steps = read_path(way.path)
        won = any(step.kind in ("lead", "goal") for step in steps)
        for key in {(step.what, step.number) for step in steps if step.kind == "words"}:
            told = found.setdefault(key, ShownWords(*key))
            told.visits += way.visits
            told.won += way.visits if won else 0
    return [found[key] for key in sorted(found)]
