"""A project folder: `site.json`, one file for each page, media and results."""

import fcntl
import logging
from collections.abc import Iterator, Mapping
from pathlib import Path
from typing import Any, TypeVar

import msgspec

from needle.core.edit.doubles import doubled_ids
from needle.core.edit.outsidecode import OutsideCode, codes_in, codes_on_page
from needle.core.edit.pages import slug_fault
from needle.core.messages.message import Message, Named
from needle.core.site.site import SCHEMA, Page, Site
from needle.core.values.rows import RowOf
from needle.core.values.strict import PageFile, Strict
from needle.core.values.tables import Table
from needle.store.files import sweep, write_atomically
from needle.store.paths import read_below, strange_parts
from needle.store.refusing import StoreError
from needle.store.tablefiles import (
    TABLES,
    TableFile,
    clear_tables,
    heads_of,
    read_tables,
    write_tables,
)
from needle.store.trust import mark_foreign, own
from needle.store.upgrading import upgraded_site

__all__ = ["DoubledError", "Project", "ProjectError", "SiteFile", "json_schema", "project_lock",
           "read_parts", "read_site", "write_parts"]

_log = logging.getLogger(__name__)
_SITE_FILE = "site.json"
_PAGES = "pages"
_LEFT_OVER = "versions/left-over"
_T = TypeVar("_T")
_ANY_DECODER: msgspec.json.Decoder[Any] = msgspec.json.Decoder()


class ProjectError(StoreError):
    """A project that cannot be opened or written; the message names file, place and reason."""


class DoubledError(ProjectError):
    """A project in which two things have one id; `repair_project` keeps both.

    Attributes:
        folder: The project's.
    """

    def __init__(self, message: str | Message, /, folder: Path, **values: Named) -> None:
        super().__init__(message, folder=folder, **values)
        self.folder = folder


class SiteFile(Strict, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """What `site.json` holds: the site without its pages, and where those are."""

    needle: int
    site: Site
    pages: tuple[PageFile, ...]


_SITE_DECODER = msgspec.json.Decoder(SiteFile)
_PAGE_DECODER = msgspec.json.Decoder(Page)


def json_schema() -> Mapping[str, Any]:
    """Return the JSON Schema of `site.json`, of the page files and of those of tables."""
    (site, page, table), parts = msgspec.json.schema_components((SiteFile, Page, TableFile))
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", "site.json": site,
            "pages/*.json": page, "tables/*.json": table, "$defs": parts}


def read_site(folder: Path) -> Site:
    """Read a project without opening it for writing.

    Raises:
        ProjectError: It is missing, broken, newer than this Needle, or not a project.
    """
    site, pages = read_parts(folder)
    _check_sense(folder, site, pages)
    return site


def read_parts(folder: Path) -> tuple[Site, dict[str, Page]]:
    """Read a project's files, each by itself as it should be, and the pages by their files.

    Raises:
        ProjectError: As `read_site`, but for parts that do not go together.
    """
    path = folder / _SITE_FILE
    raw = _bytes_of(folder, _SITE_FILE)
    _check_links(folder)
    raw = upgraded_site(raw, _check_schema(path, raw))
    held = _decoded(path, raw, _SITE_DECODER)
    tables = _tables_of(folder, held.site.tables)
    pages: dict[str, Page] = {}
    for name in held.pages:
        if name in pages:
            raise ProjectError("project-page-twice", path=path, page=name)
        file = folder / _PAGES / name
        page = _decoded(file, _bytes_of(folder, f"{_PAGES}/{name}"), _PAGE_DECODER)
        # Only what is worked out is the page of a row.
        pages[name] = msgspec.structs.replace(page, row=RowOf()) if page.row.page else page
    return msgspec.structs.replace(
        held.site, pages=tuple(pages.values()), tables=tables), pages


def _tables_of(folder: Path, heads: tuple[Table, ...]) -> tuple[Table, ...]:
    tables: list[Table] = []
    for head in heads:
        path = folder / TABLES / f"{head.id}.json"
        try:
            tables += read_tables(folder, [head])
        except FileNotFoundError:
            raise ProjectError("project-missing", path=path) from None
        except OSError as error:
            raise ProjectError("cannot-read", path=path, why=error.strerror) from error
        except msgspec.ValidationError as error:
            raise ProjectError("project-other", path=path, why=error) from error
        except (msgspec.DecodeError, UnicodeDecodeError, RecursionError) as error:
            raise ProjectError("project-broken", path=path, why=error) from error
    return tuple(tables)


def _check_links(folder: Path) -> None:
    """Refuse a project with links or pipes in it: they could lead to any file of this user."""
    try:
        strange = next(strange_parts(folder), None)
    except OSError as error:
        raise ProjectError("cannot-read", path=folder, why=error.strerror) from error
    if strange is not None:
        raise ProjectError("project-link", path=strange)


def _bytes_of(folder: Path, name: str) -> bytes:
    path = folder / name
    try:
        return read_below(folder, name)
    except (FileNotFoundError, NotADirectoryError):
        raise ProjectError("project-missing", path=path) from None
    except OSError as error:
        raise ProjectError("cannot-read", path=path, why=error.strerror) from error


def _check_schema(path: Path, raw: bytes) -> int:
    """Return the schema that a file was written in, if this Needle reads it."""
    held = _decoded(path, raw, _ANY_DECODER)
    schema = held.get("needle") if isinstance(held, dict) else None
    if not isinstance(schema, int) or isinstance(schema, bool):
        raise ProjectError("project-no-schema", path=path)
    if schema > SCHEMA:
        raise ProjectError("project-newer", path=path, schema=schema, known=SCHEMA)
    return schema


def _decoded(path: Path, raw: bytes, decoder: msgspec.json.Decoder[_T]) -> _T:
    try:
        return decoder.decode(raw)
    except msgspec.ValidationError as error:
        raise ProjectError("project-other", path=path, why=error) from error
    except RecursionError as error:
        raise ProjectError("project-deep", path=path) from error
    except (msgspec.DecodeError, UnicodeDecodeError) as error:
        raise ProjectError("project-broken", path=path, why=error) from error


def _check_sense(folder: Path, site: Site, pages: Mapping[str, Page]) -> None:
    """Refuse values that are good by themselves but do not go together."""
    if double := next(iter(doubled_ids(site)), None):
        raise DoubledError("project-doubled", folder=folder, id=double.id,
                           first=double.first, second=double.second)
    for name, page in pages.items():
        file = folder / _PAGES / name
        if not page.variants:
            raise ProjectError("project-page-empty", path=file)
        if fault := slug_fault(site, page.slug, page.id):
            raise ProjectError("project-page-fault", path=file, why=fault)


def _encoded(value: object) -> bytes:
    packed = msgspec.json.encode(value, order="sorted")
    return msgspec.json.format(packed, indent=1) + b"\n"


class Project:
    """An open project: the only writer of its folder.

    Attributes:
        folder: Where it is.
        saved: The site as it is on disk.
    """

    def __init__(self, folder: Path) -> None:
        """Open a project for writing.

        Raises:
            ProjectError: It cannot be read, or another window has it open.
        """
        self.folder = folder
        self._lock = project_lock(folder)
        try:
            self.saved, pages = read_parts(folder)
            _check_sense(folder, self.saved, pages)
            _sweep(folder, pages)
            _note_foreign(self.saved)
        except BaseException:
            self.close()
            raise
        self._files: Mapping[str, str] = {page.id: name for name, page in pages.items()}

    @classmethod
    def create(cls, folder: Path, site: Site) -> "Project":
        """Write a new project and open it.

        Raises:
            ProjectError: The folder holds a project already, or cannot be written.
        """
        if (folder / _SITE_FILE).exists():
            raise ProjectError("project-there", folder=folder)
        try:
            folder.mkdir(parents=True, exist_ok=True)
            own(codes_in(site))
            write_parts(folder, site)
        except OSError as error:
            raise ProjectError("cannot-write", path=folder, why=error.strerror) from error
        return cls(folder)

    def save(self, site: Site) -> int:
        """Write what changed since the last save, and return how many files that were.

        Raises:
            ProjectError: The disk refused it; what was there before is whole.
        """
        try:
            own(_new_codes(site, self.saved))
            self._files, count = _write(self.folder, site, self.saved, self._files)
        except OSError as error:
            raise ProjectError("project-not-saved", folder=self.folder,
                               why=error.strerror) from error
        self.saved = site
        return count

    def close(self) -> None:
        """Let another window open the project."""
        self._lock.close()


def project_lock(folder: Path) -> Any:
    """Return the lock of a project; it holds until it is closed.

    Raises:
        ProjectError: There is no project, or another window has it open.
    """
    if not (folder / _SITE_FILE).exists():
        raise ProjectError("project-missing", path=folder / _SITE_FILE)
    try:
        lock = open(folder / ".lock", "a+b")  # noqa: SIM115 - held while the project is open
    except OSError as error:
        raise ProjectError("cannot-write", path=folder, why=error.strerror) from error
    try:
        fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        lock.close()
        raise ProjectError("project-open", folder=folder) from None
    return lock


def _new_codes(site: Site, saved: Site) -> Iterator[OutsideCode]:
    """Yield the code of what changed since the last save."""
    known = {id(page) for page in saved.pages}
    for page in site.pages:
        if id(page) not in known:
            yield from codes_on_page(page)
    if any(getattr(site, name) is not getattr(saved, name)
           for name in ("code", "folders", "tracking", "kept")):
        yield from codes_in(msgspec.structs.replace(site, pages=()))


def _note_foreign(site: Site) -> None:
    """Note the code that a project from elsewhere brings: it is off until it is allowed."""
    try:
        mark_foreign(codes_in(site))
    except OSError as error:  # It stays off all the same.
        _log.warning("outside code could not be noted: %s", error.strerror or error)


def write_parts(folder: Path, site: Site) -> None:
    """Write all files of a project.

    Raises:
        OSError: The disk refused it.
    """
    _write(folder, site, None, {})


def _sweep(folder: Path, pages: Mapping[str, Page]) -> None:
    """Clear away what a save left that was killed: files half written, pages nobody names."""
    for place in (folder, folder / _PAGES, folder / "media", folder / "live", folder / TABLES):
        sweep(place)
    for path in (folder / _PAGES).glob("*.json"):
        if path.name not in pages:
            _log.info("a page file that the site does not name was put aside")
            aside = folder / _LEFT_OVER
            aside.mkdir(parents=True, exist_ok=True)
            path.replace(aside / path.name)


def _page_file(page: Page) -> str:
    return f"{page.slug or 'home'}-{page.id}.json"


def _write(folder: Path, site: Site, saved: Site | None, files: Mapping[str, str],
           ) -> tuple[Mapping[str, str], int]:
    """Write pages and tables first, then the file that names them, then clear away what is left.
    """
    names, changed = _to_write(site, saved, files)
    for page in changed:
        write_atomically(folder / _PAGES / names[page.id], _encoded(page))
    count = len(changed) + write_tables(folder, site.tables, saved.tables if saved else ())
    listed = names is files or list(names.items()) == list(files.items())
    if saved is None or not listed or _outside(saved) != _outside(site):
        held = SiteFile(needle=SCHEMA, site=msgspec.structs.replace(
            site, pages=(), tables=heads_of(site.tables)), pages=tuple(names.values()))
        write_atomically(folder / _SITE_FILE, _encoded(held))
        count += 1
    for name in set() if names is files else set(files.values()) - set(names.values()):
        (folder / _PAGES / name).unlink(missing_ok=True)
    clear_tables(folder, site.tables, saved.tables if saved else ())
    return names, count


def _to_write(site: Site, saved: Site | None, files: Mapping[str, str],
              ) -> tuple[Mapping[str, str], list[Page]]:
    """Return the file of each page, and the pages that are not on the disk as they are."""
    if saved is not None and len(files) == len(site.pages) == len(saved.pages) and all(
            new is old or (new.id, new.slug) == (old.id, old.slug)
            for new, old in zip(site.pages, saved.pages, strict=True)):
        # Each page has the file that it had, as after almost every edit.
        return files, [new for new, old in zip(site.pages, saved.pages, strict=True)
                       if new is not old]
    before = {page.id: page for page in saved.pages} if saved else {}
    names = {page.id: _page_file(page) for page in site.pages}
    return names, [page for page in site.pages
                   if before.get(page.id) is not page or files.get(page.id) != names[page.id]]


def _outside(site: Site) -> list[object]:
    """Everything but the pages and the rows of tables."""
    return [heads_of(site.tables) if name == "tables" else getattr(site, name)
            for name in site.__struct_fields__ if name != "pages"]


