"""Short, stable names for every node of a site."""

import random

from needle.core.values.strict import Id, OwnId

__all__ = ["Id", "IdSource", "OwnId", "new_id"]

_LETTERS = "abcdefghjkmnpqrstuvwxyz"
_SIGNS = _LETTERS + "23456789"


class IdSource:
    """Makes ids of one letter and seven signs; a seed makes them repeatable."""

    def __init__(self, seed: int | None = None) -> None:
        self._random: random.Random = (
            random.SystemRandom() if seed is None else random.Random(seed)
        )

    def __call__(self) -> Id:
        """Return the next id. It starts with a letter, so CSS can use it as it is."""
        pick = self._random.choice
        return pick(_LETTERS) + "".join(pick(_SIGNS) for _ in range(7))


new_id = IdSource()
