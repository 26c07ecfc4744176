"""Files below a project, reached without following links.

A project may come from a stranger: a link in it could name any file of this user, and a pipe would
keep a reader waiting for ever.
"""

import errno
import os
import stat
from collections.abc import Iterator
from pathlib import Path

__all__ = ["OutsideError", "checked_file", "read_below", "strange_parts"]

_LARGEST = 400_000_000


class OutsideError(OSError):
    """A path that leaves its folder, or names something that is no plain file."""

    def __init__(self, path: Path | str) -> None:
        super().__init__(errno.EPERM, "it is a link or no plain file", str(path))


def _opened(root: Path, relative: str) -> int:
    parts = relative.split("/")
    if not relative or "\0" in relative or any(part in ("", ".", "..") for part in parts):
        raise OutsideError(relative)
    folder = os.open(root, os.O_RDONLY | os.O_DIRECTORY)
    try:
        for part in parts[:-1]:
            deeper = os.open(part, os.O_RDONLY | os.O_DIRECTORY | os.O_NOFOLLOW, dir_fd=folder)
            os.close(folder)
            folder = deeper
        # Without O_NONBLOCK, opening a pipe would wait for its writer.
        return os.open(parts[-1], os.O_RDONLY | os.O_NOFOLLOW | os.O_NONBLOCK, dir_fd=folder)
    except OSError as error:
        if error.errno in (errno.ELOOP, errno.ENOTDIR, errno.ENXIO):
            raise OutsideError(relative) from error
        raise
    finally:
        os.close(folder)


def _plain(handle: int, relative: str) -> os.stat_result:
    facts = os.fstat(handle)
    if not stat.S_ISREG(facts.st_mode):
        raise OutsideError(relative)
    return facts


def read_below(root: Path, relative: str, largest: int = _LARGEST) -> bytes:
    """Return the bytes of a plain file below `root`.

    Raises:
        OSError: It is missing, cannot be read, weighs more than `largest`, or is reached only by
            a link (`OutsideError`).
    """
    handle = _opened(root, relative)
    with os.fdopen(handle, "rb") as file:
        if _plain(handle, relative).st_size > largest:
            raise OSError(errno.EFBIG, os.strerror(errno.EFBIG), relative)
        return file.read()


def checked_file(root: Path, relative: str) -> Path:
    """Return the path of a plain file below `root`, for what reads by path.

    Raises:
        OSError: It is missing, or is reached only by a link (`OutsideError`).
    """
    handle = _opened(root, relative)
    try:
        _plain(handle, relative)
    finally:
        os.close(handle)
    return root / relative


def strange_parts(folder: Path) -> Iterator[Path]:
    """Yield everything below a folder that is neither a plain file nor a folder: a link, a pipe,
    a device."""
    waiting = [folder]
    while waiting:
        with os.scandir(waiting.pop()) as found:
            for entry in found:
                if entry.is_dir(follow_symlinks=False):
                    waiting.append(Path(entry.path))
                elif not entry.is_file(follow_symlinks=False):
                    yield Path(entry.path)
