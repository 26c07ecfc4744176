"""A file that grows by a line with each lead: CSV (RFC 4180) or JSON Lines."""

import csv
import fcntl
import io
import json
import os
from collections.abc import Iterator, Mapping, Sequence
from contextlib import contextmanager
from pathlib import Path

from needle.core.leads.export import safe_cell
from needle.services.adapter import (
    Access,
    Parcel,
    Receipt,
    ServiceError,
    Setting,
    TargetField,
)
from needle.store.files import write_atomically

__all__ = ["SETTINGS", "LeadFile"]

SETTINGS = (Setting("address", "File", example="/home/me/leads.csv; ending .csv or .jsonl"),)
_KEY = "lead_key"


class LeadFile:
    """A file in a folder of this machine."""

    def __init__(self, access: Access) -> None:
        self._name = access.name
        self._path = access.folder / Path(access.address).expanduser()
        self._rows = self._path.suffix.lower() == ".csv"

    def check(self) -> str:
        """Count the leads in the file; that takes the right to write there."""
        with self._told(), self._locked():
            return f"{len(self._keys())} leads in it"

    def targets(self) -> Mapping[str, str]:
        """Return nothing: a file has no parts."""
        return {}

    def fields(self, target: str) -> Sequence[TargetField]:
        """Return nothing: any name becomes a column."""
        return ()

    def deliver(self, parcel: Parcel) -> Receipt:
        """Add a line, unless one of the same key is there."""
        row = {_KEY: parcel.key, "when": parcel.facts.get("when", ""), **parcel.values}
        with self._told(), self._locked():
            if parcel.key in self._keys():
                return Receipt(f"{self._name} has it", json.dumps(row, ensure_ascii=False))
            self._add(row)
        return Receipt(f"{self._name} written", json.dumps(row, ensure_ascii=False),
                       str(self._path))

    def remove(self, parcel: Parcel) -> bool:
        """Write the file without the line of this key."""
        with self._told(), self._locked():
            lines = [line for line in self._lines() if self._key_of(line) != parcel.key]
            write_atomically(self._path, "".join(lines).encode())
        return True

    @contextmanager
    def _told(self) -> Iterator[None]:
        try:
            yield
        except (OSError, UnicodeDecodeError) as error:
            reason = error.strerror if isinstance(error, OSError) else "it is not text"
            raise ServiceError("answer-file-unwritten", service=self._name, why=reason, down=True,
                               request=str(self._path), answer=str(error)) from error

    @contextmanager
    def _locked(self) -> Iterator[None]:
        """Let nobody else write meanwhile; a line that was cut short by a kill is taken off."""
        self._path.parent.mkdir(parents=True, exist_ok=True)
        # The lock stands beside the file, which may be replaced while it is held.
        with (self._path.parent / f".{self._path.name}.lock").open("w") as lock:
            fcntl.flock(lock, fcntl.LOCK_EX)
            if self._path.exists():
                self._mend()
            yield

    def _mend(self) -> None:
        with self._path.open("rb+") as file:
            size = file.seek(0, os.SEEK_END)
            if size == 0:
                return
            file.seek(size - 1)
            if file.read(1) == b"\n":
                return
            file.seek(0)
            whole = file.read().rfind(b"\n") + 1
            file.truncate(whole)

    def _lines(self) -> list[str]:
        """Return the records, each with its line end; a CSV record may run over several lines."""
        if not self._path.exists():
            return []
        words = self._path.read_bytes().decode("utf-8-sig")
        if not self._rows:
            return words.splitlines(keepends=True)
        return [_csv_line(row) for row in csv.reader(io.StringIO(words, newline=""))]

    def _key_of(self, line: str) -> str:
        if self._rows:
            return next(iter(next(csv.reader([line]), [])), "")
        try:
            return str(json.loads(line).get(_KEY, ""))
        except (ValueError, AttributeError):
            return ""

    def _keys(self) -> set[str]:
        """Return the keys of the leads in the file, read again only when it has changed."""
        try:
            stat = self._path.stat()
        except FileNotFoundError:
            return set()
        stamp = (stat.st_ino, stat.st_size, stat.st_mtime_ns)
        known = _known.get(self._path)
        if known is None or known[0] != stamp:
            lines = self._lines()[1 if self._rows else 0:]
            known = _known[self._path] = (stamp, {self._key_of(line) for line in lines})
        return known[1]

    def _add(self, row: Mapping[str, str]) -> None:
        keys = self._keys()
        if self._rows:
            self._add_row(row)
        else:
            self._append(json.dumps(row, ensure_ascii=False) + "\n")
        keys.add(row[_KEY])
        stat = self._path.stat()
        _known[self._path] = ((stat.st_ino, stat.st_size, stat.st_mtime_ns), keys)

    def _add_row(self, row: Mapping[str, str]) -> None:
        lines = self._lines()
        header = next(csv.reader(lines[:1]), [])
        every = [*header, *(name for name in row if name not in header)]
        cells = [safe_cell(row.get(name, "")) for name in every]
        if every == header:
            self._append(_csv_line(cells))
            return
        # A field that is new gets a column of its own; older leads have none of it.
        rows = [next(csv.reader([line])) for line in lines[1:]]
        padded = [old + [""] * (len(every) - len(old)) for old in rows]
        words = "".join(_csv_line(line) for line in [every, *padded, cells])
        write_atomically(self._path, words.encode())

    def _append(self, line: str) -> None:
        handle = os.open(self._path, os.O_WRONLY | os.O_APPEND | os.O_CREAT, 0o600)
        try:
            data = line.encode()
            if os.write(handle, data) != len(data):
                raise OSError(28, "the disk is full")
            os.fsync(handle)
        finally:
            os.close(handle)


# By file: its stamp when last looked at, and the keys of the leads in it.
_known: dict[Path, tuple[object, set[str]]] = {}


def _csv_line(cells: Sequence[str]) -> str:
    out = io.StringIO()
    csv.writer(out, lineterminator="\n").writerow(cells)
    return out.getvalue()
