"""The outbox: what still has to reach a service, and what became of it."""

from dataclasses import dataclass

from sqlalchemy import Engine, func, select, update

from needle.core.site.ids import Id
from needle.store.results.tables import leads, outbox

__all__ = [
    "LEASE_MS",
    "Due",
    "Outcome",
    "Sent",
    "pause_ms",
    "recent_deliveries",
    "record",
    "retry_now",
    "take_due",
    "waiting_by_route",
]

# Longer than any try takes, and short enough that a killed host is not missed for long.
LEASE_MS = 12_000
_EARLY_PAUSE_MS = 30_000
_EARLY_TRIES = 40
_LONGEST_PAUSE_MS = 3_600_000


@dataclass(frozen=True, slots=True)
class Outcome:
    """What one try gave.

    Attributes:
        state: "done", "waiting" (try again) or "refused" (never).
        words: What happened, for the person.
    """

    state: str
    words: str


@dataclass(frozen=True, slots=True)
class Due:
    """A delivery to try now.

    Attributes:
        key: The same at every try, so that the service can tell a repeat.
        tries: How often it was tried before.
    """

    id: int
    lead: int
    route: Id
    key: str
    tries: int


@dataclass(frozen=True, slots=True)
class Sent:
    """A delivery as Connect shows it."""

    lead: int
    route: Id
    state: str
    tries: int
    result: str
    due_ms: int


def pause_ms(tries: int) -> int:
    """Return how long to wait after the n-th failed try.

    1 s, doubled each time up to 30 s; after some twenty minutes doubled on, up to 1 h. So a
    service that is back soon gets its leads soon, and one that stays away is left in peace.
    """
    early = min(1000 * 2 ** min(tries, 20), _EARLY_PAUSE_MS)
    return int(min(early * 2 ** min(max(0, tries - _EARLY_TRIES), 20), _LONGEST_PAUSE_MS))


def take_due(engine: Engine, now_ms: int, limit: int = 20) -> list[Due]:
    """Take deliveries that are due and hold them for `LEASE_MS`.

    A host that dies leaves its deliveries held; they are due again when that time is over.
    """
    taken = []
    with engine.begin() as connection:
        rows = connection.execute(
            select(outbox.c.id, outbox.c.lead, outbox.c.route, outbox.c.key, outbox.c.tries)
            .where(outbox.c.state == "waiting", outbox.c.due <= now_ms,
                   outbox.c.held_until <= now_ms)
            .order_by(outbox.c.id).limit(limit)).all()
        for row in rows:
            held = connection.execute(
                update(outbox)
                .where(outbox.c.id == row.id, outbox.c.state == "waiting",
                       outbox.c.held_until <= now_ms)
                .values(held_until=now_ms + LEASE_MS))
            if held.rowcount:
                taken.append(Due(row.id, row.lead, row.route, row.key, row.tries))
    return taken


def record(engine: Engine, due: Due, outcome: Outcome, now_ms: int) -> None:
    """Store what a try gave, and when the next one is."""
    with engine.begin() as connection:
        connection.execute(update(outbox).where(outbox.c.id == due.id).values(
            state=outcome.state, tries=due.tries + 1, result=outcome.words, result_at=now_ms,
            held_until=0, due=now_ms + pause_ms(due.tries)))


def retry_now(engine: Engine, now_ms: int) -> int:
    """Make every waiting delivery due now, and return how many there are."""
    with engine.begin() as connection:
        return connection.execute(update(outbox).where(outbox.c.state == "waiting").values(
            due=now_ms, held_until=0)).rowcount


def waiting_by_route(engine: Engine) -> dict[Id, int]:
    """Return how many deliveries wait on each route after a failed try."""
    with engine.connect() as connection:
        rows = connection.execute(
            select(outbox.c.route, func.count())
            .where(outbox.c.state == "waiting", outbox.c.tries > 0).group_by(outbox.c.route))
        return {row.route: row[1] for row in rows}


def recent_deliveries(engine: Engine, form: Id, limit: int = 12,
                      ) -> list[tuple[object, list[Sent]]]:
    """Return a form's last leads (rows of the leads table) with their deliveries."""
    with engine.connect() as connection:
        rows = connection.execute(select(leads).where(leads.c.form == form)
                                  .order_by(leads.c.at.desc()).limit(limit)).all()
        sent = connection.execute(
            select(outbox).where(outbox.c.lead.in_([row.id for row in rows]))).all()
    by_lead: dict[int, list[Sent]] = {}
    for s in sent:
        by_lead.setdefault(s.lead, []).append(
            Sent(s.lead, s.route, s.state, s.tries, s.result, s.due))
    return [(row, by_lead.get(row.id, [])) for row in rows]
