"""A window as a process of its own under Xvfb, with real keys, for tests."""

import os
import select
import subprocess
import sys
import tempfile
import time
import unittest
from collections.abc import Callable
from pathlib import Path

from needle.core.site.site import Site
from needle.store.project import Project
from tests.sites import small_site

__all__ = ["ROOT", "ScreenTest"]

ROOT = Path(__file__).parent.parent.parent


class ScreenTest(unittest.TestCase):
    """Has a screen of its own and a project in a temporary folder."""

    # What the window's process is told besides.
    more_environment: dict[str, str]

    def site(self) -> Site:
        return small_site()

    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.project = Path(folder.name) / "project"
        Project.create(self.project, self.site()).close()
        self.more_environment = {}
        # Xvfb picks a free display and writes its number once it is ready.
        read_end, write_end = os.pipe()
        xvfb = subprocess.Popen(
            ["Xvfb", "-displayfd", str(write_end), "-screen", "0", "1280x800x24"],
            pass_fds=[write_end], stderr=subprocess.DEVNULL)
        self.addCleanup(self.end, xvfb)
        os.close(write_end)
        ready, _, _ = select.select([read_end], [], [], 120)
        self.assertTrue(ready, "Xvfb did not start")
        self.display = ":" + os.read(read_end, 16).decode().strip()
        # Closed only at the end: Xvfb may still be writing the line's end.
        self.addCleanup(os.close, read_end)

    def open(self, within_s: float = 240) -> None:
        """Start the window, and wait until it shows."""
        environment = os.environ | {"DISPLAY": self.display, "QT_QPA_PLATFORM": "xcb",
                                    "PYTHONPATH": str(ROOT / "src")} | self.more_environment
        self.window = subprocess.Popen(
            [sys.executable, "-m", "needle", "open", str(self.project)], env=environment,
            stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
        self.addCleanup(self.end, self.window)
        self.until(lambda: self.xdotool("search", "--onlyvisible", "--name", "Needle"), within_s)

    @staticmethod
    def end(process: subprocess.Popen[bytes]) -> None:
        if process.poll() is None:
            process.terminate()
            try:
                process.wait(10)
            except subprocess.TimeoutExpired:
                process.kill()
                process.wait()

    def xdotool(self, *arguments: str) -> str:
        done = subprocess.run(["xdotool", *arguments], capture_output=True, text=True,
                              env=os.environ | {"DISPLAY": self.display}, check=False)
        return done.stdout.strip()

    def screens(self) -> set[str]:
        """Return the windows that the screen shows, by id; an open menu is one."""
        return set(self.xdotool("search", "--onlyvisible", "--name", ".*").split())

    def until(self, holds: Callable[[], object], within_s: float = 240) -> None:
        end = time.monotonic() + within_s
        while time.monotonic() < end:
            if holds():
                return
            time.sleep(0.1)
        self.fail("It did not come to hold in time.")
