"""The looks in a drawing, read as CSS and kept only where they fetch nothing.

Words are never searched for signs of harm: escapes and unclosed brackets hide from that. What is
kept is what a parser understood and what stands in the lists below.
"""

from collections.abc import Iterable
from typing import Any

import tinycss2

__all__ = ["is_sound_value", "sound_declarations", "sound_sheet", "too_deep"]

_DEEPEST = 50
# Properties of SVG 2 that draw; none of them takes an address outside but by `url`.
_PROPERTY_NAMES = """
alignment-baseline baseline-shift clip-path clip-rule color color-interpolation
color-interpolation-filters display dominant-baseline fill fill-opacity fill-rule filter
flood-color flood-opacity font-family font-size font-size-adjust font-stretch font-style
font-variant font-weight height isolation letter-spacing lighting-color marker marker-end
marker-mid marker-start mask mask-type mix-blend-mode opacity overflow paint-order
shape-rendering stop-color stop-opacity stroke stroke-dasharray stroke-dashoffset stroke-linecap
stroke-linejoin stroke-miterlimit stroke-opacity stroke-width text-anchor text-decoration
text-rendering transform transform-box transform-origin vector-effect visibility width
word-spacing writing-mode x y cx cy r rx ry d
"""
_FUNCTION_NAMES = """
rgb rgba hsl hsla hwb lab lch oklab oklch color calc min max clamp matrix translate translatex
translatey rotate scale scalex scaley skew skewx skewy cubic-bezier steps blur brightness contrast
drop-shadow grayscale hue-rotate invert opacity saturate sepia circle ellipse inset polygon path
rect
"""
_PROPERTIES = frozenset(_PROPERTY_NAMES.split())
_FUNCTIONS = frozenset(_FUNCTION_NAMES.split())


def too_deep(css: str) -> bool:
    """Return whether brackets stand in brackets deeper than what reads them can follow."""
    depth = 0
    for sign in css:
        if sign in "([{":
            depth += 1
            if depth > _DEEPEST:
                return True
        elif sign in ")]}" and depth:
            depth -= 1
    return False


def is_sound_value(value: str) -> bool:
    """Return whether a value of CSS reaches nothing outside the drawing."""
    return not too_deep(value) and _sound(tinycss2.parse_component_value_list(value))


def _sound(tokens: Iterable[Any]) -> bool:
    return all(_sound_token(token) for token in tokens)


def _sound_token(token: Any) -> bool:
    if token.type in ("error", "at-keyword", "{} block"):
        return False
    if token.type == "url":
        return bool(token.value.startswith("#"))
    if token.type == "function":
        if token.lower_name == "url":
            inside = [part for part in token.arguments if part.type != "whitespace"]
            return len(inside) == 1 and inside[0].type == "string" and (
                inside[0].value.startswith("#"))
        return token.lower_name in _FUNCTIONS and _sound(token.arguments)
    if token.type in ("() block", "[] block"):
        return _sound(token.content)
    return True


def sound_declarations(css: str) -> str:
    """Return the declarations of a style attribute that draw and fetch nothing."""
    if too_deep(css):
        return ""
    return _kept(tinycss2.parse_blocks_contents(css, skip_comments=True, skip_whitespace=True))


def _kept(parts: Iterable[Any]) -> str:
    return ";".join(
        f"{part.lower_name}:{tinycss2.serialize(part.value).strip()}" for part in parts
        if part.type == "declaration" and part.lower_name in _PROPERTIES and _sound(part.value))


def sound_sheet(css: str) -> str:
    """Return the rules of a style element that draw and fetch nothing."""
    kept: list[str] = []
    if too_deep(css):
        return ""
    for rule in tinycss2.parse_stylesheet(css, skip_comments=True, skip_whitespace=True):
        if rule.type != "qualified-rule" or not _sound(rule.prelude):
            continue
        body = _kept(tinycss2.parse_blocks_contents(
            rule.content, skip_comments=True, skip_whitespace=True))
        if body:
            kept.append(f"{tinycss2.serialize(rule.prelude).strip()}{{{body}}}")
    return "".join(kept)
