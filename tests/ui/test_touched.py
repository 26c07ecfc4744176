"""Clicks and depth are shown over the page and in words, by device and time."""

import time

from needle.core.measure.events import Event, EventKind
from needle.store.results.stream import take_events
from needle.store.results.touches import touch_counts
from tests.sites import PAGE
from tests.ui.test_stages import StageTest

DAY_MS = 86_400_000


class TouchTest(StageTest):
    def did(self, visitor: str, kind: EventKind, days_ago: int = 0, **more: object) -> Event:
        return Event(at_ms=int(time.time() * 1000) - days_ago * DAY_MS, visitor=visitor, kind=kind,
                     page=PAGE, variant="A", **more)

    def test_what_happened_is_drawn_and_said_by_device_and_time(self) -> None:
        opening = self.session.page.variants[0].children[0]
        engine = self.window.outcomes.engine
        take_events(engine, [
            event for number, (device, days, deep) in enumerate(
                (("phone", 0, 100), ("phone", 0, 43), ("phone", 10, 9), ("desktop", 0, 77)))
            for event in (
                self.did(f"v{number}", EventKind.VISIT, days, device=device),
                self.did(f"v{number}", EventKind.TOUCH, days, what=opening.id,
                         amount=250 * 500 + 499),
                self.did(f"v{number}", EventKind.TOUCH, days, what="popup1", amount=0),
                self.did(f"v{number}", EventKind.TOUCH, days, what="gone", amount=0),
                self.did(f"v{number}", EventKind.DEPTH, days, what="page", amount=deep))])
        today = int(time.time() * 1000) // DAY_MS
        found = touch_counts(engine, PAGE, "A", today - 1, today, "phone")
        spot = next(spot for spot in found.clicks if spot.part == opening.id)
        self.assertEqual((spot.times, spot.across, spot.down), (2, 20.5 / 40, 39.5 / 40))
        self.assertEqual([found.seen_to(tenth) for tenth in (1, 4, 5, 10)], [1, 1, 0.5, 0.5])
        self.window.show_stage("Measure")
        self.window.commands.run("measure.touches")
        dialog = self.window.stages["Measure"].touches
        self.addCleanup(dialog.reject)
        dialog.period.show_value(7)
        dialog.refresh()
        self.until(lambda: dialog.says.text().startswith("6 clicks; 2 visits"))
        rows = {dialog.clicks.item(row, 0).text(): dialog.clicks.item(row, 1).text()
                for row in range(dialog.clicks.rowCount())}
        self.assertEqual(rows, {opening.name: "2", "Popup Sign-up": "2",
                                "No longer on the page": "2"})
        self.assertEqual(dialog.seen.item(9, 1).text(), "50 %")
        self.until(lambda: opening.id in dialog.map._boxes)
        self.assertEqual(dialog.map.width(), 390)
        dialog.device.show_value("tablet")
        dialog.refresh()
        self.until(lambda: dialog.says.text().startswith("Nothing is known"))
