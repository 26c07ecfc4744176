"""The host's ASGI app for one project."""

import asyncio
import contextlib
from collections.abc import AsyncIterator
from pathlib import Path

import anyio.to_thread
from sqlalchemy import Engine
from starlette.applications import Starlette
from starlette.middleware import Middleware
from starlette.middleware.gzip import GZipMiddleware
from starlette.requests import Request
from starlette.responses import FileResponse, Response
from starlette.routing import Route

from needle.host.answers import word
from needle.host.clock import now_ms
from needle.host.delivery import Deliverer
from needle.host.forms import FormDesk
from needle.host.visitors import (
    VISITOR_COOKIE,
    device_of,
    source_of,
    variant_cookie,
    variant_for,
    visitor_id,
)
from needle.publish.live import Live, live_folder, read_live
from needle.store.files import write_atomically
from needle.store.results.taking import take_goal, take_visit
from needle.store.seals import Seals

__all__ = ["make_app", "remember_address"]

_REMEMBERED_S = 180 * 86_400
# Deliveries that wait for slow services must not keep visitors waiting.
_THREADS = 100


class _Host:
    """Serves what is live and takes what visitors send."""

    def __init__(self, project: Path, engine: Engine) -> None:
        self._project = project
        self._folder = live_folder(project)
        self._engine = engine
        self._known: tuple[int, Live | None] = (0, None)
        seals = Seals(project)
        self.deliverer = Deliverer(project, engine, self.live, seals, now_ms)
        self.desk = FormDesk(project, engine, self.live, seals, self.deliverer)

    def live(self) -> Live | None:
        """Return what is live, read again only when its file has changed."""
        try:
            stamp = (self._folder / "live.json").stat().st_mtime_ns
        except FileNotFoundError:
            return None
        if self._known[0] != stamp:
            self._known = (stamp, read_live(self._project))
        return self._known[1]

    async def page(self, request: Request) -> Response:
        """Answer with a page, in the variant that is the visitor's."""
        live = self.live()
        name = (request.url.hostname or "").partition(".localhost")[0]
        if live is None or name not in (live.address, "localhost", "127.0.0.1"):
            return word(404, "No site is published at this address.")
        slug = request.path_params.get("slug", "").strip("/")
        page = next((page for page in live.pages if page.slug == slug), None)
        if page is None:
            return word(404, f"There is no page at /{slug}.")
        visitor = visitor_id(request.cookies.get(VISITOR_COOKIE))
        variant = variant_for(page, visitor, request.cookies.get(variant_cookie(page.id)))
        file = self._folder / variant.file
        if not file.is_file():
            return word(404, f"The page /{slug} was taken off just now.")
        answer = FileResponse(file, headers={"Cache-Control": "private, no-cache"})
        _remember(answer, VISITOR_COOKIE, visitor)
        if len(page.variants) > 1:
            _remember(answer, variant_cookie(page.id), variant.key)
        return answer

    async def asset(self, request: Request) -> Response:
        """Answer with a picture, font or script."""
        file = self._folder / "assets" / request.path_params["name"]
        if not file.is_file():
            return word(404, "There is no such file.")
        return FileResponse(file, headers={"Cache-Control": "public, max-age=31536000, immutable"})

    async def visit(self, request: Request) -> Response:
        """Count a visit that the page's script reports."""
        try:
            said = await request.json()
            page, variant = str(said["page"]), str(said["variant"])
            query, came_from = str(said.get("query", "")), str(said.get("from", ""))
        except (ValueError, KeyError, TypeError, AttributeError):
            return word(400, "This is not a visit.")
        visitor = self._visitor_of(request, page, variant)
        if not visitor:
            return word(400, "This is not a visit to a page of this site.")
        source, campaign = source_of(query, came_from, request.headers.get("host", ""))
        await anyio.to_thread.run_sync(lambda: take_visit(
            self._engine, at_ms=now_ms(), visitor=visitor, page=page,
            variant=variant, source=source, campaign=campaign,
            device=device_of(request.headers.get("user-agent", ""))))
        return Response(status_code=204)

    async def goal(self, request: Request) -> Response:
        """Count a click that is a conversion."""
        try:
            said = await request.json()
            page, variant = str(said["page"]), str(said["variant"])
            name = str(said["goal"])
        except (ValueError, KeyError, TypeError, AttributeError):
            return word(400, "This is not a goal.")
        visitor = self._visitor_of(request, page, variant)
        if not visitor:
            return word(400, "This is not a goal on a page of this site.")
        await anyio.to_thread.run_sync(lambda: take_goal(
            self._engine, at_ms=now_ms(), visitor=visitor, page=page, variant=variant,
            goal=name))
        return Response(status_code=204)

    def _visitor_of(self, request: Request, page: str, variant: str) -> str:
        """Return the visitor who reports from a live page; empty if that cannot be."""
        live = self.live()
        known = live.page(page) if live else None
        cookie = request.cookies.get(VISITOR_COOKIE)
        if known is None or cookie is None or variant not in {v.key for v in known.variants}:
            return ""
        return visitor_id(cookie)


def _remember(answer: Response, name: str, value: str) -> None:
    answer.set_cookie(name, value, max_age=_REMEMBERED_S, httponly=True, samesite="lax")


def remember_address(project: Path, port: int) -> None:
    """Write down where visitors reach the host, for the links in letters."""
    live = read_live(project)
    name = f"{live.address}.localhost" if live else "localhost"
    with contextlib.suppress(OSError):
        write_atomically(live_folder(project) / "host.address", f"http://{name}:{port}".encode())


def make_app(project: Path, engine: Engine) -> Starlette:
    """Return the app that serves a project and delivers its leads while it runs."""
    host = _Host(project, engine)

    @contextlib.asynccontextmanager
    async def lifespan(app: Starlette) -> AsyncIterator[None]:
        anyio.to_thread.current_default_thread_limiter().total_tokens = _THREADS
        tasks = [asyncio.create_task(work.run()) for work in (host.deliverer, host.desk.keeper)]
        yield
        for task in tasks:
            task.cancel()
            with contextlib.suppress(asyncio.CancelledError):
                await task

    return Starlette(lifespan=lifespan, middleware=[Middleware(GZipMiddleware)], routes=[
        Route("/_needle/visit", host.visit, methods=["POST"]),
        Route("/_needle/goal", host.goal, methods=["POST"]),
        *host.desk.routes(),
        Route("/assets/{name}", host.asset),
        Route("/{slug:path}", host.page)])
