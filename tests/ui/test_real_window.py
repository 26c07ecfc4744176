"""The window as a process of its own under Xvfb, with a real mouse and real keys."""

import signal
import time

from needle.core.render.texts import plain_lines
from needle.core.site.site import Site
from needle.store.project import read_site
from tests.ui.screen import ScreenTest


class RealWindowTest(ScreenTest):
    def setUp(self) -> None:
        super().setUp()
        self.open()

    def open(self, within_s: float = 240) -> None:
        super().open(within_s)
        time.sleep(3)

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
