"""The sign of a site: a simple shape with a letter or two on it, as SVG."""

from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import Protocol
from urllib.parse import quote

from needle.core.brand.letters import outline
from needle.core.colour.palette import best_on
from needle.core.type.faces import FACES, Lettered, nearest_face
from needle.core.values.brand import Brand

__all__ = ["SHAPES", "Branded", "Shape", "initials", "mark_address", "mark_svg"]


class Branded(Lettered, Protocol):
    """What a sign is drawn from: a site."""

    @property
    def name(self) -> str:
        """What the sign stands for."""
        ...

    @property
    def brand(self) -> Brand:
        """Its colours, its type and the sign as it was chosen."""
        ...


@dataclass(frozen=True, slots=True)
class Shape:
    """A shape in a box of 64 by 64.

    Attributes:
        name: What the person calls it.
        path: Its outline.
        detail: A second path in the accent colour.
        box: Where letters stand on it: left, top, width, height; `None` for a shape that
            takes none.
    """

    name: str
    path: str
    detail: str = ""
    box: tuple[float, float, float, float] | None = None


_ROUND = "M32 3a29 29 0 1 1 0 58a29 29 0 1 1 0-58z"
SHAPES: Mapping[str, Shape] = {
    "spark": Shape("Spark", "M32 2l8 22 22 8-22 8-8 22-8-22-22-8 22-8z"),
    "disc": Shape("Disc", _ROUND, box=(17, 17, 30, 30)),
    "tile": Shape("Tile", "M12 4h40a8 8 0 0 1 8 8v40a8 8 0 0 1-8 8H12a8 8 0 0 1-8-8V12a8 8 0 0 "
                  "1 8-8z", box=(15, 15, 34, 34)),
    "shield": Shape("Shield", "M32 3l26 8v22c0 14-11 23-26 28C17 56 6 47 6 33V11z",
                    box=(18, 16, 28, 26)),
    "drop": Shape("Drop", "M32 2c12 16 21 25 21 38a21 21 0 0 1-42 0C11 27 20 18 32 2z",
                  box=(20, 28, 24, 22)),
    "leaf": Shape("Leaf", "M6 58C4 24 24 5 59 5c1 34-18 52-45 46z", "M12 55C20 36 32 24 47 17l2 3"
                  "C35 28 24 39 16 56z"),
    "hills": Shape("Hills", "M2 56l20-34 12 18 8-12 20 28z",
                   "M48 6a8 8 0 1 1 0 16a8 8 0 1 1 0-16z"),
    "waves": Shape("Waves", "M2 40c10-12 20-12 30 0s20 12 30 0v18H2z",
                   "M2 24c10-12 20-12 30 0s20 12 30 0v8c-10 12-20 12-30 0s-20-12-30 0z"),
    "arch": Shape("Arch", "M6 61V32a26 26 0 0 1 52 0v29H44V32a12 12 0 0 0-24 0v29z",
                  "M27 61V44a5 5 0 0 1 10 0v17z"),
    "rings": Shape("Rings", "M22 10a22 22 0 1 0 22 22h-8a14 14 0 1 1-14-14z",
                   "M42 10a22 22 0 1 1-22 22h8a14 14 0 1 0 14-14z"),
    "steps": Shape("Steps", "M4 60V42h16V26h16V10h24v50z", "M4 36V24h10v12zM20 20V8h10v12z"),
    "flag": Shape("Flag", "M10 3h6v58h-6z", "M19 6h40L47 21l12 15H19z"),
    "petals": Shape("Petals", "M32 32C18 26 18 8 32 3c14 5 14 23 0 29zM32 32c14 6 14 24 0 29-14-5"
                    "-14-23 0-29z", "M32 32C26 46 8 46 3 32c5-14 23-14 29 0zM32 32c6-14 24-14 29 "
                    "0-5 14-23 14-29 0z"),
    "bubble": Shape("Bubble", "M10 6h44a6 6 0 0 1 6 6v30a6 6 0 0 1-6 6H30L16 60V48h-6a6 6 0 0 1-6"
                    "-6V12a6 6 0 0 1 6-6z", box=(15, 14, 34, 26)),
    "hexagon": Shape("Hexagon", "M32 2l27 15v30L32 62 5 47V17z", box=(18, 18, 28, 28)),
    "thread": Shape("Thread", "M14 6h36v10H14zM14 48h36v10H14z",
                    "M20 20h24v5H20zM18 29.500h28v5H18zM20 39h24v5H20z"),
}


def initials(name: str) -> str:
    """Return one or two letters for a name."""
    words = [word for word in name.split() if word[:1].isalnum()]
    return "".join(word[0].upper() for word in words[:2])


def mark_svg(site: Branded, media: Path | None = None, size: int = 64,
             inline: bool = False) -> str:
    """Return the drawn sign of a site.

    Args:
        media: The project's media folder; without it, letters are of a face that ships.
        size: Width and height in CSS pixels.
        inline: It stands in a page and takes its colours from there.
    """
    mark, inks = site.brand.mark, _inks(site, inline)
    shape = SHAPES.get(mark.shape)
    letters = mark.letters or ("" if shape and not shape.box else initials(site.name))
    face = nearest_face(site, site.brand.heading_face, 700, False)
    if face and face.own and media is None:
        face = FACES[0]
    parts = []
    if shape:
        parts.append(_path(inks["main"], shape.path))
        if shape.detail:
            parts.append(_path(inks["accent"], shape.detail))
    box = shape.box if shape else (4.0, 8.0, 56.0, 48.0)
    if letters and box and face:
        ink = inks["on_main" if shape else "main"]
        # A font that was added may lack these letters; one that ships has them.
        drawn = outline(face, letters[:2], box, media) or outline(FACES[0], letters[:2], box)
        parts.append(_path(ink, drawn) if drawn else "")
    return (f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 64 64" width="{size}" '
            f'height="{size}">{"".join(parts)}</svg>')


def _path(ink: str, data: str) -> str:
    return f'<path fill="{ink}" d="{data}"/>'


def _inks(site: Branded, inline: bool) -> dict[str, str]:
    if inline:
        return {"main": "var(--c-main)", "accent": "var(--c-accent)",
                "on_main": "var(--main-on_main,var(--c-on_main))"}
    colours = site.brand.colours()
    main = colours.get("main", "#0e6b54")
    return {"main": main, "accent": colours.get("accent", main),
            "on_main": best_on(main, (colours.get("on_main", "#ffffff"),))}


def mark_address(site: Branded, media: Path | None = None) -> str:
    """Return the sign as an address that holds it whole, for the icon in a browser's tab."""
    return "data:image/svg+xml," + quote(mark_svg(site, media).replace('"', "'"), safe="")
