"""In what two variants of a page differ, though every item has an id of its own in each."""

from collections import Counter
from collections.abc import Iterator
from difflib import SequenceMatcher

import msgspec

from needle.core.edit.changes import variant_changes
from needle.core.edit.copying import renamed
from needle.core.render.holders import kind_of
from needle.core.render.texts import plain_lines
from needle.core.site.site import Variant
from needle.core.site.tree import without_children
from needle.core.values.ids import Id
from needle.core.values.node import Node

__all__ = ["differing"]

_LONGEST = 90


def differing(one: Variant, other: Variant) -> list[str]:
    """Return what is otherwise in the second variant, most telling first: words with what they
    were, then everything else."""
    names = _same_items(one, other)
    there = msgspec.structs.replace(
        other, children=tuple(renamed(part, names) for part in other.children),
        popups=tuple(renamed(part, names) for part in other.popups))
    said = Counter(_words(one, there))
    told = {label for label, _ in said}
    return [f"{words} ({count} times)" if count > 1 else words
            for (_, words), count in said.items()] + [
        change for change in variant_changes(one, there)
        if change.partition(" (")[0].removeprefix("words of ") not in told
        or not change.startswith("words of ")]


def _same_items(one: Variant, other: Variant) -> dict[Id, Id]:
    """Return, by the id of each item of the second, the id of the item of the first that it was
    copied from; its own where there is none."""
    first, second = list(one.nodes()), list(other.nodes())
    names = {node.id: node.id for node in second}
    matcher = SequenceMatcher(None, [_print(node) for node in first],
                              [_print(node) for node in second], autojunk=False)
    for tag, a, b, c, d in matcher.get_opcodes():
        if tag == "equal":
            names.update((new.id, old.id) for old, new in zip(first[a:b], second[c:d],
                                                              strict=True))
        elif tag == "replace":
            _pair(first[a:b], second[c:d], names)
    return names


def _pair(old: list[Node], new: list[Node], names: dict[Id, Id]) -> None:
    """Take items of one kind for each other, in their order."""
    left = list(old)
    for node in new:
        match = next((one for one in left if type(one) is type(node)), None)
        if match is not None:
            names[node.id] = match.id
            left.remove(match)


def _print(node: Node) -> bytes:
    """Return what an item is, whatever its id and what stands in it."""
    bare = msgspec.structs.replace(without_children(node), id="x")
    if getattr(bare, "actions", None):
        bare = msgspec.structs.replace(bare, actions=())
    return type(node).__name__.encode() + msgspec.json.encode(bare)


def _words(one: Variant, other: Variant) -> Iterator[tuple[str, str]]:
    before = {node.id: node for node in one.nodes()}
    for node in other.nodes():
        was = before.get(node.id)
        if was is None or was is node:
            continue
        then, now = (" ".join(plain_lines(part)).strip()[:_LONGEST] for part in (was, node))
        if then != now:
            label = kind_of(node).label
            yield label.lower(), f"{label}: “{then}” became “{now}”"
