"""Leads from a CSV file that somebody else wrote."""

import csv
import hashlib
import io
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime

from needle.core.messages.message import CoreError

__all__ = ["ImportedLead", "LeadFileError", "read_leads"]

_MOST = 500_000


class LeadFileError(CoreError):
    """A file that holds no leads; the message says what is wrong and where."""


@dataclass(frozen=True, slots=True)
class ImportedLead:
    """One line of a file.

    Attributes:
        key: The same for the same line, so that a file taken twice brings nothing twice.
        at_ms: When it came, if a column tells; else 0.
        answers: Empty id, column and cell.
    """

    key: str
    at_ms: int
    email: str
    answers: Sequence[tuple[str, str, str]]


def read_leads(raw: bytes) -> list[ImportedLead]:
    """Return the leads in a CSV file, whatever separates its columns.

    Raises:
        LeadFileError: It is no table, or no column holds e-mail addresses.
    """
    try:
        words = raw.decode("utf-8-sig")
    except UnicodeDecodeError:
        words = raw.decode("cp1252", "replace")
    if "\0" in words:
        raise LeadFileError("leads-no-csv")
    first = words.partition("\n")[0]
    separator = max(",;\t", key=first.count)
    try:
        table = list(csv.reader(io.StringIO(words, newline=""), delimiter=separator))
    except csv.Error as error:
        raise LeadFileError("leads-no-table", why=error) from error
    rows = [row for row in table if any(cell.strip() for cell in row)]
    if len(rows) < 2:
        raise LeadFileError("leads-only-header")
    if len(rows) > _MOST:
        raise LeadFileError("leads-too-many", most=_MOST)
    header = [cell.strip() or f"Column {number}" for number, cell in enumerate(rows[0], 1)]
    email = _email_column(header, rows[1:])
    when = next((n for n, name in enumerate(header) if name.lower().startswith("when")), -1)
    return [_lead(header, row, email, when) for row in rows[1:]]


def _email_column(header: Sequence[str], rows: Sequence[Sequence[str]]) -> int:
    counts = [sum("@" in row[n] for row in rows[:200] if n < len(row)) for n in range(len(header))]
    best = max(range(len(header)), key=lambda n: counts[n])
    if not counts[best]:
        raise LeadFileError("leads-no-email")
    return best


def _lead(header: Sequence[str], row: Sequence[str], email: int, when: int) -> ImportedLead:
    cells = [_bare(cell) for cell in row]
    answers = [("", name, cell) for name, cell in zip(header, cells, strict=False) if cell]
    key = hashlib.sha256("\0".join(cells).encode()).hexdigest()[:40]
    at_ms = _moment(cells[when]) if 0 <= when < len(cells) else 0
    address = cells[email][:320] if email < len(cells) and "@" in cells[email] else ""
    return ImportedLead(key, at_ms, address, answers)


def _bare(cell: str) -> str:
    """Return a cell as it was before an export made it safe for spreadsheets."""
    tidy = "".join(sign for sign in cell if sign.isprintable() or sign == "\n").strip()
    return tidy[1:] if len(tidy) > 1 and tidy[0] == "'" and tidy[1] in "=+-@" else tidy


def _moment(cell: str) -> int:
    try:
        moment = datetime.fromisoformat(cell)
    except ValueError:
        return 0
    moment = moment if moment.tzinfo else moment.replace(tzinfo=UTC)
    return int(moment.timestamp() * 1000)
