"""What counts: listed with how often it was reached, and an outside call made from nothing."""

import time

from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from needle.core.edit.domain import set_domain
from needle.core.edit.nodes import set_field, set_words
from needle.core.measure.goals import GoalKind, goals_of
from needle.core.values.actions import CountGoal, Dial, OpenPopup
from needle.core.values.words import Run
from needle.publish.live import send_pages
from tests.sites import FORM, PAGE
from tests.told import take_goal
from tests.ui.test_stages import StageTest


class GoalsTest(StageTest):
    def setUp(self) -> None:
        super().setUp()
        self.window.show_stage("Measure")
        self.stage = self.window.stages["Measure"]
        self.stage.show_part("Goals")
        self.goals = self.stage.goals

    def rows(self) -> list[list[str]]:
        table = self.goals.table
        return [[table.item(row, column).text() for column in range(4)]
                for row in range(table.rowCount())]

    def says(self) -> str:
        return self.goals._says.text()

    def count(self, goal: str) -> None:
        take_goal(self.window.outcomes.engine, at_ms=int(time.time() * 1000), visitor="v" * 24,
                  page=PAGE, variant="A", goal=goal)
        self.window.outcomes.look()
        self.until(lambda: goal in self.window.outcomes.figures.reached)

    def type_into(self, edit, words: str) -> None:
        edit.setFocus()
        edit.selectAll()
        QTest.keyClicks(edit, words)
        QTest.keyClick(edit, "\r")

    def test_clicks_and_forms_are_told_apart_and_lead_to_their_item(self) -> None:
        self.session.edit("count", lambda site: set_field(site, "button1", "actions", (
            Dial("+44 1"), CountGoal("called us"), OpenPopup("popup1"))))
        self.assertEqual([(goal.kind, goal.key, goal.pages) for goal in goals_of(
            self.session.site)], [(GoalKind.FORM, FORM, (PAGE,)), (
                GoalKind.PHONE, "called us", (PAGE,))])
        self.count("called us")
        self.until(lambda: len(self.rows()) == 2 and self.rows()[1][3] == "1")
        self.assertEqual(self.rows()[1][1], "phone tap")
        self.goals.table.selectRow(1)
        self.press_button("Show it in Build")
        self.assertTrue(self.window.build.isVisible())
        self.assertEqual(self.session.selection, "button1")

    def test_an_outside_call_says_what_is_left_until_it_is_called(self) -> None:
        self.press_button("New outside call")
        self.assertEqual(self.says(), "Say with which address its pages begin.")
        self.type_into(self.goals._name, "Ticket bought")
        self.type_into(self.goals._begins, "shop.example/book")
        self.assertEqual(self.session.site.calls[0].begins, "https://shop.example/book")
        self.assertIn("No page of yours links there", self.says())
        self.session.edit("link", lambda site: set_words(site, "head1", ((
            Run("Tickets", link="https://shop.example/book/7"),),)))
        self.until(lambda: self.says().startswith("Send "))
        send_pages(self.session.site, self.folder, [PAGE])
        self.window.outcomes.look()
        self.until(lambda: self.says().startswith("Nothing was called in yet"))
        self.count(self.session.site.calls[0].id)
        self.until(lambda: self.says() == "Pages made elsewhere call this in.")
        self.assertEqual(self.rows()[1][:2] + self.rows()[1][3:], [
            "Ticket bought", "outside call", "1"])
        self.session.edit("domain", lambda site: set_domain(site, "www.hill.example"))
        self.until(self.goals._lines[0].toPlainText)
        self.goals._copy(self.goals._lines[0])
        self.assertIn(self.session.site.calls[0].key, self.goals._lines[0].toPlainText())
        self.assertEqual(QApplication.clipboard().text(), self.goals._lines[0].toPlainText())
        self.type_into(self.goals._begins, "no address at all")
        self.assertEqual(self.session.site.calls[0].begins, "https://shop.example/book")
        self.press_button("Remove")
        self.assertEqual(self.rows()[1][1], "no longer counted")
        self.session.undo()
        self.until(lambda: self.rows()[1][1] == "outside call")
