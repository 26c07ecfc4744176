"""Text as runs of words with marks. Markup never enters it."""

import re
from collections.abc import Iterable, Sequence
from itertools import groupby

import msgspec

from needle.core.values.strict import Choice, Colour, ColumnPath, Id, Strict

__all__ = ["Run", "Text", "joined", "marked", "plain", "replaced", "respell", "text", "tidy"]


class Run(Strict, frozen=True, omit_defaults=True, forbid_unknown_fields=True):
    """A stretch of words with the same marks.

    Attributes:
        words: The characters; "\\n" is a line break.
        link: Where a click leads: an address, or "page:ID" for a page of the site.
        colour: A role of the brand's palette or "#rrggbb".
        advert: The advert words that may stand in place of these; empty for none.
        invented: Nobody has confirmed these words yet: they were made up for a first draft.
        column: On a page for each row: the column whose value stands in place of these, of the
            row or of one that it names; they stand where there is none.
        shape: How that value is written out; a key of `tables.SHAPES`.
    """

    words: str
    strong: bool = False
    emphasis: bool = False
    link: str = ""
    colour: Colour = ""
    invented: bool = False
    advert: Id = ""
    column: ColumnPath = ""
    shape: Choice = ""

    @property
    def marks(self) -> tuple[bool, bool, str, str, bool, str, str, str]:
        """All but the words."""
        return (self.strong, self.emphasis, self.link, self.colour, self.invented, self.advert,
                self.column, self.shape)


Text = tuple[Run, ...]

_CONTROL = re.compile(r"[\x00-\x09\x0b-\x1f\x7f\u2028\u2029\ufeff\ufffe\uffff\ud800-\udfff]")


def text(words: str, invented: bool = False) -> Text:
    """Return plain words as text without marks, or marked as invented."""
    return tidy((Run(words, invented=invented),))


def plain(value: Text) -> str:
    """Return the words alone."""
    return "".join(run.words for run in value)


def tidy(runs: Iterable[Run]) -> Text:
    """Drop control characters and empty runs, and join neighbours with equal marks."""
    clean = (
        msgspec.structs.replace(run, words=words) if words != run.words else run
        for run in runs
        if (words := _CONTROL.sub("", run.words))
    )
    joined = []
    for _, group in groupby(clean, key=lambda run: run.marks):
        same = list(group)
        words = "".join(run.words for run in same)
        joined.append(same[0] if len(same) == 1 else msgspec.structs.replace(same[0], words=words))
    return tuple(joined)


def joined(lines: Iterable[Text]) -> Text:
    """Return the lines as one text with line breaks between them."""
    runs: list[Run] = []
    for number, line in enumerate(lines):
        if number:
            runs.append(Run("\n"))
        runs.extend(line)
    return tidy(runs)


def marked(lines: Sequence[Text], start: int, stop: int, mark: str, value: str = "",
           ) -> tuple[Text, ...]:
    """Return the lines with a mark put on a stretch, or taken off if all of it has it.

    Args:
        start, stop: Characters from the beginning of the first line; line ends and line
            breaks count for nothing, as in a browser's ranges.
        mark: "strong", "emphasis", "link", "advert", "column" or "shape".
        value: The address of a link, the id of advert words or of a column, or a shape; empty
            takes it away.
    """
    pieces = [_pieces(line) for line in lines]
    inside: list[tuple[int, int]] = []
    at = 0
    for row, line in enumerate(pieces):
        for column, run in enumerate(line):
            if run.words != "\n":
                if start <= at < stop:
                    inside.append((row, column))
                at += 1
    wanted: object = value if mark in ("link", "advert", "column", "shape") else not all(
        getattr(pieces[row][column], mark) for row, column in inside)
    for row, column in inside:
        pieces[row][column] = msgspec.structs.replace(pieces[row][column], **{mark: wanted})
    return tuple(tidy(line) for line in pieces)


def _pieces(line: Text) -> list[Run]:
    """Return a run for each character."""
    return [msgspec.structs.replace(run, words=sign) for run in line for sign in run.words]


def respell(value: Text, words: str) -> Text:
    """Return `value` with its words changed to `words`, keeping marks where words stay.

    The changed stretch takes the marks of what it replaces, or else of what stands
    before it, so typing at the end of a bold word goes on in bold.
    """
    old = plain(value)
    if old == words:
        return value
    start = _common(old, words)
    rest = _common(old[start:][::-1], words[start:][::-1])
    stop = len(old) - rest
    fresh = words[start : len(words) - rest]
    marks = _run_at(value, start if stop > start else start - 1)
    return tidy([*_cut(value, 0, start), msgspec.structs.replace(marks, words=fresh),
                 *_cut(value, stop, len(old))])


def replaced(value: Text, start: int, stop: int, words: str) -> Text:
    """Return `value` with other words in a stretch; they take the marks of what stood there."""
    marks = _run_at(value, start)
    return tidy([*_cut(value, 0, start), msgspec.structs.replace(marks, words=words),
                 *_cut(value, stop, len(plain(value)))])


def _common(one: str, other: str) -> int:
    count = 0
    for left, right in zip(one, other, strict=False):
        if left != right:
            break
        count += 1
    return count


def _run_at(value: Sequence[Run], position: int) -> Run:
    for run in value:
        if position < len(run.words):
            return run
        position -= len(run.words)
    return value[-1] if value else Run("")


def _cut(value: Text, start: int, stop: int) -> list[Run]:
    parts = []
    at = 0
    for run in value:
        words = run.words[max(0, start - at) : max(0, stop - at)]
        if words:
            parts.append(msgspec.structs.replace(run, words=words))
        at += len(run.words)
    return parts
