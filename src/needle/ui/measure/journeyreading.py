"""Reading a journey beside the window."""

import logging
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from sqlalchemy import Engine
from sqlalchemy.exc import SQLAlchemyError

from needle.core.measure.adverts import ShownWords, shown_words
from needle.core.measure.journey import Journey, PlaceOf, WayCount, journey_of
from needle.core.measure.passages import Loss, Passage, loss_of, passages_of
from needle.store.results.brought import Brought, brought_by, hour_rows
from needle.store.results.journeys import FieldCount, field_counts, way_counts

__all__ = ["Reading", "Wanted", "read_journey"]

_log = logging.getLogger(__name__)


@dataclass(frozen=True, slots=True)
class Wanted:
    """What is asked for.

    Attributes:
        times: First and last day since 1970, and those of the time that it is held against.
        device, source, campaign: Only visits with these; empty for all.
        variant: Only visits that saw this variant, as "PAGE.VARIANT"; empty for all.
        through: Only visits that were at this place; empty for all.
    """

    times: tuple[int, int, int, int]
    device: str = ""
    source: str = ""
    campaign: str = ""
    variant: str = ""
    through: str = ""


@dataclass(frozen=True, slots=True)
class Reading:
    """What was read.

    Attributes:
        devices, sources, campaigns: All that there are in this time, whatever is asked for; those
            that most came by first.
        fields: By "FORM.FIELD".
        hours: Hour since 1970, how many came, how many converted, on all pages.
        words: What each of the advert words has brought.
        brought: What brought leads, and what became of them.
        fault: It could not be read; everything else is empty.
    """

    wanted: Wanted
    now: Journey = field(default_factory=Journey)
    before: Journey = field(default_factory=Journey)
    passages: Sequence[Passage] = ()
    loss: Loss | None = None
    fields: Mapping[str, FieldCount] = field(default_factory=dict)
    hours: Sequence[tuple[int, int, int]] = ()
    words: Sequence[ShownWords] = ()
    brought: Sequence[Brought] = ()
    devices: Sequence[str] = ()
    sources: Sequence[str] = ()
    campaigns: Sequence[str] = ()
    fault: bool = False


def read_journey(engine: Engine, wanted: Wanted, place_of: PlaceOf) -> Reading:
    """Return what a journey shows; one with a fault where the results cannot be read."""
    try:
        return _read(engine, wanted, place_of)
    except SQLAlchemyError as error:
        _log.error("the journey cannot be read (%s)", type(error).__name__)
        return Reading(wanted, fault=True)


def _read(engine: Engine, wanted: Wanted, place_of: PlaceOf) -> Reading:
    first, last, *other = wanted.times
    every, earlier = way_counts(engine, first, last), way_counts(engine, *other)
    ways, ways_before = _only(every, wanted), _only(earlier, wanted)
    now = journey_of(ways, place_of, through=wanted.through)
    before = journey_of(ways_before, place_of, now, wanted.through)
    by_device = {device: journey_of([way for way in ways if way.device == device], place_of, now,
                                    wanted.through) for device in _named(ways, "device")}
    return Reading(wanted, now, before, passages_of(now, before, by_device),
                   loss_of(now, before, by_device), field_counts(engine, first, last),
                   hour_rows(engine, first, last), shown_words(ways),
                   brought_by(engine, first, last),
                   _named(every, "device"), _named(every, "source"), _named(every, "campaign"))


def _only(ways: Sequence[WayCount], wanted: Wanted) -> Sequence[WayCount]:
    return [way for way in ways if wanted.device in ("", way.device)
            and wanted.source in ("", way.source) and wanted.campaign in ("", way.campaign)
            and (not wanted.variant or f"p:{wanted.variant}" in way.path.split(" "))]


def _named(ways: Sequence[WayCount], by: str) -> Sequence[str]:
    """Return every device, source or campaign, the most frequent first."""
    counts: dict[str, int] = {}
    for way in ways:
        name = getattr(way, by)
        counts[name] = counts.get(name, 0) + way.visits
    return sorted(filter(None, counts), key=lambda name: (-counts[name], name))
