"""The stream of events: adding to it, and how far it can be read."""

from collections.abc import Iterable, Sequence

from sqlalchemy import Connection, Engine, func, insert, select, text

from needle.core.measure.events import Event, EventKind
from needle.store.results.tables import events

__all__ = ["append", "settled_id", "take_events"]

# Any number of our own.
_GATE = 7_246_032
_LONGEST = 120


def take_events(engine: Engine, told: Sequence[Event]) -> list[None]:
    """Store events in one transaction; return one `None` for each."""
    with engine.begin() as connection:
        append(connection, told)
    return [None] * len(told)


def append(connection: Connection, told: Iterable[Event]) -> None:
    """Add events at the end of the stream. An outside call of a visitor who was called in for the
    same page before is none."""
    if connection.dialect.name == "postgresql":
        # A number is given before its row can be seen. Whoever reads the stream waits here until
        # all that have numbers are in it (`settled_id`), so that none is passed over.
        connection.execute(text("SELECT pg_advisory_xact_lock_shared(:n)"), {"n": _GATE})
    calls: set[tuple[str, ...]] = set()
    rows = []
    for event in told:
        if event.kind == EventKind.CALL:
            key = (event.visitor, event.page, event.variant, event.what[:_LONGEST])
            if key in calls or _known(connection, key):
                continue
            calls.add(key)
        rows.append(_row(event))
    if rows:
        connection.execute(insert(events), rows)


def _known(connection: Connection, key: tuple[str, ...]) -> bool:
    visitor, page, variant, what = key
    return connection.execute(select(events.c.id).where(
        events.c.visitor == visitor, events.c.page == page,
        # An earlier Needle kept calls as goals.
        events.c.kind.in_((EventKind.CALL, EventKind.GOAL)),
        events.c.variant == variant, events.c.what == what).limit(1)).scalar() is not None


def _row(event: Event) -> dict[str, object]:
    return {"at": event.at_ms, "visitor": event.visitor, "kind": str(event.kind),
            "page": event.page, "variant": event.variant, "what": event.what[:_LONGEST],
            "amount": event.amount, "source": event.source[:_LONGEST],
            "campaign": event.campaign[:_LONGEST], "device": event.device, "mark": event.mark,
            "aside": event.aside}


def settled_id(engine: Engine) -> int:
    """Return a number up to which every event is in the stream that ever will be."""
    with engine.begin() as connection:
        if connection.dialect.name == "postgresql":
            connection.execute(text("SELECT pg_advisory_xact_lock(:n)"), {"n": _GATE})
        return connection.execute(select(func.max(events.c.id))).scalar() or 0
