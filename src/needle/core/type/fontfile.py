"""Taking in a font file, whatever it claims to be."""

import hashlib
import io
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

from fontTools.ttLib import TTFont, TTLibError

from needle.core.messages.message import CoreError, Message, Named

__all__ = ["FONT_ENDINGS", "FontError", "ReadCut", "letters_of", "missing_letters", "read_font"]

FONT_ENDINGS = (".ttf", ".otf", ".woff", ".woff2")
_LARGEST = 20_000_000
_CUT_WEIGHTS = (400, 600, 700)
# OS/2 fsType, by the OpenType specification.
_RESTRICTED, _WHOLE_ONLY, _BITMAPS_ONLY = 0x0002, 0x0100, 0x0200
_TABLES = ("glyf", "CFF ", "CFF2")


class FontError(CoreError):
    """A file that cannot be used as a font; the message says why and what to do.

    Attributes:
        forbidden: It could be read, but its maker does not allow its use on pages.
    """

    def __init__(self, message: str | Message, /, *, forbidden: bool = False,
                 **values: Named) -> None:
        super().__init__(message, **values)
        self.forbidden = forbidden


@dataclass(frozen=True, slots=True)
class ReadCut:
    """One cut of a family as it is kept.

    Attributes:
        weight: 100 to 900.
        whole: Its maker does not allow leaving letters out.
        data: The file's bytes, in the format that `ending` names.
    """

    family: str
    weight: int
    italic: bool
    whole: bool
    data: bytes
    ending: str

    @property
    def file(self) -> str:
        """The name it is kept under."""
        return f"{hashlib.sha256(self.data).hexdigest()[:16]}{self.ending}"


def read_font(data: bytes, name: str, licensed: bool = False) -> tuple[ReadCut, ...]:
    """Return the cuts in a TTF, OTF, WOFF or WOFF2 file; a variable font gives several.

    Args:
        licensed: The person says that they may use it although the file forbids it.

    Raises:
        FontError: It is no font, is damaged, has no letters, or may not be used on pages.
    """
    if len(data) > _LARGEST:
        raise FontError("font-heavy", name=name, weight=len(data) // 1000000,
                        most=_LARGEST // 1000000)
    try:
        font = TTFont(io.BytesIO(data), lazy=False)
        family, weight, italic = _names(font, name)
        rights = int(font["OS/2"].fsType) if "OS/2" in font else 0
        letters = font.getBestCmap() or {}
        drawn = any(table in font for table in _TABLES) and "hmtx" in font
        axes = font["fvar"].axes if "fvar" in font else ()
    except (TTLibError, OSError, ValueError, KeyError, IndexError, AttributeError, TypeError,
            AssertionError, ImportError, OverflowError, MemoryError) as error:
        raise FontError("font-unreadable", name=name) from error
    except Exception as error:  # Broken tables fail in ways of their own (struct, brotli).
        raise FontError("font-damaged", name=name) from error
    if not drawn or not any(chr(code).isalnum() for code in letters):
        raise FontError("font-empty", name=name)
    if rights & _BITMAPS_ONLY:
        raise FontError("font-pictures-only", family=family, forbidden=True)
    if rights & _RESTRICTED and not licensed:
        raise FontError("font-forbidden", family=family, forbidden=True)
    whole = bool(rights & _WHOLE_ONLY)
    if any(axis.axisTag == "wght" for axis in axes):
        return tuple(_instances(font, family, italic, whole))
    return (ReadCut(family, weight, italic, whole, data, _ending(data)),)


def _names(font: Any, name: str) -> tuple[str, int, bool]:
    table = font["name"]
    family = str(table.getDebugName(16) or table.getDebugName(1) or name.rsplit(".", 1)[0])
    tidy = "".join(sign for sign in family if sign.isalnum() or sign in " -_&+.")
    weight = int(font["OS/2"].usWeightClass) if "OS/2" in font else 400
    italic = bool(font["head"].macStyle & 2) or bool(
        "OS/2" in font and font["OS/2"].fsSelection & 1)
    return tidy.strip(" -&+.")[:60] or "Font", min(900, max(100, round(weight, -2))), italic


def _ending(data: bytes) -> str:
    return {b"wOFF": ".woff", b"wOF2": ".woff2", b"OTTO": ".otf"}.get(data[:4], ".ttf")


def _instances(font: Any, family: str, italic: bool, whole: bool) -> Iterable[ReadCut]:
    """Yield the weights in use from a variable font, every other axis at its default."""
    from fontTools.varLib import instancer  # Heavy, and needed only here.

    axes = {axis.axisTag: axis for axis in font["fvar"].axes}
    weights = [weight for weight in _CUT_WEIGHTS
               if axes["wght"].minValue <= weight <= axes["wght"].maxValue]
    for weight in weights or [round(axes["wght"].defaultValue)]:
        location = {tag: (weight if tag == "wght" else axis.defaultValue)
                    for tag, axis in axes.items()}
        cut = instancer.instantiateVariableFont(font, location)
        cut.flavor = None
        out = io.BytesIO()
        cut.save(out)
        yield ReadCut(family, weight, italic, whole, out.getvalue(), _ending(out.getvalue()))


def letters_of(data: bytes) -> frozenset[str]:
    """Return the characters that a font file has."""
    with TTFont(io.BytesIO(data), lazy=True) as font:
        return frozenset(map(chr, font.getBestCmap()))


def missing_letters(letters: frozenset[str], words: Iterable[str]) -> str:
    """Return the characters in `words` that a font lacks, each once and in order."""
    used = {sign for line in words for sign in line if not sign.isspace()}
    return "".join(sorted(used - letters))
