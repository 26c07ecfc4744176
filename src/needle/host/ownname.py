"""Visitors under the site's own domain: over https always once it works, under one name."""

from starlette.datastructures import Headers, MutableHeaders
from starlette.responses import PlainTextResponse, RedirectResponse, Response
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from needle.host.certifying import CertificateKeeper
from needle.host.clock import now_ms
from needle.host.oddities import name_of_host
from needle.publish.headers import HSTS

__all__ = ["OwnName"]

_CHALLENGE = "/.well-known/acme-challenge/"
# For a week, a browser that was told so comes back over plain HTTP after a day at the latest.
_WEEK_MS = 7 * 86_400_000
_SHORT_HSTS = "max-age=86400"


class OwnName:
    """An ASGI layer that answers the authority, and leads visitors to the one true address."""

    def __init__(self, app: ASGIApp, keeper: CertificateKeeper) -> None:
        self._app = app
        self._keeper = keeper

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Handle a request."""
        if scope["type"] != "http":
            await self._app(scope, receive, send)
            return
        elsewhere = self._instead(scope)
        if elsewhere is not None:
            await elsewhere(scope, receive, send)
            return
        if scope["scheme"] == "https" and self._is_own(scope):
            self._keeper.works()
            send = self._with_hsts(send)
        await self._app(scope, receive, send)

    def _is_own(self, scope: Scope) -> bool:
        name = name_of_host(Headers(scope=scope).get("host", ""))
        return name in self._keeper.names() and self._keeper.holds_for(name)

    def _instead(self, scope: Scope) -> Response | None:
        """Return what is answered in the place of a page, or `None`."""
        path: str = scope["path"]
        if path.startswith(_CHALLENGE):
            words = self._keeper.offered(path.removeprefix(_CHALLENGE))
            return PlainTextResponse(words, 200 if words else 404)
        host = Headers(scope=scope).get("host", "")
        name, names = name_of_host(host), self._keeper.names()
        if name not in names:
            return None
        safe = self._keeper.holds_for(names[0])
        wanted = "https" if safe or scope["scheme"] == "https" else "http"
        if name == names[0] and wanted == scope["scheme"]:
            return None
        # Whoever names a port came to this very host, and not through one that leads to it.
        ports = {"https": self._keeper.tls_port, "http": (scope.get("server") or ("", 0))[1]}
        port = f":{ports[wanted]}" if host.rpartition(":")[2].isdecimal() and ports[wanted] else ""
        query = scope.get("query_string", b"").decode("latin-1")
        raw = (scope.get("raw_path") or path.encode()).decode("latin-1")
        there = f"{wanted}://{names[0]}{port}/{raw.lstrip('/')}{'?' + query if query else ''}"
        # Others than plain looks are repeated with what they brought.
        return RedirectResponse(there, 301 if scope["method"] in ("GET", "HEAD") else 308,
                                {"Cache-Control": "max-age=3600"})

    def _with_hsts(self, send: Send) -> Send:
        since = self._keeper.worked_ms()
        told = HSTS if since and now_ms() - since > _WEEK_MS else _SHORT_HSTS

        async def dressed(message: Message) -> None:
            if message["type"] == "http.response.start":
                MutableHeaders(scope=message)["Strict-Transport-Security"] = told
            await send(message)

        return dressed
