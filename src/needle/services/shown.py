"""Which certificate a machine shows for a name: asked as a browser asks (RFC 8446, RFC 6066 3)."""

import socket
import ssl
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta

from needle.core.domains.found import Shown, ShownState
from needle.store.certificates import Certified, read_certificate

__all__ = ["Door", "shown_for"]

_WAIT_S = 5.0
_ENDING = timedelta(days=14)
# Why OpenSSL does not take a certificate (x509_vfy.h).
_ENDED, _NOT_YET, _OTHER_NAME = 10, 9, 62


@dataclass(frozen=True, slots=True)
class Door:
    """Where https is answered.

    Attributes:
        roots: Certificates (PEM) that are trusted besides those of this machine.
    """

    address: str
    port: int = 443
    roots: str = ""


def shown_for(names: Iterable[str], door: Door) -> tuple[Shown, ...]:
    """Return what is shown for each name."""
    return tuple(_one(name, door) for name in names)


def _one(name: str, door: Door) -> Shown:
    context = ssl.create_default_context()
    if door.roots:
        context.load_verify_locations(cadata=door.roots)
    try:
        facts = _asked(name, door, context)
    except ssl.SSLCertVerificationError as error:
        states: dict[int, ShownState] = {_ENDED: "ended", _NOT_YET: "ended", _OTHER_NAME: "other"}
        return _seen(name, door, states.get(error.verify_code, "untrusted"))
    except ssl.SSLError:
        return Shown(name, "none")
    except (OSError, UnicodeError):
        return Shown(name, "closed")
    if facts is None:
        return Shown(name, "untrusted")
    left = datetime.fromisoformat(facts.until) - datetime.now(UTC)
    return Shown(name, "ending" if left < _ENDING else "ok", facts.issuer, facts.until)


def _seen(name: str, door: Door, state: ShownState) -> Shown:
    """Return what a certificate says that cannot be taken."""
    anything = ssl.create_default_context()
    anything.check_hostname = False
    anything.verify_mode = ssl.CERT_NONE
    try:
        facts = _asked(name, door, anything)
    except OSError:  # As are the library's own faults.
        facts = None
    return Shown(name, state, facts.issuer, facts.until) if facts else Shown(name, state)


def _asked(name: str, door: Door, context: ssl.SSLContext) -> Certified | None:
    with socket.create_connection((door.address, door.port), _WAIT_S) as plain, (
            context.wrap_socket(plain, server_hostname=name)) as safe:
        raw = safe.getpeercert(binary_form=True)
    return read_certificate(ssl.DER_cert_to_PEM_cert(raw).encode()) if raw else None
