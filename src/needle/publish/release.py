"""What a release is: everything that visitors get, as a value that never changes."""

import re
from collections.abc import Iterator, Mapping
from typing import Annotated

import msgspec

from needle.core.shop.pricing import Sold
from needle.core.site.site import Service
from needle.core.values.form import Form
from needle.core.values.ids import Id, OwnId
from needle.core.values.language import ENGLISH, Language
from needle.core.values.outside import Origin
from needle.core.values.outsidecall import OutsideCall
from needle.core.values.remembering import remembered
from needle.core.values.rows import Offered
from needle.core.values.shop import NO_SHOP, Shop
from needle.core.values.strict import Address, Domain, Slug, Strict, VariantKey, strict_meta
from needle.core.values.testplan import NO_PLAN, TestPlan

__all__ = ["ASSET_NAME", "Counted", "Digest", "Live", "LivePage", "LivePart", "LiveVariant",
           "Moved", "PromisedFile", "Release", "ReleaseId", "ReleasedFile", "Scheduled", "SentPage",
           "SharedOut", "Summary"]

_PAGE = (r"(?:[a-z0-9]+(?:-[a-z0-9]+)*/)?"
         r"(?:index|variant-[a-z]{1,2}|part-[a-z][a-z0-9_-]{0,15})\.html")
_NAME = r"[a-z0-9][a-z0-9._-]{0,120}"
_ASSET = f"assets/{_NAME}"
ASSET_NAME = re.compile(_NAME)
_LiveFile = Annotated[str, strict_meta("live-file", _PAGE)]
_Path = Annotated[str, strict_meta("release-path", f"{_PAGE}|{_ASSET}")]
_Place = Annotated[str, strict_meta(
    "live-place", r"media/[a-z0-9][a-z0-9_-]{0,63}\.[a-z0-9]{2,5}"
                  r"|live/blobs/[0-9a-f]{2}/[0-9a-f]{64}")]
# SHA-256 of the bytes, in hex.
Digest = Annotated[str, strict_meta("digest", "[0-9a-f]{64}")]
ReleaseId = Annotated[str, strict_meta("release-id", "r[0-9]{8}-[0-9]{6}-[0-9a-f]{4}")]


class LiveVariant(Strict, frozen=True):
    """A variant that visitors can get.

    Attributes:
        share: How many of a hundred new visitors get it.
        file: Its path in the release.
        policy: What the page may load and run (Content Security Policy, level 3).
    """

    key: VariantKey
    share: int
    file: _LiveFile
    policy: str = ""


class LivePart(Strict, frozen=True):
    """A form or popup of a page that is shown on pages made elsewhere.

    Attributes:
        file: Its path in the release.
        sites: Where it may be shown.
    """

    id: OwnId
    variant: VariantKey
    file: _LiveFile
    sites: tuple[Origin, ...] = ()
    policy: str = ""


class SharedOut(Strict, frozen=True, array_like=True):
    """A time in which new visitors were shared out among the variants of a page in one way.

    Attributes:
        since, until: ISO times, UTC.
        shares: How many of a hundred were to get each variant.
    """

    since: str
    until: str
    shares: tuple[tuple[VariantKey, int], ...]


class Counted(Strict, frozen=True, array_like=True):
    """Since when something counts in a variant: the goal's key, and an ISO time, UTC."""

    variant: VariantKey
    goal: str
    since: str


class LivePage(Strict, frozen=True):
    """A page that is live.

    Attributes:
        sent_at: ISO time, UTC.
        forms: Those that stand on it, as they were when it was sent.
        since: ISO time, UTC, since when visitors get these variants by these shares; empty if it
            was not kept.
        earlier: The times of other shares, or with other variants, while it was tested.
        files: What it shows and loads besides itself, as paths in the release.
        unlisted: Searches are asked to leave it out.
        parts: What of it is shown elsewhere.
        plan: For whom its split test is, and when.
        counted: What counts on it, and since when it does.
        row, thing: The row of the shop that it is the page of, and what that is called.
        offers: What it offers of that, as it shows it.
        goes_with: The rows of what is often bought with that.
        traits: What coupons may be for: its tags, choices, and what it names, in small letters.
        cart: The cart stands on it.
    """

    id: OwnId
    name: str
    slug: Slug
    sent_at: str
    variants: tuple[LiveVariant, ...]
    forms: tuple[Form, ...] = ()
    since: str = ""
    files: tuple[_Path, ...] = ()
    unlisted: bool = False
    parts: tuple[LivePart, ...] = ()
    earlier: tuple[SharedOut, ...] = ()
    plan: TestPlan = NO_PLAN
    counted: tuple[Counted, ...] = ()
    row: Id = ""
    thing: str = ""
    offers: tuple[Offered, ...] = ()
    goes_with: tuple[Id, ...] = ()
    traits: tuple[str, ...] = ()
    cart: bool = False


class PromisedFile(Strict, frozen=True, array_like=True):
    """A file that letters bring: its name, and its place below the project."""

    name: str
    place: _Place


class Moved(Strict, frozen=True, array_like=True):
    """An address that a page had: to which page it leads now, or nothing if it is gone for good."""

    slug: Slug
    page: Id = ""


class Live(Strict, frozen=True, dict=True):
    """Everything that the host needs to know of a site.

    Attributes:
        forms: Those that stand on no live page.
        colours: The palette by role, for letters that the host writes.
        files: What letters bring, by its id.
        moved: Addresses of before that lead elsewhere now.
        domain: The name that the site has in public; empty for none.
        calls: What pages made elsewhere call in.
        shop: How what its pages offer is sold.
    """

    address: Address
    name: str
    pages: tuple[LivePage, ...] = ()
    language: Language = ENGLISH
    forms: tuple[Form, ...] = ()
    services: tuple[Service, ...] = ()
    colours: Mapping[str, str] = {}
    files: Mapping[Id, PromisedFile] = {}
    moved: tuple[Moved, ...] = ()
    domain: Domain = ""
    calls: tuple[OutsideCall, ...] = ()
    shop: Shop = NO_SHOP

    def page(self, page_id: Id) -> LivePage | None:
        """Return a live page by its id."""
        return remembered(self, "by_id", _by_id).get(page_id)

    def sold(self) -> Mapping[str, Sold]:
        """Return what the live pages offer, by the key of a cart's line."""
        return remembered(self, "sold_by_key", _sold)

    def page_at(self, slug: str) -> LivePage | None:
        """Return the live page at an address."""
        return remembered(self, "by_slug", _by_slug).get(slug)

    def part(self, part_id: Id) -> tuple[LivePage, LivePart] | None:
        """Return a part that is shown elsewhere, with the page that it is of."""
        return next(((page, part) for page in self.pages for part in page.parts
                     if part.id == part_id), None)

    def moved_from(self, slug: str) -> Moved | None:
        """Return what is known of an address at which no page stands any more."""
        return next((one for one in self.moved if one.slug == slug), None)

    def every_form(self) -> Iterator[Form]:
        """Yield the forms of all pages, those sent last first, and then those of none."""
        for page in sorted(self.pages, key=lambda page: page.sent_at, reverse=True):
            yield from page.forms
        yield from self.forms

    def form(self, form_id: Id, page_id: Id = "") -> Form | None:
        """Return a form as it stands on a page, or as it was sent last."""
        page = self.page(page_id)
        own = page.forms if page else ()
        return next((form for form in (*own, *self.every_form()) if form.id == form_id), None)


def _by_id(live: Live) -> dict[str, LivePage]:
    return {page.id: page for page in live.pages}


def _by_slug(live: Live) -> dict[str, LivePage]:
    return {page.slug: page for page in live.pages}


class ReleasedFile(Strict, frozen=True, array_like=True):
    """A file of a release: the digest of its bytes, and how many there are."""

    digest: Digest
    size: int


class SentPage(Strict, frozen=True, array_like=True):
    """What a release did to a page: its id, its name of then, and what changed in words."""

    page: OwnId
    name: str
    changes: tuple[str, ...] = ()


class Release(Strict, frozen=True, dict=True):
    """One state of everything that visitors get.

    Attributes:
        at: ISO time, UTC.
        files: Every file that a visitor can fetch, by its path.
        sent: The digest of each page as it was in Needle when it was sent, by the page's id.
        who: Who sent it, as the system calls them.
        name: What the person called it.
        told: What it did, page by page.
        off: Names of pages that it took off.
        back_to: The release that it brought back; empty for any other.
    """

    id: ReleaseId
    at: str
    live: Live
    files: Mapping[_Path, ReleasedFile]
    sent: Mapping[OwnId, Digest] = {}
    who: str = ""
    name: str = ""
    told: tuple[SentPage, ...] = ()
    off: tuple[str, ...] = ()
    back_to: str = ""


class Scheduled(Strict, frozen=True):
    """What will be done to what is live, by whichever host runs then.

    Attributes:
        at: ISO time, UTC.
        pages: Those that are sent or taken off.
        names: Theirs, as they were.
        planned: The release in which the pages stand as they will be sent; `None` if they are
            taken off.
        to: Where the addresses of pages that are taken off lead, as `after_taking_off` takes it.
        fault: Why it could not be done when it was due, in words; empty while it waits.
    """

    id: OwnId
    at: str
    pages: tuple[OwnId, ...]
    names: tuple[str, ...]
    planned: Release | None = None
    to: Mapping[OwnId, Id] = {}
    fault: str = ""


class _Pages(msgspec.Struct, frozen=True):
    pages: tuple[msgspec.Raw, ...] = ()


class Summary(msgspec.Struct, frozen=True):
    """What a list says of a release, as `Release` has it; read in a fraction of the time."""

    id: str
    at: str
    live: _Pages
    who: str = ""
    name: str = ""
    told: tuple[SentPage, ...] = ()
    off: tuple[str, ...] = ()
    back_to: str = ""


def _sold(live: Live) -> dict[str, Sold]:
    return {f"{page.row}.{offer.key}" if offer.key else page.row: Sold(
                page.thing, page.slug, offer, frozenset(page.traits))
            for page in live.pages if page.row for offer in page.offers
            # What costs another currency cannot be added to the rest, and is not sold.
            if offer.costs_in(live.shop.currency)}
