"""Pictures as HTML."""

from markupsafe import Markup

from needle.core.markup.markup import tag
from needle.core.markup.surroundings import Surroundings
from needle.core.values.media import Medium

__all__ = ["image"]


def image(medium: Medium, context: Surroundings, *, alt: str, sizes: str = "", first: bool = False,
          style: str = "") -> Markup:
    """Return an img element with every size there is and its true proportions.

    Args:
        sizes: The `sizes` attribute; the default fits a picture in a column.
        first: It is seen at once, so it is not loaded lazily.
        style: Declarations for this one picture.
    """
    renditions = context.pictures.renditions(medium)
    several = len(renditions) > 1
    return tag("img", {
        "src": renditions[-1 if not several else len(renditions) // 2].address,
        "srcset": ", ".join(f"{r.address} {r.width}w" for r in renditions) if several else None,
        "sizes": (sizes or "(min-width:1080px) 50vw, 100vw") if several else None,
        "width": medium.width, "height": medium.height, "alt": alt,
        "loading": None if first else "lazy", "fetchpriority": "high" if first else None,
        "decoding": None if first else "async", "style": style or None,
    })
