"""The texts of a node: which there are, reading them, changing one.

A text is named by its path in the node: "words", or "entries.2.question".
"""

from collections.abc import Iterator, Mapping
from typing import Any

import msgspec

from needle.core.edit.place import EditError
from needle.core.kinds.kind import TextMode
from needle.core.render.holders import kind_of
from needle.core.values.node import Node
from needle.core.values.words import Run, Text, joined, plain, tidy

__all__ = ["plain_lines", "read_lines", "runs_of", "texts_of", "with_lines",
           "with_value"]


def texts_of(node: Node) -> Mapping[str, TextMode]:
    """Return the texts of a node by path, in reading order, with how each is typed."""
    return kind_of(node).texts(node)


def read_lines(node: Node, path: str) -> tuple[Text, ...]:
    """Return one text as lines; a text that is typed as one is a single line."""
    value: Any = node
    for step in path.split("."):
        value = value[int(step)] if step.isdigit() else getattr(value, step)
    return (value,) if texts_of(node).get(path) == "one" else value


def with_lines(node: Node, path: str, lines: tuple[Text, ...]) -> Node:
    """Return the node with one text changed.

    Raises:
        EditError: The node has no such text.
    """
    mode = texts_of(node).get(path)
    if mode is None:
        raise EditError("This item holds no words of its own there.")
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


def plain_lines(node: Node, path: str = "") -> list[str]:
    """Return the plain words of one text, or of all, line by line."""
    paths = [path] if path else list(texts_of(node))
    return [plain(line) for one in paths for line in read_lines(node, one)]


def runs_of(node: Node) -> Iterator[Run]:
    """Yield every run of every text of a node."""
    for path in texts_of(node):
        for line in read_lines(node, path):
            yield from line
