"""Making releases: pages are rendered and kept, and then one file says what is live.

Everything is looked at first, and what is live is switched last.
"""

import contextlib
import getpass
import hashlib
import os
from collections.abc import Callable, Iterable, Iterator, Mapping
from concurrent.futures import ThreadPoolExecutor
from datetime import UTC, datetime
from itertools import chain
from pathlib import Path

import msgspec

from needle.core.edit.changes import as_sent, changes_since
from needle.core.site.site import Page, Site
from needle.core.tables.expanding import expanded
from needle.core.values.ids import Id
from needle.publish.folder import Progress, rendered, unmade
from needle.publish.planning import (
    MadePage,
    after_sending,
    after_taking_off,
    brought_back,
    refuse_clash,
)
from needle.publish.refusing import PublishError
from needle.publish.release import Live, PromisedFile, Release, ReleasedFile, SentPage
from needle.publish.releases import LiveError, Releases, fresh_id, read_sent, sent_bytes
from needle.publish.rendering import Rendered, Renderer
from needle.store.paths import read_below

__all__ = ["PLANNED", "bring_back", "changed", "changed_pages", "changing", "page_digest",
           "planned", "send_pages", "take_off"]

# The id of a release that has none yet.
PLANNED = "r00000000-000000-0000"


def page_digest(site: Site, page: Page) -> tuple[bytes, str]:
    """Return a page with all that it draws on, as bytes that are kept, and the digest of them."""
    raw = sent_bytes(as_sent(site, page))
    return raw, hashlib.sha256(raw).hexdigest()


def changed_pages(site: Site, project: Path) -> list[Id]:
    """Return the pages that are not live as they are now.

    Raises:
        LiveError: What is live is broken.
    """
    site = expanded(site)
    now = Releases(project).current()
    sent = now.sent if now else {}
    return [page.id for page in site.pages if sent.get(page.id) != page_digest(site, page)[1]]


def send_pages(site: Site, project: Path, pages: Iterable[Id],
               progress: Progress | None = None, at: datetime | None = None,
               name: str = "") -> Live:
    """Make these pages live as they are now; the others stay as they were sent.

    Args:
        progress: Called with files done and files in all; returns whether to go on.
        at: When they are sent, with its time zone; now by default.
        name: What the release is called; by default it has no name but its time.

    Raises:
        PublishError: Something speaks against it, the disk refused it, or the person stopped it.
    """
    store = Releases(project)
    now = at or datetime.now(UTC)
    with changing(store, "publish-nothing-sent") as before:
        release = msgspec.structs.replace(
            planned(store, before, site, pages, now, progress), id=_next_id(store, now), name=name)
        _switch(store, release)
    return release.live


def planned(store: Releases, before: Release | None, site: Site, pages: Iterable[Id],
            now: datetime, progress: Progress | None = None) -> Release:
    """Return the release that sending these pages makes, all its files kept.

    Raises:
        PublishError: Something speaks against it, the disk refused it, or the person stopped it.
    """
    site, ids = expanded(site), set(pages)
    wanted = [page for page in site.pages if page.id in ids]
    refuse_clash(before.live if before else Live(site.address, site.name), wanted)
    renderer = Renderer(site, store.project)
    done = rendered(renderer, [page.id for page in wanted])
    told = tuple(_told(store, before, site, page) for page in wanted)
    try:
        made = _kept(store, site, renderer, done, wanted, before, progress)
        promised = _promised(site, store.project, store)
    except OSError as error:
        raise PublishError("cannot-write", path=store.folder, why=error.strerror) from error
    stamp = now.astimezone(UTC).isoformat(timespec="seconds")
    live, files, sent = after_sending(site, before, made, stamp, promised)
    return Release(PLANNED, stamp, live, files, sent, _who(), told=told)


def take_off(project: Path, pages: Iterable[Id], to: Mapping[Id, Id] | None = None,
             ) -> Live | None:
    """Take pages off and return what is still live; `None` if nothing ever was.

    Args:
        to: Where their addresses lead from now on, as `after_taking_off` takes it.

    Raises:
        PublishError: The list of what is live is broken, or the disk refused it.
    """
    gone = set(pages)

    def plan(before: Release) -> Release:
        live, files, sent = after_taking_off(before, gone, to)
        off = tuple(page.name for page in before.live.pages if page.id in gone)
        return Release(PLANNED, "", live, files, sent, off=off)

    return changed(project, "publish-nothing-off", plan)


def bring_back(project: Path, release: str) -> Live | None:
    """Make an earlier release live again, as a new one, and return what is live.

    Raises:
        PublishError: It cannot be read, a file of it is gone, or the disk refused it.
    """
    store = Releases(project)

    def plan(before: Release) -> Release:
        then = store.read(release)
        for path, file in then.files.items():
            if not store.has(file.digest):
                raise PublishError("release-file-gone", path=path)
        live, files, sent = brought_back(before, then, datetime.now(UTC).isoformat())
        return Release(PLANNED, "", live, files, sent, name=then.name,
                       back_to=then.id)

    return changed(project, "publish-nothing-sent", plan)


def changed(project: Path, refusal: str, plan: Callable[[Release], Release]) -> Live | None:
    """Make a release of what is live, and switch to it; return what is live then.

    Args:
        plan: Returns the next one, of the one that is live; its id and time are set here.

    Raises:
        PublishError: The list of what is live is broken, or the disk refused it.
    """
    store = Releases(project)
    with changing(store, refusal) as before:
        if before is None:
            return None
        now = datetime.now(UTC)
        fresh = plan(before)
        fresh = msgspec.structs.replace(
            fresh, id=_next_id(store, now), who=fresh.who or _who(),
            at=now.isoformat(timespec="seconds"))
        _switch(store, fresh)
    return fresh.live


@contextlib.contextmanager
def changing(store: Releases, refusal: str) -> Iterator[Release | None]:
    """Hold what is live for oneself, and give it."""
    with store.changing():
        try:
            before = store.current()
        except LiveError as error:
            raise PublishError(refusal, why=error) from error
        yield before


def _switch(store: Releases, release: Release) -> None:
    try:
        store.switch(release)
        store.tidy()
    except OSError as error:
        raise PublishError("cannot-write", path=store.folder, why=error.strerror) from error


def _next_id(store: Releases, now: datetime) -> str:
    return fresh_id(now.astimezone(UTC), next(iter(store.ids()), ""))


def _who() -> str:
    try:
        return getpass.getuser()[:80]
    except (OSError, KeyError):  # A user without a name, as in some containers.
        return ""


def _told(store: Releases, before: Release | None, site: Site, page: Page) -> SentPage:
    sent = read_sent(store.project, page.id, before) if before else None
    if sent is None:
        return SentPage(page.id, page.name)
    return SentPage(page.id, page.name, tuple(changes_since(sent, as_sent(site, page))))


def _promised(site: Site, project: Path, store: Releases) -> dict[Id, PromisedFile]:
    """Keep the files that letters bring: what a form needs is there as long as the form is."""
    wanted = {form.letter.file for form in site.forms if form.letter}
    found = {}
    for medium in site.media:
        if medium.id in wanted:
            try:
                data = read_below(project, f"media/{medium.file}")
            except OSError as error:
                raise PublishError("publish-medium-missing", name=medium.name) from error
            place = f"live/{store.path_of(store.keep(data).digest)}"
            found[medium.id] = PromisedFile(medium.name, place)
    return found


def _kept(store: Releases, site: Site, renderer: Renderer, done: Rendered, wanted: Iterable[Page],
          before: Release | None, progress: Progress | None) -> list[MadePage]:
    """Keep every file of the pages, what they load first, and return them as made.

    Raises:
        PublishError: A file cannot be made, or the person stopped it.
        OSError: A file cannot be written.
    """
    known = dict(before.files) if before else {}
    assets = {f"assets/{name}": name for name in done.asset_names}
    # What is named by what it is made of, and was kept before, need not be made again.
    files = {path: known[path] for path in assets
             if path in known and store.has(known[path].digest)}
    missing = [path for path in assets if path not in files]
    whole = len(missing) + len(done.pages)

    def make(path: str) -> bytes:
        try:
            return renderer.asset_bytes(done, assets[path])
        except (OSError, ValueError, SyntaxError) as error:
            raise unmade(error, assets[path]) from error

    with ThreadPoolExecutor(os.cpu_count()) as pool:
        made = zip(missing, pool.map(make, missing), strict=True)
        pages = ((path, words.encode()) for path, words in done.pages.items())
        for count, (path, data) in enumerate(chain(made, pages)):
            if progress and not progress(count, whole):
                pool.shutdown(cancel_futures=True)
                raise PublishError("publish-stopped")
            files[path] = store.keep(data)
    if progress:
        progress(whole, whole)
    return [_made(store, site, page, done, files) for page in wanted]


def _made(store: Releases, site: Site, page: Page, done: Rendered,
          files: Mapping[str, ReleasedFile]) -> MadePage:
    paths = done.paths_of(page)
    raw, digest = page_digest(site, page)
    store.keep(raw)
    return MadePage(page, {path: files[path] for path in paths}, done.policies, digest)
