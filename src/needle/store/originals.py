"""Pictures and saved pages that somebody works from: in the project, never published."""

import hashlib
import io
from dataclasses import dataclass
from pathlib import Path

import msgspec
from PIL import Image

from needle.core.images.picturefile import PictureError, take_in
from needle.core.images.vector import looks_like_svg
from needle.core.seeing.laidout import LaidOut, read_laid
from needle.store.files import write_atomically
from needle.store.kept import KeptFile

__all__ = ["Pinned", "pin", "pin_saved", "pinned", "saved_map", "set_css_width", "unpin"]

_LONGEST = 9_000
Facts = dict[str, dict[str, str | int]]


@dataclass(frozen=True, slots=True)
class Pinned:
    """A picture on the board.

    Attributes:
        name: What it was called.
        css_width: How wide the page in it is, in CSS pixels: the picture's scale.
        source: The saved page that it shows; empty for a picture.
    """

    file: Path
    name: str
    width: int
    height: int
    css_width: int
    source: str = ""

    @property
    def scale(self) -> float:
        """Pixels of the picture for one CSS pixel."""
        return self.width / self.css_width

    @property
    def map_file(self) -> Path:
        """Where the map of a saved page stands."""
        return self.file.with_suffix(".map.json")


def _folder(project: Path) -> Path:
    return project / "board"


def _facts(project: Path) -> Facts:
    return _file(project).read()


def _file(project: Path) -> KeptFile[Facts]:
    return KeptFile(_folder(project) / "board.json", Facts, dict)


def pinned(project: Path) -> list[Pinned]:
    """Return the pictures on the board, in the order in which they came."""
    found = []
    for file, facts in _facts(project).items():
        path = _folder(project) / Path(file).name
        try:
            found.append(Pinned(path, str(facts["name"]), int(str(facts["width"])),
                                int(str(facts["height"])), max(1, int(str(facts["css_width"]))),
                                str(facts.get("source", ""))))
        except (KeyError, ValueError):
            continue
    return [one for one in found if one.file.exists()]


def pin(project: Path, data: bytes, name: str) -> Pinned:
    """Put a picture on the board; it is kept as PNG, as large as it came.

    Raises:
        PictureError: It cannot be read, or the disk refuses it.
    """
    if looks_like_svg(data):
        raise PictureError("original-is-drawing", name=name)
    taken = take_in(data, name, longest=_LONGEST)
    out = io.BytesIO()
    with Image.open(io.BytesIO(taken.data)) as image:
        flat = Image.new("RGB", image.size, "#ffffff")
        clear = image.convert("RGBA")
        flat.paste(clear, mask=clear.getchannel("A"))
        flat.save(out, "PNG")
    file = f"{hashlib.sha256(out.getvalue()).hexdigest()[:16]}.png"
    # Screenshots of dense screens are two or three pixels for one of a page.
    width = flat.width // 2 if flat.width > 2200 else flat.width
    about: dict[str, str | int] = {"name": name, "width": flat.width, "height": flat.height,
                                   "css_width": width}
    try:
        write_atomically(_folder(project) / file, out.getvalue())
        _file(project).change(lambda facts: facts | {file: facts.get(file, about)})
    except OSError as error:
        raise PictureError("file-not-kept", name=name, why=error.strerror) from error
    return next(one for one in pinned(project) if one.file.name == file)


def pin_saved(project: Path, picture: bytes, laid: LaidOut, source: Path) -> Pinned:
    """Put a saved page on the board, as a picture with its map.

    Raises:
        PictureError: The disk refuses it.
    """
    one = pin(project, picture, source.name)
    try:
        write_atomically(one.map_file, msgspec.json.encode(laid))
        about: dict[str, str | int] = {"source": str(source), "css_width": round(laid.width)}
        _file(project).change(lambda facts: facts | {
            one.file.name: facts.get(one.file.name, {}) | about})
    except OSError as error:
        raise PictureError("file-not-kept", name=source.name, why=error.strerror) from error
    return next(other for other in pinned(project) if other.file == one.file)


def saved_map(one: Pinned) -> LaidOut | None:
    """Return the map of a saved page; `None` for a picture, or if the map is damaged."""
    if not one.source:
        return None
    try:
        return read_laid(one.map_file.read_bytes())
    except (OSError, ValueError):
        return None


def set_css_width(project: Path, one: Pinned, css_width: int) -> Pinned:
    """Set a picture's scale by the width of the page in it, and return it as it is then."""
    name = one.file.name
    _file(project).change(lambda facts: facts | {
        name: facts.get(name, {}) | {"css_width": css_width}})
    return next(other for other in pinned(project) if other.file == one.file)


def unpin(project: Path, one: Pinned) -> None:
    """Take a picture off the board."""
    _file(project).change(lambda facts: {name: about for name, about in facts.items()
                                         if name != one.file.name})
    one.file.unlink(missing_ok=True)
    one.map_file.unlink(missing_ok=True)
