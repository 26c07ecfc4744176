"""The window as a process of its own under Xvfb, with a real mouse and real keys."""

import os
import select
import signal
import subprocess
import sys
import tempfile
import time
import unittest
from collections.abc import Callable
from pathlib import Path

from needle.core.render.texts import plain_lines
from needle.core.site.site import Site
from needle.store.project import Project, read_site
from tests.sites import small_site

ROOT = Path(__file__).parent.parent.parent


class RealWindowTest(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.project = Path(folder.name) / "project"
        Project.create(self.project, small_site()).close()
        # Xvfb picks a free display and writes its number once it is ready.
        read_end, write_end = os.pipe()
        xvfb = subprocess.Popen(
            ["Xvfb", "-displayfd", str(write_end), "-screen", "0", "1280x800x24"],
            pass_fds=[write_end], stderr=subprocess.DEVNULL)
        self.addCleanup(self.end, xvfb)
        os.close(write_end)
        ready, _, _ = select.select([read_end], [], [], 20)
        self.assertTrue(ready, "Xvfb did not start")
        self.display = ":" + os.read(read_end, 16).decode().strip()
        # Closed only at the end: Xvfb may still be writing the line's end.
        self.addCleanup(os.close, read_end)
        self.open()

    def open(self) -> None:
        environment = os.environ | {"DISPLAY": self.display, "QT_QPA_PLATFORM": "xcb",
                                    "PYTHONPATH": str(ROOT / "src")}
        self.window = subprocess.Popen(
            [sys.executable, "-m", "needle", "open", str(self.project)], env=environment,
            stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
        self.addCleanup(self.end, self.window)
        self.until(lambda: self.xdotool("search", "--onlyvisible", "--name", "Needle"))
        time.sleep(3)

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

    def until(self, holds: Callable[[], object], within_s: float = 240) -> None:
        end = time.monotonic() + within_s
        while time.monotonic() < end:
            if holds():
                return
            time.sleep(0.1)
        self.fail("It did not come to hold in time.")

    def headline(self) -> str:
        """Return the headline as it is on disk."""
        site: Site = read_site(self.project)
        node = next(n for n in site.pages[0].variants[0].nodes() if n.id == "head1")
        return plain_lines(node)[0]

    def click_headline(self) -> None:
        # Below the seam and the bar, at the top of the desktop view's first section.
        self.xdotool("mousemove", "420", "214", "click", "1")
        time.sleep(0.5)
        self.xdotool("key", "ctrl+a")

    def test_typed_words_are_saved_by_themselves_and_survive_a_kill(self) -> None:
        self.click_headline()
        self.xdotool("type", "--delay", "15", "A darker hill")
        self.until(lambda: self.headline() == "A darker hill")
        self.xdotool("type", "--delay", "15", " still")
        time.sleep(2)
        self.xdotool("type", "--delay", "15", " and more")
        self.window.send_signal(signal.SIGKILL)
        self.window.wait()
        self.assertTrue(self.headline().startswith("A darker hill still"), self.headline())
        self.open()
        self.click_headline()
        self.xdotool("type", "--delay", "15", "Open again")
        self.until(lambda: self.headline() == "Open again")
        for _ in range(3):
            self.xdotool("key", "ctrl+z")
            time.sleep(0.2)
        self.until(lambda: self.headline().startswith("A darker hill still"))
