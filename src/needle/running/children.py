"""The parent's side: starting a service and ending it."""

import json
import os
import queue
import subprocess
import sys
import threading
import time
from collections.abc import Sequence
from typing import Any

from needle.running.refusing import RunningError

__all__ = ["READY", "Child", "ChildError"]

# A service that serves says so by a line that begins with this.
READY = "needle-ready"


class ChildError(RunningError):
    """A service that did not start; the message says why."""


class Child:
    """A running service. It ends when `stop` is called or when this process is gone.

    Attributes:
        facts: What it announced, its port among them.
    """

    def __init__(self, module: str, arguments: Sequence[str], timeout_s: float = 120.0) -> None:
        """Start `python -m module arguments` and wait until it is ready.

        Raises:
            ChildError: It ended or kept silent.
        """
        self._process = subprocess.Popen(
            [sys.executable, "-m", module, *arguments, "--watched"],
            stdin=subprocess.PIPE, stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True,
            env=dict(os.environ))
        self._lines: queue.Queue[str] = queue.Queue()
        self._noise: list[str] = []
        threading.Thread(target=self._read_out, daemon=True).start()
        self._reader = threading.Thread(target=self._read_noise, daemon=True)
        self._reader.start()
        self.facts = self._wait_ready(timeout_s)

    def _read_out(self) -> None:
        assert self._process.stdout
        for line in self._process.stdout:
            self._lines.put(line)
        self._lines.put("")

    def _read_noise(self) -> None:
        assert self._process.stderr
        for line in self._process.stderr:
            self._noise.append(line)
            del self._noise[:-40]

    def _wait_ready(self, timeout_s: float) -> dict[str, Any]:
        end = time.monotonic() + timeout_s
        while True:
            try:
                line = self._lines.get(timeout=max(0.01, end - time.monotonic()))
            except queue.Empty:
                self.stop()
                raise ChildError("child-slow") from None
            if line.startswith(READY):
                facts: dict[str, Any] = json.loads(line[len(READY):])
                return facts
            if not line:
                self._process.wait()
                self._reader.join(2)
                self.stop()
                said = "".join(self._noise).strip().splitlines()
                raise (ChildError("child-said", words=said[-1]) if said
                       else ChildError("child-ended"))

    @property
    def alive(self) -> bool:
        """Whether it still runs."""
        return self._process.poll() is None

    @property
    def pid(self) -> int:
        """Its process id."""
        return self._process.pid

    def stop(self) -> None:
        """End it and wait until it is gone."""
        if self.alive:
            self._process.terminate()
            try:
                self._process.wait(5)
            except subprocess.TimeoutExpired:
                self._process.kill()
                self._process.wait()
        for pipe in (self._process.stdin, self._process.stdout, self._process.stderr):
            if pipe:
                pipe.close()
