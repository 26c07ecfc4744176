import unittest

from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest

from needle.core.edit.nodes import set_words
from needle.core.render.texts import plain_lines
from needle.core.values.widths import Width
from needle.core.values.words import text
from tests.ui.desk import APP, DeskTest

CTRL, SHIFT = Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.ShiftModifier


class TypingTest(DeskTest):
    def words(self, node: str) -> list[str]:
        found = self.session.node(node)
        return plain_lines(found) if found else []

    def test_words_typed_in_the_desktop_view_show_everywhere_and_undo_step_by_step(self) -> None:
        start = self.session.site
        self.click(self.desktop, "head1")
        self.press(Qt.Key.Key_A, CTRL)
        self.type("New words")
        self.until(lambda: self.words("head1") == ["New words"])
        self.until(lambda: self.text(self.phone, "head1") == "New words")
        self.until(lambda: "New words" in self.script_rows())
        self.window.build.script.tree.setFocus()
        self.session.select("button1")
        QTest.qWait(80)
        self.press(Qt.Key.Key_F2)
        self.until(lambda: APP.focusWidget() is not self.window.build.script.tree)
        APP.focusWidget().selectAll()
        self.type("Book")
        self.until(lambda: self.words("button1") == ["Book"])
        for view in (self.desktop, self.phone):
            self.until(lambda v=view: self.text(v, "button1") == "Book")
        self.press(Qt.Key.Key_Return)
        typed = self.session.site
        self.assertEqual(self.session.undo_label, "words of button")
        self.press(Qt.Key.Key_Z, CTRL)
        self.until(lambda: self.text(self.desktop, "button1") == "Keep me a place")
        self.press(Qt.Key.Key_Z, CTRL)
        self.until(lambda: self.text(self.desktop, "head1") == "Old words")
        self.assertEqual(self.session.site, start)
        self.press(Qt.Key.Key_Z, CTRL, SHIFT)
        self.press(Qt.Key.Key_Z, CTRL, SHIFT)
        self.until(lambda: self.text(self.phone, "button1") == "Book")
        self.assertEqual(self.session.site, typed)

    def test_undo_while_typing_takes_back_in_the_view_with_the_caret(self) -> None:
        self.click(self.desktop, "head1")
        self.press(Qt.Key.Key_End)
        self.type(" here")
        self.until(lambda: self.words("head1") == ["Old words here"])
        self.press(Qt.Key.Key_Z, CTRL)
        self.until(lambda: self.text(self.desktop, "head1") == "Old words")
        self.assertEqual(self.text(self.phone, "head1"), "Old words")
        self.type("!")
        self.until(lambda: self.words("head1") == ["Old words!"])

    def test_paragraphs_split_at_enter_and_keep_their_marks(self) -> None:
        self.click(self.desktop, "text1")
        self.press(Qt.Key.Key_End, CTRL)
        self.press(Qt.Key.Key_Return)
        self.type("Third")
        self.until(lambda: self.words("text1") == ["Plain bold", "Second", "Third"])
        node = self.session.node("text1")
        self.assertTrue(node.words[0][1].strong)
        self.until(lambda: self.text(self.phone, "text1").split() == [
            "Plain", "bold", "Second", "Third"])

    def test_pasted_markup_comes_in_as_words_only(self) -> None:
        self.click(self.desktop, "head2")
        mime = APP.clipboard()
        from PyQt6.QtCore import QMimeData
        data = QMimeData()
        data.setHtml("<b onclick=alert(1)>Bold</b><script>bad()</script>")
        data.setText("<script>bad()</script>")
        mime.setMimeData(data)
        self.press(Qt.Key.Key_A, CTRL)
        self.press(Qt.Key.Key_V, CTRL)
        self.until(lambda: self.words("head2") == ["<script>bad()</script>"])
        self.assertEqual(self.text(self.phone, "head2"), "<script>bad()</script>")

    def script_rows(self) -> list[str]:
        model = self.window.build.script.tree.model()
        rows, stack = [], [model.index(r, 0) for r in range(model.rowCount())]
        while stack:
            index = stack.pop()
            rows.append(index.data())
            stack.extend(model.index(r, 0, index) for r in range(model.rowCount(index)))
        return rows


class LooksTest(DeskTest):
    def test_a_size_for_the_phone_only_leaves_the_desktop_and_a_knot_puts_it_back(self) -> None:
        before = self.style(self.desktop, "head2", "font-size")
        phone_before = self.style(self.phone, "head2", "font-size")
        self.session.select("head2")
        tray = self.window.build.tray
        QTest.mouseClick(tray.editors["scope"].button(Width.PHONE), Qt.MouseButton.LeftButton)
        size = tray.editors["size"]
        size.setFocus()
        size.selectAll()
        QTest.keyClicks(size, "19")
        QTest.keyClick(size, Qt.Key.Key_Return)
        self.until(lambda: self.style(self.phone, "head2", "font-size") == "19px")
        self.assertEqual(self.style(self.desktop, "head2", "font-size"), before)
        knot = tray.knots["size"]
        self.assertTrue(knot.isVisible())
        QTest.mouseClick(knot, Qt.MouseButton.LeftButton)
        self.until(lambda: self.style(self.phone, "head2", "font-size") == phone_before)
        self.assertFalse(knot.isVisible())

    def test_undo_right_after_a_number_was_typed_takes_it_back(self) -> None:
        self.session.select("head2")
        size = self.window.build.tray.editors["size"]
        size.setFocus()
        QTest.keyClicks(size, "31")
        QTest.keyClick(size, Qt.Key.Key_Return)
        self.until(lambda: self.style(self.desktop, "head2", "font-size") == "31px")
        QTest.keyClick(size, Qt.Key.Key_Z, CTRL)
        self.until(lambda: self.style(self.desktop, "head2", "font-size") == "56px")
        QTest.keyClick(size, Qt.Key.Key_Z, CTRL | SHIFT)
        self.until(lambda: self.style(self.desktop, "head2", "font-size") == "31px")

    def test_the_tray_shows_what_holds_where_nothing_is_set(self) -> None:
        self.session.select("button1")
        editors = self.window.build.tray.editors
        self.until(lambda: editors["pad_left"].placeholderText() == "28")
        self.assertEqual((editors["pad_left"].text(), editors["radius"].placeholderText()),
                         ("", "6"))
        QTest.keyClick(editors["pad_left"], Qt.Key.Key_Up)
        self.assertEqual(self.session.node("button1").look.base, {"pad_left": 32})

    def test_hidden_on_the_phone_stays_on_the_desktop(self) -> None:
        self.session.select("text1")
        shown = self.window.build.tray.editors["shown"]
        QTest.mouseClick(shown.button(Width.PHONE), Qt.MouseButton.LeftButton)
        self.until(lambda: self.style(self.phone, "text1", "display") == "none")
        self.assertEqual(self.style(self.desktop, "text1", "display"), "grid")

    def test_a_number_out_of_range_is_refused_in_words_and_nothing_changes(self) -> None:
        site = self.session.site
        self.session.select("head2")
        size = self.window.build.tray.editors["size"]
        size.setFocus()
        QTest.keyClicks(size, "9000")
        QTest.keyClick(size, Qt.Key.Key_Return)
        self.assertIs(self.session.site, site)
        self.assertIn("8 to 200", self.window.last_words)


class PartsTest(DeskTest):
    def test_add_move_duplicate_and_delete_by_keys_show_in_both_views(self) -> None:
        self.session.select("head2")
        self.window.commands.run("insert.divider")
        divider = self.session.selection
        self.until(lambda: self.style(self.phone, divider, "display") == "block")
        self.window.build.script.tree.setFocus()
        self.press(Qt.Key.Key_Down, Qt.KeyboardModifier.AltModifier)
        column = self.session.path(divider)[-2]
        self.assertEqual([n.id for n in column.children], ["head2", "list1", divider])
        self.press(Qt.Key.Key_D, CTRL)
        self.until(lambda: self.session.selection != divider)
        self.press(Qt.Key.Key_Delete)
        self.press(Qt.Key.Key_Z, CTRL)
        self.press(Qt.Key.Key_Z, CTRL)
        self.until(lambda: self.fresh(self.desktop) and self.fresh(self.phone))

    def test_copy_cut_and_paste_by_keys_also_to_another_page(self) -> None:
        self.session.select("list1")
        self.window.build.script.tree.setFocus()
        self.press(Qt.Key.Key_X, CTRL)
        self.assertIsNone(self.session.node("list1"))
        self.assertEqual(APP.clipboard().text(), "One\nTwo")
        self.session.go_to("thead")
        self.window.build.script.tree.setFocus()
        self.press(Qt.Key.Key_V, CTRL)
        made = self.session.selection
        self.until(lambda: self.text(self.phone, made).split() == ["One", "Two"])
        APP.clipboard().setText("plain words")
        self.press(Qt.Key.Key_V, CTRL)
        made = self.session.selection
        self.until(lambda: self.text(self.phone, made).strip() == "plain words")

    def fresh(self, view) -> bool:
        """Whether the patched page is what a fresh render of it would be."""
        from needle.core.render.holders import render_node

        context = self.session.context()
        wanted = "".join(render_node(top, context) for top in context.variant.children)
        shown = self.js(view, "(() => { const d = document.getElementById('page')."
                              "contentDocument; const m = d.createElement('main');"
                              f"m.innerHTML = {wanted!r};"
                              "return m.innerHTML === d.querySelector('main').innerHTML; })()")
        return shown is True

    def test_dropping_beside_an_item_makes_columns(self) -> None:
        self.desktop.dropped.emit(["list1"], "head1", "right")
        row = self.session.path("list1")[1]
        self.assertEqual([[i.id for i in c.children] for c in row.children],
                         [["head1"], ["list1"]])
        self.until(lambda: self.fresh(self.desktop) and self.fresh(self.phone))

    def test_a_popup_opens_in_both_views_when_something_in_it_is_chosen(self) -> None:
        self.session.select("pophead")
        for view in (self.desktop, self.phone):
            self.until(lambda v=view: self.style(v, "popup1", "display") == "grid")
        self.session.select("head1")
        self.until(lambda: self.style(self.phone, "popup1", "display") == "none")


class KindTest(DeskTest):
    def insert(self, key: str) -> str:
        self.session.select("head2")
        self.window.commands.run(f"insert.{key}")
        return self.session.selection

    def test_typing_in_a_part_of_an_item_leaves_the_rest_alone(self) -> None:
        bar = self.insert("progress")
        self.until(lambda: "half way" in self.text(self.desktop, bar))
        self.click(self.desktop, bar)
        self.press(Qt.Key.Key_A, CTRL)
        self.type("Half full")
        self.until(lambda: plain_lines(self.session.node(bar)) == ["Half full"])
        self.until(lambda: self.text(self.phone, bar).strip() == "Half full")
        self.press(Qt.Key.Key_Escape)
        for view in (self.desktop, self.phone):
            self.assertTrue(self.js(view, "!!document.getElementById('page').contentDocument"
                                          f".querySelector('[data-n={bar}] [role=progressbar]')"))

    def test_each_text_of_an_item_is_typed_apart_in_a_view_and_in_the_script(self) -> None:
        made = self.insert("questions")
        first = "document.getElementById('page').contentDocument.querySelector(" \
                f"'[data-n={made}] [data-text=\"entries.1.question\"]')"
        self.until(lambda: self.js(self.desktop, f"{first}.innerText") == "What do they ask?")
        box = self.js(self.desktop, f"(() => {{ const b = {first}.getBoundingClientRect();"
                                    "return [b.left, b.top, b.width, b.height]; })()")
        scale = self.desktop.scale
        QTest.mouseClick(self.desktop.focusProxy(), Qt.MouseButton.LeftButton, pos=QPoint(
            int((box[0] + 60) * scale), int((box[1] + box[3] / 2) * scale)))
        self.press(Qt.Key.Key_A, CTRL)
        self.type("Is it dark?")
        self.until(lambda: plain_lines(self.session.node(made), "entries.1.question")
                   == ["Is it dark?"])
        self.until(lambda: self.js(self.phone, f"{first}.innerText") == "Is it dark?")
        tree = self.window.build.script.tree
        index = tree.model().index_of(f"{made}/entries.2.answer")
        tree.setCurrentIndex(index)
        self.assertEqual(self.session.selection, made)
        tree.setFocus()
        self.press(Qt.Key.Key_F2)
        editor = APP.focusWidget()
        editor.selectAll()
        QTest.keyClicks(editor, "Very.")
        self.until(lambda: plain_lines(self.session.node(made), "entries.2.answer") == ["Very."])
        self.assertEqual(plain_lines(self.session.node(made), "entries.1.question"),
                         ["Is it dark?"])

    def test_entries_are_added_ordered_and_taken_away(self) -> None:
        made = self.insert("questions")
        entries = self.window.build.tray.editors["entries"]
        entries.menu().actions()[0].trigger()
        self.assertEqual(len(self.session.node(made).entries), 4)
        self.session.edit("words", lambda s: set_words(s, made, (text("Last"),),
                                                       "entries.3.question"))
        self.window.build.tray.refresh()
        entries.menu().actions()[-1].menu().actions()[0].trigger()
        self.assertEqual(plain_lines(self.session.node(made), "entries.2.question"), ["Last"])
        entries.menu().actions()[2].menu().actions()[2].trigger()
        self.assertEqual(len(self.session.node(made).entries), 3)
        self.session.undo()
        self.assertEqual(len(self.session.node(made).entries), 4)

    def test_a_countdown_to_no_date_is_refused_and_the_field_put_back(self) -> None:
        made = self.insert("countdown")
        until = self.window.build.tray.editors["until"]
        until.setFocus()
        QTest.keyClicks(until, "soon")
        QTest.keyClick(until, Qt.Key.Key_Return)
        self.assertIn("like 2026-08-12 21:30", self.window.last_words)
        self.assertEqual(self.session.node(made).until, "")

    def test_a_menu_leaves_out_a_page_and_code_is_taken_on_leaving_it(self) -> None:
        made = self.insert("menu")
        pages = self.window.build.tray.editors["pages"]
        self.assertEqual(self.session.node(made).pages, ("page1",))
        self.assertEqual(pages.text(), "1 of 2 pages")
        next(a for a in pages.menu().actions() if a.text() == "Thanks").trigger()
        self.assertEqual(self.session.node(made).pages, ("page1", "page2"))
        order = next(a for a in pages.menu().actions() if a.text() == "Move up").menu()
        order.actions()[0].trigger()
        self.assertEqual(self.session.node(made).pages, ("page2", "page1"))
        next(a for a in pages.menu().actions() if a.text() == "Night").trigger()
        self.assertEqual(self.session.node(made).pages, ("page2",))
        made = self.insert("embed")
        code = self.window.build.tray.editors["code"]
        code.setFocus()
        QTest.keyClicks(code, "<b>x</b>")
        self.window.build.script.tree.setFocus()
        self.assertEqual(self.session.node(made).code, "<b>x</b>")
        self.until(lambda: "8 characters" in self.text(self.phone, made))


class KeepingTest(DeskTest):
    def test_close_and_reopen_gives_back_everything(self) -> None:
        self.click(self.desktop, "head1")
        self.press(Qt.Key.Key_A, CTRL)
        self.type("Kept")
        self.until(lambda: self.session.undo_label != "")
        site = self.session.site
        self.close()
        self.open()
        self.assertEqual(self.session.site, site)

    def test_a_second_window_on_the_project_is_refused_in_words(self) -> None:
        from needle.store.project import Project, ProjectError

        with self.assertRaisesRegex(ProjectError, "open in another Needle window"):
            Project(self.folder)


if __name__ == "__main__":
    unittest.main()
