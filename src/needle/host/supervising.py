"""Work that runs by itself, begun again whenever it ends in a fault."""

import logging
import time
from collections.abc import Awaitable, Callable
from dataclasses import dataclass

import anyio

__all__ = ["Supervised", "Supervisor"]

_log = logging.getLogger(__name__)
_FIRST_PAUSE_S = 0.5
_LONGEST_PAUSE_S = 5.0
# Work that ran for so long had recovered; its next fault is a first one again.
_RECOVERED_S = 30.0


@dataclass
class Supervised:
    """How a piece of work fares.

    Attributes:
        faults: How often in a row it ended in a fault.
        last: The kind of the last fault; empty if there was none.
        since: When it was last begun, on the monotonic clock.
    """

    faults: int = 0
    last: str = ""
    since: float = 0.0

    @property
    def well(self) -> bool:
        """Whether it runs, and has for a while since its last fault."""
        return not self.faults or time.monotonic() - self.since > 2 * _LONGEST_PAUSE_S


class Supervisor:
    """Runs pieces of work side by side until it is cancelled.

    Attributes:
        work: How each piece fares, by its name.
    """

    def __init__(self) -> None:
        self.work: dict[str, Supervised] = {}

    async def run(self, **pieces: Callable[[], Awaitable[None]]) -> None:
        """Run these until cancelled; one that fails is begun again after a growing pause."""
        async with anyio.create_task_group() as group:
            for name, piece in pieces.items():
                self.work[name] = Supervised()
                group.start_soon(self._keep_up, name, piece)

    async def _keep_up(self, name: str, piece: Callable[[], Awaitable[None]]) -> None:
        state = self.work[name]
        while True:
            state.since = time.monotonic()
            try:
                await piece()
                fault = "it ended"
            except Exception as error:
                fault = type(error).__name__
                # Without the words: they may hold an answer or an address.
                _log.error("%s: ended in a fault (%s), begun again", name, fault)
                _log.debug("what it was", exc_info=True)
            if time.monotonic() - state.since > _RECOVERED_S:
                state.faults = 0
            state.faults, state.last = state.faults + 1, fault
            await anyio.sleep(min(_FIRST_PAUSE_S * 2 ** min(state.faults - 1, 10),
                                  _LONGEST_PAUSE_S))
