"""What a snag is."""

from dataclasses import dataclass
from typing import Literal

from needle.core.values.ids import Id

__all__ = ["Snag"]


@dataclass(frozen=True, slots=True)
class Snag:
    """One fault that was found.

    Attributes:
        weight: 1 loses leads, 2 loses visitors, 3 could be better.
        words: What is wrong.
        where: The page and part, for the person.
        kind: What `target` is the id of.
    """

    weight: Literal[1, 2, 3]
    words: str
    where: str
    kind: Literal["node", "form", "page"]
    target: Id
