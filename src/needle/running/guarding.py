"""Limits of connections: nobody holds the server by sending slowly, or nothing at all.

uvicorn limits how long a connection may rest between two requests. What it leaves open is limited
here: how long a request may take to arrive, how many connections there are in all and from one
range of addresses. Where there are too many, the one that has kept us waiting longest gives way.
"""

import asyncio
import ipaddress
import logging
import resource
import time
from collections import Counter, OrderedDict
from functools import lru_cache
from typing import Any

from uvicorn.protocols.http.h11_impl import H11Protocol

__all__ = ["Guard", "guarded", "raise_file_limit", "range_of"]

_log = logging.getLogger(__name__)
HEAD_S = 10.0
BODY_S = 30.0
# Beside the time above, a body may take a second for so many bytes.
BODY_BYTES_A_S = 20_000
# How long nobody may take anything of an answer.
ANSWER_S = 120.0
MOST = 4_000
MOST_A_RANGE = 300
# Somebody who has just come may still be about to ask.
GRACE_S = 1.5


@lru_cache(4096)
def range_of(address: str) -> str:
    """Return the network that an address belongs to (/24 for IPv4, /48 for IPv6); anything else
    stands for itself."""
    try:
        ip = ipaddress.ip_address(address)
    except ValueError:
        return address[:60]
    return str(ipaddress.ip_network((ip, 24 if ip.version == 4 else 48), strict=False))


def raise_file_limit() -> None:
    """Let this process hold as many connections as the system allows."""
    _, hard = resource.getrlimit(resource.RLIMIT_NOFILE)
    wanted = 65_536 if hard == resource.RLIM_INFINITY else min(hard, 65_536)
    resource.setrlimit(resource.RLIMIT_NOFILE, (wanted, hard))


class Guard:
    """All connections of one server, those that keep us waiting in the order in which they came.

    Attributes:
        most: How many connections there may be; `most_a_range` from one range of addresses.
        head_s: How long the head of a request may take, in seconds; `body_s` its body.
    """

    def __init__(self, most: int = MOST, most_a_range: int = MOST_A_RANGE,
                 head_s: float = HEAD_S, body_s: float = BODY_S) -> None:
        self.most, self.most_a_range = most, most_a_range
        self.head_s, self.body_s = head_s, body_s
        self._ranges: Counter[str] = Counter()
        self._count = 0
        # By when each began to keep us waiting.
        self._waiting: OrderedDict[Any, tuple[float, str]] = OrderedDict()
        self.closed = 0

    def came(self, connection: Any, whence: str) -> None:
        """Take a connection in; another one may have to give way."""
        self._ranges[whence] += 1
        self._count += 1
        self.waits(connection, whence)
        if self._count > self.most:
            self._give_way("", 0.0)
        elif self._ranges[whence] > self.most_a_range:
            self._give_way(whence, GRACE_S)

    def went(self, connection: Any, whence: str) -> None:
        """Let a connection go."""
        self._waiting.pop(connection, None)
        self._count -= 1
        self._ranges[whence] -= 1
        if self._ranges[whence] <= 0:
            del self._ranges[whence]

    def waits(self, connection: Any, whence: str) -> None:
        """Note that a connection keeps us waiting from now on."""
        self._waiting[connection] = (time.monotonic(), whence)
        self._waiting.move_to_end(connection)

    def works(self, connection: Any) -> None:
        """Note that a connection's request is whole: now it waits for us."""
        self._waiting.pop(connection, None)

    def _give_way(self, whence: str, grace_s: float) -> None:
        """Cut those that have waited longest, two for each that comes, so that it gets better."""
        late = time.monotonic() - grace_s
        gone: list[_Guarded] = []
        for one, (since, place) in self._waiting.items():
            if since > late or len(gone) == 2:
                break
            if not whence or place == whence:
                gone.append(one)
        for one in gone:
            one.cut()

    def note_closed(self) -> None:
        """Count a connection that was cut; say so now and then."""
        self.closed += 1
        if self.closed & (self.closed - 1) == 0:
            _log.warning("%d slow or idle connections were closed so far", self.closed)


class _Guarded(H11Protocol):
    """A connection with limits."""

    guard: Guard

    def connection_made(self, transport: Any) -> None:
        super().connection_made(transport)
        self._whence = range_of(self.client[0] if self.client else "")
        self._timer: asyncio.TimerHandle | None = None
        self._began = time.monotonic()
        self._got = 0
        self.guard.came(self, self._whence)
        self._limit(self.guard.head_s)

    def data_received(self, data: bytes) -> None:
        cycle, self._got = self.cycle, self._got + len(data)
        super().data_received(data)
        if self.transport.is_closing():
            return
        if self.cycle is not cycle and self.cycle is not None:  # The head is whole.
            self._began, self._got = time.monotonic(), len(data)
        self._look()

    def on_response_complete(self) -> None:
        super().on_response_complete()
        self._unlimit()
        if not self.transport.is_closing():
            self.guard.waits(self, self._whence)

    def connection_lost(self, exc: Exception | None) -> None:
        self._unlimit()
        self.guard.went(self, self._whence)
        super().connection_lost(exc)

    def cut(self) -> None:
        """Close the connection now."""
        self.guard.works(self)
        self.guard.note_closed()
        self.transport.abort()

    def _look(self) -> None:
        """Set the limit for what is awaited now."""
        cycle = self.cycle
        if cycle is not None and not cycle.response_complete:
            self._unlimit()
        if cycle is None or cycle.response_complete:
            if self._timer is None:
                self._began = time.monotonic()
                self._limit(self.guard.head_s)
        elif cycle.more_body:
            allowed = self.guard.body_s + self._got / BODY_BYTES_A_S
            self._limit(max(0.0, self._began + allowed - time.monotonic()))
        else:
            self.guard.works(self)
            self._watch_answer(0)

    def _watch_answer(self, before: int) -> None:
        """Cut a visitor who takes nothing of the answer; a slow line may take as long as it likes.

        Args:
            before: How much was left to be taken when this was looked at last.
        """
        left = self.transport.get_write_buffer_size()
        if left and left == before:
            self.cut()
        else:
            self._timer = self.loop.call_later(ANSWER_S, self._watch_answer, left)

    def _limit(self, seconds: float) -> None:
        self._unlimit()
        self._timer = self.loop.call_later(seconds, self.cut)

    def _unlimit(self) -> None:
        if self._timer is not None:
            self._timer.cancel()
            self._timer = None


def guarded(guard: Guard) -> type[H11Protocol]:
    """Return the protocol for uvicorn that keeps to the limits of a guard."""
    return type("GuardedProtocol", (_Guarded,), {"guard": guard})
