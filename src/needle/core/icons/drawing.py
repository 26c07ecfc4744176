"""The shipped icons: their names, the words they are found by, and their SVG."""

from collections.abc import Mapping
from functools import cache
from importlib.resources import files

import msgspec
from markupsafe import Markup

__all__ = ["find_icons", "icon_address", "icon_names", "icon_strokes", "icon_svg"]


class _Icon(msgspec.Struct, frozen=True):
    """One icon: what is drawn on 24 × 24 units, and words that mean it."""

    draw: str
    tags: str


@cache
def _icons() -> Mapping[str, _Icon]:
    raw = (files("needle.core.icons") / "drawings.json").read_bytes()
    return msgspec.json.decode(raw, type=dict[str, _Icon])


def icon_names() -> tuple[str, ...]:
    """Return the name of every icon, in the order of the alphabet."""
    return tuple(_icons())


def find_icons(words: str) -> list[str]:
    """Return the icons that every one of `words` fits, those with it in their name first."""
    asked = words.casefold().split()
    hits = [name for name, icon in _icons().items()
            if all(word in f"{name} {icon.tags}" for word in asked)]
    return sorted(hits, key=lambda name: (not all(word in name for word in asked), name))


def icon_svg(name: str) -> Markup:
    """Return an icon as inline SVG in the colour and size of the words around it.

    An icon that there is not gives nothing.
    """
    icon = _icons().get(name)
    if icon is None:
        return Markup("")
    return Markup(
        '<svg class="icon" viewBox="0 0 24 24" width="24" height="24" fill="none" '
        'stroke="currentColor" stroke-width="2" stroke-linecap="round" stroke-linejoin="round" '
        f'aria-hidden="true">{icon.draw}</svg>')


def icon_strokes(name: str) -> str:
    """Return what an icon draws on 24 × 24 units, to stand inside another drawing."""
    icon = _icons().get(name)
    return icon.draw if icon else ""


def icon_address(name: str) -> str:
    """Return an icon as the data address of a black SVG, for CSS masks; empty if it is gone."""
    icon = _icons().get(name)
    if icon is None:
        return ""
    svg = ("<svg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 24 24' fill='none' "
           "stroke='black' stroke-width='3' stroke-linecap='round' stroke-linejoin='round'>"
           f"{icon.draw}</svg>").replace('"', "'")
    safe = "".join(sign if sign not in "%#<>{}" else f"%{ord(sign):02X}" for sign in svg)
    return f'url("data:image/svg+xml,{safe}")'
