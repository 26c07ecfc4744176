"""Where a project's practice services are, as the services themselves wrote it down."""

import json
from pathlib import Path
from typing import Any

from needle.store.files import write_atomically

__all__ = ["port_80_file", "practice_folder", "read_address", "shelf_file", "write_address"]


def practice_folder(project: Path, does: str) -> Path:
    """Return the folder of a practice service of a kind, as "mail" or "list"."""
    return project / "practice" / does


def port_80_file(project: Path) -> Path:
    """Return the file that names the port that stands for 80 where the practice authority looks."""
    return practice_folder(project, "authority") / "port-80"


def shelf_file(folder: Path) -> Path:
    """Return the file of a practice service that is a file and no process, in its folder."""
    return folder / "leads.csv"


def write_address(folder: Path, **facts: Any) -> None:
    """Write down where the service of this folder is."""
    write_atomically(folder / "address.json", json.dumps(facts).encode(), 0o600)


def read_address(folder: Path) -> dict[str, Any] | None:
    """Return what the service last wrote down, or `None`."""
    try:
        facts: dict[str, Any] = json.loads((folder / "address.json").read_bytes())
    except (OSError, ValueError):
        return None
    return facts
