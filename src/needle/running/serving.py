"""The serving side: an ASGI app on 127.0.0.1 that says where it is and ends with its parent."""

import asyncio
import contextlib
import json
import os
import signal
import socket
import ssl
import sys
import threading
import time
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import uvicorn

from needle.running.children import READY
from needle.running.guarding import Guard, guarded, raise_file_limit
from needle.running.refusing import RunningError

__all__ = ["PortTakenError", "SecondDoor", "announce", "bound_socket", "end_with_parent", "serve"]

_ENDS_WITHIN_S = 15


class PortTakenError(RunningError):
    """Another program listens there already."""


def bound_socket(port: int) -> socket.socket:
    """Return a listening socket on 127.0.0.1; port 0 takes a free one.

    Raises:
        PortTakenError: The port is in use or may not be used.
    """
    listener = socket.socket(socket.AF_INET, socket.SOCK_STREAM)
    listener.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    try:
        listener.bind(("127.0.0.1", port))
        listener.listen(2048)
    except OSError as error:
        listener.close()
        raise PortTakenError("port-taken", port=str(port), why=error.strerror) from error
    return listener


def announce(**facts: Any) -> None:
    """Tell the parent that the service is ready, and where."""
    print(READY, json.dumps(facts), flush=True)


def end_with_parent(end: Callable[[], None]) -> None:
    """Call `end` once standard input closes: when the parent is gone, however it went."""

    def wait() -> None:
        sys.stdin.buffer.read()
        end()
        # What waits for a database or a service that does not answer is not waited for.
        time.sleep(_ENDS_WITHIN_S)
        os._exit(1)

    threading.Thread(target=wait, daemon=True).start()


@dataclass(frozen=True)
class SecondDoor:
    """A second socket of the same app, over TLS, whose certificate is chosen at each connection.

    Attributes:
        context: Makes what a connection begins with.
    """

    listener: socket.socket
    context: Callable[[], ssl.SSLContext]


class _Beside(uvicorn.Server):
    """A server that ends when another one does."""

    @contextlib.contextmanager
    def capture_signals(self) -> Iterator[None]:
        """Leave the signals to the other one."""
        yield


def serve(app: Any, listener: socket.socket, *, watched: bool, believed: Sequence[str] = (),
          tls: tuple[Path, Path] | None = None, second: SecondDoor | None = None,
          guard: Guard | None = None, **facts: Any) -> None:
    """Serve `app` until told to stop.

    Args:
        watched: End with the parent process.
        believed: Proxies whose word about the visitor's address and scheme is taken, as addresses
            or networks; nobody's by default.
        tls: The files of certificate and key; without them, plain HTTP.
        second: Where else it is served.
        guard: The limits of connections.
        facts: What to announce besides the port.
    """
    raise_file_limit()
    kind = guarded(guard or Guard())

    def config(lifespan: Any, **more: Any) -> uvicorn.Config:
        return uvicorn.Config(
            app, log_config=None, access_log=False, lifespan=lifespan, server_header=False,
            ws="none", http=kind, proxy_headers=bool(believed), forwarded_allow_ips=list(believed),
            h11_max_incomplete_event_size=32_768, timeout_graceful_shutdown=5, **more)

    server = uvicorn.Server(config("on", ssl_certfile=tls[0] if tls else None,
                                   ssl_keyfile=tls[1] if tls else None))
    beside = None if second is None else _Beside(config(
        "off", ssl_context_factory=_beginning(second)))
    if watched:
        end_with_parent(lambda: os.kill(os.getpid(), signal.SIGTERM))
    announce(port=listener.getsockname()[1], **facts)
    asyncio.run(_serve_all(server, listener, beside, second))


def _beginning(door: SecondDoor) -> Callable[[Any, Any], ssl.SSLContext]:
    return lambda *_: door.context()


async def _serve_all(server: uvicorn.Server, listener: socket.socket,
                     beside: uvicorn.Server | None, second: SecondDoor | None) -> None:
    if beside is None or second is None:
        await server.serve(sockets=[listener])
        return
    other = asyncio.create_task(beside.serve(sockets=[second.listener]))
    await server.serve(sockets=[listener])
    beside.should_exit = True
    await other
