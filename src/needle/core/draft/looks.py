"""What a first draft can look like: palettes, type, signs, and how its sections are laid out."""

import random
from dataclasses import dataclass

from needle.core.brand.marks import SHAPES, initials
from needle.core.colour.oklch import Oklch, to_hex
from needle.core.colour.palette import palette_of
from needle.core.draft.idea import Idea
from needle.core.site.site import Mark
from needle.core.type.faces import PAIRS, Pair

__all__ = ["Layout", "LookChoices", "look_choices"]

_HOW_MANY = 4


@dataclass(frozen=True, slots=True)
class Layout:
    """How the sections of a draft are laid out; each a choice among a few.

    Attributes:
        opening: "side", "middle", "form" or "band".
        points: "cards", "rows" or "icons".
        ground: The roles of the grounds that sections take in turn.
        corner: Of cards and buttons, in CSS pixels.
        voices_first: Whether voices stand above the steps.
        wide: How wide the contents are, in CSS pixels.
    """

    opening: str
    points: str
    ground: tuple[str, ...]
    corner: int
    voices_first: bool
    wide: int


@dataclass(frozen=True, slots=True)
class LookChoices:
    """Proposals to choose from, the best first.

    Attributes:
        palettes: Colours by role.
    """

    palettes: tuple[dict[str, str], ...]
    pairs: tuple[Pair, ...]
    marks: tuple[Mark, ...]
    layouts: tuple[Layout, ...]


def look_choices(idea: Idea, name: str, seed: int) -> LookChoices:
    """Return what the draft of an idea can look like; the same for the same seed."""
    dice = random.Random(f"look {seed} {idea.words}")
    topic = idea.topic
    hues = [(hue + dice.uniform(-14, 14)) % 360 for hue in topic.hues]
    dice.shuffle(hues)
    pairs = [PAIRS[at] for at in topic.moods]
    dice.shuffle(pairs)
    shapes = [*topic.shapes, *(key for key in SHAPES if key not in topic.shapes)]
    first = shapes[: len(topic.shapes)]
    dice.shuffle(first)
    marks = tuple(Mark(shape=key, letters=initials(name)[:2] if not key or SHAPES[key].box else "")
                  for key in [*first, ""][:_HOW_MANY + 1])
    layouts = tuple(_layout(dice) for _ in range(_HOW_MANY))
    return LookChoices(tuple(_palette(hue, number, dice) for number, hue in enumerate(hues)),
                       tuple(pairs), marks, layouts)


def _palette(hue: float, number: int, dice: random.Random) -> dict[str, str]:
    """Return a palette around a hue; light or deep, and in one of four dark."""
    light = dice.choice((0.42, 0.48, 0.53, 0.77, 0.82))
    chroma = dice.uniform(0.1, 0.17) if light < 0.7 else dice.uniform(0.12, 0.16)
    second = (hue + dice.choice((150, 180, 210, 60, -60))) % 360
    dark = number == 3
    accent = to_hex(Oklch(0.78 if dark else 0.48, dice.uniform(0.09, 0.14), second))
    return palette_of(to_hex(Oklch(light, chroma, hue)), accent, dark)


def _layout(dice: random.Random) -> Layout:
    grounds = (("paper", "mist"), ("mist", "paper"), ("paper", "paper", "mist"),
               ("paper", "mist", "ink"))
    return Layout(
        opening=dice.choice(("side", "middle", "form", "band")),
        points=dice.choice(("cards", "rows", "icons")), ground=dice.choice(grounds),
        corner=dice.choice((0, 4, 8, 14)), voices_first=dice.random() < 0.4,
        wide=dice.choice((1040, 1120, 1200)))
