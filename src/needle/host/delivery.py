"""Taking deliveries from the outbox to where they go."""

import asyncio
import json
import smtplib
from collections.abc import Callable, Mapping
from email.message import EmailMessage
from pathlib import Path
from typing import Any
from urllib.parse import quote

import anyio.to_thread
import httpx
from sqlalchemy import Engine, select

from needle.core.brand.mail import mail_html
from needle.core.site.form import Form, ListRoute, NoticeRoute
from needle.core.site.site import Service
from needle.publish.live import Live
from needle.services.access import list_access, mail_access
from needle.store.results.deliveries import Due, Outcome, record, take_due
from needle.store.results.tables import leads

__all__ = ["Deliverer"]

_TIMEOUT_S = 5.0
_IDLE_S = 0.5


class Deliverer:
    """Works the outbox of one project until it is cancelled."""

    def __init__(self, project: Path, engine: Engine, live: Callable[[], Live | None],
                 now_ms: Callable[[], int]) -> None:
        self._project = project
        self._engine = engine
        self._live = live
        self._now_ms = now_ms
        self._wake = asyncio.Event()

    def wake(self) -> None:
        """Look into the outbox at once."""
        self._wake.set()

    async def run(self) -> None:
        """Deliver what is due, then wait for a lead or a short while."""
        async with httpx.AsyncClient(timeout=_TIMEOUT_S, trust_env=False) as client:
            while True:
                self._wake.clear()
                batch = await anyio.to_thread.run_sync(take_due, self._engine, self._now_ms())
                await asyncio.gather(*(self._deliver(due, client) for due in batch))
                if not batch:
                    try:
                        await asyncio.wait_for(self._wake.wait(), _IDLE_S)
                    except TimeoutError:
                        continue

    async def _deliver(self, due: Due, client: httpx.AsyncClient) -> None:
        try:
            outcome = await self._try(due, client)
        except Exception as error:  # One delivery that fails must not stop the others.
            outcome = Outcome("waiting", f"failed: {type(error).__name__}: {error}")
        await anyio.to_thread.run_sync(record, self._engine, due, outcome, self._now_ms())

    async def _try(self, due: Due, client: httpx.AsyncClient) -> Outcome:
        live = self._live()
        lead = await anyio.to_thread.run_sync(self._lead, due.lead)
        form = next((f for f in live.forms if f.id == lead.form), None) if live else None
        route = next((r for r in form.routes if r.id == due.route), None) if form else None
        if live is None or form is None or route is None:
            return Outcome("refused", "the thread was cut before it was sent")
        service = next((s for s in live.services if s.id == route.service), None)
        if service is None:
            return Outcome("waiting", "the service is no longer set up")
        answers = {field: answer for field, _, answer in json.loads(lead.answers)}
        if isinstance(route, ListRoute):
            return await self._to_list(route, service, due, answers, form, client)
        return await anyio.to_thread.run_sync(self._notify, route, service, due, lead, live)

    def _lead(self, number: int) -> Any:
        with self._engine.connect() as connection:
            return connection.execute(select(leads).where(leads.c.id == number)).one()

    async def _to_list(self, route: ListRoute, service: Service, due: Due,
                       answers: Mapping[str, str], form: Form, client: httpx.AsyncClient,
                       ) -> Outcome:
        access = list_access(self._project, service)
        if access is None:
            return Outcome("waiting", f"{service.name} has no address yet")
        url, key = access
        fields = {name: answers[field] for field, name in route.fields.items()
                  if field in answers}
        email = fields.get("EMAIL") or next(
            (answers[f.id] for f in form.fields if f.role == "email" and f.id in answers), "")
        if not email:
            return Outcome("refused", f"{service.name} needs an e-mail address; "
                                      "this lead has none")
        path = f"{url}/lists/{quote(route.list_key, safe='')}/members/{quote(email, safe='')}"
        try:
            answer = await client.put(path, json={"fields": fields}, headers={
                "Authorization": f"Bearer {key}", "Idempotency-Key": due.key})
        except httpx.TimeoutException:
            return Outcome("waiting", f"{service.name} did not answer within {_TIMEOUT_S:g} s")
        except httpx.HTTPError:
            return Outcome("waiting", f"{service.name} cannot be reached")
        return _read_answer(service.name, answer)

    def _notify(self, route: NoticeRoute, service: Service, due: Due, lead: Any, live: Live,
                ) -> Outcome:
        access = mail_access(self._project, service)
        if access is None:
            return Outcome("waiting", f"{service.name} has no address yet")
        try:
            with smtplib.SMTP(*access, timeout=_TIMEOUT_S) as smtp:
                smtp.send_message(_notice(route.to, due.key, lead, live))
        except (smtplib.SMTPException, OSError) as error:
            code = getattr(error, "smtp_code", None)
            said = f"answered {code}" if code else "cannot be reached"
            return Outcome("waiting", f"{service.name} {said}")
        return Outcome("done", "notice delivered")


def _read_answer(name: str, answer: httpx.Response) -> Outcome:
    if answer.status_code in (401, 403):
        return Outcome("waiting", f"{name} refused the key ({answer.status_code})")
    if answer.status_code not in (200, 201):
        return Outcome("waiting", f"{name} answered {answer.status_code}")
    try:
        result = answer.json()["result"]
    except (ValueError, KeyError, TypeError):
        return Outcome("waiting", f"{name} answered something that is not its protocol")
    return Outcome("done", f"{name} {'has it' if result == 'repeated' else result}")


def _notice(to: str, key: str, lead: Any, live: Live) -> EmailMessage:
    message = EmailMessage()
    message["From"] = "needle@localhost"
    message["To"] = " ".join(to.split())
    message["Subject"] = " ".join(f"New lead from {lead.form_name}: {lead.email}".split())[:180]
    message["Message-ID"] = f"<{key}@needle.localhost>"
    rows = [("Form", str(lead.form_name)),
            *((str(label), str(answer)) for _, label, answer in json.loads(lead.answers)),
            ("Came from", str(lead.source or "direct"))]
    message.set_content("\n".join(f"{label}: {words}" for label, words in rows) + "\n")
    message.add_alternative(mail_html(live.name, live.colours, f"New lead from {lead.form_name}",
                                      rows), subtype="html")
    return message
