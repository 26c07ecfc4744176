"""The host's ASGI app for one project."""

import asyncio
import contextlib
import secrets
import time
from collections.abc import AsyncIterator, Mapping
from pathlib import Path
from urllib.parse import parse_qs

import anyio.to_thread
from markupsafe import Markup, escape
from sqlalchemy import Engine
from starlette.applications import Starlette
from starlette.middleware import Middleware
from starlette.middleware.gzip import GZipMiddleware
from starlette.requests import Request
from starlette.responses import (
    FileResponse,
    HTMLResponse,
    JSONResponse,
    RedirectResponse,
    Response,
)
from starlette.routing import Route

from needle.core.leads.checking import check_answers
from needle.core.leads.robots import robot_signs
from needle.core.render.markup import safe_address
from needle.core.site.form import Form, Role, ShowMessage, ThankAddress, ThankPage
from needle.host.delivery import Deliverer
from needle.host.visitors import (
    VISITOR_COOKIE,
    device_of,
    source_of,
    variant_cookie,
    variant_for,
    visitor_id,
)
from needle.publish.live import Live, LivePage, live_folder, read_live
from needle.store.results.taking import NewLead, take_goal, take_lead, take_visit

__all__ = ["make_app"]

_LONGEST_BODY = 200_000
_REMEMBERED_S = 180 * 86_400
_WORD_PAGE = Markup(
    '<!DOCTYPE html><html lang="en"><meta charset="utf-8"><title>{0}</title>'
    '<meta name="viewport" content="width=device-width"><body style="font:18px/1.6 system-ui;'
    'max-width:34em;margin:20vh auto;padding:0 20px"><p>{0}</p></body></html>')


def _now_ms() -> int:
    return time.time_ns() // 1_000_000


class _Host:
    """Serves what is live and takes what visitors send."""

    def __init__(self, project: Path, engine: Engine) -> None:
        self._project = project
        self._folder = live_folder(project)
        self._engine = engine
        self._known: tuple[int, Live | None] = (0, None)
        self.deliverer = Deliverer(project, engine, self.live, _now_ms)

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
            return _word(404, "No site is published at this address.")
        slug = request.path_params.get("slug", "").strip("/")
        page = next((page for page in live.pages if page.slug == slug), None)
        if page is None:
            return _word(404, f"There is no page at /{slug}.")
        visitor = visitor_id(request.cookies.get(VISITOR_COOKIE))
        variant = variant_for(page, visitor, request.cookies.get(variant_cookie(page.id)))
        file = self._folder / variant.file
        if not file.is_file():
            return _word(404, f"The page /{slug} was taken off just now.")
        answer = FileResponse(file, headers={"Cache-Control": "private, no-cache"})
        _remember(answer, VISITOR_COOKIE, visitor)
        if len(page.variants) > 1:
            _remember(answer, variant_cookie(page.id), variant.key)
        return answer

    async def asset(self, request: Request) -> Response:
        """Answer with a picture, font or script."""
        file = self._folder / "assets" / request.path_params["name"]
        if not file.is_file():
            return _word(404, "There is no such file.")
        return FileResponse(file, headers={"Cache-Control": "public, max-age=31536000, immutable"})

    async def visit(self, request: Request) -> Response:
        """Count a visit that the page's script reports."""
        try:
            said = await request.json()
            page, variant = str(said["page"]), str(said["variant"])
            query, came_from = str(said.get("query", "")), str(said.get("from", ""))
        except (ValueError, KeyError, TypeError, AttributeError):
            return _word(400, "This is not a visit.")
        visitor = self._visitor_of(request, page, variant)
        if not visitor:
            return _word(400, "This is not a visit to a page of this site.")
        source, campaign = source_of(query, came_from, request.headers.get("host", ""))
        await anyio.to_thread.run_sync(lambda: take_visit(
            self._engine, at_ms=_now_ms(), visitor=visitor, page=page,
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
            return _word(400, "This is not a goal.")
        visitor = self._visitor_of(request, page, variant)
        if not visitor:
            return _word(400, "This is not a goal on a page of this site.")
        await anyio.to_thread.run_sync(lambda: take_goal(
            self._engine, at_ms=_now_ms(), visitor=visitor, page=page, variant=variant,
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

    async def lead(self, request: Request) -> Response:
        """Take a lead: store it, then answer."""
        live = self.live()
        form = next((f for f in live.forms if f.id == request.path_params["form"]), None) \
            if live else None
        quiet = "application/json" in request.headers.get("accept", "")
        if live is None or form is None:
            return _answer(quiet, 404, "This form is no longer there.")
        sent, fault = await _posted(request)
        if fault:
            return _answer(quiet, 400, fault)
        checked = check_answers(form, sent)
        if checked.problems:
            return _answer(quiet, 422, " ".join(checked.problems.values()))
        lead = self._new_lead(request, live, form, sent, checked.answers)
        await anyio.to_thread.run_sync(take_lead, self._engine, lead)
        self.deliverer.wake()
        return _thanks(quiet, form, live)

    def _new_lead(self, request: Request, live: Live, form: Form, sent: Mapping[str, str],
                  answers: Mapping[str, str]) -> NewLead:
        signs = robot_signs(sent, request.headers.get("origin", ""),
                            request.headers.get("host", "")) if form.check_robots else ()
        page = live.page(sent.get("_page", ""))
        email = form.with_role(Role.EMAIL)
        source, _ = source_of(sent.get("_query", ""), sent.get("_referrer", ""),
                              request.headers.get("host", ""))
        return NewLead(
            key=_key(sent), at_ms=_now_ms(),
            visitor=visitor_id(request.cookies.get(VISITOR_COOKIE)),
            form=form.id, form_name=form.name, page=page.id if page else "",
            variant=_variant(page, sent.get("_variant", "")),
            email=answers.get(email.id, "") if email else "",
            answers=[(f.id, f.label, answers[f.id]) for f in form.fields if f.id in answers],
            signs=signs, source=source, routes=[route.id for route in form.routes])


def _variant(page: LivePage | None, said: str) -> str:
    keys = [variant.key for variant in page.variants] if page else []
    return said if said in keys else (keys[0] if keys else "")


def _key(sent: Mapping[str, str]) -> str:
    key = sent.get("_key", "")
    return key if 16 <= len(key) <= 64 and key.isalnum() else secrets.token_hex(16)


async def _posted(request: Request) -> tuple[dict[str, str], str]:
    """Return the fields of a posted form, or what is wrong with it."""
    body = b""
    async for chunk in request.stream():
        body += chunk
        if len(body) > _LONGEST_BODY:
            return {}, "This is more than the form can take. Please send less."
    kind = request.headers.get("content-type", "").partition(";")[0].strip()
    if kind != "application/x-www-form-urlencoded":
        return {}, "This form was sent in a way that it does not understand."
    try:
        fields = parse_qs(body.decode("ascii"), keep_blank_values=True, max_num_fields=200,
                          encoding="utf-8", errors="strict")
    except (UnicodeDecodeError, ValueError):
        return {}, "The answers are not in UTF-8. Please send them again from the page itself."
    return {name: values[0] for name, values in fields.items()}, ""


def _thanks(quiet: bool, form: Form, live: Live) -> Response:
    after = form.after
    go = ""
    if isinstance(after, ThankPage):
        page = live.page(after.page)
        go = f"/{page.slug}" if page else ""
    elif isinstance(after, ThankAddress):
        go = safe_address(after.address)
    words = after.words if isinstance(after, ShowMessage) else "Thank you. We have your message."
    if quiet:
        return JSONResponse({"go": go} if go else {"words": words})
    return RedirectResponse(go, 303) if go else _word(200, words)


def _answer(quiet: bool, status: int, words: str) -> Response:
    return JSONResponse({"words": words}, status) if quiet else _word(status, words)


def _word(status: int, words: str) -> HTMLResponse:
    """Return a small page that says one thing."""
    return HTMLResponse(_WORD_PAGE.format(escape(words)), status)


def _remember(answer: Response, name: str, value: str) -> None:
    answer.set_cookie(name, value, max_age=_REMEMBERED_S, httponly=True, samesite="lax")


def make_app(project: Path, engine: Engine) -> Starlette:
    """Return the app that serves a project and delivers its leads while it runs."""
    host = _Host(project, engine)

    @contextlib.asynccontextmanager
    async def lifespan(app: Starlette) -> AsyncIterator[None]:
        task = asyncio.create_task(host.deliverer.run())
        yield
        task.cancel()
        with contextlib.suppress(asyncio.CancelledError):
            await task

    return Starlette(lifespan=lifespan, middleware=[Middleware(GZipMiddleware)], routes=[
        Route("/_needle/visit", host.visit, methods=["POST"]),
        Route("/_needle/goal", host.goal, methods=["POST"]),
        Route("/_needle/lead/{form}", host.lead, methods=["POST"]),
        Route("/assets/{name}", host.asset),
        Route("/{slug:path}", host.page)])
