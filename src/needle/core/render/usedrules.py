"""Of a style sheet, the rules that a page can use at all, judged by the classes on it."""

import re
from collections.abc import Sequence
from functools import lru_cache
from itertools import pairwise

import tinycss2
from tinycss2.ast import AtRule, Node, QualifiedRule

from needle.core.render.scripts import classes_given_by_scripts

__all__ = ["used_rules"]

_CLASSES = re.compile(r'class="([^"]*)"')
_WORD = re.compile(r"[A-Za-z_][\w-]*")
# What brings code of its own may name classes anywhere.
_CODE = ("<script", "<template", "<iframe")

# A rule: its selectors with the classes that each needs, and its body.
_Rule = tuple[tuple[tuple[str, frozenset[str]], ...], str]
# Rules that stand in one query; those of none have an empty one. What is no rule has no selectors.
_Group = tuple[str, tuple[_Rule, ...]]


def used_rules(sheet: str, body: str) -> str:
    """Return a sheet of our own without selectors that nothing in `body` can match.

    A selector goes if it needs a class that neither the page nor a script of ours gives away.
    """
    names = _names(body)
    parts = []
    for query, rules in _parsed(sheet):
        kept = "".join(_kept(rule, names) for rule in rules)
        parts.append(f"{query}{{{kept}}}" if query and kept else kept)
    return "".join(parts)


def _names(body: str) -> frozenset[str]:
    if any(sign in body for sign in _CODE):
        found = _WORD.findall(body)
    else:
        found = " ".join(_CLASSES.findall(body)).split()
    return frozenset(found) | classes_given_by_scripts()


def _kept(rule: _Rule, names: frozenset[str]) -> str:
    selectors, body = rule
    if not selectors:
        return body
    chosen = ",".join(selector for selector, needed in selectors if needed <= names)
    return f"{chosen}{{{body}}}" if chosen else ""


@lru_cache(128)
def _parsed(sheet: str) -> tuple[_Group, ...]:
    groups: list[_Group] = []
    for node in tinycss2.parse_stylesheet(sheet, skip_comments=True, skip_whitespace=True):
        if isinstance(node, AtRule) and node.lower_at_keyword == "media" and node.content:
            query = f"@media{tinycss2.serialize(node.prelude)}"
            inside = tinycss2.parse_rule_list(node.content, skip_comments=True,
                                              skip_whitespace=True)
            groups.append((query, tuple(map(_rule, inside))))
        else:
            groups.append(("", (_rule(node),)))
    return tuple(groups)


def _rule(node: Node) -> _Rule:
    if not isinstance(node, QualifiedRule):
        return (), node.serialize()
    alternatives: list[list[Node]] = [[]]
    for token in node.prelude:
        if token == ",":
            alternatives.append([])
        else:
            alternatives[-1].append(token)
    return (tuple((tinycss2.serialize(one).strip(), _needed(one)) for one in alternatives),
            tinycss2.serialize(node.content))


def _needed(tokens: Sequence[Node]) -> frozenset[str]:
    """Return the classes without which a selector matches nothing; what stands in functions such
    as `:not()` is left aside."""
    return frozenset(name.value for dot, name in pairwise(tokens)
                     if dot == "." and name.type == "ident")
