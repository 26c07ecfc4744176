"""Pictures that stand in until there are real ones: shapes and a line drawing, as SVG."""

import random
from collections.abc import Mapping

from needle.core.colour.oklch import from_hex, to_hex
from needle.core.icons.drawing import icon_strokes

__all__ = ["illustration"]

_WIDE, _HIGH = 1200, 900


def illustration(icon: str, colours: Mapping[str, str], seed: str, wide: int = _WIDE,
                 high: int = _HIGH) -> bytes:
    """Return a drawing in the colours of the brand: a landscape of shapes and one thing in it.

    Args:
        icon: The name of a shipped icon.
        colours: "#rrggbb" by role.
        seed: Another text gives another landscape.
    """
    dice = random.Random(seed)
    main, accent, ink = colours["main"], colours["accent"], colours["ink"]
    pale = _lighter(main, 0.93, 0.3)
    parts = [f'<rect width="{wide}" height="{high}" fill="{pale}"/>']
    draw = dice.choice((_hills, _circles, _bands, _tiles))
    parts += draw(dice, wide, high, (main, accent, _lighter(accent, 0.84, 0.5),
                                     _lighter(main, 0.82, 0.6)))
    size = high * 0.42
    left, top = (wide - size) / 2, (high - size) / 2 - high * 0.03
    parts.append(f'<circle cx="{wide / 2:g}" cy="{top + size / 2:g}" r="{size * 0.78:g}" '
                 f'fill="{_lighter(main, 0.985, 0.1)}"/>')
    parts.append(f'<g transform="translate({left:g} {top:g}) scale({size / 24:g})" fill="none" '
                 f'stroke="{ink}" stroke-width="1.1" stroke-linecap="round" '
                 f'stroke-linejoin="round">{icon_strokes(icon)}</g>')
    return (f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {wide} {high}" '
            f'width="{wide}" height="{high}">{"".join(parts)}</svg>').encode()


def _lighter(colour: str, light: float, strength: float) -> str:
    found = from_hex(colour)
    return to_hex(found._replace(light=light, chroma=found.chroma * strength))


def _hills(dice: random.Random, wide: int, high: int, inks: tuple[str, ...]) -> list[str]:
    parts = [f'<circle cx="{dice.randint(wide // 6, wide * 5 // 6)}" cy="{high * 0.2:g}" '
             f'r="{high * 0.11:g}" fill="{inks[2]}"/>']
    for number in range(3):
        base = high * (0.52 + 0.17 * number)
        rise = [base + dice.uniform(-0.1, 0.1) * high for _ in range(4)]
        parts.append(f'<path fill="{(inks[3], inks[2], inks[0])[number]}" d="M0 {rise[0]:.0f}C'
                     f'{wide * 0.3:.0f} {rise[1]:.0f} {wide * 0.6:.0f} {rise[2]:.0f} {wide} '
                     f'{rise[3]:.0f}V{high}H0z"/>')
    return parts


def _circles(dice: random.Random, wide: int, high: int, inks: tuple[str, ...]) -> list[str]:
    return [f'<circle cx="{dice.randint(0, wide)}" cy="{dice.randint(0, high)}" '
            f'r="{dice.randint(high // 10, high // 3)}" fill="{inks[number % 4]}" '
            f'opacity="{0.9 if number % 4 > 1 else 0.5}"/>' for number in range(7)]


def _bands(dice: random.Random, wide: int, high: int, inks: tuple[str, ...]) -> list[str]:
    parts, at = [], -wide // 3
    while at < wide:
        thick = dice.randint(wide // 14, wide // 5)
        parts.append(f'<path fill="{dice.choice(inks[1:])}" opacity="0.8" d="M{at} {high}l'
                     f'{wide // 3} -{high}h{thick}l-{wide // 3} {high}z"/>')
        at += thick + dice.randint(wide // 20, wide // 6)
    return parts


def _tiles(dice: random.Random, wide: int, high: int, inks: tuple[str, ...]) -> list[str]:
    side = high // 3
    shapes = ("M0 0h{s}v{s}H0z", "M0 0h{s}L0 {s}z", "M0 0a{s} {s} 0 0 1 {s} {s}H0z",
              "M{s} 0a{s} {s} 0 0 1 -{s} {s}h{s}z")
    return [f'<path transform="translate({x * side} {y * side})" fill="{dice.choice(inks)}" '
            f'opacity="0.85" d="{dice.choice(shapes).format(s=side)}"/>'
            for x in range(wide // side + 1) for y in range(3) if dice.random() < 0.7]
