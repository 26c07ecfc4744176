import unittest

import msgspec

from needle.core.edit.areas import changed_areas
from needle.core.edit.forms import change_form
from needle.core.edit.nodes import set_words
from needle.core.edit.place import EditError
from needle.core.snags.finding import find_snags
from needle.core.snags.passing import let_pass, sorted_out, take_back
from needle.core.values.areas import Area
from needle.core.values.words import text
from tests.core.test_snags import clean_site
from tests.sites import FORM, PAGE

LOUD = set_words(clean_site(), "head1", (text("COME UP THE HILL"),))


class PassingTest(unittest.TestCase):
    def test_one_thing_is_let_be_until_it_says_something_else(self) -> None:
        (snag,) = find_snags(LOUD)
        site = let_pass(LOUD, snag, "  it is\n our sign ")
        self.assertEqual(changed_areas(LOUD, site), {Area.PASSED})
        still, passed = sorted_out(site, find_snags(site))
        self.assertEqual((still, [word.reason for word, _ in passed]), ([], ["it is our sign"]))
        louder = set_words(site, "head1", (text("COME DOWN THE HILL"),))
        self.assertEqual([one.rule for one in sorted_out(louder, find_snags(louder))[0]],
                         ["shouting"])
        elsewhere = set_words(site, "head2", (text("COME UP THE HILL"),))
        self.assertEqual([one.target for one in sorted_out(elsewhere, find_snags(elsewhere))[0]],
                         ["head2"])

    def test_a_rule_is_let_be_on_a_page_and_on_no_other(self) -> None:
        (snag,) = find_snags(LOUD)
        site = let_pass(LOUD, snag, "a poster", on_page=True)
        self.assertEqual(site.passed[0].target, PAGE)
        for node in ("head1", "head2"):
            site = set_words(site, node, (text(f"UP THE HILL {node.upper()}"),))
        self.assertEqual(sorted_out(site, find_snags(site))[0], [])
        other = set_words(site, "thead", (text("SEE YOU SOON"),))
        self.assertEqual([one.target for one in sorted_out(other, find_snags(other))[0]],
                         ["thead"])

    def test_it_is_taken_back_and_said_twice_is_once(self) -> None:
        (snag,) = find_snags(LOUD)
        site = let_pass(let_pass(LOUD, snag, "one"), snag, "two")
        self.assertEqual([one.reason for one in site.passed], ["two"])
        back = take_back(site, site.passed[0])
        self.assertEqual(sorted_out(back, find_snags(back)), ([snag], []))

    def test_without_a_reason_nothing_passes(self) -> None:
        (snag,) = find_snags(LOUD)
        with self.assertRaisesRegex(EditError, "Say why"):
            let_pass(LOUD, snag, " \n ")

    def test_of_a_form_it_is_the_one_thing(self) -> None:
        site = change_form(clean_site(), FORM,
                           lambda form: msgspec.structs.replace(form, routes=()))
        (snag,) = find_snags(site)
        with self.assertRaisesRegex(EditError, "on no page"):
            let_pass(site, snag, "why", on_page=True)
        site = let_pass(site, snag, "read by hand")
        self.assertEqual((site.passed[0].target, sorted_out(site, [snag])[0]), (FORM, []))
