"""Everything that was counted, event by event, for other programs."""

import hashlib
from collections.abc import Iterator, Mapping
from datetime import UTC, datetime

from sqlalchemy import Engine, select

from needle.core.values.ids import Id
from needle.store.results.tables import events

__all__ = ["EVENT_COLUMNS", "digest_of", "event_rows"]

EVENT_COLUMNS = ("When (UTC)", "What", "Page", "Variant", "Visitor", "Source", "Campaign", "Device",
                 "Of what", "Amount", "Mark")
_AT_ONCE = 2000


def digest_of(visitor: str) -> str:
    """Return by what a visitor is told in a file."""
    return hashlib.sha256(visitor.encode()).hexdigest()[:12]


def event_rows(engine: Engine, names: Mapping[Id, str]) -> Iterator[list[str]]:
    """Yield all that visitors did, the oldest first, as it is read.

    Nothing that a visitor answered is among them, and a visitor is told by a short digest of their
    id, so that nobody can be somebody by what stands in the file.

    Args:
        names: The names of pages and forms by their ids.

    Raises:
        SQLAlchemyError: The results cannot be read.
    """
    with engine.connect() as connection:
        for row in connection.execution_options(yield_per=_AT_ONCE).execute(
                select(events).order_by(events.c.id)):
            at = datetime.fromtimestamp(row.at / 1000, UTC)
            yield [f"{at:%Y-%m-%d %H:%M:%S}", row.kind, names.get(row.page, row.page),
                   row.variant, digest_of(row.visitor), row.source,
                   row.campaign, row.device, names.get(row.what, row.what),
                   str(row.amount) if row.amount else "", row.mark]
