"""The practice mailbox: an SMTP server that keeps every message as a file, once by its Message-ID.

It offers STARTTLS with a certificate of its own making and asks for a log-in, as real ones do.
"""

import argparse
import asyncio
import hashlib
import secrets
import signal
import socket
import ssl
import threading
import time
from email import message_from_bytes, policy
from email.message import EmailMessage
from pathlib import Path
from typing import Any

import trustme
from aiosmtpd.controller import Controller
from aiosmtpd.smtp import SMTP, AuthResult, Envelope, LoginPassword, Session

from needle.practice.faults import read_fault
from needle.running.addresses import read_address, write_address
from needle.running.serving import announce, end_with_parent
from needle.store.files import write_atomically

__all__ = ["USER", "messages"]

USER = "desk"
_SLOW_S = 8
_REFUSALS = {"down": "421 The practice mailbox is switched off",
             "quota": "452 The practice mailbox is full",
             "field": "554 This letter is not taken",
             "nonsense": "999 What"}


class _Keeper:
    """Writes each message below the folder, or does what its fault says."""

    def __init__(self, folder: Path) -> None:
        self._folder = folder

    async def handle_DATA(self, server: SMTP, session: Session, envelope: Envelope) -> str:  # noqa: N802
        fault = read_fault(self._folder)
        if fault in _REFUSALS:
            return _REFUSALS[fault]
        if fault == "slow":
            await asyncio.sleep(_SLOW_S)
        data = envelope.content if isinstance(envelope.content, bytes) else b""
        self._keep(data)
        return "451 Kept, but something broke" if fault == "twice" else "250 Kept"

    def _keep(self, data: bytes) -> None:
        message = message_from_bytes(data, policy=policy.default)
        known = str(message["Message-ID"] or secrets.token_hex(8))
        mark = hashlib.sha256(known.encode()).hexdigest()[:20]
        if not any((self._folder / "new").glob(f"*-{mark}.eml")):
            write_atomically(self._folder / "new" / f"{time.time_ns()}-{mark}.eml", data)


def messages(folder: Path) -> list[EmailMessage]:
    """Return the messages in a practice mailbox's folder, newest first."""
    files = sorted((folder / "new").glob("*.eml"), reverse=True)
    return [message_from_bytes(file.read_bytes(), policy=policy.default) for file in files]


def main() -> None:
    """Run the mailbox as a process."""
    parser = argparse.ArgumentParser(description="The practice mailbox.")
    parser.add_argument("folder", type=Path)
    parser.add_argument("--port", type=int, default=0)
    parser.add_argument("--watched", action="store_true")
    asked = parser.parse_args()
    asked.folder.mkdir(parents=True, exist_ok=True)
    port = asked.port or _free_port()
    key = (read_address(asked.folder) or {}).get("key") or secrets.token_urlsafe(16)
    controller = _controller(asked.folder, key, port)
    controller.start()
    write_address(asked.folder, url=f"127.0.0.1:{port}", key=key, user=USER, security="starttls",
                  trust=str(asked.folder / "certificate.pem"))
    done = threading.Event()
    if asked.watched:
        end_with_parent(done.set)
    signal.signal(signal.SIGTERM, lambda *_: done.set())
    announce(port=port)
    while not done.wait(0.1):
        pass
    controller.stop()


def _controller(folder: Path, key: str, port: int) -> Any:
    """Return the server, with a certificate that is made afresh each time."""

    def log_in(server: SMTP, session: Session, envelope: Envelope, mechanism: str, data: Any,
               ) -> AuthResult:
        asked = data if isinstance(data, LoginPassword) else LoginPassword(b"", b"")
        good = (asked.login == USER.encode() and asked.password == key.encode()
                and read_fault(folder) != "key")
        return AuthResult(success=good, handled=False, message=None if good
                          else "535 5.7.8 The log-in is not known")

    authority = trustme.CA()
    authority.cert_pem.write_to_path(str(folder / "certificate.pem"))
    context = ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER)
    authority.issue_cert("127.0.0.1").configure_cert(context)
    return Controller(_Keeper(folder), hostname="127.0.0.1", port=port, tls_context=context,
                      require_starttls=True, auth_required=True, authenticator=log_in)


def _free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


if __name__ == "__main__":
    main()
