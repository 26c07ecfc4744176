"""Split tests as values: which there are, and the time in which each counts."""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import UTC, datetime

import msgspec

from needle.core.site.site import Page, Site
from needle.core.values.ids import Id
from needle.core.values.testplan import NO_PLAN, TestPlan

__all__ = ["LiveShares", "SplitPeriod", "instant_ms", "tests_of"]


@dataclass(frozen=True, slots=True)
class SplitPeriod:
    """A split test with its time. What came before it or after it is none of its.

    Attributes:
        arms: The variants by key with the share of each, in percent.
        began_ms, ended_ms: Since 1970, UTC; `ended_ms` is `None` while it runs, `began_ms` while
            visitors do not get both variants yet.
        kept: The variant that was kept at its end; empty while it runs, and where it went on with
            other shares or variants after its end.
        timed: Its time is known; a test that an earlier Needle ended kept none.
        plan: How it is meant.
        late: Goals that began to count after it did. Who came before could not reach them, so
            they count for none of its visitors; if it is about one of them, it is read from then.
        lacking: Variants on which what it is about cannot be reached at all.
    """

    page: Id
    arms: tuple[tuple[str, int], ...]
    began_ms: int | None
    ended_ms: int | None = None
    kept: str = ""
    timed: bool = True
    plan: TestPlan = NO_PLAN
    late: tuple[str, ...] = ()
    lacking: tuple[str, ...] = ()

    @property
    def runs(self) -> bool:
        """Whether it has no end yet."""
        return not self.kept and self.ended_ms is None

    @property
    def closes_ms(self) -> int | None:
        """Until when what happens is of it: its end, or the one that it was planned to have."""
        ends = [moment for moment in (self.ended_ms, instant_ms(self.plan.ends))
                if moment is not None]
        return min(ends, default=None)


@dataclass(frozen=True, slots=True)
class LiveShares:
    """How the visitors of a live page are shared out.

    Attributes:
        since: ISO time since when they are.
        shares: How many of a hundred are to get each variant, in the order of the variants.
        earlier: The times before in which they were otherwise while the page was tested, oldest
            first: from, until, shares.
        counted: What counts on the page: variant, goal, ISO time since when.
    """

    since: str
    shares: tuple[tuple[str, int], ...]
    earlier: tuple[tuple[str, str, tuple[tuple[str, int], ...]], ...] = ()
    counted: tuple[tuple[str, str, str], ...] = ()


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


def tests_of(site: Site, live: Mapping[Id, LiveShares]) -> list[SplitPeriod]:
    """Return the running test of each page and, after it, its ended ones, newest first.

    A test whose shares or variants were changed while it ran is a new one since then: the time
    before is read apart, since a mixture of both would tell neither truly.

    Args:
        live: How visitors of the pages that are live are shared out. A test does not begin
            before visitors get its variants, and runs by the shares that are live.
    """
    return [_by_what_counts(test, live.get(test.page)) for test in _plain_tests(site, live)]


def _plain_tests(site: Site, live: Mapping[Id, LiveShares]) -> list[SplitPeriod]:
    found = []
    for page in site.pages:
        shown = live.get(page.id)
        if page.tested:
            found.append(_running(page, shown))
        for since, until, shares in reversed(shown.earlier if shown else ()):
            found.append(SplitPeriod(page.id, shares, instant_ms(since), instant_ms(until),
                                     plan=_timeless(page.plan)))
        for test in reversed(page.ended):
            found.append(SplitPeriod(page.id, tuple(test.shares.items()), instant_ms(test.started),
                                     instant_ms(test.ended), test.kept, plan=test.plan))
        told = {key for test in page.ended for key in test.shares}
        loose = tuple((v.key, 0) for v in page.archive if v.key not in told)
        if loose and not page.tested:
            kept = page.variants[0]
            found.append(SplitPeriod(page.id, ((kept.key, kept.share), *loose), None, None,
                                     kept.key, timed=False))
    return found


def _timeless(plan: TestPlan) -> TestPlan:
    """Return a plan for a time that is over, whose beginning and end are known by themselves."""
    return msgspec.structs.replace(plan, begins="", ends="")


def _running(page: Page, live: LiveShares | None) -> SplitPeriod:
    asked = tuple((variant.key, variant.share) for variant in page.variants)
    if live is None or [key for key, _ in live.shares] != [key for key, _ in asked]:
        return SplitPeriod(page.id, asked, None, plan=page.plan)
    began = max(instant_ms(live.since) or 0, instant_ms(page.test_started) or 0,
                instant_ms(page.plan.begins) or 0)
    return SplitPeriod(page.id, live.shares, began, plan=page.plan)


def _by_what_counts(test: SplitPeriod, live: LiveShares | None) -> SplitPeriod:
    """Return a test with what of the page's goals it can be read by, and from when."""
    if live is None or not live.counted or test.began_ms is None:
        return test
    arms = {key for key, _ in test.arms}
    since: dict[str, dict[str, int]] = {}
    for variant, goal, iso in live.counted:
        if variant in arms:
            since.setdefault(goal, {})[variant] = instant_ms(iso) or 0
    late = tuple(goal for goal, of in since.items() if max(of.values()) > test.began_ms)
    about = test.plan.counts
    if about not in since:
        return replace(test, late=late)
    lacking = tuple(sorted(arms - since[about].keys())) if test.runs else ()
    return replace(test, late=late, lacking=lacking,
                   began_ms=max(test.began_ms, *since[about].values()))
