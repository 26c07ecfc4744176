"""Finding words on pages, and putting others in their place."""

import re
from collections.abc import Iterable, Iterator
from dataclasses import dataclass

from needle.core.edit.nodes import change
from needle.core.edit.place import EditError
from needle.core.edit.texts import with_lines
from needle.core.render.texts import plain_lines, read_lines, texts_of
from needle.core.site.site import Page, Site
from needle.core.site.tree import walk
from needle.core.values.ids import Id
from needle.core.values.node import Node
from needle.core.values.words import Text, plain, replaced

__all__ = ["Hit", "Search", "find_hits", "reading_minutes", "replace_hits", "word_count"]

# Words that an adult reads in a minute: Brysbaert, "How many words do we read per minute?",
# Journal of Memory and Language 109 (2019), mean for non-fiction in English.
_WORDS_A_MINUTE = 238


@dataclass(frozen=True, slots=True)
class Search:
    """What is looked for.

    Attributes:
        words: The very words.
        case: Capitals and small letters are told apart.
        whole: Only whole words.
    """

    words: str
    case: bool = False
    whole: bool = False

    def pattern(self) -> re.Pattern[str]:
        """Return what finds it."""
        core = re.escape(self.words)
        core = rf"(?<!\w){core}(?!\w)" if self.whole else core
        return re.compile(core, 0 if self.case else re.IGNORECASE)


@dataclass(frozen=True, slots=True)
class Hit:
    """One place where it stands.

    Attributes:
        path: Of the text in its node.
        line: Which line of that text, from 0.
        start: Where in the line it begins.
        around: The words around it, for people.
    """

    page: Id
    variant: str
    node: Id
    path: str
    line: int
    start: int
    around: str


def find_hits(pages: Iterable[Page], search: Search) -> list[Hit]:
    """Return every place on these pages, in reading order."""
    if not search.words:
        return []
    pattern = search.pattern()
    return [Hit(page.id, variant.key, node.id, path, number, match.start(),
                _around(words, match.start(), match.end()))
            for page in pages for variant in page.variants for node in variant.nodes()
            for path, number, words in _texts(node) for match in pattern.finditer(words)]


def _texts(node: Node) -> Iterator[tuple[str, int, str]]:
    for path in texts_of(node):
        for number, line in enumerate(read_lines(node, path)):
            yield path, number, plain(line)


def _around(words: str, start: int, stop: int) -> str:
    left, right = max(0, start - 24), min(len(words), stop + 32)
    return ("…" if left else "") + words[left:right].replace("\n", " ") + (
        "…" if right < len(words) else "")


def replace_hits(site: Site, hits: Iterable[Hit], search: Search, by: str) -> tuple[Site, int]:
    """Return the site with other words in these places, and how many it were.

    Marks stay: the new words take those of the words they replace. A place that has changed
    since it was found is left alone.
    """
    if not search.words:
        raise EditError("replace-nothing")
    pattern = search.pattern()
    wanted: dict[tuple[Id, str], set[tuple[int, int]]] = {}
    for hit in hits:
        wanted.setdefault((hit.node, hit.path), set()).add((hit.line, hit.start))
    count = 0

    def how(node: Node, path: str, places: set[tuple[int, int]]) -> Node:
        nonlocal count
        lines: list[Text] = []
        for number, line in enumerate(read_lines(node, path)):
            found = [m for m in pattern.finditer(plain(line)) if (number, m.start()) in places]
            for match in reversed(found):
                line = replaced(line, match.start(), match.end(), by)
                count += 1
            lines.append(line)
        return with_lines(node, path, tuple(lines))

    for (node_id, path), places in wanted.items():
        site = change(site, node_id,
                      lambda node, path=path, places=places: how(node, path, places))  # type: ignore[misc]
    return site, count


def word_count(tops: Iterable[Node]) -> int:
    """Return how many words these nodes and all in them hold; each remembers its own count."""
    return sum(_words_in(top) for top in tops)


def _words_in(top: Node) -> int:
    held: int | None = top.__dict__.get("word_count")
    if held is None:
        held = top.__dict__["word_count"] = sum(
            len(line.split()) for node in walk(top) for line in plain_lines(node))
    return held


def reading_minutes(words: int) -> int:
    """Return how long so many words take to read, in minutes, at least 1 where there are any."""
    return max(1, round(words / _WORDS_A_MINUTE)) if words else 0
