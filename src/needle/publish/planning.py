"""Planning a release: which files the next one has, and what that means for what is there.

All of it is pure: what a page needs travels with the page, so a page that is not sent keeps the
files, forms and sizes that it was sent with.
"""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from typing import Any

import msgspec

from needle.core.kinds.cart import CartBox
from needle.core.kinds.formbox import FormBox
from needle.core.measure.goals import goals_on
from needle.core.render.outside import part_variant
from needle.core.site.site import Page, Site
from needle.core.tables.choosing import bought_with, traits_of
from needle.core.tables.expanding import expanded
from needle.core.values.form import Form
from needle.core.values.ids import Id
from needle.core.values.testplan import ANY_GOAL
from needle.publish.refusing import PublishError
from needle.publish.release import (
    Counted,
    Live,
    LivePage,
    LivePart,
    LiveVariant,
    Moved,
    PromisedFile,
    Release,
    ReleasedFile,
)
from needle.publish.rendering import page_file, part_file
from needle.publish.sharing import timed

__all__ = ["Delta", "MadePage", "after_schedule", "after_sending", "after_taking_off", "as_live",
           "brought_back", "difference", "files_of", "refuse_clash"]


@dataclass(frozen=True)
class MadePage:
    """A page that was rendered.

    Attributes:
        files: Its own files and everything that they load, by path.
        policies: What each of its own may load and run, by path.
        sent: The digest of the page as it is in Needle.
    """

    page: Page
    files: Mapping[str, ReleasedFile]
    policies: Mapping[str, str]
    sent: str


@dataclass(frozen=True)
class Delta:
    """What has to happen to a place that holds some files for it to hold others.

    Attributes:
        put: Files that it lacks or holds otherwise: what pages load first, pages last.
        remove: Paths that nothing asks for any more: pages first.
    """

    put: Mapping[str, ReleasedFile] = field(default_factory=dict)
    remove: tuple[str, ...] = ()


def _pages_last(path: str) -> tuple[bool, str]:
    return (not path.startswith("assets/"), path)


def difference(before: Mapping[str, ReleasedFile], after: Mapping[str, ReleasedFile]) -> Delta:
    """Return what leads from some files to others."""
    put = {path: after[path] for path in sorted(after, key=_pages_last)
           if before.get(path) != after[path]}
    return Delta(put, tuple(sorted(before.keys() - after.keys(), key=_pages_last, reverse=True)))


def refuse_clash(before: Live, wanted: Iterable[Page]) -> None:
    """Refuse pages at an address where another one is live.

    Raises:
        PublishError: One is.
    """
    _refuse_taken(before, wanted)


def after_sending(site: Site, before: Release | None, made: Iterable[MadePage], at: str,
                  promised: Mapping[Id, PromisedFile] | None = None,
                  ) -> tuple[Live, dict[str, ReleasedFile], dict[str, str]]:
    """Return what is live once these pages are sent, its files, and each page's digest.

    Every other page keeps what it was sent with.

    Args:
        at: ISO time, UTC.
        promised: The files that letters bring, by their ids.
    """
    made = list(made)
    old = before.live if before else Live(site.address, site.name)
    fresh = {one.page.id: _live_page(site, one, at, old.page(one.page.id)) for one in made}
    pages = (*(page for page in old.pages if page.id not in fresh), *fresh.values())
    carried = {form.id for page in pages for form in page.forms}
    live = Live(site.address, site.name, pages, site.language,
                tuple(form for form in site.forms if form.id not in carried), site.services,
                site.brand.colours(), {**old.files, **(promised or {})},
                _moved(old, pages), site.domain, site.calls, site.shop)
    known = dict(before.files) if before else {}
    for one in made:
        known |= one.files
    sent = {**(before.sent if before else {}), **{one.page.id: one.sent for one in made}}
    return live, files_of(pages, known), {page.id: sent[page.id] for page in pages
                                          if page.id in sent}


def as_live(site: Site, at: str = "") -> Live:
    """Return a draft as if it were live, for files that name its pages."""
    return Live(site.address, site.name, tuple(
        LivePage(page.id, page.name, page.slug, at, (), unlisted=page.unlisted)
        for page in expanded(site).pages), site.language, domain=site.domain)


def after_taking_off(before: Release, gone: Iterable[Id], to: Mapping[Id, Id] | None = None,
                     ) -> tuple[Live, dict[str, ReleasedFile], dict[str, str]]:
    """Return what is live once some pages are taken off, its files, and each page's digest.

    Args:
        to: Where the addresses of pages that are taken off lead from now on: a page that is
            still live, or nothing for one that is gone for good. A page that it does not name
            leaves nothing behind.
    """
    ids, leads = set(gone), to or {}
    pages = tuple(page for page in before.live.pages if page.id not in ids)
    left = {page.slug: leads[page.id] for page in before.live.pages
            if page.id in ids and page.id in leads}
    moved = tuple(msgspec.structs.replace(one, page=leads.get(one.page, ""))
                  if one.page in ids else one for one in before.live.moved
                  if one.page not in ids or one.page in leads)
    live = msgspec.structs.replace(before.live, pages=pages, moved=_settled(
        (*moved, *(Moved(slug, page) for slug, page in left.items())), pages))
    return live, files_of(pages, before.files), {
        page.id: before.sent[page.id] for page in pages if page.id in before.sent}


def after_schedule(now: Release, planned: Release, ids: Iterable[Id], at: str,
                   ) -> tuple[Live, dict[str, ReleasedFile], dict[str, str]]:
    """Return what is live once some pages stand as they were planned; all others stay as they
    are now, whatever they were when it was planned.

    Args:
        at: ISO time, UTC.

    Raises:
        PublishError: Another page stands at the address of one of them by now.
    """
    wanted = set(ids)
    fresh = {page.id: timed(msgspec.structs.replace(page, sent_at=at), now.live.page(page.id), at)
             for page in planned.live.pages if page.id in wanted}
    _refuse_taken(now.live, fresh.values())
    pages = (*(page for page in now.live.pages if page.id not in fresh), *fresh.values())
    carried = {form.id for page in pages for form in page.forms}
    live = msgspec.structs.replace(
        now.live, pages=pages, moved=_moved(now.live, pages),
        forms=tuple(form for form in now.live.forms if form.id not in carried),
        files={**planned.live.files, **now.live.files})
    sent = {page.id: (planned if page.id in fresh else now).sent.get(page.id, "")
            for page in pages}
    known = {**now.files, **files_of(fresh.values(), planned.files)}
    return live, files_of(pages, known), {page: digest for page, digest in sent.items() if digest}


def _refuse_taken(before: Live, fresh: Iterable[LivePage | Page]) -> None:
    pages = {page.id: page for page in fresh}
    taken = {page.slug: page for page in pages.values()}
    clash = next((page for page in before.pages
                  if page.id not in pages and page.slug in taken), None)
    if clash is not None:
        raise PublishError("publish-address-taken", page=clash.name, slug=clash.slug,
                           other=taken[clash.slug].name)


def brought_back(now: Release, then: Release, at: str) -> tuple[
        Live, dict[str, ReleasedFile], dict[str, str]]:
    """Return an earlier state as the next one; addresses that came up since lead on.

    Args:
        at: ISO time, UTC. A page that shares out its visitors otherwise than now does so since.
    """
    pages = tuple(timed(page, now.live.page(page.id), at) for page in then.live.pages)
    live = msgspec.structs.replace(then.live, pages=pages, moved=_settled(
        (*_since(now.live.pages, pages), *now.live.moved, *then.live.moved), pages))
    return live, dict(then.files), dict(then.sent)


def _since(now: Iterable[LivePage], then: Iterable[LivePage]) -> list[Moved]:
    slugs = {page.id: page.slug for page in then}
    return [Moved(page.slug, page.id) for page in now
            if page.id in slugs and slugs[page.id] != page.slug]


def files_of(pages: Iterable[LivePage], known: Mapping[str, ReleasedFile],
             ) -> dict[str, ReleasedFile]:
    """Return the files of some pages, out of those that are known."""
    wanted = {path for page in pages for path in (
        *page.files, *(variant.file for variant in page.variants))}
    return {path: known[path] for path in sorted(wanted) if path in known}


def _moved(old: Live, pages: tuple[LivePage, ...]) -> tuple[Moved, ...]:
    """Return which addresses lead elsewhere, once a page may have another one."""
    return _settled((*_since(old.pages, pages), *old.moved), pages)


def _settled(moved: Iterable[Moved], pages: Iterable[LivePage]) -> tuple[Moved, ...]:
    """Return these without those that a page took over; of several for one address the first.

    They name pages, not addresses, so that there is never a chain of them nor a loop.
    """
    standing = {page.slug for page in pages}
    there = {page.id for page in pages}
    found: dict[str, Moved] = {}
    for one in moved:
        if one.slug not in standing and (not one.page or one.page in there):
            found.setdefault(one.slug, one)
    return tuple(found.values())


def _live_page(site: Site, made: MadePage, at: str, before: LivePage | None) -> LivePage:
    page = made.page
    variants = tuple(LiveVariant(v.key, v.share, page_file(page, v),
                                 made.policies.get(page_file(page, v), ""))
                     for v in page.variants)
    own = {variant.file for variant in variants}
    fresh = LivePage(page.id, page.name, page.slug, at, variants, _forms_on(site, page), "",
                     tuple(sorted(made.files.keys() - own)), page.unlisted, _parts(site, made),
                     cart=any(isinstance(node, CartBox) for variant in page.variants
                              for node in variant.nodes()), **_sold_on(site, page),
                     plan=msgspec.structs.replace(page.plan, believed="", counts=ANY_GOAL),
                     counted=tuple(Counted(key, goal, at) for key, goal in goals_on(site, page)))
    return timed(fresh, before, at, page.test_started)


def _sold_on(site: Site, page: Page) -> dict[str, Any]:
    """Return what a page offers of the shop's table."""
    goods = page.row.goods
    if goods is None or page.row.table != site.shop.table:
        return {}
    return {"row": page.row.row, "thing": page.row.label, "offers": goods.offers,
            "goes_with": bought_with(site, page.row.table, page.row.row),
            "traits": traits_of(site, page.row.table, page.row.row)}


def _parts(site: Site, made: MadePage) -> tuple[LivePart, ...]:
    found = []
    for part in site.outside_of(made.page.id):
        variant, file = part_variant(made.page, part.node), part_file(made.page, part)
        if variant is not None:
            found.append(LivePart(part.id, variant.key, file, part.sites,
                                  made.policies.get(file, "")))
    return tuple(found)


def _forms_on(site: Site, page: Page) -> tuple[Form, ...]:
    shown = {node.form for variant in page.variants for node in variant.nodes()
             if isinstance(node, FormBox)}
    return tuple(form for form in site.forms if form.id in shown)
