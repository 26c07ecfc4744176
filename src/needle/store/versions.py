"""Every earlier version of a site, small on disk: what is new in each, packed against the last."""

import contextlib
import hashlib
import sqlite3
import time
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path

import msgspec
import zstandard

from needle.core.messages.message import Message, Named
from needle.core.site.site import Page, Site
from needle.core.values.ids import Id
from needle.store.kept import put_aside
from needle.store.refusing import StoreError
from needle.store.upgrading import upgraded_site

__all__ = ["Version", "Versions", "VersionsError", "begin_again"]

_FILE = "versions.db"
# A packed text needs the one before it, and that again the one before: no longer chains.
_LONGEST_CHAIN = 40
# Steps of one kind on one page within this time are one version.
_TOGETHER_MS = 90_000
_LEVEL = 9
# What damaged texts of a version end in.
_UNREADABLE = (msgspec.DecodeError, UnicodeDecodeError, zstandard.ZstdError, RecursionError)


class VersionsError(StoreError):
    """The earlier versions cannot be read or written; the message says why.

    Attributes:
        damaged: The file itself is no good any more.
    """

    def __init__(self, message: str | Message, /, *, damaged: bool = False,
                 **values: Named) -> None:
        super().__init__(message, **values)
        self.damaged = damaged


@dataclass(frozen=True, slots=True)
class Version:
    """One earlier version.

    Attributes:
        at_ms: When, in milliseconds since 1970 UTC.
        words: What was done, as undo names it.
        page: The page it was done on, as it was called then.
        name: What the person called it; empty for most.
    """

    id: int
    at_ms: int
    words: str
    page_id: Id
    page: str
    name: str


class _Manifest(msgspec.Struct, frozen=True):
    """What a version consists of: the hash of the site without pages, and of each page."""

    site: str
    pages: tuple[str, ...]


def begin_again(folder: Path) -> str:
    """Put a damaged file of versions aside, so that a new one begins; return what to tell.

    Raises:
        VersionsError: It cannot be put aside.
    """
    try:
        aside = put_aside(folder / _FILE)
        for ending in ("-wal", "-shm"):
            (folder / f"{_FILE}{ending}").unlink(missing_ok=True)
    except OSError as error:
        raise VersionsError("versions-not-aside", path=folder / _FILE,
                            why=error.strerror) from error
    return ("The earlier versions of this site were damaged. A new list of them is begun; the "
            f"old file is kept as {aside.name}. The site itself is whole.")


class Versions:
    """The versions of one project. One writer; it may live in another thread than the reader."""

    def __init__(self, folder: Path) -> None:
        """Open the versions of a project, making the file if it is missing.

        Raises:
            VersionsError: It is damaged or cannot be written.
        """
        self._path = folder / _FILE
        try:
            self._base = self._open()
            self._base.executescript(
                "PRAGMA journal_mode=WAL; PRAGMA synchronous=NORMAL;"
                "CREATE TABLE IF NOT EXISTS texts (hash TEXT PRIMARY KEY, base TEXT NOT NULL,"
                " depth INTEGER NOT NULL, data BLOB NOT NULL);"
                "CREATE TABLE IF NOT EXISTS versions (id INTEGER PRIMARY KEY, at INTEGER NOT NULL,"
                " words TEXT NOT NULL, page_id TEXT NOT NULL, page TEXT NOT NULL,"
                " name TEXT NOT NULL DEFAULT '', manifest TEXT NOT NULL, fresh TEXT NOT NULL);")
        except sqlite3.Error as error:
            raise VersionsError("versions-cannot-use", path=self._path, why=error,
                                damaged=_is_damage(error)) from error
        self._known: dict[Id, tuple[Page, str]] = {}
        self._fresh: list[str] = []

    def _open(self) -> sqlite3.Connection:
        return sqlite3.connect(self._path, check_same_thread=False, isolation_level=None)

    def close(self) -> None:
        """Let go of the file."""
        self._base.close()

    def _ask(self, statement: str, values: Sequence[object] = ()) -> sqlite3.Cursor:
        try:
            return self._base.execute(statement, values)
        except sqlite3.Error as error:
            raise VersionsError("versions-fail", why=error, damaged=_is_damage(error)) from error

    # Writing

    def record(self, site: Site, words: str, page_id: Id, at_ms: int | None = None) -> None:
        """Keep the site as it is now.

        What was done again on the same page shortly before becomes one version with this.

        Raises:
            VersionsError: The disk refused it.
        """
        at = time.time_ns() // 1_000_000 if at_ms is None else at_ms
        page = site.page(page_id)
        self._ask("BEGIN IMMEDIATE")
        try:
            self._record(site, words, page_id, page.name if page else "", at)
            self._ask("COMMIT")
        except BaseException as error:
            with contextlib.suppress(sqlite3.Error):
                self._base.execute("ROLLBACK")
            self._known.clear()
            if isinstance(error, _UNREADABLE):
                raise VersionsError("version-not-kept", why=error, damaged=True) from error
            raise

    def _record(self, site: Site, words: str, page_id: Id, page: str, at: int) -> None:
        rows = self._ask(
            "SELECT id, at, words, page_id, name, manifest, fresh FROM versions"
            " ORDER BY id DESC LIMIT 2").fetchall()
        self._fresh = []
        merged = bool(rows) and len(rows) == 2 and not rows[0][4] and (
            rows[0][2:4] == (words, page_id)) and at - rows[0][1] < _TOGETHER_MS
        before = rows[1][5] if merged else rows[0][5] if rows else ""
        former = self._manifest(before) if before else _Manifest("", ())
        manifest = self._packed(site, former)
        raw = msgspec.json.encode(manifest)
        name = self._keep(raw, before)
        if merged:
            self._ask("DELETE FROM versions WHERE id = ?", (rows[0][0],))
            self._forget(rows[0][6].split(), {name, manifest.site, *manifest.pages})
        elif name == before:
            return
        self._ask(
            "INSERT INTO versions (at, words, page_id, page, manifest, fresh)"
            " VALUES (?, ?, ?, ?, ?, ?)",
            (at, words, page_id, page, name, " ".join(self._fresh)))

    def _packed(self, site: Site, former: _Manifest) -> _Manifest:
        bare = msgspec.json.encode(msgspec.structs.replace(site, pages=()))
        bases = {self._page_key(name): name for name in former.pages} if former.pages else {}
        names = []
        for page in site.pages:
            known = self._known.get(page.id)
            if known is None or known[0] is not page or not self._held(known[1]):
                name = self._keep(msgspec.json.encode(page), bases.get(page.id, ""))
                known = (page, f"{page.id}:{name}")
                self._known[page.id] = known
            names.append(known[1])
        return _Manifest(self._keep(bare, former.site), tuple(names))

    @staticmethod
    def _page_key(name: str) -> Id:
        return name.partition(":")[0]

    def _held(self, name: str) -> bool:
        return self._ask("SELECT 1 FROM texts WHERE hash = ?",
                                  (_hash_of(name),)).fetchone() is not None

    def _keep(self, raw: bytes, base: str) -> str:
        """Store a text, packed against another one, and return its hash."""
        name = hashlib.sha256(raw).hexdigest()[:24]
        if self._held(name):
            return name
        base, depth = _hash_of(base), 0
        held = self._ask("SELECT depth FROM texts WHERE hash = ?", (base,)).fetchone()
        if held is None or held[0] >= _LONGEST_CHAIN:
            base = ""
        else:
            depth = held[0] + 1
        self._ask("INSERT INTO texts VALUES (?, ?, ?, ?)",
                           (name, base, depth, _squeezed(raw, self._text(base) if base else b"")))
        self._fresh.append(name)
        return name

    def _forget(self, fresh: Sequence[str], needed: set[str]) -> None:
        """Clear away the texts that a version brought, unless the next one needs them."""
        kept = {_hash_of(name) for name in needed}
        for name in fresh:
            if name in kept:
                self._fresh.append(name)
            elif self._ask("SELECT 1 FROM texts WHERE base = ? LIMIT 1",
                                    (name,)).fetchone() is None:
                self._ask("DELETE FROM texts WHERE hash = ?", (name,))
            else:
                self._fresh.append(name)

    def rename(self, version_id: int, name: str) -> None:
        """Give a version a name, or take it away with an empty one."""
        self._ask("UPDATE versions SET name = ? WHERE id = ?",
                           (" ".join(name.split())[:80], version_id))

    # Reading

    def count(self) -> int:
        """Return how many versions there are."""
        return int(self._ask("SELECT count(*) FROM versions").fetchone()[0])

    def listed(self, limit: int = 200, offset: int = 0, search: str = "") -> Sequence[Version]:
        """Return versions, newest first, whose words, page or name hold `search`."""
        like = f"%{search}%"
        rows = self._ask(
            "SELECT id, at, words, page_id, page, name FROM versions"
            " WHERE words LIKE ? OR page LIKE ? OR name LIKE ?"
            " ORDER BY id DESC LIMIT ? OFFSET ?", (like, like, like, limit, offset))
        return [Version(*row) for row in rows]

    def before(self, version_id: int) -> int:
        """Return the version before one, or 0."""
        row = self._ask("SELECT max(id) FROM versions WHERE id < ?",
                                 (version_id,)).fetchone()
        return int(row[0] or 0)

    def site(self, version_id: int) -> Site:
        """Return the whole site of a version.

        Raises:
            VersionsError: It is gone or damaged.
        """
        row = self._ask("SELECT manifest FROM versions WHERE id = ?", (version_id,)).fetchone()
        if row is None:
            raise VersionsError("version-gone")
        try:
            manifest = self._manifest(row[0])
            bare = msgspec.json.decode(upgraded_site(self._text(manifest.site), 1), type=Site)
            pages = tuple(msgspec.json.decode(self._text(_hash_of(name)), type=Page)
                          for name in manifest.pages)
        except _UNREADABLE as error:
            raise VersionsError("version-damaged", why=error) from error
        return msgspec.structs.replace(bare, pages=pages)

    def _manifest(self, name: str) -> _Manifest:
        return msgspec.json.decode(self._text(name), type=_Manifest)

    def _text(self, name: str) -> bytes:
        """Return a text by unpacking the chain that leads to it."""
        chain = []
        while name:
            row = self._ask("SELECT base, data FROM texts WHERE hash = ?",
                                     (_hash_of(name),)).fetchone()
            if row is None:
                raise VersionsError("version-part-missing", damaged=True)
            chain.append(row[1])
            name = row[0]
        raw = b""
        for data in reversed(chain):
            raw = _unsqueezed(data, raw)
        return raw


def _is_damage(error: sqlite3.Error) -> bool:
    """Return whether a fault is the file's own, not the disk's or another program's."""
    return (isinstance(error, sqlite3.DatabaseError) and not isinstance(
        error, sqlite3.OperationalError)) or "malformed" in str(error)


def _hash_of(name: str) -> str:
    """Return the hash in a page's name in a manifest, which begins with the page's id."""
    return name.rpartition(":")[2]


def _squeezed(raw: bytes, base: bytes) -> bytes:
    held = zstandard.ZstdCompressionDict(base, dict_type=zstandard.DICT_TYPE_RAWCONTENT) \
        if base else None
    return zstandard.ZstdCompressor(level=_LEVEL, dict_data=held).compress(raw)


def _unsqueezed(data: bytes, base: bytes) -> bytes:
    held = zstandard.ZstdCompressionDict(base, dict_type=zstandard.DICT_TYPE_RAWCONTENT) \
        if base else None
    return zstandard.ZstdDecompressor(dict_data=held).decompress(data)
