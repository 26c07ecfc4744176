"""The certificate of a site's own domain, its key, and how the getting of it fares.

All of it stands in a folder of the project that its owner alone may read: hosts that share the
folder share the certificate, and answer the authority for each other.
"""

import datetime
import re
from pathlib import Path
from typing import Annotated, TypeVar

import msgspec
from cryptography import x509
from cryptography.hazmat.primitives import serialization

from needle.core.values.strict import Domain, Strict, strict_meta
from needle.store.files import write_atomically

__all__ = ["Certificates", "Certified", "Directory", "State", "WantedCertificate",
           "read_certificate"]

# Where an authority is asked: over https, or on this machine for practice.
Directory = Annotated[str, strict_meta(
    "directory", r"https://[\w.:-]{1,253}/[\w./~-]{0,200}"
                 r"|http://127\.0\.0\.1:[0-9]{1,5}/[\w./~-]{0,200}")]
_T = TypeVar("_T")
_TOKEN = re.compile(r"[\w-]{16,128}")
_LONGEST = 200
_PRIVATE = 0o600


class WantedCertificate(Strict, frozen=True):
    """Which authority shall certify the domain, and when somebody asked for it last.

    Attributes:
        asked_ms: Unix time; asking anew ends a pause after a fault.
    """

    directory: Directory
    asked_ms: int = 0


class Certified(Strict, frozen=True):
    """What a certificate says.

    Attributes:
        names: Every name that it holds for; one with "*." holds for those right below.
        since, until: ISO times, UTC.
    """

    names: tuple[str, ...]
    since: str
    until: str
    issuer: str = ""

    def holds_for(self, name: str, now: str) -> bool:
        """Whether it holds for a name at an ISO time, UTC."""
        above = f"*.{name.partition('.')[2]}"
        return self.since <= now < self.until and (name in self.names or above in self.names)


class State(Strict, frozen=True):
    """How the getting fares.

    Attributes:
        certified: The certificate that there is.
        fault: Why the last try failed, in words; empty if it did not.
        left_out: Names that the authority could not reach, while others are certified.
        tries: How many failed one after the other.
        tried_ms: When the last try began, in Unix time.
        next_ms: Not before this Unix time is it tried again by itself.
        worked_ms: When a visitor first came over https.
    """

    certified: Certified | None = None
    fault: str = ""
    left_out: tuple[Domain, ...] = ()
    tries: int = 0
    tried_ms: int = 0
    next_ms: int = 0
    worked_ms: int = 0


def read_certificate(pem: bytes) -> Certified | None:
    """Return what the first certificate in a PEM file says; `None` if there is none, or if the
    private key in the file is not its own."""
    try:
        found = x509.load_pem_x509_certificates(pem)[0]
        if b"PRIVATE KEY" in pem:
            key = serialization.load_pem_private_key(pem, None)
            if key.public_key() != found.public_key():
                return None
        names = found.extensions.get_extension_for_class(
            x509.SubjectAlternativeName).value.get_values_for_type(x509.DNSName)
    except (ValueError, TypeError, IndexError, x509.ExtensionNotFound):
        return None
    issuer = found.issuer.get_attributes_for_oid(x509.NameOID.ORGANIZATION_NAME) or (
        found.issuer.get_attributes_for_oid(x509.NameOID.COMMON_NAME))
    return Certified(tuple(str(name).lower()[:_LONGEST] for name in names),
                     _iso(found.not_valid_before_utc), _iso(found.not_valid_after_utc),
                     str(issuer[0].value)[:_LONGEST] if issuer else "")


def _iso(at: datetime.datetime) -> str:
    return at.strftime("%Y-%m-%dT%H:%M:%SZ")


class Certificates:
    """The certificate of one project.

    Attributes:
        folder: Where all of it stands.
        file: Key and chain, as PEM; there once one came.
    """

    def __init__(self, project: Path) -> None:
        self.folder = project / "live" / "certificates"
        self.file = self.folder / "certificate.pem"
        self._challenges = self.folder / "challenges"

    def wanted(self) -> WantedCertificate | None:
        """Return what was asked for, or `None`."""
        return self._read("wanted.json", WantedCertificate)

    def want(self, directory: str, now_ms: int) -> None:
        """Ask for a certificate, or ask again.

        Raises:
            StrictError: The directory's address is none.
            OSError: It could not be written.
        """
        self._write("wanted.json", WantedCertificate(directory, now_ms))

    def state(self) -> State:
        """Return how it fares; what cannot be read is as if nothing had been tried."""
        return self._read("state.json", State) or State()

    def keep_state(self, state: State) -> None:
        """Write down how it fares.

        Raises:
            OSError: It could not be written.
        """
        self._write("state.json", state)

    def keep(self, key: bytes, chain: bytes) -> None:
        """Keep a certificate and its key in the place of those before.

        Raises:
            OSError: It could not be written.
        """
        self._private()
        write_atomically(self.file, key + chain, _PRIVATE)

    def certified(self) -> Certified | None:
        """Return what the certificate that is kept says; `None` if there is none that fits."""
        try:
            return read_certificate(self.file.read_bytes())
        except OSError:
            return None

    def account(self) -> bytes:
        """Return the key of the account, or nothing if there is none."""
        try:
            return (self.folder / "account.pem").read_bytes()
        except OSError:
            return b""

    def keep_account(self, key: bytes) -> None:
        """Keep the key of the account.

        Raises:
            OSError: It could not be written.
        """
        self._private()
        write_atomically(self.folder / "account.pem", key, _PRIVATE)

    def offer(self, token: str, words: str) -> None:
        """Keep what the authority will ask for.

        Raises:
            OSError: It could not be written.
            ValueError: The token is none.
        """
        if _TOKEN.fullmatch(token) is None:
            raise ValueError(token)
        write_atomically(self._challenges / token, words.encode())

    def offered(self, token: str) -> str:
        """Return what is answered for a token; nothing if it was not offered."""
        if _TOKEN.fullmatch(token) is None:
            return ""
        try:
            return (self._challenges / token).read_text("utf-8")
        except (OSError, UnicodeDecodeError):
            return ""

    def withdraw(self) -> None:
        """Answer the authority no more."""
        for path in self._challenges.glob("*"):
            path.unlink(missing_ok=True)

    def _private(self) -> None:
        self.folder.mkdir(parents=True, exist_ok=True)
        self.folder.chmod(0o700)

    def _write(self, name: str, value: Strict) -> None:
        self._private()
        write_atomically(self.folder / name, msgspec.json.encode(value), _PRIVATE)

    def _read(self, name: str, kind: type[_T]) -> _T | None:
        try:
            return msgspec.json.decode((self.folder / name).read_bytes(), type=kind)
        except (OSError, ValueError, msgspec.DecodeError):
            return None
