"""A project folder: `site.json`, one file for each page, media and results."""

import fcntl
from collections.abc import Mapping
from pathlib import Path
from typing import Any, TypeVar

import msgspec

from needle.core.edit.pages import slug_fault
from needle.core.site.look import Look
from needle.core.site.site import SCHEMA, Page, Site
from needle.core.site.styletable import look_faults
from needle.store.files import write_atomically
from needle.store.upgrading import upgraded_site

__all__ = ["Project", "ProjectError", "json_schema", "read_site"]

_SITE_FILE = "site.json"
_PAGES = "pages"
_T = TypeVar("_T")


class ProjectError(Exception):
    """A project that cannot be opened or written; the message names file, place and reason."""


class _SiteFile(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """What `site.json` holds: the site without its pages, and where those are."""

    needle: int
    site: Site
    pages: tuple[str, ...]


_SITE_DECODER = msgspec.json.Decoder(_SiteFile)
_PAGE_DECODER = msgspec.json.Decoder(Page)


def json_schema() -> Mapping[str, Any]:
    """Return the JSON Schema of `site.json` and of the page files."""
    (site, page), parts = msgspec.json.schema_components((_SiteFile, Page))
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", "site.json": site,
            "pages/*.json": page, "$defs": parts}


def read_site(folder: Path) -> Site:
    """Read a project without opening it for writing.

    Raises:
        ProjectError: It is missing, broken, newer than this Needle, or not a project.
    """
    return _read(folder)[0]


def _read(folder: Path) -> tuple[Site, dict[str, Page]]:
    path = folder / _SITE_FILE
    raw = _bytes_of(path)
    raw = upgraded_site(raw, _check_schema(path, raw))
    held = _decoded(path, raw, _SITE_DECODER)
    pages: dict[str, Page] = {}
    for name in held.pages:
        if "/" in name or name.startswith("."):
            raise ProjectError(f"{path}: the page file {name!r} lies outside the project.")
        file = folder / _PAGES / name
        pages[name] = _decoded(file, _bytes_of(file), _PAGE_DECODER)
    site = msgspec.structs.replace(held.site, pages=tuple(pages.values()))
    _check_sense(folder, site, pages)
    return site, pages


def _bytes_of(path: Path) -> bytes:
    try:
        return path.read_bytes()
    except FileNotFoundError:
        raise ProjectError(f"{path} is missing. Choose the folder of a Needle project.") from None
    except OSError as error:
        raise ProjectError(f"{path} cannot be read: {error.strerror}.") from error


def _check_schema(path: Path, raw: bytes) -> int:
    """Return the schema that a file was written in, if this Needle reads it."""
    try:
        held = msgspec.json.decode(raw)
    except (msgspec.DecodeError, UnicodeDecodeError) as error:
        raise ProjectError(f"{path} is broken or cut short: {error}. Nothing was changed; "
                           "bring back a copy of the file.") from error
    schema = held.get("needle") if isinstance(held, dict) else None
    if not isinstance(schema, int) or isinstance(schema, bool):
        raise ProjectError(f"{path} is not a Needle project: it has no schema number "
                           "“needle” at its top.")
    if schema > SCHEMA:
        raise ProjectError(f"{path} was written by a newer Needle (schema {schema}; this one "
                           f"reads up to {SCHEMA}). Open it with the newer one.")
    return schema


def _decoded(path: Path, raw: bytes, decoder: msgspec.json.Decoder[_T]) -> _T:
    try:
        return decoder.decode(raw)
    except msgspec.ValidationError as error:
        raise ProjectError(f"{path} does not hold what a project holds: {error}. "
                           "Nothing was changed.") from error
    except (msgspec.DecodeError, UnicodeDecodeError) as error:
        raise ProjectError(f"{path} is broken or cut short: {error}. Nothing was changed; "
                           "bring back a copy of the file.") from error


def _check_sense(folder: Path, site: Site, pages: Mapping[str, Page]) -> None:
    """Refuse values that the types allow but the rest of Needle does not."""
    ids: set[str] = set()
    for name, page in pages.items():
        file = folder / _PAGES / name
        if not page.variants:
            raise ProjectError(f"{file}: the page has no variant.")
        if fault := slug_fault(site, page.slug, page.id):
            raise ProjectError(f"{file}: {fault}")
        for node in (n for variant in page.variants for n in variant.nodes()):
            if node.id in ids:
                raise ProjectError(f"{file}: the id {node.id!r} stands there twice.")
            ids.add(node.id)
            _check_look(file, node.id, node.look)
    for style in site.styles:
        _check_look(folder / _SITE_FILE, f"text style {style.key}", style.look)


def _check_look(file: Path, where: str, look: Look) -> None:
    if faults := look_faults(look):
        raise ProjectError(f"{file}, at {where}: {faults[0]}.")


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
        self._lock = _locked(folder)
        try:
            self.saved, pages = _read(folder)
        except BaseException:
            self.close()
            raise
        self._files = {page.id: name for name, page in pages.items()}

    @classmethod
    def create(cls, folder: Path, site: Site) -> "Project":
        """Write a new project and open it.

        Raises:
            ProjectError: The folder holds a project already, or cannot be written.
        """
        if (folder / _SITE_FILE).exists():
            raise ProjectError(f"{folder} holds a project already. Choose an empty folder.")
        try:
            folder.mkdir(parents=True, exist_ok=True)
            _write(folder, site, None, {})
        except OSError as error:
            raise ProjectError(f"{folder} cannot be written: {error.strerror}.") from error
        return cls(folder)

    def save(self, site: Site) -> int:
        """Write what changed since the last save, and return how many files that were.

        Raises:
            ProjectError: The disk refused it; what was there before is whole.
        """
        try:
            self._files, count = _write(self.folder, site, self.saved, self._files)
        except OSError as error:
            raise ProjectError(f"The project could not be saved in {self.folder}: "
                               f"{error.strerror}. It is kept in this window; free some space "
                               "and it is saved by itself.") from error
        self.saved = site
        return count

    def close(self) -> None:
        """Let another window open the project."""
        self._lock.close()


def _locked(folder: Path) -> Any:
    if not (folder / _SITE_FILE).exists():
        raise ProjectError(f"{folder / _SITE_FILE} is missing. Choose the folder of a Needle "
                           "project.")
    try:
        lock = open(folder / ".lock", "a+b")  # noqa: SIM115 - held while the project is open
    except OSError as error:
        raise ProjectError(f"{folder} cannot be written: {error.strerror}.") from error
    try:
        fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        lock.close()
        raise ProjectError(f"{folder} is open in another Needle window. Go on there, or close "
                           "it first.") from None
    return lock


def _page_file(page: Page) -> str:
    return f"{page.slug or 'home'}-{page.id}.json"


def _write(folder: Path, site: Site, saved: Site | None, files: Mapping[str, str],
           ) -> tuple[dict[str, str], int]:
    """Write pages first, then the file that names them, then clear away what is left over."""
    before = {page.id: page for page in saved.pages} if saved else {}
    names = {page.id: _page_file(page) for page in site.pages}
    count = 0
    for page in site.pages:
        if before.get(page.id) is not page or files.get(page.id) != names[page.id]:
            write_atomically(folder / _PAGES / names[page.id], _encoded(page))
            count += 1
    if saved is None or list(names.items()) != list(files.items()) or _outside(saved) != _outside(
            site):
        held = _SiteFile(needle=SCHEMA, site=msgspec.structs.replace(site, pages=()),
                         pages=tuple(names.values()))
        write_atomically(folder / _SITE_FILE, _encoded(held))
        count += 1
    for name in set(files.values()) - set(names.values()):
        (folder / _PAGES / name).unlink(missing_ok=True)
    return names, count


def _outside(site: Site) -> list[object]:
    """Everything but the pages."""
    return [getattr(site, name) for name in site.__struct_fields__ if name != "pages"]


