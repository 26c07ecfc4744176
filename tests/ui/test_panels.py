"""Sections drawer, earlier versions, find and replace, outside code, several parts at once."""

import tempfile
from importlib.resources import files
from pathlib import Path

from PyQt6.QtCore import QMimeData, QPoint, QPointF, Qt, QUrl
from PyQt6.QtGui import QDropEvent, QImage
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QInputDialog

from needle.core.edit.linked import linked_uses
from needle.core.edit.looks import set_look
from needle.core.edit.nodes import set_words
from needle.core.render.texts import plain_lines
from needle.core.site.site import Site
from needle.core.site.tree import Section
from needle.core.snags.finding import find_snags
from needle.core.values.actions import CountGoal, OpenPopup
from needle.core.values.look import Look
from needle.core.values.widths import Width
from needle.core.values.words import text
from needle.core.wording.markdown import markdown_of
from needle.store.project import read_site
from needle.ui.builder.versions import first_difference
from tests.sites import PAGE, THANKS, long_page, small_site
from tests.ui.desk import APP, DeskTest

DOCUMENT = "document.getElementById('page').contentDocument"
CTRL = Qt.KeyboardModifier.ControlModifier
SHIFT = Qt.KeyboardModifier.ShiftModifier
ALT = Qt.KeyboardModifier.AltModifier
LEFT = Qt.MouseButton.LeftButton


class PanelTest(DeskTest):
    def answer(self, words: str) -> None:
        """Have the next question for a line of words answered so."""
        before = QInputDialog.getText
        self.addCleanup(setattr, QInputDialog, "getText", before)
        QInputDialog.getText = staticmethod(lambda *_, **__: (words, True))

    def run_command(self, command: str) -> None:
        self.window.commands.run(command)


class DrawerTest(PanelTest):
    def test_a_section_is_found_by_word_and_put_in_with_enter(self) -> None:
        self.session.select("head1")
        self.run_command("insert.ready")
        drawer = self.window.build.drawer
        QTest.keyClicks(drawer.line, "guarantee money")
        self.assertEqual(drawer.list.count(), 1)
        QTest.keyClick(drawer.line, Qt.Key.Key_Return)
        sections = self.session.variant.children
        self.assertEqual([s.name for s in sections], ["Opening", "Guarantee", "More"])
        self.until(lambda: "Thirty days" in self.text(self.phone, sections[1].id))
        self.session.undo()
        self.assertEqual(len(self.session.variant.children), 2)

    def test_its_pictures_are_of_the_sections_in_the_sites_colours(self) -> None:
        self.run_command("insert.ready")
        drawer = self.window.build.drawer
        QTest.keyClicks(drawer.line, "dark band")
        icon = drawer.list.item(0).icon

        def shows_ink() -> bool:
            image = icon().pixmap(296, 190).toImage()
            return image.pixelColor(20, image.height() // 2).name() == "#14211d"

        self.until(shows_ink)
        drawer.reject()

    def test_nothing_found_is_said(self) -> None:
        self.run_command("insert.ready")
        drawer = self.window.build.drawer
        QTest.keyClicks(drawer.line, "submarine")
        self.assertIn("No section is called “submarine”", drawer._note.text())
        QTest.keyClick(drawer.line, Qt.Key.Key_Return)
        self.assertTrue(drawer.isVisible())
        drawer.reject()

    def test_a_section_is_linked_and_an_edit_shows_on_the_other_page_and_in_publish(self) -> None:
        self.session.select("head2")
        self.answer("Shared")
        self.run_command("kept.link")
        self.session.show_page(THANKS)
        self.run_command("insert.ready")
        drawer = self.window.build.drawer
        drawer.purposes.setCurrentRow(1)
        self.assertIn("Shared", drawer.list.item(0).text())
        QTest.keyClick(drawer.list, Qt.Key.Key_Return)
        kept = self.session.site.kept[0].id
        self.assertEqual([u.name for u in linked_uses(self.session.site, kept)],
                         ["Night", "Thanks"])
        copy = self.session.variant.children[-1]
        heading = next(n for n in copy.children[0].children[0].children if hasattr(n, "rank"))
        tree = self.window.build.script.tree
        self.until(lambda: self.window.isActiveWindow() and APP.focusWidget() is tree)
        QTest.qWait(300)  # The drawer's last events, which would take the focus from the view.
        self.click(self.phone, heading.id)
        self.until(lambda: APP.focusWidget() is self.phone.focusProxy())
        self.until(lambda: self.js(self.phone, f"!!{DOCUMENT}.querySelector('[contenteditable]')"))
        self.press(Qt.Key.Key_A, CTRL)
        self.type("Everywhere")
        self.until(lambda: plain_lines(self.session.node(heading.id)) == ["Everywhere"])
        self.session.show_page(PAGE)
        self.until(lambda: self.text(self.desktop, "head2") == "Everywhere")
        self.session.undo()
        self.assertEqual(plain_lines(self.session.node("head2")), ["More"])

    def test_keeping_and_unlinking_by_command(self) -> None:
        self.session.select("head2")
        self.answer("Shared")
        self.run_command("kept.link")
        self.run_command("kept.uses")
        self.assertIn("linked on 1 page: Night", self.window.last_words)
        self.run_command("kept.unlink")
        self.assertEqual(self.session.variant.children[1].linked, "")
        self.run_command("kept.link")
        self.assertIn("already a kept section", self.window.last_words)


class VersionsDialogTest(PanelTest):
    def test_an_earlier_version_is_seen_and_brought_back(self) -> None:
        for words in ("First", "Second"):
            self.session.edit(f"words {words}", lambda s, w=words: set_words(
                s, "head1", (text(w),)))
            self.until(lambda: not self.session.unsaved)
        self.run_command("view.versions")
        dialog = self.window.build.versions
        model = dialog.list.model()
        rows = [model.index(row, 0).data() for row in range(model.rowCount())]
        self.assertRegex(rows[0], r"\d\d:\d\d   words Second\nNight")
        self.assertIn("as it was found", rows[2])
        dialog.list.setCurrentIndex(model.index(1, 0))
        self.until(lambda: not dialog.before.pixmap().isNull()
                   and not dialog.after.pixmap().isNull())
        before, after = (p.pixmap().toImage() for p in (dialog.before, dialog.after))
        self.assertGreater(first_difference(before, after), 0)
        QTest.mouseClick(dialog.back, LEFT)
        self.assertEqual(plain_lines(self.session.node("head1")), ["First"])
        self.until(lambda: self.text(self.desktop, "head1") == "First")
        self.session.undo()
        self.assertEqual(plain_lines(self.session.node("head1")), ["Second"])

    def test_found_by_word_and_named(self) -> None:
        self.session.edit("a change", lambda s: set_words(s, "head1", (text("X"),)))
        self.until(lambda: not self.session.unsaved)
        self.run_command("view.versions")
        dialog = self.window.build.versions
        self.answer("Before the launch")
        QTest.mouseClick(dialog._name, LEFT)
        QTest.keyClicks(dialog.line, "launch")
        self.assertEqual(dialog.list.model().rowCount(), 1)
        QTest.keyClicks(dialog.line, "xyz")
        self.assertIn("No version holds", dialog._count.text())
        dialog.reject()

    def test_the_first_row_that_differs(self) -> None:
        one = QImage(4, 6, QImage.Format.Format_RGB32)
        one.fill(0)
        other = one.copy()
        self.assertEqual(first_difference(one, other), 0)
        other.setPixel(2, 4, 0xFFFFFF)
        self.assertEqual(first_difference(one, other), 4)


class TallVersionsTest(PanelTest):
    def site(self) -> Site:
        return long_page(40)

    def test_each_picture_of_a_long_page_is_of_its_own_version(self) -> None:
        self.session.edit("words", lambda s: set_words(s, "head0", (text("Quite other words"),)))
        self.run_command("view.versions")
        dialog = self.window.build.versions
        self.until(lambda: len(dialog._taken) == 2)
        before, after = dialog._taken[dialog.before], dialog._taken[dialog.after]
        self.assertEqual(before.size(), after.size())
        self.assertLess(0, first_difference(before, after))
        self.assertLess(first_difference(before, after), 120)
        same = after.copy(0, 400, after.width(), 600)
        self.assertEqual(first_difference(before.copy(0, 400, before.width(), 600), same), 0)
        dialog.reject()


class FindDialogTest(PanelTest):
    def test_words_are_replaced_on_every_page_as_one_step(self) -> None:
        self.session.edit("words", lambda s: set_words(s, "thead", (text("See you at night"),)))
        self.session.edit("words", lambda s: set_words(s, "head1", (text("A night"),)))
        self.run_command("words.find")
        dialog = self.window.build._pages._find
        QTest.keyClicks(dialog.wanted, "night")
        QTest.keyClicks(dialog.by, "evening")
        self.assertEqual(dialog.list.count(), 1)
        dialog.everywhere.click()
        self.assertEqual(dialog.list.count(), 2)
        self.assertIn("Thanks · See you at night", dialog.list.item(1).text())
        dialog.list.setCurrentRow(1)
        self.assertEqual(self.session.page.id, THANKS)
        QTest.mouseClick(dialog.all, LEFT)
        self.assertIn("2 places changed", self.window.last_words)
        self.assertEqual(plain_lines(self.session.node("head1")), ["A evening"])
        self.session.undo()
        self.assertEqual(plain_lines(self.session.node("thead")), ["See you at night"])
        dialog.wanted.setText("nowhere at all")
        self.assertEqual(dialog._note.text(), "It stands nowhere.")
        dialog.close()


class CodeDialogTest(PanelTest):
    EVIL = "<script>document.title='hit'; parent.document.title='hit'</script>"

    def test_code_is_kept_by_reach_named_where_wrong_and_inert_here(self) -> None:
        self.run_command("page.code")
        dialog = self.window.build._pages.code_dialog
        dialog.activateWindow()
        self.until(dialog.isActiveWindow)
        css = dialog.parts["css"]
        css.setFocus()
        css.setPlainText("h1 { color: #ff0000 }\n.b{color red}")
        self.assertIn("Line 2", dialog.fault.text())
        dialog.parts["head"].setFocus()
        dialog.parts["head"].setPlainText(self.EVIL)
        dialog.parts["body"].setFocus()
        self.assertEqual(self.session.page.code.head, self.EVIL)
        self.until(lambda: self.style(self.desktop, "head1", "color") == "rgb(255, 0, 0)")
        self.window.build.canvas.reload()
        self.until(lambda: self.js(self.desktop, "needle.ready()") is True)
        self.until(lambda: self.style(self.desktop, "head1", "color") == "rgb(255, 0, 0)")
        page = "document.getElementById('page').contentDocument.title"
        self.assertNotIn("hit", str(self.js(self.desktop, f"document.title + {page}")))
        self.assertTrue(any("Line 2" in snag.words for snag in find_snags(self.session.site)))
        dialog.reach.setCurrentIndex(0)
        dialog.refresh()
        self.assertEqual(dialog.parts["head"].toPlainText(), "")
        dialog.reject()


class SeveralTest(PanelTest):
    def test_chosen_together_in_view_and_script_and_changed_as_one_step(self) -> None:
        start = self.session.site
        self.click(self.desktop, "head1")
        box = self.js(self.desktop, "needle.box('button1')")
        QTest.mouseClick(self.desktop.focusProxy(), LEFT, CTRL,
                         QPoint(int(box[0] + box[2] / 2), int(box[1] + box[3] / 2)))
        self.until(lambda: self.session.chosen == ("head1", "button1"))
        tree = self.window.build.script.tree
        self.until(lambda: len(tree.selectedIndexes()) == 2)
        tree.setFocus()
        self.press(Qt.Key.Key_1, ALT)
        self.assertTrue(all(self.session.node(n).hidden == (Width.PHONE,)
                            for n in ("head1", "button1")))
        self.press(Qt.Key.Key_Delete)
        self.assertIsNone(self.session.node("head1"))
        self.press(Qt.Key.Key_Z, CTRL)
        self.press(Qt.Key.Key_Z, CTRL)
        self.assertEqual(self.session.site, start)

    def test_wrapped_by_keys_and_shares_pulled_at_the_border(self) -> None:
        self.session.select("button1", ["text1"])
        self.window.build.script.tree.setFocus()
        self.press(Qt.Key.Key_G, CTRL)
        row = self.session.node()
        self.assertEqual([len(c.children) for c in row.children], [1, 1])
        borders = "document.querySelectorAll('.border')"
        self.until(lambda: self.js(self.desktop, f"{borders}.length") == 1)
        place = self.js(self.desktop, f"(() => {{ const b = {borders}[0]"
                        ".getBoundingClientRect(); return [b.left + 4, b.top + 8]; })()")
        view = self.desktop.focusProxy()
        start = QPoint(int(place[0]), int(place[1]))
        QTest.mousePress(view, LEFT, pos=start)
        for step in range(1, 6):
            QTest.mouseMove(view, start + QPoint(16 * step, 0))
            QTest.qWait(30)
        QTest.mouseRelease(view, LEFT, pos=start + QPoint(80, 0))
        self.until(lambda: "share" in self.session.node(row.children[0].id).look.base)
        QTest.qWait(150)
        left, right = (self.session.node(c.id).look.base["share"] for c in row.children)
        self.assertGreater(left, right)
        self.session.undo()
        self.assertEqual(self.session.node(row.children[0].id).look, Look())

    def test_a_look_is_copied_pasted_and_set_back(self) -> None:
        self.session.select("head1")
        tray = self.window.build.tray
        tray.editors["size"].setFocus()
        QTest.keyClicks(tray.editors["size"], "33")
        QTest.keyClick(tray.editors["size"], Qt.Key.Key_Return)
        self.run_command("look.copy")
        self.session.select("head2")
        self.run_command("look.paste.all")
        self.until(lambda: self.style(self.phone, "head2", "font-size") == "33px")
        self.run_command("look.plain")
        self.assertEqual(self.session.node("head2").look, Look())
        APP.clipboard().setText("no look")
        self.run_command("look.paste.type")
        self.assertIn("No look is copied yet", self.window.last_words)

    def test_words_from_elsewhere_come_plain_or_with_their_shape(self) -> None:
        mime = QMimeData()
        mime.setText("Big\nwords")
        mime.setHtml("<h2>Big</h2><p style='color:red'>words <b>here</b></p><script>x</script>")
        APP.clipboard().setMimeData(mime)
        self.session.select("list1")
        self.run_command("node.paste")
        self.assertEqual(plain_lines(self.session.node()), ["Big", "words"])
        self.run_command("node.paste.kept")
        first, second = (self.session.node(n) for n in self.session.chosen)
        self.assertEqual((plain_lines(first), plain_lines(second)), (["Big"], ["words here"]))
        self.assertTrue(second.words[0][-1].strong)

    def test_another_order_on_the_phone_leaves_the_desktop_as_it_is(self) -> None:
        def places(view):
            return [self.js(view, f"needle.box('{n}')[1]") for n in ("head1", "text1")]

        self.until(lambda: places(self.phone)[0] is not None)
        before = places(self.desktop)
        self.session.select("text1")
        self.window.build.script.tree.setFocus()
        self.press(Qt.Key.Key_Up, ALT | SHIFT)
        self.until(lambda: places(self.phone)[0] > places(self.phone)[1])
        self.assertEqual(places(self.desktop), before)
        self.run_command("look.plain.phone")
        self.assertEqual(self.session.node("text1").look, Look())


class ReachTest(PanelTest):
    def site(self) -> Site:
        return long_page(3)

    def test_the_group_is_shown_before_and_the_whole_page_follows_as_one_step(self) -> None:
        start = self.session.site
        first = self.session.variant.children[0].children[0].children[0].children[1]
        self.session.select(first.id)
        tray = self.window.build.tray
        reach = tray.editors["reach"]
        self.assertEqual(reach.button("page").text(), "9 on page")
        QTest.mouseClick(reach.button("page"), LEFT)
        self.until(lambda: self.js(self.desktop,
                                   "document.querySelectorAll('.stitch.alike').length") == 8)
        self.assertEqual(self.session.site, start)
        tray.editors["size"].setFocus()
        QTest.keyClicks(tray.editors["size"], "23")
        QTest.keyClick(tray.editors["size"], Qt.Key.Key_Return)
        last = self.session.variant.children[2].children[0].children[0].children[3]
        self.until(lambda: self.style(self.phone, last.id, "font-size") == "23px")
        self.session.undo()
        self.assertEqual(self.session.site, start)

    def test_the_letter_width_is_one_value_and_one_step(self) -> None:
        start = self.session.site
        letters = self.window.build.tray.letters
        letters.setFocus()
        QTest.keyClicks(letters, "640")
        QTest.keyClick(letters, Qt.Key.Key_Return)
        for number in range(3):
            self.until(lambda n=number: self.js(self.desktop, "(() => { const f = document."
                       "getElementById('page').contentDocument; return f.querySelector("
                       f"'[data-n=\"head{n}\"]').getBoundingClientRect().width; }})()") == 640)
        self.session.undo()
        self.assertEqual(self.session.site, start)


class WidthTest(PanelTest):
    def test_the_strip_is_dragged_to_any_width_and_what_sticks_out_is_pointed_out(self) -> None:
        frame = self.window.build.canvas.frames[0]
        strip = frame.strip
        QTest.mousePress(strip, LEFT, pos=QPoint(strip.width() - 8, 5))
        self.assertGreater(frame.view.css_width, 1550)
        QTest.mouseMove(strip, QPoint(60, 5))
        QTest.mouseRelease(strip, LEFT, pos=QPoint(60, 5))
        strip.setFocus()
        QTest.keyClick(strip, Qt.Key.Key_Left)
        width = frame.view.css_width
        QTest.keyClick(strip, Qt.Key.Key_Right, SHIFT)
        self.assertEqual(frame.view.css_width, width + 1)
        self.until(lambda: self.js(frame.view, "document.getElementById('page').contentWindow"
                                               ".innerWidth") == width + 1)
        frame.set_width(390)
        self.session.select("text1")
        self.session.edit("margin", lambda s: set_look(s, ["text1"], "margin_right", -300))
        self.until(lambda: frame.sticks_out.isVisible())
        self.assertRegex(frame.sticks_out.text(), r"\d+ px too wide")
        self.session.select("")
        QTest.mouseClick(frame.sticks_out, LEFT)
        self.assertEqual(self.session.selection, "text1")
        self.session.undo()
        self.until(lambda: not frame.sticks_out.isVisible())


class DropTest(PanelTest):
    def drop(self, *paths: Path) -> None:
        mime = QMimeData()
        mime.setUrls([QUrl.fromLocalFile(str(path)) for path in paths])
        box = self.js(self.desktop, "needle.box('text1')")
        event = QDropEvent(QPointF(box[0] + box[2] / 2, box[1] + box[3] - 2),
                           Qt.DropAction.CopyAction, mime, LEFT,
                           Qt.KeyboardModifier.NoModifier)
        self.desktop.dropEvent(event)

    def test_pictures_and_videos_dropped_on_the_page_stand_there(self) -> None:
        folder = Path(str(files("needle.demo") / "pictures"))
        self.until(lambda: self.js(self.desktop, "needle.box('text1')"))
        self.drop(folder / "moon.webp", folder / "night.webm")
        self.until(lambda: len(self.session.site.media) == 3)
        column = self.session.path("text1")[-2]
        self.assertEqual([type(n).__name__ for n in column.children],
                         ["Heading", "Passage", "Picture", "Video", "Button"])
        self.assertTrue(all(m.file and (self.folder / "media" / m.file).exists()
                            for m in self.session.site.media))

    def test_what_is_neither_is_refused_in_words_and_nothing_changes(self) -> None:
        start = self.session.site
        with tempfile.TemporaryDirectory() as name:
            svg = Path(name) / "evil.svg"
            svg.write_text("<html><script>x</script><!-- <svg --></html>")
            large = Path(name) / "large.png"
            with large.open("wb") as file:
                file.truncate(300_000_000)
            fake = Path(name) / "fake.mp4"
            fake.write_text("no film")
            self.until(lambda: self.js(self.desktop, "needle.box('text1')"))
            for path, words in ((Path(name), "is a folder"), (svg, "not a picture"),
                                (large, "300 MB"), (fake, "not a video")):
                with self.subTest(words):
                    self.drop(path)
                    self.until(lambda w=words: w in self.window.last_words)
        self.assertIs(self.session.site, start)


class ClickEditTest(PanelTest):
    def test_several_actions_are_chosen_in_order(self) -> None:
        self.session.select("button1")
        actions = self.window.build.tray.editors["actions"]
        self.answer("asked")
        menu = actions._lines[1].menu()
        menu.aboutToShow.emit()
        next(a for a in menu.actions() if a.text().startswith("Count as a goal")).trigger()
        self.assertEqual(self.session.node("button1").actions,
                         (OpenPopup("popup1"), CountGoal("asked")))
        self.assertEqual(actions._lines[1].text(), "2   counts “asked”")

    def test_an_icon_is_found_by_word(self) -> None:
        self.session.select("button1")
        editor = self.window.build.tray.editors["drawing"]
        QTest.mouseClick(editor, LEFT)
        QTest.keyClicks(editor.dialog.line, "telescope")
        QTest.keyClick(editor.dialog.line, Qt.Key.Key_Return)
        self.assertEqual(self.session.node("button1").drawing, "telescope")
        self.until(lambda: self.js(self.phone, "!!document.getElementById('page').contentDocument"
                                               ".querySelector('[data-n=button1] svg')") is True)


class MarkdownCommandTest(PanelTest):
    def test_words_go_out_and_come_in_again(self) -> None:
        path = self.folder / "words.md"
        pages = self.window.build._pages
        pages.write_words(path, markdown_of(self.session.page, self.session.variant))
        path.write_text(path.read_text().replace("# Old words", "# New words"))
        pages.read_words(path)
        self.assertIn("1 text changed.", self.window.last_words)
        self.assertEqual(plain_lines(self.session.node("head1")), ["New words"])
        pages.read_words(self.folder / "gone.md")
        self.assertIn("cannot be read as text", self.window.last_words)
        pages.write_words(Path("/proc/none/words.md"), "x")
        self.assertIn("could not be written", self.window.last_words)


class FolderCommandTest(PanelTest):
    def test_a_page_goes_into_a_new_folder_and_is_listed_there(self) -> None:
        before = QInputDialog.getItem
        self.addCleanup(setattr, QInputDialog, "getItem", before)
        QInputDialog.getItem = staticmethod(lambda *_, **__: ("Journey", True))
        self.session.show_page(THANKS)
        self.run_command("page.folder")
        self.assertEqual(self.session.site.folder(self.session.page.folder).name, "Journey")
        menu = self.window.build._bar.page_button.menu()
        menu.aboutToShow.emit()
        self.assertEqual([a.text().partition("\t")[0] for a in menu.actions()],
                         ["Night", "Journey", "Thanks"])
        self.until(lambda: not self.session.unsaved)
        self.assertEqual(read_site(self.folder), self.session.site)
        self.run_command("folder.delete")
        self.assertEqual(self.session.page.folder, "")
        self.assertIsInstance(small_site().pages[0].variants[0].children[0], Section)
