"""Taking forms: leads, and parts of leads."""

import logging
import secrets
from collections.abc import Callable, Mapping, Sequence
from pathlib import Path

import anyio.to_thread
from sqlalchemy import Engine
from starlette.requests import Request
from starlette.responses import JSONResponse, RedirectResponse, Response
from starlette.routing import Route

from needle.core.leads.checking import Checked, check_answers
from needle.core.leads.robots import Sign, is_robot
from needle.core.markup.markup import safe_address
from needle.core.messages.message import say
from needle.core.values.form import Form, Role, ShowMessage, ThankAddress, ThankPage
from needle.core.values.ids import Id
from needle.core.values.language import ENGLISH, Language
from needle.host.answers import said, word
from needle.host.attaching import KeptFiles, drop_files, keep_files
from needle.host.carts import CartDesk, Ordered
from needle.host.clock import now_ms
from needle.host.delivery import CONFIRM, LETTER, Deliverer
from needle.host.judging import Judge, good_key, key_of
from needle.host.keeping import Keeper, NotKeptError
from needle.host.orderpaths import OrderPaths
from needle.host.postbody import Posted, read_post
from needle.host.practised import mark_of, moment_of
from needle.host.ranges import Ranges
from needle.host.recognising import Known, Recogniser
from needle.host.returning import FormReturn
from needle.host.visitors import address_of, outside_of, source_of
from needle.publish.release import Live, LivePage
from needle.store.results.taking import (
    ORDER,
    Kept,
    NewLead,
    Unfinished,
    take_leads,
    take_unfinished,
)
from needle.store.seals import Seals

__all__ = ["FormDesk"]

_log = logging.getLogger(__name__)
# So many letters in ten minutes a range of addresses, and one visitor, may ask for.
_LETTERS_A_RANGE = 30
_LETTERS_A_VISITOR = 6


class FormDesk:
    """The part of the host that visitors' forms are sent to."""

    def __init__(self, project: Path, engine: Engine, live: Callable[[], Live | None], seals: Seals,
                 deliverer: Deliverer, known: Recogniser,
                 own_hosts: Callable[[], frozenset[str]], giving_back: FormReturn,
                 carts: CartDesk, paths: OrderPaths) -> None:
        self._project = project
        self._engine = engine
        self._live = live
        self._seals = seals
        self._deliverer = deliverer
        self._known = known
        self._own_hosts = own_hosts
        self._giving_back = giving_back
        self._carts, self._paths = carts, paths
        self._judge = Judge(seals)
        self._letters = Ranges()
        self.keeper = Keeper[NewLead, Kept]("leads", lambda fresh: take_leads(engine, fresh))

    def ranges(self) -> dict[str, Ranges]:
        """Return what is counted by range of addresses."""
        return {"letters": self._letters, "leads": self._judge.ranges()}

    def routes(self) -> list[Route]:
        """Return what is reached at which address."""
        return [Route("/_needle/lead/{form}", self.lead, methods=["POST"]),
                Route("/_needle/part/{form}", self.part, methods=["POST"]),
                Route("/_needle/token/{form}", self.token)]

    async def token(self, request: Request) -> Response:
        """Seal the moment at which somebody begins to fill a form in."""
        key = request.query_params.get("key", "")
        if not good_key(key):
            return said(True, 400, say("host-form-key"))
        form = request.path_params["form"]
        return JSONResponse({"token": self._seals.seal(
            "filling", moment_of(request, self._seals), form, key)},
                            headers={"Cache-Control": "no-store"})

    async def lead(self, request: Request) -> Response:
        """Take a lead: store it, then answer."""
        live = self._live()
        form = _form(live, request)
        quiet = "application/json" in request.headers.get("accept", "")
        if live is None or form is None:
            return said(quiet, 404, say("host-form-gone"), live.language if live else ENGLISH)
        posted = await read_post(request, form)
        if posted.fault:
            return said(quiet, 400, posted.fault, live.language)
        form = _form(live, request, posted.sent.get("_page", "")) or form
        checked = await anyio.to_thread.run_sync(
            lambda: check_answers(form, posted.sent, posted.many, posted.files,
                                  language=live.language))
        if checked.problems:
            page = None if quiet else await self._giving_back.answer(
                request, live, form, posted, checked)
            return page or said(quiet, 422, " ".join(checked.problems.values()), live.language,
                                fields=dict(checked.problems))
        trial = self._judge.is_trial(form, posted.sent)
        mark = mark_of(request, self._seals)
        # Trials and practice visitors have no cart, and take nothing from the shelf.
        ordered = None if trial or mark else await self._carts.ordered(request, live, form)
        if ordered is not None and ordered.trouble is not None:
            known = await self._carts.ordered_with(key_of(posted.sent))
            if known is None:
                return self._carts.refused(quiet, live, ordered.trouble)
            # The same filling again, whose answer got lost: its order stands.
            answer = self._thanked(quiet, form, live, key_of(posted.sent), known.open)
            self._carts.forget(request, answer)
            return answer
        if form.challenge and not trial and not mark and not self._judge.has_worked(posted.sent):
            return self._judge.ask_for_work(quiet, request, posted.sent, live.language)
        signs = () if trial else self._judge.signs(
            request, form, live.page(posted.sent.get("_page", "")), posted, checked,
            self._own_hosts(), whole=not mark)
        answer = await self._kept(request, quiet, live, form, posted, checked, signs, trial,
                                  ordered)
        if ordered is not None and answer.status_code < 400:
            self._carts.forget(request, answer)
        return answer

    async def _kept(self, request: Request, quiet: bool, live: Live, form: Form, posted: Posted,
                    checked: Checked, signs: Sequence[Sign], trial: bool,
                    ordered: Ordered | None) -> Response:
        key = key_of(posted.sent) or secrets.token_hex(16)
        files: KeptFiles = ()
        try:
            if posted.files:
                files = await anyio.to_thread.run_sync(keep_files, self._project, key, form,
                                                       posted.files)
            known = await self._known_of(request, live, posted.sent)
            kept = await self.keeper.keep(self._new_lead(request, known, live, form, posted.sent,
                                                         checked, key, signs, files, trial,
                                                         ordered))
        except (NotKeptError, OSError) as error:
            if isinstance(error, NotKeptError) and error.told:
                return self._carts.refused(quiet, live, error.message)
            # Files stay: the same may be kept already from a try before, and this try's are
            # named by their content.
            return _not_kept(quiet, error, live.language)
        drop_files(self._project, kept.strays)
        self._deliverer.wake()
        return self._thanked(quiet, form, live, key, ordered is not None
                             and ordered.order is not None and ordered.order.pay.kind == "service")

    def _thanked(self, quiet: bool, form: Form, live: Live, key: str, pays: bool) -> Response:
        """Thank for a lead; who orders something to be paid at once is led there instead."""
        if not pays:
            return _thanks(quiet, form, live)
        go = f"/{self._paths.paid(key, now_ms())}"
        return JSONResponse({"go": go}) if quiet else RedirectResponse(go, 303)

    async def part(self, request: Request) -> Response:
        """Keep the answers of somebody who may stop here."""
        live = self._live()
        form = _form(live, request)
        if live is None or form is None or not form.keep_unfinished:
            return said(True, 404, say("host-form-keeps-nothing"))
        posted = await read_post(request, form)
        key = key_of(posted.sent)
        if posted.fault or not key:
            return said(True, 400, posted.fault or say("host-form-key"))
        form = _form(live, request, posted.sent.get("_page", "")) or form
        # Only what could be taken is kept; what is missing still is not a fault here.
        checked = await anyio.to_thread.run_sync(check_answers, form, posted.sent, posted.many)
        ordered = await self._carts.ordered(request, live, form)  # A cart that may be left here.
        answers = [*_answers(form, checked.answers), *_order_answer(ordered, live)]
        page = live.page(posted.sent.get("_page", ""))
        signs = self._judge.signs(request, form, page, posted, checked, self._own_hosts(),
                                  whole=False)
        if answers and not is_robot(signs):
            fresh = Unfinished(
                key=key, at_ms=now_ms(), visitor=await self._known.visitor(request),
                form=form.id, form_name=form.name, page=page.id if page else "",
                variant=_variant(page, posted.sent.get("_variant", "")),
                email=_email(form, checked.answers), answers=answers,
                cart=self._carts.kept_by(request) if ordered is not None else "")
            await anyio.to_thread.run_sync(take_unfinished, self._engine, fresh)
        return Response(status_code=204)

    # Storing

    def _new_lead(self, request: Request, known: Known, live: Live, form: Form,
                  sent: Mapping[str, str], checked: Checked, key: str, signs: Sequence[Sign],
                  files: KeptFiles, trial: bool, ordered: Ordered | None) -> NewLead:
        page = live.page(sent.get("_page", ""))
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
            key=key, at_ms=moment_of(request, self._seals), visitor=known.visitor,
            aside=known.aside,
            form=form.id, form_name=form.name, page=page.id if page else "", variant=variant,
            email=_email(form, answers),
            answers=[*_answers(form, answers), *_order_answer(ordered, live)],
            order=ordered.order if ordered is not None else None,
            signs=[str(sign) for sign in signs], robot=is_robot(signs), source=source,
            routes=[route.id for route in form.routes],
            letters=self._letters_of(request, known, form),
            held=form.confirmation is not None, files=files, trial=trial,
            outside=outside_of(sent.get("_query", "")), mark=mark_of(request, self._seals))

    async def _known_of(self, request: Request, live: Live, sent: Mapping[str, str]) -> Known:
        """Return who sends; whoever cannot have been on the page is somebody all the same."""
        page = live.page(sent.get("_page", ""))
        told = await self._known.of_report(
            request, page, sent.get("_variant", ""), sent.get("_ticket", "")) if page else None
        return told or Known(await self._known.visitor(request))

    def _letters_of(self, request: Request, known: Known, form: Form) -> Mapping[str, str]:
        """Return the letters to the visitor, and the state in which each begins."""
        wanted = {}
        if form.confirmation:
            wanted[CONFIRM] = "waiting"
        if form.letter:
            wanted[LETTER] = "held" if form.confirmation else "waiting"
        if wanted and (
                self._letters.count(address_of(request), now_ms()) > _LETTERS_A_RANGE
                or self._letters.count(f"visitor {known.visitor}", now_ms()) > _LETTERS_A_VISITOR):
            _log.warning("very many letters were asked for from one place")
            return dict.fromkeys(wanted, "refused")
        return wanted


def _not_kept(quiet: bool, error: Exception, language: Language) -> Response:
    why = error.message if isinstance(error, NotKeptError) else say("lead-disk-full")
    answer = said(quiet, 507, why, language)
    answer.headers["Retry-After"] = "60"
    return answer


def _answers(form: Form, answers: Mapping[str, str]) -> list[tuple[str, str, str]]:
    return [(f.id, f.label, answers[f.id]) for f in form.fields if answers.get(f.id)]


def _order_answer(ordered: Ordered | None, live: Live) -> list[tuple[str, str, str]]:
    """Return what is ordered as an answer of its own, so that it stands wherever answers do."""
    if ordered is None or ordered.order is None:
        return []
    return [(ORDER, say("cart-order").in_language(live.language), ordered.words)]


def _email(form: Form, answers: Mapping[str, str]) -> str:
    field = form.with_role(Role.EMAIL)
    return answers.get(field.id, "") if field else ""


def _form(live: Live | None, request: Request, page: Id = "") -> Form | None:
    asked = request.path_params["form"]
    return live.form(asked, page) if live else None


def _variant(page: LivePage | None, told: str) -> str:
    keys = [variant.key for variant in page.variants] if page else []
    return told if told in keys else (keys[0] if keys else "")


def _thanks(quiet: bool, form: Form, live: Live) -> Response:
    after = form.after
    go = ""
    if isinstance(after, ThankPage):
        page = live.page(after.page)
        go = f"/{page.slug}" if page else ""
    elif isinstance(after, ThankAddress):
        go = safe_address(after.address)
    words = after.words if isinstance(after, ShowMessage) else say(
        "form-thanks").in_language(live.language)
    if quiet:
        return JSONResponse({"go": go} if go else {"words": words})
    return RedirectResponse(go, 303) if go else word(200, words, live.language)
