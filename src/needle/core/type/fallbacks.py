"""Faces of the system that stand in until a page's own type is there, in its measure.

So nothing moves when the own type arrives (CSS Fonts Level 5: size-adjust and metric overrides).
"""

from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache
from importlib.resources import as_file
from pathlib import Path

from needle.core.type.faces import Face

__all__ = ["fallback_name", "fallback_rule"]


@dataclass(frozen=True, slots=True)
class _Stand:
    """A face that systems have.

    Attributes:
        local: What it is called.
        average: The mean advance of English text, in em.
    """

    local: str
    average: float


# Means over English text of faces that nearly every system has, from their own advance widths
# (units of 2048 to the em: 904, 913 and 1229).
_SANS = _Stand("Arial", 904 / 2048)
_SERIF = _Stand("Georgia", 913 / 2048)
_MONO = _Stand("Courier New", 1229 / 2048)
_SERIFS = ("Slab", "Serif", "Garamond", "Bitter", "Fraunces")
# How often a sign stands in English text, of 1000 (spaces among them).
_OFTEN: Mapping[str, int] = {
    " ": 180, "e": 104, "t": 74, "a": 67, "o": 62, "i": 57, "n": 57, "s": 52, "h": 50, "r": 49,
    "d": 35, "l": 33, "c": 23, "u": 23, "m": 20, "w": 19, "f": 18, "g": 16, "y": 16, "p": 16,
    "b": 12, "v": 8, "k": 6}


def fallback_name(family: str) -> str:
    """Return what the stand-in of a family is called in style sheets."""
    return f"{family} stand-in"


@lru_cache(maxsize=64)
def fallback_rule(face: Face, media: Path | None = None) -> str:
    """Return the @font-face rule that has a face of the system stand in for `face`.

    Args:
        media: The project's media folder, for cuts that were added.

    Returns:
        An empty text for a face without a letter of English.
    """
    from fontTools.ttLib import TTFont  # Heavy, and needed only here.

    with as_file(face.source(media)) as path, TTFont(path) as font:
        em, cmap = font["head"].unitsPerEm, font.getBestCmap()
        widths = {sign: font["hmtx"][cmap[ord(sign)]][0] for sign in _OFTEN if ord(sign) in cmap}
        rise, fall = font["hhea"].ascent, -font["hhea"].descent
        gap = font["hhea"].lineGap
    if len(widths) < len(_OFTEN):
        return ""
    average = sum(widths[sign] * often for sign, often in _OFTEN.items()) / (
        em * sum(_OFTEN.values()))
    stand = _stand_of(face.family)
    scale = average / stand.average
    overrides = ";".join(f"{name}-override:{height / em / scale:.2%}" for name, height in (
        ("ascent", rise), ("descent", fall), ("line-gap", gap)))
    return (f"@font-face{{font-family:'{fallback_name(face.family)}';src:local('{stand.local}');"
            f"size-adjust:{scale:.2%};{overrides}}}")


def _stand_of(family: str) -> _Stand:
    if "Mono" in family or "Courier" in family:
        return _MONO
    return _SERIF if any(word in family for word in _SERIFS) else _SANS
