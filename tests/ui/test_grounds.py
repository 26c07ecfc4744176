"""What was found in the window by hand, and is to stay mended."""

import unittest
from unittest import mock

from PyQt6.QtCore import QMimeData, Qt, QTimer
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QInputDialog, QMenuBar, QPlainTextEdit, QWidget

from needle.core.edit.nodes import set_field
from needle.core.render.texts import plain_lines
from needle.publish import live
from needle.ui.commands import Command, CommandSet
from tests.ui.desk import APP, DeskTest


class CommandTest(DeskTest):
    def test_two_commands_never_have_one_id_or_the_same_keys(self) -> None:
        window = QWidget()
        commands = CommandSet(window, QMenuBar(window), print, print)
        commands.add(Command(id="one", menu="M", title="One", keys="F2", run=print))
        with self.assertRaisesRegex(ValueError, "two commands are called one"):
            commands.add(Command(id="one", menu="M", title="Two", run=print))
        with self.assertRaisesRegex(ValueError, "keys F2"):
            commands.add(Command(id="two", menu="M", title="Two", keys="F2", run=print))

    def test_a_command_of_another_stage_brings_that_stage_up(self) -> None:
        for command, stage in (("brief.brand", "Brief"), ("measure.leads", "Measure")):
            self.window.show_stage("Build")
            self.window.commands.run(command)
            self.assertIs(self.window._stack.currentWidget(), self.window.stages[stage])

    def test_every_stage_fits_a_screen_of_1024_by_700_with_the_frame_of_a_window(self) -> None:
        for name in ("Build", "Brief", "Connect", "Publish", "Measure"):
            self.window.show_stage(name)
            QTest.qWait(20)
            least = self.window.minimumSizeHint()
            self.assertLessEqual((least.width(), least.height()), (1024 - 8, 700 - 36), name)
            self.assertLessEqual(least.height(), 700 - 36, name)

    def test_rename_site_renames_it_as_one_step(self) -> None:
        with mock.patch.object(QInputDialog, "getText", return_value=("Dale", True)):
            self.window.commands.run("site.name")
        self.assertEqual(self.session.site.name, "Dale")
        self.assertEqual(self.session.undo_label, "name of the site")
        self.session.undo()
        self.assertEqual(self.session.site.name, "Hill")

    def open_menus(self) -> None:
        """Have every menu look at what can be done, as opening it does."""
        for action in self.window.menuBar().actions():
            action.menu().aboutToShow.emit()

    def test_what_cannot_be_done_is_grey_and_says_why(self) -> None:
        commands, session = self.window.commands, self.session
        session.select("")
        APP.clipboard().setMimeData(QMimeData())
        self.open_menus()
        for name, why in (("edit.undo", "nothing to take back"), ("node.delete", "Choose a part"),
                          ("node.paste", "clipboard holds no words"),
                          ("folder.name", "in no folder"), ("publish.off", "is not live"),
                          ("page.earlier", "change nothing"), ("kept.unlink", "linked first")):
            action = commands.action(name)
            self.assertFalse(action.isEnabled(), name)
            self.assertIn(why, action.toolTip(), name)
            commands.run(name)
            self.assertIn(why, self.window.last_words, name)
        commands._wake()
        self.until(lambda: commands.action("edit.undo").isEnabled())
        menus = [action.menu() for action in self.window.menuBar().actions()]
        menus[0].popup(self.window.mapToGlobal(self.window.rect().center()))
        menus[1].popup(self.window.mapToGlobal(self.window.rect().center()))
        menus[0].hide()  # As the arrows go from one menu to the next.
        QTest.qWait(50)
        self.assertFalse(commands.action("edit.undo").isEnabled())
        menus[1].hide()
        self.until(lambda: commands.action("edit.undo").isEnabled())
        session.select("head1")
        self.open_menus()
        self.assertTrue(commands.action("node.delete").isEnabled())
        self.assertIn("change nothing", commands.action("node.up").toolTip())


class ScriptTest(DeskTest):
    def test_a_second_click_on_a_chosen_row_opens_no_editor(self) -> None:
        tree = self.window.build.script.tree
        self.session.select("head1")
        self.until(lambda: tree.currentIndex().isValid())
        at = tree.visualRect(tree.currentIndex()).center()
        for _ in range(2):
            QTest.mouseClick(tree.viewport(), Qt.MouseButton.LeftButton, pos=at)
            QTest.qWait(APP.doubleClickInterval() + 150)
        self.assertNotEqual(tree.state(), tree.State.EditingState)

    def test_enter_at_the_end_of_a_text_leaves_nothing_behind(self) -> None:
        self.session.select("text1")
        self.window.commands.run("node.edit")
        tree = self.window.build.script.tree
        editor = tree.findChild(QPlainTextEdit)
        editor.moveCursor(editor.textCursor().MoveOperation.End)
        QTest.keyClick(editor, Qt.Key.Key_Return)
        QTest.keyClicks(editor, "Third")
        QTest.keyClick(editor, Qt.Key.Key_Return)
        self.assertEqual(plain_lines(self.session.node("text1"))[-2:], ["Third", ""])
        QTest.keyClick(editor, Qt.Key.Key_Escape)
        self.until(lambda: plain_lines(self.session.node("text1"))[-1] == "Third")
        self.session.undo()
        self.assertEqual(plain_lines(self.session.node("text1")), ["Plain bold", "Second"])

    def test_ending_there_by_choosing_another_changes_only_what_was_typed_in(self) -> None:
        self.session.select("text1")
        self.window.commands.run("node.edit")
        tree = self.window.build.script.tree
        editor = tree.findChild(QPlainTextEdit)
        editor.moveCursor(editor.textCursor().MoveOperation.End)
        QTest.keyClick(editor, Qt.Key.Key_Return)
        other = self.session.node("list1")
        self.session.select("list1")
        tree.itemDelegate().closeEditor.emit(editor)
        self.until(lambda: plain_lines(self.session.node("text1")) == ["Plain bold", "Second"])
        self.assertIs(self.session.node("list1"), other)

    def test_rows_say_to_those_who_hear_them_what_is_painted_beside(self) -> None:
        self.session.select("head2")
        self.window.commands.run("node.hide.phone")
        model = self.window.build.script.tree.model()
        self.until(lambda: "not on phone" in str(model.data(
            model.index_of("head2"), Qt.ItemDataRole.AccessibleTextRole)))


class ConnectAndPublishTest(DeskTest):
    def test_a_new_field_is_chosen(self) -> None:
        self.window.show_stage("Connect")
        forms = self.window.stages["Connect"].forms
        button = next(b for b in forms.board.findChildren(QWidget)
                      if b.accessibleName() == "Add a field or step")
        button.menu().actions()[0].trigger()
        made = self.session.site.forms[0].fields[-1].id
        self.until(lambda: forms._line == ("field", made))
        self.until(lambda: (row := forms.board.row_of(("field", made))) and row.hasFocus())

    def test_sending_leaves_the_window_alive_and_can_be_stopped(self) -> None:
        stage = self.window.stages["Publish"]
        self.window.show_stage("Publish")
        ticks: list[int] = []
        write = live._kept

        def slow(*told: object) -> object:
            self.assertTrue(stage.bar.busy)
            deadline = len(ticks) + 3
            while len(ticks) < deadline:  # Only a window that goes on lets this pass.
                pass
            return write(*told)  # type: ignore[arg-type]

        timer = QTimer()
        timer.timeout.connect(lambda: ticks.append(1))
        timer.start(5)
        with mock.patch.object(live, "_kept", slow):
            stage.send()
        timer.stop()
        self.assertIn("live at", self.window.last_words)
        self.session.edit("x", lambda site: set_field(site, "head1", "rank", 2))
        with mock.patch.object(live, "_kept", lambda *told: (
                stage.bar.ask_stop(), write(*told))[1]):
            stage.send()
        self.assertIn("Stopped", self.window.last_words)
        self.assertNotEqual(self.window.outcomes.since.changes(self.session.page), [])


if __name__ == "__main__":
    unittest.main()
