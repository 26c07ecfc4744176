"""Edits of the brand: palette, type, scale, room, sign and share picture."""

from collections.abc import Callable, Mapping

import msgspec

from needle.core.brand.themes import NamedTheme
from needle.core.colour.palette import ROLES, best_on, palette_of
from needle.core.edit.everywhere import map_nodes
from needle.core.edit.place import EditError
from needle.core.site.site import Site
from needle.core.site.tree import Column, Row, Section
from needle.core.values.brand import Brand, Mark, ShareCard, Swatch
from needle.core.values.look import Look, Value
from needle.core.values.node import Node
from needle.core.values.styletable import TABLE
from needle.core.values.theme import FACETS, Theme

__all__ = [
    "SCALE",
    "set_dark",
    "set_facet",
    "set_mark",
    "set_palette",
    "set_room",
    "set_scale",
    "set_share_card",
    "set_swatch",
    "set_theme",
    "set_typefaces",
    "suggest_palette",
]

# How many steps of the scale each text style stands above common words, and how much of that
# is left on a phone and a tablet.
SCALE: Mapping[str, float] = {"title": 5.4, "heading": 3.4, "subtitle": 0.95, "minor": 0.5,
                              "body": 0, "small": -0.55, "button": 0}
_PHONE, _TABLET = 0.64, 0.82
_LEAST_SIZE = 13
_ROOMY = ("pad_top", "pad_bottom", "gap")
_HEADED = ("title", "heading")


def set_palette(site: Site, colours: Mapping[str, str]) -> Site:
    """Return the site with colours of its palette set by role; roles it lacked are added."""
    return _with_brand(site, lambda brand: msgspec.structs.replace(
        brand, palette=_swatches(brand.palette, colours)))


def set_swatch(site: Site, role: str, value: str) -> Site:
    """Return the site with one colour of the brand changed to "#rrggbb".

    With the main colour, the words on it and the dark colours follow where they must.
    """
    def how(brand: Brand) -> Brand:
        colours = brand.colours() | {role: value.lower()}
        if role == "main" and "on_main" in colours:
            kept = colours["on_main"]
            best = best_on(colours["main"], (kept, colours.get("paper", "#ffffff"),
                                             colours.get("ink", "#000000")))
            enough = best_on(colours["main"], (kept,)) == kept
            colours["on_main"] = kept if enough else best
        dark = brand.dark and _dark_swatches(colours)
        return msgspec.structs.replace(brand, palette=_swatches(brand.palette, colours), dark=dark)

    return _with_brand(site, how)


def suggest_palette(site: Site, main: str, accent: str = "", dark: bool = False) -> Site:
    """Return the site with all roles worked out from one or two colours."""
    return set_palette(site, palette_of(main, accent, dark))


def set_dark(site: Site, on: bool) -> Site:
    """Return the site with dark colours for visitors whose system is dark, or without."""
    return _with_brand(site, lambda brand: msgspec.structs.replace(
        brand, dark=_dark_swatches(brand.colours()) if on else ()))


def set_typefaces(site: Site, heading: str = "", body: str = "") -> Site:
    """Return the site with other families; an empty one stays."""
    return _with_brand(site, lambda brand: msgspec.structs.replace(
        brand, heading_face=heading or brand.heading_face, body_face=body or brand.body_face))


def set_scale(site: Site, size: int, ratio: float) -> Site:
    """Return the site with the sizes of its text styles worked out afresh.

    Args:
        size: Of common words, in CSS pixels, 14 to 24.
        ratio: From one step to the next, 1.05 to 1.6.

    Raises:
        EditError: A number is out of bounds.
    """
    if not 14 <= size <= 24:
        raise EditError("scale-base")
    if not 1.05 <= ratio <= 1.6:
        raise EditError("scale-ratio")
    styles = tuple(msgspec.structs.replace(style, look=_sized(style.look, style.key, size, ratio))
                   if style.key in SCALE else style for style in site.styles)
    return _with_brand(msgspec.structs.replace(site, styles=styles), lambda brand:
                       msgspec.structs.replace(brand, size=size, ratio=ratio))


def _sized(look: Look, key: str, size: int, ratio: float) -> Look:
    full = size * ratio ** SCALE[key]
    look = look.with_value("size", max(_LEAST_SIZE, round(full)), None)
    for width in ("phone", "tablet"):
        values = dict(getattr(look, width))
        values.pop("size", None)
        share = _PHONE if width == "phone" else _TABLET
        shrunk = round(max(size * 1.15, full * share))
        if full > size * 1.6 and shrunk < round(full):
            values["size"] = shrunk
        look = msgspec.structs.replace(look, **{width: values})
    return look


def set_room(site: Site, percent: int) -> Site:
    """Return the site with the space in and between sections, rows and columns scaled.

    Args:
        percent: Of the usual, 50 to 200.

    Raises:
        EditError: It is out of bounds.
    """
    if not 50 <= percent <= 200:
        raise EditError("room-range")
    factor = percent / site.brand.room

    def roomier(node: Node) -> Node:
        if not isinstance(node, Section | Row | Column):
            return node
        look = node.look
        for width in ("base", "phone", "tablet", "desktop"):
            values = getattr(look, width)
            if any(name in values for name in _ROOMY):
                look = msgspec.structs.replace(look, **{width: {
                    name: _scaled(name, value, factor) for name, value in values.items()}})
        return node if look is node.look else msgspec.structs.replace(node, look=look)

    return _with_brand(map_nodes(site, roomier), lambda brand: msgspec.structs.replace(
        brand, room=percent))


def _scaled(name: str, value: Value, factor: float) -> Value:
    if name not in _ROOMY or isinstance(value, str):
        return value
    return round(min(TABLE[name].high, value * factor))


def set_theme(site: Site, named: NamedTheme) -> Site:
    """Return the site in a theme, with the contrast of sizes that belongs to it."""
    site = set_scale(site, site.brand.size, named.ratio)
    return _with_theme(site, named.theme)


def set_facet(site: Site, key: str, choice: str) -> Site:
    """Return the site with one facet of its theme chosen otherwise.

    Raises:
        StrictError: The facet has no such choice.
    """
    theme = site.brand.theme or Theme()
    return _with_theme(site, msgspec.structs.replace(theme, **{key: choice}))


def _with_theme(site: Site, theme: Theme) -> Site:
    """Return the site in a theme; titles and headings take the values that go with it."""
    values: dict[str, Value] = {}
    before = site.brand.theme
    for facet in FACETS:
        chosen = getattr(theme, facet.key)
        if before is None or getattr(before, facet.key) != chosen:
            values |= facet.choices[chosen].styles
    styles = tuple(msgspec.structs.replace(style, look=msgspec.structs.replace(
        style.look, base=dict(style.look.base) | values))
        if style.key in _HEADED else style for style in site.styles)
    return _with_brand(msgspec.structs.replace(site, styles=styles) if values else site,
                       lambda brand: msgspec.structs.replace(brand, theme=theme))


def set_mark(site: Site, mark: Mark) -> Site:
    """Return the site with another sign."""
    return _with_brand(site, lambda brand: msgspec.structs.replace(brand, mark=mark))


def set_share_card(site: Site, card: ShareCard) -> Site:
    """Return the site with its share pictures made another way."""
    return _with_brand(site, lambda brand: msgspec.structs.replace(brand, share=card))


def _with_brand(site: Site, how: Callable[[Brand], Brand]) -> Site:
    brand = how(site.brand)
    return site if brand == site.brand else msgspec.structs.replace(site, brand=brand)


def _swatches(old: tuple[Swatch, ...], colours: Mapping[str, str]) -> tuple[Swatch, ...]:
    kept = [msgspec.structs.replace(swatch, value=colours.get(swatch.role, swatch.value))
            for swatch in old]
    known = {swatch.role for swatch in old}
    return (*kept, *(Swatch(role=role, name=ROLES.get(role, role), value=value)
                     for role, value in colours.items() if role not in known))


def _dark_swatches(colours: Mapping[str, str]) -> tuple[Swatch, ...]:
    dark = palette_of(colours.get("main", "#0e6b54"), "", dark=True)
    return _swatches((), {role: dark.get(role, value) for role, value in colours.items()})
