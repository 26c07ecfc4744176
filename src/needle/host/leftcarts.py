"""One letter to whoever left a cart, if they agreed to it."""

import logging
from collections.abc import Callable
from pathlib import Path
from urllib.parse import urlencode

import anyio
import anyio.to_thread
from sqlalchemy import Engine

from needle.core.values.shop import LeftCart
from needle.host.clock import now_ms
from needle.host.letters import left_letter
from needle.host.orderpaths import OrderPaths
from needle.publish.release import Live
from needle.services.adapter import Parcel, ServiceError
from needle.services.registry import adapter_for
from needle.store.results.leftcarts import LeftBehind, claim_left, give_back_left, left_behind

__all__ = ["LeftCarts"]

_log = logging.getLogger(__name__)
_LOOK_S = 20.0


class LeftCarts:
    """Looks every so often for carts that were left.

    Attributes:
        fault: Why the last letter was not sent; empty if it was.
    """

    def __init__(self, project: Path, engine: Engine, live: Callable[[], Live | None],
                 paths: OrderPaths) -> None:
        self._project, self._engine, self._live, self._paths = project, engine, live, paths
        self.fault = ""

    async def run(self) -> None:
        """Write to whom is to be written, until cancelled."""
        while True:
            await anyio.to_thread.run_sync(self.look)
            await anyio.sleep(_LOOK_S)

    def look(self) -> None:
        """Write to whoever left a cart long enough ago, each once."""
        live = self._live()
        asked = live.shop.left if live is not None else None
        if live is None or asked is None:
            self.fault = ""
            return
        for one in left_behind(self._engine, live.shop.form, asked.consent,
                               now_ms() - asked.hours * 3_600_000):
            if claim_left(self._engine, one.key, now_ms()) and not self._write(live, asked, one):
                return  # The service is away: the others wait, too.

    def _write(self, live: Live, asked: LeftCart, one: LeftBehind) -> bool:
        service = next((known for known in live.services if known.id == asked.service), None)
        adapter = adapter_for(self._project, service) if service is not None else None
        link = self._paths.whole(live, "_needle/cart?" + urlencode({"c": one.cart}))
        try:
            if service is None or adapter is None:
                raise ServiceError("service-gone")
            adapter.deliver(Parcel(f"left-{one.key}", letter=left_letter(
                asked, one.email, f"left-{one.key}", live, service.options.get("sender", ""),
                link)))
        except ServiceError as error:
            _log.error("a letter about a cart was not sent (%s)", type(error).__name__)
            self.fault = "a letter about a cart that was left could not be sent; it is tried again"
            give_back_left(self._engine, one.key)
            return False
        self.fault = ""
        return True
