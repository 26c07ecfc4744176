"""A stranger's words in the window: shown as they are, and nothing of them runs or is fetched."""

import json
import os
import tempfile
from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLabel

from needle.store.project import Project
from needle.store.results.book import list_leads
from needle.store.results.taking import NewLead, take_lead
from needle.store.trust import waiting_codes
from needle.ui.foreigncode import ForeignCodeDialog, waiting_words
from needle.ui.logview import LogView
from tests.hostile.test_projects import strings, with_text
from tests.sites import FORM, PAGE
from tests.ui.desk import DeskTest

PIPE = tempfile.mktemp(prefix="needle-pipe-")
HOSTILE = f"Ann <img src='/dev/zero'><img src='{PIPE}'><b>bold</b>"


class HostileWindowTest(DeskTest):
    def setUp(self) -> None:
        os.mkfifo(PIPE)
        self.addCleanup(os.unlink, PIPE)
        super().setUp()

    def test_a_leads_answers_are_shown_as_they_are(self) -> None:
        engine = self.window.outcomes.engine
        take_lead(engine, NewLead(
            key="k" * 16, at_ms=1000, visitor="v", form=FORM, form_name=HOSTILE, page=PAGE,
            variant="A", email="ann@mail.example", source=HOSTILE,
            answers=[("n", HOSTILE, HOSTILE)], signs=[HOSTILE]))
        self.window.show_stage("Measure")
        self.window.outcomes.look()
        (lead,) = list_leads(engine)
        panel = self.window.stages["Measure"].leads.panel
        panel.show_lead(lead)
        shown = [label for label in panel.findChildren(QLabel) if "<img" in label.text()]
        self.assertTrue(shown)
        for label in shown:
            self.assertEqual(label.textFormat(), Qt.TextFormat.PlainText)
        self.window.grab()  # Painting it neither hangs nor fails.
        self.window.say(HOSTILE, True)
        self.assertEqual(self.window.last_words, HOSTILE)

    def test_every_stage_shows_a_project_with_markup_in_every_string(self) -> None:
        self.window.close()
        count = 0
        for file in (self.folder / "site.json", *(self.folder / "pages").iterdir()):
            held = json.loads(file.read_text())
            for path in strings(held):
                changed = with_text(held, path, f"{HOSTILE} {count}")
                before = file.read_text()
                file.write_text(json.dumps(changed))
                try:
                    Project(self.folder).close()
                except Exception:
                    file.write_text(before)  # Refused in words, which other tests look at.
                else:
                    held, count = changed, count + 1
        self.assertGreater(count, 20)
        self.open()
        for stage in ("Brief", "Connect", "Publish", "Measure", "Build"):
            self.window.show_stage(stage)
            self.window.grab()
        for view in (self.desktop, self.phone):
            self.assertEqual(self.js(view, "document.getElementById('page').contentDocument"
                                           ".querySelectorAll('img[src^=\"/dev\"]').length"), 0)

    def test_code_of_a_stranger_is_listed_and_allowed_by_ticking_it(self) -> None:
        self.window.close()
        file = next((self.folder / "pages").glob(f"*-{PAGE}.json"))
        held = json.loads(file.read_text())
        held["code"] = {"head": "<script>stranger()</script>", "body": "<script>two()</script>"}
        file.write_text(json.dumps(held))
        self.open()
        self.assertIn("2 pieces of code", waiting_words(self.session))
        self.window.commands.run("site.code")
        dialog = self.window.foreign_code
        self.assertIsInstance(dialog, ForeignCodeDialog)
        self.assertEqual(dialog.code.toPlainText(), "<script>stranger()</script>")
        dialog.list.item(0).setCheckState(Qt.CheckState.Checked)
        dialog.allow_ticked()
        self.assertEqual([code.code for code in waiting_codes(self.session.site)],
                         ["<script>two()</script>"])
        self.assertEqual(dialog.list.count(), 1)
        dialog.close()

    def test_the_log_is_shown_plain(self) -> None:
        place = Path(os.environ["NEEDLE_STATE"]) / "host.log"
        place.write_text(f"one line {HOSTILE}\n")
        view = LogView(self.window)
        view.which.show_value("host")
        view.refresh()
        self.assertIn("<img", view.lines.toPlainText())
        view.close()
