"""Sending a release to a place: what pages load first, pages last, then one switch.

Killed anywhere, the next try goes on: what is there and right is not sent again.
"""

import hashlib
from collections.abc import Callable, Mapping, Set
from concurrent.futures import FIRST_COMPLETED, Future, ThreadPoolExecutor, wait
from dataclasses import dataclass

import msgspec

from needle.publish.planning import difference
from needle.publish.refusing import PublishError
from needle.publish.release import ReleasedFile
from needle.publish.targets.place import (
    JOURNAL,
    MANIFEST,
    BrokenListError,
    Manifest,
    Place,
    PlaceError,
    read_manifest,
)

__all__ = ["Outside", "SentThere", "send_to"]

Progress = Callable[[int, int], bool]


@dataclass(frozen=True)
class Outside:
    """A release as the files that a server which is not ours holds.

    Attributes:
        site: The id of the site.
        release: The id of the release.
        read: Returns the bytes of one of the files.
    """

    site: str
    release: str
    files: Mapping[str, ReleasedFile]
    read: Callable[[str], bytes]


@dataclass(frozen=True)
class SentThere:
    """What sending has done: how many files were put, kept as they were, and removed."""

    put: int
    same: int
    removed: int


def send_to(place: Place, outside: Outside, progress: Progress | None = None,
            replaces: bool = False) -> SentThere:
    """Send a release to a place.

    Args:
        progress: Called with files done and files in all; returns whether to go on.
        replaces: What stands there and is not Needle's may be replaced.

    Raises:
        PlaceError: The place refused something, belongs to another site, or did not keep what it
            said that it took.
        PublishError: The person stopped it, or a file of the release is gone.
    """
    before = read_manifest(place)
    _refuse_others(place, before, outside, replaces)
    before, stray = _as_it_is(place, before)
    loaded, pages = _wanted(place, before, outside)
    _note_intent(place, outside, {**loaded, **pages})
    step = _Steps(progress, len(loaded) + len(pages))
    there = _put(place, outside, loaded, step, loaded.keys() - before.files.keys())
    _put(place, outside, pages, step)
    _verify(place, {**loaded, **pages})
    earlier = {path: file for path, file in before.files.items()
               if _loaded(path) and path not in outside.files and place.switching != "afresh"}
    after = Manifest(outside.site, outside.release, dict(outside.files), earlier)
    gone = [path for path in dict.fromkeys((*difference(before.files, outside.files).remove,
                                            *before.earlier, *stray))
            if path not in earlier and path not in outside.files]
    if place.switching == "whole":
        _remove(place, gone)
    place.switch(msgspec.json.encode(after))
    if place.get(MANIFEST) != msgspec.json.encode(after):
        raise PlaceError("target-lied", target=place.name, file=MANIFEST)
    if place.switching != "whole":
        _remove(place, [*gone, JOURNAL])
    put = len(loaded) + len(pages) - there
    return SentThere(put, len(outside.files) - put, len(gone))


def _as_it_is(place: Place, before: Manifest) -> tuple[Manifest, list[str]]:
    """Return what a place surely holds, and what a try that was cut may have put there.

    Of files that such a try meant to put, nobody knows which of two they are.
    """
    cut = _cut(place)
    if cut is not None and not cut.files:
        return before, []
    sure = {path: file for path, file in before.files.items()
            if _loaded(path) or (cut is not None and path not in cut.files)}
    return msgspec.structs.replace(before, files=sure), list(cut.files) if cut else []


def _cut(place: Place) -> Manifest | None:
    """Return what a try that was cut may have put; `None` where its note is broken, too: then it
    may have been any page."""
    try:
        return read_manifest(place, JOURNAL)
    except BrokenListError:
        return None


def _note_intent(place: Place, outside: Outside, wanted: Mapping[str, ReleasedFile]) -> None:
    """Note what is about to be put, for a try after one that is cut; what one before may have
    put stays noted."""
    if wanted and place.switching in ("files", "folder"):
        cut = _cut(place)
        place.put(JOURNAL, msgspec.json.encode(Manifest(
            outside.site, outside.release, {**(cut.files if cut else {}), **wanted})))


def _wanted(place: Place, before: Manifest, outside: Outside,
            ) -> tuple[dict[str, ReleasedFile], dict[str, ReleasedFile]]:
    """Return what has to be put: what pages load, and the pages."""
    delta = difference({} if place.switching == "afresh" else before.files, outside.files).put
    # Where a whole folder is switched, every page is put beside the live one.
    pages = outside.files if place.switching == "folder" else delta
    return ({path: file for path, file in delta.items() if _loaded(path)},
            {path: file for path, file in pages.items() if not _loaded(path)})


def _remove(place: Place, paths: list[str]) -> None:
    for path in paths:
        place.remove(path)


def _loaded(path: str) -> bool:
    """Whether a file is what pages load, named by what is in it."""
    return path.startswith("assets/")


def _refuse_others(place: Place, before: Manifest, outside: Outside, replaces: bool) -> None:
    if before.site and before.site != outside.site:
        raise PlaceError("target-other-site", target=place.name)
    if not before.site and not replaces and place.get("index.html") is not None:
        raise PlaceError("target-not-empty", target=place.name)


class _Steps:
    """Counts files, and stops when the person says so."""

    def __init__(self, progress: Progress | None, whole: int) -> None:
        self._progress, self._whole, self._done = progress, whole, 0
        self.take(0)

    def take(self, count: int = 1) -> None:
        self._done += count
        if self._progress and not self._progress(self._done, self._whole):
            raise PublishError("target-stopped")


def _put(place: Place, outside: Outside, files: Mapping[str, ReleasedFile], step: _Steps,
         resume: Set[str] = frozenset()) -> int:
    """Put some files and return how many of them were there.

    Args:
        resume: Those of which one of the right size is right, since a try that was cut put it: it
            is named by what is in it, and no place leaves half of one.
    """
    there = 0

    def one(path: str, file: ReleasedFile) -> bool:
        if path in resume and place.size(path) == file.size:
            return True
        data = outside.read(path)
        if hashlib.sha256(data).hexdigest() != file.digest:
            raise PublishError("release-file-damaged", digest=file.digest[:12])
        place.put(path, data)
        return False

    with ThreadPoolExecutor(max(1, place.threads)) as pool:
        waiting: set[Future[bool]] = set()
        try:
            for path, file in files.items():
                waiting.add(pool.submit(one, path, file))
                if len(waiting) >= 2 * place.threads:
                    done, waiting = wait(waiting, return_when=FIRST_COMPLETED)
                    there += _taken(done, step)
            there += _taken(wait(waiting).done, step)
        except BaseException:
            pool.shutdown(cancel_futures=True)
            raise
    return there


def _taken(done: set[Future[bool]], step: _Steps) -> int:
    there = 0
    for future in done:
        there += future.result()
        step.take()
    return there


def _verify(place: Place, wanted: Mapping[str, ReleasedFile]) -> None:
    """Ask the place what it has of all that it said it took."""
    with ThreadPoolExecutor(max(1, place.threads)) as pool:
        sizes = pool.map(place.size, wanted)
        for (path, file), size in zip(wanted.items(), sizes, strict=True):
            if size != file.size:
                raise PlaceError("target-lied", target=place.name, file=path)
