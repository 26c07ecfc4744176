"""Filters of the lead book that somebody keeps, in the project."""

from collections.abc import Callable
from pathlib import Path

from needle.store.kept import KeptFile
from needle.store.results.book import Filter

__all__ = ["Filters", "change_filters", "kept_filters"]

Filters = dict[str, Filter]


def _file(project: Path) -> KeptFile[Filters]:
    return KeptFile(project / "filters.json", Filters, dict)


def kept_filters(project: Path) -> Filters:
    """Return the kept filters by name; a broken file holds none."""
    return _file(project).read()


def change_filters(project: Path, how: Callable[[Filters], Filters]) -> None:
    """Change the kept filters.

    Raises:
        OSError: The disk refused it.
    """
    _file(project).change(how)
