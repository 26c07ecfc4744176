"""Filters of the lead book that somebody keeps, in the project."""

from collections.abc import Mapping
from pathlib import Path

import msgspec

from needle.store.files import write_atomically
from needle.store.results.book import Filter

__all__ = ["kept_filters", "write_filters"]


def _file(project: Path) -> Path:
    return project / "filters.json"


def kept_filters(project: Path) -> dict[str, Filter]:
    """Return the kept filters by name; a broken file holds none."""
    try:
        return msgspec.json.decode(_file(project).read_bytes(), type=dict[str, Filter])
    except (OSError, msgspec.DecodeError):
        return {}


def write_filters(project: Path, filters: Mapping[str, Filter]) -> None:
    """Keep these filters.

    Raises:
        OSError: The disk refused it.
    """
    write_atomically(_file(project), msgspec.json.format(msgspec.json.encode(dict(filters))))
