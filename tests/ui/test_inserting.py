"""What can be put in: the palette by keys, by mouse and dragged; the menu of a chosen part."""

import json

from PyQt6.QtCore import QMimeData, QPoint, QPointF, Qt
from PyQt6.QtGui import QDropEvent
from PyQt6.QtTest import QTest

from needle.core.edit.place import find
from needle.core.kinds.kind import PURPOSES
from needle.core.render.holders import kind_of
from needle.ui.builder.insertpalette import INSERTED, InsertPalette, kinds_for
from needle.ui.builder.live.view import KIND_MIME
from tests.ui.desk import DeskTest


class PaletteTest(DeskTest):
    def palette(self) -> InsertPalette:
        self.window.commands.run("insert.open")
        made = self.window.build.inserting
        assert made is not None
        return made

    def test_every_kind_is_offered_once_under_its_purpose(self) -> None:
        before, palette = self.session.site, self.palette()
        words = [item.text() for row in range(palette.list.count())
                 if (item := palette.list.item(row)) is not None]
        for kind in INSERTED:
            self.assertEqual(words.count(kind.label), 1)
            heads = [word for word in words[:words.index(kind.label)] if word in PURPOSES]
            self.assertEqual(heads[-1], kind.purpose)
        palette.reject()
        self.assertIs(self.session.site, before)

    def test_typing_finds_by_label_and_by_what_people_call_it(self) -> None:
        for words, found in (("vid", "Video"), ("FAQ", "Questions"), ("navigation", "Menu"),
                             ("reviews plan", ""), ("", "Heading"), ("ideo", "")):
            labels = [kind.label for kind in kinds_for(words)]
            self.assertEqual(labels[0] if labels else "", found)
        palette = self.palette()
        QTest.keyClicks(palette.line, "nothing like it")
        self.assertIn("Nothing to put in is called “nothing like it”", palette._about.text())

    def test_keys_alone_put_a_button_in_after_the_chosen_item(self) -> None:
        self.session.select("head1")
        palette = self.palette()
        QTest.keyClicks(palette.line, "butt")
        QTest.keyClick(palette.line, Qt.Key.Key_Return)
        node = self.session.node()
        self.assertEqual(kind_of(node).key if node else "", "button")
        place, old = (find(self.session.site, one).last
                      for one in (self.session.selection, "head1"))
        self.assertEqual((place[0], place[1]), (old[0], old[1] + 1))
        self.session.undo()
        self.assertFalse(self.session.undo_label)

    def test_the_arrows_go_over_heads_and_stay_among_the_entries(self) -> None:
        palette = self.palette()
        seen = []
        for key in ("Down", "Down", "Right", "Up", "Left", "Up", "Left", "Left", "Left"):
            QTest.keyClick(palette.line, getattr(Qt.Key, f"Key_{key}"))
            item = palette.list.currentItem()
            seen.append(item.text() if item else "")
        self.assertNotIn("", seen)
        self.assertFalse(set(seen) & set(PURPOSES))
        self.assertEqual(seen[-1], kinds_for("")[0].label)

    def test_what_is_dragged_lands_where_it_is_let_go(self) -> None:
        place = self.js(self.desktop, "needle.box('head1')")
        mime = QMimeData()
        mime.setData(KIND_MIME, json.dumps({"kind": "divider", "rank": 0}).encode())
        at = QPointF(QPoint(int(place[0] + place[2] / 2), int(place[1] + 2)))
        self.desktop.dropEvent(QDropEvent(
            at, Qt.DropAction.CopyAction, mime, Qt.MouseButton.LeftButton,
            Qt.KeyboardModifier.NoModifier))
        self.until(lambda: self.session.undo_label == "add divider")
        node = self.session.node()
        self.assertEqual(kind_of(node).key if node else "", "divider")
        self.assertEqual(find(self.session.site, self.session.selection).last[1],
                         find(self.session.site, "head1").last[1] - 1)

    def test_a_dropped_popup_goes_to_the_popups(self) -> None:
        self.window.build.drop_kind("popup", "head1", "before")
        self.assertEqual(self.session.variant.popups[-1].id, self.session.selection)


class ContextMenuTest(DeskTest):
    def test_at_most_fourteen_lines_and_the_rest_in_groups(self) -> None:
        for chosen in ("head1", self.session.variant.children[0].id):
            self.session.select(chosen)
            self.window.build._pop_menu()
            menu = self.window.build.menu
            lines = [action for action in menu.actions() if not action.isSeparator()]
            self.assertLessEqual(len(lines), 14)
            inside = [action.text() for line in lines if (group := line.menu())
                      for action in group.actions()]
            self.assertTrue(any("Copy the look" in words for words in inside))
            self.assertTrue(any("Hide or show on phone" in words for words in inside))
            menu.close()

    def test_its_lines_do_what_they_say(self) -> None:
        self.session.select("head1")
        self.window.build._pop_menu()
        menu = self.window.build.menu
        next(line for line in menu.actions() if line.text().startswith("Duplicate")).trigger()
        self.assertEqual(self.session.undo_label, "duplicate")
        self.assertNotEqual(self.session.selection, "head1")
