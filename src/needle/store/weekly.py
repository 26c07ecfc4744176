"""Who gets the report of the week by itself, kept in the project."""

from datetime import datetime, timedelta
from pathlib import Path
from typing import Annotated

import msgspec

from needle.core.values.ids import Id
from needle.store.kept import KeptFile

__all__ = ["Weekly", "due_moment", "kept_weekly", "set_weekly"]

_HOUR = 8


class Weekly(msgspec.Struct, frozen=True):
    """The report goes out by itself.

    Attributes:
        to: An e-mail address.
        service: The mail service that takes it.
        weekday: On which day at eight, 0 for Monday, by the time of the host's machine.
        since: ISO time since when it was asked for; nothing is sent for a time before.
    """

    to: Annotated[str, msgspec.Meta(max_length=320)]
    service: Id
    weekday: Annotated[int, msgspec.Meta(ge=0, le=6)]
    since: Annotated[str, msgspec.Meta(max_length=40)]


def _file(project: Path) -> KeptFile[Weekly | None]:
    return KeptFile(project / "weekly.json", Weekly | None, lambda: None)  # type: ignore[arg-type]


def kept_weekly(project: Path) -> Weekly | None:
    """Return what is kept; `None` if it does not go out by itself."""
    return _file(project).read()


def set_weekly(project: Path, weekly: Weekly | None) -> None:
    """Have it go out by itself from now on, or no more.

    Raises:
        OSError: The disk refused it.
    """
    _file(project).change(lambda _: weekly)


def due_moment(weekly: Weekly, now: datetime) -> datetime | None:
    """Return the last moment at which a report was due; `None` if there was none since it was
    asked for.

    Args:
        now: With its zone, as `weekly.since` has.
    """
    moment = now.replace(hour=_HOUR, minute=0, second=0, microsecond=0) - timedelta(
        days=(now.weekday() - weekly.weekday) % 7)
    if moment > now:
        moment -= timedelta(days=7)
    return moment if moment >= datetime.fromisoformat(weekly.since) else None
