"""The practice mailbox: an SMTP server that keeps every message as a file."""

import argparse
import signal
import socket
import threading
import time
from email import message_from_bytes, policy
from email.message import EmailMessage
from pathlib import Path
from typing import Any, cast

from aiosmtpd.controller import Controller
from aiosmtpd.smtp import SMTP, Envelope, Session

from needle.practice.addresses import write_address
from needle.running.serving import announce, end_with_parent
from needle.store.files import write_atomically

__all__ = ["is_down", "messages", "set_down"]


class _Keeper:
    """Writes each message below the folder, or refuses while the fault file is there."""

    def __init__(self, folder: Path) -> None:
        self._folder = folder

    async def handle_DATA(self, server: SMTP, session: Session, envelope: Envelope) -> str:  # noqa: N802
        if is_down(self._folder):
            return "451 The practice mailbox is switched off"
        data = envelope.content if isinstance(envelope.content, bytes) else b""
        write_atomically(self._folder / "new" / f"{time.time_ns()}.eml", data)
        return "250 Kept"


def messages(folder: Path) -> list[EmailMessage]:
    """Return the messages in a practice mailbox's folder, newest first."""
    files = sorted((folder / "new").glob("*.eml"), reverse=True)
    return [cast(EmailMessage, message_from_bytes(file.read_bytes(), policy=policy.default))
            for file in files]


def is_down(folder: Path) -> bool:
    """Return whether the mailbox refuses messages."""
    return (folder / "down").exists()


def set_down(folder: Path, down: bool) -> None:
    """Make the mailbox refuse messages, or take them again."""
    mark = folder / "down"
    if down:
        folder.mkdir(parents=True, exist_ok=True)
        mark.touch()
    else:
        mark.unlink(missing_ok=True)


def main() -> None:
    """Run the mailbox as a process."""
    parser = argparse.ArgumentParser(description="The practice mailbox.")
    parser.add_argument("folder", type=Path)
    parser.add_argument("--port", type=int, default=0)
    parser.add_argument("--watched", action="store_true")
    asked = parser.parse_args()
    asked.folder.mkdir(parents=True, exist_ok=True)
    port = asked.port or _free_port()
    controller: Any = Controller(_Keeper(asked.folder), hostname="127.0.0.1", port=port)
    controller.start()
    write_address(asked.folder, host="127.0.0.1", port=port)
    done = threading.Event()
    if asked.watched:
        end_with_parent(done.set)
    signal.signal(signal.SIGTERM, lambda *_: done.set())
    announce(port=port)
    while not done.wait(1):
        pass
    controller.stop()


def _free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


if __name__ == "__main__":
    main()
