"""Split tests as values: which there are, and the time in which each counts."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import UTC, datetime

from needle.core.site.site import Site
from needle.core.values.ids import Id

__all__ = ["SplitPeriod", "instant_ms", "tests_of"]


@dataclass(frozen=True, slots=True)
class SplitPeriod:
    """A split test with its time. What came before it or after it is none of its.

    Attributes:
        arms: The variants by key with the share of each, in percent.
        began_ms, ended_ms: Since 1970, UTC; `ended_ms` is `None` while it runs, `began_ms` while
            visitors do not get both variants yet.
        kept: The variant that was kept at its end; empty while it runs.
        timed: Its time is known; a test that an earlier Needle ended kept none.
    """

    page: Id
    arms: tuple[tuple[str, int], ...]
    began_ms: int | None
    ended_ms: int | None = None
    kept: str = ""
    timed: bool = True


def instant_ms(iso: str) -> int | None:
    """Return an ISO date or time as milliseconds since 1970; a date is its midnight, UTC.

    Returns:
        `None` for an empty text or one that is no time.
    """
    try:
        moment = datetime.fromisoformat(iso)
    except ValueError:
        return None
    return int((moment if moment.tzinfo else moment.replace(tzinfo=UTC)).timestamp() * 1000)


def tests_of(site: Site, live_since: Mapping[Id, str]) -> list[SplitPeriod]:
    """Return the running test of each page and, after it, its ended ones, newest first.

    Args:
        live_since: When visitors first got the variants that are live, by page, ISO time; a test
            does not begin before that.
    """
    found = []
    for page in site.pages:
        if page.tested:
            edited, live = instant_ms(page.test_started), instant_ms(live_since.get(page.id, ""))
            began = None if live is None else max(live, edited or 0)
            found.append(SplitPeriod(page.id, tuple((v.key, v.share) for v in page.variants),
                                     began))
        for test in reversed(page.ended):
            found.append(SplitPeriod(page.id, tuple(test.shares.items()),
                                     instant_ms(test.started), instant_ms(test.ended), test.kept))
        told = {key for test in page.ended for key in test.shares}
        loose = tuple((v.key, 0) for v in page.archive if v.key not in told)
        if loose and not page.tested:
            kept = page.variants[0]
            found.append(SplitPeriod(page.id, ((kept.key, kept.share), *loose), None, None,
                                     kept.key, timed=False))
    return found
