"""Seals: what the host hands out signed, so that it knows its own when it comes back."""

import base64
import hashlib
import hmac
import secrets
from pathlib import Path
from typing import Any

import msgspec

from needle.store.keys import made_key

__all__ = ["WORK_BITS", "Seals", "proof_holds"]

# Some 65,000 hashes: about a quarter of a second for a phone.
WORK_BITS = 16


class _Named(msgspec.Struct):
    """As much of `site.json` as tells which site it is."""

    site: dict[str, Any]


class Seals:
    """Signs with a secret of the project's own (HMAC-SHA-256, RFC 2104)."""

    def __init__(self, project: Path) -> None:
        self._secret = _secret(project)

    def seal(self, purpose: str, until_ms: int, *about: str) -> str:
        """Return a seal that says something about something, good until a moment."""
        digest = hmac.new(self._secret, "\0".join((purpose, str(until_ms), *about)).encode(),
                          hashlib.sha256).digest()
        return f"{until_ms:x}." + base64.urlsafe_b64encode(digest[:18]).decode()

    def moment(self, seal: str, purpose: str, *about: str) -> int | None:
        """Return the moment that a seal holds, or `None` if it was not made here for this."""
        try:
            until_ms = int(seal.partition(".")[0][:14], 16)
        except ValueError:
            return None
        good = self.seal(purpose, until_ms, *about)
        return until_ms if hmac.compare_digest(good.encode(), seal.encode()) else None

    def holds(self, seal: str, now_ms: int, purpose: str, *about: str) -> bool:
        """Return whether a seal was made here for this and is still good."""
        moment = self.moment(seal, purpose, *about)
        return moment is not None and now_ms <= moment


def proof_holds(work: str, proof: str) -> bool:
    """Return whether a number proves the work that was asked for."""
    if not proof.isdecimal() or len(proof) > 12:
        return False
    digest = hashlib.sha256(f"{work}:{proof}".encode()).digest()
    return int.from_bytes(digest[:4]) >> (32 - WORK_BITS) == 0


def _secret(project: Path) -> bytes:
    """Return the secret of a project, made on first use; it is kept with this user's keys."""
    return bytes.fromhex(made_key(f"seals-{_site_id(project)}",
                                  lambda kept: kept or secrets.token_hex(32)))


def _site_id(project: Path) -> str:
    """Return the id of the site, which stays when the project is moved."""
    try:
        return msgspec.json.decode((project / "site.json").read_bytes(), type=_Named).site["id"]
    except (OSError, msgspec.DecodeError, KeyError):
        return hashlib.sha256(str(project.resolve()).encode()).hexdigest()[:16]
