"""Everything that was counted, event by event, for other programs."""

import hashlib
from collections.abc import Iterator, Mapping
from datetime import UTC, datetime

from sqlalchemy import Engine, String, literal, select, union_all
from sqlalchemy.sql.expression import cast

from needle.core.values.ids import Id
from needle.store.results.tables import goals, leads, visits

__all__ = ["EVENT_COLUMNS", "event_rows"]

EVENT_COLUMNS = ("When (UTC)", "What", "Page", "Variant", "Visitor", "Source", "Campaign", "Device",
                 "Goal or form")
_AT_ONCE = 2000
_NONE = cast(literal(""), String)


def event_rows(engine: Engine, page_names: Mapping[Id, str]) -> Iterator[list[str]]:
    """Yield visits, clicks that count, and leads of people, the oldest first, as they are read.

    Nothing that a visitor answered is among them, and a visitor is told by a short digest of their
    id, so that nobody can be somebody by what stands in the file.

    Raises:
        SQLAlchemyError: The results cannot be read.
    """
    every = union_all(
        select(visits.c.at, literal("visit").label("what"), visits.c.page, visits.c.variant,
               visits.c.visitor, visits.c.source, visits.c.campaign, visits.c.device,
               _NONE.label("goal")),
        select(goals.c.at, literal("goal"), goals.c.page, goals.c.variant, goals.c.visitor,
               _NONE, _NONE, _NONE, goals.c.goal),
        select(leads.c.at, literal("lead"), leads.c.page, leads.c.variant, leads.c.visitor,
               leads.c.source, _NONE, _NONE, leads.c.form_name).where(
            leads.c.robot.is_(False), leads.c.trial.is_(False))).subquery()
    with engine.connect() as connection:
        for row in connection.execution_options(yield_per=_AT_ONCE).execute(
                select(every).order_by(every.c.at)):
            at = datetime.fromtimestamp(row.at / 1000, UTC)
            yield [f"{at:%Y-%m-%d %H:%M:%S}", row.what, page_names.get(row.page, row.page),
                   row.variant, hashlib.sha256(row.visitor.encode()).hexdigest()[:12], row.source,
                   row.campaign, row.device, row.goal]
