"""A zip file: written beside, then put in its place as a whole."""

import os
import secrets
import zipfile
from pathlib import Path

from needle.publish.targets.place import MANIFEST, PlaceError, Switching

__all__ = ["ZipPlace"]

# A zip knows no earlier day; the same release gives the same file.
_DAY = (1980, 1, 1, 0, 0, 0)


class ZipPlace:
    """A file that holds the whole site."""

    switching: Switching = "afresh"
    threads = 1

    def __init__(self, path: Path, name: str) -> None:
        self.name = name
        self._path = path
        self._part = path.with_name(f".new-{secrets.token_hex(6)}-{path.name}")
        self._sizes: dict[str, int] = {}
        self._zip: zipfile.ZipFile | None = None

    def get(self, path: str) -> bytes | None:
        """As every place."""
        try:
            with zipfile.ZipFile(self._path) as held:
                return held.read(path)
        except (FileNotFoundError, KeyError):
            return None
        except (OSError, zipfile.BadZipFile, NotImplementedError, RuntimeError) as error:
            raise PlaceError("target-refused", target=self.name, why=str(error)[:200]) from error

    def size(self, path: str) -> int | None:
        """As every place."""
        return self._sizes.get(path)

    def put(self, path: str, data: bytes) -> None:
        """As every place."""
        try:
            if self._zip is None:
                self._part.parent.mkdir(parents=True, exist_ok=True)
                self._zip = zipfile.ZipFile(self._part, "w", zipfile.ZIP_DEFLATED)
            facts = zipfile.ZipInfo(path, _DAY)
            facts.external_attr = 0o644 << 16
            facts.compress_type = zipfile.ZIP_DEFLATED
            self._zip.writestr(facts, data)
        except OSError as error:
            raise self._refused(error) from error
        self._sizes[path] = len(data)

    def remove(self, path: str) -> None:
        """As every place; the new file never held it."""

    def switch(self, manifest: bytes) -> None:
        """As every place."""
        self.put(MANIFEST, manifest)
        assert self._zip is not None
        try:
            self._zip.close()
            os.replace(self._part, self._path)
        except OSError as error:
            raise self._refused(error) from error

    def close(self) -> None:
        """As every place."""
        if self._zip is not None:
            self._zip.close()
        self._part.unlink(missing_ok=True)

    def _refused(self, error: OSError) -> PlaceError:
        return PlaceError("target-refused", target=self.name, why=error.strerror or str(error))
