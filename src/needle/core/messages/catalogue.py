"""The words of messages, by language. The format is Fluent's (Project Fluent 1.0).

What Needle says to the marketer stands in `needle.en.ftl`; what a page or the host says to a
visitor stands in `visitors.LANGUAGE.ftl`. A further language is one more file.
"""

from collections.abc import Mapping
from functools import cache
from importlib import resources
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from fluent.runtime import FluentBundle

__all__ = ["FALLBACK", "catalogues", "languages", "worded"]

# What is not said in a language is said in this one.
FALLBACK = "en"


def catalogues() -> Mapping[str, str]:
    """Return the catalogues as they are written, by name: "needle.en", "visitors.de"…"""
    folder = resources.files(__package__)
    return {file.name.removesuffix(".ftl"): file.read_text("utf-8")
            for file in sorted(folder.iterdir(), key=lambda file: file.name)
            if file.name.endswith(".ftl")}


@cache
def languages() -> tuple[str, ...]:
    """Return the languages in which Needle speaks to visitors, as BCP 47 names them."""
    return tuple(name.partition(".")[2] for name in catalogues() if name.startswith("visitors."))


def _own(language: str) -> str:
    """Return the language whose words are taken: "de" for "de-AT", English where there is none."""
    bare = language.partition("-")[0]
    return next((one for one in (language, bare) if one in languages()), FALLBACK)


@cache
def _bundle(of: str, language: str) -> "FluentBundle":
    # Only now, and what visitors are told without the rest: most runs have nothing to refuse.
    from fluent.runtime import FluentBundle, FluentResource

    # Marks of direction round every value would be shown as boxes in a terminal.
    bundle = FluentBundle([language, FALLBACK], use_isolating=False)
    found = catalogues()
    for name in dict.fromkeys((f"{of}.{FALLBACK}", f"{of}.{language}")):
        if name in found:
            bundle.add_resource(FluentResource(found[name]), allow_overrides=True)
    return bundle


def worded(message: str, values: Mapping[str, object], language: str = FALLBACK) -> str:
    """Return a message in words.

    Args:
        message: Its name in the catalogue.
        values: What it names. Numbers are written as the language writes them, everything else
            as its text.
        language: As BCP 47 names it, "de" or "de-AT".
    """
    bundle = _bundle("visitors", _own(language))
    if not bundle.has_message(message):
        bundle = _bundle("needle", _own(language))
    # What has no words is still a fault that somebody must be told of, not another fault.
    pattern = bundle.get_message(message).value if bundle.has_message(message) else None
    if pattern is None:
        return f"{message} {dict(values)}" if values else message
    given = {name: _given(value, language) for name, value in values.items()}
    words, _ = bundle.format_pattern(pattern, given)
    return str(words)


def _given(value: object, language: str) -> int | float | str:
    """Return a value as the format takes it; a message in a message speaks the same language."""
    if isinstance(value, int | float):
        return value
    inner = getattr(value, "in_language", None)
    return str(inner(language) if inner else value)
