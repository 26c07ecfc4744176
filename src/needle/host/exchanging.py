"""Limits by range of addresses hold over all hosts: they tell each other what they counted."""

import logging
import secrets
from collections.abc import Mapping

import anyio
import anyio.to_thread
from sqlalchemy import Engine
from sqlalchemy.exc import SQLAlchemyError

from needle.host.clock import now_ms
from needle.host.ranges import WINDOW_MS, Ranges
from needle.store.results.ranges import exchange_counts

__all__ = ["Exchanging"]

_log = logging.getLogger(__name__)
_PAUSE_S = 3.0
# What few come from is far from any limit, and there are many such ranges.
_FEWEST = 5


class Exchanging:
    """Exchanges counts every few seconds; over a file there is one host, and nothing to tell."""

    def __init__(self, engine: Engine, ranges: Mapping[str, Ranges]) -> None:
        self._engine, self._ranges = engine, ranges
        self._host = secrets.token_hex(8)

    async def run(self) -> None:
        """Exchange until cancelled."""
        while True:
            if self._engine.dialect.name != "sqlite":
                try:
                    await anyio.to_thread.run_sync(self.exchange)
                except SQLAlchemyError as error:
                    _log.error("counts of ranges are not exchanged (%s)", type(error).__name__)
            await anyio.sleep(_PAUSE_S)

    def exchange(self) -> None:
        """Tell the others once, and take note of what they tell."""
        now = now_ms()
        own = [(what, where, count) for what, ranges in self._ranges.items()
               for where, count in ranges.counts(now) if count >= _FEWEST]
        others = exchange_counts(self._engine, self._host, own, now, WINDOW_MS)
        for what, ranges in self._ranges.items():
            ranges.elsewhere = others.get(what, {})
