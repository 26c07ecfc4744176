"""Which database holds a project's results: SQLite in the project, or a server's."""

import re
from pathlib import Path

from needle.store.keys import read_key, write_key
from needle.store.siteids import site_id_of

__all__ = ["database_of", "hidden", "remember_database"]

_PASSWORD = re.compile(r"(?<=://)([^:/@\s]+):[^@\s]+@")


def database_of(project: Path) -> str | Path:
    """Return the address of a project's results.

    An address may hold a password, so it is kept with the keys, never in the project.
    """
    return read_key(_name(project)) or project / "results.db"


def hidden(place: str | Path) -> str:
    """Return an address, or words with one in them, as it may be shown: without its password."""
    return _PASSWORD.sub(r"\1:…@", str(place))


def remember_database(project: Path, address: str) -> None:
    """Have window and host use a database from now on; an empty address is SQLite again.

    Raises:
        OSError: It cannot be kept.
    """
    write_key(_name(project), address)


def _name(project: Path) -> str:
    return f"database-{site_id_of(project)}"
