"""Opening the place that a target names, trying it, and sending to it.

Passwords stand with the user's keys, under a name made of where they are for: a project of somebody
else that names the same target gets nothing of it.
"""

import contextlib
import hashlib
import threading
from collections.abc import Iterator
from pathlib import Path

import msgspec
from filelock import FileLock, Timeout

from needle.core.site.site import Site
from needle.core.values.strict import Strict
from needle.core.values.targets import Target
from needle.publish.outside import outside_files
from needle.publish.refusing import PublishError
from needle.publish.release import Release
from needle.publish.releases import Releases
from needle.publish.targets.folder import FolderPlace, LinkedFolderPlace, linked
from needle.publish.targets.git import GitPlace
from needle.publish.targets.place import Place, PlaceError, Tried, read_manifest
from needle.publish.targets.sending import Progress, SentThere, send_to
from needle.publish.targets.webdav import WebdavPlace
from needle.publish.targets.zipped import ZipPlace
from needle.store.files import write_atomically
from needle.store.keys import read_key, write_key
from needle.store.paths import read_below

__all__ = ["Note", "forget", "gap_words", "known_password", "may_replace", "notes", "open_place",
           "send_release", "set_up", "tell", "try_target"]

_TRIAL = "needle-trial.txt"
_REPLACED = 30


class _Told(Strict, frozen=True):
    """What this machine knows of a target: that the person set it up here, and the password."""

    password: str = ""
    replaces: bool = False


class Note(Strict, frozen=True):
    """What was last sent to a target from this project.

    Attributes:
        at: ISO time, UTC.
        fault: Why the last try did not end well; empty if it did.
    """

    release: str = ""
    at: str = ""
    fault: str = ""


def _key_name(site: str, target: Target) -> str:
    where = msgspec.json.encode((site, target.kind, target.place, target.folder, target.bucket,
                                 target.user))
    return f"target-{hashlib.sha256(where).hexdigest()[:32]}"


def tell(site: str, target: Target, password: str = "", replaces: bool = False) -> None:
    """Remember on this machine that the person set a target up, and its password.

    Args:
        replaces: What stands there and is not Needle's may be replaced.

    Raises:
        OSError: The disk refused it.
    """
    write_key(_key_name(site, target), msgspec.json.encode(_Told(password, replaces)).decode())


def forget(site: str, target: Target) -> None:
    """Forget the password of a target.

    Raises:
        OSError: The disk refused it.
    """
    write_key(_key_name(site, target), "")


def known_password(site: str, target: Target) -> str:
    """Return the password of a target as it is known on this machine, or an empty text."""
    told = _told(site, target)
    return told.password if told else ""


def may_replace(site: str, target: Target) -> bool:
    """Whether what stands at a target and is not Needle's may be replaced."""
    told = _told(site, target)
    return told is not None and told.replaces


def set_up(site: str, target: Target) -> bool:
    """Whether the person set a target up on this machine."""
    return _told(site, target) is not None


def _told(site: str, target: Target) -> _Told | None:
    try:
        return msgspec.json.decode(read_key(_key_name(site, target)) or "null",
                                   type=_Told | None)
    except msgspec.DecodeError:
        return None


@contextlib.contextmanager
def open_place(target: Target, password: str = "") -> Iterator[Place]:
    """Give the place that a target names.

    Raises:
        PlaceError: It cannot be reached, or refuses.
    """
    place = _opened(target, password)
    try:
        yield place
    finally:
        place.close()


def _opened(target: Target, password: str) -> Place:
    path = Path(target.place).expanduser()
    if target.kind in ("folder", "zip") and not path.is_absolute():
        raise PlaceError("target-address", target=target.name, address=target.place)
    match target.kind:
        case "folder":
            whole = not target.files_alone and linked(path)
            return (LinkedFolderPlace if whole else FolderPlace)(path, target.name)
        case "zip":
            return ZipPlace(path, target.name)
        case "sftp":
            from needle.publish.targets.sftp import Server, SftpPlace  # Heavy, and seldom needed.

            return SftpPlace(Server(target.place, target.folder, target.user, password,
                                    target.key_file, target.pinned, target.files_alone),
                             target.name)
        case "webdav":
            return WebdavPlace(target.place, target.user, password, target.name)
        case "bucket":
            from needle.publish.targets.bucket import BucketPlace  # Heavy, and seldom needed.

            return BucketPlace(target.place, target.bucket, target.folder,
                               (target.user, password), target.region, target.name)
    return GitPlace(target.place, target.branch, target.name)


_HOW = {"files": "Pages are replaced one after another: for a moment some are "
                 "old and some are new. This place cannot switch them together.",
        "folder": "Everything is switched in one step.", "whole": "Everything is switched in one "
        "step.", "afresh": "The file is put in its place in one step."}


def try_target(site: str, target: Target, password: str) -> Tried:
    """Put a small file, read it, take it away, and say how the place switches.

    Raises:
        PlaceError: The place cannot be reached, refuses, belongs to another site, or does not
            keep what it says that it took.
    """
    with open_place(target, password) as place:
        held = read_manifest(place)
        if held.site and held.site != site:
            raise PlaceError("target-other-site", target=target.name)
        if place.switching not in ("whole", "afresh"):
            place.put(_TRIAL, b"Needle was here.\n")
            if place.size(_TRIAL) != 17:
                raise PlaceError("target-lied", target=target.name, file=_TRIAL)
            place.remove(_TRIAL)
        shown = str(getattr(place, "fingerprint", ""))
        words = _HOW[place.switching]
        if isinstance(place, WebdavPlace):
            with open_place(target, password) as visitor:
                words += gap_words(place, visitor)
            place.remove(_TRIAL)
        if not held.site and place.get("index.html") is not None:
            words += " A site stands there that Needle did not put there."
        return Tried(place.switching != "files", words, shown)


def gap_words(place: Place, visitor: Place) -> str:
    """Replace a file again and again while it is read; some servers take the old one away first.

    RFC 4918, 9.9.3, lets a server delete what is moved over before it moves.
    """
    place.put(_TRIAL, b"0")
    missing, done = 0, threading.Event()

    def read() -> None:
        nonlocal missing
        while not done.is_set():
            try:
                missing += visitor.get(_TRIAL) is None
            except PlaceError:  # Some servers answer with a fault in that moment.
                missing += 1

    reader = threading.Thread(target=read, daemon=True)
    reader.start()
    try:
        for number in range(_REPLACED):
            place.put(_TRIAL, str(number).encode())
    finally:
        done.set()
        reader.join()
    return (" This server takes a page away before it puts the new one there: a visitor in that "
            "moment is told that it is not there.") if missing else (
        f" No page was missing while it was replaced {_REPLACED} times.")


def send_release(site: Site, target: Target, release: Release, store: Releases,
                 progress: Progress | None = None, at: str = "") -> SentThere:
    """Send a release to a target, and note how it went.

    Args:
        at: The time that is noted, ISO, UTC.

    Raises:
        PublishError: It was never set up on this machine, somebody sends there just now, or the
            place refused something.
    """
    told = _told(site.id, target)
    if told is None:
        raise PlaceError("target-not-told", target=target.name)
    try:
        store.folder.mkdir(parents=True, exist_ok=True)
        with FileLock(store.folder / f".target-{target.id}.lock", timeout=0), \
                open_place(target, told.password) as place:
            done = send_to(place, outside_files(site, release, store, target.hosted), progress,
                           told.replaces)
    except Timeout as error:
        raise PublishError("publish-busy") from error
    except PublishError as error:
        before = notes(store).get(target.id, Note())
        _note(store, target, Note(before.release, before.at, str(error)))
        raise
    except OSError as error:
        raise PublishError("cannot-write", path=store.folder, why=error.strerror) from error
    _note(store, target, Note(release.id, at or release.at))
    return done


def notes(store: Releases) -> dict[str, Note]:
    """Return what was last sent to each target, by its id."""
    try:
        return msgspec.json.decode(read_below(store.folder, "targets.json"),
                                   type=dict[str, Note])
    except (OSError, msgspec.DecodeError, UnicodeDecodeError):
        return {}


def _note(store: Releases, target: Target, note: Note) -> None:
    with contextlib.suppress(OSError):  # The place holds the truth; this is for the list.
        write_atomically(store.folder / "targets.json",
                         msgspec.json.encode({**notes(store), target.id: note}))

