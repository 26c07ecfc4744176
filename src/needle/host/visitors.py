"""Who a visitor is, and which variant they get."""

import hashlib
import re
import secrets
from collections.abc import Sequence
from urllib.parse import parse_qs, urlsplit

from needle.publish.live import LivePage, LiveVariant

__all__ = ["VISITOR_COOKIE", "device_of", "source_of", "variant_cookie", "variant_for",
           "visitor_id"]

VISITOR_COOKIE = "needle_visitor"
_ID = re.compile(r"[0-9a-f]{24}\Z")


def visitor_id(cookie: str | None) -> str:
    """Return the visitor's id from their cookie, or a fresh one."""
    return cookie if cookie and _ID.match(cookie) else secrets.token_hex(12)


def variant_cookie(page_id: str) -> str:
    """Return the name of the cookie that remembers a visitor's variant of a page."""
    return f"needle_v_{page_id}"


def variant_for(page: LivePage, visitor: str, remembered: str | None) -> LiveVariant:
    """Return the variant for a visitor: the one they had, or one by the shares.

    The choice is a hash of visitor and page, so that every host makes the same.
    """
    for variant in page.variants:
        if variant.key == remembered:
            return variant
    digest = hashlib.sha256(f"{visitor}:{page.id}".encode()).digest()
    return _by_share(page.variants, int.from_bytes(digest[:8]) / 2**64)


def _by_share(variants: Sequence[LiveVariant], place: float) -> LiveVariant:
    at = place * sum(variant.share for variant in variants)
    for variant in variants:
        at -= variant.share
        if at < 0:
            return variant
    return variants[0]


def device_of(agent: str) -> str:
    """Return "phone", "tablet" or "desktop", from the User-Agent header."""
    if "iPad" in agent or ("Android" in agent and "Mobile" not in agent):
        return "tablet"
    return "phone" if "Mobi" in agent else "desktop"


def source_of(query: str, referrer: str, host: str) -> tuple[str, str]:
    """Return source and campaign of a visit.

    The source is `utm_source`, or else the host it was linked from, or "direct".
    """
    asked = parse_qs(query.lstrip("?")[:2000], max_num_fields=50)
    campaign = asked.get("utm_campaign", [""])[0]
    if source := asked.get("utm_source", [""])[0]:
        return source, campaign
    try:
        linked_from = urlsplit(referrer[:2000]).netloc
    except ValueError:
        linked_from = ""
    return (linked_from if linked_from and linked_from != host else "direct"), campaign
