"""Taking deliveries from the outbox to where they go."""

import asyncio
import contextlib
import json
import random
import time
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

import anyio.to_thread
from sqlalchemy import Engine, select

from needle.core.site.site import Service
from needle.core.values.form import FieldRoute, Form, NoticeRoute, Role
from needle.core.values.ids import Id
from needle.host.letters import account_letter, confirmation_letter, notice_letter, promised_letter
from needle.host.orderpaths import OrderPaths
from needle.publish.release import Live
from needle.services.adapter import Adapter, Parcel, ServiceError
from needle.services.registry import adapter_for
from needle.store.results.deliveries import Due, Outcome, pause_ms, record, take_due
from needle.store.results.tables import leads
from needle.store.results.taking import ORDER
from needle.store.seals import Seals

__all__ = ["CONFIRM", "LETTER", "Deliverer"]

# The threads that every form has, whatever its routes are.
LETTER, CONFIRM, ACCOUNT = "letter", "confirm", "orders"
_IDLE_S = 0.5
_MOST = 64
_MOST_A_SERVICE = 12
_ADAPTERS_KEPT_S = 5.0


@dataclass
class _Trouble:
    """A service that fails: it is left in peace, then tried with one delivery at a time.

    Attributes:
        until: On the monotonic clock.
        probing: One delivery is on its way to see whether it is back.
    """

    fails: int = 0
    until: float = 0.0
    probing: bool = False


@dataclass(frozen=True)
class _Job:
    """A delivery, and all it takes to make it."""

    due: Due
    service: Service
    adapter: Adapter
    parcel: Parcel


class Deliverer:
    """Works the outbox of one project until it is cancelled.

    A fault of the database ends `run`; whoever supervises it begins it again, and nothing that has
    come back meanwhile is lost.
    """

    def __init__(self, project: Path, engine: Engine, live: Callable[[], Live | None],
                 seals: Seals, now_ms: Callable[[], int]) -> None:
        self._project = project
        self._engine = engine
        self._live = live
        self._seals = seals
        self._paths = OrderPaths(project, seals)
        self._now_ms = now_ms
        self._wake = asyncio.Event()
        self._under_way: set[asyncio.Task[None]] = set()
        self._given: list[tuple[Due, Outcome]] = []
        self._trouble: dict[Id, _Trouble] = {}
        self._busy: dict[Id, int] = {}
        self._adapters: dict[Id, tuple[float, Service, Adapter | None]] = {}

    def wake(self) -> None:
        """Look into the outbox at once."""
        self._wake.set()

    async def run(self) -> None:
        """Deliver what is due, then wait for a lead, an answer or a short while."""
        try:
            while True:
                self._wake.clear()
                await self._record()
                room = _MOST - len(self._under_way)
                batch = await anyio.to_thread.run_sync(
                    take_due, self._engine, self._now_ms(), room, self._resting()) if room else []
                for due in batch:
                    task = asyncio.create_task(self._deliver(due))
                    self._under_way.add(task)
                    task.add_done_callback(self._under_way.discard)
                if not batch:
                    with contextlib.suppress(TimeoutError):
                        await asyncio.wait_for(self._wake.wait(), _IDLE_S)
        except asyncio.CancelledError:
            # Only at the end: after a fault of the database, what is under way goes on, and what
            # comes back is recorded once this is begun again.
            for task in self._under_way:
                task.cancel()
            raise

    def _resting(self) -> list[Id]:
        """Return the threads whose service is left in peace, or has enough to do, just now."""
        live = self._live()
        now = time.monotonic()
        full = {service for service, count in self._busy.items() if count >= _MOST_A_SERVICE}
        full |= {service for service, trouble in self._trouble.items()
                 if trouble.fails and (trouble.probing or trouble.until > now)}
        if live is None or not full:
            return []
        return [route.id for form in live.every_form() for route in form.routes
                if route.service in full]

    async def _record(self) -> None:
        """Store what has come back, all of it in one transaction."""
        if not self._given:
            return
        given, self._given = self._given, []
        try:
            await anyio.to_thread.run_sync(record, self._engine, given, self._now_ms())
        except BaseException:
            self._given = [*given, *self._given]
            raise

    async def _deliver(self, due: Due) -> None:
        try:
            job = await anyio.to_thread.run_sync(self._job, due)
            outcome = job if isinstance(job, Outcome) else await self._hand_over(job)
        except Exception as error:  # One delivery that fails must not stop the others.
            outcome = Outcome("waiting", f"failed: {type(error).__name__}: {error}")
        self._given.append((due, outcome))
        self.wake()

    async def _hand_over(self, job: _Job) -> Outcome:
        service = job.service.id
        trouble = self._trouble.setdefault(service, _Trouble())
        if trouble.fails and (trouble.probing or trouble.until > time.monotonic()):
            return Outcome("waiting", f"waits until {job.service.name} is back")
        trouble.probing = bool(trouble.fails)
        self._busy[service] = self._busy.get(service, 0) + 1
        try:
            outcome = await anyio.to_thread.run_sync(_handed_over, job)
        finally:
            self._busy[service] -= 1
            trouble.probing = False
        if outcome.service_down:
            trouble.until = time.monotonic() + pause_ms(trouble.fails, random.random()) / 1000
            trouble.fails += 1
        else:
            trouble.fails = 0
        return outcome

    # What a delivery takes

    def _job(self, due: Due) -> _Job | Outcome:
        live = self._live()
        lead = self._lead(due.lead)
        if lead is None:
            return Outcome("refused", "the lead was erased before it was sent")
        form = live.form(lead.form, lead.page) if live else None
        if live is None or form is None:
            return Outcome("refused", "the form is no longer live")
        named = self._service_of(due.route, form, live)
        if named is None:
            return Outcome("refused", "the thread was cut before it was sent")
        service = next((s for s in live.services if s.id == named), None)
        if service is None:
            return Outcome("waiting", "the service is no longer set up")
        adapter = self._adapter(service)
        if adapter is None:
            return Outcome("waiting", f"{service.name} has no address yet")
        parcel = self._parcel(due, lead, form, live, service)
        return parcel if isinstance(parcel, Outcome) else _Job(due, service, adapter, parcel)

    def _service_of(self, route: Id, form: Form, live: Live) -> Id | None:
        if route in (LETTER, ACCOUNT):
            return form.letter.service if form.letter else None
        if route == CONFIRM:
            return form.confirmation.service if form.confirmation else None
        found = next((one for one in form.routes if one.id == route), None)
        return found.service if found else None

    def _lead(self, number: int) -> Any:
        with self._engine.connect() as connection:
            return connection.execute(select(leads).where(leads.c.id == number)).first()

    def _adapter(self, service: Service) -> Adapter | None:
        """Return a service's client; keys and addresses are read again every few seconds."""
        made, known, adapter = self._adapters.get(service.id, (0.0, None, None))
        if known != service or time.monotonic() - made > _ADAPTERS_KEPT_S:
            adapter = adapter_for(self._project, service)
            self._adapters[service.id] = (time.monotonic(), service, adapter)
        return adapter

    def _parcel(self, due: Due, lead: Any, form: Form, live: Live, service: Service,
                ) -> Parcel | Outcome:
        answers = {field: answer for field, _, answer in json.loads(lead.answers)}
        email = form.with_role(Role.EMAIL)
        to = answers.get(email.id, "") if email else ""
        sender = service.options.get("sender", "")
        if due.route in (LETTER, CONFIRM, ACCOUNT):
            return self._to_visitor(due, lead, form, live, to, sender)
        route = next(one for one in form.routes if one.id == due.route)
        facts = _facts(lead, live)
        if isinstance(route, NoticeRoute):
            rows = [("Form", str(lead.form_name)),
                    *((str(label), str(answer)) for _, label, answer in json.loads(lead.answers)),
                    ("Came from", str(lead.source or "direct"))]
            return Parcel(due.key, facts=facts, letter=notice_letter(
                route.to, due.key, lead.form_name, lead.email, rows, live, sender))
        return Parcel(due.key, route.target, _values(route, answers), facts)

    def _to_visitor(self, due: Due, lead: Any, form: Form, live: Live, to: str, sender: str,
                    ) -> Parcel | Outcome:
        if not to:
            return Outcome("refused", "this lead has no e-mail address")
        if due.route == CONFIRM and form.confirmation:
            seal = self._seals.seal("confirm", lead.at + 30 * 86_400_000, lead.key)
            link = self._paths.whole(live, f"_needle/confirm/{lead.key}/{seal}")
            return Parcel(due.key, letter=confirmation_letter(
                form.confirmation, to, due.key, live, sender, link))
        if due.route == ACCOUNT:
            link = self._paths.whole(live, self._paths.all_of(lead.key))
            return Parcel(due.key, letter=account_letter(to, due.key, live, sender, link))
        assert form.letter is not None
        until = lead.at + form.letter.days * 86_400_000
        seal = self._seals.seal("file", until, form.letter.file)
        link = self._paths.whole(live, f"_needle/file/{form.letter.file}/{seal}")
        ordered, look = self._ordered(lead, live)
        try:
            letter = promised_letter(form.letter, to, due.key, live, sender, link, self._project,
                                     ordered, look)
        except OSError as error:
            return Outcome("waiting", f"the promised file cannot be read: {error.strerror}")
        return Parcel(due.key, letter=letter)

    def _ordered(self, lead: Any, live: Live) -> tuple[list[tuple[str, str]], str]:
        """Return what was ordered with a lead, as labels and words, and where that is looked up;
        nothing for a lead without an order."""
        told = [(str(label), str(words)) for field, label, words in json.loads(lead.answers)
                if field == ORDER]
        return told, self._paths.whole(
            live, self._paths.shown(lead.key, lead.at)) if told else ""


def _handed_over(job: _Job) -> Outcome:
    try:
        receipt = job.adapter.deliver(job.parcel)
    except ServiceError as error:
        state = "refused" if error.final else "waiting"
        return Outcome(state, str(error), error.request, error.answer, error.down)
    words = "notice delivered" if job.parcel.letter is not None else receipt.words
    return Outcome("done", words, receipt.request, receipt.answer)


def _values(route: FieldRoute, answers: Mapping[Id, str]) -> dict[str, str]:
    return {key: answers[field] for key, field in route.fields.items() if field in answers}


def _facts(lead: Any, live: Live) -> dict[str, str]:
    page = live.page(lead.page)
    when = datetime.fromtimestamp(lead.at / 1000, UTC).isoformat(timespec="seconds")
    return {"form": lead.form_name, "page": page.name if page else "", "variant": lead.variant,
            "source": lead.source, "when": when}
