"""Forms and popups that stand on pages made elsewhere: each a small page in a frame."""

from collections.abc import Callable

import anyio.to_thread
from starlette.requests import Request
from starlette.responses import HTMLResponse, Response
from starlette.routing import Route

from needle.core.messages.message import say
from needle.core.render.scripts import runtime_script
from needle.core.values.language import ENGLISH
from needle.host.answers import word
from needle.host.live import LiveReader
from needle.host.recognising import Recogniser
from needle.host.visitors import Seen
from needle.store.seals import Seals

__all__ = ["ElsewhereDesk"]


class ElsewhereDesk:
    """The part of the host that other people's pages show."""

    def __init__(self, live: LiveReader, seals: Seals, known: Recogniser,
                 shown_here: Callable[[Request], bool]) -> None:
        """Prepare to answer.

        Args:
            shown_here: Whether a request is for this site.
        """
        self._live = live
        self._seals = seals
        self._known = known
        self._shown_here = shown_here

    def routes(self) -> list[Route]:
        """Return what is reached at which address."""
        return [Route("/_needle/elsewhere.js", self.script),
                Route("/_needle/on/{part}", self.part)]

    async def script(self, _: Request) -> Response:
        """Answer with the script that other pages load."""
        return Response(runtime_script(("elsewhere",)), media_type="text/javascript", headers={
            "Cache-Control": "public, max-age=3600",
            # It is meant to be loaded by whoever was given its address.
            "Cross-Origin-Resource-Policy": "cross-origin"})

    async def part(self, request: Request) -> Response:
        """Answer with a form or popup, to those sites alone that may show it."""
        live = self._live.live()
        found = live.part(request.path_params["part"]) if live else None
        if live is None or found is None or not self._shown_here(request):
            return word(404, say("host-part-gone"), live.language if live else ENGLISH)
        page, part = found
        seen = Seen(self._seals, await self._known.without_cookie(request), "")
        try:
            html = await anyio.to_thread.run_sync(
                lambda: self._live.file(part.file).read_text("utf-8"))
        except OSError:
            return word(404, say("host-part-gone"), live.language)
        # Without a cookie, which many browsers would not keep in a frame: the page itself says
        # whom it was served to.
        ticket = seen.ticket(page.id, part.variant)
        may = " ".join(("'self'", *part.sites))
        return HTMLResponse(html.replace("<body ", f'<body data-ticket="{ticket}" ', 1), headers={
            "Cache-Control": "private, no-store",
            "Content-Security-Policy": f"{part.policy};frame-ancestors {may}"})
