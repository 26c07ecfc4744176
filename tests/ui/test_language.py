"""The window in another language: one file of Qt's, and every command is said in it."""

import json
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path

from gates.__main__ import ROOT
from gates.interfacewords import faults, to_translate, translations

# The window is built after the language is known, so this takes a process of its own.
_RUN = """
import json, sys
from pathlib import Path
from PyQt6.QtWidgets import QAbstractButton, QLabel
from needle.app import make_app
from needle.ui.language import Translation
from tests.sites import small_site
from needle.store.project import Project
app = make_app()
app.installTranslator(Translation(Path(sys.argv[1]).read_bytes(), app))
from needle.core.progress import STAGES
from needle.ui.session import Session
from needle.ui.window import Window
window = Window(Session(Project.create(Path(sys.argv[2]), small_site())), None)
window.show()
for stage in STAGES:
    window.show_stage(stage)
    app.processEvents()
print("SAID " + json.dumps({
    "menus": [action.text() for action in window.menuBar().actions()],
    "commands": [action.text() for menu in window.menuBar().actions()
                 for action in menu.menu().actions() if action.text()],
    "labels": [one.text() for one in window.findChildren(QLabel)]
        + [one.text() for one in window.findChildren(QAbstractButton)],
    "names": [one.accessibleName() for one in window.findChildren(QAbstractButton)]}))
window.close()
app.processEvents()
"""


class WordsTest(unittest.TestCase):
    def test_no_word_is_shown_past_the_translation(self) -> None:
        self.assertEqual(faults(), [])

    def test_the_window_says_every_command_in_the_language_of_a_file(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder) / "xx.ts"
            file.write_bytes(translations("xx", {word: f"«{word}»" for word in to_translate()}))
            done = subprocess.run(
                [sys.executable, "-c", _RUN, str(file), str(Path(folder) / "site")], cwd=ROOT,
                capture_output=True, text=True, check=False, stdin=subprocess.DEVNULL)
        lines = [line for line in done.stdout.splitlines() if line.startswith("SAID ")]
        self.assertTrue(lines, done.stderr[-2000:])
        said = json.loads(lines[0][5:])
        self.assertGreater(len(said["commands"]), 100)
        for what in ("menus", "commands"):
            self.assertEqual([words for words in said[what] if "«" not in words], [])
        spoken = sum("«" in words for words in said["labels"])
        self.assertGreater(spoken, 100)

    def test_a_translation_that_names_what_there_is_not_is_not_taken(self) -> None:
        code = ("from PyQt6.QtCore import QCoreApplication as A; a = A([]);"
                "from needle.ui.language import Translation, tr;"
                "t = Translation(b'<TS><context><message><source>{n} pages</source>"
                "<translation>{m} Seiten</translation></message><message><source>Close</source>"
                "<translation>Zu</translation></message></context></TS>', a);"
                "a.installTranslator(t); print(tr('{n} pages', n=3), tr('Close'), tr('Open'))")
        done = subprocess.run([sys.executable, "-c", code], cwd=ROOT, capture_output=True,
                              text=True, check=True)
        self.assertEqual(done.stdout.strip(), "3 pages Zu Open")
