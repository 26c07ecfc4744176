"""What this user has set for all projects."""

import logging

from needle.store.kept import KeptFile, config_folder

__all__ = ["read_setting", "write_setting"]

_log = logging.getLogger(__name__)


def _file() -> KeptFile[dict[str, str]]:
    return KeptFile(config_folder() / "settings.json", dict[str, str], dict)


def read_setting(name: str) -> str:
    """Return a setting, or an empty text."""
    return _file().read().get(name, "")


def write_setting(name: str, value: str) -> None:
    """Keep a setting; a disk that refuses it costs the setting, nothing else."""
    try:
        _file().change(lambda held: held | {name: value})
    except OSError as error:
        _log.warning("a setting could not be kept: %s", error.strerror or error)
