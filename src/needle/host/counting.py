"""Taking what pages report: visits, how people go about a page, and clicks that count."""

import asyncio
from collections.abc import Callable
from typing import Annotated, Any, Literal, TypeVar

import msgspec
from sqlalchemy import Engine
from starlette.requests import ClientDisconnect, Request
from starlette.responses import JSONResponse, Response
from starlette.routing import Route

from needle.core.leads.storable import storable
from needle.core.measure.events import Event, EventKind
from needle.host.answers import word
from needle.host.calling import tickets_of
from needle.host.clock import now_ms
from needle.host.keeping import Keeper, NotKeptError
from needle.host.practised import mark_of, moment_of
from needle.host.ranges import Ranges
from needle.host.recognising import Known, Recogniser
from needle.host.visitors import address_of, device_of, is_robot_agent, source_of
from needle.publish.release import Live, LivePage
from needle.store.results.stream import take_events
from needle.store.seals import Seals

__all__ = ["LONGEST_REPORT", "CountingDesk"]

LONGEST_REPORT = 16_000
# So many in ten minutes from one range of addresses are counted: a large office, not a script.
_VISITS_A_RANGE = 900
_GOALS_A_RANGE = 120
_TOLD_A_RANGE = 3000
_MOST_TOLD = 40
_LONGEST_MS = 600_000
T = TypeVar("T")
_Short = Annotated[str, msgspec.Meta(max_length=120)]
_Part = Annotated[str, msgspec.Meta(pattern=r"\A[A-Za-z0-9_-]{1,16}(\.[A-Za-z0-9_-]{1,16})?\Z")]
_Told = Literal["popup", "open", "step", "field", "fault", "stop", "touch", "depth",
                "words"]
# What is not of a form.
_ON_THE_PAGE = frozenset({"popup", "touch", "depth", "words"})


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


class _Did(msgspec.Struct, frozen=True, array_like=True):
    """One thing that somebody did on a page."""

    kind: _Told
    what: _Part
    amount: Annotated[int, msgspec.Meta(ge=0, le=_LONGEST_MS)] = 0


class _Followed(msgspec.Struct, frozen=True):
    """What a page's script says of how somebody went about it."""

    page: _Short
    variant: _Short
    told: Annotated[tuple[_Did, ...], msgspec.Meta(max_length=_MOST_TOLD)]
    ticket: str = ""


class CountingDesk:
    """The part of the host that pages report to.

    Attributes:
        keeper: Stores what they report.
    """

    def __init__(self, engine: Engine, live: Callable[[], Live | None], seals: Seals,
                 known: Recogniser) -> None:
        self._live = live
        self._seals = seals
        self._known = known
        self._visits, self._goals, self._told = Ranges(), Ranges(), Ranges()
        self.keeper = Keeper[Event, None]("events", lambda told: take_events(engine, told))

    def ranges(self) -> dict[str, Ranges]:
        """Return what is counted by range of addresses."""
        return {"visits": self._visits, "goals": self._goals, "told": self._told}

    def routes(self) -> list[Route]:
        """Return what is reached at which address."""
        return [Route("/_needle/visit", self.visit, methods=["POST"]),
                Route("/_needle/events", self.followed, methods=["POST"]),
                Route("/_needle/goal", self.goal, methods=["POST"])]

    async def visit(self, request: Request) -> Response:
        """Count a visit that the page's script reports."""
        told = await _read(request, _Visit)
        known = await self._known_of(request, told)
        if told is None or known is None:
            return word(400, "This is not a visit to a page of this site.")
        if self._too_many(request, self._visits, _VISITS_A_RANGE):
            return word(429, "Too many visits were reported from here.")
        source, campaign = source_of(told.query, told.came_from, request.headers.get("host", ""))
        agent = _agent_of(request)
        kind = EventKind.ROBOT if is_robot_agent(agent) else EventKind.VISIT
        if fault := await self._keep(self._event(
                request, known, told, kind, source=source, campaign=campaign,
                device=device_of(agent))):
            return fault
        live = self._live()
        if live is None or not live.calls:
            return Response(status_code=204)
        return JSONResponse(tickets_of(live, self._seals, known.visitor, told.page, told.variant),
                            headers={"Cache-Control": "no-store"})

    async def goal(self, request: Request) -> Response:
        """Count a click that is a conversion."""
        told = await _read(request, _Goal)
        known = await self._known_of(request, told)
        if told is None or known is None:
            return word(400, "This is not a goal on a page of this site.")
        if self._too_many(request, self._goals, _GOALS_A_RANGE):
            return word(429, "Too many goals were reported from here.")
        if is_robot_agent(_agent_of(request)):
            return Response(status_code=204)  # Its visit is told apart; it converts nobody.
        return await self._keep(self._event(
            request, known, told, EventKind.GOAL, what=storable(told.goal))) or Response(
            status_code=204)

    async def followed(self, request: Request) -> Response:
        """Note how somebody goes about a page: popups, and how far they came with a form."""
        told = await _read(request, _Followed)
        who = await self._known_of(request, told)
        if told is None or who is None:
            return word(400, "This was not done on a page of this site.")
        if self._too_many(request, self._told, _TOLD_A_RANGE):
            return word(429, "Too much was reported from here.")
        if is_robot_agent(_agent_of(request)):
            return Response(status_code=204)
        live = self._live()
        known = self._forms_of(live.page(told.page) if live else None)
        return await self._keep(*(
            self._event(request, who, told, EventKind(did.kind), what=did.what,
                        amount=did.amount)
            for did in told.told if did.kind in _ON_THE_PAGE or did.what in known)) or Response(
            status_code=204)

    @staticmethod
    def _forms_of(page: LivePage | None) -> set[str]:
        """Return the forms on a page and their fields, as pages name them."""
        forms = page.forms if page else ()
        return {form.id for form in forms} | {
            f"{form.id}.{field.id}" for form in forms for field in form.fields}

    def _event(self, request: Request, known: Known, told: _Visit | _Goal | _Followed,
               kind: EventKind, **more: Any) -> Event:
        return Event(at_ms=moment_of(request, self._seals), visitor=known.visitor, kind=kind,
                     page=told.page, variant=told.variant, mark=mark_of(request, self._seals),
                     aside=known.aside, **more)

    def _too_many(self, request: Request, ranges: Ranges, most: int) -> bool:
        return not mark_of(request, self._seals) and (
            ranges.count(address_of(request), now_ms()) > most)

    async def _keep(self, *told: Event) -> Response | None:
        """Store events; return what is answered if they cannot be."""
        try:
            await asyncio.gather(*(self.keeper.keep(event) for event in told))
        except NotKeptError:
            return word(503, "This could not be counted just now.")
        return None

    async def _known_of(self, request: Request, told: _Visit | _Goal | _Followed | None,
                        ) -> Known | None:
        """Return who reports from a page they can have been served; `None` if that is not so."""
        live = self._live()
        page = live.page(told.page) if live and told else None
        if told is None or page is None:
            return None
        return await self._known.of_report(request, page, told.variant, told.ticket)


def _agent_of(request: Request) -> str:
    return request.headers.get("user-agent", "")[:500]


async def _read(request: Request, kind: type[T]) -> T | None:
    try:
        return msgspec.json.decode(await request.body(), type=kind)
    except (msgspec.DecodeError, UnicodeDecodeError, RecursionError, ClientDisconnect):
        return None
