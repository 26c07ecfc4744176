"""The tables of a project: each as Needle keeps it, and as a CSV file beside it for spreadsheets.

The first is the truth. What somebody changes in the CSV file is seen by its digest, and is read
only when a person says so.
"""

import hashlib
import logging
from collections.abc import Iterable, Sequence
from pathlib import Path

import msgspec

from needle.core.edit.pages import slug_for
from needle.core.tables.taking import as_csv
from needle.core.values.strict import Strict
from needle.core.values.tables import Table
from needle.store.files import write_atomically
from needle.store.paths import read_below

__all__ = ["TABLES", "TableFile", "clear_tables", "csv_file", "edited_outside", "heads_of",
           "keep_csv", "read_tables", "write_tables"]

TABLES = "tables"
_MOST_CSV = 60_000_000
_log = logging.getLogger(__name__)


class TableFile(Strict, frozen=True, forbid_unknown_fields=True):
    """What a table's file holds.

    Attributes:
        csv: The SHA-256 of the CSV file as Needle wrote it last.
    """

    table: Table
    csv: str = ""


class _Written(msgspec.Struct):
    """What is asked of a table's file without its rows."""

    csv: str = ""


_DECODER = msgspec.json.Decoder(TableFile)
_HEAD = msgspec.json.Decoder(_Written)


def heads_of(tables: Iterable[Table]) -> tuple[Table, ...]:
    """Return tables without their rows, as `site.json` holds them."""
    return tuple(msgspec.structs.replace(table, rows=()) for table in tables)


def csv_file(table: Table) -> str:
    """Return the name of a table's CSV file in the project's folder of tables."""
    return f"{slug_for(table.name) or 'table'}-{table.id}.csv"


def read_tables(folder: Path, heads: Iterable[Table]) -> tuple[Table, ...]:
    """Return the tables that a project names, with their rows.

    Raises:
        OSError: One cannot be read.
        msgspec.DecodeError, msgspec.ValidationError: One is broken, or is another's.
    """
    return tuple(_read(folder, head).table for head in heads)


def _read(folder: Path, head: Table) -> TableFile:
    kept = _DECODER.decode(read_below(folder, f"{TABLES}/{head.id}.json"))
    if kept.table.id != head.id:
        raise msgspec.ValidationError(f"it holds the table {kept.table.id}")
    if len({row.id for row in kept.table.rows}) < len(kept.table.rows):
        raise msgspec.ValidationError("two rows have one id")
    width = len(kept.table.columns)
    for row in kept.table.rows:
        if len(row.cells) != width:
            raise msgspec.ValidationError(
                f"row {row.id} has {len(row.cells)} cells for {width} columns")
    return kept


def write_tables(folder: Path, tables: Sequence[Table], saved: Sequence[Table]) -> int:
    """Write the tables that are not on the disk as they are; return how many files that were.

    Raises:
        OSError: The disk refused it.
    """
    before = {table.id: table for table in saved}
    count = 0
    for table in tables:
        was = before.get(table.id)
        if was is table:
            continue
        if was is not None and edited_outside(folder, was) is not None:
            _keep(folder, table, _digest_of(folder, was))
        else:
            if was is not None and csv_file(was) != csv_file(table):
                (folder / TABLES / csv_file(was)).unlink(missing_ok=True)
            keep_csv(folder, table)
        count += 1
    return count


def clear_tables(folder: Path, tables: Sequence[Table], saved: Sequence[Table]) -> None:
    """Remove the files of tables that are gone, once nothing names them any more.

    Raises:
        OSError: The disk refused it.
    """
    left = {table.id for table in tables}
    for table in saved:
        if table.id not in left:
            (folder / TABLES / f"{table.id}.json").unlink(missing_ok=True)
            (folder / TABLES / csv_file(table)).unlink(missing_ok=True)


def keep_csv(folder: Path, table: Table) -> None:
    """Write a table and its CSV file, over whatever somebody wrote into that.

    Raises:
        OSError: The disk refused it.
    """
    data = as_csv(table)
    write_atomically(folder / TABLES / csv_file(table), data)
    _keep(folder, table, hashlib.sha256(data).hexdigest())


def _keep(folder: Path, table: Table, digest: str) -> None:
    write_atomically(folder / TABLES / f"{table.id}.json", msgspec.json.format(
        msgspec.json.encode(TableFile(table, digest), order="sorted"), indent=0) + b"\n")


def _digest_of(folder: Path, table: Table) -> str:
    try:
        return _HEAD.decode(read_below(folder, f"{TABLES}/{table.id}.json")).csv
    except (OSError, msgspec.DecodeError):
        return ""


def edited_outside(folder: Path, table: Table) -> bytes | None:
    """Return what somebody else wrote into the CSV file of a table; `None` if nobody did."""
    try:
        data = read_below(folder, f"{TABLES}/{csv_file(table)}", _MOST_CSV)
    except OSError:
        return None
    digest = _digest_of(folder, table)
    return data if digest and hashlib.sha256(data).hexdigest() != digest else None
