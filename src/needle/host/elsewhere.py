"""Forms and popups that stand on pages made elsewhere: each a small page in a frame."""

from collections.abc import Callable

import anyio.to_thread
from starlette.requests import Request
from starlette.responses import HTMLResponse, Response
from starlette.routing import Route

from needle.core.messages.message import say
from needle.core.render.document import runtime_script
from needle.core.values.language import ENGLISH
from needle.host.answers import word
from needle.host.live import LiveReader
from needle.host.visitors import SEEN_COOKIE, VISITOR_COOKIE, Seen, visitor_id
from needle.store.seals import Seals

__all__ = ["ElsewhereDesk"]

_REMEMBERED_S = 180 * 86_400


class ElsewhereDesk:
    """The part of the host that other people's pages show."""

    def __init__(self, live: LiveReader, seals: Seals,
                 shown_here: Callable[[Request], bool]) -> None:
        """Prepare to answer.

        Args:
            shown_here: Whether a request is for this site.
        """
        self._live = live
        self._seals = seals
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
        visitor = visitor_id(request.cookies.get(VISITOR_COOKIE))
        seen = Seen(self._seals, visitor, request.cookies.get(SEEN_COOKIE))
        try:
            html = await anyio.to_thread.run_sync(
                lambda: self._live.file(part.file).read_text("utf-8"))
        except OSError:
            return word(404, say("host-part-gone"), live.language)
        # Many browsers keep no cookies of a frame: the page itself says whom it was served to.
        ticket = seen.ticket(page.id, part.variant)
        may = " ".join(("'self'", *part.sites))
        answer = HTMLResponse(html.replace("<body ", f'<body data-ticket="{ticket}" ', 1), headers={
            "Cache-Control": "private, no-store",
            "Content-Security-Policy": f"{part.policy};frame-ancestors {may}"})
        _remember(answer, VISITOR_COOKIE, visitor)
        _remember(answer, SEEN_COOKIE, seen.with_page(page.id, part.variant))
        return answer


def _remember(answer: Response, name: str, value: str) -> None:
    """Set a cookie that a frame keeps, apart for each site around it (CHIPS)."""
    answer.set_cookie(name, value, max_age=_REMEMBERED_S, httponly=True, samesite="none",
                      secure=True)
    last, held = answer.raw_headers[-1]
    answer.raw_headers[-1] = (last, held + b"; Partitioned")
