import unittest

import msgspec

from needle.core.edit.forms import change_form
from needle.core.edit.looks import set_look
from needle.core.edit.nodes import delete, insert, set_field, set_words
from needle.core.edit.pages import delete_page, set_page
from needle.core.edit.whole import set_brief
from needle.core.kinds.formbox import FormBox
from needle.core.kinds.picture import Picture
from needle.core.site.site import Medium, Site
from needle.core.snags.finding import find_snags
from needle.core.values.actions import GoPage, GoSection, OpenPopup
from needle.core.values.widths import Width
from needle.core.values.words import Run
from tests.sites import FORM, PAGE, THANKS, small_site


def clean_site() -> Site:
    """Return the small site with the one thing put right that it lacks."""
    return set_page(small_site(), THANKS, description="Thank you for coming.")


class SnagTest(unittest.TestCase):
    def words(self, site: Site) -> list[str]:
        return [snag.words for snag in find_snags(site)]

    def test_a_good_site_has_none(self) -> None:
        self.assertEqual(self.words(clean_site()), [])

    def test_each_fault_is_found_at_its_place(self) -> None:
        site = clean_site()
        medium = Medium(id="m1", name="hill.png", file="x.png", width=1, height=1)
        pictured = msgspec.structs.replace(site, media=(medium,))
        faults = (
            (change_form(site, FORM, lambda f: msgspec.structs.replace(f, routes=())),
             "The form “Places” goes nowhere", FORM),
            (set_field(site, "button1", "actions", ()), "A button does nothing", "button1"),
            (set_field(site, "button1", "actions", (OpenPopup("gone"),)),
             "A click leads to something that is gone", "button1"),
            (set_field(site, "button1", "actions", (GoSection("gone"),)),
             "A click leads to something that is gone", "button1"),
            (set_words(site, "text1", ((Run("x", link="page:gone"),),)),
             "A link leads to a page that is gone", "text1"),
            (set_words(site, "head2", ()), "A heading has no words", "head2"),
            (insert(site, Picture(id="p1"), "head1", "after"), "A picture is not chosen yet", "p1"),
            (insert(site, FormBox(id="f1"), "head1", "after"), "A form is not chosen yet", "f1"),
            (insert(pictured, Picture(id="p1", medium="m1"), "head1", "after"),
             "Nobody said what “hill.png” shows", "p1"),
            (set_page(site, PAGE, title=""), "The title for searches is missing", PAGE),
            (set_look(site, ["head1"], "colour", "#bbbbbb", Width.PHONE),
             "Hard to read: 1.9 : 1, needs 4.5 : 1", "head1"))
        for faulty, words, target in faults:
            with self.subTest(words):
                (snag,) = find_snags(faulty)
                self.assertEqual((snag.words, snag.target), (words, target))
                self.assertTrue(snag.where)

    def test_the_brief_is_held_against_the_pages(self) -> None:
        site = set_brief(clean_site(), "phrases", "old words, dark sky")
        (snag,) = find_snags(site)
        self.assertEqual(snag.words, "No page says “dark sky”, a key phrase of the brief")
        called = set_brief(clean_site(), "call_to_action", "Keep me a place")
        self.assertEqual(find_snags(called), [])
        other = set_brief(clean_site(), "call_to_action", "Ring the bell")
        bare = delete(other, "formbox")
        self.assertIn("No button says “Ring the bell”, the call of the brief",
                      [snag.words for snag in find_snags(bare)])

    def test_doubled_titles_are_said_of_both_pages(self) -> None:
        site = set_page(clean_site(), THANKS, title="A NIGHT ")
        self.assertEqual(self.words(site), ["Two pages have the same title"] * 2)

    def test_deleting_a_page_shows_the_clicks_that_led_there(self) -> None:
        site = set_field(clean_site(), "button1", "actions", (GoPage(THANKS),))
        self.assertEqual(self.words(site), [])
        self.assertEqual(self.words(delete_page(site, THANKS)),
                         ["A click leads to something that is gone"])

    def test_worst_come_first(self) -> None:
        site = set_page(set_field(clean_site(), "button1", "actions", ()), PAGE, title="")
        self.assertEqual([snag.weight for snag in find_snags(site)], [1, 3])
