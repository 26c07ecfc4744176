"""Strict types: texts of a site that end up as names in markup, rules, paths and addresses.

Each is declared once, here. A value that does not fit cannot be built: not by an edit, not by
loading a project, not by importing a package (`Strict` checks it wherever it comes from).
"""

import re
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from functools import cache
from types import UnionType
from typing import Annotated, Any, Literal, Union, get_args, get_origin, get_type_hints

import msgspec

from needle.core.colour.palette import ROLES

__all__ = ["Address", "Choice", "Colour", "Face", "Hex", "Id", "MediaFile", "MediaFileOrNone",
           "OneOf", "OwnId", "PageFile", "PaletteRole", "Ratio", "Rule", "Slug", "Span", "Strict",
           "StrictError", "StyleKey", "VariantKey", "limit_of", "one_of", "rules_of",
           "strict_meta", "whole"]


class StrictError(ValueError):
    """A text that does not fit its type; the message says which one, and what would fit."""


@dataclass(frozen=True, slots=True)
class Rule:
    """What a text must be.

    Attributes:
        name: What it is, for people.
        pattern: All of it must match; no line breaks, ever.
        words: What fits, in words.
    """

    name: str
    pattern: str
    words: str

    def check(self, value: object) -> None:
        """Raise `StrictError` unless `value` fits."""
        if not isinstance(value, str) or _compiled(self.pattern).fullmatch(value) is None:
            raise StrictError(f"{value!r:.60} cannot be {self.name}: {self.words}")


@cache
def _compiled(pattern: str) -> re.Pattern[str]:
    return re.compile(pattern)


def strict_meta(name: str, pattern: str, words: str) -> msgspec.Meta:
    """Return what makes a text strict, for `Annotated`; as `Rule` takes it."""
    return _meta(Rule(name, pattern, words))


@dataclass(frozen=True, slots=True)
class Span:
    """What a whole number must be: from `low` to `high`."""

    low: int
    high: int

    def check(self, value: object) -> None:
        """Raise `StrictError` unless `value` fits."""
        if not isinstance(value, int) or isinstance(value, bool) or not (
                self.low <= value <= self.high):
            raise StrictError(f"{value!r:.60} cannot stand here: it is a whole number from "
                              f"{self.low} to {self.high}")


@dataclass(frozen=True, slots=True)
class OneOf:
    """What a text must be: one of a few."""

    values: tuple[str, ...]

    def check(self, value: object) -> None:
        """Raise `StrictError` unless `value` fits."""
        if value not in self.values:
            known = ", ".join(one or "nothing" for one in self.values)
            raise StrictError(f"{value!r:.60} cannot stand here: it is one of {known}")


def whole(low: int, high: int) -> msgspec.Meta:
    """Return what limits a whole number, for `Annotated`."""
    return msgspec.Meta(extra={"rule": Span(low, high)},
                        extra_json_schema={"minimum": low, "maximum": high})


def one_of(*values: str) -> msgspec.Meta:
    """Return what limits a text to a few, for `Annotated`."""
    return msgspec.Meta(extra={"rule": OneOf(values)}, extra_json_schema={"enum": list(values)})


def limit_of(kind: type, name: str) -> Rule | Span | OneOf | None:
    """Return the declared limit of a field of a type, or `None` if it has none."""
    hint = get_type_hints(kind, include_extras=True).get(name)
    found: Rule | Span | OneOf | None = next(
        (meta.extra["rule"] for meta in getattr(hint, "__metadata__", ())
         if "rule" in (getattr(meta, "extra", None) or {})), None)
    return found


def _meta(rule: Rule) -> msgspec.Meta:
    return msgspec.Meta(extra={"rule": rule},
                        extra_json_schema={"pattern": f"^(?:{rule.pattern})$"})


_ID = "[a-z][a-z0-9_-]{0,15}"
_ID_WORDS = "it is a small letter, then small letters, digits, - or _, 16 at most"
_ROLE = "|".join(ROLES)
_HEX = "#[0-9a-f]{6}"

OwnId = Annotated[str, _meta(Rule("an id", _ID, _ID_WORDS))]
# The id of something else, or nothing.
Id = Annotated[str, _meta(Rule("an id", f"(?:{_ID})?", _ID_WORDS))]
PaletteRole = Annotated[str, _meta(Rule(
    "a role of the palette", _ROLE, f"it is one of {', '.join(ROLES)}"))]
Hex = Annotated[str, _meta(Rule("a colour", _HEX, "it is like #1a2b3c"))]
Colour = Annotated[str, _meta(Rule(
    "a colour", f"(?:{_HEX}|{_ROLE})?",
    f"it is a role of the palette ({', '.join(ROLES)}), or like #1a2b3c"))]
StyleKey = Annotated[str, _meta(Rule(
    "the key of a text style", "(?:[a-z][a-z0-9_-]{0,40})?",
    "it is small letters, digits, - or _, 41 at most"))]
VariantKey = Annotated[str, _meta(Rule(
    "the key of a variant", "[A-Z]{1,2}", "it is one or two capital letters"))]
Slug = Annotated[str, _meta(Rule(
    "a slug", "(?=.{0,80}$)(?:[a-z0-9]+(?:-[a-z0-9]+)*)?",
    "it is small letters, digits and single hyphens, 80 at most"))]
Address = Annotated[str, _meta(Rule(
    "the address of a site", "(?:[a-z0-9](?:[a-z0-9-]{0,61}[a-z0-9])?)?",
    "it is small letters, digits and hyphens, 63 at most"))]
_FILE = r"[a-z0-9][a-z0-9_-]{0,63}\.[a-z0-9]{2,5}"
_FILE_WORDS = "it is a plain file name of small letters and digits"
MediaFile = Annotated[str, _meta(Rule("a file of the media", _FILE, _FILE_WORDS))]
# A file of the media, or nothing.
MediaFileOrNone = Annotated[str, _meta(Rule("a file of the media", f"(?:{_FILE})?", _FILE_WORDS))]
PageFile = Annotated[str, _meta(Rule(
    "a page's file", r"(?:[a-z0-9]+(?:-[a-z0-9]+)*-)?[a-z][a-z0-9_-]{0,15}\.json",
    "it is the page's slug and id, like home-k3x.json"))]
# One of a few values that a kind knows; such words are safe as a class, a tag or a file's name.
Choice = Annotated[str, _meta(Rule(
    "a choice", "(?:[a-z0-9][a-z0-9_-]{0,40})?", "it is small letters, digits, - or _"))]
Ratio = Annotated[str, _meta(Rule(
    "a ratio", r"(?:[0-9]{1,4}(?:\.[0-9]{1,3})? ?[/:] ?[0-9]{1,4}(?:\.[0-9]{1,3})?)?",
    "it is like 16/9"))]
Face = Annotated[str, _meta(Rule(
    "a face of type", r"\w[\w .,+&()-]{0,79}",
    "it is letters, digits, spaces and simple signs, 80 at most"))]


class Strict(msgspec.Struct, frozen=True):
    """A value whose strict texts are checked whenever one is built."""

    def __post_init__(self) -> None:
        for name, check in rules_of(type(self)):
            check(getattr(self, name))


_Check = Callable[[Any], None]


@cache
def rules_of(kind: type) -> Sequence[tuple[str, _Check]]:
    """Return the strict fields of a type, each with what checks it."""
    hints = get_type_hints(kind, include_extras=True)
    found = [(name, _check_of(hints[name])) for name in getattr(kind, "__struct_fields__", ())]
    return tuple((name, check) for name, check in found if check is not None)


def _check_of(hint: Any) -> _Check | None:
    """Return what checks a value of a type; nothing where anything goes, or it checks itself."""
    for meta in getattr(hint, "__metadata__", ()):
        if rule := (getattr(meta, "extra", None) or {}).get("rule"):
            checked: _Check = rule.check
            return checked
    origin, inside = get_origin(hint), get_args(hint)
    if origin is Literal:
        return _one_of(inside)
    if origin is tuple:
        return _each(_check_of(inside[0])) if inside[1:] == (...,) else None
    if origin in (Union, UnionType) and len(inside) == 2 and type(None) in inside:
        return _unless_none(_check_of(next(one for one in inside if one is not type(None))))
    if isinstance(origin, type) and issubclass(origin, Mapping):
        return _pairs(_check_of(inside[0]), _check_of(inside[1]))
    return None


def _one_of(choices: tuple[Any, ...]) -> _Check:
    def check(value: Any) -> None:
        if value not in choices:
            known = ", ".join(map(str, choices))
            raise StrictError(f"{value!r:.60} cannot stand here: it is one of {known}")

    return check


def _each(check: _Check | None) -> _Check | None:
    def every(values: Sequence[Any]) -> None:
        for value in values:
            check(value)  # type: ignore[misc]

    return every if check else None


def _unless_none(check: _Check | None) -> _Check | None:
    return (lambda value: None if value is None else check(value)) if check else None


def _pairs(keys: _Check | None, values: _Check | None) -> _Check | None:
    def every(held: Mapping[Any, Any]) -> None:
        for key, value in held.items():
            if keys:
                keys(key)
            if values:
                values(value)

    return every if keys or values else None
