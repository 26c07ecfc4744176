"""CSV files as spreadsheets write them (RFC 4180, and what stands beside it): any encoding and
separator, quotes and line breaks within cells; and such files written out."""

import csv
import io
import re
from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from needle.core.messages.message import CoreError
from needle.core.values.tables import LONGEST_CELL, MOST_COLUMNS, MOST_ROWS

__all__ = ["Sheet", "SheetError", "copied", "pasted", "read_sheet", "written"]

_MOST_BYTES = 60_000_000
_MARKS = ((b"\xef\xbb\xbf", "utf-8-sig"), (b"\xff\xfe", "utf-16"), (b"\xfe\xff", "utf-16"))
_SEPARATORS = ",;\t|"
# So many records tell how a file is parted.
_LOOKED_AT = 30
# A cell that begins so is worked out by spreadsheets; as words it begins with a quote mark more.
_FORMULA = re.compile(r"'*[=+\-@\t\r]")
# Looked at first, since nearly no cell begins so.
_FORMULA_BEGINS = "'=+-@\t\r"


class SheetError(CoreError):
    """A file that is no table; the message says why."""


@dataclass(frozen=True, slots=True)
class Sheet:
    """A file as it was read.

    Attributes:
        names: The columns, as the first line calls them; never empty, no two alike.
        rows: The cells of each further line, one for each column.
        lines: The line of the file at which each row begins, from 1.
        notes: What was put right on the way, in words.
    """

    names: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]
    lines: tuple[int, ...]
    notes: tuple[str, ...] = ()


def read_sheet(data: bytes) -> Sheet:
    """Return the table in a file.

    Raises:
        SheetError: There is none, or it is too large.
    """
    if len(data) > _MOST_BYTES:
        raise SheetError("sheet-heavy", most=_MOST_BYTES // 1_000_000)
    words, notes = _decoded(data)
    if "\0" in words:
        raise SheetError("sheet-binary")
    separator = _separator(words)
    csv.field_size_limit(LONGEST_CELL * 4)
    reader = csv.reader(io.StringIO(words, newline=""), delimiter=separator)
    records, line = [], 1
    try:
        for record in reader:
            if any(map(str.strip, record)):
                records.append((line, record))
            line = reader.line_num + 1
    except csv.Error as error:
        raise SheetError("sheet-broken", line=reader.line_num, why=str(error)) from error
    if not records:
        raise SheetError("sheet-empty")
    if len(records) - 1 > MOST_ROWS:
        raise SheetError("sheet-rows", most=MOST_ROWS, count=len(records) - 1)
    return _sheet(records, notes)


def _decoded(data: bytes) -> tuple[str, list[str]]:
    for mark, encoding in _MARKS:
        if data.startswith(mark):
            try:
                return data.decode(encoding), []
            except UnicodeDecodeError:
                raise SheetError("sheet-binary") from None
    try:
        return data.decode("utf-8"), []
    except UnicodeDecodeError:
        return data.decode("cp1252", "replace"), ["read as Windows-1252, since it is not UTF-8"]


def _separator(words: str) -> str:
    """Return the sign that parts most lines into equally many cells, more than one."""
    sample = words[:200_000]

    def steady(sign: str) -> tuple[int, int]:
        try:
            lengths = [len(record) for _, record in zip(
                range(_LOOKED_AT), csv.reader(io.StringIO(sample, newline=""), delimiter=sign),
                strict=False) if record]
        except csv.Error:
            return (0, 0)
        width, often = Counter(lengths).most_common(1)[0] if lengths else (0, 0)
        return (often, width) if width > 1 else (0, 0)

    return max(_SEPARATORS, key=steady)


def _sheet(records: Sequence[tuple[int, list[str]]], notes: list[str]) -> Sheet:
    (_, head), *body = records
    width = max(len(record) for _, record in records[:1000])
    if width > MOST_COLUMNS:
        raise SheetError("sheet-columns", most=MOST_COLUMNS, count=width)
    names = _names([*head, *[""] * (width - len(head))], notes)
    rows = []
    for line, record in body:
        if len(record) > width and any(map(str.strip, record[width:])):
            notes.append(f"line {line} has {len(record)} cells; those after {width} are left out")
        kept = [cell[1:] if cell[:1] == "'" and _FORMULA.match(cell) else cell
                for cell in record[:width]]
        rows.append((*kept, *[""] * (width - len(kept))))
    return Sheet(names, tuple(rows), tuple(line for line, _ in body), tuple(notes))


def _names(head: Sequence[str], notes: list[str]) -> tuple[str, ...]:
    names: list[str] = []
    for number, raw in enumerate(head, 1):
        name = " ".join("".join(s if s.isprintable() else " " for s in raw).split())[:72]
        if not name:
            name = f"Column {number}"
            notes.append(f"column {number} has no name in the first line")
        if any(name.casefold() == other.casefold() for other in names):
            notes.append(f"two columns are called “{name}”")
            count = 2
            while any(f"{name} {count}".casefold() == other.casefold() for other in names):
                count += 1
            name = f"{name} {count}"
        names.append(name)
    return tuple(names)


def pasted(words: str) -> list[list[str]]:
    """Return the cells that a spreadsheet put on the clipboard: parted by tabs and line ends, and
    in quotes where a cell has those in it. Words that only look like quotes stay as they are."""
    try:
        return [line or [""] for line in csv.reader(
            io.StringIO(words.rstrip("\r\n"), newline=""), dialect="excel-tab", strict=True)]
    except csv.Error:
        return [line.split("\t") for line in words.rstrip("\r\n").splitlines()]


def copied(rows: Iterable[Sequence[str]]) -> str:
    """Return cells as `pasted` and spreadsheets take them from the clipboard."""
    out = io.StringIO(newline="")
    csv.writer(out, dialect="excel-tab", lineterminator="\n").writerows(rows)
    return out.getvalue().rstrip("\n")


def written(names: Sequence[str], rows: Iterable[Sequence[str]]) -> bytes:
    """Return a CSV file in UTF-8 with a byte order mark, which spreadsheets look for.

    A cell that a spreadsheet would take for a formula begins with a quote mark.
    """
    out = io.StringIO(newline="")
    writer = csv.writer(out, lineterminator="\r\n")
    for row in (names, *rows):
        writer.writerow([f"'{cell}" if cell and cell[0] in _FORMULA_BEGINS and _works(cell)
                         else cell for cell in row])
    return out.getvalue().encode("utf-8-sig")


def _works(cell: str) -> bool:
    if _FORMULA.match(cell) is None:
        return False
    try:
        float(cell)
    except ValueError:
        return True
    return False
