"""The host's ASGI app for one project."""

import asyncio
import contextlib
import logging
import mimetypes
from collections.abc import AsyncIterator
from pathlib import Path

import anyio.to_thread
from sqlalchemy import Engine
from sqlalchemy.exc import SQLAlchemyError
from starlette.applications import Starlette
from starlette.middleware import Middleware
from starlette.middleware.gzip import GZipMiddleware
from starlette.requests import Request
from starlette.responses import FileResponse, HTMLResponse, RedirectResponse, Response
from starlette.routing import Route

from needle.core.messages.message import say
from needle.core.readymade.lostpage import LOST_SLUG
from needle.core.render.policy import reaching
from needle.core.shop.cartmarkup import with_cart
from needle.core.values.language import ENGLISH
from needle.host.accounts import AccountDesk
from needle.host.answers import said, word
from needle.host.calling import CallingDesk
from needle.host.carts import CartDesk
from needle.host.certifying import CertificateKeeper, names_of
from needle.host.clock import now_ms
from needle.host.counting import LONGEST_REPORT, CountingDesk
from needle.host.delivery import Deliverer
from needle.host.elsewhere import ElsewhereDesk
from needle.host.exchanging import Exchanging
from needle.host.extras import Extras
from needle.host.forms import FormDesk
from needle.host.headers import SafeHeaders
from needle.host.health import health_route
from needle.host.leftcarts import LeftCarts
from needle.host.letterlinks import LetterLinks
from needle.host.limits import BodyLimits
from needle.host.live import LiveReader
from needle.host.oddities import name_of_host
from needle.host.orderlinks import OrderLinks
from needle.host.orderpaths import OrderPaths
from needle.host.ownname import OwnName
from needle.host.paying import PayDesk
from needle.host.postbody import LONGEST_WITH_FILES
from needle.host.recognising import Recogniser, asks_not
from needle.host.returning import FormReturn
from needle.host.rolling import Rolling
from needle.host.scheduling import SchedulePart
from needle.host.setting import HostSetting
from needle.host.supervising import Supervisor
from needle.host.visitors import (
    SEEN_COOKIE,
    VISITOR_COOKIE,
    Seen,
    device_of,
    is_for,
    source_of,
    variant_cookie,
    variant_for,
)
from needle.host.weekly import WeeklyPart
from needle.publish.headers import FRAMES, SVG_POLICY
from needle.publish.release import ASSET_NAME, Live, LivePage, LiveVariant
from needle.publish.searchfiles import search_files
from needle.store.seals import Seals

__all__ = ["make_app"]

_log = logging.getLogger(__name__)
_REMEMBERED_S = 180 * 86_400
# Deliveries that wait for slow services must not keep visitors waiting.
_THREADS = 100
_BODIES = {"/_needle/lead/": LONGEST_WITH_FILES, "/_needle/part/": LONGEST_WITH_FILES}


class _Host:
    """Serves what is live."""

    def __init__(self, project: Path, engine: Engine, setting: HostSetting,
                 keeper: CertificateKeeper | None) -> None:
        self._project = project
        self._setting = setting
        self._live = LiveReader(project)
        self.keeper = keeper or CertificateKeeper(project, self._live.live)
        self._seals = Seals(project, engine)
        self.schedule = SchedulePart(project)
        self.deliverer = Deliverer(project, engine, self._live.live, self._seals, now_ms)
        self._known = Recogniser(engine, self._seals)
        self._carts = CartDesk(engine, self._live.live)
        paths = OrderPaths(project, self._seals)
        self.paying = PayDesk(project, engine, self._live.live, paths)
        self.desk = FormDesk(project, engine, self._live.live, self._seals, self.deliverer,
                             self._known, self.own_hosts, FormReturn(self._live), self._carts,
                             paths)
        self.left = LeftCarts(project, engine, self._live.live, paths)
        extras = Extras(engine, self._live.live, self.desk.keeper.keep)
        self._orders = OrderLinks(engine, self._live.live, paths, self._carts, self.paying, extras)
        self._accounts = AccountDesk(engine, self._live.live, paths, extras, self.deliverer)
        self._links = LetterLinks(project, engine, self._live.live, self._seals, self.deliverer)
        self.counting = CountingDesk(engine, self._live.live, self._seals, self._known)
        self._calling = CallingDesk(engine, self._live.live, self._seals, self._is_for_us)
        self.rolling = Rolling(engine)
        self.exchanging = Exchanging(engine, {
            **self.counting.ranges(), **self.desk.ranges(), **self._calling.ranges(),
            **self._accounts.ranges()})
        self.weekly = WeeklyPart(project, engine, self._live.live)
        self._outside = ElsewhereDesk(self._live, self._seals, self._known, self._is_for_us)

    def routes(self) -> list[Route]:
        """Return what is reached at which address."""
        return [*self.counting.routes(), *self.desk.routes(), *self._links.routes(),
                *self._outside.routes(), *self._calling.routes(), *self._carts.routes(),
                *self._orders.routes(), *self._accounts.routes(), *self.paying.routes(),
                Route("/assets/{name}", self.asset), Route("/robots.txt", self.for_searches),
                Route("/sitemap.xml", self.for_searches), Route("/{slug:path}", self.page)]

    @property
    def fault(self) -> str:
        """What is wrong with what is live, or with its certificate; empty if nothing is."""
        return ("the list of live pages is broken" if self._live.fault else "") or (
            self.keeper.fault or self.schedule.fault or self.weekly.fault or self.left.fault)

    async def not_kept(self, request: Request, error: Exception) -> Response:
        """Answer where the database did not do what was asked: its disk is full, or it is away."""
        # Without the address: it may hold a seal.
        _log.error("the database failed at %s: %s", getattr(
            request.scope.get("endpoint"), "__qualname__", "?"), type(error).__name__)
        live = self._live.live()
        answer = said("application/json" in request.headers.get("accept", ""), 503,
                      say("host-not-kept"), live.language if live is not None else ENGLISH)
        answer.headers["Retry-After"] = "60"
        return answer

    def own_hosts(self) -> frozenset[str]:
        """Return the names under which the site is reached, with their ports where known."""
        return frozenset({self._setting.public_host, *self.keeper.names()} - {""})

    def _is_ours(self, request: Request, live: Live) -> bool:
        name = name_of_host(request.headers.get("host", ""))
        public = self._setting.public_host
        return name in (f"{live.address}.localhost", "localhost", "127.0.0.1",
                        *names_of(live.domain)) or (
            bool(public) and name == name_of_host(public))

    def _is_for_us(self, request: Request) -> bool:
        live = self._live.live()
        return live is not None and self._is_ours(request, live)

    async def page(self, request: Request) -> Response:
        """Answer with a page, in the variant that is the visitor's."""
        live = self._live.live()
        if self._live.fault and live is None:
            return word(503, say("host-site-down"))
        if live is None or not self._is_ours(request, live):
            return word(404, "No site is published at this address.")
        slug = request.path_params.get("slug", "").strip("/")
        page = live.page_at(slug)
        if page is None:
            return self._elsewhere(request, slug, live)
        visitor = await self._known.visitor(request)
        variant, aside = self._variant_for(request, page, visitor)
        try:
            file = await anyio.to_thread.run_sync(self._live.file, variant.file)
        except OSError:
            return word(404, say("host-page-off", address=f"/{slug[:80]}"), live.language)
        headers = {"Cache-Control": "private, no-cache",
                   "Content-Security-Policy": self._policy(request, variant.policy)}
        answer: Response = FileResponse(file, media_type="text/html", headers=headers)
        if page.cart:
            inside = await self._carts.markup(request, live)
            text = await anyio.to_thread.run_sync(file.read_text, "utf-8")
            answer = HTMLResponse(with_cart(text, inside), headers=headers | {
                "Cache-Control": "no-store"})
        if "code" in request.query_params:
            self._carts.take_code(request, answer, live)
        if len(page.variants) > 1 and not asks_not(request):
            self._keep_variant(request, answer, visitor, page, variant, aside)
        return answer

    def _keep_variant(self, request: Request, answer: Response, visitor: str, page: LivePage,
                      variant: LiveVariant, aside: bool) -> None:
        """Have a visitor keep their variant of a page that is tested; no other page sets cookies.
        """
        self._remember(request, answer, VISITOR_COOKIE, visitor)
        seen = Seen(self._seals, visitor, request.cookies.get(SEEN_COOKIE))
        self._remember(request, answer, SEEN_COOKIE, seen.with_page(page.id, variant.key, aside))
        if not aside:
            self._remember(request, answer, variant_cookie(page.id), variant.key)

    def _variant_for(self, request: Request, page: LivePage, visitor: str,
                     ) -> tuple[LiveVariant, bool]:
        """Return the variant for a visitor, and whether they are aside of the page's split test:
        whom that is not for gets the first one, and counts for none."""
        headers, remembered = request.headers, request.cookies.get(variant_cookie(page.id))
        source, _ = source_of(request.url.query, headers.get("referer", ""),
                              headers.get("host", ""))
        if len(page.variants) > 1 and remembered not in {one.key for one in page.variants} and (
                not is_for(page.plan, source, device_of(headers.get("user-agent", "")), now_ms())):
            return page.variants[0], True
        return variant_for(page, visitor, remembered), False

    def _elsewhere(self, request: Request, slug: str, live: Live) -> Response:
        """Answer where no page stands: with where it is now, that it is gone, or that none is."""
        moved = live.moved_from(slug)
        page = live.page(moved.page) if moved else None
        if page is not None:
            # A campaign's words travel along.
            query = f"?{request.url.query}" if request.url.query else ""
            return RedirectResponse(f"/{page.slug}{query}", 301,
                                    {"Cache-Control": "max-age=3600"})
        if moved is not None:
            return word(410, say("host-page-gone", address=f"/{slug[:80]}"), live.language)
        return self._lost(slug, live)

    def _lost(self, slug: str, live: Live) -> Response:
        """Answer where there is no page: with the site's own page for that, if it has one."""
        own = live.page_at(LOST_SLUG)
        if own is not None and own.variants:
            with contextlib.suppress(OSError):
                return FileResponse(self._live.file(own.variants[0].file), 404,
                                    media_type="text/html", headers={
                    "Cache-Control": "no-cache",
                    "Content-Security-Policy": f"{own.variants[0].policy};{FRAMES}"})
        return word(404, say("host-no-page", address=f"/{slug[:80]}"), live.language)

    def _policy(self, request: Request, policy: str) -> str:
        """Return the policy of a page; in a trial visit the practice receiver may be reached."""
        reach = request.headers.get("x-needle-reach", "")
        if policy and reach and self._seals.holds(request.headers.get("x-needle-seal", ""),
                                                  now_ms(), "reach", reach):
            policy = reaching(policy, reach)
        return f"{policy};{FRAMES}" if policy else FRAMES

    def _remember(self, request: Request, answer: Response, name: str, value: str) -> None:
        answer.set_cookie(name, value, max_age=_REMEMBERED_S, httponly=True, samesite="lax",
                          secure=request.url.scheme == "https")

    async def for_searches(self, request: Request) -> Response:
        """Answer with the map of the site, or what searches may look at."""
        live, name = self._live.live(), request.url.path.strip("/")
        files = search_files(live) if live and self._is_ours(request, live) else {}
        if name not in files:
            return word(404, say("host-no-file"), live.language if live else ENGLISH)
        kind = "application/xml" if name.endswith(".xml") else "text/plain"
        return Response(files[name], media_type=kind, headers={"Cache-Control": "max-age=3600"})

    async def asset(self, request: Request) -> Response:
        """Answer with a picture, font or script."""
        name = request.path_params["name"]
        try:
            if ASSET_NAME.fullmatch(name) is None:
                raise FileNotFoundError(name)
            file = await anyio.to_thread.run_sync(self._live.file, f"assets/{name}")
        except OSError:
            live = self._live.live()
            return word(404, say("host-no-file"), live.language if live else ENGLISH)
        headers = {"Cache-Control": "public, max-age=31536000, immutable"}
        if name.endswith(".svg"):
            headers["Content-Security-Policy"] = SVG_POLICY
        kind = mimetypes.guess_type(name)[0] or "application/octet-stream"
        return FileResponse(file, media_type=kind, headers=headers)


def make_app(project: Path, engine: Engine, setting: HostSetting = HostSetting(),
             keeper: CertificateKeeper | None = None) -> Starlette:
    """Return the app that serves a project and delivers its leads while it runs.

    Args:
        keeper: Keeps the certificate of its own domain.
    """
    host = _Host(project, engine, setting, keeper)
    supervisor = Supervisor()

    @contextlib.asynccontextmanager
    async def lifespan(app: Starlette) -> AsyncIterator[None]:
        anyio.to_thread.current_default_thread_limiter().total_tokens = _THREADS
        work = asyncio.create_task(supervisor.run(
            deliveries=host.deliverer.run, keeping=host.desk.keeper.run,
            events=host.counting.keeper.run, counting=host.rolling.run,
            ranges=host.exchanging.run, weekly=host.weekly.run,
            certificate=host.keeper.run, schedule=host.schedule.run, payments=host.paying.run,
            left=host.left.run))
        yield
        work.cancel()
        with contextlib.suppress(asyncio.CancelledError):
            await work

    return Starlette(lifespan=lifespan, middleware=[
        Middleware(SafeHeaders), Middleware(OwnName, keeper=host.keeper),
        Middleware(BodyLimits, limits=_BODIES, otherwise=LONGEST_REPORT),
        Middleware(GZipMiddleware)], exception_handlers={SQLAlchemyError: host.not_kept},
        routes=[health_route(engine, supervisor, lambda: host.fault), *host.routes()])
