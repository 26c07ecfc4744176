"""Reading the structure of a picture or a saved page in a thread, and what of it is taken."""

from dataclasses import dataclass, replace

import numpy as np
from PIL import Image
from PyQt6.QtCore import QObject, QRectF, QRunnable, pyqtSignal

from needle.core.seeing.laidstructure import laid_structure
from needle.core.seeing.shapes import Band, Found, Rect
from needle.store.originals import Pinned, saved_map
from needle.ui.brief.tracing.view import Mark
from needle.ui.language import tr

__all__ = ["Reader", "Reading", "Taking", "band_words", "css_pixels"]


def css_pixels(one: Pinned) -> np.ndarray:
    """Return a pinned picture with one pixel for each CSS pixel, shape (height, width, 3)."""
    with Image.open(one.file) as image:
        flat = image.convert("RGB")
    if one.css_width != flat.width:
        high = max(1, round(flat.height / one.scale))
        flat = flat.resize((one.css_width, high), Image.Resampling.BOX if one.scale >= 1
                           else Image.Resampling.BICUBIC)
    return np.asarray(flat)


class Reading(QObject):
    """Brings what was read from a thread to the window.

    Signals:
        done: What was found (a `Found`), or the fault in words.
    """

    done = pyqtSignal(object)


class Reader(QRunnable):
    """Reads one picture, or the map of a saved page."""

    def __init__(self, one: Pinned, reading: Reading) -> None:
        super().__init__()
        self._one, self._reading = one, reading

    def run(self) -> None:
        from needle.core.seeing.structure import read_structure  # Heavy, and needed only here.

        try:
            laid = saved_map(self._one)
            found: object = laid_structure(laid) if laid is not None else read_structure(
                css_pixels(self._one))
        except (OSError, ValueError, MemoryError) as error:
            found = tr("“{name}” cannot be read: {error}", name=self._one.name, error=error)
        self._reading.done.emit(found)


@dataclass(frozen=True, slots=True)
class Taking:
    """What was found, and what of it the person wants.

    Attributes:
        left_out: Keys of sections and things that are not taken.
    """

    found: Found
    left_out: frozenset[str] = frozenset()

    def marks(self, scale: float) -> list[Mark]:
        """Return frames around everything, in pixels of the picture."""
        made = []
        for number, band in enumerate(self.found.bands):
            key = f"b{number}"
            taken = key not in self.left_out
            made.append(Mark(key, _scaled(band.rect, scale), band_words(band), True, taken))
            for inner, rect in _things(number, band):
                made.append(Mark(inner, _scaled(rect, scale), "", False,
                                 taken and inner not in self.left_out))
        return made

    def toggled(self, key: str) -> "Taking":
        """Return the same with a section or thing left out, or taken again."""
        return replace(self, left_out=self.left_out ^ {key}) if key else self

    def joined(self, number: int) -> "Taking":
        """Return the same with a section and the next one as one."""
        bands = self.found.bands
        if not 0 <= number < len(bands) - 1:
            return self
        one, other = bands[number], bands[number + 1]
        both = Band(one.rect.joined(other.rect), one.ground or other.ground,
                    one.texts + other.texts, one.pictures + other.pictures,
                    one.boxes + other.boxes)
        bands = (*bands[:number], both, *bands[number + 2:])
        # The places of all that follow are others now.
        return Taking(replace(self.found, bands=bands))

    def bands(self) -> list[Band]:
        """Return the sections that are taken, without the things that are left out."""
        kept = []
        for number, band in enumerate(self.found.bands):
            if f"b{number}" in self.left_out:
                continue
            kept.append(replace(
                band,
                texts=tuple(t for n, t in enumerate(band.texts) if self._in(number, "t", n)),
                pictures=tuple(r for n, r in enumerate(band.pictures)
                               if self._in(number, "p", n)),
                boxes=tuple(b for n, b in enumerate(band.boxes) if self._in(number, "x", n))))
        return kept

    def _in(self, band: int, sort: str, number: int) -> bool:
        return f"b{band}{sort}{number}" not in self.left_out


def _things(number: int, band: Band) -> list[tuple[str, Rect]]:
    return [*((f"b{number}t{n}", text.rect) for n, text in enumerate(band.texts)),
            *((f"b{number}p{n}", rect) for n, rect in enumerate(band.pictures)),
            *((f"b{number}x{n}", box.rect) for n, box in enumerate(band.boxes))]


def _scaled(rect: Rect, scale: float) -> QRectF:
    return QRectF(rect.left * scale, rect.top * scale, rect.width * scale, rect.height * scale)


def band_words(band: Band) -> str:
    """Return what a section holds, in a few words."""
    buttons = sum(box.is_button for box in band.boxes)
    parts = [("text", len(band.texts)), ("picture", len(band.pictures)), ("button", buttons),
             ("box", len(band.boxes) - buttons)]
    told = [f"{count} {noun}{'' if count == 1 else 'es' if noun == 'box' else 's'}"
            for noun, count in parts if count]
    ground = band.ground or tr("picture behind")
    return " · ".join([ground, *told])


