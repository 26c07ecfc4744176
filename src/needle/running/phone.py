"""A door for a phone: pages shown to who has the key, in the same network, for a while.

The key comes once in the address, and then in a cookie. Nothing is taken in: pages can be fetched,
and that is all.
"""

import asyncio
import hmac
import secrets
import socket
import threading
from collections.abc import Callable

import uvicorn
from starlette.applications import Starlette
from starlette.requests import Request
from starlette.responses import PlainTextResponse, RedirectResponse, Response
from starlette.routing import Route

from needle.running.refusing import RunningError

__all__ = ["Answer", "PhoneDoor"]

Answer = Callable[[str], tuple[bytes, str] | None]
_COOKIE, _PARAMETER = "needle-phone", "key"
_STOPS_WITHIN_S = 10
_HEADERS = {"Cache-Control": "no-store", "Referrer-Policy": "no-referrer",
            "X-Content-Type-Options": "nosniff", "X-Robots-Tag": "noindex",
            "Content-Security-Policy": "default-src 'self' data: 'unsafe-inline'"}


class PhoneDoor:
    """Serves pages at one address of this machine until it is closed.

    Attributes:
        seen: How many pages and files were fetched with the key.
        refused: How many were asked for without it.
    """

    def __init__(self, answer: Answer, address: str) -> None:
        """Open it.

        Args:
            answer: Returns what stands at a path, with its type; called in other threads.
            address: The IPv4 address at which it listens, and at no other.

        Raises:
            RunningError: This machine has no such address.
        """
        self._answer, self._key = answer, secrets.token_urlsafe(24)
        self.seen = self.refused = 0
        listener = socket.socket(socket.AF_INET, socket.SOCK_STREAM)
        try:
            listener.bind((address, 0))
            listener.listen(64)
        except OSError as error:
            listener.close()
            raise RunningError("phone-address", address=address, why=error.strerror) from error
        self._base = f"http://{address}:{listener.getsockname()[1]}"
        app = Starlette(routes=[Route("/{path:path}", self._page, methods=["GET"])])
        self._server = uvicorn.Server(uvicorn.Config(
            app, log_config=None, access_log=False, lifespan="off", server_header=False,
            ws="none", timeout_graceful_shutdown=1, limit_concurrency=64))
        self._thread = threading.Thread(
            target=lambda: asyncio.run(self._server.serve(sockets=[listener])), daemon=True)
        self._thread.start()

    def link(self, slug: str) -> str:
        """Return the address of a page, with the key."""
        return f"{self._base}/{slug + '/' if slug else ''}?{_PARAMETER}={self._key}"

    def close(self) -> None:
        """Shut it; what is under way is cut after a second."""
        self._server.should_exit = True
        self._thread.join(_STOPS_WITHIN_S)

    def _holds_key(self, told: str) -> bool:
        return hmac.compare_digest(told.encode(), self._key.encode())

    def _page(self, request: Request) -> Response:
        path = request.url.path
        if self._holds_key(request.query_params.get(_PARAMETER, "")):
            # The key leaves the address, so that it stands in no history or picture of the phone.
            answer = RedirectResponse(f"/{path.lstrip('/')}", 303, _HEADERS)
            answer.set_cookie(_COOKIE, self._key, httponly=True, samesite="strict")
            return answer
        if not self._holds_key(request.cookies.get(_COOKIE, "")):
            self.refused += 1
            return PlainTextResponse("Scan the picture in Needle again.", 403, _HEADERS)
        self.seen += 1
        found = self._answer(path.lstrip("/"))
        if found is None:
            return PlainTextResponse("There is no such page in the draft.", 404, _HEADERS)
        data, kind = found
        return Response(data, 200, _HEADERS, kind)
