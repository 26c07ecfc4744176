"""A project's pictures on disk and the sizes made of them."""

import hashlib
from collections.abc import Sequence
from pathlib import Path

from needle.core.images.reading import PictureError, take_in
from needle.core.images.sizes import rendition_widths, webp
from needle.core.render.context import Rendition
from needle.core.site.ids import new_id
from needle.core.site.site import Medium
from needle.store.files import write_atomically

__all__ = ["EditPictures", "PublishedPictures", "import_picture", "rendition_bytes"]

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


def rendition_bytes(folder: Path, medium: Medium, width: int) -> bytes:
    """Return one size of a medium as WebP, made once and then kept in the project's cache."""
    kept = folder / ".cache" / f"{Path(medium.file).stem}-{width}.webp"
    if not kept.exists():
        write_atomically(kept, webp((folder / "media" / medium.file).read_bytes(), width))
    return kept.read_bytes()


class PublishedPictures:
    """Names the sizes below `assets/`; remembers which ones pages refer to.

    Attributes:
        used: The media and widths asked for so far, by file name below `assets/`.
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


class EditPictures:
    """The original files, as the editor's live views show them."""

    def renditions(self, medium: Medium) -> Sequence[Rendition]:
        """Return the original alone."""
        return [Rendition(f"/media/{medium.file}", medium.width)]
