"""Where an order is looked up and paid: addresses that only who has the letter knows."""

from pathlib import Path

from needle.host.clock import now_ms
from needle.publish.release import Live
from needle.store.seals import Seals

__all__ = ["ORDER_DAYS", "OrderPaths"]

# So long an order can be looked up.
ORDER_DAYS = 400
_HOUR_MS = 3_600_000


class OrderPaths:
    """Makes and checks the addresses of orders."""

    def __init__(self, project: Path, seals: Seals) -> None:
        self._project, self._seals = project, seals

    def shown(self, lead_key: str, at_ms: int) -> str:
        """Return the path at which the order of a lead of some time is looked up."""
        return f"_needle/order/{lead_key}/{self._seal(lead_key, at_ms)}"

    def paid(self, lead_key: str, at_ms: int) -> str:
        """Return the path at which it is paid."""
        return f"_needle/pay/{lead_key}/{self._seal(lead_key, at_ms)}"

    def all_of(self, lead_key: str) -> str:
        """Return the path at which, for an hour, all orders of a lead's person are."""
        seal = self._seals.seal("account", now_ms() + _HOUR_MS, lead_key)
        return f"_needle/orders/{lead_key}/{seal}"

    def opens_all(self, lead_key: str, seal: str) -> bool:
        """Say whether somebody has, in time, the address of all orders of a lead's person."""
        return self._seals.holds(seal, now_ms(), "account", lead_key)

    def _seal(self, lead_key: str, at_ms: int) -> str:
        return self._seals.seal("order", at_ms + ORDER_DAYS * 86_400_000, lead_key)

    def holds(self, lead_key: str, seal: str) -> bool:
        """Say whether somebody has the address of an order."""
        return self._seals.holds(seal, now_ms(), "order", lead_key)

    def whole(self, live: Live, path: str) -> str:
        """Return a whole address below the one that the host is reached at."""
        try:
            base = (self._project / "live" / "host.address").read_text("utf-8").strip()
        except OSError:
            base = f"http://{live.address}.localhost"
        return f"{base}/{path}"
