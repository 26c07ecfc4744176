"""Servers of tests that need a loop of their own, beside the test."""

import asyncio
import contextlib
import threading
import unittest
from collections.abc import Awaitable, Callable, Coroutine
from typing import Any, TypeVar

__all__ = ["serve_apart"]

T = TypeVar("T")
_LONGEST_S = 60


def serve_apart(case: unittest.TestCase, start: Callable[[], Coroutine[Any, Any, T]],
                stop: Callable[[T], Awaitable[object]]) -> T:
    """Start something in a loop of its own thread, and have it stopped when the test is over."""
    loop = asyncio.new_event_loop()
    thread = threading.Thread(target=loop.run_forever, daemon=True)
    thread.start()
    made = asyncio.run_coroutine_threadsafe(start(), loop).result(_LONGEST_S)

    async def ending() -> None:
        await stop(made)
        await asyncio.sleep(0.05)  # Transports close in the loop's next rounds.

    def end() -> None:
        with contextlib.suppress(Exception):
            asyncio.run_coroutine_threadsafe(ending(), loop).result(_LONGEST_S)
        loop.call_soon_threadsafe(loop.stop)
        thread.join(_LONGEST_S)
        loop.close()

    case.addCleanup(end)
    return made
