"""The sizes of a picture that visitors get."""

import io

from PIL import Image

__all__ = ["rendition_widths", "visitor_weights", "webp"]

_STEPS = (480, 960, 1440, 1920)
_WIDEST = 2400


def rendition_widths(width: int) -> tuple[int, ...]:
    """Return the widths to make of a picture `width` pixels wide, smallest first."""
    widest = min(width, _WIDEST)
    return (*(step for step in _STEPS if step < widest), widest)


def visitor_weights(data: bytes, width: int) -> dict[int, int]:
    """Return what each size of a picture weighs for visitors: bytes by width."""
    return {step: len(webp(data, step)) for step in rendition_widths(width)}


def webp(data: bytes, width: int) -> bytes:
    """Return the picture as WebP, `width` pixels wide."""
    image = Image.open(io.BytesIO(data))
    height = max(1, round(image.height * width / image.width))
    scaled = image if image.width == width else image.resize(
        (width, height), Image.Resampling.LANCZOS)
    out = io.BytesIO()
    scaled.save(out, "WEBP", quality=80, method=2)
    return out.getvalue()
