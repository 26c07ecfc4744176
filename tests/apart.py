"""Servers that run beside a test and end with it."""

import asyncio
import contextlib
import http.server
import threading
import unittest
from collections.abc import Awaitable, Callable, Coroutine
from typing import Any, TypeVar

__all__ = ["serve_apart", "serve_http"]

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


def serve_http(case: unittest.TestCase, handler: type[http.server.BaseHTTPRequestHandler]) -> str:
    """Serve with a handler as long as a test runs, and return the address."""
    server = http.server.ThreadingHTTPServer(("127.0.0.1", 0), handler)
    thread = threading.Thread(target=server.serve_forever, daemon=True)
    thread.start()
    case.addCleanup(thread.join)
    case.addCleanup(server.server_close)
    case.addCleanup(server.shutdown)
    return f"http://127.0.0.1:{server.server_address[1]}"
