"""Pictures that stand in until there are real ones: drawings in the colours of the site, as SVG.

Four families: scenes, patterns, letters and objects. A page takes another device each time.
"""

import random
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from math import pi, sin

from needle.core.brand.letters import outline
from needle.core.colour.oklch import from_hex, to_hex
from needle.core.icons.drawing import icon_strokes
from needle.core.type.faces import Face

__all__ = ["DEVICES", "Subject", "devices_for", "stand_in"]

_Draw = Callable[[random.Random, int, int, "_Inks", "Subject"], list[str]]


@dataclass(frozen=True, slots=True)
class Subject:
    """What a drawing may be of.

    Attributes:
        icon: The name of a shipped icon that shows what is offered; empty if none does.
        letters: One or two, for a drawing of type.
        face: What these are set in.
    """

    icon: str = ""
    letters: str = ""
    face: Face | None = None


@dataclass(frozen=True, slots=True)
class _Inks:
    """The colours of a drawing."""

    ground: str
    main: str
    accent: str
    soft: str
    pale: str
    ink: str
    white: str

    def turns(self) -> tuple[str, ...]:
        """Return those that lie beside each other."""
        return (self.main, self.accent, self.soft, self.pale)


def stand_in(device: str, colours: Mapping[str, str], seed: str, subject: Subject,
             wide: int, high: int) -> bytes:
    """Return a drawing in the colours of the site.

    Args:
        device: One of `DEVICES`.
        colours: "#rrggbb" by role.
        seed: Another text gives another drawing of the same device.
        wide, high: In CSS pixels.
    """
    inks = _Inks(ground=_lighter(colours["main"], 0.93, 0.3), main=colours["main"],
                 accent=colours["accent"], soft=_lighter(colours["accent"], 0.84, 0.5),
                 pale=_lighter(colours["main"], 0.82, 0.6), ink=colours["ink"],
                 white=_lighter(colours["main"], 0.985, 0.1))
    parts = DEVICES[device](random.Random(f"{device} {seed}"), wide, high, inks, subject)
    return (f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {wide} {high}" '
            f'width="{wide}" height="{high}"><rect width="{wide}" height="{high}" '
            f'fill="{inks.ground}"/>{"".join(parts)}</svg>').encode()


def devices_for(seed: str, subject: Subject) -> list[str]:
    """Return the devices that fit a subject, in an order of their own: families take turns."""
    dice = random.Random(f"devices {seed}")
    families = [list(family) for family in _FAMILIES]
    if not subject.icon:
        families.remove(list(_OBJECTS))
    if not subject.letters or subject.face is None:
        families.remove(list(_LETTERS))
    for family in families:
        dice.shuffle(family)
    first, rest = families[:1], families[1:]
    dice.shuffle(rest)
    turns = [*first, *rest]
    return [family[turn] for turn in range(max(map(len, turns)))
            for family in turns if turn < len(family)]


def _lighter(colour: str, light: float, strength: float) -> str:
    found = from_hex(colour)
    return to_hex(found._replace(light=light, chroma=found.chroma * strength))


# Scenes

def _hills(dice: random.Random, wide: int, high: int, inks: _Inks, _: Subject) -> list[str]:
    parts = [f'<circle cx="{dice.randint(wide // 6, wide * 5 // 6)}" cy="{high * 0.26:g}" '
             f'r="{high * 0.12:g}" fill="{inks.soft}"/>']
    for number in range(3):
        base = high * (0.52 + 0.17 * number)
        rise = [base + dice.uniform(-0.1, 0.1) * high for _ in range(4)]
        parts.append(f'<path fill="{(inks.pale, inks.accent, inks.main)[number]}" '
                     f'd="M0 {rise[0]:.0f}C{wide * 0.3:.0f} {rise[1]:.0f} {wide * 0.6:.0f} '
                     f'{rise[2]:.0f} {wide} {rise[3]:.0f}V{high}H0z"/>')
    return parts


def _water(dice: random.Random, wide: int, high: int, inks: _Inks, _: Subject) -> list[str]:
    sun, line = dice.randint(wide // 4, wide * 3 // 4), high * 0.46
    parts = [f'<circle cx="{sun}" cy="{line:g}" r="{high * 0.2:g}" fill="{inks.accent}"/>',
             f'<rect y="{line:g}" width="{wide}" height="{high - line:g}" fill="{inks.main}"/>']
    for number in range(9):
        top, far = line + high * (0.05 + 0.055 * number), wide * (0.05 + 0.04 * number)
        parts.append(f'<rect x="{sun - far + dice.randint(-40, 40):g}" y="{top:.0f}" '
                     f'width="{far * 2:g}" height="{high * 0.013:.0f}" rx="4" '
                     f'fill="{inks.soft if number % 2 else inks.pale}"/>')
    return parts


def _street(dice: random.Random, wide: int, high: int, inks: _Inks, _: Subject) -> list[str]:
    parts, at, ground = [], 0, high * 0.86
    while at < wide:
        broad, tall = dice.randint(wide // 9, wide // 6), dice.uniform(0.34, 0.62) * high
        body = dice.choice((inks.main, inks.accent, inks.pale, inks.soft))
        panes = inks.white if body in (inks.main, inks.accent) else inks.main
        top = ground - tall
        parts.append(f'<path fill="{body}" d="M{at} {ground:.0f}V{top:.0f}l{broad // 2} '
                     f'-{broad // 3}l{broad - broad // 2} {broad // 3}V{ground:.0f}z"/>')
        side = broad // 6
        for row in range(int(tall // (side * 2.2)) - 1):
            for column in range(2):
                parts.append(f'<rect x="{at + side + column * side * 2.6:.0f}" '
                             f'y="{top + side * (0.8 + 2.2 * row):.0f}" width="{side * 1.4:.0f}" '
                             f'height="{side * 1.4:.0f}" fill="{panes}"/>')
        at += broad
    return [*parts, f'<rect y="{ground:.0f}" width="{wide}" height="{high - ground:.0f}" '
                    f'fill="{inks.ink}"/>']


def _window(dice: random.Random, wide: int, high: int, inks: _Inks, _: Subject) -> list[str]:
    left, top, broad, tall = wide * 0.18, high * 0.1, wide * 0.42, high * 0.58
    sill = top + tall
    parts = [f'<rect width="{wide}" height="{high}" fill="{inks.pale}"/>',
             f'<rect x="{left:g}" y="{top:g}" width="{broad:g}" height="{tall:g}" '
             f'fill="{inks.white}"/>',
             f'<circle cx="{left + broad * dice.uniform(0.3, 0.7):.0f}" cy="{top + tall * 0.35:g}" '
             f'r="{tall * 0.14:g}" fill="{inks.soft}"/>',
             f'<path fill="none" stroke="{inks.ink}" stroke-width="{high * 0.014:g}" '
             f'd="M{left:g} {top:g}h{broad:g}v{tall:g}h-{broad:g}zm{broad / 2:g} 0v{tall:g}'
             f'm-{broad / 2:g} -{tall / 2:g}h{broad:g}"/>',
             f'<rect x="0" y="{sill:g}" width="{wide}" height="{high * 0.03:g}" '
             f'fill="{inks.main}"/>']
    pot = wide * 0.73
    parts += [f'<path fill="{leaf}" d="M{pot:.0f} {sill:.0f}q{lean:.0f} -{high * 0.16:.0f} '
              f'{lean * 0.5:.0f} -{high * rise:.0f}q{-lean * 1.4:.0f} {high * 0.1:.0f} '
              f'{-lean * 0.5:.0f} {high * rise:.0f}z"/>'
              for leaf, lean, rise in ((inks.main, wide * 0.1, 0.36),
                                       (inks.accent, -wide * 0.1, 0.3),
                                       (inks.main, wide * 0.02, 0.44))]
    clay, deep = wide * 0.12, high * 0.1
    return [*parts, f'<path fill="{inks.accent}" d="M{pot - clay / 2:.0f} {sill - deep:.0f}'
                    f'h{clay:.0f}l-{clay / 6:.0f} {deep:.0f}h-{clay * 0.67:.0f}z"/>']


# Patterns

def _circles(dice: random.Random, wide: int, high: int, inks: _Inks, _: Subject) -> list[str]:
    turns = inks.turns()
    return [f'<circle cx="{dice.randint(0, wide)}" cy="{dice.randint(0, high)}" '
            f'r="{dice.randint(high // 10, high // 3)}" fill="{turns[number % 4]}" '
            f'opacity="{0.9 if number % 4 > 1 else 0.55}"/>' for number in range(8)]


def _bands(dice: random.Random, wide: int, high: int, inks: _Inks, _: Subject) -> list[str]:
    parts, at = [], -wide // 3
    while at < wide:
        thick = dice.randint(wide // 14, wide // 5)
        parts.append(f'<path fill="{dice.choice(inks.turns())}" opacity="0.85" d="M{at} {high}l'
                     f'{wide // 3} -{high}h{thick}l-{wide // 3} {high}z"/>')
        at += thick + dice.randint(wide // 20, wide // 6)
    return parts


def _tiles(dice: random.Random, wide: int, high: int, inks: _Inks, _: Subject) -> list[str]:
    side = high // 3
    shapes = ("M0 0h{s}v{s}H0z", "M0 0h{s}L0 {s}z", "M0 0a{s} {s} 0 0 1 {s} {s}H0z",
              "M{s} 0a{s} {s} 0 0 1 -{s} {s}h{s}z")
    return [f'<path transform="translate({x * side} {y * side})" '
            f'fill="{dice.choice(inks.turns())}" opacity="0.9" '
            f'd="{dice.choice(shapes).format(s=side)}"/>'
            for x in range(wide // side + 1) for y in range(3) if dice.random() < 0.8]


def _waves(dice: random.Random, wide: int, high: int, inks: _Inks, _: Subject) -> list[str]:
    parts, step = [], high // 11
    length, lift = dice.uniform(0.35, 0.8) * wide, step * dice.uniform(0.7, 1.5)
    for number in range(12):
        base = step * number
        points = " ".join(f"{x} {base + lift * sin(2 * pi * x / length + number * 0.5):.0f}"
                          for x in range(0, wide + 40, 40))
        parts.append(f'<polyline fill="none" stroke="{inks.turns()[number % 4]}" '
                     f'stroke-width="{step * 0.42:.0f}" points="{points}"/>')
    return parts


def _weave(dice: random.Random, wide: int, high: int, inks: _Inks, _: Subject) -> list[str]:
    side, parts = high // dice.choice((7, 8, 9)), []
    for x in range(wide // side + 1):
        for y in range(high // side + 1):
            upright = (x + y) % 2
            size = (side * 0.62, side * 0.94) if upright else (side * 0.94, side * 0.62)
            fill = inks.main if upright else dice.choice((inks.soft, inks.pale, inks.accent))
            parts.append(
                f'<rect x="{x * side + (side - size[0]) / 2:.0f}" '
                f'y="{y * side + (side - size[1]) / 2:.0f}" width="{size[0]:.0f}" '
                f'height="{size[1]:.0f}" rx="{side * 0.12:.0f}" '
                f'fill="{fill}"/>')
    return parts


# Letters

def _letter(dice: random.Random, wide: int, high: int, inks: _Inks, subject: Subject) -> list[str]:
    size = high * 1.24
    return [f'<rect width="{wide}" height="{high}" fill="{inks.main}"/>',
            f'<circle cx="{dice.randint(wide // 3, wide)}" cy="{dice.randint(0, high)}" '
            f'r="{high * 0.45:g}" fill="{inks.accent}"/>',
            _set(subject, subject.letters[:1], inks.white, (wide - size) / 2, high * -0.12, size)]


def _letters(dice: random.Random, wide: int, high: int, inks: _Inks, subject: Subject,
             ) -> list[str]:
    parts, side = [], high / 3
    for number in range(round(wide / side + 0.5) * 3):
        sign = subject.letters[number % len(subject.letters)]
        parts.append(_set(subject, sign, dice.choice(inks.turns()), (number // 3 + 0.15) * side,
                          (number % 3 + 0.15) * side, side * 0.7))
    return parts


def _set(subject: Subject, sign: str, colour: str, left: float, top: float, size: float) -> str:
    """Return a letter, as large as fits a square."""
    assert subject.face is not None
    return (f'<path fill="{colour}" transform="translate({left:.0f} {top:.0f}) '
            f'scale({size / 1000:.4f})" d="{outline(subject.face, sign, (0, 0, 1000, 1000))}"/>')


# Objects

def _drawn(icon: str, left: float, top: float, size: float, colour: str, weight: float) -> str:
    return (f'<g transform="translate({left:.0f} {top:.0f}) scale({size / 24:.2f})" fill="none" '
            f'stroke="{colour}" stroke-width="{weight:g}" stroke-linecap="round" '
            f'stroke-linejoin="round">{icon_strokes(icon)}</g>')


def _emblem(dice: random.Random, wide: int, high: int, inks: _Inks, subject: Subject) -> list[str]:
    ground = dice.choice((_hills, _tiles, _bands, _circles))(dice, wide, high, inks, subject)
    size = high * 0.42
    left, top = (wide - size) / 2, (high - size) / 2
    return [*ground, f'<circle cx="{wide / 2:g}" cy="{high / 2:g}" r="{size * 0.78:g}" '
            f'fill="{inks.white}"/>', _drawn(subject.icon, left, top, size, inks.ink, 1.1)]


def _close_up(dice: random.Random, wide: int, high: int, inks: _Inks, subject: Subject,
              ) -> list[str]:
    size = high * 1.15
    return [f'<rect width="{wide}" height="{high}" fill="{inks.main}"/>',
            f'<rect y="{high * 0.72:g}" width="{wide}" height="{high * 0.28:g}" '
            f'fill="{inks.accent}"/>',
            _drawn(subject.icon, wide * dice.uniform(0.12, 0.3), high * -0.06, size, inks.white,
                   1.3)]


_SCENES: Mapping[str, _Draw] = {"hills": _hills, "water": _water, "street": _street,
                                "window": _window}
_PATTERNS: Mapping[str, _Draw] = {"circles": _circles, "bands": _bands, "tiles": _tiles,
                                  "waves": _waves, "weave": _weave}
_LETTERS: Mapping[str, _Draw] = {"letter": _letter, "letters": _letters}
_OBJECTS: Mapping[str, _Draw] = {"emblem": _emblem, "close-up": _close_up}
# What shows most of the thing comes first.
_FAMILIES: Sequence[Mapping[str, _Draw]] = (_OBJECTS, _PATTERNS, _SCENES, _LETTERS)
DEVICES: Mapping[str, _Draw] = {**_SCENES, **_PATTERNS, **_LETTERS, **_OBJECTS}
