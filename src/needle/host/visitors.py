"""Who a visitor is, which variant they get, and what they can prove of having seen."""

import hashlib
import re
from collections.abc import Mapping, Sequence
from functools import lru_cache

from crawleruseragents import is_crawler
from starlette.requests import Request

from needle.core.leads.storable import storable
from needle.core.measure.period import instant_ms
from needle.core.values.testplan import TestPlan
from needle.host.oddities import fields_of, host_of
from needle.publish.release import LivePage, LiveVariant
from needle.store.seals import Seals

__all__ = ["SEEN_COOKIE", "VISITOR_COOKIE", "Seen", "address_of", "device_of", "is_for",
           "is_robot_agent", "outside_of", "source_of", "variant_cookie", "variant_for"]

VISITOR_COOKIE = "needle_visitor"
SEEN_COOKIE = "needle_seen"
_ID = re.compile(r"[0-9a-f]{24}")
_MOST_SEEN = 16
_LONGEST = 120
_LONGEST_ADDRESS = 400


def address_of(request: Request) -> str:
    """Return the visitor's address; a proxy's word for it counts only where it is believed."""
    return request.client.host if request.client else ""


def variant_cookie(page_id: str) -> str:
    """Return the name of the cookie that remembers a visitor's variant of a page."""
    return f"needle_v_{page_id}"


def is_for(plan: TestPlan, source: str, device: str, now_ms: int) -> bool:
    """Return whether a split test is for somebody who comes now from a source with a device."""
    begins, ends = (instant_ms(moment) for moment in (plan.begins, plan.ends))
    return ((not plan.sources or source.casefold() in (one.casefold() for one in plan.sources))
            and (not plan.devices or device in plan.devices)
            and (begins is None or begins <= now_ms) and (ends is None or now_ms < ends))


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


class Seen:
    """The pages that a visitor was served, each sealed: "PAGE.VARIANT.SEAL", newest last.

    What a browser reports is counted only for a page that this visitor was served, so figures
    cannot be invented from afar. A few pages are enough, and keep the cookie small.
    """

    def __init__(self, seals: Seals, visitor: str, cookie: str | None) -> None:
        self._seals = seals
        self._visitor = visitor
        self._held = [part for part in (cookie or "")[:4000].split("|") if part][-_MOST_SEEN:]

    def _entry(self, page: str, variant: str, aside: bool = False) -> str:
        # The seal alone says who is aside, so that no browser can say otherwise.
        told = ("seen", self._visitor, page, variant, *(["aside"] if aside else []))
        return f"{page}.{variant}.{self._seals.mark(*told)}"

    def with_page(self, page: str, variant: str, aside: bool = False) -> str:
        """Return the cookie with one more page in it.

        Args:
            aside: They are none of the page's split test.
        """
        entry = self._entry(page, variant, aside)
        return "|".join([*(one for one in self._held if one != entry), entry][-_MOST_SEEN:])

    def holds(self, page: str, variant: str) -> bool:
        """Return whether the visitor was served a page in a variant."""
        return self._entry(page, variant) in self._held or self.aside(page, variant)

    def aside(self, page: str, variant: str) -> bool:
        """Return whether they were served it as somebody whom its split test is not for."""
        return self._entry(page, variant, True) in self._held

    def known(self) -> bool:
        """Return whether any page that is held was served to this visitor: else anybody could say
        that they are anybody."""
        return bool(self._visitor) and any(
            part.count(".") >= 2 and self.holds(*part.split(".", 2)[:2]) for part in self._held)

    def ticket(self, page: str, variant: str) -> str:
        """Return what proves by itself, where a browser keeps no cookie, that this visitor was
        served a page."""
        return f"{self._visitor}:{self._entry(page, variant)}"

    @classmethod
    def of_report(cls, seals: Seals, ticket: str, cookies: Mapping[str, str]) -> "Seen":
        """Return what whoever reports was served: by a ticket if there is one, else by cookies."""
        visitor, mark, entry = ticket.partition(":")
        if not mark:
            visitor, entry = cookies.get(VISITOR_COOKIE, ""), cookies.get(SEEN_COOKIE, "")
        return cls(seals, visitor if _ID.fullmatch(visitor) else "", entry)

    @property
    def visitor(self) -> str:
        """Who it is; empty for nobody who was served anything."""
        return self._visitor


def device_of(agent: str) -> str:
    """Return "phone", "tablet" or "desktop", from the User-Agent header."""
    if "iPad" in agent or ("Android" in agent and "Mobile" not in agent):
        return "tablet"
    return "phone" if "Mobi" in agent else "desktop"


@lru_cache(maxsize=4000)
def is_robot_agent(agent: str) -> bool:
    """Return whether a User-Agent header is that of a known robot, or none."""
    return not agent or bool(is_crawler(agent))


def outside_of(query: str) -> str:
    """Return the page of another site that a form stood on, as the frame around it was told;
    empty if it stood on one of the own."""
    there = fields_of(query.lstrip("?")[:8000]).get("_at", [""])[0][:_LONGEST_ADDRESS]
    return storable(there) if there.startswith(("https://", "http://")) and host_of(there) else ""


def source_of(query: str, referrer: str, host: str) -> tuple[str, str]:
    """Return source and campaign of a visit.

    The source is `utm_source`, or else the host it was linked from, or "direct".
    """
    asked = fields_of(query.lstrip("?")[:8000])
    campaign = asked.get("utm_campaign", [""])[0][:_LONGEST]
    if source := asked.get("utm_source", [""])[0][:_LONGEST]:
        return source, campaign
    linked_from = storable(host_of(referrer), _LONGEST)
    return (linked_from if linked_from and linked_from != host else "direct"), campaign
