"""Reading how people went, and what happened in the fields of forms."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from sqlalchemy import Engine, func, select

from needle.core.measure.journey import WayCount
from needle.store.results.rolling import roll_up
from needle.store.results.tables import day_fields, day_paths

__all__ = ["FieldCount", "field_counts", "way_counts"]


@dataclass(frozen=True, slots=True)
class FieldCount:
    """What happened in a field.

    Attributes:
        times: How often it was left.
        took_ms: How long it was looked at, all times together.
        faults: How often it was found wrong.
        stops: How many gave the form up there.
    """

    times: int
    took_ms: int
    faults: int
    stops: int


def way_counts(engine: Engine, first_day: int, last_day: int) -> Sequence[WayCount]:
    """Return the ways of all visits that began on these days since 1970, the last one included."""
    roll_up(engine)
    told = day_paths.c
    with engine.connect() as connection:
        ways = (told.source, told.device, told.path, told.campaign)
        return [WayCount(row.source, row.device, row.path, row.visits, row.campaign) for row in
                connection.execute(select(*ways, func.sum(told.visits).label("visits")).where(
                    told.day >= first_day, told.day <= last_day).group_by(*ways))]


def field_counts(engine: Engine, first_day: int, last_day: int) -> Mapping[str, FieldCount]:
    """Return what happened on these days, by "FORM.FIELD"."""
    roll_up(engine)
    told = day_fields.c
    with engine.connect() as connection:
        return {row.field: FieldCount(row.times, row.took, row.faults, row.stops) for row in
                connection.execute(select(
                    told.field, func.sum(told.times).label("times"),
                    func.sum(told.took_ms).label("took"), func.sum(told.faults).label("faults"),
                    func.sum(told.stops).label("stops")).where(
                    told.day >= first_day, told.day <= last_day).group_by(told.field))}
