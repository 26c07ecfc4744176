"""The window's side of Needle's own writer, which runs in a process of its own."""

import subprocess
import sys
import threading

import msgspec

from needle.core.draft.copy import Copy, Wish, WriterError
from needle.core.draft.slots import Slots

__all__ = ["DrafterClient"]


class _Answer(msgspec.Struct):
    """What comes back: one of them."""

    slots: Slots | None = None
    copy: Copy | None = None


class DrafterClient:
    """Understands ideas and writes drafts in a process that starts with the first ask.

    Every method blocks until the answer is there, so they belong into a thread; `end` may be
    called from another one meanwhile.
    """

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._process: subprocess.Popen[bytes] | None = None

    def understand(self, words: str) -> Slots:
        """Return what an idea says.

        Raises:
            WriterError: The process ended, or did not start.
        """
        slots = self._ask({"understand": words}).slots
        if slots is None:
            raise WriterError("writer-ended")
        return slots

    def write(self, wish: Wish) -> Copy:
        """Return the words of a draft.

        Raises:
            WriterError: The process ended, or did not start.
        """
        copy = self._ask({"write": wish}).copy
        if copy is None:
            raise WriterError("writer-ended")
        return copy

    def end(self) -> None:
        """Let the process go; whoever waits for it gets a `WriterError`."""
        process, self._process = self._process, None
        if process is None:
            return
        process.kill()
        process.wait()

    def _ask(self, ask: object) -> _Answer:
        with self._lock:
            try:
                process = self._process or self._start()
                assert process.stdin and process.stdout
                process.stdin.write(msgspec.json.encode(ask) + b"\n")
                process.stdin.flush()
                return msgspec.json.decode(process.stdout.readline(), type=_Answer)
            except (OSError, ValueError) as error:
                self.end()
                raise WriterError("writer-ended") from error

    def _start(self) -> "subprocess.Popen[bytes]":
        process = subprocess.Popen(
            [sys.executable, "-m", "needle.running.drafterprocess"], stdin=subprocess.PIPE,
            stdout=subprocess.PIPE, stderr=subprocess.DEVNULL)
        self._process = process
        assert process.stdout
        process.stdout.readline()  # It is ready once it has said so.
        return process
