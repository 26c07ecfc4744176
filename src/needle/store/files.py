"""Writing files so that a crash leaves the old or the new, never half."""

import os
import tempfile
import time
from pathlib import Path

__all__ = ["Stamp", "stamp_of", "sweep", "write_atomically"]

Stamp = tuple[int, int, int]

_PREFIX = ".new-"
# Younger ones may be another process's, still being written.
_OLD_S = 60


def write_atomically(path: Path, data: bytes, mode: int = 0o644) -> None:
    """Write `data` to `path` by temporary file, fsync and rename.

    Raises:
        OSError: It could not be written; what stood there before still does.
    """
    path.parent.mkdir(parents=True, exist_ok=True)
    handle, temporary = tempfile.mkstemp(dir=path.parent, prefix=_PREFIX)
    try:
        with os.fdopen(handle, "wb") as file:
            file.write(data)
            file.flush()
            os.fsync(file.fileno())
        os.chmod(temporary, mode)
        os.replace(temporary, path)
    except BaseException:
        Path(temporary).unlink(missing_ok=True)
        raise
    folder = os.open(path.parent, os.O_RDONLY)
    try:
        os.fsync(folder)
    finally:
        os.close(folder)


def stamp_of(path: Path) -> Stamp:
    """Return what tells one content of an atomically written file from the next.

    The time alone does not: two writes within one tick of the disk's clock have the same.

    Raises:
        OSError: It is not there.
    """
    held = path.stat()
    return held.st_mtime_ns, held.st_ino, held.st_size


def sweep(folder: Path) -> None:
    """Remove what writers left below a folder (not deeper) that were killed before they ended."""
    for path in folder.glob(f"{_PREFIX}*"):
        try:
            if time.time() - path.lstat().st_mtime > _OLD_S:
                path.unlink()
        except OSError:
            continue
