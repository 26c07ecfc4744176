"""A window that is worked by keys alone, as somebody does who sees no pointer."""

import contextlib
import re
import time
from collections.abc import Callable

from needle.core.site.site import Site
from needle.store.project import ProjectError, read_site
from tests.ui.atspi import Buses, Part
from tests.ui.screen import ScreenTest

__all__ = ["HandsTest"]

_MOST = 140
_BEGINNINGS, _BEGINS_WITHIN_S = 4, 90
_FINDER = "Find anything"
_ROWS = ("list item", "tree item", "table cell", "document web", "web document")


class HandsTest(ScreenTest):
    """Has a real window, its keyboard, and what a screen reader is told of it."""

    def setUp(self) -> None:
        super().setUp()
        self.surroundings = self.surround()
        for _ in range(_BEGINNINGS - 1):
            if self.begins(_BEGINS_WITHIN_S):
                return
            # Now and then a window never shows, or is never listed on the bus: both are begun anew.
            self.end(self.window)
            self.buses.end()
        self.assertTrue(self.begins(240), "no window came to be listed")

    def surround(self) -> dict[str, str]:
        """Start what stands beside the window, once, and return how the window finds it."""
        return {}

    def begins(self, within_s: float) -> bool:
        """Start buses and window; the keys are the window's once something in it has them."""
        self.buses = Buses(self.display)
        self.addCleanup(self.buses.end)
        self.more_environment = self.buses.environment | self.surroundings
        try:
            self.open(within_s)
        except AssertionError:
            return False
        last = time.monotonic() + within_s
        while time.monotonic() < last:
            with contextlib.suppress(LookupError, TimeoutError):
                if self.windows() and self.focused():
                    return True
            time.sleep(0.1)
        return False

    def windows(self) -> list[Part]:
        """Return the windows that show, the front one last."""
        found = []
        for place in self.buses.windows():
            try:
                part = self.buses.part(place)
                # The engine tells of its pages as of windows.
                if part.showing and part.role in ("frame", "dialog"):
                    found.append(part)
            except LookupError:  # It went meanwhile.
                continue
        return sorted(found, key=lambda part: part.role != "frame")

    def focused(self) -> str:
        """Return the names of what the keys go to in the front window."""
        with contextlib.suppress(LookupError):
            for window in reversed(self.windows()):
                parts = map(self.buses.part, self.buses.focused(window.place))
                # The current row of a list says that it has the keys wherever they are.
                names = [part.name for part in parts if part.role not in _ROWS]
                if names:
                    return " | ".join(names)
        return ""

    def key(self, *keys: str) -> None:
        """Press keys, one after another."""
        for one in keys:
            self.xdotool("key", one)
            time.sleep(0.05)

    def write(self, words: str) -> None:
        """Type words."""
        self.xdotool("type", "--delay", "15", words)
        time.sleep(0.1)

    def to(self, name: str) -> None:
        """Press Tab until the keys go to what is called so."""
        names = []
        for _ in range(_MOST):
            names.append(self.focused())
            if name in names[-1]:
                return
            self.key("Tab")
        self.fail(f"Tab does not lead to “{name}”, but to {list(dict.fromkeys(names))}")

    def reaches(self, name: str) -> bool:
        """Whether Tab leads to what is called so, as things stand; the keys are there then."""
        with contextlib.suppress(self.failureException):
            self.to(name)
            return True
        return False

    def dialog(self) -> bool:
        """Whether a dialog is open."""
        return any(part.role == "dialog" for part in self.windows())

    def find(self, words: str) -> None:
        """Ask for something by its words (Ctrl+K)."""
        # By its name: the engine's windows come and go, so that their count says nothing.
        self.until(self._finding)
        time.sleep(0.2)
        self.write(words)
        self.key("Return")
        time.sleep(0.4)

    def _finding(self) -> bool:
        """Whether the finder has the keys; asked for again while it has not."""
        self.key("ctrl+k")
        end = time.monotonic() + 60
        while time.monotonic() < end:
            if self.xdotool("search", "--onlyvisible", "--name", _FINDER):
                return True
            time.sleep(0.1)
        return False

    def pick(self, *keys: str) -> None:
        """Open the menu of what has the keys, and press further ones in it."""
        self.opens("space")
        self.key(*keys)

    def opens(self, key: str) -> None:
        """Press a key and wait for the menu that it opens."""
        before = self.screens()
        self.key(key)
        self.until(lambda: self.screens() - before)

    def answer(self, words: str) -> None:
        """Write into the dialog that comes, and go on."""
        self.until(self.dialog)
        time.sleep(0.3)
        self.write(words)
        self.key("Return")
        self.until(lambda: not self.dialog())
        self.come_back()

    def come_back(self) -> None:
        """Give the keys to the window again after a dialog."""
        self.give_keys("· Needle")

    def give_keys(self, title: str) -> None:
        """Give the keys to a window, as a window manager does to one that opens."""
        found = self.xdotool("search", "--onlyvisible", "--name", re.escape(title)).split()
        if found:
            self.xdotool("windowfocus", "--sync", found[-1])

    def saved(self, holds: Callable[[Site], object]) -> None:
        """Wait until the project on disk is as it should be."""
        def on_disk() -> object:
            try:
                return holds(read_site(self.project))
            except ProjectError:  # It is being written just now.
                return False

        self.until(on_disk)
