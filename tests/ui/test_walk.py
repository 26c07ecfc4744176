"""The walk-through, the actions of a click, and edits of all alike, in the real window."""

import json
import re
from datetime import UTC, datetime
from typing import Any
from unittest import mock

import httpx
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from needle.core.edit.brand import set_dark
from needle.core.edit.nodes import set_words
from needle.core.edit.pages import split_page
from needle.core.site.site import Site
from needle.core.values.actions import ClosePopup, GoPage, OpenPopup
from needle.core.values.widths import Width
from needle.core.values.words import text
from needle.publish.live import send_pages
from needle.ui.builder.phone import PhoneDialog
from tests.sites import PAGE, THANKS, long_page
from tests.ui.desk import DeskTest


class WalkTest(DeskTest):
    def run_in(self, code: str) -> Any:
        """Run code in the walk-through's page and return its value."""
        answer: list[Any] = []
        self.walk.view.page().runJavaScript(code, answer.append)
        self.until(lambda: answer)
        return answer[0]

    def setUp(self) -> None:
        super().setUp()
        self.window.commands.run("view.walk")
        self.walk = self.window.build.walk
        self.addCleanup(self.walk.close)
        self.until(lambda: self.run_in("document.readyState") == "complete"
                   and self.run_in("!!document.querySelector('h1')"))

    def test_it_is_the_draft_with_its_scripts_and_sends_nothing(self) -> None:
        self.assertEqual(self.run_in("document.querySelector('h1').innerText"), "Old words")
        self.run_in("document.querySelector('a.button').click(); 1")
        self.until(lambda: self.run_in("document.querySelector('dialog').open"))
        self.run_in("document.querySelector('[type=email]').value = 'ro@mail.example';"
                    "document.querySelector('form [type=submit]').click(); 1")
        self.until(lambda: "nothing was sent" in self.run_in(
            "document.querySelector('.form-word').innerText"))
        self.assertEqual(self.window.outcomes.totals().leads, 0)

    def test_it_goes_on_within_the_site_and_nowhere_else(self) -> None:
        self.run_in("location.href = '../thanks/'; 1")
        self.until(lambda: self.run_in("document.querySelector('h1')?.innerText") == "See you")
        self.run_in("location.href = 'https://elsewhere.example/'; 1")
        QTest.qWait(300)
        self.assertIn("needle://doc", self.run_in("location.href"))

    def test_it_is_seen_at_each_width(self) -> None:
        for width in (390, 820, 1180):
            self.walk.show_width(width)
            self.until(lambda w=width: self.run_in("innerWidth") == w)

    def test_darkened_pages_are_dark(self) -> None:
        def ground() -> int:
            colour = self.walk.view.grab().toImage().pixelColor(3, 300)
            return colour.lightness()

        self.until(lambda: ground() > 200)
        self.walk.dark.setChecked(True)
        self.until(lambda: ground() < 60)
        self.walk.dark.setChecked(False)
        self.until(lambda: ground() > 200)

    def test_dark_colours_of_the_brand_are_shown_in_the_dark(self) -> None:
        self.walk.close()
        self.session.edit("dark", lambda site: set_dark(site, True))
        paper = self.session.site.brand.dark
        self.window.commands.run("view.walk")
        self.walk = self.window.build.walk
        self.addCleanup(self.walk.close)
        told = "getComputedStyle(document.documentElement).getPropertyValue('--c-paper')"
        self.until(lambda: self.run_in(told))
        light = self.run_in(told)
        self.walk.dark.setChecked(True)
        self.until(lambda: self.run_in(told) not in ("", light))
        self.assertIn(self.run_in(told).strip(), [swatch.value for swatch in paper])

    def test_a_phone_gets_the_draft_with_the_key_alone_until_the_window_goes(self) -> None:
        with mock.patch("needle.ui.builder.walk.own_addresses", return_value=["127.0.0.1"]):
            self.walk.show_on_phone()
        dialog = self.walk.phone
        self.assertIsNone(dialog.door, "nothing is open before the person says so")
        dialog.open()
        link = httpx.URL(dialog._link.text())
        with httpx.Client(base_url=f"http://127.0.0.1:{link.port}", trust_env=False) as stranger:
            self.assertEqual(stranger.get("/night/").status_code, 403)
            self.assertEqual(stranger.get("/night/?key=guessed").status_code, 403)
            self.assertEqual(stranger.get("/night/", headers={"Cookie": "needle-phone=x"}
                                          ).status_code, 403)
        with httpx.Client(trust_env=False) as phone:
            page = phone.get(link, follow_redirects=True)
            self.assertIn("Old words", page.text)
            self.assertNotIn("key=", str(page.url))
            style = re.search(r'href="([^"]+\.css)"', page.text)
            if style:
                self.assertEqual(phone.get(page.url.join(style[1])).status_code, 200)
            for path in ("/nowhere/", "/assets/%2e%2e/%2e%2e/site.json", "/../../etc/passwd"):
                self.assertEqual(phone.get(page.url.join(path)).status_code, 404, path)
            self.assertEqual(phone.post(page.url, data={"a": "b"}).status_code, 405)
        self.until(lambda: "3 were asked for without the key" in dialog._state.text())
        self.walk.close()
        with self.assertRaises(httpx.ConnectError):
            httpx.get(link, trust_env=False)

    def test_a_machine_in_no_network_says_so_and_a_wrong_address_is_refused(self) -> None:
        alone = PhoneDialog(self.walk, lambda _: None, lambda: "", [])
        self.assertFalse(alone._open.isEnabled())
        self.assertIn("in no network", alone._why.text())
        gone = PhoneDialog(self.walk, lambda _: None, lambda: "", ["192.0.2.7"])
        gone.open()
        self.assertIn("cannot be reached at 192.0.2.7", gone._state.text())
        self.assertIsNone(gone.door)

    def test_live_is_shown_beside_the_draft_and_follows_it(self) -> None:
        send_pages(self.session.site, self.folder, [PAGE])
        self.session.edit("x", lambda site: set_words(site, "head1", (text("Newer words"),)))
        self.walk.close()
        self.window.commands.run("view.walk")
        self.walk = self.window.build.walk
        self.addCleanup(self.walk.close)
        self.walk.beside.setChecked(True)

        def heading(side: Any) -> Any:
            answer: list[Any] = []
            side.page.runJavaScript("document.querySelector('h1')?.innerText", answer.append)
            self.until(lambda: answer)
            return answer[0]

        self.until(lambda: heading(self.walk.draft) == "Newer words")
        self.until(lambda: heading(self.walk.live) == "Old words")
        self.run_in("location.href = '../thanks/'; 1")
        self.until(lambda: "not live" in self.walk._said.text())
        self.assertFalse(self.walk.live.view.isVisible())
        self.walk.beside.setChecked(False)
        self.assertIsNone(self.walk.live)
        self.assertEqual(self.window.outcomes.totals().leads, 0)

    def test_without_scripts_on_a_slow_line_and_with_large_type(self) -> None:
        self.walk.large.setChecked(True)
        self.until(lambda: self.run_in("devicePixelRatio") == 2)
        self.walk.large.setChecked(False)
        self.walk.slow.setChecked(True)
        self.until(lambda: self.run_in(
            "performance.getEntriesByType('navigation')[0].duration") > 400)
        self.walk.slow.setChecked(False)
        self.walk.scripts.setChecked(True)
        # Without scripts nothing answers; the page stands all the same.
        loaded: list[bool] = []
        self.walk.draft.page.loadFinished.connect(loaded.append)
        self.walk.draft.go("night")
        self.until(lambda: loaded)
        self.assertEqual(loaded, [True])

    def test_each_variant_of_a_tested_page_is_seen(self) -> None:
        self.session.edit("x", lambda site: split_page(site, PAGE, datetime.now(UTC)))
        self.walk.close()
        self.window.commands.run("view.walk")
        self.walk = self.window.build.walk
        self.addCleanup(self.walk.close)
        self.until(lambda: self.walk.variant.count() == 2)
        self.walk.variant.setCurrentIndex(1)
        self.until(lambda: self.run_in("document.body?.dataset.variant") == "B")


class ClickTest(DeskTest):
    def actions(self) -> tuple[object, ...]:
        return self.session.node("button1").actions

    def test_what_a_click_does_is_chosen_in_order_and_taken_away(self) -> None:
        self.session.select("button1")
        edit = self.window.build.tray.editors["actions"]
        lines = edit._lines
        self.assertEqual([line.text() for line in lines[:2]],
                         ["1   opens Sign-up", "add another…"])
        self.choose(lines[1], "Close the popup")
        self.assertEqual(self.actions(), (OpenPopup("popup1"), ClosePopup()))
        self.choose(lines[0], "Go to a page", "Thanks")
        self.assertEqual(self.actions(), (GoPage(THANKS), ClosePopup()))
        self.choose(lines[0], "Do nothing")
        self.assertEqual(self.actions(), (ClosePopup(),))
        for _ in range(3):
            self.session.undo()
        self.assertEqual(self.actions(), (OpenPopup("popup1"),))

    def choose(self, line: Any, *path: str) -> None:
        menu = line.menu()
        menu.aboutToShow.emit()
        for name in path:
            action = next(a for a in menu.actions() if a.text() == name)
            if action.menu() is None:
                action.trigger()
            else:
                menu = action.menu()


class AlikeTest(DeskTest):
    def site(self) -> Site:
        return long_page(2)

    def test_a_look_goes_to_all_alike_of_the_section_as_one_step(self) -> None:
        start = self.session.site
        column = self.session.path("head0")[-2]
        first, *rest = [node.id for node in column.children[1:]]
        self.session.select(first)
        tray = self.window.build.tray
        reach = tray.editors["reach"]
        self.assertEqual(reach.button("row").text(), "3 in row")
        QTest.mouseClick(reach.button("row"), Qt.MouseButton.LeftButton)
        QTest.mouseClick(tray.editors["scope"].button(Width.DESKTOP), Qt.MouseButton.LeftButton)
        size = tray.editors["size"]
        size.setFocus()
        QTest.keyClicks(size, "23")
        QTest.keyClick(size, Qt.Key.Key_Return)
        for node in (first, *rest):
            self.until(lambda n=node: self.style(self.desktop, n, "font-size") == "23px")
            self.assertEqual(self.style(self.phone, node, "font-size"), "17px")
        other = self.session.path("head1")[-2].children[1].id
        self.assertEqual(self.style(self.desktop, other, "font-size"), "17px")
        self.session.undo()
        self.assertEqual(self.session.site, start)
        self.assertIn("size", json.dumps(list(tray.editors)))
