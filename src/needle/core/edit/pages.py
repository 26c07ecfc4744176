"""Edits of pages and of the split tests on them."""

import re
import unicodedata
from collections.abc import Mapping
from datetime import UTC, datetime
from typing import Any, Literal

import msgspec

from needle.core.edit.copying import fresh_variant
from needle.core.edit.place import EditError, with_page
from needle.core.kinds.heading import Heading
from needle.core.messages.message import Message, say
from needle.core.site.site import EndedTest, Folder, Page, Site, Variant
from needle.core.site.tree import Column, Row, Section
from needle.core.values.ids import Id, new_id
from needle.core.values.tables import Master
from needle.core.values.testplan import NO_PLAN
from needle.core.values.words import text

__all__ = [
    "LONGEST_NAME",
    "LONGEST_SLUG",
    "add_folder",
    "add_page",
    "add_whole_page",
    "bring_back",
    "change_code",
    "delete_folder",
    "delete_page",
    "duplicate_page",
    "free_name",
    "free_slug",
    "keep_variant",
    "move_page",
    "page_index",
    "put_in_folder",
    "rename_folder",
    "rename_page",
    "set_letter_width",
    "set_page",
    "set_share",
    "set_shares",
    "set_slug",
    "slug_fault",
    "slug_for",
    "split_page",
]

LONGEST_NAME = 80
LONGEST_SLUG = 80
_SLUG = re.compile(r"[a-z0-9]+(-[a-z0-9]+)*\Z")
_RESERVED = frozenset({"assets", "_needle"})


def page_index(site: Site, page_id: Id) -> int:
    """Return the index of a page.

    Raises:
        EditError: It is gone.
    """
    for index, page in enumerate(site.pages):
        if page.id == page_id:
            return index
    raise EditError("page-gone")


def slug_for(name: str) -> str:
    """Return an address made from a name: "Perséides, août" becomes "perseides-aout"."""
    flat = unicodedata.normalize("NFKD", name).encode("ascii", "ignore").decode().lower()
    return re.sub(r"[^a-z0-9]+", "-", flat).strip("-")[:60].strip("-")


def slug_fault(site: Site, slug: str, page_id: Id = "") -> Message | None:
    """Return why a page may not have this address, or `None`."""
    other = next((p for p in site.pages if p.slug == slug and p.id != page_id), None)
    if other is not None:
        return say("slug-taken", page=other.name, slug=slug)
    if slug in _RESERVED:
        return say("slug-reserved", slug=slug)
    if slug and not _SLUG.match(slug):
        return say("slug-signs", better=slug_for(slug) or "meteor-night")
    return None if len(slug) <= LONGEST_SLUG else say("slug-long", most=LONGEST_SLUG)


def _checked_name(site: Site, name: str, page_id: Id = "") -> str:
    tidy = " ".join(name.split())
    if not tidy:
        raise EditError("page-needs-name")
    if len(tidy) > LONGEST_NAME:
        raise EditError("page-name-long", most=LONGEST_NAME, count=len(tidy))
    if any(p.name.casefold() == tidy.casefold() and p.id != page_id for p in site.pages):
        raise EditError("page-name-taken", name=tidy)
    return tidy


def free_name(site: Site, wish: str) -> str:
    """Return the name of a page that is wished for, with a number if it is taken."""
    taken = {page.name.casefold() for page in site.pages}
    name, number = wish[:LONGEST_NAME], 2
    while name.casefold() in taken:
        name, number = f"{wish[: LONGEST_NAME - 4]} {number}", number + 1
    return name


def free_slug(site: Site, wish: str) -> str:
    """Return the address that is wished for, with a number if it is taken."""
    slug, number = wish or "page", 2
    while slug_fault(site, slug):
        slug, number = f"{wish or 'page'}-{number}", number + 1
    return slug


def add_page(site: Site, name: str) -> tuple[Site, Id]:
    """Return the site with a fresh page that holds one heading, and its id."""
    name = _checked_name(site, name)
    heading = Heading(id=new_id(), words=text(name), rank=1, style="title")
    row = Row(id=new_id(), children=(Column(id=new_id(), children=(heading,)),))
    section = Section(id=new_id(), name="Opening", children=(row,))
    slug = "" if not site.pages else free_slug(site, slug_for(name))
    page = Page(id=new_id(), name=name, slug=slug, title=name,
                variants=(Variant(key="A", children=(section,)),))
    return msgspec.structs.replace(site, pages=(*site.pages, page)), page.id


def add_whole_page(site: Site, page: Page, name: str) -> tuple[Site, Id]:
    """Return the site with a page that is already made, under a name, and its id.

    Raises:
        EditError: The name is empty, too long or taken.
    """
    name = _checked_name(site, name)
    slug = "" if not site.pages else free_slug(site, slug_for(name))
    made = msgspec.structs.replace(page, name=name, slug=slug, title=page.title or name)
    return msgspec.structs.replace(site, pages=(*site.pages, made)), page.id


def duplicate_page(site: Site, page_id: Id) -> tuple[Site, Id]:
    """Return the site with a copy of a page (its first variant), and the copy's id."""
    index = page_index(site, page_id)
    old = site.pages[index]
    name, number = f"{old.name} copy", 2
    while any(p.name == name for p in site.pages):
        name, number = f"{old.name} copy {number}", number + 1
    first = msgspec.structs.replace(fresh_variant(old.variants[0], "A"), share=100)
    page = msgspec.structs.replace(old, id=new_id(), name=_checked_name(site, name),
                                   slug=free_slug(site, slug_for(name)), variants=(first,),
                                   master=_following(old.master, old.variants[0], first),
                                   archive=(), test_started="", ended=(), plan=NO_PLAN)
    pages = (*site.pages[: index + 1], page, *site.pages[index + 1 :])
    return msgspec.structs.replace(site, pages=pages), page.id


def delete_page(site: Site, page_id: Id) -> Site:
    """Return the site without a page.

    Raises:
        EditError: It is the only one.
    """
    if len(site.pages) == 1:
        raise EditError("page-last")
    index = page_index(site, page_id)
    return msgspec.structs.replace(site, pages=site.pages[:index] + site.pages[index + 1 :])


def rename_page(site: Site, page_id: Id, name: str) -> Site:
    """Return the site with a page called `name`."""
    name = _checked_name(site, name, page_id)
    return set_page(site, page_id, name=name)


def set_slug(site: Site, page_id: Id, slug: str) -> Site:
    """Return the site with a page at another address."""
    slug = slug.strip().strip("/").lower()
    if fault := slug_fault(site, slug, page_id):
        raise EditError(fault)
    return set_page(site, page_id, slug=slug)


def set_page(site: Site, page_id: Id, **fields: object) -> Site:
    """Return the site with some fields of a page changed; what is written is not invented."""
    index = page_index(site, page_id)
    left = tuple(part for part in site.pages[index].invented if part not in fields)
    page = msgspec.structs.replace(site.pages[index], **({"invented": left} | fields))
    return site if page == site.pages[index] else with_page(site, index, page)


def split_page(site: Site, page_id: Id, now: datetime) -> Site:
    """Return the site with one more variant of a page; all get an even share.

    The first variant's share takes what does not divide. A test of other variants begins.

    Args:
        now: When it is made, with its time zone.
    """
    index = page_index(site, page_id)
    page = site.pages[index]
    if len(page.variants) == 8:
        raise EditError("split-test-full")
    used = {v.key for v in (*page.variants, *page.archive)}
    key = next(k for k in "ABCDEFGHIJKLMNOPQRSTUVWXYZ" if k not in used)
    fresh = fresh_variant(page.variants[0], key)
    page = msgspec.structs.replace(page, master=_following(
        page.master, page.variants[0], fresh, beside=True))
    return with_page(site, index, _tested(page, (*page.variants, fresh), now))


def _following(master: Master, old: Variant, fresh: Variant, beside: bool = False) -> Master:
    """Return a master in which the parts of a fresh copy of a variant follow rows, and depart, as
    those that they are copies of.

    Args:
        beside: The parts that were copied stay, too.
    """
    names = {node.id: copy.id for node, copy in zip(old.nodes(), fresh.nodes(), strict=True)}

    def followed(held: tuple[Any, ...]) -> tuple[Any, ...]:
        copies = tuple(msgspec.structs.replace(one, node=names[one.node])
                       for one in held if one.node in names)
        return (*held, *copies) if beside else copies

    return msgspec.structs.replace(master, apart=followed(master.apart),
                                   parts=followed(master.parts),
                                   departures=followed(master.departures))


def _tested(page: Page, variants: tuple[Variant, ...], now: datetime) -> Page:
    """Return the page with a fresh test of some variants, of even shares."""
    even = 100 // len(variants)
    shares = [100 - even * (len(variants) - 1)] + [even] * (len(variants) - 1)
    return msgspec.structs.replace(page, test_started=_iso(now), variants=tuple(
        msgspec.structs.replace(v, share=s) for v, s in zip(variants, shares, strict=True)))


def _iso(moment: datetime) -> str:
    return moment.astimezone(UTC).isoformat(timespec="milliseconds")


def bring_back(site: Site, page_id: Id, key: str, now: datetime) -> Site:
    """Return the site with an archived variant on the page again, in a fresh test.

    Raises:
        EditError: It is not in the archive, or the page has eight variants.
    """
    index = page_index(site, page_id)
    page = site.pages[index]
    archived = next((v for v in reversed(page.archive) if v.key == key), None)
    if archived is None:
        raise EditError("variant-not-archived", key=key)
    if len(page.variants) == 8:
        raise EditError("split-test-full")
    page = msgspec.structs.replace(page, archive=tuple(
        v for v in page.archive if v is not archived))
    return with_page(site, index, _tested(page, (*page.variants, archived), now))


def set_share(site: Site, page_id: Id, key: str, share: int) -> Site:
    """Return the site with a variant's share in percent; the others share the rest as before."""
    index = page_index(site, page_id)
    page = site.pages[index]
    if not 0 <= share <= 100:
        raise EditError("share-range")
    others = [v for v in page.variants if v.key != key]
    before = sum(v.share for v in others)
    left = 100 - share
    shares = {v.key: (left * v.share // before if before else left // len(others))
              for v in others}
    shares[others[-1].key] += left - sum(shares.values())
    shares[key] = share
    variants = tuple(msgspec.structs.replace(v, share=shares[v.key]) for v in page.variants)
    return with_page(site, index, msgspec.structs.replace(page, variants=variants))


def set_shares(site: Site, page_id: Id, shares: Mapping[str, int]) -> Site:
    """Return the site with all shares of a page set, by the variants' keys; together 100.

    Raises:
        EditError: They are no shares of its variants.
    """
    index = page_index(site, page_id)
    page = site.pages[index]
    if shares.keys() != {v.key for v in page.variants} or sum(shares.values()) != 100 or (
            min(shares.values()) < 0):
        raise EditError("share-range")
    return with_page(site, index, msgspec.structs.replace(page, variants=tuple(
        msgspec.structs.replace(v, share=shares[v.key]) for v in page.variants)))


def keep_variant(site: Site, page_id: Id, key: str, now: datetime, began: str = "") -> Site:
    """Return the site with one variant left on the page; the others go to its archive.

    Args:
        now: When the test ends, with its time zone.
        began: ISO time since when visitors got the variants; empty for when the test was made.
    """
    index = page_index(site, page_id)
    page = site.pages[index]
    kept = msgspec.structs.replace(page.variant(key), share=100)
    lost = tuple(v for v in page.variants if v.key != kept.key)
    test = EndedTest(started=began or page.test_started, ended=_iso(now), kept=kept.key,
                     shares={v.key: v.share for v in page.variants}, plan=page.plan)
    return with_page(site, index, msgspec.structs.replace(
        page, variants=(kept,), archive=(*page.archive, *lost), test_started="",
        plan=NO_PLAN, ended=(*page.ended, test) if page.tested else page.ended))


def set_letter_width(site: Site, page_id: Id, px: int) -> Site:
    """Return the site with one width for all sections of a page that set none of their own.

    Args:
        px: In CSS pixels; 0 leaves it to the default.
    """
    if px and not 280 <= px <= 2400:
        raise EditError("letter-width-range", width=px)
    return set_page(site, page_id, letter_width=px)


def move_page(site: Site, page_id: Id, steps: int) -> Site:
    """Return the site with a page earlier (negative) or later among the pages."""
    index = page_index(site, page_id)
    pages = list(site.pages)
    page = pages.pop(index)
    at = max(0, min(len(pages), index + steps))
    if at == index:
        return site
    pages.insert(at, page)
    return msgspec.structs.replace(site, pages=tuple(pages))


def _checked_folder(site: Site, name: str, folder_id: Id = "") -> str:
    tidy = " ".join(name.split())[:LONGEST_NAME]
    if not tidy:
        raise EditError("folder-needs-name")
    if any(f.name.casefold() == tidy.casefold() and f.id != folder_id for f in site.folders):
        raise EditError("folder-name-taken", name=tidy)
    return tidy


def add_folder(site: Site, name: str) -> tuple[Site, Id]:
    """Return the site with one more folder for pages, and its id."""
    folder = Folder(id=new_id(), name=_checked_folder(site, name))
    return msgspec.structs.replace(site, folders=(*site.folders, folder)), folder.id


def rename_folder(site: Site, folder_id: Id, name: str) -> Site:
    """Return the site with a folder called `name`."""
    name = _checked_folder(site, name, folder_id)
    return _with_folder(site, folder_id, name=name)


def _with_folder(site: Site, folder_id: Id, **fields: object) -> Site:
    folders = tuple(msgspec.structs.replace(f, **fields) if f.id == folder_id else f
                    for f in site.folders)
    return site if folders == site.folders else msgspec.structs.replace(site, folders=folders)


def delete_folder(site: Site, folder_id: Id) -> Site:
    """Return the site without a folder; its pages stay, in no folder."""
    for page in site.pages:
        if page.folder == folder_id:
            site = set_page(site, page.id, folder="")
    return msgspec.structs.replace(site, folders=tuple(
        folder for folder in site.folders if folder.id != folder_id))


def put_in_folder(site: Site, page_id: Id, folder_id: Id) -> Site:
    """Return the site with a page in a folder, or in none with an empty id."""
    if folder_id and site.folder(folder_id) is None:
        raise EditError("folder-gone")
    return set_page(site, page_id, folder=folder_id)


def change_code(site: Site, reach: Literal["site", "folder", "page"], target: Id,
                **parts: str) -> Site:
    """Return the site with outside code changed.

    Args:
        reach: Whether it is the site's, a folder's or a page's; `target` is which one.
        parts: "head", "body" or "css".
    """
    if reach == "site":
        code = msgspec.structs.replace(site.code, **parts)
        return site if code == site.code else msgspec.structs.replace(site, code=code)
    held = site.folder(target) if reach == "folder" else site.page(target)
    if held is None:
        raise EditError("code-gone", reach=reach)
    code = msgspec.structs.replace(held.code, **parts)
    if code == held.code:
        return site
    how = _with_folder if reach == "folder" else set_page
    return how(site, target, code=code)
