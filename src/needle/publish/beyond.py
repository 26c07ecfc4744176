"""Reading from a project what rules look at outside the site."""

from collections.abc import Iterable, Mapping
from datetime import UTC, datetime, timedelta
from pathlib import Path

from needle.core.site.site import Site
from needle.core.snags.beyond import Beyond, LinkAnswer
from needle.core.tables.expanding import expanded
from needle.core.values.ids import Id
from needle.publish.releases import LiveError, Releases
from needle.store.certificates import Certificates

__all__ = ["beyond_of", "certificate_fault"]

# The host renews at a third of a certificate's life; what ends so soon was not renewed.
_ENDS_SOON = timedelta(days=10)


def beyond_of(project: Path, site: Site, answers: Mapping[str, LinkAnswer] | None = None,
              going: Iterable[Id] = (), now: datetime | None = None) -> Beyond:
    """Return what is live, how outside links answered, and what is wrong with the certificate.

    Args:
        going: Pages that are about to be sent: as good as live.
    """
    try:
        release = Releases(project).current()
    except LiveError:
        release = None
    live = frozenset(page.id for page in release.live.pages) if release else frozenset()
    live |= frozenset(going)
    # A page for each row is live as soon as the page of one row is.
    makers = frozenset(page.row.page for page in expanded(site).pages if page.id in live)
    return Beyond(live | makers - {""}, answers or {},
                  certificate_fault(Certificates(project), site.domain, now or datetime.now(UTC)))


def certificate_fault(kept: Certificates, domain: str, now: datetime) -> str:
    """Return what is wrong with the certificate that was asked for; empty if nothing is."""
    if kept.wanted() is None or not domain:
        return ""
    certified, state = kept.certified(), kept.state()
    if certified is None:
        return f"There is no certificate yet: {state.fault}" if state.fault else ""
    until = datetime.fromisoformat(certified.until)
    day = f"{until:%-d %B %Y}"
    if until <= now:
        return f"The certificate ended on {day}"
    if not certified.holds_for(domain, f"{now:%Y-%m-%dT%H:%M:%SZ}"):
        return f"The certificate is for {', '.join(certified.names)}, not for {domain}"
    if until - now < min(_ENDS_SOON, (until - datetime.fromisoformat(certified.since)) / 4):
        return f"The certificate ends on {day} and was not renewed"
    return ""
