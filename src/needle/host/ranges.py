"""How much comes from a range of addresses in the last ten minutes."""

from collections import OrderedDict, deque

from needle.running.guarding import range_of

__all__ = ["Ranges"]

_WINDOW_MS = 600_000
_MOST_RANGES = 20_000
_MOST_KEPT = 1000


class Ranges:
    """Counts something by range (or by anything else that has a name)."""

    def __init__(self) -> None:
        self._seen: OrderedDict[str, deque[int]] = OrderedDict()

    def count(self, address: str, now_ms: int) -> int:
        """Count one more and return how many there were in the window, it included."""
        where = range_of(address)
        moments = self._seen.setdefault(where, deque(maxlen=_MOST_KEPT))
        self._seen.move_to_end(where)
        moments.append(now_ms)
        while moments and moments[0] < now_ms - _WINDOW_MS:
            moments.popleft()
        if len(self._seen) > _MOST_RANGES:
            self._seen.popitem(last=False)
        return len(moments)
