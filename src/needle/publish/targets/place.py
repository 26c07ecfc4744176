"""What every place that holds a published site can do."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Annotated, Literal, Protocol

import msgspec

from needle.core.values.strict import Strict, strict_meta
from needle.publish.refusing import PublishError
from needle.publish.release import ReleasedFile

__all__ = ["JOURNAL", "MANIFEST", "BrokenListError", "Manifest", "Place", "PlaceError",
           "Switching", "Tried", "read_manifest"]

Switching = Literal["files", "folder", "whole", "afresh"]

# Stands in every place, says what it holds, and is switched last.
MANIFEST = ".needle.json"
# Stands there while something is sent: what a try that was cut may have put.
JOURNAL = "assets/.needle-next.json"
_LARGEST = 40_000_000
_PATH = r"(?!/)(?!.*(?:^|/)\.\.?(?:/|$))[A-Za-z0-9._/-]{1,200}"
_Path = Annotated[str, strict_meta("outside-path", _PATH)]


class PlaceError(PublishError):
    """A place that does not do what it should; the message says which, and what to do."""


class BrokenListError(PlaceError):
    """What a place says that it holds cannot be read."""


class Manifest(Strict, frozen=True):
    """What a place holds.

    Attributes:
        site: The id of the site it belongs to.
        release: Which release it is.
        files: Every file, by its path.
        earlier: Files of the release before, which pages fetched a moment ago still ask for.
    """

    site: str = ""
    release: str = ""
    files: Mapping[_Path, ReleasedFile] = {}
    earlier: Mapping[_Path, ReleasedFile] = {}


@dataclass(frozen=True)
class Tried:
    """What trying a place has told.

    Attributes:
        at_once: Whether everything is switched in one step; else each page by itself.
        words: What the person should know.
        pinned: The host key that the server shows; empty where there is none.
    """

    at_once: bool
    words: str
    pinned: str = ""


class Place(Protocol):
    """A place that holds files. Every `put` leaves the old file or the new one, never half.

    Attributes:
        name: What it is called when something is wrong with it.
        switching: What happens when: "files", each file is what visitors get as soon as it is
            put; "folder", pages are put beside the live ones, all of them each time, until
            `switch`; "whole", nothing is what visitors get until `switch`; "afresh", the same,
            and every file is put each time.
        threads: How many may put at a time.
    """

    name: str
    switching: Switching
    threads: int

    def get(self, path: str) -> bytes | None:
        """Return the bytes of a file that visitors can get, or `None` if there is none."""

    def size(self, path: str) -> int | None:
        """Return how many bytes a file has that was put, or `None` if there is none."""

    def put(self, path: str, data: bytes) -> None:
        """Put a file, for the release that comes next."""

    def remove(self, path: str) -> None:
        """Remove a file; none is fine."""

    def switch(self, manifest: bytes) -> None:
        """Make what was put what visitors get; `manifest` is kept with it, last of all."""

    def close(self) -> None:
        """Let go of the place."""


def read_manifest(place: Place, file: str = MANIFEST) -> Manifest:
    """Return what a place says that it holds; an empty one if Needle never was there.

    Args:
        file: Where it says so; `JOURNAL` for what a try that was cut may have put.

    Raises:
        BrokenListError: What it says is no manifest.
        PlaceError: It cannot be asked.
    """
    raw = place.get(file)
    if raw is None:
        return Manifest()
    try:
        if len(raw) > _LARGEST:
            raise msgspec.DecodeError("it is too long")
        return msgspec.json.decode(raw, type=Manifest)
    except (msgspec.DecodeError, UnicodeDecodeError, RecursionError) as error:
        raise BrokenListError("target-manifest-broken", target=place.name, file=file) from error
