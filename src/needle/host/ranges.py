"""How much comes from a range of addresses in the last ten minutes."""

from collections import OrderedDict, deque
from collections.abc import Iterator, Mapping

from needle.running.guarding import range_of

__all__ = ["WINDOW_MS", "Ranges"]

WINDOW_MS = 600_000
_MOST_RANGES = 20_000
_MOST_KEPT = 1000


class Ranges:
    """Counts something by range (or by anything else that has a name).

    Attributes:
        elsewhere: How many other hosts counted of each.
    """

    def __init__(self) -> None:
        self.elsewhere: Mapping[str, int] = {}
        self._seen: OrderedDict[str, deque[int]] = OrderedDict()

    def count(self, address: str, now_ms: int) -> int:
        """Count one more and return how many there were in the window, it included."""
        where = range_of(address)
        moments = self._seen.setdefault(where, deque(maxlen=_MOST_KEPT))
        self._seen.move_to_end(where)
        moments.append(now_ms)
        while moments and moments[0] < now_ms - WINDOW_MS:
            moments.popleft()
        if len(self._seen) > _MOST_RANGES:
            self._seen.popitem(last=False)
        return len(moments) + self.elsewhere.get(where, 0)

    def counts(self, now_ms: int) -> Iterator[tuple[str, int]]:
        """Yield every range with how many there were in the window."""
        for where, moments in list(self._seen.items()):
            yield where, sum(moment >= now_ms - WINDOW_MS for moment in list(moments))
