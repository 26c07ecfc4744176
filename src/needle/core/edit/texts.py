"""Changing one text of a node, or what else stands at a path in it."""

from typing import Any

import msgspec

from needle.core.edit.place import EditError
from needle.core.render.texts import texts_of
from needle.core.values.node import Node
from needle.core.values.words import Text, joined, tidy

__all__ = ["with_lines", "with_value"]


def with_lines(node: Node, path: str, lines: tuple[Text, ...]) -> Node:
    """Return the node with one text changed.

    Raises:
        EditError: The node has no such text.
    """
    mode = texts_of(node).get(path)
    if mode is None:
        raise EditError("text-not-there")
    value: object = joined(lines) if mode == "one" else tuple(tidy(line) for line in lines)
    return with_value(node, path, value)


def with_value(node: Node, path: str, value: object) -> Node:
    """Return the node with what stands at a path in it ("alt", "entries.2.medium") changed."""
    changed: Node = _put(node, path.split("."), value)
    return changed


def _put(value: Any, steps: list[str], new: object) -> Any:
    if not steps:
        return new
    step, rest = steps[0], steps[1:]
    if step.isdigit():
        at = int(step)
        return (*value[:at], _put(value[at], rest, new), *value[at + 1 :])
    return msgspec.structs.replace(value, **{step: _put(getattr(value, step), rest, new)})
