"""Letters as outlines, so that a drawing shows them without any font."""

from functools import lru_cache
from importlib.resources import as_file
from pathlib import Path

from needle.core.type.faces import Face

__all__ = ["outline"]


@lru_cache(maxsize=64)
def outline(face: Face, letters: str, box: tuple[float, float, float, float],
            media: Path | None = None) -> str:
    """Return the path data of some letters, as large as fit a box and in its middle.

    Args:
        box: Left, top, width, height.
        media: The project's media folder, for cuts that were added.

    Returns:
        An empty text if the face has none of the letters.
    """
    from fontTools.pens.boundsPen import BoundsPen  # Heavy, and needed only here.
    from fontTools.pens.svgPathPen import SVGPathPen
    from fontTools.pens.transformPen import TransformPen
    from fontTools.ttLib import TTFont

    with as_file(face.source(media)) as path:
        font = TTFont(path)
    glyphs, cmap = font.getGlyphSet(), font.getBestCmap()
    bounds, at, placed = BoundsPen(glyphs), 0.0, []
    for name in (cmap[ord(sign)] for sign in letters if ord(sign) in cmap):
        glyphs[name].draw(TransformPen(bounds, (1, 0, 0, 1, at, 0)))
        placed.append((name, at))
        at += glyphs[name].width
    if not bounds.bounds:
        return ""
    left, low, right, high = bounds.bounds
    scale = min(box[2] / max(1, right - left), box[3] / max(1, high - low))
    shift_x = box[0] + (box[2] - (right + left) * scale) / 2
    shift_y = box[1] + (box[3] + (high + low) * scale) / 2
    pen = SVGPathPen(glyphs, ntos=lambda value: f"{value:.1f}".rstrip("0").rstrip("."))
    for name, offset in placed:
        glyphs[name].draw(TransformPen(
            pen, (scale, 0, 0, -scale, shift_x + offset * scale, shift_y)))
    return str(pen.getCommands())
