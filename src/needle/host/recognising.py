"""Knowing a visitor again: without a cookie for a day, with one where a split test needs it."""

import contextlib
import hashlib
import ipaddress
import logging
import secrets
from dataclasses import dataclass
from urllib.parse import urlsplit

import anyio.to_thread
from sqlalchemy import Engine
from sqlalchemy.exc import SQLAlchemyError
from starlette.requests import Request

from needle.host.clock import now_ms
from needle.host.practised import mark_of
from needle.host.visitors import Seen, address_of, variant_for
from needle.publish.release import LivePage
from needle.store.results.salts import day_salt
from needle.store.seals import Seals

__all__ = ["Known", "Recogniser", "asks_not"]

_log = logging.getLogger(__name__)
_DAY_MS = 86_400_000
# What a proxy that rewrites Host leaves of it, so that there is nothing to compare with.
_REWRITTEN = frozenset({"127.0.0.1", "localhost"})


@dataclass(frozen=True, slots=True)
class Known:
    """Whom a request is from.

    Attributes:
        aside: They are none of the page's split test.
    """

    visitor: str
    aside: bool = False


def asks_not(request: Request) -> bool:
    """Return whether a browser asks not to be tracked: it is given no cookie."""
    return "1" in (request.headers.get("dnt"), request.headers.get("sec-gpc"))


class Recogniser:
    """Says who a visitor is.

    A cookie is believed if it holds the seal of a page that we served. Who has none is known for
    this day by a hash of their address, their browser and the day's salt: two people of one office
    with the same browser are one visitor then, and nobody is known on another day.
    """

    def __init__(self, engine: Engine, seals: Seals) -> None:
        self._engine, self._seals = engine, seals
        self._day, self._salt = -1, ""

    async def visitor(self, request: Request) -> str:
        """Return the id of whoever asks."""
        seen = self.seen(request)
        return seen.visitor if seen.known() else await self.without_cookie(request)

    def seen(self, request: Request) -> Seen:
        """Return what the cookies of a request prove of having seen."""
        return Seen.of_report(self._seals, "", request.cookies)

    async def without_cookie(self, request: Request) -> str:
        """Return the id of whoever asks, for this day alone."""
        await self._take_salt()
        who = request.headers.get("x-needle-who", "")[:64]
        # Practice visitors are many at one address; what they say of themselves is sealed.
        told = f"practice {who}" if who and mark_of(request, self._seals) else _told_of(request)
        return hashlib.sha256(f"{self._salt} {told}".encode()).hexdigest()[:24]

    async def _take_salt(self) -> None:
        day = now_ms() // _DAY_MS
        if day <= self._day:
            return
        try:
            self._day, self._salt = await anyio.to_thread.run_sync(day_salt, self._engine, day)
        except SQLAlchemyError as error:
            # Nobody is turned away for it; until the database answers they are others than after.
            _log.error("the salt of the day cannot be read (%s)", type(error).__name__)
            self._salt = self._salt or secrets.token_hex(16)

    async def of_report(self, request: Request, page: LivePage, variant: str, ticket: str = "",
                        ) -> Known | None:
        """Return who reports from a page in a variant; `None` for whoever cannot have been there.

        Args:
            ticket: What a page says where its browser may keep no cookie.
        """
        if variant not in {one.key for one in page.variants}:
            return None
        if ticket:
            seen = Seen.of_report(self._seals, ticket, {})
            held = bool(seen.visitor) and seen.holds(page.id, variant)
            return Known(seen.visitor, seen.aside(page.id, variant)) if held else None
        seen, tested = self.seen(request), len(page.variants) > 1
        if seen.known():
            held = not tested or seen.holds(page.id, variant)
            return Known(seen.visitor, seen.aside(page.id, variant)) if held else None
        if not _from_here(request):
            return None
        visitor = await self.without_cookie(request)
        if not tested:
            return Known(visitor)
        # A browser that keeps no cookie gets the variant of its hash; whom the test is for, it
        # cannot prove afterwards.
        first, own = page.variants[0].key, variant_for(page, visitor, None).key
        narrow = bool(page.plan.sources or page.plan.devices or page.plan.begins or page.plan.ends)
        if variant != own and not (narrow and variant == first):
            return None
        return Known(visitor, narrow)


def _told_of(request: Request) -> str:
    """Return what tells visitors apart without a cookie.

    A computer's own part of an IPv6 address changes within a day, so its network stands for it. A
    proxy that nobody has named (`--behind`) is not believed for limits; that what it says of whom
    it speaks for makes more visitors of one is no more than another browser's name does.
    """
    address = address_of(request)
    if ":" in address:
        with contextlib.suppress(ValueError):
            address = str(ipaddress.ip_network(f"{address.partition('%')[0]}/64", strict=False))
    return " ".join((address, *(request.headers.get(name, "")[:500] for name in (
        "x-forwarded-for", "user-agent", "accept-language"))))


def _from_here(request: Request) -> bool:
    """Return whether a report comes from our own pages, as far as a browser tells: pages of
    others cannot have their visitors counted as ours."""
    site = request.headers.get("sec-fetch-site")
    if site is not None:
        return site == "same-origin"
    origin, host = request.headers.get("origin", ""), request.headers.get("host", "").lower()
    if not origin or host.partition(":")[0] in _REWRITTEN:
        return True
    try:
        return urlsplit(origin).netloc.lower() == host
    except ValueError:  # As in "http://[x".
        return False
