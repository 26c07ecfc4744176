"""Storing what comes in: many that come at once share one write to the disk."""

import asyncio
import logging
from collections import deque
from collections.abc import Callable, Sequence
from typing import Generic, TypeVar

import anyio.to_thread
from sqlalchemy.exc import OperationalError

from needle.host.refusing import HostError
from needle.store.refusing import StoreError

__all__ = ["Keeper", "NotKeptError"]

_log = logging.getLogger(__name__)
_MOST_WAITING = 20_000
_BATCH = 200
Given = TypeVar("Given")
Kept = TypeVar("Kept")


class NotKeptError(HostError):
    """Something could not be stored; nothing of it was. The message is for the visitor.

    Attributes:
        told: It is no fault, but something that they have to be told: what they order is gone.
    """

    told = False


class Keeper(Generic[Given, Kept]):
    """Stores durably what visitors send, before they are answered."""

    def __init__(self, what: str, store: Callable[[Sequence[Given]], Sequence[Kept]]) -> None:
        """Make a keeper.

        Args:
            what: What it keeps, for the log.
            store: Stores many in one transaction, and returns what became of each.
        """
        self._what, self._store_all = what, store
        self._waiting: deque[tuple[Given, asyncio.Future[Kept]]] = deque()
        self._filled = asyncio.Event()

    async def keep(self, given: Given) -> Kept:
        """Return what became of it, once it is on the disk.

        Raises:
            NotKeptError: It is not.
        """
        if len(self._waiting) >= _MOST_WAITING:
            raise NotKeptError("lead-queue-full")
        done: asyncio.Future[Kept] = asyncio.get_running_loop().create_future()
        self._waiting.append((given, done))
        self._filled.set()
        return await done

    async def run(self) -> None:
        """Store what comes in, until cancelled."""
        while True:
            await self._filled.wait()
            self._filled.clear()
            while self._waiting:
                count = min(_BATCH, len(self._waiting))
                batch = [self._waiting.popleft() for _ in range(count)]
                await anyio.to_thread.run_sync(self._store, batch, asyncio.get_running_loop())

    def _store(self, batch: list[tuple[Given, asyncio.Future[Kept]]],
               loop: asyncio.AbstractEventLoop) -> None:
        tell: list[Callable[[], None]] = []
        try:
            for (_, done), kept in zip(
                    batch, self._store_all([given for given, _ in batch]), strict=True):
                tell.append(_result(done, kept))
        except Exception as error:
            if not isinstance(error, StoreError):
                _log.error("%s could not be stored (%s)", self._what, type(error).__name__)
            if len(batch) > 1:  # One that cannot be stored must not take the others with it.
                for one in batch:
                    self._store([one], loop)
                return
            tell.append(_failure(batch[0][1], _refusal(error)))
        for call in tell:
            loop.call_soon_threadsafe(call)


def _result(done: asyncio.Future[Kept], kept: Kept) -> Callable[[], None]:
    return lambda: None if done.done() else done.set_result(kept)


def _failure(done: asyncio.Future[Kept], refusal: NotKeptError) -> Callable[[], None]:
    return lambda: None if done.done() else done.set_exception(refusal)


def _refusal(error: Exception) -> NotKeptError:
    if isinstance(error, StoreError):  # It is the visitor's to know: what they order is sold out.
        refusal = NotKeptError(error.message)
        refusal.told = True
        return refusal
    full = isinstance(error, OperationalError) and "full" in str(error)
    return NotKeptError("lead-disk-full" if full else "lead-storage-failed")
