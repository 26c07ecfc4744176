"""Pictures that are shown where a page is shared, made from the brand."""

import io
from importlib.resources import as_file
from pathlib import Path

from PIL import Image, ImageDraw, ImageFont, ImageOps

from needle.core.colour.palette import best_on
from needle.core.site.site import Page, Site
from needle.core.type.faces import nearest_face

__all__ = ["LAYOUTS", "SHARE_SIZE", "share_picture"]

SHARE_SIZE = (1200, 630)
LAYOUTS = {"band": "Main colour stripe", "words": "Words alone",
           "picture": "Beside a picture"}
_EDGE = 84
_SIZES = (92, 80, 70, 60, 52, 44)


def share_picture(site: Site, page: Page, media: Path) -> bytes:
    """Return the picture for a page as JPEG, 1200 by 630.

    Args:
        media: The project's media folder.
    """
    card, colours = site.brand.share, site.brand.colours()
    ground = colours.get(card.ground, colours.get("ink", "#14211d"))
    ink = best_on(ground, (colours.get("paper", "#ffffff"), colours.get("ink", "#000000")))
    image = Image.new("RGB", SHARE_SIZE, ground)
    draw = ImageDraw.Draw(image)
    width = SHARE_SIZE[0] - 2 * _EDGE
    picture = site.medium(card.medium) if card.layout == "picture" else None
    if picture is not None and not picture.is_vector:
        width = _put_picture(image, media / picture.file) - 2 * _EDGE
    elif card.layout == "band":
        draw.rectangle((0, SHARE_SIZE[1] - 34, *SHARE_SIZE), fill=colours.get("main", "#0e6b54"))
    # The site's name stands above the words and need not end them.
    words = card.words or (page.title or page.name).rpartition(" | ")[0] or page.title or page.name
    _put_words(draw, site, words, width, ink, media)
    small = _font(site, site.brand.body_face, 600, 32, media)
    draw.text((_EDGE, 66), site.name, font=small, fill=best_on(
        ground, (colours.get("main", ink),)))
    out = io.BytesIO()
    image.save(out, "JPEG", quality=88)
    return out.getvalue()


def _put_picture(image: Image.Image, file: Path) -> int:
    """Put a picture at the right and return where it begins."""
    left = 720
    try:
        with Image.open(file) as source:
            fitted = ImageOps.fit(source.convert("RGB"), (SHARE_SIZE[0] - left, SHARE_SIZE[1]))
    except (OSError, ValueError):
        return SHARE_SIZE[0]
    image.paste(fitted, (left, 0))
    return left


def _put_words(draw: ImageDraw.ImageDraw, site: Site, words: str, width: int, ink: str,
               media: Path) -> None:
    """Write the words as large as they fit."""
    for size in _SIZES:
        font = _font(site, site.brand.heading_face, 700, size, media)
        lines = _wrapped(words, font, width)
        height = len(lines) * size * 1.15
        if height <= 380 or size == _SIZES[-1]:
            break
    top = 330 - min(height, 400) / 2
    for number, line in enumerate(lines[: int(400 / (size * 1.15))]):
        draw.text((_EDGE, top + number * size * 1.15), line, font=font, fill=ink)


def _wrapped(words: str, font: ImageFont.FreeTypeFont, width: int) -> list[str]:
    lines = [""]
    for word in words.split():
        longer = f"{lines[-1]} {word}".strip()
        if font.getlength(longer) <= width or not lines[-1]:
            lines[-1] = longer
        else:
            lines.append(word)
    return lines


def _font(site: Site, family: str, weight: int, size: int, media: Path,
          ) -> ImageFont.FreeTypeFont:
    face = nearest_face(site, family, weight, False) or nearest_face(
        site, "IBM Plex Sans", weight, False)
    assert face is not None
    with as_file(face.source(media)) as path:
        return ImageFont.truetype(io.BytesIO(path.read_bytes()), size)
