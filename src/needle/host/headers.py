"""The headers that every answer of the host carries."""

from collections.abc import Mapping

from starlette.datastructures import MutableHeaders
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from needle.publish.headers import COMMON, HSTS, WORD_POLICY

__all__ = ["SafeHeaders"]


class SafeHeaders:
    """An ASGI layer that adds the common headers; an answer's own ones stay."""

    def __init__(self, app: ASGIApp, more: Mapping[str, str] | None = None) -> None:
        """Wrap an app.

        Args:
            more: Further headers for every answer.
        """
        self._app = app
        self._headers = {**COMMON, **(more or {})}

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Handle a request."""
        if scope["type"] != "http":
            await self._app(scope, receive, send)
            return

        async def dressed(message: Message) -> None:
            if message["type"] == "http.response.start":
                headers = MutableHeaders(scope=message)
                for name, value in self._headers.items():
                    headers.setdefault(name, value)
                headers.setdefault("Content-Security-Policy", WORD_POLICY)
                if scope.get("scheme") == "https":
                    headers.setdefault("Strict-Transport-Security", HSTS)
            await send(message)

        await self._app(scope, receive, dressed)
