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
from needle.core.messages.message import CoreError, say

__all__ = ["Address", "Choice", "Colour", "ColumnPath", "Domain", "Face", "Hex", "Id", "MediaFile",
           "MediaFileOrNone", "OneOf", "OwnId", "PageFile", "PaletteRole", "Ratio", "Rule", "Slug",
           "Span", "Strict", "StrictError", "StyleKey", "VariantKey", "limit_of", "one_of",
           "rules_of", "strict_meta", "whole"]


class StrictError(CoreError):
    """A text that does not fit its type; the message says which one, and what would fit."""


@dataclass(frozen=True, slots=True)
class Rule:
    """What a text must be.

    Attributes:
        name: What it is; the catalogue says `strict-NAME` of what it may be.
        pattern: All of it must match; no line breaks, ever.
    """

    name: str
    pattern: str

    def check(self, value: object) -> None:
        """Raise `StrictError` unless `value` fits."""
        if not isinstance(value, str) or _compiled(self.pattern).fullmatch(value) is None:
            raise StrictError("strict-text", given=f"{value!r:.60}", what=say(
                f"strict-{self.name}", roles=", ".join(ROLES)))


@cache
def _compiled(pattern: str) -> re.Pattern[str]:
    return re.compile(pattern)


def strict_meta(name: str, pattern: str) -> msgspec.Meta:
    """Return what makes a text strict, for `Annotated`; as `Rule` takes it."""
    return msgspec.Meta(extra={"rule": Rule(name, pattern)},
                        extra_json_schema={"pattern": f"^(?:{pattern})$"})


@dataclass(frozen=True, slots=True)
class Span:
    """What a whole number must be: from `low` to `high`."""

    low: int
    high: int

    def check(self, value: object) -> None:
        """Raise `StrictError` unless `value` fits."""
        if not isinstance(value, int) or isinstance(value, bool) or not (
                self.low <= value <= self.high):
            raise StrictError("strict-whole", given=f"{value!r:.60}", low=self.low, high=self.high)


@dataclass(frozen=True, slots=True)
class OneOf:
    """What a text must be: one of a few."""

    values: tuple[str, ...]

    def check(self, value: object) -> None:
        """Raise `StrictError` unless `value` fits."""
        if value not in self.values:
            raise StrictError("strict-choice", given=f"{value!r:.60}",
                              known=", ".join(one or "nothing" for one in self.values))


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


_ID = "[a-z][a-z0-9_-]{0,15}"
_ROLE = "|".join(ROLES)
_HEX = "#[0-9a-f]{6}"

OwnId = Annotated[str, strict_meta("id", _ID)]
# The id of something else, or nothing.
Id = Annotated[str, strict_meta("id", f"(?:{_ID})?")]
# A column, or, after a point, one of the table whose row it names; or nothing.
ColumnPath = Annotated[str, strict_meta("id", rf"(?:{_ID}(?:\.{_ID})?)?")]
PaletteRole = Annotated[str, strict_meta("role", _ROLE)]
Hex = Annotated[str, strict_meta("hex", _HEX)]
Colour = Annotated[str, strict_meta("colour", f"(?:{_HEX}|{_ROLE})?")]
StyleKey = Annotated[str, strict_meta("style-key", "(?:[a-z][a-z0-9_-]{0,40})?")]
VariantKey = Annotated[str, strict_meta("variant-key", "[A-Z]{1,2}")]
Slug = Annotated[str, strict_meta("slug", "(?=.{0,80}$)(?:[a-z0-9]+(?:-[a-z0-9]+)*)?")]
Address = Annotated[str, strict_meta(
    "address", "(?:[a-z0-9](?:[a-z0-9-]{0,61}[a-z0-9])?)?")]
# A host's name as it is asked for: letters, digits and hyphens in at least two parts (RFC 1123).
_LABEL = "[a-z0-9](?:[a-z0-9-]{0,61}[a-z0-9])?"
Domain = Annotated[str, strict_meta("domain", rf"(?=.{{0,253}}$)(?:{_LABEL}(?:\.{_LABEL})+)?")]
_FILE = r"[a-z0-9][a-z0-9_-]{0,63}\.[a-z0-9]{2,5}"
MediaFile = Annotated[str, strict_meta("media-file", _FILE)]
# A file of the media, or nothing.
MediaFileOrNone = Annotated[str, strict_meta("media-file", f"(?:{_FILE})?")]
PageFile = Annotated[str, strict_meta(
    "page-file", r"(?:[a-z0-9]+(?:-[a-z0-9]+)*-)?[a-z][a-z0-9_-]{0,15}\.json")]
# One of a few values that a kind knows; such words are safe as a class, a tag or a file's name.
Choice = Annotated[str, strict_meta("item-choice", "(?:[a-z0-9][a-z0-9_-]{0,40})?")]
Ratio = Annotated[str, strict_meta(
    "ratio", r"(?:[0-9]{1,4}(?:\.[0-9]{1,3})? ?[/:] ?[0-9]{1,4}(?:\.[0-9]{1,3})?)?")]
Face = Annotated[str, strict_meta("face", r"\w[\w .,+&()-]{0,79}")]


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
            raise StrictError("strict-choice", given=f"{value!r:.60}",
                              known=", ".join(map(str, choices)))

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
