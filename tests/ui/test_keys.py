"""Everything is reached by Tab alone, and says what it is: walked by a screen reader's means."""

import contextlib
import time
import unittest
from collections.abc import Callable

from needle.core.edit.pages import split_page
from needle.core.site.site import Site
from tests.sites import PAGE, wired_site
from tests.ui.atspi import Part, installed
from tests.ui.hands import HandsTest
from tests.ui.test_stages import BEGAN

_STAGES = ("Brief", "Build", "Connect", "Publish", "Measure")
# What only holds others, or is read and not used.
_PASSED = ("frame", "filler", "panel", "document web", "scroll pane", "label", "link", "dialog")
_MOST = 160


@unittest.skipUnless(installed(), "AT-SPI is not installed")
class KeysTest(HandsTest):
    def site(self) -> Site:
        return split_page(wired_site(), PAGE, BEGAN)

    def shown(self, fits: Callable[[Part], bool]) -> tuple[str, str] | None:
        """Return the first window that fits and shows; one that goes meanwhile does not."""
        for place in self.buses.windows():
            with contextlib.suppress(LookupError):
                if fits(self.buses.part(place)) and self.parts(place):
                    return place
        return None

    def frame(self) -> tuple[str, str] | None:
        return self.shown(lambda part: part.role == "frame")

    def front(self) -> tuple[str, str] | None:
        """Return the dialog that is open."""
        return self.shown(lambda part: part.role == "dialog")

    def parts(self, window: tuple[str, str]) -> list[Part]:
        return list(self.buses.walk(window))

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
            # Where there is one thing to reach, Tab has nowhere to go.
            self.assertTrue(stuck < 4 or len(wanted) < 2,
                            f"{where}: Tab does not leave {focused}")
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
            self.walk_dialog(where)

    def walk_dialog(self, where: str) -> None:
        self.until(lambda: self.front() is not None)
        dialog = self.front()
        assert dialog is not None
        self.give_keys(self.buses.part(dialog).name)
        self.walk(dialog, where)
        self.key("Escape")
        self.until(lambda: self.front() is None)
        self.come_back()

    def test_further_dialogs_by_tab_alone(self) -> None:
        for words in ("First draft from an idea", "Make a campaign link", "Show the log",
                      "Outside code and own CSS", "Code from elsewhere", "Rename page",
                      "What changed since", "Add a target: Server over SFTP",
                      "Send or take off at a time", "Plan a split test", "Report of the week",
                      "Practice visitors", "What counts on a page", "How the test is meant",
                      "Clicks and depth on a page", "Diary of split tests"):
            self.find(words)
            self.walk_dialog(words)

    def test_the_parts_of_stages_by_tab_alone(self) -> None:
        frame = self.frame()
        assert frame is not None
        for words in ("Show brand", "Show pictures and files", "Show templates",
                      "Show from a picture", "Show split tests", "Show pages", "Show leads",
                      "New outside call",
                      "Own domain",
                      "Titles and descriptions", "A form or popup on another site"):
            self.find(words)
            self.walk(frame, words)
        self.key("ctrl+3")
        for part in ("Services", "Tracking"):
            self.to("Forms" if part == "Services" else "Services")
            self.key("Right")
            self.walk(frame, part)

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

        self.opens("F10")
        self.key("Escape", "Escape")
