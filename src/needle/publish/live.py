"""The test address: which pages are live, and sending them there.

The pages stand in the project's `live/` folder just as they would in any published folder;
`live.json` tells the host about them, and `sent/` keeps each page as it was when sent.
"""

from collections.abc import Iterable, Iterator, Mapping
from datetime import UTC, datetime
from pathlib import Path
from typing import Annotated

import msgspec

from needle.core.edit.changes import Sent, as_sent
from needle.core.kinds.formbox import FormBox
from needle.core.site.site import Page, Service, Site
from needle.core.values.form import Form
from needle.core.values.ids import Id, OwnId
from needle.core.values.language import ENGLISH, Language
from needle.core.values.strict import Address, Slug, Strict, VariantKey, strict_meta
from needle.publish.folder import Progress, PublishError, rendered, write_rendered
from needle.publish.rendering import Rendered, Renderer, page_file
from needle.store.files import write_atomically
from needle.store.paths import read_below

__all__ = ["Live", "LiveError", "LivePage", "LiveVariant", "live_folder", "read_live",
           "read_sent", "send_pages", "take_off"]

_LiveFile = Annotated[str, strict_meta(
    "live-file", r"(?:[a-z0-9]+(?:-[a-z0-9]+)*/)?(?:index|variant-[a-z]{1,2})\.html")]
_Place = Annotated[str, strict_meta(
    "live-place", r"media/[a-z0-9][a-z0-9_-]{0,63}\.[a-z0-9]{2,5}")]


class LiveError(PublishError):
    """The list of what is live is broken; the message says so, and what to do."""


class LiveVariant(Strict, frozen=True):
    """A variant that visitors can get.

    Attributes:
        share: How many of a hundred new visitors get it.
        file: Its file below the live folder.
        policy: What the page may load and run (Content Security Policy, level 3).
    """

    key: VariantKey
    share: int
    file: _LiveFile
    policy: str = ""


class LivePage(Strict, frozen=True):
    """A page that is live.

    Attributes:
        sent_at: ISO time, UTC.
        forms: Those that stand on it, as they were when it was sent.
        since: ISO time, UTC, since when visitors get these variants; empty if it was not kept.
    """

    id: OwnId
    name: str
    slug: Slug
    sent_at: str
    variants: tuple[LiveVariant, ...]
    forms: tuple[Form, ...] = ()
    since: str = ""


class PromisedFile(Strict, frozen=True, array_like=True):
    """A file that letters bring: its name, and its place below the project."""

    name: str
    place: _Place


class Live(Strict, frozen=True):
    """Everything that the host needs to know.

    Attributes:
        forms: Those that stand on no live page.
        colours: The palette by role, for letters that the host writes.
        files: What letters bring, by its id.
    """

    address: Address
    name: str
    pages: tuple[LivePage, ...] = ()
    language: Language = ENGLISH
    forms: tuple[Form, ...] = ()
    services: tuple[Service, ...] = ()
    colours: Mapping[str, str] = {}
    files: Mapping[Id, PromisedFile] = {}

    def page(self, page_id: Id) -> LivePage | None:
        """Return a live page by its id."""
        return next((page for page in self.pages if page.id == page_id), None)

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


def live_folder(project: Path) -> Path:
    """Return where a project's live pages stand."""
    return project / "live"


def read_live(project: Path) -> Live | None:
    """Return what is live, or `None` if nothing ever was.

    Raises:
        LiveError: The list of it is broken, or cannot be read.
    """
    try:
        return msgspec.json.decode(read_below(live_folder(project), "live.json"), type=Live)
    except FileNotFoundError:
        return None
    except OSError as error:
        raise LiveError("cannot-read", path=live_folder(project) / "live.json",
                        why=error.strerror) from error
    except (msgspec.DecodeError, UnicodeDecodeError, RecursionError) as error:
        raise LiveError("live-list-broken", path=live_folder(project) / "live.json",
                        why=error) from error


def read_sent(project: Path, page_id: Id) -> Sent | None:
    """Return a page as it was when it was last sent."""
    try:
        raw = read_below(live_folder(project), f"sent/{page_id}.json")
        return msgspec.json.decode(raw, type=Sent)
    except (OSError, msgspec.DecodeError, UnicodeDecodeError, RecursionError):
        return None


def send_pages(site: Site, project: Path, pages: Iterable[Id],
               progress: Progress | None = None, at: datetime | None = None) -> Live:
    """Make these pages live as they are now; the others stay as they were sent.

    Everything is looked at first; the list of what is live is switched last.

    Args:
        at: When they are sent, with its time zone; now by default.

    Raises:
        PublishError: Something speaks against it, the disk refused it, or the person stopped it.
    """
    wanted = [page for page in site.pages if page.id in set(pages)]
    folder = live_folder(project)
    try:
        before = read_live(project) or Live(site.address, site.name, language=site.language)
    except LiveError as error:
        raise PublishError("publish-nothing-sent", why=error) from error
    _refuse_clash(before, wanted)
    renderer = Renderer(site, project)
    done = rendered(renderer, [page.id for page in wanted])
    write_rendered(renderer, done, folder, progress)
    after = _after(site, before, wanted, done, at or datetime.now(UTC))
    try:
        for page in wanted:
            write_atomically(folder / "sent" / f"{page.id}.json",
                             msgspec.json.encode(as_sent(site, page)))
        _write_live(folder, after)
    except OSError as error:
        raise PublishError("cannot-write", path=folder, why=error.strerror) from error
    _clear(folder, before, after)
    return after


def _refuse_clash(before: Live, wanted: Iterable[Page]) -> None:
    fresh = {page.id: page for page in wanted}
    taken = {page.slug: page for page in fresh.values()}
    clash = next((page for page in before.pages
                  if page.id not in fresh and page.slug in taken), None)
    if clash is not None:
        raise PublishError("publish-address-taken", page=clash.name, slug=clash.slug,
                           other=taken[clash.slug].name)


def _after(site: Site, before: Live, wanted: Iterable[Page], done: Rendered, at: datetime,
           ) -> Live:
    """Return what is live once these pages are; every other page keeps its own forms."""
    now = at.astimezone(UTC).isoformat(timespec="seconds")
    fresh = {page.id: _live_page(site, page, now, done, before.page(page.id)) for page in wanted}
    kept = [_with_forms(page, before) for page in before.pages if page.id not in fresh]
    pages = (*kept, *fresh.values())
    carried = {form.id for page in pages for form in page.forms}
    files = {**before.files, **_promised(site)}
    return Live(site.address, site.name, pages, site.language,
                tuple(form for form in site.forms if form.id not in carried), site.services,
                site.brand.colours(), files)


def _with_forms(page: LivePage, before: Live) -> LivePage:
    """Return a page that an earlier Needle sent with all forms of then as its own."""
    return page if page.forms else msgspec.structs.replace(page, forms=before.forms)


def _promised(site: Site) -> dict[Id, PromisedFile]:
    """Return the files that letters bring."""
    wanted = {form.letter.file for form in site.forms if form.letter}
    return {medium.id: PromisedFile(medium.name, f"media/{medium.file}") for medium in site.media
            if medium.id in wanted}


def _live_page(site: Site, page: Page, now: str, done: Rendered, before: LivePage | None,
               ) -> LivePage:
    variants = tuple(LiveVariant(v.key, v.share, page_file(page, v),
                                 done.policies.get(page_file(page, v), ""))
                     for v in page.variants)
    shown = {node.form for variant in page.variants for node in variant.nodes()
             if isinstance(node, FormBox)}
    same = before is not None and [v.key for v in before.variants] == [v.key for v in variants]
    # An earlier Needle kept no such time; a running test knows at least the day it was made.
    since = before.since or page.test_started or before.sent_at if (
        before is not None and same) else now
    return LivePage(page.id, page.name, page.slug, now, variants,
                    tuple(form for form in site.forms if form.id in shown), since)


def take_off(project: Path, pages: Iterable[Id]) -> Live | None:
    """Take pages off the test address and return what is still live.

    Raises:
        PublishError: The list of what is live is broken, or the disk refused it.
    """
    try:
        before = read_live(project)
    except LiveError as error:
        raise PublishError("publish-nothing-off", why=error) from error
    if before is None:
        return None
    gone = set(pages)
    after = msgspec.structs.replace(
        before, pages=tuple(page for page in before.pages if page.id not in gone))
    folder = live_folder(project)
    try:
        _write_live(folder, after)
        _clear(folder, before, after)
        for page_id in gone:
            (folder / "sent" / f"{page_id}.json").unlink(missing_ok=True)
    except OSError as error:
        raise PublishError("cannot-write", path=folder, why=error.strerror) from error
    return after


def _write_live(folder: Path, live: Live) -> None:
    write_atomically(folder / "live.json", msgspec.json.encode(live))


def _clear(folder: Path, before: Live, after: Live) -> None:
    """Remove the files of pages that are no longer live."""
    kept = {variant.file for page in after.pages for variant in page.variants}
    for page in before.pages:
        for variant in page.variants:
            if variant.file not in kept:
                path = folder / variant.file
                path.unlink(missing_ok=True)
                if path.parent != folder and not any(path.parent.glob("*")):
                    path.parent.rmdir()
