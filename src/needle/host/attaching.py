"""Files that visitors send along, kept by lead and content."""

import hashlib
from collections.abc import Mapping, Sequence
from pathlib import Path

from needle.core.leads.attachments import SentFile, tidy_name
from needle.core.values.form import Form, Role
from needle.store.files import write_atomically
from needle.store.results.attached import drop_attached

__all__ = ["drop_files", "keep_files"]

KeptFiles = Sequence[tuple[str, str, str]]


def keep_files(project: Path, key: str, form: Form, files: Mapping[str, SentFile]) -> KeptFiles:
    """Write what was sent along; return field, name and place below the project of each.

    A place holds nothing that the visitor chose. It tells the content, so that what is sent again
    with other files never takes the place of what was taken before.

    Raises:
        OSError: The disk refused it.
    """
    kept = []
    for field in form.fields:
        if field.role is Role.FILE and field.id in files:
            name = tidy_name(files[field.id].name)
            digest = hashlib.sha256(files[field.id].data).hexdigest()[:12]
            ending = name.rsplit(".", 1)[-1].lower()
            place = f"attachments/{key}-{field.id}-{digest}.{ending}"
            if not (project / place).exists():
                write_atomically(project / place, files[field.id].data, 0o600)
            kept.append((field.id, name, place))
    return kept


def drop_files(project: Path, places: Sequence[str]) -> None:
    """Remove files that no lead has."""
    for place in places:
        drop_attached(project, place)
