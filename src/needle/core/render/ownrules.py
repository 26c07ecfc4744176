"""CSS that the marketer writes: what is wrong with it and where, and the rules that are sound."""

from collections.abc import Iterator
from dataclasses import dataclass

import tinycss2

from needle.core.images.vectorstyle import too_deep

__all__ = ["CssFault", "css_faults", "sound_css"]


@dataclass(frozen=True, slots=True)
class CssFault:
    """Something that a browser would not understand.

    Attributes:
        line: Counted from 1.
    """

    line: int
    words: str


def css_faults(css: str) -> list[CssFault]:
    """Return what is wrong with a style sheet, from the top down."""
    if too_deep(css):
        return [CssFault(1, "Brackets stand in brackets deeper than any rule needs. None of this "
                            "can be used.")]
    return [fault for rule in _rules(css) for fault in _faults(rule)]


def sound_css(css: str) -> str:
    """Return the rules that have no fault, safe to stand in a style element."""
    if too_deep(css):
        return ""
    rules = [rule for rule in _rules(css) if not list(_faults(rule))]
    return "".join(rule.serialize() for rule in rules).replace("</", "<\\/")


def _rules(css: str) -> list[tinycss2.ast.Node]:
    return list(tinycss2.parse_stylesheet(css, skip_comments=True, skip_whitespace=True))


def _faults(rule: tinycss2.ast.Node) -> Iterator[CssFault]:
    if rule.type == "error":
        yield CssFault(rule.source_line, f"Line {rule.source_line}: {_words(rule.message)}")
    elif rule.type == "at-rule":
        if rule.content is not None and rule.lower_at_keyword in ("media", "supports", "layer"):
            for inner in tinycss2.parse_rule_list(rule.content, skip_comments=True,
                                                  skip_whitespace=True):
                yield from _faults(inner)
    elif rule.type == "qualified-rule":
        if not tinycss2.serialize(rule.prelude).strip():
            yield CssFault(rule.source_line,
                           f"Line {rule.source_line}: there is nothing before the brace. Write "
                           "what the rule is for, like “.button”.")
        for part in tinycss2.parse_blocks_contents(rule.content, skip_comments=True,
                                                   skip_whitespace=True):
            if part.type == "error":
                yield CssFault(part.source_line, f"Line {part.source_line}: this is no property "
                               "with a value. Write it like “color: red;”.")
            elif part.type == "declaration":
                yield from _value_faults(part)


def _value_faults(part: tinycss2.ast.Node) -> Iterator[CssFault]:
    if not tinycss2.serialize(part.value).strip():
        yield CssFault(part.source_line, f"Line {part.source_line}: “{part.name}” has no value.")
    for token in part.value:
        if token.type == "error":
            yield CssFault(token.source_line, f"Line {token.source_line}: {_words(token.message)}")


def _words(message: str) -> str:
    if message.startswith("EOF reached before {}"):
        return "a rule has no braces. Write it like “.button { color: red; }”."
    return f"a browser does not understand this ({message.rstrip('.')})."
