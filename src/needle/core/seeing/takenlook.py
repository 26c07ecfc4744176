"""The look of something on a laid-out page, in the words of the style table."""

from collections.abc import Mapping

from needle.core.seeing.laidout import LaidOut
from needle.core.seeing.measuring import nearest_colour
from needle.core.type.faces import Lettered, nearest_face
from needle.core.values.brand import Brand
from needle.core.values.look import Look, Value
from needle.core.values.styletable import TABLE

__all__ = ["taken_look"]

# Colours nearer than this to one of the brand are that one (ΔE OK times 100; 2 is just seen).
_SAME = 1.0
_ALIGNS = {"start": "left", "-webkit-auto": "left", "left": "left", "center": "center",
           "end": "right", "right": "right", "justify": "left"}
_WEIGHTS = (400, 600, 700)


def taken_look(laid: LaidOut, number: int, brand: Brand, lettered: Lettered) -> Look:
    """Return the look of a node: type, padding, ground, border, corners.

    A face that the site has not is left out; what is beyond the limits of the style table comes to
    them. What places it in its page (margins, widths) is not of it.
    """
    look = laid.look(number)
    values: dict[str, Value] = {
        "size": round(look.size), "weight": min(_WEIGHTS, key=lambda one: abs(one - look.weight)),
        "align": _ALIGNS.get(look.align, "left"), "colour": _colour(brand, look.colour)}
    if look.line and look.size:
        values["line_height"] = round(look.line / look.size, 2)
    if look.spacing and look.size:
        values["spacing"] = round(look.spacing / look.size, 3)
    if face := _face(brand, lettered, look.face.partition(",")[0].strip()):
        values["face"] = face
    for side, pad in zip(("top", "right", "bottom", "left"), look.pad, strict=True):
        if pad:
            values[f"pad_{side}"] = round(pad)
    if look.filled:
        values["fill"] = _colour(brand, laid.ground(number) or look.fill)
    if look.radius:
        values["radius"] = round(look.radius)
    if any(look.edge):
        values |= {"edge": round(max(look.edge)), "edge_colour": _colour(brand, look.edge_colour)}
    if look.opacity < 1:
        values["opacity"] = look.opacity
    return Look(base=_within(values))


def _within(values: Mapping[str, Value]) -> Mapping[str, Value]:
    """Return values with numbers brought to the limits of the style table."""
    found: dict[str, Value] = {}
    for name, value in values.items():
        row = TABLE[name]
        if row.editor == "number" and not isinstance(value, str):
            value = type(value)(min(row.high, max(row.low, value)))
        found[name] = value
    return found


def _colour(brand: Brand, value: str) -> str:
    near = nearest_colour(brand, value)
    return near.role if near is not None and near.apart < _SAME else value


def _face(brand: Brand, lettered: Lettered, face: str) -> str:
    """Return how the site calls a face: by its part in the brand or by its name; empty if not."""
    for part, own in (("heading", brand.heading_face), ("body", brand.body_face)):
        if own.casefold() == face.casefold():
            return part
    found = nearest_face(lettered, face, 400, False)
    return found.family if found is not None and found.family.casefold() == face.casefold() else ""
