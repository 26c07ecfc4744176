"""A long sales letter from blank, through the window only, every action counted."""

from importlib.resources import files
from pathlib import Path

from PyQt6.QtCore import QMimeData, QPointF, Qt, QUrl
from PyQt6.QtGui import QDropEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QAbstractItemView, QInputDialog, QPlainTextEdit

from needle.core.edit.pages import add_page
from needle.core.kinds.button import Button
from needle.core.kinds.picture import Picture
from needle.core.kinds.testimonial import Testimonial
from needle.core.kinds.video import Video
from needle.core.render.texts import plain_lines, texts_of
from needle.core.site.site import Site
from needle.core.site.starter import starter_site
from needle.core.site.tree import children_of
from needle.core.snags.finding import find_snags
from needle.core.values.actions import OpenPopup
from tests.ui.desk import APP, DeskTest

LEFT = Qt.MouseButton.LeftButton
CTRL = Qt.KeyboardModifier.ControlModifier
SECTIONS = ("with a video", "letter paragraphs", "three voices", "chart and words", "three figures",
            "the team", "one large sentence", "part with picture", "what comes on top",
            "two offers", "guarantee", "folded", "dark band")
# A practised person's pace: about so many seconds for a chord, click or drop, and for a text of
# about twelve words typed at forty a minute.
SECONDS_A_MOVE, SECONDS_A_TEXT = 2.5, 18


class SalesLetterTest(DeskTest):
    def site(self) -> Site:
        return add_page(starter_site("Quillmoor", "quillmoor"), "Telescope course")[0]

    def setUp(self) -> None:
        super().setUp()
        self.moves = self.texts = 0

    def press(self, key: Qt.Key, *modifiers: Qt.KeyboardModifier) -> None:
        self.moves += 1
        super().press(key, *modifiers)

    def write(self, words: str) -> None:
        """Type over whatever line or text is being edited."""
        self.texts += 1
        editor = APP.focusWidget()
        editor.selectAll()
        if isinstance(editor, QPlainTextEdit):
            editor.insertPlainText(words)
        else:
            QTest.keyClicks(editor, words)

    def put_sections(self) -> None:
        self.window.build.script.tree.setFocus()
        self.press(Qt.Key.Key_Insert, Qt.KeyboardModifier.ShiftModifier)
        self.until(lambda: getattr(self.window.build, "drawer", None) is not None)
        drawer = self.window.build.drawer
        for words in SECTIONS:
            drawer.line.setFocus()
            drawer.line.selectAll()
            QTest.keyClicks(drawer.line, words)
            self.moves += 1
            QTest.keyClick(drawer.line, Qt.Key.Key_Return, CTRL)
            self.moves += 1
        drawer.reject()
        self.moves += 1
        self.until(self.window.isActiveWindow)

    def drop(self, node: str, name: str) -> None:
        view = self.desktop
        self.session.select(node)
        box = [0.0, 0.0, 0.0, 0.0]

        def in_sight() -> bool:
            before = list(box)
            box[:] = self.js(view, f"needle.box('{node}')") or [0, -1, 0, 0]
            QTest.qWait(120)  # Pictures that load above it still push it down.
            loaded = self.js(view, "[...document.getElementById('page').contentDocument.images]"
                                   ".every((i) => i.complete || i.getBoundingClientRect().top > "
                                   f"{view.height() * 3})")
            if box != before or not loaded:
                return False
            if 0 < box[1] + box[3] / 2 < view.height():
                return True
            self.session.select("")  # Pushed out of sight since it was scrolled to.
            self.session.select(node)
            return False

        self.until(in_sight)
        mime = QMimeData()
        mime.setUrls([QUrl.fromLocalFile(str(Path(str(files("needle.demo"))) / "pictures" / name))])
        view.dropEvent(QDropEvent(QPointF(box[0] + box[2] / 2, box[1] + box[3] / 2),
                                  Qt.DropAction.CopyAction, mime, LEFT,
                                  Qt.KeyboardModifier.NoModifier))
        self.moves += 1
        field = "film" if name.endswith("webm") else "medium"
        self.until(lambda: getattr(self.session.node(node), field))

    def items(self, kind: type) -> list:
        return [n for n in self.session.variant.nodes() if isinstance(n, kind)]

    def fill_words(self) -> int:
        """Write every text of the page in the Script, going on with Tab."""
        tree = self.window.build.script.tree
        tree.setFocus()
        written = 0
        for node in list(self.session.variant.nodes()):
            for path in texts_of(node):
                row = node.id if len(texts_of(node)) == 1 else f"{node.id}/{path}"
                index = tree.model().index_of(row)
                if tree.state() != QAbstractItemView.State.EditingState or (
                        tree.currentIndex() != index):
                    tree.setCurrentIndex(index)
                    tree.edit(index)
                    self.moves += 1
                self.until(lambda: tree.state() == QAbstractItemView.State.EditingState)
                self.write(f"Words {written} for {path}")
                QTest.keyClick(APP.focusWidget(), Qt.Key.Key_Tab)
                self.moves += 1
                written += 1
        QTest.keyClick(APP.focusWidget(), Qt.Key.Key_Escape)
        return written

    def test_it_is_built_in_less_than_an_hour_of_a_practised_persons_moves(self) -> None:
        self.put_sections()
        part = next(s for s in self.session.variant.children if s.name == "Part")
        self.session.select(part.id)
        self.window.build.script.tree.setFocus()
        for _ in range(3):
            self.press(Qt.Key.Key_D, CTRL)
        for picture, name in zip(self.items(Picture), ("mirror", "moon", "saturn", "tube"),
                                 strict=True):
            self.drop(picture.id, f"{name}.webp")
        self.drop(self.items(Video)[0].id, "night.webm")
        self.make_popup()
        written = self.fill_words()
        found = list(self.session.variant.nodes())
        items = [node for node in found if not children_of(node)]
        self.assertGreaterEqual(len(items), 60)
        self.assertGreaterEqual(written, 80)
        self.assertTrue(all(line.startswith("Words") for node in items for line in
                            plain_lines(node)))
        hung = [p for p in self.items(Picture) if p.look.base.get("hang")]
        self.assertEqual(len(hung), 4)
        snags = {snag.words for snag in find_snags(self.session.site)}
        self.assertFalse({"A button does nothing", "A picture is not chosen yet",
                          "A video is not chosen yet"} & snags, snags)
        minutes = (self.moves * SECONDS_A_MOVE + self.texts * SECONDS_A_TEXT) / 60
        print(f"\n{len(items)} items: {self.moves} moves and {self.texts} texts, "
              f"about {minutes:.0f} minutes")
        self.assertLess(minutes, 60)
        self.once_for_all()

    def make_popup(self) -> None:
        before = QInputDialog.getText
        self.addCleanup(setattr, QInputDialog, "getText", before)
        self.window.commands.run("insert.popup")
        self.moves += 2
        popup = self.session.selection
        buttons = self.items(Button)
        self.session.select(buttons[0].id)
        self.moves += 1
        tray = self.window.build.tray
        QTest.mouseClick(tray.editors["reach"].button("page"), LEFT)
        tray.editors["actions"].chosen.emit((OpenPopup(popup),))
        self.moves += 3
        prices = next(n for n in self.session.variant.nodes() if hasattr(n, "recommended"))
        self.session.select(prices.id)
        tray.editors["actions"].chosen.emit((OpenPopup(popup),))
        self.moves += 3
        self.assertTrue(all(b.actions == (OpenPopup(popup),) for b in self.items(Button)))

    def once_for_all(self) -> None:
        """Change the letter width, a testimonial's look and a brand colour: a step each."""
        start = self.session.site
        first = self.items(Testimonial)[0].id
        self.session.select(first)
        tray = self.window.build.tray
        QTest.mouseClick(tray.editors["reach"].button("row"), LEFT)
        tray.editors["size"].setFocus()
        QTest.keyClicks(tray.editors["size"], "25")
        QTest.keyClick(tray.editors["size"], Qt.Key.Key_Return)
        for said in self.items(Testimonial):
            self.until(lambda s=said: self.style(self.phone, s.id, "font-size") == "25px")
        self.session.undo()
        self.assertEqual(self.session.site, start)
