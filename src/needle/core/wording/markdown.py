"""A page's words as Markdown, and back in by their ids."""

import re
from collections.abc import Iterator
from dataclasses import dataclass
from typing import TYPE_CHECKING

from needle.core.edit.nodes import set_words
from needle.core.edit.place import EditError, find, node_at
from needle.core.kinds.heading import Heading
from needle.core.kinds.listing import Listing
from needle.core.render.holders import kind_of
from needle.core.render.texts import read_lines, texts_of
from needle.core.site.site import Page, Site, Variant
from needle.core.site.tree import Popup, Section
from needle.core.values.node import Node
from needle.core.values.words import Run, Text, tidy

if TYPE_CHECKING:
    from markdown_it.token import Token

__all__ = ["MarkdownRead", "markdown_of", "read_markdown"]

_MARK = re.compile(r"^<!-- needle ([\w-]+) ([\w.]+) -->[ \t]*$", re.MULTILINE)
_SPECIAL = re.compile(r"([\\`*_\[\]<>&])")
# What would begin a heading, list, rule or quotation at the start of a line.
_START = re.compile(r"^(\s*\d*)([#>+=.)-])", re.MULTILINE)


@dataclass(frozen=True, slots=True)
class MarkdownRead:
    """What reading a file did.

    Attributes:
        changed: How many texts got other words.
        unknown: Ids in the file that are on no page.
    """

    site: Site
    changed: int
    unknown: tuple[str, ...]


def markdown_of(page: Page, variant: Variant) -> str:
    """Return all words of a page as Markdown; a comment before each text says which it is."""
    parts = [f"<!-- The words of “{page.name}” {variant.key}. Change them and read the file in "
             "again; leave the lines with “needle” as they are. -->"]
    for node in variant.nodes():
        if isinstance(node, Section | Popup):
            parts.append(f"<!-- {kind_of(node).label}: {node.name.replace('--', '')} -->")
        for path in texts_of(node):
            parts.append(f"<!-- needle {node.id} {path} -->\n{_written(node, path)}")
    return "\n\n".join(parts) + "\n"


def _written(node: Node, path: str) -> str:
    lines = [_line(line) for line in read_lines(node, path)]
    if isinstance(node, Heading):
        return f"{'#' * node.rank} {lines[0]}"
    if isinstance(node, Listing):
        return "\n".join(f"- {line}" for line in lines)
    return "\n\n".join(lines)


def _line(runs: Text) -> str:
    """Return one line as Markdown; with tags for its marks where the stars would not be seen.

    Markdown takes no star for emphasis between a letter and a sign: “1*<*”.
    """
    starred = "".join(_run(run, ("*", "*"), ("**", "**")) for run in runs).lstrip(" ")
    if all(not (run.strong or run.emphasis) for run in runs) or _same(_lines(starred), runs):
        return starred
    return "".join(_run(run, ("<em>", "</em>"), ("<strong>", "</strong>"))
                   for run in runs).lstrip(" ")


def _same(lines: tuple[Text, ...], runs: Text) -> bool:
    """Whether what was read back has the words and marks of `runs`."""
    read = [(sign, run.strong, run.emphasis) for line in lines for run in line
            for sign in run.words if not sign.isspace()]
    return read == [(sign, run.strong, run.emphasis) for run in runs for sign in run.words
                    if not sign.isspace()]


def _run(run: Run, emphasis: tuple[str, str], strong: tuple[str, str]) -> str:
    words = _START.sub(r"\1\\\2", _SPECIAL.sub(r"\\\1", run.words)).replace("\n", "\\\n")
    lead = words[: len(words) - len(words.lstrip(" "))]
    tail = words[len(words.rstrip(" ")) :] if words.strip(" ") else ""
    core = words.strip(" ")
    if not core:
        return words
    core = emphasis[0] + core + emphasis[1] if run.emphasis else core
    core = strong[0] + core + strong[1] if run.strong else core
    core = f"[{core}](<{run.link}>)" if run.link else core
    return f"{lead}{core}{tail}"


def read_markdown(site: Site, words: str) -> MarkdownRead:
    """Return the site with the texts that a file holds changed to what stands there.

    A text whose Markdown is as it was stays the very same, with its colours.

    Raises:
        EditError: The file marks no text of a page.
    """
    pieces = list(_pieces(words))
    if not pieces:
        raise EditError("words-unmarked")
    changed, unknown = 0, []
    for node_id, path, written in pieces:
        try:
            node = node_at(site, find(site, node_id))
        except EditError:
            unknown.append(node_id)
            continue
        mode = texts_of(node).get(path)
        if mode is None:
            unknown.append(f"{node_id} {path}")
        elif written.strip() != _written(node, path).strip():
            lines = _lines(written)
            site = set_words(site, node_id, lines or ((),), path)
            changed += 1
    return MarkdownRead(site, changed, tuple(unknown))


def _pieces(words: str) -> Iterator[tuple[str, str, str]]:
    marks = list(_MARK.finditer(words))
    for number, mark in enumerate(marks):
        stop = marks[number + 1].start() if number + 1 < len(marks) else len(words)
        body = re.sub(r"<!--.*?-->", "", words[mark.end() : stop], flags=re.DOTALL)
        yield mark.group(1), mark.group(2), body


def _lines(written: str) -> tuple[Text, ...]:
    from markdown_it import MarkdownIt  # Heavy, and needed only here.

    tokens = MarkdownIt("commonmark", {"html": True}).parse(written.strip())
    return tuple(_runs(token.children or []) for token in tokens if token.type == "inline")


def _runs(tokens: list["Token"]) -> Text:
    runs: list[Run] = []
    strong = emphasis = 0
    link = ""
    for token in tokens:
        match token.type:
            case "strong_open" | "strong_close":
                strong += token.nesting
            case "em_open" | "em_close":
                emphasis += token.nesting
            case "link_open":
                link = str(token.attrGet("href") or "")
            case "link_close":
                link = ""
            case "html_inline" if token.content in ("<strong>", "</strong>"):
                strong += -1 if "/" in token.content else 1
            case "html_inline" if token.content in ("<em>", "</em>"):
                emphasis += -1 if "/" in token.content else 1
            case "hardbreak":
                runs.append(Run("\n"))
            case "softbreak":
                runs.append(Run(" ", bool(strong), bool(emphasis), link))
            case _:
                runs.append(Run(token.content, bool(strong), bool(emphasis), link))
    return tidy(runs)
