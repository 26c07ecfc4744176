"""First drafts: reading ideas, words, looks, whole sites, and what was invented."""

import re
import time
import unittest

import msgspec

from needle.core.draft.copy import Copy, Wish, copy_faults
from needle.core.draft.drafting import Drafted, Picks, draft_site
from needle.core.draft.fields import FIELDS
from needle.core.draft.forms import FORMS
from needle.core.draft.idea import MOST_WORDS, read_idea
from needle.core.draft.looks import look_choices
from needle.core.draft.offline import OfflineWriter
from needle.core.edit.invented import (
    confirm,
    confirm_everything,
    confirm_page,
    placeholders,
)
from needle.core.edit.nodes import set_words
from needle.core.edit.pages import set_page
from needle.core.icons.drawing import icon_names
from needle.core.images.vector import clean_svg
from needle.core.kinds.testimonial import Testimonial
from needle.core.render.texts import plain_lines, runs_of
from needle.core.site.site import Site
from needle.core.site.starter import starter_site
from needle.core.snags.finding import find_snags
from needle.core.values.brief import Brief
from needle.core.values.ids import IdSource
from needle.core.values.words import text
from tests.sites import small_site

IDEAS = (
    "Star evenings on a dark hill, with telescopes and a guide, for people who have never looked",
    "A mobile bicycle repair service that comes to your office.",
    "An app that reminds houseplant owners when to water.",
    "We help restaurants reduce food waste with smart scales.",
    "Online course teaching retirees to write their memoirs",
    "Law firm for tenants in dispute with landlords", "I repair old violins in Bristol.",
    "A café where people learn sign language over coffee.", "bakery",
    "Honey from rooftop bees in Manchester", "Bookkeeping for freelancers so they can sleep")


def draft(idea: str, seed: int = 0, brief: Brief | None = None, site: Site | None = None,
          replacing: bool = True) -> Drafted:
    copy = OfflineWriter().write(Wish(idea, brief or Brief(), seed))
    read = read_idea(idea)
    start = site or starter_site("New", "new")
    if brief is not None:
        start = msgspec.structs.replace(start, brief=brief)
    looks = look_choices(read, copy.names[0], seed)
    return draft_site(start, read, copy, looks, Picks(copy.names[0]), IdSource(seed), replacing)


class IdeaTest(unittest.TestCase):
    def test_what_who_and_more_are_told_apart(self) -> None:
        for words, what, article, who, form in (
                (IDEAS[0], "star evenings on a dark hill", "", "people who have never looked",
                 "event"),
                (IDEAS[1], "mobile bicycle repair service", "a", "", "service"),
                (IDEAS[4], "online course", "an", "retirees", "course"),
                (IDEAS[5], "law firm", "a", "tenants", "service"),
                (IDEAS[6], "violin repairs", "", "", "service"),
                ("I want to sell handmade dog collars online to small-dog owners",
                 "handmade dog collars", "", "small-dog owners", "product"),
                (IDEAS[9], "honey from rooftop bees", "", "", "treat")):
            with self.subTest(words):
                idea = read_idea(words)
                self.assertEqual((idea.what, idea.article, idea.who, idea.form.key),
                                 (what, article, who, form))

    def test_place_price_time_and_benefit(self) -> None:
        idea = read_idea("Kayak tours in Port Ellin every Friday evening, £45 per person")
        self.assertEqual((idea.place, idea.when, idea.price),
                         ("in Port Ellin", "every Friday evening", "£45"))
        self.assertEqual(read_idea(IDEAS[3]).benefit, "reduce food waste with smart scales")
        self.assertEqual(read_idea(IDEAS[10]).benefit, "sleep")
        self.assertEqual(read_idea("Acme is a tool that counts hens").name, "Acme")

    def test_odd_ideas_give_something_or_are_told(self) -> None:
        many = "very " * 5000 + "good soup"
        self.assertLessEqual(len(read_idea(many).words.split()), MOST_WORDS)
        self.assertFalse(read_idea(
            "Eine Bäckerei in Köln mit Sauerteigbrot und Kuchen für Frühaufsteher").english)
        self.assertNotIn("alert", read_idea("<script>alert(1)</script> A shop for lamps").words)
        for words in ("", "?!", "x", "\x00\ud800".encode("utf-8", "replace").decode(), "🙂🙂",
                      "a" * 9000, "for for for", "that which who", "{what} %s {0}"):
            with self.subTest(words[:12]):
                copy = OfflineWriter().write(Wish(words, Brief()))
                self.assertEqual(copy_faults(copy), [])


class WordsTest(unittest.TestCase):
    def copies(self) -> list[Copy]:
        return [OfflineWriter().write(Wish(idea, Brief(), seed))
                for idea in IDEAS for seed in (0, 1, 5)]

    def test_every_text_is_whole_and_without_slips(self) -> None:
        for copy in self.copies():
            said = msgspec.json.encode(copy).decode()
            with self.subTest(copy.headlines[0]):
                self.assertIsNone(re.search(
                    r"[{}]{2,}|\{\w+\}|  |\ba a\b|\bthe the\b| ,| \.", said))
                self.assertIsNone(re.search(r"\bA [aeio]|\ba (?:app|hour|old|online)\b", said))
                self.assertNotIn("!", said)
                self.assertLessEqual(len(copy.title), 70)
                self.assertLessEqual(len(copy.description), 160)
                self.assertEqual(len(set(copy.names)), 6)

    def test_the_same_seed_says_the_same_and_another_one_something_else(self) -> None:
        one = OfflineWriter().write(Wish(IDEAS[1], Brief(), 3))
        self.assertEqual(OfflineWriter().write(Wish(IDEAS[1], Brief(), 3)), one)
        others = {OfflineWriter().write(Wish(IDEAS[1], Brief(), seed)).names for seed in range(6)}
        self.assertGreater(len(others), 4)

    def test_the_brief_is_used(self) -> None:
        brief = Brief(call_to_action="Ring the bell", audience="Night nurses",
                      facts="- what does it cost\nwhere to park")
        copy = OfflineWriter().write(Wish("A bakery", brief))
        self.assertEqual(copy.call, "Ring the bell")
        self.assertIn("night nurses", " ".join(copy.subs))
        self.assertEqual([point.title for point in copy.questions[:2]],
                         ["What does it cost?", "Where to park?"])

    def test_the_lexicon_is_sound(self) -> None:
        names = set(icon_names())
        for topic in FIELDS:
            self.assertLessEqual(set(topic.icons), names, topic.key)
            self.assertGreaterEqual(len(topic.second), 8, topic.key)
            self.assertEqual(len(topic.points), 3, topic.key)
        for form in FORMS:
            self.assertEqual(len(form.steps), 3, form.key)
            self.assertTrue(any("{" not in head or "{A_what}" in head for head in form.heads))


class DraftTest(unittest.TestCase):
    def test_a_draft_is_a_complete_site_made_quickly(self) -> None:
        start = time.perf_counter()
        done = draft(IDEAS[0])
        self.assertLess(time.perf_counter() - start, 2)
        site = done.site
        self.assertEqual([page.slug for page in site.pages], ["", "thanks", "privacy"])
        self.assertEqual(len(site.forms), 1)
        for name, data in done.files.items():
            clean, wide, high = clean_svg(data, name)
            self.assertEqual(clean_svg(clean, name), (clean, wide, high))
        start_page = site.pages[0]
        ranks = [node.rank for node in start_page.variants[0].nodes()  # type: ignore[attr-defined]
                 if hasattr(node, "rank")]
        self.assertEqual(ranks.count(1), 1)
        sorts = {type(node).__name__ for node in start_page.variants[0].nodes()}
        self.assertLessEqual({"Testimonial", "Figures", "Prices", "Questions", "FormBox", "Logo"},
                             sorts)

    def test_drafts_differ_in_look(self) -> None:
        looks = {(d.site.brand.colours()["main"], d.site.brand.heading_face,
                  d.site.brand.mark.shape) for d in map(draft, IDEAS)}
        self.assertEqual(len(looks), len(IDEAS))

    def test_all_that_was_made_up_is_marked_and_listed(self) -> None:
        site = draft(IDEAS[2]).site
        for page in site.pages:
            for node in page.variants[0].nodes():
                words = " ".join(plain_lines(node)).strip()
                if words and words != "Privacy":
                    self.assertTrue(all(run.invented for run in runs_of(node)), words)
        snags = [snag.words for snag in find_snags(site)]
        for told in ("An invented testimonial", "Invented figures", "Invented prices",
                     "A stand-in picture", "The name "):
            self.assertTrue(any(words.startswith(told) for words in snags), told)

    def test_what_the_brief_says_is_not_invented(self) -> None:
        site = draft("A bakery", brief=Brief(call_to_action="Ring the bell")).site
        buttons = [node for node in site.pages[0].variants[0].nodes() if hasattr(node, "looks")]
        self.assertTrue(all(not run.invented for node in buttons for run in runs_of(node)))

    def test_confirming_goes_item_by_item_page_by_page_or_all_at_once(self) -> None:
        site = draft(IDEAS[1]).site
        before = len(list(placeholders(site)))
        said = next(node.id for node in site.pages[0].variants[0].nodes()
                    if isinstance(node, Testimonial))
        self.assertEqual(len(list(placeholders(confirm(site, [said])))), before - 1)
        left = [one for one in placeholders(confirm_page(site, site.pages[0].id)) if one.page]
        self.assertNotIn(site.pages[0].id, {one.page.id for one in left})  # type: ignore[union-attr]
        self.assertEqual(list(placeholders(confirm_everything(site))), [])

    def test_what_somebody_writes_is_theirs(self) -> None:
        site = draft(IDEAS[1]).site
        head = next(node for node in site.pages[0].variants[0].nodes() if hasattr(node, "rank"))
        changed = set_words(site, head.id, (text("Our own words", invented=True),))
        self.assertEqual(len(list(placeholders(changed))), len(list(placeholders(site))) - 1)

    def test_a_title_that_somebody_writes_is_theirs(self) -> None:
        site = draft(IDEAS[1]).site
        changed = set_page(site, site.pages[0].id, title="Our own title")
        self.assertEqual(changed.pages[0].invented, ("description",))

    def test_a_draft_beside_what_is_there_changes_nothing_of_it(self) -> None:
        site = small_site()
        done = draft(IDEAS[4], site=site, replacing=False)
        self.assertEqual(done.site.pages[:2], site.pages)
        self.assertEqual(done.site.brand, site.brand)
        self.assertEqual(len({page.slug for page in done.site.pages}), 5)
        self.assertEqual(done.site.name, site.name)
