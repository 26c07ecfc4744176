"""How many leads come from a range of addresses: /24 for IPv4, /48 for IPv6."""

import ipaddress
from collections import OrderedDict, deque

__all__ = ["Ranges", "range_of"]

_WINDOW_MS = 600_000
_MOST_RANGES = 20_000
_MOST_KEPT = 1000


def range_of(address: str) -> str:
    """Return the network that an address belongs to; anything else stands for itself."""
    try:
        ip = ipaddress.ip_address(address)
    except ValueError:
        return address[:60]
    return str(ipaddress.ip_network((ip, 24 if ip.version == 4 else 48), strict=False))


class Ranges:
    """Counts leads by range over the last ten minutes."""

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
