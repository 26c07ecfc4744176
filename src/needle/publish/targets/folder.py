"""A folder on this machine: pages one by one, or, where it is a link of ours, all at once."""

import os
import secrets
import shutil
from pathlib import Path

from needle.publish.targets.place import MANIFEST, PlaceError, Switching

__all__ = ["FolderPlace", "LinkedFolderPlace", "linked"]


def linked(path: Path) -> bool:
    """Whether a folder is switched as a whole: it is a link of ours, or not there yet."""
    if not os.path.lexists(path):
        return True
    return path.is_symlink() and _beside(path) in path.resolve().parents


def _beside(path: Path) -> Path:
    """Where the releases stand of a folder that is a link."""
    return path.parent.resolve() / f".{path.name}.releases"


class FolderPlace:
    """A plain folder. Each page is replaced by itself."""

    switching: Switching = "files"
    threads = 1

    def __init__(self, path: Path, name: str) -> None:
        self.name = name
        self._path = path

    def _at(self, path: str) -> Path:
        return self._path / path

    def get(self, path: str) -> bytes | None:
        """As every place."""
        try:
            return (self._path / path).read_bytes()
        except (FileNotFoundError, NotADirectoryError):
            return None
        except OSError as error:
            raise _refused(self.name, error) from error

    def size(self, path: str) -> int | None:
        """As every place."""
        try:
            return self._at(path).stat().st_size
        except OSError:
            return None

    def put(self, path: str, data: bytes) -> None:
        """As every place."""
        try:
            _write(self._at(path), data)
        except OSError as error:
            raise _refused(self.name, error) from error

    def remove(self, path: str) -> None:
        """As every place; a folder that is empty then goes, too."""
        at = self._at(path)
        try:
            at.unlink(missing_ok=True)
            if at.parent != self._path and not any(at.parent.iterdir()):
                at.parent.rmdir()
        except OSError as error:
            raise _refused(self.name, error) from error

    def switch(self, manifest: bytes) -> None:
        """As every place."""
        self.put(MANIFEST, manifest)

    def close(self) -> None:
        """As every place."""


class LinkedFolderPlace(FolderPlace):
    """A folder that is a link to a release beside it: one rename switches everything.

    What pages load stands once, in a folder that every release has a link to.
    """

    switching: Switching = "folder"

    def __init__(self, path: Path, name: str) -> None:
        super().__init__(path, name)
        self._beside = _beside(path)
        self._assets = self._beside / "assets"
        self._next = self._beside / f"r-{secrets.token_hex(6)}"

    def _at(self, path: str) -> Path:
        head, _, rest = path.partition("/")
        return self._assets / rest if head == "assets" else self._next / path

    def remove(self, path: str) -> None:
        """As every place; pages of before went with their release."""
        if path.startswith("assets/"):
            try:
                self._at(path).unlink(missing_ok=True)
            except OSError as error:
                raise _refused(self.name, error) from error

    def switch(self, manifest: bytes) -> None:
        """As every place."""
        self.put(MANIFEST, manifest)
        try:
            self._assets.mkdir(parents=True, exist_ok=True)
            (self._next / "assets").symlink_to("../assets", target_is_directory=True)
            before = self._path.resolve() if self._path.is_symlink() else None
            link = self._path.with_name(f".{self._path.name}.{secrets.token_hex(6)}")
            link.symlink_to(self._next.relative_to(self._path.parent.resolve()))
            os.replace(link, self._path)
            self._tidy(before)
        except OSError as error:
            raise _refused(self.name, error) from error

    def _tidy(self, before: Path | None) -> None:
        """Remove releases that were never switched to, and those before the last one."""
        for path in self._beside.glob("r-*"):
            if path not in (self._next, before):
                shutil.rmtree(path, ignore_errors=True)


def _write(path: Path, data: bytes) -> None:
    """Write a file whole or not at all; what a killed try left is written over by the next."""
    path.parent.mkdir(parents=True, exist_ok=True)
    part = path.with_name(f".new-{path.name}")
    with open(part, "wb") as file:
        file.write(data)
        file.flush()
        os.fsync(file.fileno())
    part.replace(path)


def _refused(name: str, error: OSError) -> PlaceError:
    return PlaceError("target-refused", target=name, why=error.strerror or str(error))
