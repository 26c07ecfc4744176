"""Practice visitors, sent and taken out through the window, to a real host."""

from unittest import mock

from sqlalchemy.exc import OperationalError

from needle.crowd.ledger import counted_events
from needle.publish.live import send_pages
from needle.running.stand import Stand
from tests.ui.test_stages import StageTest


class PractisingTest(StageTest):
    def dialog(self):
        self.window.commands.run("measure.practise")
        made = self.window.stages["Measure"].practising
        self.addCleanup(made.close)
        return made

    def live(self) -> None:
        stand = Stand(self.folder, 0, ())
        self.addCleanup(stand.stop)
        self.window.outcomes.stand = stand
        send_pages(self.session.site, self.folder, [p.id for p in self.session.site.pages])
        self.window.outcomes.look()

    def test_before_anything_is_live_it_says_why_nobody_can_come(self) -> None:
        dialog = self.dialog()
        self.assertIn("Nothing is live yet", dialog.says.text())
        self.assertFalse(dialog.start.isEnabled())
        self.until(lambda: "Nothing of practice visitors" in dialog.left.text())
        self.assertFalse(dialog.remove.isEnabled())
        self.assertFalse(dialog.stop.isVisible())

    def test_they_come_are_counted_and_are_taken_out_again(self) -> None:
        self.live()
        dialog = self.dialog()
        self.write_in(dialog, "count", "60")
        self.write_in(dialog, "rate", "40")
        self.write_in(dialog, "browser", "2")
        dialog.start.click()
        self.assertTrue(dialog.stop.isVisible() and dialog.bar.isVisible())
        self.until(lambda: "counted exactly" in dialog.says.text())
        self.assertEqual(dialog.bar.value(), 62)
        told = counted_events(self.window.outcomes.engine)
        self.assertGreaterEqual(told["depth"], 2, "by the two in a browser alone")
        self.until(lambda: "events of practice visitors are in" in dialog.left.text())
        self.until(lambda: sum(count.visitors for count in self.window.outcomes.figures.pages))
        journey = self.window.stages["Measure"].journey
        self.until(lambda: journey.reading and journey.reading.now.visits >= 50)
        dialog.remove.click()
        self.until(lambda: "events were taken out" in dialog.says.text())
        self.until(lambda: "Nothing of practice visitors" in dialog.left.text())
        self.until(lambda: not self.window.outcomes.figures.pages)
        self.assertFalse(dialog.remove.isEnabled())

    def write_in(self, dialog, name: str, words: str) -> None:
        edit = dialog._edits[name]
        edit.setText(words)
        edit.editingFinished.emit()

    def test_stopped_half_way_it_says_what_was_done_until_then(self) -> None:
        self.live()
        dialog = self.dialog()
        self.write_in(dialog, "count", "50000")
        self.write_in(dialog, "browser", "0")
        self.write_in(dialog, "count", "many")
        self.assertIn("many", dialog.says.text())
        dialog.start.click()
        self.until(lambda: dialog.bar.value() > 5)
        dialog.stop.click()
        self.assertIn("come to their end", dialog.says.text())
        self.until(lambda: "counted exactly" in dialog.says.text())
        self.assertLess(dialog.bar.value(), 2000)
        self.assertTrue(dialog.start.isEnabled())
        broken = OperationalError("x", {}, Exception("locked"))
        with mock.patch("needle.ui.measure.practising.take_out", side_effect=broken), \
                self.assertLogs("needle.ui.measure.practising", "ERROR"):
            dialog.remove.click()
            self.until(lambda: "Nothing was changed" in dialog.says.text())
        self.assertTrue(dialog.remove.isEnabled())
