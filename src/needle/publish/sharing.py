"""In which times new visitors of a page are shared out among its variants, and how."""

import msgspec

from needle.core.measure.period import LiveShares, SplitPeriod, tests_of
from needle.core.site.site import Site
from needle.core.tables.expanding import expanded
from needle.publish.release import Counted, Live, LivePage, SharedOut

__all__ = ["tests_live", "timed"]

# Of one page; older ones are let go.
_MOST = 40


def tests_live(site: Site, live: Live | None) -> list[SplitPeriod]:
    """Return the split tests of a site, each with its time and what it can be read by, from how its
    pages are live."""
    site = expanded(site)
    shares = {page.id: LiveShares(
        page.since or own.test_started or page.sent_at, _shares(page),
        tuple((time.since, time.until, time.shares) for time in page.earlier),
        tuple((one.variant, one.goal, one.since) for one in page.counted))
        for page in (live.pages if live else ()) if (own := site.page(page.id)) is not None}
    return tests_of(site, shares)


def timed(page: LivePage, before: LivePage | None, at: str, made: str = "") -> LivePage:
    """Return a page that goes live with the time since when it shares out visitors as it does.

    Another share, or another variant, begins a new time: who came by other shares is read apart,
    since a mixture of both tells neither truly. A test that ends keeps its last time by itself.

    Args:
        before: The page as it has been live.
        at: ISO time, UTC, when it goes live.
        made: When the site says that its test was made; for what an earlier Needle sent, which
            kept no such time.
    """
    if before is None:
        return msgspec.structs.replace(page, since=at, earlier=())
    page = msgspec.structs.replace(page, counted=_counted(page, before))
    since, earlier = before.since or made or before.sent_at, before.earlier
    if _shares(page) != _shares(before) or page.plan != before.plan:
        if len(before.variants) > 1 and len(page.variants) > 1:
            earlier = (*earlier, SharedOut(since, at, _shares(before)))[-_MOST:]
        since = at
    return msgspec.structs.replace(page, since=since, earlier=earlier)


def _counted(page: LivePage, before: LivePage) -> tuple[Counted, ...]:
    """Return what counts, each since it first did without a break.

    An earlier Needle kept no such time: what counts on a page of its sending always has.
    """
    known = {(one.variant, one.goal): one.since for one in before.counted}
    since = before.since or before.sent_at
    return tuple(Counted(one.variant, one.goal, known.get(
        (one.variant, one.goal), one.since if before.counted or not before.variants else since))
        for one in page.counted)


def _shares(page: LivePage) -> tuple[tuple[str, int], ...]:
    return tuple((variant.key, variant.share) for variant in page.variants)
