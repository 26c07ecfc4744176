"""The report of a week in the real window: read, shown, saved, and refused in words."""

import contextlib
import time
from email import message_from_bytes, policy
from pathlib import Path

import msgspec
from aiosmtpd.controller import Controller
from aiosmtpd.smtp import Envelope
from PyQt6.QtPdf import QPdfDocument

from needle.core.site.site import Service
from needle.practice.zones import free_ports
from needle.publish.live import send_pages
from needle.store.weekly import kept_weekly
from needle.ui.measure.weekreport import WeekDialog
from tests.sites import PAGE
from tests.told import take_visit
from tests.ui.test_stages import StageTest


class WeekTest(StageTest):
    def dialog(self) -> WeekDialog:
        made = self.window.stages["Measure"].week_report()
        self.addCleanup(made.reject)
        made.show()
        self.until(made.pdf.isEnabled)
        return made

    def test_this_week_is_read_shown_and_saved(self) -> None:
        send_pages(self.session.site, self.folder, [PAGE])
        for who in ("v1", "v2"):
            take_visit(self.window.outcomes.engine, at_ms=int(time.time() * 1000), visitor=who,
                       page=PAGE, variant="A", source="post", campaign="", device="")
        self.window.show_stage("Measure")
        dialog = self.dialog()
        self.assertIn("Nobody came.", dialog.shown.accessibleDescription())
        dialog.show_week(next(iter(dialog._mondays)))
        self.until(lambda: "2 visitors" in dialog.shown.accessibleDescription())
        self.assertIn(self.session.site.page(PAGE).name, dialog.shown.accessibleDescription())
        self.until(dialog.pdf.isEnabled)
        pdf, png = self.folder / "week.pdf", self.folder / "week.png"
        dialog.save(pdf)
        self.until(pdf.exists)
        held = QPdfDocument(None)
        held.load(str(pdf))
        self.assertEqual(held.pageCount(), 1)
        self.assertIn("2 visitors", held.getAllText(0).text())
        dialog.save(png)
        self.assertTrue(png.read_bytes().startswith(b"\x89PNG"))
        dialog.save(Path("/proc/nowhere/week.png"))
        self.assertIn("cannot be written", dialog._says.text())

    def test_it_goes_by_mail_and_a_server_that_is_away_is_said(self) -> None:
        taken: list[Envelope] = []

        class Box:
            async def handle_DATA(self, _server: object, _session: object, sent: Envelope) -> str:
                taken.append(sent)
                return "250 taken"

        port = free_ports(["127.0.0.1"])
        box = Controller(Box(), hostname="127.0.0.1", port=port)
        box.start()
        ending = contextlib.ExitStack()
        ending.callback(box.stop)
        self.addCleanup(ending.close)
        self.session.edit("mail", lambda site: msgspec.structs.replace(site, services=(
            Service("mailbox", "Desk", "mail", practice=False, address=f"127.0.0.1:{port}"),)))
        self.window.show_stage("Measure")
        dialog = self.dialog()
        dialog.to.setText("nobody")
        dialog.send_it()
        self.assertIn("no e-mail address", dialog._says.text())
        dialog.to.setText("desk@hill.example")
        dialog.send_it()
        self.until(lambda: "letter delivered, to desk@hill.example" in dialog._says.text())
        letter = message_from_bytes(taken[0].content, policy=policy.default)
        self.assertIn("Nobody came.", letter.get_body(("plain",)).get_content())
        (pdf,) = letter.iter_attachments()
        self.assertTrue(pdf.get_content().startswith(b"%PDF"))
        ending.close()
        dialog.send_it()
        self.until(lambda: "The report was not sent" in dialog._says.text())
        self.assertTrue(dialog.send.isEnabled())

    def test_by_itself_on_a_day_is_kept_and_taken_back(self) -> None:
        self.session.edit("mail", lambda site: msgspec.structs.replace(site, services=(
            Service("mailbox", "Desk", "mail", practice=True),)))
        self.window.show_stage("Measure")
        dialog = self.dialog()
        dialog.weekly.chosen.emit(2)
        self.assertIn("no e-mail address", dialog._says.text())
        self.assertEqual(dialog.weekly.currentData(), -1)
        dialog.to.setText("desk@hill.example")
        dialog.weekly.chosen.emit(2)
        self.assertIn("goes to desk@hill.example", dialog._says.text())
        kept = kept_weekly(self.folder)
        self.assertEqual((kept.to, kept.service, kept.weekday), ("desk@hill.example", "mailbox", 2))
        again = self.dialog()
        self.assertEqual((again.weekly.currentData(), again.to.text()), (2, "desk@hill.example"))
        again.weekly.chosen.emit(-1)
        self.assertIsNone(kept_weekly(self.folder))
        (self.folder / ".weekly.json.lock").unlink(missing_ok=True)
        (self.folder / ".weekly.json.lock").mkdir()
        again.weekly.chosen.emit(3)
        self.assertIn("could not be kept", again._says.text())

    def test_closed_while_it_reads_it_lays_nothing_out(self) -> None:
        dialog = self.window.stages["Measure"].week_report()
        read: list[object] = []
        dialog.heard.read.connect(lambda *told: read.append(told))
        dialog.reject()
        self.until(lambda: read)
        self.assertIsNone(dialog._hidden._view)

    def test_results_that_do_not_answer_are_said(self) -> None:
        self.window.show_stage("Measure")
        dialog = self.dialog()
        with self.window.outcomes.engine.begin() as connection:
            connection.exec_driver_sql("DROP TABLE events")
        with self.assertLogs("needle.ui.measure.weekreport", "ERROR"):
            dialog.show_week(next(iter(dialog._mondays)))
            self.until(lambda: "cannot be read just now" in dialog._says.text())
        self.assertFalse(dialog.pdf.isEnabled())
