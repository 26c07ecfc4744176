"""A site's week in sentences: what came, what changed, what to do next."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from math import sqrt
from statistics import NormalDist

from needle.core.values.counting import counted
from needle.core.values.ids import Id

__all__ = ["Came", "Chapter", "Sending", "Week", "WeekCounts", "bounds_of", "chapters_of",
           "monday_of", "more_than_chance", "rates_differ"]

# Of weeks that are alike, one in twenty is called otherwise.
_Z = NormalDist().inv_cdf(0.975)
_FEWEST = 5


@dataclass(frozen=True, slots=True)
class Came:
    """What came to a page, or from a source.

    Attributes:
        key: The page's id, or the source; an empty source is who came by themselves.
        conversions: Visitors who converted; of a source, who sent a form.
    """

    key: str
    visitors: int
    conversions: int


@dataclass(frozen=True, slots=True)
class WeekCounts:
    """What came in a week. A visitor counts once in each figure.

    Attributes:
        days: Visitors of each day, Monday first.
        pages, sources: The most visited first.
    """

    visitors: int
    conversions: int
    leads: int
    days: tuple[int, ...]
    pages: tuple[Came, ...] = ()
    sources: tuple[Came, ...] = ()


@dataclass(frozen=True, slots=True)
class Sending:
    """Something that went live.

    Attributes:
        what: Its pages, or what else it was.
    """

    at: datetime
    what: str


@dataclass(frozen=True, slots=True)
class Week:
    """A week with the one before it, as far as there is one.

    Attributes:
        until: The moment of the count where the week is not over.
        names: Of pages, by id.
        sent: What went live in it, the oldest first.
        open: What waits for the person, in sentences; `None` where nobody has looked.
    """

    site: str
    monday: date
    now: WeekCounts
    before: WeekCounts
    names: Mapping[Id, str]
    sent: Sequence[Sending] = ()
    open: Sequence[str] | None = ()
    until: datetime | None = None


@dataclass(frozen=True, slots=True)
class Chapter:
    """A heading with its sentences."""

    title: str
    sentences: tuple[str, ...]


def monday_of(day: date) -> date:
    """Return the Monday of a day's week (ISO 8601)."""
    return day - timedelta(days=day.weekday())


def bounds_of(monday: date, until: datetime | None = None) -> list[int]:
    """Return where each day of a week begins here, and where the last ends, since 1970, in ms.

    Args:
        until: Count only what came before; the days after it are empty.
    """
    moments = [datetime.combine(monday + timedelta(days=day), datetime.min.time()).astimezone()
               for day in range(8)]
    if until is not None:
        moments = [min(moment, until) for moment in moments]
    return [int(moment.timestamp() * 1000) for moment in moments]


def more_than_chance(now: int, before: int) -> bool:
    """Whether two counts differ by more than chance brings where both are alike.

    Given their sum, one of two Poisson counts of the same mean is binomial (Przyborowski and
    Wilenski 1940); by its normal approximation.
    """
    return now + before > 0 and abs(now - before) > _Z * sqrt(now + before)


def rates_differ(won: int, of: int, won_before: int, of_before: int) -> bool | None:
    """Whether two rates differ by more than chance brings; `None` where too few came to say.

    Two proportions, pooled, by Fleiss, Levin and Paik (2003), "Statistical methods for rates and
    proportions", 3.1; too few is where fewer than five of a kind are expected.
    """
    if not of or not of_before:
        return None
    pooled = (won + won_before) / (of + of_before)
    if min(of, of_before) * min(pooled, 1 - pooled) < _FEWEST:
        return None
    spread = sqrt(pooled * (1 - pooled) * (1 / of + 1 / of_before))
    return abs(won / of - won_before / of_before) > _Z * spread


def chapters_of(week: Week) -> list[Chapter]:
    """Return the week in sentences with their figures."""
    told = [Chapter("What came", tuple(_came(week))),
            Chapter("What changed", tuple(_changed(week)))]
    if week.open is not None:
        told.append(Chapter("What to do next", tuple(week.open) or ("Nothing waits for you.",)))
    return told


def _came(week: Week) -> list[str]:
    now, before = week.now, week.before
    if not now.visitors:
        return ["Nobody came." if week.until is None else "Nobody has come yet."]
    told = [f"{counted(now.visitors, 'visitor')}{_against(now.visitors, before.visitors)}.",
            f"{counted(now.leads, 'lead')}{_against(now.leads, before.leads)}.",
            _rate_words(now, before)]
    best = max(now.pages, key=lambda page: page.conversions, default=None)
    if best is not None and best.conversions:
        told.append(f"“{week.names.get(best.key, 'A page that is gone')}” converted most: "
                    f"{best.conversions:,} of its {best.visitors:,} visitors.")
    return told


def _against(now: int, before: int) -> str:
    if not before:
        return "; none the week before" if now else ""
    if not more_than_chance(now, before):
        return f", about as many as the week before ({before:,})"
    part = abs(now - before) / before
    return f", {part:.0%} {'more' if now > before else 'fewer'} than the week before ({before:,})" \
        .replace("%", " %")


def _rate_words(now: WeekCounts, before: WeekCounts) -> str:
    rate = f"{now.conversions / now.visitors:.1%} of visitors converted"
    differ = rates_differ(now.conversions, now.visitors, before.conversions, before.visitors)
    if differ is None:
        return f"{rate}; too few came to hold it against the week before.".replace("%", " %")
    of_before = f"{before.conversions / before.visitors:.1%} the week before"
    return (f"{rate}, {of_before}: " + ("more than chance brings." if differ else
                                        "that is within what chance brings.")).replace("%", " %")


def _changed(week: Week) -> list[str]:
    return [f"{one.at:%a %d %b, %H:%M}: {one.what}" for one in week.sent] or [
        "Nothing was sent, so visitors saw what they saw before."]
