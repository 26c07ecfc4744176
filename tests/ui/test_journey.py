"""The way of visitors, driven through its screen."""

import time
from datetime import UTC, datetime, timedelta

from PyQt6.QtCore import QDate, Qt
from PyQt6.QtTest import QTest

from needle.core.edit.pages import split_page
from needle.core.measure.events import Event, EventKind
from needle.store.results.book import change_lead
from needle.store.results.stream import take_events
from needle.store.results.taking import NewLead, take_lead
from needle.ui.measure.twotimes import EPOCH, TwoTimesDialog
from tests.sites import EMAIL, FORM, NAME, PAGE
from tests.ui.test_stages import StageTest

HOME = f"page:{PAGE}"
DAY_MS = 86_400_000


class JourneyTest(StageTest):
    def setUp(self) -> None:
        super().setUp()
        self.window.show_stage("Measure")
        self.journey = self.window.stages["Measure"].journey
        self.until(lambda: self.journey.reading is not None)

    def come(self, visitors: int, *then: tuple[EventKind, str, int], source: str = "post",
             device: str = "phone", days_ago: int = 0) -> None:
        at = int(time.time() * 1000) - days_ago * DAY_MS
        told = []
        for number in range(visitors):
            who = f"{source}{device}{days_ago}{len(then)}-{number}"
            common = {"visitor": who, "page": PAGE, "variant": "A"}
            told.append(Event(at_ms=at, kind=EventKind.VISIT, source=source, device=device,
                              **common))
            told += [Event(at_ms=at + 100 * n, kind=kind, what=what, amount=amount, **common)
                     for n, (kind, what, amount) in enumerate(then, 1)]
        take_events(self.window.outcomes.engine, told)

    def shown(self, visits: int) -> None:
        """Wait until so many visits are shown."""
        self.window.outcomes.look()
        self.until(lambda: self.journey.reading.now.visits == visits)

    def come_in_three_ways(self) -> None:
        self.come(300, days_ago=40)
        self.come(100, (EventKind.OPEN, FORM, 0), days_ago=40)
        self.come(80)
        self.come(20, (EventKind.OPEN, FORM, 0), (EventKind.FIELD, f"{FORM}.{NAME}", 2000),
                  (EventKind.FAULT, f"{FORM}.{EMAIL}", 0), (EventKind.STOP, f"{FORM}.{EMAIL}", 0),
                  source="search", device="desktop")
        self.come(10, (EventKind.OPEN, FORM, 0), (EventKind.FIELD, f"{FORM}.{NAME}", 4000),
                  (EventKind.LEAD, FORM, 0))
        self.shown(110)

    def test_an_empty_screen_offers_the_first_step(self) -> None:
        self.assertIn("Nobody has come", self.journey._head.title.text())
        self.assertFalse(self.journey.flow.isVisible())
        self.press_button("Send pages")
        self.assertIs(self.window._stack.currentWidget(), self.window.stages["Publish"])

    def test_where_they_left_is_said_with_its_figures(self) -> None:
        self.come_in_three_ways()
        self.assertIn("Of 100 visits that came to Night, 73 ended there; against the time before",
                      self.journey._head.title.text())
        self.assertIn("10 of 110 visits converted (9.1 %)", self.journey._says.text())
        self.assertIn("More end there on the phone (88.9 %) than on the desktop (0.0 %)",
                      self.journey._says.text())
        rows = [[self.journey.steps.item(row, column).text() for column in range(7)]
                for row in range(self.journey.steps.rowCount())]
        self.assertEqual(rows[0][:5], ["Night → Form Places", "110", "30", "27.3 %", "25.0 %"])
        self.assertRegex(rows[0][5], r"^\+2\.3 \(−\d\.\d … \+1\d\.\d\)$")
        self.assertEqual(rows[1][1:4], ["30", "10", "33.3 %"])
        self.assertEqual(rows[1][6], "20 gave up at “E-mail”")
        fields = [[self.journey.fields.item(row, column).text() for column in range(5)]
                  for row in range(self.journey.fields.rowCount())]
        self.assertEqual(fields, [["Your name", "30", "2.7", "0", "0"],
                                  ["E-mail", "0", "–", "20", "20"]])

    def test_a_click_or_a_key_on_a_place_shows_only_visits_by_way_of_it(self) -> None:
        self.come_in_three_ways()
        flow = self.journey.flow
        QTest.mouseClick(flow, Qt.MouseButton.LeftButton,
                         pos=flow.plate("source:search").center().toPoint())
        self.until(lambda: self.journey.reading.now.visits == 20)
        self.assertIn("by way of search only", self.journey._says.text())
        self.press_button("Show all visits")
        self.until(lambda: self.journey.reading.now.visits == 110)
        self.assertFalse(self.journey.all.isVisible())
        flow.setFocus()
        flow._current = ""
        QTest.keyClick(flow, Qt.Key.Key_Left)  # From the end backwards: what converted.
        self.assertIn("Converted: 10 came", flow.accessibleDescription())
        QTest.keyClick(flow, Qt.Key.Key_Return)
        self.until(lambda: self.journey.reading.now.visits == 10)
        self.assertIn("Every visit converted", self.journey._head.title.text())

    def test_time_device_and_source_are_chosen(self) -> None:
        self.come_in_three_ways()
        self.pick("Device", "desktop")
        self.until(lambda: self.journey.reading.now.visits == 20)
        self.pick("Source", "post")
        self.until(lambda: self.journey.reading.now.visits == 0)
        self.assertIn("Nobody has come in this time", self.journey._head.title.text())
        self.assertFalse(self.journey._begin.isVisible(), "it is a choice, not a first step")
        self.pick("Device", "")
        self.pick("Time", 84)
        self.until(lambda: self.journey.reading.now.visits == 490)

    def test_two_times_of_ones_own_are_held_against_each_other(self) -> None:
        self.come_in_three_ways()
        today = int(time.time() // 86_400)
        asking = TwoTimesDialog(self.journey._times(), self.window)
        for days, words in (((3, 1, 0, 0), "ends before"), ((9, 19, 12, 30), "share days"),
                            ((1000, 2000, 0, 5), "two years")):
            for edit, day in zip(asking.days, days, strict=True):
                shown = EPOCH + timedelta(days=day)
                edit.setDate(QDate(shown.year, shown.month, shown.day))
            asking._take()
            self.assertIn(words, asking.said.text())
        self.journey._own = (today - 45, today - 30, today - 3, today)
        self.journey._ask()
        self.until(lambda: self.journey.reading.now.visits == 400)
        self.assertEqual(self.journey.reading.before.visits, 110)
        self.assertIn(", against ", self.journey._when.text())
        self.journey.show_days(7)
        self.until(lambda: self.journey.reading.now.visits == 110)

    def test_hours_variants_and_what_was_won_are_shown(self) -> None:
        self.session.edit("split", lambda site: split_page(site, PAGE, datetime.now(UTC)))
        self.come_in_three_ways()
        engine = self.window.outcomes.engine
        now = int(time.time() * 1000)
        for number, source in enumerate(("poster", "poster", "")):
            lead = take_lead(engine, NewLead(
                key=f"k{number}", at_ms=now, visitor=f"x{number}", form=FORM, form_name="Places",
                page=PAGE, variant="B", email="", answers=[], source=source)).number
            change_lead(engine, lead, status=("won", "lost", "new")[number], tags=())
        take_events(engine, [Event(at_ms=now, visitor="x9", kind=EventKind.VISIT, page=PAGE,
                                   variant="B")])
        self.shown(114)  # Leads of nobody who was seen before are visits of their own.
        brought = self.journey.brought
        self.assertEqual([[brought.item(row, column).text() for column in range(6)]
                          for row in range(2)],
                         [["poster", "Night", "2", "1", "1", "0"],
                          ["No source", "Night", "1", "0", "0", "1"]])
        self.assertIn("1 of 3 leads", self.journey._lead_words.text())
        self.assertRegex(self.journey.hours.accessibleDescription(), r"Most come on \w+day from")
        self.pick("Variant", f"{PAGE}.B")
        self.until(lambda: self.journey.reading.now.visits == 1)

    def test_results_that_do_not_answer_are_said(self) -> None:
        with self.window.outcomes.engine.begin() as connection:
            connection.exec_driver_sql("DROP TABLE day_paths")
        with self.assertLogs("needle.ui.measure.journeyreading", "ERROR"):
            self.journey.go_through(HOME)
            self.until(lambda: self.journey.reading.fault)
        self.assertIn("cannot be read just now", self.journey._head.title.text())
        self.assertFalse(self.journey._begin.isVisible())
