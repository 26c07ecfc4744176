"""Brief through the real window: words, brand, media, templates, drafts, the board."""

import os
import tempfile
from pathlib import Path
from unittest import mock

import msgspec
from PIL import Image
from PyQt6.QtCore import QMimeData, QPointF, Qt, QUrl
from PyQt6.QtGui import QImage
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QLineEdit, QPlainTextEdit

from needle.core.edit.invented import placeholders
from needle.core.edit.media import media_uses
from needle.core.edit.nodes import insert
from needle.core.kinds.logo import Logo
from needle.core.kinds.picture import Picture
from needle.core.site.site import Cut, Site
from needle.core.site.tree import Section
from needle.store.savedpages import open_saved
from needle.ui.brief.cutting import CutDialog
from needle.ui.brief.draft import DraftDialog
from needle.ui.brief.stage import BriefStage
from needle.ui.brief.tracing.laying import difference
from needle.ui.brief.tracing.view import Measured, Tool
from tests.core.test_media_edits import font_bytes
from tests.core.test_seeing import a_page
from tests.sites import small_site
from tests.ui.desk import DeskTest

IDEA = "Harbour tours in an old tug for families, every Saturday, £12"


class BriefTestCase(DeskTest):
    def setUp(self) -> None:
        self._config = tempfile.TemporaryDirectory()
        self.addCleanup(self._config.cleanup)
        patched = mock.patch.dict(os.environ, {"NEEDLE_CONFIG": self._config.name})
        patched.start()
        self.addCleanup(patched.stop)
        super().setUp()
        self.window.show_stage("Brief")
        stage = self.window.stages["Brief"]
        assert isinstance(stage, BriefStage)
        self.brief = stage

    def file(self, name: str, data: bytes) -> Path:
        path = self.folder.parent / name
        path.write_bytes(data)
        return path

    def png(self, name: str, colour: str = "#446688", size: tuple[int, int] = (600, 400)) -> Path:
        path = self.folder.parent / name
        Image.new("RGB", size, colour).save(path)
        return path


class WordsTest(BriefTestCase):
    def test_what_is_written_is_kept_and_gaps_are_told(self) -> None:
        idea = self.brief.what.field("idea")
        assert isinstance(idea, QPlainTextEdit)
        idea.setFocus()
        QTest.keyClicks(idea, "Evenings on a hill")
        self.assertEqual(self.session.site.brief.idea, "Evenings on a hill")
        deadline = self.brief.what.field("deadline")
        assert isinstance(deadline, QLineEdit)
        QTest.keyClicks(deadline, "soon")
        self.assertIn("is no date", self.brief.what._fault.text())
        deadline.clear()
        QTest.keyClicks(deadline, "2026-12-24")
        self.assertEqual(self.brief.what._fault.text(), "")
        self.assertIn("call to action", self.brief.what._gaps.text())
        self.session.undo()
        self.brief.refresh()
        self.assertEqual(deadline.text(), "2026-12-2" if deadline.text() else "")

    def test_a_new_button_says_the_call_to_action(self) -> None:
        call = self.brief.what.field("call_to_action")
        assert isinstance(call, QLineEdit)
        QTest.keyClicks(call, "Ring the bell")
        self.window.commands.run("insert.button")
        node = self.session.node()
        assert node is not None
        self.assertEqual(node.words[0].words, "Ring the bell")  # type: ignore[attr-defined]


class BrandTest(BriefTestCase):
    def site(self) -> Site:
        return insert(small_site(), Logo(id="logo1"), "head1", "before")

    def test_one_colour_recolours_both_views_and_undo_takes_it_back(self) -> None:
        card = self.brief.brand.palette_card
        self.brief.show_part("Brand")
        card.set_colour("main", "#c2185b")
        for view in (self.desktop, self.phone):
            self.until(lambda v=view: self.style(v, "button1", "background-color")
                       == "rgb(194, 24, 91)")
        self.session.undo()
        self.until(lambda: self.style(self.desktop, "button1", "background-color")
                   == "rgb(14, 107, 84)")
        card.set_colour("main", "no colour")
        self.assertIn("is no colour", self.window.last_words)

    def test_palettes_come_from_a_logo_and_from_tokens_and_go_out(self) -> None:
        self.brief.show_part("Brand")
        card = self.brief.brand.palette_card
        card.from_picture(self.png("logo.png", "#c2185b"))
        self.assertEqual(self.session.site.brand.colours()["main"], "#c2185b")
        out = self.folder.parent / "brand.json"
        card.write_tokens(out)
        card.set_colour("ink", "#222222")
        card.read_tokens(out)
        self.assertNotEqual(self.session.site.brand.colours()["ink"], "#222222")
        for path, told in ((self.file("a.json", b"{}"), "No token"),
                           (self.file("b.json", b"\xff"), "cannot be read"),
                           (self.folder.parent / "gone.json", "cannot be read")):
            card.read_tokens(path)
            self.assertIn(told, self.window.last_words)
        drawn = self.file("l.svg", b"<svg xmlns='http://www.w3.org/2000/svg' width='9' height='9'>"
                                   b"<rect width='9' height='9' fill='#2244cc'/></svg>")
        card.from_picture(drawn)
        self.assertEqual(self.session.site.brand.colours()["main"], "#2244cc")

    def test_a_font_is_used_without_a_reload(self) -> None:
        self.brief.show_part("Brand")
        loads: list[bool] = []
        self.desktop.loadFinished.connect(loads.append)
        self.brief.brand.type.add_fonts([self.file("h.ttf", font_bytes("abcdefgh"))])
        self.assertIn("Hillfont", self.window.last_words)
        self.assertIn("lacks", self.window.last_words)
        self.brief.brand.type._faces["heading"].chosen.emit("Hillfont")
        for view in (self.desktop, self.phone):
            self.until(lambda v=view: "Hillfont" in self.style(v, "head1", "font-family"))
            self.until(lambda v=view: self.js(
                v, "document.getElementById('page').contentDocument.fonts.check('20px Hillfont')"))
        self.assertEqual(loads, [])
        self.until(lambda: "Hillfont" in self.brief.brand.type._loaded)
        with mock.patch("needle.ui.brief.typefaces.agreed", return_value=False):
            self.brief.brand.type.add_fonts([self.file("r.ttf", font_bytes(
                rights=2, family="Shut"))])
        self.assertNotIn("Shut", {font.family for font in self.session.site.fonts})

    def test_sign_and_share_picture_are_changed_here(self) -> None:
        self.brief.show_part("Brand")
        self.brief.brand.sign._shapes["leaf"].click()
        self.assertEqual(self.session.site.brand.mark.shape, "leaf")
        self.until(lambda: "M6 58" in str(self.js(
            self.desktop, "document.getElementById('page').contentDocument"
                          ".querySelector('[data-n=logo1]').innerHTML")))
        self.brief.brand.share._layout.chosen.emit("words")
        self.assertEqual(self.session.site.brand.share.layout, "words")


class MediaTest(BriefTestCase):
    def test_drop_describe_cut_replace_and_remove(self) -> None:
        self.brief.show_part("Pictures and files")
        part = self.brief.media
        part.add_files([self.png("a.png"), self.file("bad.png", b"x"),
                        self.file("guide.pdf", b"%PDF-1.4")])
        self.assertIn("not a picture that can be read", self.window.last_words)
        site = self.session.site
        self.assertEqual([m.name for m in site.media], ["a.png", "guide.pdf"])
        part._choose(site.media[0].id)
        part._alt.setFocus()
        QTest.keyClicks(part._alt, "A hill")
        QTest.keyClick(part._alt, Qt.Key.Key_Return)
        QTest.mouseClick(part._picture, Qt.MouseButton.LeftButton)
        medium = self.session.site.media[0]
        self.assertEqual((medium.alt, medium.focus_x), ("A hill", 50))
        self.session.edit("use", lambda s: insert(s, Picture(id="p1", medium=medium.id), "head1",
                                                  "after"))
        part.cut(medium, Cut(left=50))
        self.assertEqual(self.session.site.media[0].width, 300)
        part.replace(self.png("b.png", "#aa3311", (320, 200)))
        self.assertIn("in 1 place", self.window.last_words)
        self.assertEqual(self.session.site.media[0].name, "b.png")
        self.until(lambda: self.session.site.media[0].file in str(self.js(
            self.desktop, "document.getElementById('page').contentDocument"
                          ".querySelector('[data-n=p1] img')?.src")))
        part._show_only("unused")
        self.assertEqual([part.list.item(n).text() for n in range(part.list.count())],  # type: ignore[union-attr]
                         ["guide.pdf"])
        with mock.patch("needle.ui.brief.media.agreed", return_value=False):
            part._show_only("pictures")
            part.delete_chosen()
        self.assertEqual(len(self.session.site.media), 2)
        self.assertEqual(media_uses(self.session.site)[medium.id], ["Night"])

    def test_a_picture_is_pasted(self) -> None:
        self.brief.show_part("Pictures and files")
        clipboard = QApplication.clipboard()
        assert clipboard is not None
        image = QImage(30, 20, QImage.Format.Format_RGB32)
        image.fill(Qt.GlobalColor.red)
        clipboard.setImage(image)
        self.brief.media.paste()
        self.assertEqual(self.session.site.media[0].name, "Pasted.png")
        data = QMimeData()
        data.setUrls([QUrl.fromLocalFile(str(self.png("c.png")))])
        clipboard.setMimeData(data)
        self.brief.media.paste()
        self.assertEqual(len(self.session.site.media), 2)

    def test_the_frame_is_dragged_keeps_its_shape_and_goes_by_keys(self) -> None:
        dialog = CutDialog(self.png("d.png"), Cut())
        dialog.show()
        frame = dialog.frame
        QTest.keyClick(frame, Qt.Key.Key_Left, Qt.KeyboardModifier.ShiftModifier)
        self.assertAlmostEqual(dialog.cut().right, 1, 1)
        dialog._take_ratio("1/1")
        box, (wide, high) = frame.box, frame.turned_size()
        self.assertAlmostEqual(box.width() * wide, box.height() * high, 0)
        dialog._slider.setValue(50)
        self.assertEqual(dialog.cut().turn, 5.0)
        dialog.reject()


class TemplateTest(BriefTestCase):
    def test_a_template_becomes_a_page_and_a_page_a_template(self) -> None:
        self.brief.show_part("Templates")
        part = self.brief.templates
        part.choose("event")
        part.framed.setChecked(True)
        part.make_page()
        page = self.session.page
        self.assertEqual((page.name, page.slug), ("Event", "event"))
        self.assertEqual(self.window._stack.currentWidget(), self.window.build)
        self.assertTrue(list(placeholders(self.session.site)))
        self.window.show_stage("Brief")
        self.brief.show_part("Templates")
        part.keep_page()
        self.assertEqual([part.list.item(0).text()], ["Event"])  # type: ignore[union-attr]
        part.list.setCurrentRow(0)
        part.make_page()
        self.assertEqual(self.session.page.name, "Event 2")
        out = self.folder.parent / "event.zip"
        part.export_page(out)
        part.open_package(out)
        self.assertEqual(self.session.page.name, "Event 2 2")
        count = len(self.session.site.pages)
        part.open_package(self.file("no.zip", b"PK"))
        self.assertIn("not a page package", self.window.last_words)
        self.assertEqual(len(self.session.site.pages), count)


class DraftTest(BriefTestCase):
    def dialog(self) -> DraftDialog:
        dialog = DraftDialog(self.session, self.window.build.stills, self.brief)
        dialog.show()
        self.addCleanup(dialog.deleteLater)
        return dialog

    def drafted(self, dialog: DraftDialog) -> object:
        """Press Draft, wait for the words, and return them."""
        dialog.draft()
        self.until(lambda: dialog._copy is not None and dialog._asked is None)
        return dialog._copy

    def test_what_was_understood_is_put_right_and_the_draft_follows(self) -> None:
        dialog = self.dialog()
        dialog.idea.setPlainText("swiming lessons for adults, £40")
        self.drafted(dialog)
        self.assertIn("“swiming” as “swimming”", dialog._note.text())
        before = dialog._copy
        dialog.slots.lines["who"].setFocus()
        dialog.slots.lines["who"].selectAll()
        QTest.keyClicks(dialog.slots.lines["who"], "night nurses")
        self.until(lambda: dialog._copy is not before)
        self.assertIn("night nurses", " ".join(dialog._copy.headlines))
        dialog.slots.facts.setPlainText("The water is warm")
        self.until(lambda: "The water is warm" in [f.words for f in dialog._copy.facts])
        dialog.reject()

    def test_an_idea_becomes_a_site_in_one_step_of_undo(self) -> None:
        before = self.session.site
        dialog = self.dialog()
        QTest.keyClicks(dialog.idea, IDEA)
        first = self.drafted(dialog)
        self.assertEqual(dialog.slots.lines["what"].text(), "harbour tours in an old tug")
        dialog.turn(1)
        self.until(lambda: dialog._copy is not first)
        self.assertNotEqual(dialog._copy, first)
        dialog.turn(-1)
        self.until(lambda: dialog._copy == first)
        dialog.replacing.setChecked(True)
        dialog._groups["palette"]._buttons[1].click()
        dialog._groups["headline"]._buttons[-1].click()
        QTest.keyClicks(dialog._own_name, "Tug & Tide")
        dialog.accept()
        site = self.session.site
        self.assertEqual((site.name, len(site.pages)), ("Tug & Tide", 3))
        assert dialog._looks is not None
        self.assertEqual(site.brand.colours(), dialog._looks.palettes[1])
        for medium in site.media:
            self.assertTrue((self.folder / "media" / medium.file).exists())
        self.window.build.script.tree.setFocus()
        self.session.undo()
        self.assertEqual(self.session.site, before)

    def test_a_new_site_keeps_the_name_that_it_was_given(self) -> None:
        self.session.edit("one page", lambda site: msgspec.structs.replace(
            site, pages=site.pages[:1], forms=(), name="Sharp Evening"))
        dialog = self.dialog()
        QTest.keyClicks(dialog.idea, IDEA)
        self.drafted(dialog)
        dialog.accept()
        self.assertEqual(self.session.site.name, "Sharp Evening")
        self.assertNotIn("name", self.session.site.invented)

    def test_what_is_no_idea_is_told(self) -> None:
        dialog = self.dialog()
        dialog.draft()
        self.assertIn("Write the idea first", dialog._note.text())
        for words, told in (
                ("<script>x</script>", "no words"),
                ("Eine Bäckerei in Köln mit Brot und Kuchen für alle Leute", "English only"),
                ("a good soup " * 2000, "Only the first")):
            dialog.idea.setPlainText(words)
            dialog.draft()
            self.until(lambda told=told: told in dialog._note.text())
        dialog.reject()

    def test_the_practice_endpoint_writes_in_a_thread(self) -> None:
        dialog = self.dialog()
        dialog._source.choose("practice")
        dialog.idea.setPlainText(IDEA)
        dialog.draft()
        self.until(lambda: dialog._copy is not None)
        assert dialog._copy is not None
        self.assertIn("Practice", dialog._copy.names[0])
        dialog._source.choose("endpoint")
        self.until(lambda: dialog._asked is None)
        self.assertIn("tokens", dialog._note.text())
        dialog._source._fields["address"].setText("http://127.0.0.1:9/v1")
        dialog.draft()
        self.until(lambda: "cannot be reached" in dialog._note.text())
        dialog.reject()

    def test_words_are_confirmed_in_build_and_counted_by_the_seam(self) -> None:
        dialog = self.dialog()
        dialog.idea.setPlainText(IDEA)
        self.drafted(dialog)
        dialog.replacing.setChecked(True)
        dialog.accept()
        self.window.show_stage("Build")
        count = len(list(placeholders(self.session.site)))
        self.assertIn(f"{count} invented", self.window.seam._statuses["Build"].words
                      if hasattr(self.window.seam, "_statuses") else f"{count} invented")
        self.window.commands.run("invented.next")
        self.assertTrue(self.session.selection)
        self.window.commands.run("invented.confirm")
        self.assertEqual(len(list(placeholders(self.session.site))), count - 1)
        self.window.commands.run("invented.page")
        self.assertIn("left on the site", self.window.last_words)


class BoardTest(BriefTestCase):
    def setUp(self) -> None:
        super().setUp()
        pixels, self.truth = a_page()
        path = self.folder.parent / "page.png"
        Image.fromarray(pixels).save(path)
        self.brief.show_part("From a picture")
        self.board = self.brief.board
        self.board.pin_file(path)

    def test_measuring_by_mouse_and_keys(self) -> None:
        button = self.truth["button"]
        self.board.take_tool(Tool.RULER)
        self.board._measure(Measured(Tool.RULER, button.left + 2, 205, button.right - 2, 205))
        self.assertEqual(self.board.told.told.text(), f"{button.width} px")
        self.board.take_tool(Tool.DROPPER)
        canvas, zoom = self.board.area.canvas, self.board.area.zoom
        QTest.mouseClick(canvas, Qt.MouseButton.LeftButton, pos=QPointF(
            90 * zoom, 186 * zoom).toPoint())
        self.assertEqual(self.board.told.told.text(), "#0e6b54")
        self.assertIn("Main action is the same", self.board.told.more.text())
        self.board._wide.chosen.emit(500)
        self.board.take_tool(Tool.RULER)
        self.board._measure(Measured(Tool.RULER, button.left, 205, button.right, 205))
        self.assertEqual(self.board.told.told.text(), f"{button.width // 2} px")
        canvas.setFocus()
        QTest.keyClick(canvas, Qt.Key.Key_T)
        self.assertIs(self.board.area.tool, Tool.LETTER)
        before = self.board.area.zoom
        QTest.keyClick(canvas, Qt.Key.Key_Plus)
        self.assertGreater(self.board.area.zoom, before)

    def test_what_is_read_is_chosen_and_becomes_sections(self) -> None:
        self.board.found.read()
        self.until(lambda: self.board.found.taking is not None)
        self.assertEqual(self.board.found.sections.count(), 3)
        self.board.found.toggle("b2")
        self.board.make_sections()
        page = self.session.page
        self.assertEqual(page.name, "From page")
        tops = page.variants[0].children
        self.assertEqual(len(tops), 2)
        self.assertTrue(all(isinstance(top, Section) for top in tops))
        self.assertTrue(any(m.invented for m in self.session.site.media))
        self.session.undo()
        self.assertNotIn("From page", {page.name for page in self.session.site.pages})

    def test_sections_are_joined_and_reading_can_be_stopped(self) -> None:
        self.board.found.read()
        self.until(lambda: self.board.found.taking is not None)
        self.board.found.sections.setCurrentRow(0)
        self.board.found.join_sections()
        self.assertEqual(self.board.found.sections.count(), 2)
        self.board.found.taking = None
        self.board.found.read()
        self.board.found.stop()
        QTest.qWait(300)
        self.assertIsNone(self.board.found.taking)

    def test_the_page_is_laid_over_and_the_difference_is_told(self) -> None:
        self.board.take_tool(Tool.LAY)
        self.until(lambda: not self.board._page.isNull())
        self.board._differs.setChecked(True)
        self.assertIn("differs", self.board.told.told.text())
        self.board._pixels = self.board._pixels.copy()
        share = difference(self.board._pixels, self.board._page, 1.0, self.board._shift)[1]
        self.assertGreater(share, 0.01)
        shift = self.board._shift.x()
        canvas = self.board.area.canvas
        canvas.setFocus()
        QTest.keyClick(canvas, Qt.Key.Key_Right)
        self.assertEqual(self.board._shift.x(), shift + 1)

    def test_wrong_files_are_told_and_the_board_is_kept(self) -> None:
        for name, data in (("a.pdf", b"%PDF-1.4 no"), ("b.png", b"no"), ("c.svg", b"<svg/>")):
            self.board.pin_file(self.file(name, data))
            self.assertTrue(self.window.last_words)
        self.assertEqual(self.board._choice.count(), 1)
        self.board._unpin()
        self.assertTrue(self.board._empty.isVisible())


class SavedPageTest(BriefTestCase):
    def setUp(self) -> None:
        super().setUp()
        self.brief.show_part("From a picture")
        self.board = self.brief.board
        self.file("s.css", b"h1 { font: 600 30px/36px sans-serif; letter-spacing: .6px;"
                  b" color: oklch(0% 0 0); padding: 12px 20px }"
                  b" .tall { min-height: 50vh; background: rgb(250 240 220) }")
        self.path = self.file("page.html", b"""<!doctype html><link rel=stylesheet href=s.css>
            <body style="margin:0"><section class=tall><h1>Strange words</h1>
            <img src="file:///etc/hostname" style="width:90px;height:60px;display:block">
            <p id=p>Before</p></section><section><p>More</p></section>
            <script>document.getElementById('p').textContent = 'It ran'</script>""")
        self.board.pin_file(self.path)
        self.until(lambda: self.board._laid is not None)

    def click(self, words: str) -> dict[str, str]:  # type: ignore[override]
        laid = self.board._laid
        assert laid is not None
        node = next(one for one in laid.nodes if one.words == words)
        zoom = self.board.area.zoom
        QTest.mouseClick(self.board.area.canvas, Qt.MouseButton.LeftButton, pos=QPointF(
            (node.rect[0] + 9) * zoom, (node.rect[1] + node.rect[3]) / 2 * zoom).toPoint())
        return dict(line.split(": ", 1) for line in self.board.look.values.text().split("\n"))

    def test_a_click_tells_what_the_engine_computes_and_no_script_ran(self) -> None:
        told = self.click("Strange words")
        self.assertEqual((told["font-size"], told["line-height"], told["font-weight"]),
                         ("30 px", "36 px", "600"))
        self.assertEqual((told["padding"], told["color"], told["on"], told["letter-spacing"]),
                         ("12 px, 20 px", "#000000", "#faf0dc", "0.6 px"))
        self.assertEqual((told["width"], told["height"]), ("1280 px", "60 px"))
        self.click("Before")
        # Half of a screen of 800, though the view is as high as the page.
        laid = self.board._laid
        assert laid is not None
        tall = next(node for node in laid.nodes if node.tag == "section")
        self.assertEqual(tall.rect[3] - tall.rect[1], 400)

    def test_a_page_that_cannot_be_laid_out_is_told_and_the_window_stays(self) -> None:
        answer = self.board._saved
        told: list[object] = []
        page = open_saved(self.path)
        with mock.patch.object(type(page), "answer", return_value=None):
            answer.lay_out(page, 800, lambda image, laid: told.append(laid))
            self.until(lambda: told)
        self.assertEqual(told, [None])
        self.assertEqual(self.board._choice.count(), 1)

    def test_its_look_goes_to_an_item_and_to_a_text_style(self) -> None:
        self.session.select("head1")
        self.click("Strange words")
        self.board.look.give()
        node = self.session.node()
        assert node is not None
        self.assertEqual((node.look.base["size"], node.look.base["pad_left"]), (30, 20))
        self.session.undo()
        self.board.look.give_style("body")
        style = next(one for one in self.session.site.styles if one.key == "body")
        self.assertEqual((style.look.base["size"], style.look.base["line_height"]), (30, 1.2))
        self.assertNotIn("pad_left", style.look.base)

    def test_its_sections_are_made_with_foreign_words_only_when_asked(self) -> None:
        for asked in (False, True):
            self.board.found.read()
            self.until(lambda: self.board.found.taking is not None)
            self.board.found.takes_over.setChecked(asked)
            self.board.make_sections()
            words = str(self.session.page.variants)
            self.assertEqual("Strange words" in words, asked)
            self.board.found.look_at(self.board._one)

    def test_another_width_lays_it_out_anew_while_it_is_there(self) -> None:
        self.board._wide.chosen.emit(600)
        self.until(lambda: self.board._laid is not None and self.board._laid.width == 600)
        self.assertEqual(self.board._choice.count(), 2)
        self.path.unlink()
        self.board._wide.chosen.emit(700)
        self.assertIn("no longer where it was", self.window.last_words)
        self.board._unpin()
        self.assertFalse(list((self.folder / "board").glob("*.map.json"))[1:])
