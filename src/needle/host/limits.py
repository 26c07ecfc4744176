"""How large and how slow the body of a request may be, for each way in."""

from collections.abc import Mapping
from typing import Any

from starlette.types import ASGIApp, Message, Receive, Scope, Send

from needle.host.answers import word

__all__ = ["BodyLimits"]


class _TooLargeError(Exception):
    """A body that went on beyond its limit."""


class BodyLimits:
    """An ASGI layer that reads no more of a body than its address may take."""

    def __init__(self, app: ASGIApp, limits: Mapping[str, int], otherwise: int) -> None:
        """Wrap an app.

        Args:
            limits: The most bytes by the beginning of the path.
            otherwise: The most bytes anywhere else.
        """
        self._app = app
        self._limits = limits
        self._otherwise = otherwise

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Handle a request."""
        if scope["type"] != "http":
            await self._app(scope, receive, send)
            return
        most = next((size for path, size in self._limits.items()
                     if scope["path"].startswith(path)), self._otherwise)
        length = dict(scope["headers"]).get(b"content-length", b"0")
        if not length.isdigit() or int(length[:12]) > most:
            await _too_large(scope, receive, send)
            return
        got, begun = 0, False

        async def counted() -> Message:
            nonlocal got
            message = await receive()
            got += len(message.get("body", b""))
            if got > most:
                raise _TooLargeError
            return message

        async def watched(message: Message) -> None:
            nonlocal begun
            begun = True
            await send(message)

        try:
            await self._app(scope, counted, watched)
        except _TooLargeError:
            if not begun:
                await _too_large(scope, receive, send)


async def _too_large(scope: Scope, receive: Receive, send: Send) -> Any:
    answer = word(413, "This is more than can be taken here. Please send less.")
    answer.headers["Connection"] = "close"
    await answer(scope, receive, send)
