"""The window sees how the host fares, says it, and begins it again."""

import os
import signal

from needle.publish.live import send_pages
from needle.publish.releases import live_folder
from needle.running.stand import Stand
from needle.ui.watching import Watch
from needle.ui.window import Window
from tests.ui.desk import DeskTest


class WatchTest(DeskTest):
    def setUp(self) -> None:
        super().setUp()
        send_pages(self.session.site, self.folder, [p.id for p in self.session.site.pages])
        self.stand = Stand(self.folder, 0, ())
        self.addCleanup(self.stand.stop)
        self.watch = Watch(self.window.outcomes, self.stand)
        self.addCleanup(self.watch.end)
        self.told: list[tuple[str, bool]] = []
        self.watch.told.connect(lambda words, fault: self.told.append((words, fault)))

    def look_until(self, holds) -> None:  # type: ignore[no-untyped-def]
        def looked() -> bool:
            self.watch.look()
            return bool(holds())

        self.until(looked)

    def test_a_host_that_has_ended_is_begun_again(self) -> None:
        host = self.stand.child("host")
        os.kill(host.pid, signal.SIGKILL)
        self.until(lambda: not host.alive)
        self.look_until(lambda: self.stand.child("host") is not host
                        and self.stand.child("host").alive)

    def test_what_the_host_says_is_told_once_and_so_is_its_end(self) -> None:
        file = live_folder(self.folder) / "live.json"
        good = file.read_bytes()
        file.write_bytes(b"{")
        self.look_until(lambda: self.told)
        self.assertTrue(self.told[0][1])
        self.assertIn("list of live pages is broken", self.told[0][0])
        for _ in range(5):
            self.watch.look()
        file.write_bytes(good)
        self.look_until(lambda: len(self.told) > 1)
        self.assertEqual((len(self.told), self.told[1][1]), (2, False))
        self.assertIn("All is well again", self.told[1][0])

    def test_deliveries_that_wait_stand_in_the_seam(self) -> None:
        self.assertIsInstance(self.window, Window)
        self.window.watch.waiting = 3
        self.window.refresh()
        stage = self.window.seam._stages["Connect"]
        self.assertIn("3 deliveries wait", stage.accessibleDescription())
