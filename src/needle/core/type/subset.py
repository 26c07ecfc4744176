"""Fonts cut down to the letters in use."""

import io
from functools import lru_cache
from importlib.resources import as_file
from pathlib import Path

from needle.core.type.faces import Face

__all__ = ["subset_woff2"]


@lru_cache(maxsize=64)
def subset_woff2(face: Face, letters: str, media: Path | None = None) -> bytes:
    """Return the face as WOFF2 with these letters and their features only.

    Args:
        media: The project's media folder, for cuts that were added.
    """
    from fontTools import subset  # Heavy, and needed only here.

    options = subset.Options()
    options.flavor = "woff2"
    options.hinting = False
    options.desubroutinize = True
    options.notdef_outline = True
    with as_file(face.source(media)) as path:
        font = subset.load_font(str(path), options)
    if not face.whole:
        cutter = subset.Subsetter(options)
        cutter.populate(text=letters)
        cutter.subset(font)
    out = io.BytesIO()
    subset.save_font(font, out, options)
    font.close()
    return out.getvalue()
