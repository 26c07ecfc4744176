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
    """A face that systems have, in one weight.

    Attributes:
        names: What it and those of the same widths are called.
        average: The mean advance of English text, in em.
    """

    names: tuple[str, ...]
    average: float


# Means over English text, from the faces' own advance widths. What most systems have stands last:
# of several rules for one family and weight the last whose face is there counts.
_SANS = ((_Stand(("DejaVu Sans",), 0.5072), _Stand(("DejaVu Sans Bold",), 0.5727)),
         (_Stand(("Roboto",), 0.4432), _Stand(("Roboto Bold",), 0.4494)),
         (_Stand(("Arial", "Liberation Sans", "Arimo"), 0.4419),
          _Stand(("Arial Bold", "Liberation Sans Bold", "Arimo Bold"), 0.4778)))
_SERIF = ((_Stand(("DejaVu Serif",), 0.5125), _Stand(("DejaVu Serif Bold",), 0.5659)),
          (_Stand(("Noto Serif",), 0.4792), _Stand(("Noto Serif Bold",), 0.5084)),
          (_Stand(("Times New Roman", "Liberation Serif", "Tinos"), 0.4002),
           _Stand(("Times New Roman Bold", "Liberation Serif Bold", "Tinos Bold"), 0.4258)))
_MONO = ((_Stand(("DejaVu Sans Mono",), 0.6021), _Stand(("DejaVu Sans Mono Bold",), 0.6021)),
         (_Stand(("Courier New", "Liberation Mono", "Cousine"), 0.6001),
          _Stand(("Courier New Bold", "Liberation Mono Bold", "Cousine Bold"), 0.6001)))
_SERIFS = ("Slab", "Serif", "Garamond", "Bitter", "Fraunces")
_BOLD_FROM = 600
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
    """Return the @font-face rules that have faces of the system stand in for `face`.

    Args:
        media: The project's media folder, for cuts that were added.

    Returns:
        An empty text for a face without a letter of English.
    """
    from fontTools.ttLib import TTFont  # Heavy, and needed only here.

    with as_file(face.source(media)) as path, TTFont(path) as font:
        em, cmap = font["head"].unitsPerEm, font.getBestCmap()
        widths = {sign: font["hmtx"][cmap[ord(sign)]][0] for sign in _OFTEN if ord(sign) in cmap}
        heights = (("ascent", font["hhea"].ascent / em), ("descent", -font["hhea"].descent / em),
                   ("line-gap", font["hhea"].lineGap / em))
    if len(widths) < len(_OFTEN):
        return ""
    average = sum(widths[sign] * often for sign, often in _OFTEN.items()) / (
        em * sum(_OFTEN.values()))
    bold = face.weight >= _BOLD_FROM
    return "".join(_rule(face, pair[bold], average, heights) for pair in _stands_of(face.family))


def _rule(face: Face, stand: _Stand, average: float, heights: tuple[tuple[str, float], ...],
          ) -> str:
    scale = average / stand.average
    local = ",".join(f"local('{name}')" for name in stand.names)
    overrides = ";".join(f"{name}-override:{height / scale:.1%}" for name, height in heights)
    weight = f"font-weight:{face.weight};" if face.weight != 400 else ""
    return (f"@font-face{{font-family:'{fallback_name(face.family)}';{weight}src:{local};"
            f"size-adjust:{scale:.1%};{overrides}}}")


def _stands_of(family: str) -> tuple[tuple[_Stand, _Stand], ...]:
    if "Mono" in family or "Courier" in family:
        return _MONO
    return _SERIF if any(word in family for word in _SERIFS) else _SANS
