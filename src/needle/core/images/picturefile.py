"""Taking in a picture file, whatever it claims to be."""

import io
import warnings
from dataclasses import dataclass

from PIL import Image, ImageOps, UnidentifiedImageError

from needle.core.images.vector import VectorError, clean_svg, looks_like_svg
from needle.core.messages.message import CoreError

__all__ = ["LARGEST_SIDE", "LONGEST_KEPT", "PictureError", "Taken", "take_in"]

LARGEST_SIDE = 12_000
LONGEST_KEPT = 3_200
# As many as a large camera takes; more would keep the person waiting.
_MOST_PIXELS = 52_000_000
_FORMATS = {"PNG": "png", "JPEG": "jpg", "WEBP": "webp", "GIF": "gif"}


class PictureError(CoreError):
    """A file that cannot be used as a picture; the message says why and what to do."""


@dataclass(frozen=True, slots=True)
class Taken:
    """A picture as it is kept.

    Attributes:
        data: The file's bytes.
        ending: Its file ending without the dot.
        width, height: In pixels, upright.
    """

    data: bytes
    ending: str
    width: int
    height: int


def take_in(data: bytes, name: str, longest: int = LONGEST_KEPT) -> Taken:
    """Check a picture and return it as it is to be kept.

    It is turned upright, freed of its metadata, and scaled down if its longer side has
    more than `longest` pixels. A picture that needs none of this is kept byte for byte.

    Raises:
        PictureError: It is no picture, damaged, or too large.
    """
    if looks_like_svg(data):
        try:
            return Taken(*_drawn(data, name))
        except VectorError as error:
            raise PictureError(error.message) from error
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore", Image.DecompressionBombWarning)
            image = Image.open(io.BytesIO(data))
            _check_size(image, name)
            ending = _FORMATS.get(image.format or "")
            if ending is None:
                raise PictureError("picture-format", name=name, format=image.format)
            image.load()
    except PictureError:
        raise
    except (UnidentifiedImageError, OSError, SyntaxError, ValueError, EOFError,
            Image.DecompressionBombError) as error:
        raise PictureError("picture-unreadable", name=name) from error
    if _plain(image, longest):
        return Taken(data, ending, *image.size)
    return _kept(ImageOps.exif_transpose(image), ending, longest)


def _drawn(data: bytes, name: str) -> tuple[bytes, str, int, int]:
    clean, width, height = clean_svg(data, name)
    return clean, "svg", width, height


def _plain(image: Image.Image, longest: int) -> bool:
    """Whether the file can be kept as it is: small enough, still, and without metadata."""
    told = {"exif", "xmp", "XML:com.adobe.xmp", "photoshop", "comment"} & image.info.keys()
    return (not told and not image.getexif() and max(image.size) <= longest
            and getattr(image, "n_frames", 1) == 1 and image.mode in ("RGB", "RGBA", "L", "P"))


def _check_size(image: Image.Image, name: str) -> None:
    width, height = image.size
    if max(width, height) > LARGEST_SIDE or width * height > _MOST_PIXELS:
        raise PictureError("picture-large", name=name, width=width, height=height,
                           most=LARGEST_SIDE)


def _kept(image: Image.Image, ending: str, longest: int) -> Taken:
    image.thumbnail((longest, longest), Image.Resampling.LANCZOS, reducing_gap=2.0)
    clear = image.mode in ("RGBA", "LA", "PA") or "transparency" in image.info
    flat = image.convert("RGBA" if clear else "RGB")
    out = io.BytesIO()
    if ending == "jpg" and not clear:
        flat.save(out, "JPEG", quality=92)
    elif ending == "webp":
        flat.save(out, "WEBP", quality=92)
    else:
        ending = "png"
        flat.save(out, "PNG", compress_level=6)
    return Taken(out.getvalue(), ending, *flat.size)
