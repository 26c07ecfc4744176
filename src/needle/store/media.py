"""A project's pictures, files and fonts on disk, and the sizes made of pictures."""

import hashlib
import io
from collections.abc import Mapping, Sequence
from pathlib import Path

import msgspec
from PIL import Image

from needle.core.films.filmfile import FilmError, take_in_film
from needle.core.images.cutting import cut_picture
from needle.core.images.picturefile import PictureError, take_in
from needle.core.images.sizes import rendition_widths, webp
from needle.core.markup.surroundings import Rendition
from needle.core.site.site import Cut, Font, Medium
from needle.core.type.fontfile import FontError, read_font
from needle.core.values.ids import new_id
from needle.store.files import write_atomically
from needle.store.paths import read_below

__all__ = ["FILE_ENDINGS", "EditPictures", "PublishedPictures", "import_file", "import_film",
           "import_picture", "keep_cut", "keep_font", "keep_made", "keep_picture",
           "rendition_bytes"]

_LARGEST_FILE = 60_000_000
# What is handed out to visitors: nothing that a browser would run.
FILE_ENDINGS = (".pdf", ".epub", ".zip", ".csv", ".ics", ".txt", ".docx", ".xlsx", ".odt",
                ".ods", ".mp3")


def import_picture(folder: Path, source: Path) -> Medium:
    """Copy a picture into the project's media and return its entry.

    Raises:
        PictureError: It cannot be used; nothing was copied.
    """
    try:
        if source.is_dir():
            raise PictureError("picture-is-folder", name=source.name)
        if source.exists() and not source.is_file():
            raise PictureError("picture-is-no-file", name=source.name)
        weight = source.stat().st_size
        if weight > _LARGEST_FILE:
            raise PictureError("picture-heavy", name=source.name, weight=weight // 1000000,
                               most=_LARGEST_FILE // 1000000)
        data = source.read_bytes()
    except OSError as error:
        raise PictureError("file-cannot-read", name=source.name, why=error.strerror) from error
    return keep_picture(folder, data, source.name)


def import_file(folder: Path, source: Path) -> Medium:
    """Copy a file that is to be handed out (a guide as PDF, a sheet) and return its entry.

    Raises:
        PictureError: It cannot be read, is too large, or is of a kind that would run.
    """
    ending = source.suffix.lower()
    if ending not in FILE_ENDINGS:
        raise PictureError("file-kind", name=source.name, endings=", ".join(FILE_ENDINGS))
    try:
        weight = source.stat().st_size
        if weight > _LARGEST_FILE:
            raise PictureError("file-heavy", name=source.name, weight=weight // 1000000,
                               most=_LARGEST_FILE // 1000000)
        data = source.read_bytes()
        name = _kept(folder, data, ending.lstrip("."))
    except OSError as error:
        raise PictureError("file-cannot-read", name=source.name, why=error.strerror) from error
    return Medium(id=new_id(), name=source.name, file=name, width=0, height=0, weight=len(data))


def keep_picture(folder: Path, data: bytes, name: str) -> Medium:
    """Take in a picture's bytes, as pasted or made, and return its entry.

    Raises:
        PictureError: It cannot be used; nothing was kept.
    """
    taken = take_in(data, name)
    try:
        file = _kept(folder, taken.data, taken.ending)
    except OSError as error:
        raise PictureError("file-not-kept", name=name, why=error.strerror) from error
    return Medium(id=new_id(), name=name, file=file, width=taken.width, height=taken.height,
                  weight=len(taken.data))


def keep_cut(folder: Path, medium: Medium, cut: Cut) -> Medium:
    """Return a medium's entry with its picture cut afresh from the file as it came.

    Raises:
        PictureError: The file is gone or cannot be cut.
    """
    original = medium.original or medium.file
    ending = original.rpartition(".")[2]
    try:
        data = read_below(folder, f"media/{original}")
        if cut == Cut():
            with Image.open(io.BytesIO(data)) as image:
                made, (width, height), file = data, image.size, original
        else:
            made, width, height = cut_picture(data, ending, cut)
            file = _kept(folder, made, ending if ending in ("jpg", "webp") else "png")
    except (OSError, ValueError) as error:
        raise PictureError("picture-cannot-cut", name=medium.name) from error
    return msgspec.structs.replace(
        medium, file=file, width=width, height=height, weight=len(made), cut=cut,
        original="" if cut == Cut() else original)


def keep_font(folder: Path, source: Path, licensed: bool = False) -> tuple[Font, ...]:
    """Copy a font into the project's media and return its cuts.

    Raises:
        FontError: It cannot be used; nothing was copied.
    """
    try:
        data = source.read_bytes()
        cuts = read_font(data, source.name, licensed)
        for cut in cuts:
            write_atomically(folder / "media" / cut.file, cut.data)
    except OSError as error:
        raise FontError("file-cannot-read", name=source.name, why=error.strerror) from error
    return tuple(Font(id=new_id(), family=cut.family, weight=cut.weight, italic=cut.italic,
                      file=cut.file, name=source.name, whole=cut.whole) for cut in cuts)


def _kept(folder: Path, data: bytes, ending: str) -> str:
    """Keep some bytes under a name made from them, and return it."""
    name = f"{hashlib.sha256(data).hexdigest()[:16]}.{ending}"
    if not (folder / "media" / name).exists():
        write_atomically(folder / "media" / name, data)
    return name


def keep_made(folder: Path, files: Mapping[str, bytes]) -> None:
    """Write files that were made here into the project's media, where they are not there yet.

    Args:
        files: Their bytes by name; a name comes from its bytes, so the same name is the same file.

    Raises:
        OSError: The disk is full, or may not be written to.
    """
    for name, data in files.items():
        path = folder / "media" / name
        if not path.exists():
            write_atomically(path, data)


def import_film(folder: Path, source: Path) -> tuple[Medium, Medium]:
    """Copy a video into the project's media; return its entry and that of a still from it.

    Raises:
        FilmError: It cannot be used; nothing was copied.
    """
    if source.is_dir():
        raise FilmError("film-is-folder", name=source.name)
    film = take_in_film(source)
    stem = film.digest[:16]
    name = f"{stem}.{film.ending}"
    try:
        if not (folder / "media" / name).exists():
            write_atomically(folder / "media" / name, source.read_bytes())
        write_atomically(folder / "media" / f"{stem}-still.webp", film.still)
    except OSError as error:
        raise FilmError("film-not-copied", name=source.name, why=error.strerror) from error
    still = Medium(id=new_id(), name=f"{source.stem} still", file=f"{stem}-still.webp",
                   width=film.width, height=film.height, weight=len(film.still))
    return Medium(id=new_id(), name=source.name, file=name, width=film.width,
                  height=film.height, weight=film.weight, seconds=film.seconds), still


def rendition_bytes(folder: Path, medium: Medium, width: int) -> bytes:
    """Return one size of a medium as WebP, made once and then kept in the project's cache.

    Width 0 gives the file as it is.
    """
    if not width or medium.is_vector:
        return read_below(folder, f"media/{medium.file}")
    kept = folder / ".cache" / f"{Path(medium.file).stem}-{width}.webp"
    if not kept.exists():
        write_atomically(kept, webp(read_below(folder, f"media/{medium.file}"), width))
    return kept.read_bytes()


class PublishedPictures:
    """Names the sizes below `assets/`; remembers which ones pages refer to.

    Attributes:
        used: The media and widths asked for so far, by file name below `assets/`; width 0
            stands for the file as it is.
    """

    def __init__(self, root: str, used: dict[str, tuple[Medium, int]] | None = None) -> None:
        self._root = root
        self.used = {} if used is None else used

    def renditions(self, medium: Medium) -> Sequence[Rendition]:
        """Return every size of `medium`, smallest first."""
        made = []
        if medium.is_vector:
            return [Rendition(self.original(medium), medium.width)]
        for width in rendition_widths(medium.width):
            name = f"{Path(medium.file).stem}-{width}.webp"
            self.used[name] = (medium, width)
            made.append(Rendition(f"{self._root}assets/{name}", width))
        return made


    def original(self, medium: Medium) -> str:
        """Return the address of the file as it is."""
        self.used[medium.file] = (medium, 0)
        return f"{self._root}assets/{medium.file}"


class EditPictures:
    """The original files, as the editor's live views show them."""

    def renditions(self, medium: Medium) -> Sequence[Rendition]:
        """Return the original alone."""
        return [Rendition(self.original(medium), medium.width)]

    def original(self, medium: Medium) -> str:
        """Return the address of the file in the editor."""
        return f"/media/{medium.file}"
