"""A project's pictures on disk and the sizes made of them."""

import hashlib
from collections.abc import Sequence
from pathlib import Path

from needle.core.films.reading import FilmError, take_in_film
from needle.core.images.reading import PictureError, take_in
from needle.core.images.sizes import rendition_widths, webp
from needle.core.render.context import Rendition
from needle.core.site.ids import new_id
from needle.core.site.site import Medium
from needle.store.files import write_atomically

__all__ = ["EditPictures", "PublishedPictures", "import_film", "import_picture",
           "rendition_bytes"]

_LARGEST_FILE = 60_000_000


def import_picture(folder: Path, source: Path) -> Medium:
    """Copy a picture into the project's media and return its entry.

    Raises:
        PictureError: It cannot be used; nothing was copied.
    """
    try:
        if source.is_dir():
            raise PictureError(f"“{source.name}” is a folder. Choose a picture file in it.")
        weight = source.stat().st_size
        if weight > _LARGEST_FILE:
            raise PictureError(f"“{source.name}” weighs {weight // 1_000_000} MB. A picture may "
                               f"weigh {_LARGEST_FILE // 1_000_000} MB at most.")
        data = source.read_bytes()
    except OSError as error:
        raise PictureError(f"“{source.name}” cannot be read: {error.strerror}.") from error
    taken = take_in(data, source.name)
    name = f"{hashlib.sha256(taken.data).hexdigest()[:16]}.{taken.ending}"
    if not (folder / "media" / name).exists():
        write_atomically(folder / "media" / name, taken.data)
    return Medium(id=new_id(), name=source.name, file=name, width=taken.width,
                  height=taken.height, weight=len(taken.data))


def import_film(folder: Path, source: Path) -> tuple[Medium, Medium]:
    """Copy a video into the project's media; return its entry and that of a still from it.

    Raises:
        FilmError: It cannot be used; nothing was copied.
    """
    if source.is_dir():
        raise FilmError(f"“{source.name}” is a folder. Choose a video file in it.")
    film = take_in_film(source)
    stem = film.digest[:16]
    name = f"{stem}.{film.ending}"
    try:
        if not (folder / "media" / name).exists():
            write_atomically(folder / "media" / name, source.read_bytes())
        write_atomically(folder / "media" / f"{stem}-still.webp", film.still)
    except OSError as error:
        raise FilmError(f"“{source.name}” could not be copied: {error.strerror}.") from error
    still = Medium(id=new_id(), name=f"{source.stem} still", file=f"{stem}-still.webp",
                   width=film.width, height=film.height, weight=len(film.still))
    return Medium(id=new_id(), name=source.name, file=name, width=film.width,
                  height=film.height, weight=film.weight, seconds=film.seconds), still


def rendition_bytes(folder: Path, medium: Medium, width: int) -> bytes:
    """Return one size of a medium as WebP, made once and then kept in the project's cache.

    Width 0 gives the file as it is.
    """
    if not width:
        return (folder / "media" / medium.file).read_bytes()
    kept = folder / ".cache" / f"{Path(medium.file).stem}-{width}.webp"
    if not kept.exists():
        write_atomically(kept, webp((folder / "media" / medium.file).read_bytes(), width))
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
