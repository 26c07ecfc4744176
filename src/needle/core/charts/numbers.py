"""Reading numbers as people type them or paste them from a spreadsheet."""

import re
from dataclasses import dataclass

from needle.core.messages.message import CoreError

__all__ = ["MOST_ROWS", "NumbersError", "Table", "read_table"]

MOST_ROWS = 60
_MOST_SERIES = 4
_NUMBER = re.compile(r"[-+−]?\d[\d\s .,’']*\Z")


class NumbersError(CoreError):
    """Text that holds no numbers to draw; the message names the line."""


@dataclass(frozen=True, slots=True)
class Table:
    """Numbers to draw.

    Attributes:
        labels: What each row is about.
        names: What each series is called; empty names for a table without a head line.
        series: For each name the numbers, one a row.
    """

    labels: tuple[str, ...]
    names: tuple[str, ...]
    series: tuple[tuple[float, ...], ...]


def read_table(words: str) -> Table:
    """Return the numbers in `words`: a label and one to four numbers on each line.

    Cells are parted by tabs, as spreadsheets copy them, by semicolons, or (for one series) by the
    last blank. "1,234.5", "1 234,5", "€ 12" and "12 %" are all numbers. A first line without
    numbers names the series.

    Raises:
        NumbersError: There is no number on a line, or lines have different counts.
    """
    lines = [(number, _cells(line)) for number, line in enumerate(words.splitlines(), 1)
             if line.strip()]
    if not lines:
        raise NumbersError("chart-empty")
    names: tuple[str, ...] = ()
    if len(lines) > 1 and all(_number(cell) is None for cell in lines[0][1][1:]):
        names = tuple(lines.pop(0)[1][1:])
    if len(lines) > MOST_ROWS:
        raise NumbersError("chart-too-many-lines", most=MOST_ROWS, count=len(lines))
    rows = [_row(number, cells) for number, cells in lines]
    counts = {len(values) for _, values in rows}
    if len(counts) > 1:
        raise NumbersError("chart-uneven")
    width = counts.pop()
    if width > _MOST_SERIES:
        raise NumbersError("chart-too-many-numbers", most=_MOST_SERIES, count=width)
    return Table(tuple(label for label, _ in rows), (*names, *([""] * width))[:width],
                 tuple(tuple(values[n] for _, values in rows) for n in range(width)))


def _cells(line: str) -> list[str]:
    for mark in ("\t", ";"):
        if mark in line:
            return [cell.strip() for cell in line.strip(" ").split(mark)]
    label, _, last = line.strip().rpartition(" ")
    return [label.strip().rstrip(":"), last] if label else [last]


def _row(number: int, cells: list[str]) -> tuple[str, list[float]]:
    values = []
    for cell in cells[1:]:
        value = _number(cell)
        if value is None:
            raise NumbersError("chart-no-number", line=number, cell=cell)
        values.append(value)
    if not values:
        raise NumbersError("chart-line-without-number", line=number, label=cells[0][:40])
    return cells[0], values


def _number(cell: str) -> float | None:
    bare = re.sub(r"[%£$€¥]|[A-Za-z]{1,3}\Z", "", cell).strip()
    if not _NUMBER.match(bare):
        return None
    digits = re.sub(r"[\s ’']", "", bare).replace("−", "-")
    dot, comma = digits.rfind("."), digits.rfind(",")
    if dot >= 0 and comma >= 0:
        group, point = (",", ".") if dot > comma else (".", ",")
        digits = digits.replace(group, "").replace(point, ".")
    elif comma >= 0:
        thousands = re.fullmatch(r"[-+]?\d{1,3}(,\d{3})+", digits)
        digits = digits.replace(",", "" if thousands else ".")
    try:
        return float(digits)
    except ValueError:
        return None
