"""The test address: which pages are live, and sending them there.

The pages stand in the project's `live/` folder just as they would in any published folder;
`live.json` tells the host about them, and `sent/` keeps each page as it was when sent.
"""

from collections.abc import Iterable
from datetime import UTC, datetime
from pathlib import Path

import msgspec

from needle.core.edit.changes import Sent, as_sent
from needle.core.site.form import Form
from needle.core.site.ids import Id
from needle.core.site.site import Page, Service, Site
from needle.publish.folder import Progress, PublishError, write_rendered
from needle.publish.rendering import Renderer, page_file
from needle.store.files import write_atomically

__all__ = ["Live", "LivePage", "LiveVariant", "live_folder", "read_live", "read_sent",
           "send_pages", "take_off"]


class LiveVariant(msgspec.Struct, frozen=True):
    """A variant that visitors can get.

    Attributes:
        share: How many of a hundred new visitors get it.
        file: Its file below the live folder.
    """

    key: str
    share: int
    file: str


class LivePage(msgspec.Struct, frozen=True):
    """A page that is live.

    Attributes:
        sent_at: ISO time, UTC.
    """

    id: Id
    name: str
    slug: str
    sent_at: str
    variants: tuple[LiveVariant, ...]


class Live(msgspec.Struct, frozen=True):
    """Everything that the host needs to know.

    Attributes:
        colours: The palette by role, for letters that the host writes.
        files: Name and place below the project of what letters bring, by its id.
    """

    address: str
    name: str
    pages: tuple[LivePage, ...] = ()
    forms: tuple[Form, ...] = ()
    services: tuple[Service, ...] = ()
    colours: dict[str, str] = {}
    files: dict[Id, tuple[str, str]] = {}

    def page(self, page_id: Id) -> LivePage | None:
        """Return a live page by its id."""
        return next((page for page in self.pages if page.id == page_id), None)


def live_folder(project: Path) -> Path:
    """Return where a project's live pages stand."""
    return project / "live"


def read_live(project: Path) -> Live | None:
    """Return what is live, or `None` if nothing ever was."""
    try:
        raw = (live_folder(project) / "live.json").read_bytes()
        return msgspec.json.decode(raw, type=Live)
    except (FileNotFoundError, msgspec.DecodeError):
        return None


def read_sent(project: Path, page_id: Id) -> Sent | None:
    """Return a page as it was when it was last sent."""
    try:
        raw = (live_folder(project) / "sent" / f"{page_id}.json").read_bytes()
        return msgspec.json.decode(raw, type=Sent)
    except (FileNotFoundError, msgspec.DecodeError):
        return None


def send_pages(site: Site, project: Path, pages: Iterable[Id],
               progress: Progress | None = None) -> Live:
    """Make these pages live as they are now; the others stay as they were sent.

    Raises:
        PublishError: The disk refused it, or the person stopped it.
    """
    wanted = [page for page in site.pages if page.id in set(pages)]
    folder = live_folder(project)
    renderer = Renderer(site, project)
    write_rendered(renderer, renderer.render([page.id for page in wanted]), folder, progress)
    before = read_live(project) or Live(site.address, site.name)
    now = datetime.now(UTC).isoformat(timespec="seconds")
    fresh = {page.id: _live_page(page, now) for page in wanted}
    kept = [page for page in before.pages if page.id not in fresh]
    taken = {page.slug: page for page in fresh.values()}
    if clash := next((page for page in kept if page.slug in taken), None):
        raise PublishError(f"“{clash.name}” is still live at /{clash.slug}. Send it or take it "
                           f"off before “{taken[clash.slug].name}” can go there.")
    after = Live(site.address, site.name, (*kept, *fresh.values()), site.forms, site.services,
                 site.brand.colours(), _promised(site))
    try:
        for page in wanted:
            write_atomically(folder / "sent" / f"{page.id}.json",
                             msgspec.json.encode(as_sent(site, page)))
        _write_live(folder, after)
    except OSError as error:
        raise PublishError(f"{folder} cannot be written: {error.strerror}.") from error
    _clear(folder, before, after)
    return after


def _promised(site: Site) -> dict[Id, tuple[str, str]]:
    """Return the files that letters bring."""
    wanted = {form.letter.file for form in site.forms if form.letter}
    return {medium.id: (medium.name, f"media/{medium.file}") for medium in site.media
            if medium.id in wanted}


def _live_page(page: Page, now: str) -> LivePage:
    variants = tuple(LiveVariant(v.key, v.share, page_file(page, v)) for v in page.variants)
    return LivePage(page.id, page.name, page.slug, now, variants)


def take_off(project: Path, pages: Iterable[Id]) -> Live | None:
    """Take pages off the test address and return what is still live."""
    before = read_live(project)
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
        raise PublishError(f"{folder} cannot be written: {error.strerror}.") from error
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
