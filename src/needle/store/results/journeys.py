"""Reading how people went, and what happened in the fields of forms."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from sqlalchemy import Engine, bindparam, func, select

from needle.core.measure.journey import WayCount
from needle.store.results.rolling import counted_rows, over_counts
from needle.store.results.tables import day_fields, day_paths

__all__ = ["FieldCount", "field_counts", "way_counts"]


_ways, _fields = day_paths.c, day_fields.c
_WAY = (_ways.source, _ways.device, _ways.path, _ways.campaign)
_WAYS = over_counts(select(*_WAY, func.sum(_ways.visits).label("visits")).where(
    _ways.day >= bindparam("first"), _ways.day <= bindparam("last")).group_by(*_WAY))
_FIELDS = over_counts(select(
    _fields.field, func.sum(_fields.times).label("times"), func.sum(_fields.took_ms).label("took"),
    func.sum(_fields.faults).label("faults"), func.sum(_fields.stops).label("stops")).where(
    _fields.day >= bindparam("first"), _fields.day <= bindparam("last")).group_by(_fields.field))


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
    return [WayCount(row.source, row.device, row.path, row.visits, row.campaign)
            for row in counted_rows(engine, _WAYS, first=first_day, last=last_day)]


def field_counts(engine: Engine, first_day: int, last_day: int) -> Mapping[str, FieldCount]:
    """Return what happened on these days, by "FORM.FIELD"."""
    return {row.field: FieldCount(row.times, row.took, row.faults, row.stops)
            for row in counted_rows(engine, _FIELDS, first=first_day, last=last_day)}
