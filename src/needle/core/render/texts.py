"""The texts of a node: which there are, and reading them.

A text is named by its path in the node: "words", or "entries.2.question".
"""

from collections.abc import Iterator, Mapping
from typing import Any

from needle.core.markup.surroundings import TextMode
from needle.core.render.holders import kind_of
from needle.core.values.node import Node
from needle.core.values.words import Run, Text, plain

__all__ = ["plain_lines", "read_lines", "runs_of", "texts_of"]


def texts_of(node: Node) -> Mapping[str, TextMode]:
    """Return the texts of a node by path, in reading order, with how each is typed."""
    return kind_of(node).texts(node)


def read_lines(node: Node, path: str) -> tuple[Text, ...]:
    """Return one text as lines; a text that is typed as one is a single line."""
    value: Any = node
    for step in path.split("."):
        value = value[int(step)] if step.isdigit() else getattr(value, step)
    return (value,) if texts_of(node).get(path) == "one" else value


def plain_lines(node: Node, path: str = "") -> list[str]:
    """Return the plain words of one text, or of all, line by line."""
    paths = [path] if path else list(texts_of(node))
    return [plain(line) for one in paths for line in read_lines(node, one)]


def runs_of(node: Node) -> Iterator[Run]:
    """Yield every run of every text of a node."""
    for path in texts_of(node):
        for line in read_lines(node, path):
            yield from line
