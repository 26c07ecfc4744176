"""Which site a project holds, told from its file without reading all of it."""

import hashlib
import re
from pathlib import Path
from typing import Any

import msgspec

__all__ = ["site_id_of"]

_ID = re.compile("[a-z0-9_-]{1,32}")


class _Named(msgspec.Struct):
    """As much of `site.json` as tells which site it is."""

    site: dict[str, Any]


def site_id_of(project: Path) -> str:
    """Return the id of the site, which stays when the project is moved."""
    try:
        named = msgspec.json.decode((project / "site.json").read_bytes(), type=_Named).site["id"]
        if isinstance(named, str) and _ID.fullmatch(named):
            return named
    except (OSError, msgspec.DecodeError, UnicodeDecodeError, RecursionError, KeyError):
        pass  # The place of the folder names it as well.
    return hashlib.sha256(str(project.resolve()).encode()).hexdigest()[:16]
