"""A real window to test with: real clicks and keys, answers read back from the live views."""

import json
import sys
import tempfile
import time
import unittest
from collections.abc import Callable
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWebEngineCore import QWebEngineScript
from PyQt6.QtWidgets import QApplication

from needle.app import make_app
from needle.core.site.site import Site
from needle.store.project import Project
from needle.ui.builder.live.view import LiveView
from needle.ui.session import Session
from needle.ui.window import Window
from tests.sites import small_site

__all__ = ["DeskTest"]

APP: QApplication = make_app()
_WORLD = QWebEngineScript.ScriptWorldId.ApplicationWorld.value


class DeskTest(unittest.TestCase):
    """Opens a window on a small project for each test."""

    def site(self) -> Site:
        return small_site()

    def setUp(self) -> None:
        # An exception in a slot would else be printed and forgotten.
        self._raised: list[BaseException] = []
        sys.excepthook = lambda kind, error, trace: self._raised.append(error)
        self._folder = tempfile.TemporaryDirectory()
        self.addCleanup(self._folder.cleanup)
        self.folder = Path(self._folder.name) / "project"
        Project.create(self.folder, self.site()).close()
        self.open()
        self.addCleanup(self.close)

    def open(self) -> None:
        self.session = Session(Project(self.folder))
        self.window = Window(self.session, None)
        self.window.show()
        self.window.activateWindow()
        self.desktop, self.phone = self.window.build.canvas.views
        for view in (self.desktop, self.phone):
            self.until(lambda v=view: self.js(v, "!!(globalThis.needle && needle.box)") is True
                       and self.js(v, "needle.ready()") is True)

    def close(self) -> None:
        if self.window is not None:
            self.window.close()
            self.window.deleteLater()
            QTest.qWait(10)
            self.window = None
        if self._raised:
            raise self._raised[0]

    def until(self, holds: Callable[[], object], within_s: float = 240.0) -> None:
        """Wait until something holds; fail if it does not in time."""
        end = time.monotonic() + within_s
        while time.monotonic() < end:
            if holds():
                return
            QTest.qWait(15)
        self.fail("It did not come to hold in time.")

    def js(self, view: LiveView, code: str) -> Any:
        """Run code beside the view's script and return its value."""
        answer: list[Any] = []
        page = view.page()
        assert page is not None
        page.runJavaScript(code, _WORLD, answer.append)
        end = time.monotonic() + 240
        while not answer and time.monotonic() < end:
            QTest.qWait(2)
        return answer[0] if answer else None

    def text(self, view: LiveView, node: str) -> str:
        """Return the words that a view shows in a node."""
        return str(self.js(view, "document.getElementById('page').contentDocument"
                                 f".querySelector('[data-n=\"{node}\"]')?.innerText"))

    def loaded_anew(self, by: Callable[[], object]) -> None:
        """Do something after which both views load their page again, and wait for that."""
        page = "document.getElementById('page').contentDocument"
        for view in (self.desktop, self.phone):
            self.js(view, f"{page}.body.dataset.before = 'yes'")
        by()
        for view in (self.desktop, self.phone):
            self.until(lambda view=view: self.js(
                view, f"{page}.readyState == 'complete' && !{page}.body.dataset.before"))

    def style(self, view: LiveView, node: str, name: str) -> str:
        """Return a computed style of a node in a view."""
        return str(self.js(view, "(() => { const f = document.getElementById('page');"
                                 "const e = f.contentDocument.querySelector("
                                 f"'[data-n=\"{node}\"]'); return e ? f.contentWindow."
                                 f"getComputedStyle(e).getPropertyValue('{name}') : 'none'; }})()"))

    def click(self, view: LiveView, node: str) -> None:
        """Click the middle of a node in a view."""
        box = None
        def seen() -> bool:
            nonlocal box
            box = self.js(view, f"needle.box({json.dumps(node)})")
            return bool(box and box[2] > 0)
        self.until(seen)
        x, y, w, h = box
        QTest.mouseClick(view.focusProxy(), Qt.MouseButton.LeftButton,
                         pos=QPoint(int(x + w / 2), int(y + h / 2)))
        self.until(lambda: self.session.selection == node)
        if self.js(view, "!!document.getElementById('page').contentDocument"
                         ".querySelector('[contenteditable]')"):
            # Keys are the page's only once the engine has told Qt that a caret stands in it.
            self.until(lambda: view.focusProxy().inputMethodQuery(
                Qt.InputMethodQuery.ImEnabled))

    def type(self, words: str) -> None:
        """Type into whatever has the focus."""
        widget = APP.focusWidget()
        assert widget is not None
        for sign in words:
            QTest.keyClicks(widget, sign)
            QTest.qWait(4)

    def press(self, key: Qt.Key, *modifiers: Qt.KeyboardModifier) -> None:
        """Press a key in whatever has the focus."""
        held = Qt.KeyboardModifier.NoModifier
        for modifier in modifiers:
            held |= modifier
        QTest.keyClick(APP.focusWidget() or self.window, key, held)
        QTest.qWait(30)
