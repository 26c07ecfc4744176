"""The icon that a phone puts on its home screen: the sign of the site on its paper."""

import io
from pathlib import Path

import resvg_py
from PIL import Image, ImageOps

from needle.core.brand.marks import Branded, mark_svg
from needle.core.images.vector import clean_svg
from needle.core.values.media import Medium

__all__ = ["TOUCH_PX", "touch_icon"]

# What phones ask for; they round the corners themselves.
TOUCH_PX = 180
_SIGN_PX = 124


def touch_icon(site: Branded, own: Medium | None, media: Path) -> bytes:
    """Return the icon as PNG, without anything that shows through.

    Args:
        own: The site's own sign, where a picture was chosen for it.
        media: The project's media folder.

    Raises:
        OSError: The own sign cannot be read, or is no picture.
        CoreError, ValueError: It is no drawing.
    """
    paper = site.brand.colours().get("paper", "#ffffff")
    icon = Image.new("RGB", (TOUCH_PX, TOUCH_PX), paper)
    sign = _drawn(mark_svg(site, media).encode()) if own is None else _own(own, media / own.file)
    fitted = ImageOps.contain(sign.convert("RGBA"), (_SIGN_PX, _SIGN_PX))
    icon.paste(fitted, ((TOUCH_PX - fitted.width) // 2, (TOUCH_PX - fitted.height) // 2), fitted)
    out = io.BytesIO()
    icon.save(out, "PNG", optimize=True)
    return out.getvalue()


def _own(medium: Medium, file: Path) -> Image.Image:
    if medium.is_vector:
        return _drawn(file.read_bytes())
    with Image.open(file) as source:
        source.load()
        return source


def _drawn(svg: bytes) -> Image.Image:
    # Cleaned here, too: a drawing of a foreign project could name any picture of this machine.
    safe, _, _ = clean_svg(svg, "icon")
    drawn = resvg_py.svg_to_bytes(svg_string=safe.decode(), width=_SIGN_PX * 2,
                                  skip_system_fonts=True)
    return Image.open(io.BytesIO(bytes(drawn)))
