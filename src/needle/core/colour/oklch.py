"""OKLab and OKLCH: a space in which equal steps look equal.

Source of every formula: B. Ottosson, "A perceptual color space for image processing", 2020,
with the matrices as in CSS Color Module Level 4.
"""

import math
from functools import lru_cache
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from needle.core.colour.contrast import contrast, rgb

__all__ = ["JUST_SEEN", "Oklch", "difference", "from_hex", "hex_of_srgb", "linear", "oklab",
           "readable", "srgb", "srgb_of", "to_hex"]

# ΔE OK (times 100) that people just notice, as CSS Color 4 takes it.
JUST_SEEN = 2.0

_TO_LMS = np.array([[0.4122214708, 0.5363325363, 0.0514459929],
                    [0.2119034982, 0.6806995451, 0.1073969566],
                    [0.0883024619, 0.2817188376, 0.6299787005]])
_TO_LAB = np.array([[0.2104542553, 0.7936177850, -0.0040720468],
                    [1.9779984951, -2.4285922050, 0.4505937099],
                    [0.0259040371, 0.7827717662, -0.8086757660]])
_FROM_LMS = np.linalg.inv(_TO_LMS)
_FROM_LAB = np.linalg.inv(_TO_LAB)

Array = NDArray[np.float64]


class Oklch(NamedTuple):
    """A colour by how it looks.

    Attributes:
        light: 0 (black) to 1 (white).
        chroma: 0 (grey) to about 0.37.
        hue: In degrees; about 29 is red, 142 green, 264 blue.
    """

    light: float
    chroma: float
    hue: float


def linear(values: Array) -> Array:
    """Return linear light, 0 to 1, of sRGB values 0 to 1 (IEC 61966-2-1), shape kept."""
    return np.where(values <= 0.04045, values / 12.92, ((values + 0.055) / 1.055) ** 2.4)


def srgb(values: Array) -> Array:
    """Return sRGB values of linear light; the inverse of `linear`, clipped to 0 to 1."""
    clipped = np.clip(values, 0, 1)
    return np.where(clipped <= 0.0031308, clipped * 12.92, 1.055 * clipped ** (1 / 2.4) - 0.055)


def srgb_of(value: str) -> Array:
    """Return "#rrggbb" as three values, 0 to 1."""
    return np.array(rgb(value)) / 255


def hex_of_srgb(values: Array) -> str:
    """Return three sRGB values, 0 to 1, as "#rrggbb"."""
    return "#" + "".join(f"{int(part):02x}" for part in np.rint(np.clip(values, 0, 1) * 255))


def oklab(values: Array) -> Array:
    """Return L, a, b of sRGB values 0 to 1; the last axis has length 3 in both."""
    return np.asarray(np.cbrt(linear(values) @ _TO_LMS.T) @ _TO_LAB.T)


def difference(one: str, other: str) -> float:
    """Return ΔE OK of two colours, times 100: their distance in OKLab."""
    return float(100 * np.linalg.norm(oklab(srgb_of(one)) - oklab(srgb_of(other))))


def from_hex(value: str) -> Oklch:
    """Return "#rrggbb" as lightness, chroma and hue."""
    light, a, b = (float(part) for part in oklab(srgb_of(value)))
    return Oklch(light, math.hypot(a, b), math.degrees(math.atan2(b, a)) % 360)


def to_hex(colour: Oklch) -> str:
    """Return a colour as "#rrggbb".

    What no screen shows keeps lightness and hue and loses as much chroma as it must.
    """
    high = max(0.0, colour.chroma)
    found = _linear_of(colour._replace(chroma=high))
    if not _fits(found):
        low = 0.0
        for _ in range(16):
            middle = (low + high) / 2
            low, high = (middle, high) if _fits(_linear_of(colour._replace(chroma=middle))) else (
                low, middle)
        found = _linear_of(colour._replace(chroma=low))
    return hex_of_srgb(srgb(found))


def _linear_of(colour: Oklch) -> Array:
    angle = math.radians(colour.hue)
    lab = np.array([min(1.0, max(0.0, colour.light)), colour.chroma * math.cos(angle),
                    colour.chroma * math.sin(angle)])
    return np.asarray((lab @ _FROM_LAB.T) ** 3 @ _FROM_LMS.T)


def _fits(values: Array) -> bool:
    return bool(values.min() >= -1e-4 and values.max() <= 1 + 1e-4)


@lru_cache(maxsize=8192)  # Every render of a page asks for the same few dozen pairs.
def readable(ink: str, ground: str, least: float = 4.5) -> str:
    """Return the colour nearest to `ink` that stands out enough from `ground`.

    Only the lightness changes, to either side and by as little as does it.

    Args:
        ink, ground: "#rrggbb".
        least: The contrast ratio that is asked for (WCAG 2.2, 1.4.3).
    """
    if contrast(ink, ground) >= least:
        return ink
    start = from_hex(ink)
    found = [colour for end in (0.0, 1.0) if (colour := _towards(start, end, ground, least))]
    if not found:
        return max(("#000000", "#ffffff"), key=lambda colour: contrast(colour, ground))
    return min(found, key=lambda colour: difference(colour, ink))


def _towards(start: Oklch, end: float, ground: str, least: float) -> str:
    """Return the first readable colour on the way to black or white, or an empty text."""
    if contrast(to_hex(start._replace(light=end)), ground) < least:
        return ""
    near, far = start.light, end
    for _ in range(14):
        middle = (near + far) / 2
        enough = contrast(to_hex(start._replace(light=middle)), ground) >= least
        near, far = (near, middle) if enough else (middle, far)
    return to_hex(start._replace(light=far))
