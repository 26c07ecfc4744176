"""Keys of outside services: never in a project, only in a private file of this user."""

import json
import os
from pathlib import Path

from platformdirs import user_config_path

from needle.store.files import write_atomically

__all__ = ["keys_file", "read_key", "write_key"]


def keys_file() -> Path:
    """Return the file, readable by its owner only. NEEDLE_CONFIG moves its folder."""
    folder = os.environ.get("NEEDLE_CONFIG")
    return (Path(folder) if folder else user_config_path("needle")) / "keys.json"


def _all() -> dict[str, str]:
    try:
        held: dict[str, str] = json.loads(keys_file().read_bytes())
    except (OSError, ValueError):
        return {}
    return held


def read_key(service_id: str) -> str:
    """Return the key of a service, or an empty text."""
    return _all().get(service_id, "")


def write_key(service_id: str, key: str) -> None:
    """Keep the key of a service."""
    write_atomically(keys_file(), json.dumps(_all() | {service_id: key}).encode(), 0o600)
