import unittest

from needle.core.edit.looks import set_look
from needle.core.edit.nodes import move, set_field, set_hidden
from needle.core.edit.outline import node_words, outline_top
from needle.core.render.context import Context
from needle.core.site.site import Site
from needle.core.values.actions import (
    ClosePopup,
    Dial,
    GoAddress,
    GoPage,
    GoSection,
    OpenPopup,
    Write,
)
from needle.core.values.widths import Width
from needle.store.media import EditPictures
from tests.sites import THANKS, small_site


def context(site: Site) -> Context:
    page = site.pages[0]
    return Context(site, page, page.variants[0], "edit", EditPictures())


class OutlineTest(unittest.TestCase):
    def top(self, site: Site, number: int = 0):  # type: ignore[no-untyped-def]
        return outline_top(site.pages[0].variants[0].children[number], context(site))

    def test_items_of_a_single_column_stand_right_below_their_section(self) -> None:
        top = self.top(small_site())
        self.assertEqual((top.words, top.editing, [row.words for row in top.children]),
                         ("Opening", "name", ["Old words", "Plain bold / Second",
                                              "Keep me a place"]))

    def test_columns_are_shown_where_there_are_several(self) -> None:
        site = move(small_site(), "list1", "head2", "right")
        (row,) = self.top(site, 1).children
        self.assertEqual((row.words, [c.words for c in row.children]),
                         ("2 columns", ["Column 1", "Column 2"]))
        site = set_look(site, [row.id], "cells", 2)
        (row,) = self.top(site, 1).children
        self.assertEqual((row.words, row.note), ("2 cells", "2 a line"))

    def test_notes_say_what_a_click_does(self) -> None:
        site = small_site()
        section = site.pages[0].variants[0].children[1].id
        for action, words in ((GoPage(THANKS), "to Thanks"),
                              (GoPage("x"), "to a page that is gone"),
                              (GoAddress("https://a.example"), "to https://a.example"),
                              (GoSection(section), "to More"),
                              (OpenPopup("popup1"), "opens Sign-up"),
                              (OpenPopup("x"), "opens a popup that is gone"),
                              (ClosePopup(), "closes the popup"), (Dial("12345"), "calls 12345"),
                              (Write("a@b.example"), "writes to a@b.example")):
            with self.subTest(words):
                changed = set_field(site, "button1", "actions", (action,))
                self.assertEqual(self.top(changed).children[2].note, words)

    def test_notes_say_where_it_is_seen(self) -> None:
        site = small_site()
        for widths, words in (((Width.PHONE,), "not on phone"),
                              ((Width.PHONE, Width.TABLET), "desk only"),
                              ((Width.DESKTOP, Width.TABLET), "phone only"),
                              (tuple(Width), "hidden")):
            changed = site
            for width in widths:
                changed = set_hidden(changed, "head1", width, True)
            with self.subTest(words):
                self.assertEqual(self.top(changed).children[0].note, words)

    def test_items_without_words_say_what_they_hold(self) -> None:
        site = small_site()
        popup = site.pages[0].variants[0].popups[0]
        form = popup.children[0].children[0].children[1]
        self.assertEqual(node_words(form, context(site)), "Places · 2 fields")
