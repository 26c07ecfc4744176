"""Seals: what the host hands out signed, so that it knows its own when it comes back."""

import base64
import hashlib
import hmac
import secrets
from pathlib import Path

from cryptography.fernet import Fernet, InvalidToken
from sqlalchemy import Engine

from needle.store.keys import made_key
from needle.store.results.secrets import shared_secret
from needle.store.siteids import site_id_of

__all__ = ["WORK_BITS", "Seals", "proof_holds", "seals_key", "secret_of"]

# Some 65,000 hashes: about a quarter of a second for a phone.
WORK_BITS = 16


class Seals:
    """Signs with a secret of the project's own (HMAC-SHA-256, RFC 2104)."""

    def __init__(self, project: Path, engine: Engine | None = None) -> None:
        """Find the secret, or make it.

        Args:
            engine: The results. Where several hosts share a database, the secret is in it, so
                that each knows the others' seals; else it is kept with this user's keys.
        """
        self._secret = _secret(project) if engine is None else secret_of(project, engine)

    def seal(self, purpose: str, until_ms: int, *about: str) -> str:
        """Return a seal that says something about something, good until a moment."""
        digest = hmac.new(self._secret, "\0".join((purpose, str(until_ms), *about)).encode(),
                          hashlib.sha256).digest()
        return f"{until_ms:x}." + base64.urlsafe_b64encode(digest[:18]).decode()

    def mark(self, purpose: str, *about: str) -> str:
        """Return a short seal without an end, of sixteen signs."""
        digest = hmac.new(self._secret, "\0".join((purpose, *about)).encode(), hashlib.sha256)
        return base64.urlsafe_b64encode(digest.digest()[:12]).decode()

    def close(self, purpose: str, words: str) -> str:
        """Return words as nobody but us can read or make them, with the time of now (Fernet)."""
        return self._closing(purpose).encrypt(words.encode()).decode()

    def open(self, purpose: str, closed: str, longest_s: int) -> str | None:
        """Return the words that were closed for a purpose not longer ago than so many seconds;
        `None` if they were not closed here, or longer ago."""
        try:
            return self._closing(purpose).decrypt(closed.encode(), ttl=longest_s).decode()
        except (InvalidToken, UnicodeError):
            return None

    def _closing(self, purpose: str) -> Fernet:
        key = hmac.new(self._secret, f"closing\0{purpose}".encode(), hashlib.sha256).digest()
        return Fernet(base64.urlsafe_b64encode(key))

    def moment(self, seal: str, purpose: str, *about: str) -> int | None:
        """Return the moment that a seal holds, or `None` if it was not made here for this."""
        try:
            until_ms = int(seal.partition(".")[0][:14], 16)
        except ValueError:
            return None
        good = self.seal(purpose, until_ms, *about)
        told = seal.encode("utf-8", "replace")
        return until_ms if hmac.compare_digest(good.encode(), told) else None

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


def secret_of(project: Path, engine: Engine) -> bytes:
    """Return the secret of a project over a database; it is made on first use."""
    shared = engine.dialect.name != "sqlite"
    return shared_secret(engine) if shared else _secret(project)


def seals_key(project: Path) -> str:
    """Return the name of the key under which a project's own secret is kept."""
    return f"seals-{site_id_of(project)}"


def _secret(project: Path) -> bytes:
    """Return the secret of a project, made on first use; it is kept with this user's keys."""
    return bytes.fromhex(made_key(seals_key(project),
                                  lambda kept: kept or secrets.token_hex(32)))
