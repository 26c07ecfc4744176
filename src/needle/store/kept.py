"""Small state in JSON: settings, kept filters, the board's facts. One way to keep all of it.

A file that is broken or cut short is never written over: it is put aside under another name, with a
line in the log, and what it held begins anew. Processes take turns by a lock beside the file.
"""

import logging
import os
import time
from collections.abc import Callable
from pathlib import Path
from typing import Generic, TypeVar

import msgspec
from filelock import FileLock, Timeout
from platformdirs import user_config_path

from needle.store.files import write_atomically

__all__ = ["KeptFile", "config_folder", "locked", "put_aside"]

T = TypeVar("T")
_log = logging.getLogger(__name__)
_WAIT_S = 10
_LARGEST = 8_000_000


def config_folder() -> Path:
    """Return where this user's own settings and keys are. NEEDLE_CONFIG moves it."""
    folder = os.environ.get("NEEDLE_CONFIG")
    return Path(folder) if folder else user_config_path("needle")


def locked(path: Path) -> FileLock:
    """Return the lock that processes take before they change `path`.

    Raises on entering:
        OSError: The folder cannot be written, or another process holds the lock too long.
    """
    path.parent.mkdir(parents=True, exist_ok=True)
    return FileLock(path.with_name(f".{path.name}.lock"), timeout=_WAIT_S)


def put_aside(path: Path) -> Path:
    """Give a broken file another name, beside where it stood, and return that.

    Raises:
        OSError: It cannot be moved.
    """
    aside = path.with_name(f"{path.name}.broken-{time.strftime('%Y%m%d-%H%M%S')}")
    number = 0
    while aside.exists():
        number += 1
        aside = aside.with_name(f"{aside.name.partition('~')[0]}~{number}")
    os.replace(path, aside)
    _log.warning("%s was broken and is kept as %s", path.name, aside.name)
    return aside


class KeptFile(Generic[T]):
    """A small JSON file with a value of a fixed type.

    Attributes:
        path: Where it is.
    """

    def __init__(self, path: Path, kind: type[T], empty: Callable[[], T], mode: int = 0o644,
                 ) -> None:
        """Describe the file; nothing is read yet.

        Args:
            kind: What it holds.
            empty: What stands for a file that is not there.
        """
        self.path = path
        self._kind = kind
        self._empty = empty
        self._mode = mode

    def read(self) -> T:
        """Return what it holds; what stands for an empty one if it is missing or broken."""
        try:
            return self._decoded()
        except (OSError, msgspec.DecodeError, UnicodeDecodeError, RecursionError):
            return self._empty()

    def change(self, how: Callable[[T], T]) -> T:
        """Change what it holds, one process after the other, and return it as it is then.

        Raises:
            OSError: The disk refused it; what stood there still does.
        """
        try:
            with locked(self.path):
                return self._changed(how)
        except Timeout as error:
            raise OSError(f"{self.path.name} is in use by another program") from error

    def _changed(self, how: Callable[[T], T]) -> T:
        try:
            held = self._decoded()
        except FileNotFoundError:
            held = self._empty()
        except (msgspec.DecodeError, UnicodeDecodeError, RecursionError):
            put_aside(self.path)
            held = self._empty()
        held = how(held)
        write_atomically(self.path, msgspec.json.format(msgspec.json.encode(held)), self._mode)
        return held

    def _decoded(self) -> T:
        if self.path.stat().st_size > _LARGEST:
            raise msgspec.DecodeError("larger than any such file")
        return msgspec.json.decode(self.path.read_bytes(), type=self._kind)
