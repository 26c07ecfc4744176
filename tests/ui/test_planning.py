"""Planning a split test in the real window: own figures in, days out, and the first step."""

import time
from dataclasses import replace

from PyQt6.QtTest import QTest

from needle.store.results.counting import Traffic, traffic
from needle.store.results.tables import open_results
from needle.ui.figures import Figures
from needle.ui.measure.planning import PlanDialog
from tests.sites import PAGE, THANKS
from tests.told import take_goal, take_visit
from tests.ui.test_stages import StageTest

DAY_MS = 86_400_000


class PlanTest(StageTest):
    def setUp(self) -> None:
        super().setUp()
        self.window.show_stage("Measure")
        self.window.stages["Measure"].show_part("Split tests")
        self.now = int(time.time() * 1000)

    def come(self, visitors: int, won: int, days_ago: float, page: str = PAGE) -> None:
        engine = open_results(f"sqlite:///{self.folder}/results.db")
        for number in range(visitors):
            told = {"visitor": f"v{days_ago}-{number}", "page": page, "variant": "A",
                    "at_ms": self.now - int(days_ago * DAY_MS)}
            take_visit(engine, **told, source="", campaign="", device="phone")
            if number < won:
                take_goal(engine, **told, goal="call")
        engine.dispose()

    def dialog(self) -> PlanDialog:
        made = PlanDialog(self.session, self.window.outcomes, self.window)
        self.addCleanup(made.close)
        made.show()
        return made

    def test_what_came_lately_is_counted_once_a_visitor(self) -> None:
        self.now = self.now // DAY_MS * DAY_MS - DAY_MS // 2  # A noon, at whatever hour this runs.
        self.come(40, 4, 10)
        self.come(20, 2, 30)
        self.come(5, 1, 0.25, THANKS)
        engine = open_results(f"sqlite:///{self.folder}/results.db")
        self.addCleanup(engine.dispose)
        take_visit(engine, visitor="v10-1", page=PAGE, variant="A", at_ms=self.now - DAY_MS,
                   source="", campaign="", device="phone")
        found = traffic(engine, self.now)
        self.assertEqual((found[PAGE].visitors, found[PAGE].conversions), (40, 4))
        self.assertEqual(found[PAGE].days, 10.5)
        self.assertAlmostEqual(found[PAGE].visitors_a_day, 40 / 10.5)
        self.assertEqual(found[THANKS].days, 1)
        self.assertEqual(traffic(engine, self.now - 60 * DAY_MS), {})
        self.assertEqual(Traffic(0, 0, 1).rate, 0)

    def test_a_page_without_figures_says_so_and_can_be_guessed(self) -> None:
        dialog = self.dialog()
        self.assertIn("yours to guess", dialog._from.text())
        before = dialog._days.text()
        dialog._edits["visitors"].setText("1000")
        dialog._edits["visitors"].editingFinished.emit()
        self.assertNotEqual(dialog._days.text(), before)
        self.assertTrue(dialog._bolder.isHidden())
        dialog._edits["visitors"].setText("5")
        dialog._edits["visitors"].editingFinished.emit()
        self.assertIn("try a bolder change", dialog._bolder.text())
        self.assertIn("years", dialog._days.text())
        dialog._edits["gain"].setText("many")
        dialog._edits["gain"].editingFinished.emit()
        self.assertIn("not “many”", dialog._from.text())
        dialog._edits["gain"].setText("")
        dialog._edits["gain"].editingFinished.emit()
        self.assertEqual(dialog._edits["gain"].text(), "20")
        dialog._edits["rate"].setText("90")
        dialog._edits["rate"].editingFinished.emit()
        self.assertIn("no such test", dialog._days.text())

    def test_what_is_counted_meanwhile_is_filled_in_unless_one_types(self) -> None:
        known = self.window.outcomes.figures
        for types in (False, True):
            self.window.outcomes.figures = Figures()
            dialog = self.dialog()
            self.assertIn("still being counted", dialog._from.text())
            if types:
                dialog._edits["rate"].setText("7")
                dialog._edits["rate"].editingFinished.emit()
            self.window.outcomes.figures = replace(known, known=True, lately={
                PAGE: Traffic(100, 3, 10)})
            self.window.outcomes.changed.emit()
            self.assertEqual(dialog._edits["rate"].text(), "7" if types else "3")

    def test_own_figures_are_filled_in_and_the_test_begun(self) -> None:
        self.come(280, 28, 14)
        self.window.outcomes.look()
        self.until(lambda: PAGE in self.window.outcomes.figures.lately)
        dialog = self.dialog()
        self.assertRegex(dialog._from.text(), "1[45] days 280 visitors came, and 28 of them")
        self.assertEqual(dialog._edits["rate"].text(), "10")
        self.assertIn(dialog._edits["visitors"].text(), ("19", "20"), "by the day that it is")
        plan = dialog.plan()
        assert plan is not None
        self.assertIn(f"{plan.visitors:,} visitors in all", dialog._words.text())
        dialog.begun.connect(self.window.stages["Measure"].splits._begin)
        dialog._begin.click()
        self.assertEqual([v.key for v in self.session.site.page(PAGE).variants], ["A", "B"])
        self.assertEqual(self.session.variant.key, "B")
        QTest.qWait(10)
        self.session.undo()
        self.assertFalse(self.session.site.page(PAGE).tested)
