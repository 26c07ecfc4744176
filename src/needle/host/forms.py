"""Taking forms: leads, parts of leads, and what visitors reach from their letters."""

import secrets
from collections.abc import Callable, Mapping, Sequence
from pathlib import Path
from urllib.parse import parse_qs

import anyio.to_thread
from python_multipart.exceptions import FormParserError
from sqlalchemy import Engine
from starlette.datastructures import Headers, UploadFile
from starlette.formparsers import MultiPartException, MultiPartParser
from starlette.requests import Request
from starlette.responses import FileResponse, JSONResponse, RedirectResponse, Response
from starlette.routing import Route

from needle.core.leads.attachments import LARGEST_KB, SentFile, tidy_name
from needle.core.leads.checking import Checked, check_answers
from needle.core.leads.robots import Evidence, Sign, is_robot, robot_signs
from needle.core.render.document import runtime_script
from needle.core.render.markup import safe_address
from needle.core.site.form import Form, Role, ShowMessage, ThankAddress, ThankPage
from needle.host.answers import said, word, work_page
from needle.host.clock import now_ms
from needle.host.delivery import CONFIRM, LETTER, Deliverer
from needle.host.keeping import Keeper, NotKeptError
from needle.host.ranges import Ranges
from needle.host.visitors import VISITOR_COOKIE, source_of, visitor_id
from needle.publish.live import Live, LivePage
from needle.store.files import write_atomically
from needle.store.results.deliveries import release_held
from needle.store.results.taking import NewLead, Unfinished, take_unfinished
from needle.store.seals import WORK_BITS, Seals, proof_holds

__all__ = ["FormDesk"]

_LONGEST_BODY = 200_000
_LONGEST_WITH_FILES = 25_000_000
_SEAL_MS = 86_400_000
_WORK_MS = 900_000
_TYPED = (Role.NAME, Role.GIVEN, Role.FAMILY, Role.COMPANY, Role.LINE, Role.LONG)


class _Posted:
    """What came in a form's post.

    Attributes:
        sent: The first value of each field.
        many: All values of each field.
        fault: What is wrong with the post as a whole, in words.
    """

    def __init__(self) -> None:
        self.sent: dict[str, str] = {}
        self.many: dict[str, list[str]] = {}
        self.files: dict[str, SentFile] = {}
        self.fault = ""


class FormDesk:
    """The part of the host that visitors' forms are sent to."""

    def __init__(self, project: Path, engine: Engine, live: Callable[[], Live | None], seals: Seals,
                 deliverer: Deliverer) -> None:
        self._project = project
        self._engine = engine
        self._live = live
        self._seals = seals
        self._deliverer = deliverer
        self._ranges = Ranges()
        self.keeper = Keeper(engine)

    def routes(self) -> list[Route]:
        """Return what is reached at which address."""
        return [Route("/_needle/lead/{form}", self.lead, methods=["POST"]),
                Route("/_needle/part/{form}", self.part, methods=["POST"]),
                Route("/_needle/token/{form}", self.token),
                Route("/_needle/confirm/{lead}/{seal}", self.confirm),
                Route("/_needle/file/{file}/{seal}", self.file)]

    async def token(self, request: Request) -> Response:
        """Seal the moment at which somebody begins to fill a form in."""
        key = request.query_params.get("key", "")
        if not _good_key(key):
            return said(True, 400, "This is not the key of a form.")
        form = request.path_params["form"]
        return JSONResponse({"token": self._seals.seal("filling", now_ms(), form, key)},
                            headers={"Cache-Control": "no-store"})

    async def lead(self, request: Request) -> Response:
        """Take a lead: store it, then answer."""
        live = self._live()
        form = _form(live, request)
        quiet = "application/json" in request.headers.get("accept", "")
        if live is None or form is None:
            return said(quiet, 404, "This form is no longer there.")
        posted = await _posted(request, form)
        if posted.fault:
            return said(quiet, 400, posted.fault)
        checked = check_answers(form, posted.sent, posted.many, posted.files)
        if checked.problems:
            return said(quiet, 422, " ".join(checked.problems.values()),
                        fields=dict(checked.problems))
        trial = self._is_trial(form, posted.sent)
        if form.challenge and not trial and not self._worked(posted.sent):
            return self._ask_for_work(quiet, request, posted.sent)
        return await self._kept(request, quiet, live, form, posted, checked, trial)

    async def _kept(self, request: Request, quiet: bool, live: Live, form: Form,
                    posted: _Posted, checked: Checked, trial: bool) -> Response:
        signs = () if trial or not form.check_robots else self._signs(request, form, posted,
                                                                      checked)
        key = posted.sent.get("_key", "")
        key = key if _good_key(key) else secrets.token_hex(16)
        paths: list[tuple[str, str, str]] = []
        try:
            paths = await anyio.to_thread.run_sync(self._file, key, form, posted.files)
            await self.keeper.keep(self._new_lead(request, live, form, posted.sent, checked, key,
                                                  signs, paths, trial))
        except (NotKeptError, OSError) as error:
            for _, _, path in paths:
                (self._project / path).unlink(missing_ok=True)
            words = str(error) if isinstance(error, NotKeptError) else (
                "This could not be kept: the server's disk is full. Your answers are still here; "
                "please send again in a while.")
            answer = said(quiet, 507, words)
            answer.headers["Retry-After"] = "60"
            return answer
        self._deliverer.wake()
        return _thanks(quiet, form, live)

    async def part(self, request: Request) -> Response:
        """Keep the answers of somebody who may stop here."""
        live = self._live()
        form = _form(live, request)
        if live is None or form is None or not form.keep_unfinished:
            return said(True, 404, "This form keeps nothing that is not sent.")
        posted = await _posted(request, form)
        key = posted.sent.get("_key", "")
        if posted.fault or not _good_key(key):
            return said(True, 400, posted.fault or "This is not the key of a form.")
        # Only what could be taken is kept; what is missing still is not a fault here.
        checked = check_answers(form, posted.sent, posted.many)
        answers = _answers(form, checked.answers)
        if answers and not self._signs_of_part(request, form, posted, checked):
            page = live.page(posted.sent.get("_page", ""))
            email = form.with_role(Role.EMAIL)
            fresh = Unfinished(
                key=key, at_ms=now_ms(), visitor=visitor_id(request.cookies.get(VISITOR_COOKIE)),
                form=form.id, form_name=form.name, page=page.id if page else "",
                variant=_variant(page, posted.sent.get("_variant", "")),
                email=checked.answers.get(email.id, "") if email else "", answers=answers)
            await anyio.to_thread.run_sync(take_unfinished, self._engine, fresh)
        return Response(status_code=204)

    async def confirm(self, request: Request) -> Response:
        """Let a lead go on its way, since its visitor followed the link in the letter."""
        key, seal = request.path_params["lead"], request.path_params["seal"]
        if not self._seals.holds(seal, now_ms(), "confirm", key):
            return word(410, "This link no longer works. Please fill the form in again.")
        if not await anyio.to_thread.run_sync(release_held, self._engine, key, now_ms()):
            return word(410, "This sign-up was erased. Please fill the form in again.")
        self._deliverer.wake()
        return word(200, "Thank you. Your address is confirmed.")

    async def file(self, request: Request) -> Response:
        """Hand out a promised file while its link is good."""
        live = self._live()
        file, seal = request.path_params["file"], request.path_params["seal"]
        name, place = live.files.get(file, ("", "")) if live else ("", "")
        if not self._seals.holds(seal, now_ms(), "file", file) or not place:
            return word(410, "This link no longer works. Please ask for the file again.")
        path = self._project / place
        if not path.is_file():
            return word(404, "The file is no longer there. Please tell us.")
        return FileResponse(path, filename=name)

    # Robots

    def _is_trial(self, form: Form, sent: Mapping[str, str]) -> bool:
        return self._seals.holds(sent.get("_trial", ""), now_ms(), "trial", form.id)

    def _worked(self, sent: Mapping[str, str]) -> bool:
        work = sent.get("_work", "")
        return (self._seals.holds(work, now_ms(), "work", _key_of(sent))
                and proof_holds(work, sent.get("_proof", "")))

    def _ask_for_work(self, quiet: bool, request: Request, sent: Mapping[str, str]) -> Response:
        again = dict(sent) | {"_key": _key_of(sent) or secrets.token_hex(16)}
        work = self._seals.seal("work", now_ms() + _WORK_MS, again["_key"])
        if quiet:
            return JSONResponse({"work": work, "bits": WORK_BITS,
                                 "words": "Your browser proves that it is no robot."}, 428)
        return work_page(request.url.path, again, work, WORK_BITS, runtime_script(("work",)))

    def _signs(self, request: Request, form: Form, posted: _Posted, checked: Checked,
               ) -> tuple[Sign, ...]:
        return robot_signs(self._evidence(request, form, posted, checked, self._ranges.count(
            _address(request), now_ms())))

    def _signs_of_part(self, request: Request, form: Form, posted: _Posted, checked: Checked,
                       ) -> bool:
        return form.check_robots and is_robot(robot_signs(
            self._evidence(request, form, posted, checked, 0)))

    def _evidence(self, request: Request, form: Form, posted: _Posted, checked: Checked,
                  from_range: int) -> Evidence:
        typed = [checked.answers[f.id] for f in form.fields
                 if f.role in _TYPED and f.id in checked.answers]
        return Evidence(sent=posted.sent, texts=typed, headers=request.headers,
                        filling_ms=self._filling_ms(form, posted.sent),
                        known_visitor=VISITOR_COOKIE in request.cookies, from_range=from_range)

    def _filling_ms(self, form: Form, sent: Mapping[str, str]) -> int | None:
        seal = sent.get("_token", "")
        if not seal:
            return None
        began = self._seals.moment(seal, "filling", form.id, _key_of(sent))
        if began is not None and began > now_ms() + 1000:
            return None  # The clock was set back meanwhile, so nothing is known.
        return -1 if began is None or now_ms() - began > _SEAL_MS else max(0, now_ms() - began)

    # Storing

    def _file(self, key: str, form: Form, files: Mapping[str, SentFile],
              ) -> list[tuple[str, str, str]]:
        """Write what was sent along; a path holds nothing that the visitor chose."""
        kept = []
        for field in form.fields:
            if field.role is Role.FILE and field.id in files:
                name = tidy_name(files[field.id].name)
                path = f"attachments/{key}-{field.id}.{name.rsplit('.', 1)[-1].lower()}"
                write_atomically(self._project / path, files[field.id].data, 0o600)
                kept.append((field.id, name, path))
        return kept

    def _new_lead(self, request: Request, live: Live, form: Form, sent: Mapping[str, str],
                  checked: Checked, key: str, signs: Sequence[Sign],
                  files: Sequence[tuple[str, str, str]], trial: bool) -> NewLead:
        page = live.page(sent.get("_page", ""))
        email = form.with_role(Role.EMAIL)
        host = request.headers.get("host", "")
        source, _ = source_of(sent.get("_query", ""), sent.get("_referrer", ""), host)
        variant = _variant(page, sent.get("_variant", ""))
        answers = dict(checked.answers)
        for field in form.fields:  # What the host knows better than the page says.
            if field.source == ":page" and page:
                answers[field.id] = page.name
            elif field.source == ":variant":
                answers[field.id] = variant
        return NewLead(
            key=key, at_ms=now_ms(), visitor=visitor_id(request.cookies.get(VISITOR_COOKIE)),
            form=form.id, form_name=form.name, page=page.id if page else "", variant=variant,
            email=answers.get(email.id, "") if email else "", answers=_answers(form, answers),
            signs=[str(sign) for sign in signs], robot=is_robot(signs), source=source,
            routes=[route.id for route in form.routes],
            first=[name for name, there in ((CONFIRM, form.confirmation), (LETTER, form.letter))
                   if there], held=form.confirmation is not None, files=files, trial=trial)


def _answers(form: Form, answers: Mapping[str, str]) -> list[tuple[str, str, str]]:
    return [(f.id, f.label, answers[f.id]) for f in form.fields if answers.get(f.id)]


def _form(live: Live | None, request: Request) -> Form | None:
    asked = request.path_params["form"]
    return next((form for form in live.forms if form.id == asked), None) if live else None


def _variant(page: LivePage | None, told: str) -> str:
    keys = [variant.key for variant in page.variants] if page else []
    return told if told in keys else (keys[0] if keys else "")


def _good_key(key: str) -> bool:
    return 16 <= len(key) <= 64 and key.isascii() and key.isalnum()


def _key_of(sent: Mapping[str, str]) -> str:
    key = sent.get("_key", "")
    return key if _good_key(key) else ""


def _address(request: Request) -> str:
    """Return where a visitor is: the host listens on this machine, so a proxy may stand before."""
    told = request.headers.get("x-forwarded-for", "").rsplit(",", 1)[-1].strip()
    return told or (request.client.host if request.client else "")


async def _posted(request: Request, form: Form) -> _Posted:
    """Return the fields of a posted form, or what is wrong with it."""
    posted = _Posted()
    kind = request.headers.get("content-type", "").partition(";")[0].strip()
    takes_files = any(field.role is Role.FILE for field in form.fields)
    if kind == "multipart/form-data" and takes_files:
        await _read_parts(request, posted)
    elif kind == "application/x-www-form-urlencoded":
        await _read_fields(request, posted)
    else:
        posted.fault = "This form was sent in a way that it does not understand."
    return posted


async def _body(request: Request, longest: int) -> bytes | None:
    parts, size = [], 0
    async for chunk in request.stream():
        parts.append(chunk)
        size += len(chunk)
        if size > longest:
            return None
    return b"".join(parts)


async def _read_fields(request: Request, posted: _Posted) -> None:
    body = await _body(request, _LONGEST_BODY)
    if body is None:
        posted.fault = "This is more than the form can take. Please send less."
        return
    try:
        fields = parse_qs(body.decode("ascii"), keep_blank_values=True, max_num_fields=200,
                          encoding="utf-8", errors="strict")
    except (UnicodeDecodeError, ValueError):
        posted.fault = ("The answers are not in UTF-8. Please send them again from the page "
                        "itself.")
        return
    posted.many = fields
    posted.sent = {name: values[0] for name, values in fields.items()}


async def _read_parts(request: Request, posted: _Posted) -> None:
    body = await _body(request, _LONGEST_WITH_FILES)
    if body is None:
        posted.fault = (f"This is more than the form can take. A file has at most "
                        f"{LARGEST_KB} kB.")
        return

    async def stream():  # type: ignore[no-untyped-def]
        yield body

    parser = MultiPartParser(Headers(raw=request.headers.raw), stream(), max_files=20,
                             max_fields=200, max_part_size=_LONGEST_BODY)
    try:
        parts = (await parser.parse()).multi_items()
    except (MultiPartException, FormParserError, UnicodeDecodeError, KeyError):
        posted.fault = "The answers came broken. Please send them again from the page itself."
        return
    for name, value in parts:
        if isinstance(value, UploadFile):
            if value.filename:
                posted.files.setdefault(name, SentFile(value.filename, await value.read()))
            await value.close()
        else:
            posted.many.setdefault(name, []).append(value)
            posted.sent.setdefault(name, value)


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
    return RedirectResponse(go, 303) if go else word(200, words)
