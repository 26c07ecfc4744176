"""Cutting a picture: turned, cropped, made smaller."""

import io
import math

from PIL import Image

from needle.core.values.media import Cut

__all__ = ["cut_picture", "inner_share"]


def inner_share(width: int, height: int, degrees: float) -> float:
    """Return how much of each side is left when a turned picture is cut free of its corners.

    The largest rectangle of the same proportions, upright, that fits into the turned one.
    """
    angle = math.radians(abs(degrees))
    sine, cosine = math.sin(angle), math.cos(angle)
    return min(width / (width * cosine + height * sine), height / (width * sine + height * cosine))


def cut_picture(data: bytes, ending: str, cut: Cut) -> tuple[bytes, int, int]:
    """Return a picture cut, in the same format, with its width and height in pixels.

    Args:
        ending: "png", "jpg" or "webp"; anything else becomes PNG.
    """
    opened = Image.open(io.BytesIO(data))
    image = opened.convert("RGBA" if opened.mode in ("RGBA", "LA", "P", "PA") else "RGB")
    if cut.turn:
        image = _turned(image, cut.turn)
    width, height = image.size
    left, top = round(width * cut.left / 100), round(height * cut.top / 100)
    right = max(left + 1, width - round(width * cut.right / 100))
    bottom = max(top + 1, height - round(height * cut.bottom / 100))
    image = image.crop((left, top, right, bottom))
    if cut.longest and max(image.size) > cut.longest:
        image.thumbnail((cut.longest, cut.longest), Image.Resampling.LANCZOS)
    out = io.BytesIO()
    if ending == "jpg":
        image.convert("RGB").save(out, "JPEG", quality=92)
    elif ending == "webp":
        image.save(out, "WEBP", quality=92)
    else:
        image.save(out, "PNG")
    return out.getvalue(), *image.size


def _turned(image: Image.Image, degrees: float) -> Image.Image:
    """Return the picture turned clockwise, cut free of the empty corners."""
    quarter = round(degrees / 90)
    rest = degrees - 90 * quarter
    if quarter % 4:
        image = image.rotate(-90 * quarter, expand=True)
    if abs(rest) < 0.01:
        return image
    share = inner_share(*image.size, rest)
    wide, high = (max(1, int(side * share)) for side in image.size)
    turned = image.rotate(-rest, resample=Image.Resampling.BICUBIC, expand=False)
    left, top = (turned.width - wide) // 2, (turned.height - high) // 2
    return turned.crop((left, top, left + wide, top + high))
