"""Split tests as values: which there are, and the time in which each counts."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import UTC, datetime

from needle.core.site.site import Page, Site
from needle.core.values.ids import Id

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
    """

    page: Id
    arms: tuple[tuple[str, int], ...]
    began_ms: int | None
    ended_ms: int | None = None
    kept: str = ""
    timed: bool = True

    @property
    def runs(self) -> bool:
        """Whether it has no end yet."""
        return not self.kept and self.ended_ms is None


@dataclass(frozen=True, slots=True)
class LiveShares:
    """How the visitors of a live page are shared out.

    Attributes:
        since: ISO time since when they are.
        shares: How many of a hundred are to get each variant, in the order of the variants.
        earlier: The times before in which they were otherwise while the page was tested, oldest
            first: from, until, shares.
    """

    since: str
    shares: tuple[tuple[str, int], ...]
    earlier: tuple[tuple[str, str, tuple[tuple[str, int], ...]], ...] = ()


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
    found = []
    for page in site.pages:
        shown = live.get(page.id)
        if page.tested:
            found.append(_running(page, shown))
        for since, until, shares in reversed(shown.earlier if shown else ()):
            found.append(SplitPeriod(page.id, shares, instant_ms(since), instant_ms(until)))
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


def _running(page: Page, live: LiveShares | None) -> SplitPeriod:
    asked = tuple((variant.key, variant.share) for variant in page.variants)
    if live is None or [key for key, _ in live.shares] != [key for key, _ in asked]:
        return SplitPeriod(page.id, asked, None)
    began = max(instant_ms(live.since) or 0, instant_ms(page.test_started) or 0)
    return SplitPeriod(page.id, live.shares, began)
