"""What a first draft can look like: palettes, type, signs, themes, and orders of argument."""

import random
from dataclasses import dataclass

from needle.core.brand.marks import SHAPES, initials
from needle.core.brand.themes import THEMES, NamedTheme
from needle.core.colour.oklch import Oklch, to_hex
from needle.core.colour.palette import palette_of
from needle.core.draft.fields import topic_of
from needle.core.draft.orders import orders_for
from needle.core.draft.slots import Slots
from needle.core.site.site import Mark
from needle.core.type.faces import PAIRS, Pair

__all__ = ["LookChoices", "look_choices"]

_HOW_MANY = 4
# Which themes suit which kind of offer, the most fitting first.
_SUITS = {
    "product": "workshop gallery postcard stencil leaflet orangery",
    "service": "ledger workshop drawers ferry leaflet",
    "course": "workshop gazette stencil leaflet picnic",
    "event": "placard postcard picnic ferry stencil",
    "software": "drawers ledger ferry workshop gallery",
    "place": "orangery gallery postcard picnic leaflet",
    "cause": "gazette placard workshop leaflet stencil",
    "membership": "stencil picnic drawers gazette postcard",
}


@dataclass(frozen=True, slots=True)
class LookChoices:
    """Proposals to choose from, the best first.

    Attributes:
        palettes: Colours by role.
        orders: Keys of `orders.ORDERS`.
    """

    palettes: tuple[dict[str, str], ...]
    pairs: tuple[Pair, ...]
    marks: tuple[Mark, ...]
    themes: tuple[NamedTheme, ...]
    orders: tuple[str, ...]


def look_choices(slots: Slots, name: str, seed: int) -> LookChoices:
    """Return what the draft of an idea can look like; the same for the same seed."""
    dice = random.Random(f"look {seed} {slots.idea}")
    topic = topic_of(slots.what, slots.idea)
    hues = [(hue + dice.uniform(-14, 14)) % 360 for hue in topic.hues]
    dice.shuffle(hues)
    pairs = [PAIRS[at] for at in topic.moods]
    dice.shuffle(pairs)
    shapes = [*topic.shapes, *(key for key in SHAPES if key not in topic.shapes)]
    first = shapes[: len(topic.shapes)]
    dice.shuffle(first)
    marks = tuple(Mark(shape=key, letters=initials(name)[:2] if not key or SHAPES[key].box else "")
                  for key in [*first, ""][:_HOW_MANY + 1])
    orders = list(orders_for(slots.offer, slots.language))
    turn = dice.randrange(len(orders))
    return LookChoices(
        tuple(_palette(hue, number, dice) for number, hue in enumerate(hues)), tuple(pairs), marks,
        _themes(slots.offer, dice), tuple((orders[turn:] + orders[:turn])[:_HOW_MANY]))


def _themes(offer: str, dice: random.Random) -> tuple[NamedTheme, ...]:
    known = {one.key: one for one in THEMES}
    fitting = [known[key] for key in _SUITS[offer].split()]
    dice.shuffle(fitting)
    return tuple(fitting[:_HOW_MANY])


def _palette(hue: float, number: int, dice: random.Random) -> dict[str, str]:
    """Return a palette around a hue; light or deep, and in one of four dark."""
    light = dice.choice((0.42, 0.48, 0.53, 0.77, 0.82))
    chroma = dice.uniform(0.1, 0.17) if light < 0.7 else dice.uniform(0.12, 0.16)
    second = (hue + dice.choice((150, 180, 210, 60, -60))) % 360
    dark = number == 3
    accent = to_hex(Oklch(0.78 if dark else 0.48, dice.uniform(0.09, 0.14), second))
    return palette_of(to_hex(Oklch(light, chroma, hue)), accent, dark)
