"""Ready-made themes: whole manners of building a page, by our own hand."""

from collections.abc import Sequence
from dataclasses import dataclass

from needle.core.values.theme import Theme

__all__ = ["THEMES", "NamedTheme", "theme_named", "theme_of"]


@dataclass(frozen=True, slots=True)
class NamedTheme:
    """A theme to choose.

    Attributes:
        note: What it is like and what for.
        ratio: From one size of type to the next: how much larger than the words titles are.
    """

    key: str
    name: str
    note: str
    theme: Theme
    ratio: float


THEMES: Sequence[NamedTheme] = (
    NamedTheme("workshop", "Workshop", "Plain and friendly; for nearly everything.",
               Theme(decoration="bar", grounds="turns"), 1.25),
    NamedTheme("ledger", "Ledger", "Fine lines and headings at the side; sober, for advice.",
               Theme(corner="sharp", cards="line", parting="line", buttons="square",
                     pictures="square", edge="side", decoration="index"), 1.22),
    NamedTheme("placard", "Placard", "Loud capitals far to the left; for a day or a demand.",
               Theme(rhythm="airy", corner="sharp", cards="side", parting="heavy", buttons="caps",
                     pictures="block", headings="caps", edge="left", grounds="main"), 1.38),
    NamedTheme("picnic", "Picnic", "Round and cheerful, with scallops; for children and food.",
               Theme(corner="round", cards="soft", parting="scallop", buttons="pill",
                     pictures="round", headings="heavy", edge="middle", decoration="underline",
                     grounds="turns"),
               1.26),
    NamedTheme("ferry", "Ferry", "Slanted and quick; for sport, travel and machines.",
               Theme(corner="slight", cards="top", parting="slant", buttons="tall",
                     pictures="leaf", headings="heavy", decoration="side", grounds="deep"), 1.28),
    NamedTheme("postcard", "Postcard", "Prints on a table, dashed and perforated; for outings.",
               Theme(corner="slight", cards="dashed", parting="teeth", buttons="ring",
                     pictures="print", edge="middle", decoration="quote", grounds="turns"), 1.24),
    NamedTheme("orangery", "Orangery", "Arches, light headings and air; for rooms and care.",
               Theme(rhythm="airy", corner="round", cards="line", parting="curve", buttons="pill",
                     pictures="arch", headings="light", edge="middle", grounds="turns"), 1.3),
    NamedTheme("gazette", "Gazette", "Double rules and close columns; for articles and causes.",
               Theme(rhythm="tight", corner="sharp", cards="top", parting="double",
                     buttons="square", pictures="mat", headings="lined"), 1.27),
    NamedTheme("drawers", "Drawers", "Each section a drawer of its own; for software and lists.",
               Theme(rhythm="tight", corner="round", cards="flat", parting="panels",
                     buttons="soft", pictures="round", headings="heavy", edge="shared"), 1.22),
    NamedTheme("stencil", "Stencil", "Thick edges and hard shadows; for makers and clubs.",
               Theme(corner="slight", cards="hard", parting="heavy", buttons="hard",
                     pictures="edge", headings="caps", decoration="dots"), 1.24),
    NamedTheme("gallery", "Gallery", "Large pictures, small words, much air; for art and rooms.",
               Theme(rhythm="airy", corner="sharp", cards="flat", parting="none", buttons="caps",
                     pictures="square", headings="light", edge="side"), 1.42),
    NamedTheme("leaflet", "Leaflet", "Leaves that lie over each other; for gardens and health.",
               Theme(corner="leaf", cards="soft", parting="overlap", buttons="leaf",
                     pictures="leaf", headings="plain", decoration="index", grounds="turns"), 1.25),
)


def theme_named(key: str) -> NamedTheme | None:
    """Return the theme with this key."""
    return next((one for one in THEMES if one.key == key), None)


def theme_of(theme: Theme | None) -> NamedTheme | None:
    """Return the ready-made theme that a site is in; `None` if it went its own way."""
    return next((one for one in THEMES if one.theme == theme), None)
