"""What counts is chosen on the page itself, by mouse and by keys."""

from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from needle.core.edit.counted import set_counted
from needle.core.edit.nodes import set_words
from needle.core.edit.place import EditError
from needle.core.measure.goals import GoalKind
from needle.core.values.actions import CountGoal
from needle.core.values.words import Run
from tests.sites import FORM, THANKS
from tests.ui.test_stages import StageTest


class ChoosingTest(StageTest):
    def setUp(self) -> None:
        super().setUp()
        self.window.commands.run("measure.choose")
        self.dialog = self.window.stages["Measure"].goals.choosing
        self.addCleanup(self.dialog.reject)
        self.until(lambda: self.dialog.ticks.place("button1") is not None)

    def goals(self) -> list[str]:
        node = next(node for node in self.session.page.variants[0].nodes() if node.id == "button1")
        return [one.name for one in node.actions if isinstance(one, CountGoal)]

    def row(self, node: str) -> int:
        return next(row for row, one in enumerate(self.dialog._choices) if one.node == node)

    def test_a_click_on_the_page_has_it_counted_and_undo_takes_it_back(self) -> None:
        place = self.dialog.ticks.place("button1")
        QTest.mouseClick(self.dialog.ticks, Qt.MouseButton.LeftButton, pos=place.center())
        (name,) = self.goals()
        item = self.dialog.list.item(self.row("button1"))
        self.assertEqual(item.checkState(), Qt.CheckState.Checked)
        self.assertIn(name, item.text())
        self.assertIn("2 of 2 count", self.dialog.says.text())
        self.dialog.accept()
        goals = self.window.stages["Measure"].goals
        self.window.stages["Measure"].show_part("Goals")
        self.until(lambda: [goal.name for goal in goals._goals if goal.kind is GoalKind.CLICK] == [
            name])
        self.session.undo()
        self.assertEqual(self.goals(), [])

    def test_by_keys_in_the_list_and_a_form_counts_by_itself(self) -> None:
        self.dialog.list.setCurrentRow(self.row("button1"))
        QTest.keyClick(self.dialog.list, Qt.Key.Key_Space)
        self.assertEqual(len(self.goals()), 1)
        QTest.keyClick(self.dialog.list, Qt.Key.Key_Space)
        self.assertEqual(self.goals(), [])
        form = next(one for one in self.dialog._choices if one.fixed)
        self.assertEqual(form.kind, GoalKind.FORM)
        before = self.session.site
        self.dialog.turn(form.node)
        self.assertIn("counts by itself", self.dialog.says.text())
        self.assertIs(self.session.site, before)

    def test_a_link_among_words_starts_unticked_and_is_ticked_where_it_stands(self) -> None:
        self.session.edit("link", lambda site: set_words(site, "text1", ((
            Run("See "), Run("the thanks", link=f"page:{THANKS}")),)))
        self.dialog._show_page()
        key = f"text1|page:{THANKS}"
        self.until(lambda: self.dialog.ticks.place(key) is not None)
        choice = next(one for one in self.dialog._choices if one.key == key)
        self.assertEqual((choice.goal, choice.words), ("", "the thanks"))
        QTest.mouseClick(self.dialog.ticks, Qt.MouseButton.LeftButton,
                         pos=self.dialog.ticks.place(key).center())
        self.assertEqual([(one.to, one.name) for one in self.session.page.links],
                         [(f"page:{THANKS}", "the thanks")])
        self.dialog.turn(key)
        self.assertEqual(self.session.page.links, ())

    def test_so_much_seen_counts_by_a_tick(self) -> None:
        depth, stay = self.dialog.reaches
        depth.tick.click()
        stay.tick.click()
        depth.amount.setText("50")
        depth.amount.editingFinished.emit()
        self.assertEqual([(one.name, one.amount) for one in self.session.page.reaches],
                         [("Stayed 60 seconds", 60), ("Seen to 50 %", 50)])
        stay.tick.click()
        self.session.undo()
        self.assertEqual(len(self.session.page.reaches), 2)

    def test_another_page_and_what_cannot_count(self) -> None:
        self.dialog.page.chosen.emit(None)
        self.dialog.page.show_value(f"{THANKS}.A")
        self.dialog._show_page()
        self.until(lambda: "Nothing on this page can count" in self.dialog.says.text())
        with self.assertRaises(EditError):
            set_counted(self.session.site, "head1", "x")
        self.assertTrue(any(form.id == FORM for form in self.session.site.forms))
