"""What pages made elsewhere call in: who came from our pages has reached something there."""

from collections.abc import Callable

import anyio.to_thread
import msgspec
from sqlalchemy import Engine
from starlette.requests import Request
from starlette.responses import Response
from starlette.routing import Route

from needle.core.measure.events import Event, EventKind
from needle.core.render.scripts import runtime_script
from needle.core.values.outsidecall import OutsideCall
from needle.host.answers import word
from needle.host.clock import now_ms
from needle.host.ranges import Ranges
from needle.host.visitors import address_of
from needle.publish.release import Live
from needle.store.results.stream import take_events
from needle.store.seals import Seals

__all__ = ["CallingDesk", "tickets_of"]

_PURPOSE = "outside call"
# Who comes back after longer is not counted as sent by us.
_GOOD_S = 90 * 86_400
# So many in ten minutes from one range of addresses are counted: a large office, not a script.
_CALLS_A_RANGE = 120
# One transparent pixel (GIF 89a).
_PIXEL = bytes.fromhex("47494638396101000100800000ffffff00000021f90401000000002c00000000010001"
                       "000002024401003b")


class _Ticket(msgspec.Struct, frozen=True, array_like=True):
    """Who came from which page to the pages of a call."""

    call: str
    visitor: str
    page: str
    variant: str


def tickets_of(live: Live, seals: Seals, visitor: str, page: str, variant: str) -> dict[str, str]:
    """Return what a visitor of a page takes along to outside pages, by the id of the call."""
    return {call.id: seals.close(_PURPOSE, msgspec.json.encode(
        _Ticket(call.id, visitor, page, variant)).decode()) for call in live.calls if call.begins}


class CallingDesk:
    """The part of the host that outside pages call."""

    def __init__(self, engine: Engine, live: Callable[[], Live | None], seals: Seals,
                 shown_here: Callable[[Request], bool]) -> None:
        """Prepare to answer.

        Args:
            shown_here: Whether a request is for this site.
        """
        self._engine, self._live, self._seals = engine, live, seals
        self._shown_here = shown_here
        self._ranges = Ranges()

    def ranges(self) -> dict[str, Ranges]:
        """Return what is counted by range of addresses."""
        return {"calls": self._ranges}

    def routes(self) -> list[Route]:
        """Return what is reached at which address."""
        return [Route("/_needle/call/{id}.{key}.js", self.script),
                Route("/_needle/call/{id}.{key}.gif", self.called)]

    async def script(self, request: Request) -> Response:
        """Answer with the script for outside pages."""
        if self._call(request) is None:
            return word(404, "There is no such call.")
        return Response(runtime_script(("called",)), media_type="text/javascript", headers={
            "Cache-Control": "public, max-age=3600",
            "Cross-Origin-Resource-Policy": "cross-origin"})

    async def called(self, request: Request) -> Response:
        """Count that somebody reached it; the same visitor counts once, however often it calls."""
        call, live = self._call(request), self._live()
        if call is None or live is None:
            return word(404, "There is no such call.")
        ticket = self._ticket(request.query_params.get("needle", ""))
        if ticket is None or ticket.call != call.id:
            return word(400, "Nobody who came from a page of this site calls.")
        if self._ranges.count(address_of(request), now_ms()) > _CALLS_A_RANGE:
            return word(429, "Too many calls came from here.")
        reached = Event(at_ms=now_ms(), visitor=ticket.visitor, kind=EventKind.CALL,
                        page=ticket.page, variant=ticket.variant, what=call.id)
        await anyio.to_thread.run_sync(take_events, self._engine, [reached])
        return Response(_PIXEL, media_type="image/gif", headers={
            "Cache-Control": "no-store", "Cross-Origin-Resource-Policy": "cross-origin"})

    def _call(self, request: Request) -> OutsideCall | None:
        live = self._live()
        if live is None or not self._shown_here(request):
            return None
        told = (request.path_params["id"], request.path_params["key"])
        return next((call for call in live.calls if (call.id, call.key) == told), None)

    def _ticket(self, closed: str) -> _Ticket | None:
        words = self._seals.open(_PURPOSE, closed[:2000], _GOOD_S)
        return msgspec.json.decode(words, type=_Ticket) if words is not None else None
