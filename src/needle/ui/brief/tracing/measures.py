"""What the tools measure in a picture: a length, a colour, the size of a letter."""

from dataclasses import dataclass

import numpy as np

from needle.core.brand.marks import Branded
from needle.core.seeing.measuring import area_colour, letter_size, nearest_colour, snapped
from needle.ui.brief.tracing.view import Measured, Tool
from needle.ui.language import tr

__all__ = ["LETTER_HINT", "Told", "colour_in", "length_in", "letter_in"]

LETTER_HINT = tr("Drag a frame around one capital letter to measure its type.")
# A shorter drag with the dropper is a click.
_DROP = 2


@dataclass(frozen=True, slots=True)
class Told:
    """What was measured.

    Attributes:
        measured: Where, after the ends have stuck to edges.
        words: The measure itself.
        more: What is worth knowing of it.
        colour: Its colour, if it is one.
    """

    measured: Measured
    words: str
    more: str = ""
    colour: str = ""


def length_in(pixels: np.ndarray, scale: float, measured: Measured) -> Told:
    """Return a length, upright or across, its ends at the nearest edges.

    Args:
        pixels: The picture, shape (height, width, 3).
        scale: Pixels of the picture for each CSS pixel.
    """
    upright = abs(measured.bottom - measured.top) > abs(measured.right - measured.left)
    left, top, right, bottom = (round(value) for value in (
        measured.left, measured.top, measured.right, measured.bottom))
    if upright:
        top, bottom = (snapped(pixels, at, left, True) for at in (top, bottom))
        right = left
    else:
        left, right = (snapped(pixels, at, top, False) for at in (left, right))
        bottom = top
    long = abs(bottom - top) if upright else abs(right - left)
    begin = (top if upright else left) / scale
    end = begin + long / scale
    more = tr("from {begin:.0f} to {end:.0f} px down; {count} pixels of the picture",
              begin=begin, end=end, count=long) if upright else tr(
        "from {begin:.0f} to {end:.0f} px across; {count} pixels of the picture",
        begin=begin, end=end, count=long)
    return Told(Measured(Tool.RULER, left, top, right, bottom),
                f"{long / scale:.1f}".rstrip("0").rstrip(".") + " px", more)


def colour_in(pixels: np.ndarray, brand: Branded, measured: Measured) -> Told:
    """Return the colour of a place or the mean of an area, and the nearest one of the brand."""
    left, right = sorted((round(measured.left), round(measured.right)))
    top, bottom = sorted((round(measured.top), round(measured.bottom)))
    if right - left < _DROP and bottom - top < _DROP:
        right, bottom = left + 1, top + 1
    value = area_colour(pixels, left, top, right, bottom)
    near = nearest_colour(brand.brand, value)
    told = "" if near is None else (
        tr("{name} is the same", name=near.name) if near.apart < 0.5 else
        tr("nearest: {name} {value}, ΔE {apart:.1f}",
           name=near.name, value=near.value, apart=near.apart)
        + (tr(", hardly to be told apart") if near.apart < 2 else ""))
    return Told(Measured(Tool.DROPPER, left, top, right, bottom), value, told, value)


def letter_in(pixels: np.ndarray, scale: float, measured: Measured) -> Told:
    """Return the size of the type that a framed capital letter is set in."""
    left, right = sorted((round(measured.left), round(measured.right)))
    top, bottom = sorted((round(measured.top), round(measured.bottom)))
    size = letter_size(pixels, left, top, right, bottom) / scale
    frame = Measured(Tool.LETTER, left, top, right, bottom)
    if not size:
        return Told(frame, "", LETTER_HINT)
    return Told(frame, tr("{size:.0f} px type", size=size),
                tr("from the height of the letter in the frame; capitals are 0.7 of the size in "
                   "common faces"))
