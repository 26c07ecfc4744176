"""What this user has set for all projects."""

import json
from typing import Any

from needle.store.files import write_atomically
from needle.store.keys import keys_file

__all__ = ["read_setting", "write_setting"]


def _all() -> dict[str, Any]:
    try:
        held: dict[str, Any] = json.loads(keys_file().with_name("settings.json").read_bytes())
    except (OSError, ValueError):
        return {}
    return held if isinstance(held, dict) else {}


def read_setting(name: str) -> str:
    """Return a setting, or an empty text."""
    return str(_all().get(name, ""))


def write_setting(name: str, value: str) -> None:
    """Keep a setting; a disk that refuses it costs the setting, nothing else."""
    try:
        write_atomically(keys_file().with_name("settings.json"),
                         json.dumps(_all() | {name: value}).encode())
    except OSError:
        return
