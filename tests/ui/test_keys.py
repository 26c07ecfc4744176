"""Everything is reached by Tab alone, and says what it is: walked by a screen reader's means."""

import contextlib
import time
import unittest
from collections.abc import Callable

from needle.core.edit.pages import split_page
from needle.core.site.site import Site
from tests.sites import PAGE, wired_site
from tests.ui.atspi import Buses, Part, installed
from tests.ui.screen import ScreenTest
from tests.ui.test_stages import BEGAN

_STAGES = ("Brief", "Build", "Connect", "Publish", "Measure")
# What only holds others, or is read and not used.
_PASSED = ("frame", "filler", "panel", "document web", "scroll pane", "label", "link", "dialog")
_MOST = 160


@unittest.skipUnless(installed(), "AT-SPI is not installed")
class KeysTest(ScreenTest):
    def site(self) -> Site:
        return split_page(wired_site(), PAGE, BEGAN)

    def setUp(self) -> None:
        super().setUp()
        self.buses = Buses(self.display)
        self.addCleanup(self.buses.end)
        self.more_environment = self.buses.environment
        self.open()
        self.until(lambda: self.frame() is not None)
        time.sleep(2)

    def shown(self, fits: Callable[[Part], bool]) -> tuple[str, str] | None:
        """Return the first window that fits and shows; one that goes meanwhile does not."""
        for place in self.buses.windows():
            with contextlib.suppress(LookupError):
                if fits(self.buses.part(place)) and self.parts(place):
                    return place
        return None

    def frame(self) -> tuple[str, str] | None:
        return self.shown(lambda part: part.role == "frame")

    def dialog(self) -> tuple[str, str] | None:
        return self.shown(lambda part: part.role == "dialog")

    def parts(self, window: tuple[str, str]) -> list[Part]:
        return list(self.buses.walk(window))

    def key(self, *keys: str) -> None:
        self.xdotool("key", *keys)

    def settled(self, window: tuple[str, str]) -> list[Part]:
        """Return what shows, once it is the same twice."""
        before: list[str] = []
        parts: list[Part] = []

        def same() -> bool:
            nonlocal before, parts
            parts = self.parts(window)
            names = [f"{part.place[1]} {part.name}" for part in parts]
            if names and names == before:
                return True
            before = names
            time.sleep(0.6)
            return False

        self.until(same)
        return parts

    def walk(self, window: tuple[str, str], where: str) -> None:
        """Press Tab until all has come round; fail on a trap, a gap or a nameless control."""
        wanted = [part for part in self.settled(window)
                  if part.reachable and part.role not in _PASSED]
        nameless = [part for part in wanted if not part.name.strip()]
        self.assertEqual(nameless, [], f"{where}: nameless")
        seen: set[str] = set()
        groups: set[tuple[str, str]] = set()
        last: tuple[str, ...] = ()
        stuck = 0
        for _ in range(_MOST):
            focused = [part for part in self.parts(window) if part.focused]
            keys = tuple(part.place[1] for part in focused)
            if keys and keys != last and seen.issuperset(keys):
                break
            stuck = stuck + 1 if keys and keys == last else 0
            self.assertLess(stuck, 4, f"{where}: Tab does not leave {focused}")
            last = keys
            seen.update(keys)
            # Of buttons that exclude each other the chosen one is reached; arrows go on.
            groups.update((part.role, part.name.split(":")[0]) for part in focused)
            self.key("Tab")
            time.sleep(0.04)
        missed = [part for part in wanted if part.place[1] not in seen and not (
            part.role == "radio button" or (part.role, part.name.split(":")[0]) in groups)]
        self.assertEqual([(part.role, part.name) for part in missed], [], f"{where}: not reached")

    def test_every_stage_and_its_parts_by_tab_alone(self) -> None:
        frame = self.frame()
        assert frame is not None
        for number, stage in enumerate(_STAGES, 1):
            self.key(f"ctrl+{number}")
            time.sleep(0.8)
            self.walk(frame, stage)

    def test_dialogs_by_tab_alone(self) -> None:
        for keys, where in (("ctrl+f", "Find and replace"), ("ctrl+h", "Earlier versions"),
                            ("shift+Insert", "Sections")):
            self.key("ctrl+2")
            time.sleep(0.5)
            self.key(keys)
            self.until(lambda: self.dialog() is not None)
            dialog = self.dialog()
            assert dialog is not None
            self.walk(dialog, where)
            self.key("Escape")
            self.until(lambda: self.dialog() is None)

    def test_f6_goes_round_f10_opens_the_menu_and_esc_leaves_a_table(self) -> None:
        frame = self.frame()
        assert frame is not None
        self.key("ctrl+4")
        self.settled(frame)

        def focus() -> list[str]:
            return [part.role for part in self.parts(frame) if part.focused]

        seen = []
        for _ in range(8):
            self.key("F6")
            time.sleep(0.2)
            seen.append(tuple(focus()))
        self.assertTrue(any("table" in roles for roles in seen), seen)
        self.assertGreater(len(set(seen)), 3, seen)
        while "table" not in focus():
            self.key("F6")
            time.sleep(0.2)
        self.key("Escape")
        self.until(lambda: focus() and "table" not in focus())

        def screens() -> int:
            """Return how many windows the screen shows; an open menu is one."""
            return len(self.xdotool("search", "--onlyvisible", "--name", ".*").split())

        count = screens()
        self.key("F10")
        self.until(lambda: screens() > count)
        self.key("Escape", "Escape")
