"""Practice visitors on their way through a live site, over HTTP as a browser would go."""

import asyncio
import random
import re
from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass, field
from typing import Any

import httpx
from lxml import html

from needle.core.measure.events import EventKind
from needle.core.values.form import Form, FormField, Role, ThankPage
from needle.crowd.ledger import Ledger
from needle.crowd.people import AGENTS, Crowd, Person
from needle.publish.release import Live, LivePage

__all__ = ["Walkers"]

_AT_ONCE = 24
_TRIES = 40
# A host ends connections that rest for five seconds. One that has rested for longer than this is
# used no more, so that nothing is asked on one that is just being ended.
_RESTS_S = 1.5
_SAFE = re.compile(r"[A-Za-z0-9_-]{1,16}")


@dataclass(frozen=True, slots=True)
class _Shown:
    """A page as it came.

    Attributes:
        form: The form that can be filled in; `None` if there is none.
        popup: The popup that it stands in; empty if it stands on the page itself.
    """

    page: LivePage
    variant: str
    form: Form | None
    popup: str


@dataclass(slots=True)
class Walkers:
    """Sends people to a host and notes what it took.

    Attributes:
        hosts: The addresses of its hosts, without a slash at the end; people are spread over them.
        name: The name under which the site is asked for, with its port.
        seal: What marks what they do as practice.
        told: Called after each person with how many have been there.
    """

    hosts: Sequence[str]
    name: str
    live: Live
    crowd: Crowd
    seal: str
    told: Callable[[int], None] = lambda _: None
    ledger: Ledger = field(default_factory=Ledger)
    _stopped: bool = False
    _done: int = 0

    def stop(self) -> None:
        """Let those who are on their way come to their end, and send no more."""
        self._stopped = True

    def run(self, people: Iterable[Person]) -> Ledger:
        """Send all people; return the ledger."""
        asyncio.run(self._run(people))
        return self.ledger

    async def _run(self, people: Iterable[Person]) -> None:
        waiting = iter(people)
        async with asyncio.TaskGroup() as group:
            for _ in range(_AT_ONCE):
                group.create_task(self._send(waiting))

    async def _send(self, waiting: Iterator[Person]) -> None:
        """Send one person after another, over one connection: to make one for each costs more
        than all that the person does."""
        limits = httpx.Limits(keepalive_expiry=_RESTS_S)
        async with httpx.AsyncHTTPTransport(verify=False, limits=limits) as transport:
            for person in waiting:
                if self._stopped:
                    return
                await self._go(person, transport)
                self._done += 1
                self.told(self._done)

    async def _go(self, person: Person, transport: httpx.AsyncHTTPTransport) -> None:
        headers = {"Host": self.name, "User-Agent": AGENTS[person.device],
                   "X-Needle-Practice": self.seal,
                   "X-Needle-Who": f"{self.crowd.seed}-{person.number}",
                   "Accept-Language": "en-GB,en;q=0.8"}
        client = httpx.AsyncClient(headers=headers, timeout=30, transport=transport)
        walk = _Walk(self, person, client, self.hosts[person.number % len(self.hosts)])
        for moment in person.visits:
            await walk.visit(moment)

    def entrances(self) -> list[LivePage]:
        """Return the pages that people come to: those with a form first, and more often."""
        thanks = {form.after.page for page in self.live.pages for form in page.forms
                  if isinstance(form.after, ThankPage)}
        pages = [page for page in self.live.pages
                 if not page.unlisted and page.id not in thanks] or list(self.live.pages)
        asking = [page for page in pages if page.forms]
        return [*asking, *asking, *pages]


@dataclass(slots=True)
class _Walk:
    """One person with their browser."""

    of: Walkers
    person: Person
    client: httpx.AsyncClient
    address: str
    at_ms: int = 0
    draw: random.Random = field(init=False)
    path: str = ""
    shown_ms: int = 0
    token: str = ""
    key: str = ""

    def __post_init__(self) -> None:
        self.draw = random.Random(self.person.seed)

    async def visit(self, moment: int) -> None:
        """Come, look, and perhaps send a form."""
        self.at_ms, self.path = moment, ""
        page = self.draw.choice(self.of.entrances())
        source = self.person.source
        query = f"?utm_source={source}" if source else ""
        shown = await self._open(page, query)
        if shown is None:
            return
        kind = EventKind.ROBOT if self.person.robot else EventKind.VISIT
        if not await self._tell("visit", shown, kind, {"query": query}):
            return
        if not self.person.robot:
            if shown.form is not None:
                await self._consider(shown, shown.form)
            self.of.ledger.note_way(source, self.person.device, self.path)

    async def _open(self, page: LivePage, query: str) -> _Shown | None:
        answer = await self._ask("GET", f"/{page.slug}{query}")
        self.shown_ms = self.at_ms
        if answer is None or answer.status_code != 200:
            return None
        tree = html.fromstring(answer.content)
        body = tree if tree.tag == "body" else tree.find("body")
        variant = (body.get("data-variant") or "") if body is not None else ""
        for found in tree.iter("form"):
            form = next((form for form in page.forms if form.id == found.get("data-form")), None)
            if form is not None:
                around = next((one.get("id", "") for one in found.iterancestors("dialog")), "")
                popup = around.removeprefix("p-")
                return _Shown(page, variant, form, popup if _SAFE.fullmatch(popup) else "")
        return _Shown(page, variant, None, "")

    async def _consider(self, shown: _Shown, form: Form) -> None:
        """Open the popup or not, begin the form or not, send it or not: as often as is true."""
        rate, crowd = self.of.crowd.rate_of(shown.variant), self.of.crowd
        opens = max(crowd.opens, rate) if shown.popup else 1.0
        if self.draw.random() >= opens:
            return
        if shown.popup and not await self._did(shown, EventKind.POPUP, shown.popup):
            return
        begins = max(crowd.begins, rate / opens)
        if self.draw.random() >= begins or not await self._did(shown, EventKind.OPEN, form.id):
            return
        self.key = f"{self.draw.getrandbits(128):032x}"
        answer = await self._ask("GET", f"/_needle/token/{form.id}?key={self.key}")
        self.token = answer.json()["token"] if answer and answer.status_code == 200 else ""
        await self._fill_in(shown, form, self.draw.random() < rate / opens / begins)

    async def _fill_in(self, shown: _Shown, form: Form, sends: bool) -> None:
        asked = [one for one in form.fields if one.role is not Role.HIDDEN]
        last = len(asked) if sends else self.draw.randrange(1, len(asked) + 1)
        steps = {step.id: number for number, step in enumerate(form.steps, 1)}
        at = 1
        for one in asked[:last]:
            number = steps.get(one.step, 1)
            if number > at:
                at = number
                await self._did(shown, EventKind.STEP, form.id, number)
            await self._did(shown, EventKind.FIELD, f"{form.id}.{one.id}",
                            int(self.draw.gammavariate(4, 1200)))
        if sends:
            await self._send(shown, form)
        else:
            await self._did(shown, EventKind.STOP, f"{form.id}.{asked[last - 1].id}")

    async def _send(self, shown: _Shown, form: Form) -> None:
        answers = {one.id: _answer(one, self.person) for one in form.fields}
        sent = {**{name: words for name, words in answers.items() if words},
                "_page": shown.page.id, "_variant": shown.variant,
                "_key": self.key, "_token": self.token, "_took": str(self.at_ms - self.shown_ms),
                "_felt": "40,9,0", "_referrer": "", "_query": ""}
        answer = await self._ask("POST", f"/_needle/lead/{form.id}", data=sent, headers={
            "Accept": "application/json", "Origin": f"http://{self.of.name}"})
        if answer is not None and answer.status_code == 200:
            self._note(shown, EventKind.LEAD, form.id)

    # What is told and what was taken

    async def _did(self, shown: _Shown, kind: EventKind, what: str, amount: int = 0) -> bool:
        return await self._tell("events", shown, kind, {"told": [[kind, what, amount]]}, what,
                                amount)

    async def _tell(self, where: str, shown: _Shown, kind: EventKind, more: dict[str, Any],
                    what: str = "", amount: int = 0) -> bool:
        answer = await self._ask("POST", f"/_needle/{where}", json={
            "page": shown.page.id, "variant": shown.variant, **more})
        if answer is None or answer.status_code >= 300:
            return False
        self._note(shown, kind, what, amount)
        return True

    def _note(self, shown: _Shown, kind: EventKind, what: str, amount: int = 0) -> None:
        page, variant = shown.page.id, shown.variant
        self.of.ledger.note(self.person.number, kind, page, variant, what)
        if kind is not EventKind.ROBOT:
            self.path = Ledger.path(self.path, kind, page, variant, what, amount)

    async def _ask(self, method: str, path: str, headers: dict[str, str] | None = None,
                   **more: Any) -> httpx.Response | None:
        """Ask the host, some seconds after what was done last; `None` if it does not answer.

        A host that is not reached is asked again a few times; one that was reached and did not
        answer is not, since it may have counted.
        """
        self.at_ms += self.draw.randrange(800, 9000)
        told = {"X-Needle-At": str(self.at_ms), **(headers or {})}
        for _ in range(_TRIES):
            try:
                answer = await self.client.request(method, self.address + path, headers=told,
                                                   **more)
            except httpx.ConnectError:
                await asyncio.sleep(0.25)
                continue
            except httpx.HTTPError as error:
                self.of.ledger.failed[type(error).__name__] += 1
                return None
            if answer.status_code >= 300:
                self.of.ledger.failed[str(answer.status_code)] += 1
            return answer
        self.of.ledger.failed["not reached"] += 1
        return None


def _answer(one: FormField, person: Person) -> str:
    """Return what somebody writes into a field."""
    match one.role:
        case Role.EMAIL:
            return f"visitor{person.number}@practice.example"
        case Role.PHONE:
            return "+44 20 7946 0018"
        case Role.CHOICE | Role.CHOICES:
            return one.choices[person.number % len(one.choices)] if one.choices else ""
        case Role.NUMBER:
            return "2"
        case Role.DATE:
            return "2027-03-14"
        case Role.CONSENT:
            return "yes"
        case Role.FILE | Role.HIDDEN:
            return ""
    return f"{one.label or one.id} {person.number}"
