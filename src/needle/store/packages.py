"""Page packages: a zip of JSON and media."""

import hashlib
import os
import re
import zipfile
import zlib
from pathlib import Path

import msgspec

from needle.core.edit.outsidecode import codes_on_page
from needle.core.edit.packages import PACKAGE_SCHEMA, Package, pack_page, unpack_page
from needle.core.films.filmfile import FilmError, take_in_film
from needle.core.images.picturefile import PictureError, take_in
from needle.core.site.site import Site
from needle.core.tables.choosing import is_master
from needle.core.tables.mastering import unmake_master
from needle.core.type.fontfile import FontError, read_font
from needle.core.values.ids import Id
from needle.core.values.media import Medium
from needle.store.files import write_atomically
from needle.store.kept import config_folder
from needle.store.media import FILE_ENDINGS
from needle.store.paths import read_below
from needle.store.refusing import StoreError
from needle.store.trust import mark_foreign
from needle.store.upgrading import upgraded_site

__all__ = ["PackageError", "own_templates", "read_package", "take_package", "templates_folder",
           "write_package"]

_JSON = "package.json"
_ENTRY = re.compile(r"media/[0-9a-f]{16}(?:-still)?\.[a-z0-9]{2,5}\Z")
_MOST_ENTRIES = 400
_LARGEST = 300_000_000
_LARGEST_JSON = 20_000_000


class PackageError(StoreError):
    """A package that cannot be read or written; the message says why. Nothing was imported."""


def write_package(site: Site, folder: Path, page_id: Id, path: Path) -> None:
    """Write a page with all it needs.

    Raises:
        PackageError: The file cannot be written, or a picture of the page is missing.
    """
    package = pack_page(_ordinary(site, page_id), page_id)
    part = path.with_name(f".new-{path.name}")
    files = [*(medium.file for medium in package.media),
             *(medium.original for medium in package.media if medium.original),
             *(font.file for font in package.fonts)]
    try:
        with zipfile.ZipFile(part, "w", zipfile.ZIP_DEFLATED) as packed:
            packed.writestr(_JSON, msgspec.json.format(msgspec.json.encode(package), indent=1))
            for file in dict.fromkeys(files):
                packed.writestr(f"media/{file}", read_below(folder, f"media/{file}"))
        os.replace(part, path)
    except OSError as error:
        part.unlink(missing_ok=True)
        raise PackageError("cannot-write", path=path, why=error.strerror or error) from error


def read_package(path: Path) -> tuple[Package, dict[str, bytes]]:
    """Read a package and everything in it, checked; nothing is written yet.

    Returns:
        The package, and the bytes of its files by name.

    Raises:
        PackageError: It is no package, is damaged, is newer than this Needle, or holds something
            that does not belong into one.
    """
    try:
        with zipfile.ZipFile(path) as packed:
            entries = _checked_entries(packed, path.name)
            raw = packed.read(_JSON)
            files = {name.removeprefix("media/"): packed.read(name) for name in entries
                     if name != _JSON}
    except (OSError, zipfile.BadZipFile, RuntimeError, NotImplementedError, EOFError,
            ValueError, zlib.error) as error:
        raise PackageError("package-damaged", name=path.name) from error
    package = _decoded(raw, path.name)
    try:
        mark_foreign(codes_on_page(package.page))
    except OSError as error:
        raise PackageError("package-not-noted", name=path.name,
                           why=error.strerror or error) from error
    return _checked_media(package, files, path.name)


def _checked_entries(packed: zipfile.ZipFile, name: str) -> list[str]:
    infos = packed.infolist()
    if len(infos) > _MOST_ENTRIES or sum(info.file_size for info in infos) > _LARGEST:
        raise PackageError("package-bomb", name=name)
    names = [info.filename for info in infos]
    strange = [entry for entry in names if entry != _JSON and not _ENTRY.match(entry)]
    if strange:
        raise PackageError("package-strange-place", name=name, place=strange[0][:60])
    if _JSON not in names:
        raise PackageError("package-no-page", name=name)
    if packed.getinfo(_JSON).file_size > _LARGEST_JSON:
        raise PackageError("package-page-large", name=name)
    return names


def _decoded(raw: bytes, name: str) -> Package:
    try:
        held = msgspec.json.decode(raw)
        schema = held.get("needle_page") if isinstance(held, dict) else None
        if not isinstance(schema, int) or isinstance(schema, bool):
            raise PackageError("package-no-page", name=name)
        if schema > PACKAGE_SCHEMA:
            raise PackageError("package-newer", name=name)
        package = msgspec.json.decode(upgraded_site(raw, schema), type=Package)
    except (msgspec.DecodeError, UnicodeDecodeError) as error:
        raise PackageError("package-page-damaged", name=name, why=error) from error
    except RecursionError as error:
        raise PackageError("package-page-deep", name=name) from error
    if not package.page.variants:
        raise PackageError("package-page-empty", name=name)
    return package


def _checked_media(package: Package, files: dict[str, bytes], name: str,
                   ) -> tuple[Package, dict[str, bytes]]:
    """Return the package with its files as Needle itself would have taken them in."""
    kept: dict[str, bytes] = {}
    media = []
    for medium in package.media:
        data = files.get(medium.file)
        if data is None:
            raise PackageError("package-lacks-file", name=name, file=medium.name)
        file, data = _safe(medium, data, name)
        kept[file] = data
        if medium.original and medium.original in files:
            original = msgspec.structs.replace(medium, file=medium.original)
            kept[medium.original] = _safe(original, files[medium.original], name)[1]
        media.append(msgspec.structs.replace(medium, file=file))
    for font in package.fonts:
        data = files.get(font.file, b"")
        try:
            read_font(data, font.name or font.family, licensed=True)
        except FontError as error:
            raise PackageError("package-font", name=name, why=error) from error
        kept[font.file] = data
    return msgspec.structs.replace(package, media=tuple(media)), kept


def _safe(medium: Medium, data: bytes, name: str) -> tuple[str, bytes]:
    """Return file name and bytes of a medium; pictures are read as if they came from outside."""
    digest = hashlib.sha256(data).hexdigest()[:16]
    ending = medium.file.rpartition(".")[2]
    if medium.is_picture:
        try:
            taken = take_in(data, medium.name)
        except PictureError as error:
            raise PackageError("package-picture", name=name, why=error) from error
        if taken.data == data:
            return medium.file, data
        return f"{hashlib.sha256(taken.data).hexdigest()[:16]}.{taken.ending}", taken.data
    if not medium.is_video and f".{ending}" not in FILE_ENDINGS:
        raise PackageError("package-file-kind", name=name, file=medium.name)
    return (medium.file if medium.file.startswith(digest) else f"{digest}.{ending}"), data


def take_package(site: Site, folder: Path, path: Path) -> tuple[Site, Id]:
    """Return the site with a package's page in it, and the page's id; its files are kept.

    Raises:
        PackageError: It cannot be used. The site is as it was.
    """
    package, files = read_package(path)
    changed, page_id = unpack_page(site, package)
    changed = _ordinary(changed, page_id)
    try:
        for name, data in files.items():
            if not (folder / "media" / name).exists():
                write_atomically(folder / "media" / name, data)
        _check_films(package, folder)
    except OSError as error:
        raise PackageError("package-not-kept", name=path.name, why=error.strerror) from error
    return changed, page_id


def _ordinary(site: Site, page_id: Id) -> Site:
    """Return the site with a page for each row as one with the words that stand there: a package
    holds no table."""
    page = site.page(page_id)
    return unmake_master(site, page_id) if page is not None and is_master(page) else site


def _check_films(package: Package, folder: Path) -> None:
    for medium in package.media:
        if medium.is_video:
            try:
                take_in_film(folder / "media" / medium.file)
            except FilmError as error:
                (folder / "media" / medium.file).unlink(missing_ok=True)
                raise PackageError("package-film", why=error) from error


def templates_folder() -> Path:
    """Return where this user's own templates are."""
    return config_folder() / "templates"


def own_templates() -> list[Path]:
    """Return this user's own templates, by name."""
    return sorted(templates_folder().glob("*.zip"), key=lambda path: path.stem.casefold())
