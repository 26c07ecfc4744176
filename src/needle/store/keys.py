"""Keys of outside services: never in a project.

They stand in the system's keyring where there is one, else each in a private file of its own, so
that one that is cut short takes no other with it.
"""

import contextlib
import json
import logging
import os
import re
from collections.abc import Callable
from pathlib import Path

import keyring
import msgspec
from filelock import Timeout
from keyring.errors import KeyringError

from needle.store.files import write_atomically
from needle.store.kept import config_folder, locked, put_aside

__all__ = ["key_file", "made_key", "read_key", "write_key"]

_log = logging.getLogger(__name__)
_APP = "needle"
_NAME = re.compile(r"[a-z0-9][a-z0-9._-]{0,79}")
_LONGEST = 20_000
# Keyrings that keep nothing, or that would ask for a password where nobody can answer.
_HOLLOW = ("keyring.backends.fail", "keyring.backends.null", "keyrings.alt")


class _Held(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """What a key's file holds; `long` tells one that was cut short and patched up."""

    key: str
    long: int


def _keyring_there() -> bool:
    # A folder that was chosen by hand holds the keys too.
    if os.environ.get("NEEDLE_CONFIG"):
        return False
    return not type(keyring.get_keyring()).__module__.startswith(_HOLLOW)


def key_file(name: str) -> Path:
    """Return the file of a key, readable by its owner only.

    Raises:
        ValueError: The name is none that a file may have.
    """
    if _NAME.fullmatch(name) is None:
        raise ValueError(f"{name!r} is no name of a key")
    return config_folder() / "keys" / f"{name}.json"


def read_key(name: str) -> str:
    """Return a key, or an empty text."""
    path = key_file(name)
    if _keyring_there():
        with contextlib.suppress(KeyringError):
            if key := keyring.get_password(_APP, name):
                return key
    return _read(path) or _from_earlier(name)


def write_key(name: str, key: str) -> None:
    """Keep a key; an empty one is forgotten.

    Raises:
        OSError: The disk refused it.
    """
    made_key(name, lambda _: key)


def made_key(name: str, make: Callable[[str], str]) -> str:
    """Keep what `make` makes of the key there is, one process after the other, and return it.

    Raises:
        OSError: The disk refused it, or another process does not let go.
    """
    path = key_file(name)
    try:
        with locked(path):
            before = read_key(name)
            key = make(before)
            if key != before:
                _keep(path, name, key)
            return key
    except Timeout as error:
        raise OSError("the keys are in use by another program") from error


def _keep(path: Path, name: str, key: str) -> None:
    if _keyring_there():
        try:
            keyring.set_password(_APP, name, key)
        except KeyringError as error:
            _log.warning("the keyring refused a key (%s); it is in a file", type(error).__name__)
        else:
            path.unlink(missing_ok=True)
            return
    path.parent.chmod(0o700)
    write_atomically(path, msgspec.json.encode(_Held(key, len(key))), 0o600)


def _read(path: Path) -> str:
    try:
        raw = path.read_bytes()
    except OSError:
        return ""
    try:
        held = msgspec.json.decode(raw[:_LONGEST], type=_Held)
        if held.long != len(held.key):
            raise msgspec.ValidationError("cut short")
    except (msgspec.DecodeError, UnicodeDecodeError):
        with contextlib.suppress(OSError):
            put_aside(path)
        return ""
    return held.key


def _from_earlier(name: str) -> str:
    """Return a key that an earlier Needle kept with all others in one file."""
    try:
        held = json.loads((config_folder() / "keys.json").read_bytes())
    except (OSError, ValueError, RecursionError):
        return ""
    key = held.get(name, "") if isinstance(held, dict) else ""
    return key if isinstance(key, str) else ""
