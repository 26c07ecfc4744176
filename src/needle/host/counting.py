"""Taking what pages report: visits, and clicks that count."""

from collections.abc import Callable
from typing import Annotated, TypeVar

import anyio.to_thread
import msgspec
from sqlalchemy import Engine
from starlette.requests import ClientDisconnect, Request
from starlette.responses import JSONResponse, Response
from starlette.routing import Route

from needle.core.leads.storable import storable
from needle.host.answers import word
from needle.host.calling import tickets_of
from needle.host.clock import now_ms
from needle.host.ranges import Ranges
from needle.host.visitors import Seen, address_of, device_of, source_of
from needle.publish.release import Live
from needle.store.results.taking import take_goal, take_visit
from needle.store.seals import Seals

__all__ = ["LONGEST_REPORT", "CountingDesk"]

LONGEST_REPORT = 16_000
# So many in ten minutes from one range of addresses are counted: a large office, not a script.
_VISITS_A_RANGE = 900
_GOALS_A_RANGE = 120
T = TypeVar("T")
_Short = Annotated[str, msgspec.Meta(max_length=120)]


class _Visit(msgspec.Struct, frozen=True):
    """What a page's script says of a visit."""

    page: _Short
    variant: _Short
    query: str = ""
    ticket: str = ""
    came_from: str = msgspec.field(default="", name="from")


class _Goal(msgspec.Struct, frozen=True):
    """What a page's script says of a click that counts."""

    page: _Short
    variant: _Short
    goal: _Short
    ticket: str = ""


class CountingDesk:
    """The part of the host that pages report to."""

    def __init__(self, engine: Engine, live: Callable[[], Live | None], seals: Seals) -> None:
        self._engine = engine
        self._live = live
        self._seals = seals
        self._visits, self._goals = Ranges(), Ranges()

    def routes(self) -> list[Route]:
        """Return what is reached at which address."""
        return [Route("/_needle/visit", self.visit, methods=["POST"]),
                Route("/_needle/goal", self.goal, methods=["POST"])]

    async def visit(self, request: Request) -> Response:
        """Count a visit that the page's script reports."""
        told = await _read(request, _Visit)
        visitor = self._visitor_of(request, told)
        if told is None or not visitor:
            return word(400, "This is not a visit to a page of this site.")
        if self._visits.count(address_of(request), now_ms()) > _VISITS_A_RANGE:
            return word(429, "Too many visits were reported from here.")
        source, campaign = source_of(told.query, told.came_from, request.headers.get("host", ""))
        agent = request.headers.get("user-agent", "")
        await anyio.to_thread.run_sync(lambda: take_visit(
            self._engine, at_ms=now_ms(), visitor=visitor, page=told.page, variant=told.variant,
            source=source, campaign=campaign, device=device_of(agent)))
        live = self._live()
        if live is None or not live.calls:
            return Response(status_code=204)
        return JSONResponse(tickets_of(live, self._seals, visitor, told.page, told.variant),
                            headers={"Cache-Control": "no-store"})

    async def goal(self, request: Request) -> Response:
        """Count a click that is a conversion."""
        told = await _read(request, _Goal)
        visitor = self._visitor_of(request, told)
        if told is None or not visitor:
            return word(400, "This is not a goal on a page of this site.")
        if self._goals.count(address_of(request), now_ms()) > _GOALS_A_RANGE:
            return word(429, "Too many goals were reported from here.")
        await anyio.to_thread.run_sync(lambda: take_goal(
            self._engine, at_ms=now_ms(), visitor=visitor, page=told.page, variant=told.variant,
            goal=storable(told.goal)))
        return Response(status_code=204)

    def _visitor_of(self, request: Request, told: _Visit | _Goal | None) -> str:
        """Return the visitor who reports from a page they were served; empty if that is not so."""
        live = self._live()
        known = live.page(told.page) if live and told else None
        if told is None or known is None:
            return ""
        seen = Seen.of_report(self._seals, told.ticket, request.cookies)
        return seen.visitor if seen.visitor and seen.holds(told.page, told.variant) else ""


async def _read(request: Request, kind: type[T]) -> T | None:
    try:
        return msgspec.json.decode(await request.body(), type=kind)
    except (msgspec.DecodeError, UnicodeDecodeError, RecursionError, ClientDisconnect):
        return None
