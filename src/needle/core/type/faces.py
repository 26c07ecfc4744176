"""The typefaces that ship with Needle or were added, and pairs of them."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from functools import lru_cache
from importlib.resources import files
from importlib.resources.abc import Traversable
from pathlib import Path
from typing import Protocol

from needle.core.values.media import Font

__all__ = ["FACES", "PAIRS", "Face", "Lettered", "Pair", "faces_of", "families", "nearest_face"]


class Lettered(Protocol):
    """What may have cuts of type of its own: a site."""

    @property
    def fonts(self) -> Sequence[Font]:
        """Cuts that were added to those that ship."""
        ...


@dataclass(frozen=True, slots=True, order=True)
class Face:
    """One cut of a family.

    Attributes:
        weight: 100 to 900.
        file: The file among the shipped fonts, or in the project's media folder.
        own: It was added to the project.
        whole: Visitors get every letter of it.
    """

    family: str
    weight: int
    italic: bool
    file: str
    own: bool = False
    whole: bool = False

    def source(self, media: Path | None) -> Traversable:
        """Return the font file.

        Args:
            media: The project's media folder, for cuts that were added.
        """
        if self.own and media is not None:
            return media / self.file
        return files("needle") / "fonts" / self.file


@dataclass(frozen=True, slots=True)
class Pair:
    """Two families that go well together.

    Attributes:
        character: In a few words.
    """

    heading: str
    body: str
    character: str


def _cuts(family: str, *cuts: str) -> tuple[Face, ...]:
    stem = family.replace(" ", "")
    return tuple(Face(family, int(cut.rstrip("i")), cut.endswith("i"), f"{stem}-{cut}.ttf")
                 for cut in cuts)


_WORDS, _TITLES = ("400", "400i", "600", "700"), ("400", "600", "700")
FACES: tuple[Face, ...] = (
    *_cuts("IBM Plex Sans", *_WORDS), *_cuts("Zilla Slab", *_TITLES),
    *_cuts("Archivo Narrow", *_TITLES), *_cuts("Bitter", *_WORDS),
    *_cuts("Cormorant Garamond", *_TITLES), *_cuts("Courier Prime", "400", "700"),
    *_cuts("DM Sans", *_WORDS), *_cuts("Fraunces", *_TITLES), *_cuts("Karla", *_WORDS),
    *_cuts("Nunito", *_WORDS), *_cuts("Source Serif 4", *_WORDS),
    *_cuts("Space Grotesk", *_TITLES), *_cuts("Work Sans", *_WORDS),
)
PAIRS: tuple[Pair, ...] = (
    Pair("Zilla Slab", "IBM Plex Sans", "sturdy and exact"),
    Pair("Fraunces", "Karla", "warm, a little old-fashioned"),
    Pair("Space Grotesk", "DM Sans", "technical, of today"),
    Pair("Cormorant Garamond", "Work Sans", "fine and festive"),
    Pair("Nunito", "Nunito", "round and friendly"),
    Pair("Archivo Narrow", "Source Serif 4", "a newspaper"),
    Pair("Bitter", "Nunito", "homely"),
    Pair("Source Serif 4", "Work Sans", "a good book"),
    Pair("Work Sans", "Work Sans", "plain and clear"),
    Pair("Courier Prime", "IBM Plex Sans", "typed on a machine"),
    Pair("DM Sans", "Source Serif 4", "quiet, for long reading"),
    Pair("Karla", "Karla", "open and light"),
)


def faces_of(site: Lettered) -> tuple[Face, ...]:
    """Return every cut that a site can use: those that ship and its own."""
    return _all_faces(site.fonts)


def _all_faces(fonts: Iterable[Font]) -> tuple[Face, ...]:
    return FACES + tuple(Face(font.family, font.weight, font.italic, font.file, True, font.whole)
                         for font in fonts)


def families(site: Lettered) -> list[str]:
    """Return the names of the families that a site can use, its own first."""
    return list(dict.fromkeys([font.family for font in site.fonts]
                              + [face.family for face in FACES]))


def nearest_face(site: Lettered, family: str, weight: int, italic: bool) -> Face | None:
    """Return the cut that a browser would show for this wish."""
    return _nearest(tuple(site.fonts), family, weight, italic)


@lru_cache(4096)
def _nearest(own: tuple[Font, ...], family: str, weight: int, italic: bool) -> Face | None:
    cuts = [face for face in _all_faces(own) if face.family == family]
    return min(cuts, default=None,
               key=lambda face: (face.italic != italic, abs(face.weight - weight)))
