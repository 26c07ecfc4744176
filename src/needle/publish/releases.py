"""The releases of a project on disk: what is live now, and everything that was.

Files stand under the digest of their bytes in `live/blobs/`, releases in `live/releases/`, and
`live/live.json` says which one is live. It is switched last, so a visitor gets the old or the new.
"""

import contextlib
import hashlib
import os
import secrets
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from datetime import datetime, timedelta
from functools import lru_cache
from pathlib import Path
from typing import Annotated, TypeVar

import msgspec
from filelock import FileLock, Timeout

from needle.core.edit.changes import Sent
from needle.core.values.ids import Id
from needle.core.values.strict import Strict, StrictError, whole
from needle.publish.refusing import PublishError
from needle.publish.release import (
    ASSET_NAME,
    Digest,
    Live,
    Release,
    ReleasedFile,
    ReleaseId,
    Scheduled,
    Summary,
)
from needle.store.files import write_atomically
from needle.store.paths import read_below

__all__ = ["KEPT", "LiveError", "Pointer", "Releases", "fresh_id", "live_folder",
           "read_live", "read_sent", "sent_bytes"]

T = TypeVar("T")
# How many releases are kept unless the person wants more or fewer.
KEPT = 100


class LiveError(PublishError):
    """The list of what is live is broken; the message says so, and what to do."""


class Pointer(Strict, frozen=True):
    """What `live.json` says.

    Attributes:
        release: The one that is live.
        keep: How many are kept.
    """

    release: ReleaseId
    keep: Annotated[int, whole(1, 10_000)] = KEPT


def live_folder(project: Path) -> Path:
    """Return where a project's releases stand."""
    return project / "live"


@dataclass(frozen=True)
class Releases:
    """The releases of a project."""

    project: Path

    @property
    def folder(self) -> Path:
        """Where they stand."""
        return live_folder(self.project)

    # What is there

    def pointer(self) -> Pointer | None:
        """Return which release is live; `None` if nothing ever was.

        Raises:
            LiveError: It is broken, or cannot be read.
        """
        path = self.folder / "live.json"
        try:
            raw = read_below(self.folder, "live.json")
        except FileNotFoundError:
            return None
        except OSError as error:
            raise LiveError("cannot-read", path=path, why=error.strerror) from error
        try:
            return msgspec.json.decode(raw, type=Pointer)
        except (msgspec.DecodeError, UnicodeDecodeError, RecursionError) as error:
            if adopted := self._adopted(raw):
                return adopted
            raise LiveError("live-list-broken", path=path, why=error) from error

    def current(self) -> Release | None:
        """Return the release that is live; `None` if nothing ever was.

        Raises:
            LiveError: It is broken, or cannot be read.
        """
        pointer = self.pointer()
        return None if pointer is None else self.read(pointer.release)

    def read(self, release: str) -> Release:
        """Return a release.

        Raises:
            LiveError: It is broken, cannot be read, or is not there.
        """
        return self._read(release, _decoded)

    def summary(self, release: str) -> Summary:
        """Return what a list says of a release.

        Raises:
            LiveError: It is broken, cannot be read, or is not there.
        """
        return self._read(release, _summary)

    def _read(self, release: str, decode: Callable[[bytes], T]) -> T:
        path = self.folder / "releases" / f"{release}.json"
        try:
            return decode(read_below(self.folder, f"releases/{release}.json"))
        except OSError as error:
            raise LiveError("cannot-read", path=path, why=error.strerror) from error
        except (msgspec.DecodeError, UnicodeDecodeError, RecursionError) as error:
            raise LiveError("live-list-broken", path=path, why=error) from error

    def ids(self) -> list[str]:
        """Return the ids of all releases, the last one first."""
        with contextlib.suppress(OSError):
            return sorted((path.stem for path in (self.folder / "releases").glob("r*.json")),
                          reverse=True)
        return []

    def every(self) -> Iterator[Release]:
        """Yield all releases that can be read, the last one first."""
        for release in self.ids():
            with contextlib.suppress(LiveError):
                yield self.read(release)

    def scheduled(self) -> list[Scheduled]:
        """Return what will be done to what is live, the next first.

        Raises:
            LiveError: A part of it is broken.
        """
        found = []
        for path in (self.folder / "schedule").glob("*.json"):
            try:
                found.append(_scheduled(path, path.stat().st_mtime_ns))
            except FileNotFoundError:
                continue
            except (OSError, msgspec.DecodeError, UnicodeDecodeError, StrictError) as error:
                raise LiveError("live-list-broken", path=path, why=error) from error
        return sorted(found, key=lambda one: (one.at, one.id))

    def path_of(self, digest: str) -> str:
        """Return where the bytes of a digest stand, below the folder."""
        return f"blobs/{digest[:2]}/{digest}"

    def has(self, digest: str) -> bool:
        """Whether the bytes of a digest are there."""
        return (self.folder / self.path_of(digest)).is_file()

    def bytes_of(self, file: ReleasedFile) -> bytes:
        """Return the bytes of a file of a release.

        Raises:
            PublishError: They are missing, or are not what they were.
        """
        try:
            data = read_below(self.folder, self.path_of(file.digest))
        except OSError as error:
            raise PublishError("release-file-missing", digest=file.digest[:12]) from error
        if hashlib.sha256(data).hexdigest() != file.digest:
            raise PublishError("release-file-damaged", digest=file.digest[:12])
        return data

    # Changing

    @contextlib.contextmanager
    def changing(self) -> Iterator[None]:
        """Keep everybody else from changing what is live meanwhile.

        Raises:
            PublishError: Somebody else does just now, or the folder cannot be written.
        """
        try:
            self.folder.mkdir(parents=True, exist_ok=True)
            with FileLock(self.folder / ".sending.lock", timeout=0):
                yield
        except Timeout as error:
            raise PublishError("publish-busy") from error

    def keep(self, data: bytes) -> ReleasedFile:
        """Keep some bytes and return what names them in a release.

        Raises:
            OSError: They cannot be written.
        """
        digest = hashlib.sha256(data).hexdigest()
        path = self.folder / self.path_of(digest)
        if not path.exists() or path.stat().st_size != len(data):
            path.parent.mkdir(parents=True, exist_ok=True)
            part = path.with_name(f".new-{secrets.token_hex(6)}")
            part.write_bytes(data)
            part.replace(path)
        return ReleasedFile(digest, len(data))

    def switch(self, release: Release) -> None:
        """Make a release the one that is live; it is kept from now on.

        Raises:
            OSError: It cannot be written. What was live is live still.
        """
        pointer = self.pointer()
        os.sync()  # Its files are on the disk before anything says that they are.
        write_atomically(self.folder / "releases" / f"{release.id}.json",
                         msgspec.json.encode(release))
        fresh = Pointer(release.id, pointer.keep if pointer else KEPT)
        write_atomically(self.folder / "live.json", msgspec.json.encode(fresh))

    def renamed(self, release: str, name: str) -> Release:
        """Give a release a name, and return it.

        Raises:
            LiveError: It cannot be read.
            PublishError: It cannot be written.
        """
        fresh = msgspec.structs.replace(self.read(release), name=" ".join(name.split())[:80])
        path = self.folder / "releases" / f"{release}.json"
        try:
            write_atomically(path, msgspec.json.encode(fresh))
        except OSError as error:
            raise PublishError("cannot-write", path=path, why=error.strerror) from error
        return fresh

    def keep_at_most(self, count: int) -> int:
        """Keep the last so many releases from now on, and the one that is live. Returns how many
        were let go.

        Raises:
            LiveError: What is live cannot be read.
            PublishError: The disk refused it.
        """
        pointer = self.pointer()
        if pointer is None:
            return 0
        try:
            write_atomically(self.folder / "live.json", msgspec.json.encode(
                Pointer(pointer.release, count)))
            return self.tidy()
        except OSError as error:
            raise PublishError("cannot-write", path=self.folder, why=error.strerror) from error

    def tidy(self) -> int:
        """Let go of releases beyond those that are kept, and of files that none needs.

        A release that cannot be read keeps every file, since nobody knows which are its own.

        Raises:
            OSError: The disk refused it.
        """
        pointer = self.pointer()
        if pointer is None:
            return 0
        ids = self.ids()
        gone = [one for one in ids[pointer.keep:] if one != pointer.release]
        for one in gone:
            (self.folder / "releases" / f"{one}.json").unlink(missing_ok=True)
        if gone:
            self._drop_unused()
        return len(gone)

    def _drop_unused(self) -> None:
        needed: set[str] = set()
        try:
            kept = [*(self.read(one) for one in self.ids()),
                    *(one.planned for one in self.scheduled() if one.planned)]
        except LiveError:
            return
        for release in kept:
            needed |= {file.digest for file in release.files.values()} | set(
                release.sent.values()) | {Path(file.place).name
                                          for file in release.live.files.values()}
        for path in (self.folder / "blobs").glob("*/*"):
            if path.name not in needed:
                path.unlink(missing_ok=True)

    def _adopted(self, raw: bytes) -> Pointer | None:
        """Make a release of what an earlier Needle kept as loose files; `None` if it did not."""
        try:
            live = msgspec.json.decode(raw, type=Live)
        except (msgspec.DecodeError, UnicodeDecodeError, RecursionError):
            return None
        release = _adopting(self, live)
        try:
            self.switch_first(release)
        except OSError as error:
            raise LiveError("cannot-write", path=self.folder, why=error.strerror) from error
        return Pointer(release.id)

    def switch_first(self, release: Release) -> None:
        """Make a release live where what is there is no release.

        Raises:
            OSError: It cannot be written.
        """
        write_atomically(self.folder / "releases" / f"{release.id}.json",
                         msgspec.json.encode(release))
        write_atomically(self.folder / "live.json", msgspec.json.encode(Pointer(release.id)))


@lru_cache(maxsize=64)
def _scheduled(path: Path, _stamp: int) -> Scheduled:
    """Return what is set for a time. Host and window ask every second, and it holds whole pages:
    it is read again only once it was written anew."""
    return msgspec.json.decode(path.read_bytes(), type=Scheduled)


@lru_cache(maxsize=8)
def _decoded(raw: bytes) -> Release:
    return msgspec.json.decode(raw, type=Release)


_summary = msgspec.json.Decoder(Summary).decode


def fresh_id(at: datetime, last: str = "") -> str:
    """Return an id for a release of a time, which sorts after that of the last one.

    A clock that was put back, and two releases in one moment, get the next id after the last.
    """
    told = f"r{at:%Y%m%d-%H%M%S}-{at.microsecond * 65_536 // 1_000_000:04x}"
    if told > last:
        return told
    day, moment, part = last[1:].split("-")
    number = int(part, 16) + 1
    if number < 65_536:
        return f"r{day}-{moment}-{number:04x}"
    after = datetime.strptime(day + moment, "%Y%m%d%H%M%S") + timedelta(seconds=1)
    return f"r{after:%Y%m%d-%H%M%S}-0000"


def _adopting(store: Releases, live: Live) -> Release:
    files: dict[str, ReleasedFile] = {}
    sent: dict[str, Digest] = {}
    assets = tuple(f"assets/{path.name}" for path in (store.folder / "assets").glob("*")
                   if ASSET_NAME.fullmatch(path.name))
    pages = []
    for page in live.pages:
        for variant in page.variants:
            _take_in(store, variant.file, files)
        # Written anew, since its digest is what later ones are compared with.
        with contextlib.suppress(OSError, msgspec.DecodeError, UnicodeDecodeError, RecursionError):
            was = msgspec.json.decode(read_below(store.folder, f"sent/{page.id}.json"), type=Sent)
            sent[page.id] = store.keep(sent_bytes(was)).digest
        pages.append(page)
    for path in assets:
        _take_in(store, path, files)
    held = tuple(path for path in assets if path in files)
    # The forms of the site were those of every page then.
    pages = [msgspec.structs.replace(page, files=held, forms=page.forms or live.forms)
             for page in pages]
    at = max((page.sent_at for page in pages), default="2026-01-01T00:00:00+00:00")
    return Release(fresh_id(datetime.fromisoformat(at)), at,
                   msgspec.structs.replace(live, pages=tuple(pages)), files, sent)


def _take_in(store: Releases, path: str, files: dict[str, ReleasedFile]) -> None:
    with contextlib.suppress(OSError):  # What is missing was missing for visitors, too.
        files[path] = store.keep(read_below(store.folder, path))


def sent_bytes(sent: Sent) -> bytes:
    """Return a page as it is kept once it is sent: the same bytes for the same page."""
    return msgspec.json.encode(sent, order="deterministic")


def read_live(project: Path) -> Live | None:
    """Return what is live, or `None` if nothing ever was.

    Raises:
        LiveError: The list of it is broken, or cannot be read.
    """
    release = Releases(project).current()
    return release.live if release else None


def read_sent(project: Path, page_id: Id, release: Release | None = None) -> Sent | None:
    """Return a page as it was when it was last sent; `None` if that is not known.

    Args:
        release: As it stands in this one; by default in the one that is live.

    Raises:
        LiveError: What is live is broken.
    """
    store = Releases(project)
    of = release or store.current()
    digest = of.sent.get(page_id) if of else None
    if digest is None:
        return None
    try:
        return msgspec.json.decode(read_below(store.folder, store.path_of(digest)), type=Sent)
    except (OSError, msgspec.DecodeError, UnicodeDecodeError, RecursionError):
        return None
