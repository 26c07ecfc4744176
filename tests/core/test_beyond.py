"""Rules that look outside: what is live, where links come out, the certificate."""

import unittest
from datetime import UTC, datetime

import msgspec

from needle.core.edit.nodes import insert, set_field, set_words
from needle.core.edit.pages import split_page
from needle.core.kinds.menu import Menu
from needle.core.site.site import Site
from needle.core.snags.beyond import Beyond, LinkAnswer, outside_addresses
from needle.core.snags.finding import find_snags
from needle.core.snags.snag import Snag
from needle.core.values.actions import GoAddress, GoPage
from needle.core.values.words import Run
from tests.core.test_snags import clean_site
from tests.sites import PAGE, THANKS

SITE = clean_site()
MAP = "https://maps.example/hill"
NOON = datetime(2026, 8, 12, 12, tzinfo=UTC)


def seen(site: Site, rule: str, beyond: Beyond) -> list[Snag]:
    return [snag for snag in find_snags(site, (), beyond) if snag.rule == rule]


def mapped(site: Site = SITE) -> Site:
    return set_words(site, "text1", ((Run("See "), Run("the map", link=MAP)),))


class NotLiveTest(unittest.TestCase):
    def linked(self) -> list[tuple[Site, str, str]]:
        """Return sites that lead to the page of thanks: from where, and the setting."""
        return [
            (set_field(SITE, "button1", "actions", (GoPage(THANKS),)), "button1", "actions"),
            (set_words(SITE, "text1", ((Run("on", link=f"page:{THANKS}"),),)), "text1", "words"),
            (insert(SITE, Menu(id="m1", pages=(THANKS,)), "text1", "after"), "m1", "pages")]

    def test_a_live_page_that_leads_to_one_that_is_not(self) -> None:
        for site, target, setting in self.linked():
            with self.subTest(target):
                (snag,) = seen(site, "link-not-live", Beyond(frozenset({PAGE})))
                self.assertEqual((snag.target, snag.setting), (target, setting))
                self.assertIn("“Thanks”", snag.words)
                self.assertIn("Night", snag.where)

    def test_not_where_both_are_live_or_the_page_itself_is_not(self) -> None:
        for site, target, _ in self.linked():
            for live in ({PAGE, THANKS}, {THANKS}, set()):
                with self.subTest(target, live=live):
                    self.assertEqual(seen(site, "link-not-live", Beyond(frozenset(live))), [])

    def test_each_variant_says_which_it_is(self) -> None:
        site = split_page(self.linked()[0][0], PAGE, NOON)
        wheres = {snag.where for snag in seen(site, "link-not-live", Beyond(frozenset({PAGE})))}
        self.assertEqual({where[:7] for where in wheres}, {"Night A", "Night B"})


class OutsideTest(unittest.TestCase):
    def test_every_address_is_asked_once(self) -> None:
        site = set_field(mapped(), "button1", "actions", (GoAddress(MAP),))
        self.assertEqual(outside_addresses(site), [MAP])
        self.assertEqual(outside_addresses(SITE), [])

    def test_dead_ones_are_told_with_what_they_answer(self) -> None:
        for answer, words in ((LinkAnswer(404), "answers 404"), (LinkAnswer(410), "answers 410"),
                              (LinkAnswer(500), "answers 500"),
                              (LinkAnswer(fault="name"), "no such name"),
                              (LinkAnswer(fault="silent"), "nothing answers"),
                              (LinkAnswer(fault="unsafe"), "not trusted")):
            with self.subTest(answer=answer):
                (snag,) = seen(mapped(), "dead-link", Beyond(answers={MAP: answer}))
                self.assertIn(words, snag.words)
                self.assertEqual((snag.target, snag.setting), ("text1", "words"))

    def test_living_ones_and_those_that_let_no_machine_in_are_let_be(self) -> None:
        for answer in (LinkAnswer(200), LinkAnswer(403), LinkAnswer(429), LinkAnswer(503),
                       LinkAnswer(204)):
            with self.subTest(answer=answer):
                self.assertEqual(seen(mapped(), "dead-link", Beyond(answers={MAP: answer})), [])

    def test_one_that_moved_for_good_is_told_with_where(self) -> None:
        moved = Beyond(answers={MAP: LinkAnswer(200, "https://maps.example/new")})
        (snag,) = seen(mapped(), "moved-link", moved)
        self.assertIn("has moved to https://maps.example/new", snag.words)
        self.assertEqual(seen(mapped(), "dead-link", moved), [])
        self.assertEqual(seen(mapped(), "moved-link", Beyond(answers={MAP: LinkAnswer(200)})), [])


class CertificateTest(unittest.TestCase):
    def test_it_is_told_once_and_first(self) -> None:
        site = msgspec.structs.replace(SITE, domain="www.hill.example")
        found = find_snags(site, (), Beyond(certificate="The certificate ended on 1 May 2026"))
        self.assertEqual([snag.words for snag in found][:1],
                         ["The certificate ended on 1 May 2026"])
        self.assertEqual([snag.setting for snag in found].count("certificate"), 1)
