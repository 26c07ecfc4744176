import dataclasses
import unittest
from unittest import mock

import msgspec
import numpy as np

from needle.core.edit.brand import set_swatch
from needle.core.edit.forms import change_form
from needle.core.edit.looks import set_look
from needle.core.edit.nodes import delete, insert, set_field, set_words
from needle.core.edit.pages import change_code, delete_page, set_page
from needle.core.edit.whole import set_brief
from needle.core.kinds.formbox import FormBox
from needle.core.kinds.logo import Logo
from needle.core.kinds.picture import Picture
from needle.core.site.site import Medium, Site
from needle.core.snags import finding
from needle.core.snags.finding import RULES, SnagFinder, find_snags
from needle.core.snags.laid import Box, LaidItem, LaidPage, LaidText
from needle.core.snags.pixels import least_contrasting
from needle.core.snags.snag import Rule
from needle.core.values.actions import GoPage, GoSection, OpenPopup
from needle.core.values.form import FormField, Role
from needle.core.values.widths import Width
from needle.core.values.words import Run
from tests.sites import FORM, PAGE, THANKS, small_site


def clean_site() -> Site:
    """Return the small site with what it lacks put right."""
    site = set_page(small_site(), THANKS, description="Thank you for coming, and until next time.")
    site = set_page(site, PAGE, description="An evening outside, with telescopes and a guide.")
    consent = FormField(id="yes1", role=Role.CONSENT, label="You may write to me")
    return change_form(site, FORM, lambda form: msgspec.structs.replace(
        form, fields=(*form.fields, consent)))


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
            (set_field(site, "head2", "rank", 4), "Heading 4 follows heading 1", "head2"),
            (change_code(site, "page", PAGE, css="h1{color red}"),
             next(s.words for s in find_snags(change_code(
                 site, "site", "", css="h1{color red}"))), PAGE),
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
                         ["After “Places” a page should come that is gone",
                          "A click leads to something that is gone"])

    def test_worst_come_first(self) -> None:
        site = set_page(set_field(clean_site(), "button1", "actions", ()), PAGE, title="")
        self.assertEqual([snag.weight for snag in find_snags(site)], [1, 3])


def laid(**changes: object) -> LaidPage:
    """Return a record in which everything fits."""
    record = LaidPage(PAGE, "A", 390, 2000, 664, 390, items=(
        LaidItem("head1", Box(20, 40, 350, 60)),
        LaidItem("button1", Box(20, 300, 200, 48), Box(20, 300, 200, 48))))
    return msgspec.structs.replace(record, **changes)


class LaidOutTest(unittest.TestCase):
    def said(self, **changes: object) -> list[tuple[str, str, str]]:
        return [(snag.words, snag.target, snag.where)
                for snag in find_snags(clean_site(), [laid(**changes)])]

    def test_what_fits_has_none(self) -> None:
        self.assertEqual(self.said(), [])

    def test_what_sticks_out_is_said_with_how_far(self) -> None:
        self.assertEqual(self.said(items=(LaidItem("button1", Box(20, 90, 500, 60)),)), [
            ("Sticks out 130 px to the right", "button1", "Night · Opening · 390 px wide")])
        self.assertEqual(self.said(reach=400), [
            ("The page slides sideways by 10 px", PAGE, "Night · 390 px wide")])

    def test_what_lies_over_its_neighbour_and_what_no_finger_hits(self) -> None:
        over = (LaidItem("head1", Box(0, 0, 300, 60)), LaidItem("button1", Box(0, 30, 300, 60)))
        self.assertEqual(self.said(items=over)[0][:2], ("Lies over what stands before it",
                                                        "button1"))
        small = (LaidItem("button1", Box(0, 0, 80, 20), Box(0, 0, 80, 20)),)
        self.assertEqual(self.said(items=small)[0][0], "Hard to hit: 80 × 20 px, needs 24 × 24")

    def test_a_button_that_is_low_for_a_thumb_on_the_phone_alone(self) -> None:
        for high in (24, 30, 36, 40, 43):
            low = (LaidItem("button1", Box(0, 0, 80, high), Box(0, 0, 80, high)),)
            self.assertEqual(self.said(items=low)[0][:2],
                             (f"A button of {high} px, needs 44 for a thumb", "button1"))
            self.assertEqual(self.said(items=low, width=1280, reach=1280), [])

    def test_a_logo_that_takes_a_fifth_of_the_first_screen(self) -> None:
        site = insert(clean_site(), Logo(id="logo1"), "head1", "before")
        for high, share in ((140, 21), (200, 30), (300, 45), (400, 60), (600, 90)):
            found = find_snags(site, [laid(items=(
                LaidItem("logo1", Box(0, 0, 80, high)), *laid().items[1:]))])
            self.assertIn(f"The logo takes {share} % of the first screen's height",
                          [snag.words for snag in found if snag.target == "logo1"])

    def test_nothing_to_click_on_the_first_screen(self) -> None:
        low = (LaidItem("button1", Box(0, 664, 200, 48)),)
        self.assertEqual(self.said(items=low), [
            ("Nothing to click or fill on the first screen", PAGE,
             "Night · 390 px wide, first at 664 px")])

    def test_words_on_a_picture_are_held_against_its_pixels(self) -> None:
        def text(behind: str, size: float) -> LaidText:
            return LaidText("head1", Box(20, 40, 300, 30), "#ffffff", behind, size)
        self.assertEqual(self.said(texts=(text("#888888", 30),)), [])
        self.assertEqual(self.said(texts=(text("#888888", 16), text("#cccccc", 16))), [
            ("Hard to read on its picture: 1.6 : 1, needs 4.5 : 1", "head1",
             "Night · Opening · 390 px wide")])

    def test_a_record_of_a_page_that_is_gone_says_nothing(self) -> None:
        self.assertEqual(self.said(page="gone", reach=900), [])

    def test_the_worst_twentieth_of_the_pixels_counts_and_a_speck_does_not(self) -> None:
        pixels = np.full((10, 100, 3), 20, np.uint8)
        pixels[0, :4] = 250
        self.assertEqual(least_contrasting(pixels, "#ffffff"), "#141414")
        pixels[0] = 250
        self.assertEqual(least_contrasting(pixels, "#ffffff"), "#fcfcfc")


class RuleTest(unittest.TestCase):
    def test_every_rule_is_a_row_that_says_why(self) -> None:
        for rule in RULES.values():
            told = rule.told()
            self.assertRegex(rule.id, "^[a-z]+(-[a-z]+)*$")
            self.assertTrue(told["reason"].endswith("."), rule.id)
            self.assertTrue(told["source"], rule.id)

    def test_rules_are_asked_again_only_where_something_they_read_changed(self) -> None:
        asked: list[tuple[str, str]] = []

        def counted(rule: Rule) -> Rule:
            def look(*where: object) -> list[object]:
                at = where[0]
                asked.append((rule.id, getattr(getattr(at, "page", at), "id", "")))
                return list(rule.look(*where))
            return dataclasses.replace(rule, look=look)

        finder, site = SnagFinder(), clean_site()
        with mock.patch.multiple(
                finding, _OF_SITE=tuple(map(counted, finding._OF_SITE)),
                _OF_PAGE=tuple(map(counted, finding._OF_PAGE)),
                _OF_ITEM=tuple(map(counted, finding._OF_ITEM))):
            finder.find(site)
            asked.clear()
            finder.find(site)
            self.assertEqual(asked, [])
            site = set_words(site, "head2", ((Run("Other"),),))
            finder.find(site)
            self.assertEqual({page for _, page in asked}, {PAGE, ""})
            asked.clear()
            site = set_swatch(site, "ink", "#112233")
            finder.find(site)
            self.assertEqual({rule for rule, _ in asked}, {"hard-to-read"})
            self.assertEqual({page for _, page in asked}, {PAGE, THANKS})

    def test_what_can_be_mended_without_asking_is(self) -> None:
        for faulty in (set_field(clean_site(), "head2", "rank", 4),
                       set_page(clean_site(), PAGE, title="")):
            (snag,) = find_snags(faulty)
            mend = RULES[snag.rule].mend
            assert mend is not None
            self.assertEqual(find_snags(mend(faulty, snag)), [])

    def test_what_is_remembered_equals_what_is_asked_afresh(self) -> None:
        """Every rule says the same when all is asked afresh as when only what changed is."""
        finder, site = SnagFinder(), clean_site()
        finder.find(site)
        for how in (lambda s: change_form(s, FORM, lambda f: msgspec.structs.replace(
                        f, routes=())),
                    lambda s: set_field(s, "button1", "actions", (GoPage(THANKS),)),
                    lambda s: set_brief(s, "call_to_action", "Ring the bell"),
                    lambda s: set_brief(s, "phrases", "dark sky"),
                    lambda s: set_swatch(s, "quiet", "#eeeeee"),
                    lambda s: set_page(s, PAGE, title="Thanks"),
                    lambda s: insert(s, FormBox(id="f1", form="gone"), "head1", "after"),
                    lambda s: msgspec.structs.replace(s, invented=("name",)),
                    lambda s: change_code(s, "page", PAGE, css="a{b"),
                    lambda s: delete_page(s, THANKS)):
            site = how(site)
            fresh = msgspec.json.decode(msgspec.json.encode(site), type=Site)
            self.assertEqual(finder.find(site), find_snags(fresh))
