"""Small editors, the Script's model and the session, each on its own."""

import random
import tempfile
import unittest
from collections.abc import Callable
from pathlib import Path
from unittest import mock

from PyQt6.QtCore import QModelIndex, QPoint, Qt
from PyQt6.QtTest import QAbstractItemModelTester, QTest

from needle.core.edit.nodes import set_words
from needle.core.site.starter import starter_brand
from needle.core.values.words import text
from needle.store.project import Project, ProjectError, read_site
from needle.ui.builder.scriptmodel import ScriptModel
from needle.ui.editors import ChoiceEdit, ColourEdit, DragLabel, NumberEdit, Segments, WordsEdit
from needle.ui.session import Session
from tests.randomly import KINDS_OF_EDIT, SIDES, random_edit
from tests.sites import PAGE, THANKS, small_site
from tests.ui.desk import APP

LEFT = Qt.MouseButton.LeftButton


class EditorTest(unittest.TestCase):
    def shown(self, widget):  # type: ignore[no-untyped-def]
        widget.show()
        self.addCleanup(widget.deleteLater)
        self.taken: list[object] = []
        for signal in ("chosen", "kept"):
            if hasattr(widget, signal):
                getattr(widget, signal).connect(self.taken.append)
        return widget


class NumberEditTest(EditorTest):
    def number(self) -> NumberEdit:
        return self.shown(NumberEdit("Size", 8, 200, 1, "px"))

    def test_typed_stepped_and_emptied(self) -> None:
        number = self.number()
        number.show_value(20, 17)
        number.selectAll()
        QTest.keyClicks(number, "24,5")
        QTest.keyClick(number, Qt.Key.Key_Return)
        QTest.keyClick(number, Qt.Key.Key_Up)
        QTest.keyClick(number, Qt.Key.Key_Down, Qt.KeyboardModifier.ShiftModifier)
        number.clear()
        QTest.keyClick(number, Qt.Key.Key_Return)
        self.assertEqual(self.taken, [24.5, 25.5, 15.5, None])
        self.assertEqual(number.placeholderText(), "17")

    def test_steps_stop_at_the_limits_and_start_from_what_is_inherited(self) -> None:
        number = self.number()
        number.show_value(None, 199)
        for _ in range(3):
            QTest.keyClick(number, Qt.Key.Key_Up)
        self.assertEqual(self.taken, [200, 200, 200])

    def test_what_is_no_number_is_refused_and_put_back(self) -> None:
        number = self.number()
        number.show_value(20)
        refused: list[str] = []
        number.refused.connect(refused.append)
        for words in ("abc", "7", "1e9", "nan"):
            number.selectAll()
            QTest.keyClicks(number, words)
            QTest.keyClick(number, Qt.Key.Key_Return)
        self.assertEqual((self.taken, number.text(), len(refused)), ([], "20", 4))
        self.assertIn("8 to 200 px, not “abc”", refused[0])

    def test_showing_reports_nothing(self) -> None:
        number = self.number()
        number.show_value(30, 10)
        number.show_value(None, 10)
        self.assertEqual(self.taken, [])

    def test_dragging_the_label_changes_the_number(self) -> None:
        number = self.number()
        number.show_value(20)
        label = DragLabel("Size", number)
        self.addCleanup(label.deleteLater)
        label.resize(100, 20)
        label.show()
        QTest.mousePress(label, LEFT, pos=QPoint(10, 10))
        QTest.mouseMove(label, QPoint(30, 10))
        QTest.mouseRelease(label, LEFT, pos=QPoint(30, 10))
        self.assertEqual(number.text(), "25")


class OtherEditorTest(EditorTest):
    def test_a_choice_shows_what_is_inherited_in_brackets(self) -> None:
        choice = self.shown(ChoiceEdit("Weight", {400: "Regular", 600: "Semi"}))
        choice.show_value(None, 600)
        self.assertEqual(choice.currentText(), "(Semi)")
        choice.show_value(400, 600)
        self.assertEqual(choice.currentText(), "Regular")
        QTest.keyClick(choice, Qt.Key.Key_Down)
        self.assertEqual(self.taken, [600])

    def test_a_colour_offers_the_brand_and_its_own(self) -> None:
        colour = self.shown(ColourEdit("Fill"))
        colour.show_value("main", starter_brand())
        self.assertEqual(colour.text(), "Main action")
        menu = colour.menu()
        menu.aboutToShow.emit()
        names = [action.text() for action in menu.actions() if action.text()]
        self.assertEqual(names, ["Ink", "Paper", "Main action", "Words on main", "Accent", "Mist",
                                 "Quiet ink",
                                 "Another colour…", "Leave it to the style"])
        menu.actions()[0].trigger()
        menu.actions()[-1].trigger()
        self.assertEqual(self.taken, ["ink", None])

    def test_words_are_taken_once_and_not_overwritten_while_typed(self) -> None:
        words = self.shown(WordsEdit("Name", "Old"))
        words.activateWindow()
        words.setFocus()
        words.end(False)
        APP.processEvents()
        QTest.keyClicks(words, " er")
        words.show_words("From elsewhere")
        self.assertEqual(words.text(), "Old er")
        QTest.keyClick(words, Qt.Key.Key_Return)
        QTest.keyClick(words, Qt.Key.Key_Return)
        self.assertEqual(self.taken, ["Old er"])
        words.show_words("From elsewhere")
        self.assertEqual(words.text(), "From elsewhere")

    def test_segments_mark_and_report(self) -> None:
        segments = self.shown(Segments("For", {"a": "A", "b": "B"}))
        segments.show_values(["a"])
        self.assertTrue(segments.button("a").isChecked())
        QTest.mouseClick(segments.button("b"), LEFT)
        self.assertEqual(self.taken, ["b"])


def wait_for(holds: Callable[[], object], within_ms: int) -> bool:
    """Let the event loop run until something holds, and return whether it came to."""
    for _ in range(within_ms // 10):
        if holds():
            return True
        QTest.qWait(10)
    return False


class SessionTest(unittest.TestCase):
    def setUp(self) -> None:
        name = tempfile.TemporaryDirectory()
        self.addCleanup(name.cleanup)
        self.folder = Path(name.name) / "project"
        self.session = Session(Project.create(self.folder, small_site()))
        self.addCleanup(self.session.close)

    def write(self, words: str, node: str = "head1") -> bool:
        return self.session.edit("words", lambda s: set_words(s, node, (text(words),)))

    def test_edits_are_announced_with_who_asked_and_saved_by_themselves(self) -> None:
        seen = []
        self.session.changed.connect(lambda change: seen.append(change.asker))
        self.session.edit("words", lambda s: set_words(s, "head1", (text("New"),)), asker=self)
        self.assertEqual(seen, [self])
        self.assertTrue(wait_for(lambda: not self.session.unsaved, 60_000))
        self.assertEqual(read_site(self.folder), self.session.site)

    def test_a_refused_edit_is_said_and_changes_nothing(self) -> None:
        said = []
        self.session.said.connect(lambda words, fault: said.append((words, fault)))
        site = self.session.site
        self.assertFalse(self.write("x", "gone"))
        self.assertEqual(said, [("This part is no longer on the page.", True)])
        self.assertIs(self.session.site, site)

    def test_a_save_that_fails_is_said_and_tried_again(self) -> None:
        faults = []
        self.session.saved.connect(faults.append)
        with mock.patch.object(Project, "save", side_effect=ProjectError(
                    "project-not-saved", folder="hill", why="the disk is full")), \
                mock.patch("needle.ui.saving._AGAIN_MS", 50):
            self.write("New")
            self.assertTrue(wait_for(lambda: len(faults) >= 2, 60_000))
        self.assertIn("the disk is full", faults[0])
        self.assertTrue(wait_for(lambda: not self.session.unsaved, 60_000))

    def test_undoing_a_new_page_shows_one_that_is_there(self) -> None:
        from needle.core.edit.pages import add_page, delete_page

        self.session.edit("page", lambda s: add_page(s, "Third")[0])
        self.session.show_page(self.session.site.pages[-1].id)
        self.session.undo()
        self.assertEqual(self.session.page.id, PAGE)
        self.session.show_page(THANKS)
        self.session.edit("delete", lambda s: delete_page(s, THANKS))
        self.assertEqual(self.session.page.id, PAGE)

    def test_a_choice_that_is_gone_is_let_go(self) -> None:
        from needle.core.edit.nodes import delete

        self.session.select("head1")
        self.session.edit("delete", lambda s: delete(s, "head1"))
        self.assertEqual(self.session.selection, "")
        self.session.go_to("thead")
        self.assertEqual((self.session.page.id, self.session.selection), (THANKS, "thead"))


class ScriptModelTest(unittest.TestCase):
    def setUp(self) -> None:
        name = tempfile.TemporaryDirectory()
        self.addCleanup(name.cleanup)
        self.session = Session(Project.create(Path(name.name) / "p", small_site()))
        self.addCleanup(self.session.close)
        self.model = ScriptModel(lambda _: 0)
        self.tester = QAbstractItemModelTester(
            self.model, QAbstractItemModelTester.FailureReportingMode.Fatal)
        self.model.show(self.session.context())

    def rows(self, parent: QModelIndex | None = None) -> list[object]:
        parent = parent or QModelIndex()
        indexes = [self.model.index(r, 0, parent) for r in range(self.model.rowCount(parent))]
        return [(self.model.row_at(i).id, i.data(), self.rows(i)) for i in indexes]

    def test_the_outline_follows_any_edits_as_if_made_afresh(self) -> None:
        rng = random.Random(3)
        for _ in range(80):
            step = (rng.choice((*KINDS_OF_EDIT, "delete")), rng.randrange(100),
                    rng.randrange(100), rng.choice(SIDES))
            self.session.edit("step", lambda s, st=step: random_edit(s, st))
            self.model.show(self.session.context())
            fresh = ScriptModel(lambda _: 0)
            fresh.show(self.session.context())
            mine, self.model, keep = self.rows(), fresh, self.model
            self.assertEqual(mine, self.rows())
            self.model = keep

    def test_rows_say_what_they_do(self) -> None:
        index = self.model.index_of("button1")
        self.assertEqual(self.model.row_at(index).note, "opens Sign-up")
        self.assertFalse(self.model.index_of("gone").isValid())
