"""Foreign markup as items: its words, headings, lists, links and emphasis, and nothing else."""

import contextlib
import re
from collections.abc import Mapping
from dataclasses import dataclass, field
from itertools import groupby, islice

from lxml import etree

from needle.core.kinds.heading import Heading
from needle.core.kinds.listing import Listing
from needle.core.kinds.passage import Passage
from needle.core.markup.markup import safe_address
from needle.core.values.ids import new_id
from needle.core.values.node import Item
from needle.core.values.words import Run, Text, plain, text, tidy

__all__ = ["LONGEST", "items_from_html", "items_from_words"]

# More than any page has; beyond it, what is pasted is cut.
LONGEST = 1_000_000
_MOST_BLOCKS = 3_000
_MOST_RUNS = 20_000
_MOST_TAGS = 200_000
_A_PIECE = 50_000
_HEADINGS = {f"h{n}": n for n in range(1, 7)}
_BLOCKS = frozenset({"p", "div", "section", "article", "blockquote", "td", "th", "tr", "dd", "dt",
                     "figcaption", "main", "header", "footer", "table", "ul", "ol", "pre", "body",
                     "br"})
_SILENT = frozenset({"script", "style", "head", "title", "template", "svg", "noscript", "object",
                     "iframe", "textarea", "select", "xml"})
_NEVER = re.compile(r"[\x00-\x08\x0b\x0c\x0e-\x1f\x7f\ud800-\udfff]")
_STYLES = {2: "heading", 3: "minor"}


@dataclass
class _Block:
    """A stretch of words on its own line: a heading of some rank, a list line, or a paragraph."""

    tag: str
    runs: list[Run] = field(default_factory=list)


class _EnoughError(Exception):
    """What was read so far is as much as is taken."""


class _Reader:
    """Collects blocks; whatever it does not know adds its words and no more."""

    def __init__(self) -> None:
        self.blocks: list[_Block] = []
        self._open: _Block | None = None
        self._silent = 0
        self._strong = self._emphasis = 0
        self._links: list[str] = []
        self._lists: list[str] = []
        self._runs = self._tags = 0

    def start(self, tag: str, attributes: Mapping[str, str]) -> None:
        """Take the start of an element."""
        self._tags += 1
        if self._tags > _MOST_TAGS:
            raise _EnoughError
        if tag in _SILENT:
            self._silent += 1
        elif tag in _HEADINGS:
            self._begin(tag)
        elif tag == "li":
            self._begin(f"li-{self._lists[-1] if self._lists else 'ul'}")
        elif tag in _BLOCKS:
            if tag in ("ul", "ol"):
                self._lists.append(tag)
            # A paragraph within a list line belongs to that line.
            if self._open is None or self._open.runs or not self._open.tag.startswith("li"):
                self._open = None
        elif tag in ("b", "strong"):
            self._strong += 1
        elif tag in ("i", "em"):
            self._emphasis += 1
        elif tag == "a":
            address = safe_address(attributes.get("href", ""))
            self._links.append("" if address.startswith("#") else address)

    def end(self, tag: str) -> None:
        """Take the end of an element."""
        if tag in _SILENT:
            self._silent -= 1
        elif tag in _HEADINGS or tag in _BLOCKS or tag == "li":
            self._open = None
            if tag in ("ul", "ol") and self._lists:
                self._lists.pop()
        elif tag in ("b", "strong"):
            self._strong -= 1
        elif tag in ("i", "em"):
            self._emphasis -= 1
        elif tag == "a" and self._links:
            self._links.pop()

    def data(self, data: str) -> None:
        """Take words."""
        words = " ".join(data.split())
        if self._silent or (not words and self._open is None):
            return
        spaced = (" " if data[:1].isspace() else "") + words + (
            " " if words and data[-1:].isspace() else "")
        if self._open is None:
            self._begin("p")
        assert self._open is not None
        self._runs += 1
        if self._runs > _MOST_RUNS:
            raise _EnoughError
        self._open.runs.append(Run(
            spaced, strong=self._strong > 0, emphasis=self._emphasis > 0,
            link=self._links[-1] if self._links else ""))

    def comment(self, words: str) -> None:
        """Leave comments alone."""

    def close(self) -> list[_Block]:
        """Return what was collected."""
        return self.blocks

    def _begin(self, tag: str) -> None:
        if len(self.blocks) >= _MOST_BLOCKS:
            raise _EnoughError
        self._open = _Block(tag)
        self.blocks.append(self._open)


def items_from_html(html: str) -> list[Item]:
    """Return headings, texts and lists with the words of any markup, however wild.

    Lines of a list become one list, paragraphs in a row one text. No styles, scripts, pictures
    or attributes come along, and links only to web, mail and phone addresses.
    """
    clean = _NEVER.sub(" ", html[:LONGEST])
    reader = _Reader()
    try:
        _read(clean.encode() or b" ", reader)
    except etree.XMLSyntaxError:
        return items_from_words(re.sub(r"<[^>]{0,999}>", " ", clean))
    found = reader.blocks
    blocks = [(block.tag, runs) for block in found
              if plain(runs := _trimmed(block.runs)).strip()]
    items: list[Item] = []
    for tag, group in groupby(blocks, key=lambda block: block[0]):
        lines = tuple(runs for _, runs in group)
        if tag in _HEADINGS:
            items.extend(_heading(tag, runs) for runs in lines)
        elif tag.startswith("li"):
            items.append(Listing(id=new_id(), words=lines,
                                 mark="number" if tag == "li-ol" else "dot"))
        else:
            items.append(Passage(id=new_id(), words=lines))
    return items


def _read(html: bytes, reader: _Reader) -> None:
    parser = etree.HTMLParser(target=reader, recover=True, huge_tree=True, encoding="utf-8")
    with contextlib.suppress(_EnoughError):
        for start in range(0, len(html), _A_PIECE):
            parser.feed(html[start:start + _A_PIECE])
        parser.close()


def _heading(tag: str, runs: Text) -> Heading:
    rank = max(2, _HEADINGS[tag])
    return Heading(id=new_id(), words=runs, rank=rank, style=_STYLES.get(rank, "minor"))


def _trimmed(runs: list[Run]) -> Text:
    """Return the runs without space at either end or doubled where they meet."""
    kept: list[Run] = []
    for run in runs:
        words = run.words
        if (not kept or kept[-1].words.endswith(" ")) and words.startswith(" "):
            words = words.lstrip(" ")
        kept.append(Run(words, run.strong, run.emphasis, run.link))
    if kept:
        end = kept[-1]
        kept[-1] = Run(end.words.rstrip(" "), end.strong, end.emphasis, end.link)
    return tidy(kept)


def items_from_words(words: str) -> list[Item]:
    """Return one text with a paragraph for each line that holds words."""
    lines = tuple(text(" ".join(line.split())) for line in islice(
        (line for line in words[:LONGEST].splitlines() if line.strip()), _MOST_BLOCKS))
    return [Passage(id=new_id(), words=lines)] if lines else []
