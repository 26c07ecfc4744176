"""The outbox: what still has to reach a service, and what became of it."""

import hashlib
import random
from collections.abc import Collection, Iterable, Sequence
from dataclasses import dataclass

from sqlalchemy import ColumnElement, Engine, exists, func, or_, select, update

from needle.core.leads.storable import storable
from needle.core.values.ids import Id
from needle.store.results.tables import leads, outbox

__all__ = [
    "GIVE_UP_MS",
    "LEASE_MS",
    "Behind",
    "Due",
    "Outcome",
    "Sent",
    "behind",
    "deliveries_of",
    "lane_of",
    "last_results",
    "pause_ms",
    "recent_deliveries",
    "record",
    "release_held",
    "resend",
    "retry_now",
    "take_due",
    "waiting_by_route",
]

# Longer than any try takes, and short enough that a killed host is not missed for long.
LEASE_MS = 12_000
# A service that is away for longer than this needs a person.
GIVE_UP_MS = 5 * 86_400_000
_EARLY_PAUSE_MS = 30_000
_EARLY_TRIES = 40
_LONGEST_PAUSE_MS = 3_600_000
_JITTER = 0.2


@dataclass(frozen=True, slots=True)
class Outcome:
    """What one try gave.

    Attributes:
        state: "done", "waiting" (try again) or "refused" (never by itself).
        words: What happened, for the person.
        request: What was sent, without keys.
        answer: What came back.
        service_down: The fault is the service's, not this lead's: others wait as well.
    """

    state: str
    words: str
    request: str = ""
    answer: str = ""
    service_down: bool = False


@dataclass(frozen=True, slots=True)
class Due:
    """A delivery to try now.

    Attributes:
        key: The same at every try, so that the service can tell a repeat.
        tries: How often it was tried before.
        waited_ms: How long it has been waiting between tries.
    """

    id: int
    lead: int
    route: Id
    key: str
    tries: int
    waited_ms: int


@dataclass(frozen=True, slots=True)
class Sent:
    """A delivery as Connect shows it."""

    id: int
    lead: int
    route: Id
    state: str
    tries: int
    result: str
    due_ms: int
    result_ms: int
    request: str = ""
    answer: str = ""


def lane_of(route: Id, person: str) -> str:
    """Return the lane of a person (an e-mail address, or a lead's key) on a thread."""
    return hashlib.sha256(f"{route}\0{person.casefold()}".encode()).hexdigest()[:32]


def pause_ms(tries: int, chance: float = 0.5) -> int:
    """Return how long to wait after the n-th failed try.

    1 s, doubled each time up to 30 s; after some twenty minutes doubled on, up to 1 h. So a
    service that is back soon gets its leads soon, and one that stays away is left in peace.

    Args:
        chance: From 0 to 1; moves the pause by up to a fifth, so that many do not come at once.
    """
    early = min(1000 * 2 ** min(tries, 20), _EARLY_PAUSE_MS)
    pause = min(early * 2 ** min(max(0, tries - _EARLY_TRIES), 20), _LONGEST_PAUSE_MS)
    return int(pause * (1 + _JITTER * (2 * chance - 1)))


def take_due(engine: Engine, now_ms: int, limit: int = 20, without: Collection[Id] = (),
             ) -> list[Due]:
    """Take deliveries that are due and hold them for `LEASE_MS`.

    A host that dies leaves its deliveries held; they are due again when that time is over. In a
    lane only the first that waits is taken, so that a person's leads arrive in their order.

    Args:
        without: Threads whose service is left in peace just now.
    """
    before = outbox.alias()
    first = ~exists().where(before.c.lane == outbox.c.lane, before.c.lane != "",
                            before.c.state == "waiting", before.c.id < outbox.c.id)
    with engine.begin() as connection:
        rows = connection.execute(
            select(outbox.c.id, outbox.c.lead, outbox.c.route, outbox.c.key, outbox.c.tries,
                   outbox.c.waited).join(leads, leads.c.id == outbox.c.lead)
            .where(outbox.c.state == "waiting", _come(outbox.c.due, now_ms, 2 * _LONGEST_PAUSE_MS),
                   _come(outbox.c.held_until, now_ms, LEASE_MS),
                   outbox.c.route.not_in(list(without)), first)
            .order_by(outbox.c.due, outbox.c.id).limit(limit)).all()
        if not rows:
            return []
        held = connection.execute(
            update(outbox).where(outbox.c.id.in_([row.id for row in rows]),
                                 outbox.c.state == "waiting",
                                 _come(outbox.c.held_until, now_ms, LEASE_MS))
            .values(held_until=now_ms + LEASE_MS).returning(outbox.c.id)).scalars().all()
    return [Due(*row) for row in rows if row.id in set(held)]


def _come(moment: ColumnElement[int], now_ms: int, farthest_ms: int) -> ColumnElement[bool]:
    """Return whether a moment has come. One that lies farther ahead than any pause was written
    before the clock was set back, and has come as well."""
    return or_(moment <= now_ms, moment > now_ms + farthest_ms)


def record(engine: Engine, given: Iterable[tuple[Due, Outcome]], now_ms: int) -> None:
    """Store what tries gave, and when the next ones are."""
    with engine.begin() as connection:
        for due, outcome in given:
            state, words = outcome.state, outcome.words
            pause = pause_ms(due.tries, random.random())
            # The pauses themselves are counted, not what a clock says: it may have been set.
            if state == "waiting" and due.waited_ms + pause > GIVE_UP_MS:
                state, words = "refused", f"given up after {GIVE_UP_MS // 86_400_000} days: {words}"
            connection.execute(update(outbox).where(outbox.c.id == due.id).values(
                state=state, tries=due.tries + 1, result=storable(words), result_at=now_ms,
                held_until=0, due=now_ms + pause, waited=due.waited_ms + pause,
                request=storable(outcome.request), answer=storable(outcome.answer)))


def retry_now(engine: Engine, now_ms: int) -> int:
    """Make every waiting delivery due now, and return how many there are."""
    with engine.begin() as connection:
        return connection.execute(update(outbox).where(outbox.c.state == "waiting").values(
            due=now_ms, held_until=0)).rowcount


def resend(engine: Engine, delivery: int, now_ms: int) -> None:
    """Send one delivery again, also one that was given up or is done."""
    with engine.begin() as connection:
        connection.execute(update(outbox).where(outbox.c.id == delivery).values(
            state="waiting", due=now_ms, held_until=0, tries=0, waited=0))


def release_held(engine: Engine, lead_key: str, now_ms: int) -> bool:
    """Let a lead go on its way once the visitor has confirmed; return whether it is known."""
    with engine.begin() as connection:
        lead = connection.execute(select(leads.c.id).where(leads.c.key == lead_key)).scalar()
        if lead is None:
            return False
        connection.execute(update(outbox).where(
            outbox.c.lead == lead, outbox.c.state == "held").values(state="waiting", due=now_ms))
        return True


@dataclass(frozen=True, slots=True)
class Behind:
    """How far deliveries are behind.

    Attributes:
        waiting: How many wait, those that were never tried too.
        failed: How many of them wait after a failed try.
        oldest_ms: When the lead came in whose delivery waits longest; 0 if none waits.
    """

    waiting: int = 0
    failed: int = 0
    oldest_ms: int = 0


def behind(engine: Engine) -> Behind:
    """Return how far deliveries are behind."""
    waits = outbox.c.state == "waiting"
    with engine.connect() as connection:
        count = connection.execute(
            select(func.count()).select_from(outbox).where(waits)).scalar_one()
        if not count:
            return Behind()
        failed = connection.execute(select(func.count()).select_from(outbox).where(
            waits, outbox.c.tries > 0)).scalar_one()
        oldest = connection.execute(
            select(func.min(leads.c.at)).join(outbox, outbox.c.lead == leads.c.id).where(
                waits)).scalar()
    return Behind(count, failed, int(oldest or 0))


def waiting_by_route(engine: Engine) -> dict[Id, int]:
    """Return how many deliveries wait on each route after a failed try."""
    with engine.connect() as connection:
        rows = connection.execute(
            select(outbox.c.route, func.count())
            .where(outbox.c.state == "waiting", outbox.c.tries > 0).group_by(outbox.c.route))
        return {row.route: row[1] for row in rows}


def last_results(engine: Engine, routes: Sequence[Id]) -> dict[Id, Sent]:
    """Return the last delivery that was tried on each of these threads."""
    found = {}
    with engine.connect() as connection:
        for route in routes:
            row = connection.execute(
                select(outbox).where(outbox.c.route == route, outbox.c.result_at > 0)
                .order_by(outbox.c.id.desc()).limit(1)).first()
            if row is not None:
                found[route] = _sent(row)
    return found


def recent_deliveries(engine: Engine, form: Id, limit: int = 12,
                      ) -> list[tuple[object, list[Sent]]]:
    """Return a form's last leads (rows of the leads table) with their deliveries."""
    with engine.connect() as connection:
        rows = connection.execute(select(leads).where(leads.c.form == form)
                                  .order_by(leads.c.id.desc()).limit(limit)).all()
        sent = connection.execute(
            select(outbox).where(outbox.c.lead.in_([row.id for row in rows]))
            .order_by(outbox.c.id)).all()
    by_lead: dict[int, list[Sent]] = {}
    for row in sent:
        by_lead.setdefault(row.lead, []).append(_sent(row))
    return [(row, by_lead.get(row.id, [])) for row in rows]


def deliveries_of(engine: Engine, lead: int) -> list[Sent]:
    """Return all deliveries of a lead, in the order they were asked for."""
    with engine.connect() as connection:
        return [_sent(row) for row in connection.execute(
            select(outbox).where(outbox.c.lead == lead).order_by(outbox.c.id))]


def _sent(row: object) -> Sent:
    r = row
    return Sent(r.id, r.lead, r.route, r.state, r.tries, r.result, r.due, r.result_at,  # type: ignore[attr-defined]
                r.request, r.answer)  # type: ignore[attr-defined]
