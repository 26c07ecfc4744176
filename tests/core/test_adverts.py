"""Words that an advert's address chooses: only what is allowed, only as text, counted by value."""

import json
import re
import unittest

from needle.core.edit.adverts import add_advert, read_values, set_advert, value_lines
from needle.core.edit.changes import as_sent, site_changes
from needle.core.edit.nodes import set_words
from needle.core.edit.place import EditError
from needle.core.measure.adverts import shown_words
from needle.core.measure.events import EventKind
from needle.core.measure.journey import WayCount
from needle.core.measure.paths import extended, step_words
from needle.core.render.adverts import advert_script
from needle.core.render.context import Context
from needle.core.render.document import Assets, live_body, live_page
from needle.core.render.policy import page_policy, script_hash
from needle.core.site.site import Site
from needle.core.values.words import Run, marked, respell
from needle.store.media import EditPictures
from tests.sites import small_site

LINES = "Meteor  Shower = Sixty an hour\nschool trip=</script><img src=x onerror=alert(1)>\nplain"


def context(site: Site, mode: str = "live") -> Context:
    page = site.pages[0]
    return Context(site, page, page.variants[0], mode, EditPictures(), "/")


class AdvertTest(unittest.TestCase):
    def setUp(self) -> None:
        site, self.advert = add_advert(small_site(), "utm_term", LINES)
        self.site = set_words(site, "head1", (
            (Run("Old "), Run("words", advert=self.advert)),), "words")

    def test_lines_are_read_strictly_and_keep_their_numbers(self) -> None:
        (one,) = self.site.adverts
        self.assertEqual([(v.said, v.number) for v in one.values],
                         [("Meteor Shower", 1), ("school trip", 2), ("plain", 3)])
        self.assertEqual(value_lines(one).splitlines()[2], "plain = plain")
        (then,) = set_advert(self.site, self.advert, "k", "plain = Other\nnew = New").adverts
        self.assertEqual([(v.said, v.shown, v.number) for v in then.values],
                         [("plain", "Other", 3), ("new", "New", 4)])
        for lines in ("", "a = b\nA = c", "= x", "a =", "x" * 130,
                      "\n".join(map(str, range(201)))):
            with self.assertRaises(EditError):
                read_values(lines)
        with self.assertRaises(EditError):
            add_advert(self.site, "two words", "a")

    def test_the_page_holds_its_own_words_and_a_script_that_the_policy_knows(self) -> None:
        made = context(self.site)
        html = live_page(made, Assets(), live_body(made))
        self.assertIn(f'Old <span data-advert="{self.advert}">words</span>', html)
        (script,) = re.findall(r"<script>(.*?)</script>", html, re.DOTALL)
        self.assertEqual(script, advert_script(made))
        self.assertIn(script_hash(script), page_policy(made))
        told = json.loads(script[script.rindex(")(") + 2:-1])
        self.assertEqual(told[self.advert][1][0], ["meteor shower", "Sixty an hour", 1])
        self.assertEqual(advert_script(context(small_site())), "")
        self.assertEqual(advert_script(context(self.site, "edit")), "")

    def test_a_change_of_values_is_a_change_of_the_page(self) -> None:
        page = self.site.pages[0]
        after = set_advert(self.site, self.advert, "utm_term", "a = b")
        self.assertEqual(site_changes(as_sent(self.site, page), as_sent(after, page)),
                         ["words from the advert"])
        unused = set_words(after, "head1", ((Run("x"),),), "words")
        self.assertEqual(as_sent(unused, unused.pages[0]).drew.adverts, ())

    def test_marks_stay_while_words_are_typed(self) -> None:
        (line,) = marked(((Run("one two"),),), 4, 7, "advert", "a1")
        self.assertEqual([(run.words, run.advert) for run in line], [("one ", ""), ("two", "a1")])
        self.assertEqual(respell(line, "one twos")[1], Run("twos", advert="a1"))
        self.assertEqual(marked((line,), 0, 7, "advert", ""), ((Run("one two"),),))

    def test_visits_are_counted_by_value(self) -> None:
        def way(number: int, won: bool, visits: int) -> WayCount:
            path = extended("p:page1.A", step_words(EventKind.WORDS, "page1", "A", "a1", number))
            path = extended(path, step_words(EventKind.LEAD, "page1", "A", "f", 0) if won else "")
            return WayCount("post", "phone", path, visits)

        self.assertEqual([(one.number, one.visits, one.won) for one in shown_words(
            [way(0, False, 5), way(2, True, 3), way(2, False, 4), WayCount("x", "y", "p:q.A", 9)])],
            [(0, 5, 0), (2, 7, 3)])
