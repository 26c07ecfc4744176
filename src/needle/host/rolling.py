"""Counting on, beside everything else, so that whoever asks for figures finds them counted."""

import anyio
import anyio.to_thread
from sqlalchemy import Engine

from needle.store.results.rolling import roll_up_some

__all__ = ["Rolling"]

_PAUSE_S = 2.0


class Rolling:
    """Counts the events that came in, every few seconds."""

    def __init__(self, engine: Engine) -> None:
        self._engine = engine

    async def run(self) -> None:
        """Count until cancelled."""
        while True:
            while await anyio.to_thread.run_sync(roll_up_some, self._engine):
                pass
            await anyio.sleep(_PAUSE_S)
