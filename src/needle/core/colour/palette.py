"""Palettes of roles, worked out from one or two colours."""

from collections.abc import Iterable, Mapping, Sequence
from itertools import product

from needle.core.colour.clusters import Cluster
from needle.core.colour.contrast import contrast
from needle.core.colour.oklch import Oklch, from_hex, readable, to_hex

__all__ = ["GROUNDS", "ROLES", "best_on", "chief_colours", "palette_of", "words_on"]

# Roles and what they are called, in the order in which they are shown.
ROLES: Mapping[str, str] = {
    "ink": "Ink", "paper": "Paper", "main": "Main action", "on_main": "Words on main",
    "accent": "Accent", "mist": "Mist", "quiet": "Quiet ink"}
GROUNDS = ("paper", "mist", "ink", "main", "accent", "on_main", "quiet")
_LEAST = 4.5


def palette_of(main: str, accent: str = "", dark: bool = False) -> dict[str, str]:
    """Return a colour for each role.

    Args:
        main: The colour of the main action, "#rrggbb"; kept as it is, unless it would be lost
            on a dark ground.
        accent: The second colour; worked out when empty.
        dark: Light words on a dark ground.
    """
    base = from_hex(main)
    hue, tint = base.hue, min(1.0, base.chroma / 0.06)
    if dark:
        main = readable(main, to_hex(Oklch(0.19, 0.022 * tint, hue)), 3)
        paper, mist = (to_hex(Oklch(light, 0.022 * tint, hue)) for light in (0.19, 0.25))
        ink, quiet = (to_hex(Oklch(light, 0.012 * tint, hue)) for light in (0.95, 0.74))
    else:
        paper, mist = "#ffffff", to_hex(Oklch(0.965, 0.011 * tint, hue))
        ink, quiet = to_hex(Oklch(0.21, 0.034 * tint, hue)), to_hex(Oklch(0.5, 0.026 * tint, hue))
    second = accent or to_hex(Oklch(0.74 if dark else 0.5, max(0.09, base.chroma * 0.75),
                                    (hue + 155) % 360))
    return {
        "ink": readable(ink, paper, 7), "paper": paper, "main": main,
        "on_main": best_on(main, (paper, ink)),
        "accent": readable(second, paper), "mist": mist,
        "quiet": readable(readable(quiet, paper), mist)}


def best_on(ground: str, proposals: Iterable[str]) -> str:
    """Return the proposal that stands out most, made to stand out enough."""
    best = max(proposals, key=lambda colour: contrast(colour, ground))
    return readable(best, ground, _LEAST)


def words_on(colours: Mapping[str, str]) -> dict[tuple[str, str], str]:
    """Return, by ground and role, the colours that words take where the role's own fails.

    Args:
        colours: The palette: "#rrggbb" by role.
    """
    found = {}
    for ground, role in product(GROUNDS, colours):
        if ground in colours:
            colour = readable(colours[role], colours[ground], _LEAST)
            if colour != colours[role]:
                found[ground, role] = colour
    return found


def chief_colours(found: Sequence[Cluster]) -> tuple[str, str]:
    """Return main and accent colour of a logo or picture; the second may be empty.

    The main one is the most colourful for its share; the accent differs from it in hue.
    """
    def weight(cluster: Cluster) -> float:
        light, chroma, _ = from_hex(cluster.colour)
        return float(chroma * cluster.share ** 0.4 * (0.25 < light < 0.9))

    ranked = sorted(found, key=weight, reverse=True)
    if not ranked or weight(ranked[0]) == 0:
        return (ranked[0].colour if ranked else "#0e6b54"), ""
    main = from_hex(ranked[0].colour)
    for cluster in ranked[1:]:
        apart = abs((from_hex(cluster.colour).hue - main.hue + 180) % 360 - 180)
        if weight(cluster) > 0.25 * weight(ranked[0]) and apart > 35:
            return ranked[0].colour, cluster.colour
    return ranked[0].colour, ""
