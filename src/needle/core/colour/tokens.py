"""Palettes as design tokens and as CSS variables.

Source of the JSON: Design Tokens Format Module, Design Tokens Community Group of the W3C.
Colours are read both as objects of that format and as plain "#rrggbb" of its older drafts.
"""

import json
import re
from collections.abc import Iterator, Mapping
from typing import Any

from needle.core.colour.oklch import hex_of_srgb, srgb_of
from needle.core.colour.palette import ROLES
from needle.core.messages.message import CoreError

__all__ = ["TokenError", "css_variables", "read_tokens", "tokens_json"]

_HEX = re.compile(r"#(?:[0-9a-fA-F]{3}|[0-9a-fA-F]{6}|[0-9a-fA-F]{8})\Z")
_ALIAS = re.compile(r"\{([^{}]+)\}\Z")
_DEEPEST = 12


class TokenError(CoreError):
    """Tokens that cannot be used; the message says why."""


def tokens_json(colours: Mapping[str, str], faces: Mapping[str, str], size: float, ratio: float,
                ) -> str:
    """Return palette and type as design tokens.

    Args:
        colours: "#rrggbb" by role.
        faces: Families by "heading" and "body".
        size: Of common words, in CSS pixels.
        ratio: From one size of type to the next.
    """
    return json.dumps({
        "color": {"$type": "color"} | {role: {"$value": _color(value), "$description":
                                              ROLES.get(role, role)}
                                       for role, value in colours.items()},
        "font": {"$type": "fontFamily"} | {key: {"$value": face} for key, face in faces.items()},
        "size": {"base": {"$type": "dimension", "$value": {"value": size, "unit": "px"}},
                 "ratio": {"$type": "number", "$value": ratio}},
    }, indent=2) + "\n"


def _color(value: str) -> dict[str, object]:
    return {"colorSpace": "srgb", "components": [round(float(part), 4)
                                                 for part in srgb_of(value)], "hex": value}


def css_variables(colours: Mapping[str, str]) -> str:
    """Return the palette as CSS custom properties."""
    lines = "".join(f"  --c-{role}: {value};\n" for role, value in colours.items())
    return f":root {{\n{lines}}}\n"


def read_tokens(words: str) -> dict[str, str]:
    """Return the colours of the palette's roles that some design tokens hold.

    A token stands for a role if its name, or the last part of it, is the role's.

    Raises:
        TokenError: It is no such JSON, or holds no colour of any role.
    """
    try:
        tree = json.loads(words)
    except (ValueError, RecursionError) as error:
        raise TokenError("tokens-no-json") from error
    if not isinstance(tree, dict):
        raise TokenError("tokens-none")
    flat = dict(_walk(tree, "", ""))
    names = {_plain(name): role for role, words in ROLES.items() for name in (role, words)}
    found: dict[str, str] = {}
    for path in flat:
        colour = _colour_at(flat, path, 0)
        role = names.get(_plain(path.rsplit(".", 1)[-1]))
        if role and colour:
            found.setdefault(role, colour)
    if not found:
        raise TokenError("tokens-no-role", roles=", ".join(ROLES))
    return found


def _plain(name: str) -> str:
    return re.sub(r"[^a-z]", "", name.casefold())


def _walk(group: Mapping[str, Any], path: str, kind: str, depth: int = 0,
          ) -> Iterator[tuple[str, tuple[str, object]]]:
    kind = str(group.get("$type", kind))
    if "$value" in group:
        yield path, (kind, group["$value"])
        return
    for name, inner in group.items():
        if isinstance(inner, dict) and not name.startswith("$") and depth < _DEEPEST:
            yield from _walk(inner, f"{path}.{name}" if path else name, kind, depth + 1)


def _colour_at(flat: Mapping[str, tuple[str, object]], path: str, depth: int) -> str:
    """Return the colour of a token, following what it refers to, or an empty text."""
    kind, value = flat.get(path, ("", None))
    if isinstance(value, str):
        alias = _ALIAS.match(value)
        if alias:
            return _colour_at(flat, alias[1], depth + 1) if depth < _DEEPEST else ""
        if _HEX.match(value):
            digits = value[1:].lower()
            return "#" + ("".join(sign * 2 for sign in digits) if len(digits) == 3 else digits[:6])
    if kind == "color" and isinstance(value, dict):
        return _colour_of(value)
    return ""


def _colour_of(value: Mapping[str, Any]) -> str:
    parts = value.get("components")
    if value.get("colorSpace") == "srgb" and isinstance(parts, list) and len(parts) == 3 and all(
            isinstance(part, int | float) for part in parts):
        return hex_of_srgb(srgb_of("#000000") + parts)
    given = value.get("hex")
    return given.lower() if isinstance(given, str) and len(given) == 7 and _HEX.match(given) else ""
