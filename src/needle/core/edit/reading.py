"""How well words stand out from what is behind them."""

from collections.abc import Sequence

from needle.core.colour import contrast
from needle.core.site.node import Node
from needle.core.site.site import Brand, Site
from needle.core.site.widths import Width

__all__ = ["text_contrast"]


def text_contrast(site: Site, path: Sequence[Node], width: Width) -> float | None:
    """Return the contrast of an item's words on the nearest fill around it, 1 to 21.

    Args:
        path: The nodes from the section or popup down to the item.

    Returns:
        `None` where a picture is behind the words or a colour is not known.
    """
    on_main = getattr(path[-1], "looks", "") == "main"
    fill = _nearest(path, "fill", width, "main" if on_main else "")
    behind: str = getattr(path[0], "picture", "")
    if behind and fill in ("", path[0].look.value("fill", width)):
        return None
    ink = _nearest(path, "colour", width, "on_main" if on_main else "") or "ink"
    one, other = _hex(site.brand, fill or "paper"), _hex(site.brand, ink)
    return contrast(one, other) if one and other else None


def _nearest(path: Sequence[Node], name: str, width: Width, own: str) -> str:
    for node in reversed(path):
        value = node.look.value(name, width)
        if value is not None:
            return str(value)
        if node is path[-1] and own:
            return own
    return ""


def _hex(brand: Brand, value: str) -> str:
    swatch = brand.swatch(value)
    return swatch.value if swatch else (value if value.startswith("#") else "")
