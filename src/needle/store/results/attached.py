"""Where files that visitors sent along stand.

A database may come from a stranger, so what it says of paths is looked at before it is used.
"""

import re
from pathlib import Path

from needle.store.paths import OutsideError, checked_file

__all__ = ["attached_file", "drop_attached"]

_PLACE = re.compile(r"attachments/[A-Za-z0-9_-]{1,120}\.[a-z0-9]{1,10}")


def attached_file(project: Path, place: str) -> Path:
    """Return the path of a file that came with a lead.

    Raises:
        OSError: It is missing, or the place is none where such files stand (`OutsideError`).
    """
    if _PLACE.fullmatch(place) is None:
        raise OutsideError(place)
    return checked_file(project, place)


def drop_attached(project: Path, place: str) -> None:
    """Remove a file that came with a lead; a place elsewhere is left alone."""
    if _PLACE.fullmatch(place) is not None:
        (project / place).unlink(missing_ok=True)
