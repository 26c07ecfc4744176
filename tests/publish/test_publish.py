import re
import tempfile
import unittest
from pathlib import Path

import msgspec
from fontTools.ttLib import TTFont

from needle.core.edit.changes import Sent, as_sent, changes_since
from needle.core.edit.looks import set_look
from needle.core.edit.nodes import delete, duplicate, insert, nudge, set_words
from needle.core.edit.pages import set_page, set_slug, split_page
from needle.core.kinds import ITEM_KINDS
from needle.core.site.site import Site
from needle.core.type.faces import FACES, nearest_face
from needle.core.type.subset import subset_woff2
from needle.core.values.words import Run, text
from needle.core.wording.lettering import faces_used, letters_used
from needle.host.visitors import device_of, source_of, variant_for
from needle.publish.folder import publish_folder
from needle.publish.live import send_pages, take_off
from needle.publish.refusing import PublishError
from needle.publish.release import LivePage, LiveVariant
from needle.publish.releases import Releases, read_live, read_sent
from tests.sites import PAGE, THANKS, small_site


class FolderTest(unittest.TestCase):
    def setUp(self) -> None:
        name = tempfile.TemporaryDirectory()
        self.addCleanup(name.cleanup)
        self.project, self.out = Path(name.name) / "p", Path(name.name) / "out"

    def test_every_address_in_the_pages_leads_to_a_file_that_is_there(self) -> None:
        pages = publish_folder(small_site(), self.project, self.out)
        self.assertEqual(len(pages), 2)
        for page in pages:
            html = page.read_text()
            for address in re.findall(r'(?:href|src)="([^"#]+)"|url\(([^)]+)\)', html):
                target = "".join(address)
                if not target.startswith("data:"):
                    goal = page.parent / target
                    self.assertTrue((goal / "index.html" if goal.is_dir() else goal).is_file(),
                                    target)
            self.assertNotRegex(html, r"https?://")

    def test_a_plain_folder_counts_nothing_and_one_with_a_host_does(self) -> None:
        publish_folder(small_site(), self.project, self.out)
        self.assertNotIn("_needle/visit", self.scripts())
        publish_folder(small_site(), self.project, self.out, counted=True)
        self.assertIn("_needle/visit", self.scripts())

    def scripts(self) -> str:
        return "".join(p.read_text() for p in (self.out / "assets").glob("*.js"))

    def test_stopping_is_said_and_pages_not_reached_stay(self) -> None:
        with self.assertRaisesRegex(PublishError, "Stopped"):
            publish_folder(small_site(), self.project, self.out, lambda done, whole: done < 1)
        self.assertFalse((self.out / "night").exists())

    def test_a_folder_that_cannot_be_written_is_said(self) -> None:
        self.out.write_text("a file stands here")
        with self.assertRaisesRegex(PublishError, "cannot be written"):
            publish_folder(small_site(), self.project, self.out)


class LiveTest(FolderTest):
    def live(self, path: str) -> str:
        store = Releases(self.project)
        return store.bytes_of(store.current().files[path]).decode()

    def test_draft_and_live_are_apart_and_the_rest_stays_as_sent(self) -> None:
        site = small_site()
        send_pages(site, self.project, [PAGE, THANKS])
        edited = set_words(set_words(site, "head1", (text("New"),)), "thead", (text("Newer"),))
        send_pages(edited, self.project, [THANKS])
        self.assertIn("Old words", self.live("night/index.html"))
        self.assertIn("Newer", self.live("thanks/index.html"))
        self.assertEqual(read_sent(self.project, PAGE).page, site.page(PAGE))

    def test_an_address_that_changed_leaves_nothing_at_the_old_one(self) -> None:
        send_pages(small_site(), self.project, [PAGE])
        send_pages(set_slug(small_site(), PAGE, "meteor"), self.project, [PAGE])
        files = Releases(self.project).current().files
        self.assertNotIn("night/index.html", files)
        self.assertIn("meteor/index.html", files)
        live = read_live(self.project)
        self.assertEqual(live.page(live.moved_from("night").page).slug, "meteor")

    def test_two_pages_cannot_be_live_at_one_address(self) -> None:
        send_pages(small_site(), self.project, [PAGE])
        swapped = set_slug(set_slug(small_site(), PAGE, "later"), THANKS, "night")
        with self.assertRaisesRegex(PublishError, "still live at /night"):
            send_pages(swapped, self.project, [THANKS])
        self.assertEqual([p.slug for p in read_live(self.project).pages], ["night"])

    def test_taking_off_and_nothing_live_yet(self) -> None:
        self.assertIsNone(read_live(self.project))
        self.assertIsNone(take_off(self.project, [PAGE]))
        send_pages(small_site(), self.project, [PAGE, THANKS])
        self.assertEqual([p.id for p in take_off(self.project, [PAGE]).pages], [THANKS])
        self.assertIsNone(read_sent(self.project, PAGE))


class ChangesTest(unittest.TestCase):
    def changed(self, site: Site) -> list[str]:
        def sent(of: Site) -> Sent:
            return as_sent(of, of.page(PAGE))
        return changes_since(sent(small_site()), sent(site))

    def test_changes_are_told_in_words(self) -> None:
        from datetime import UTC, datetime

        start = small_site()
        section = start.pages[0].variants[0].children[0].id
        for site, words in (
                (start, []),
                (set_words(start, "head1", (text("x"),)), ["words of heading"]),
                (set_look(start, ["head1", "head2"], "size", 20), ["heading (2)"]),
                (duplicate(start, section)[0], ["1 section added"]),
                (delete(start, "list1"), ["1 item removed"]),
                (nudge(start, section, 1), ["order of sections"]),
                (set_page(start, PAGE, title="New"), ["title or description"]),
                (set_slug(start, PAGE, "new"), ["address was /night"]),
                (split_page(start, PAGE, datetime(2026, 1, 1, tzinfo=UTC)),
                 ["variant B added", "shares"]),
                (msgspec.structs.replace(start, styles=()), ["text styles"]),
                (msgspec.structs.replace(start, forms=(msgspec.structs.replace(
                    start.forms[0], submit="Go"),)), ["form Places"])):
            with self.subTest(words):
                self.assertEqual(self.changed(site), words)


class FontTest(unittest.TestCase):
    def test_a_subset_holds_the_letters_and_little_else(self) -> None:
        data = subset_woff2(FACES[0], "abcé")
        import io

        letters = TTFont(io.BytesIO(data)).getBestCmap()
        self.assertEqual(set(letters), {ord(sign) for sign in "abcé"})
        self.assertLess(len(data), 6000)

    def test_only_the_cuts_in_use_are_asked_for(self) -> None:
        site = small_site()
        used = faces_used(site, site.pages[1].variants[0])
        weights = {(face.family, face.weight, face.italic) for face in used}
        self.assertEqual(weights, {("IBM Plex Sans", 400, False), ("Zilla Slab", 600, False)})
        bold = set_words(site, "thead", ((Run("x", emphasis=True),),))
        self.assertIn(nearest_face(site, "Zilla Slab", 600, True),
                      faces_used(bold, bold.pages[1].variants[0]))

    def test_cuts_that_a_kinds_own_rules_are_set_in_come_along(self) -> None:
        for key in ("questions", "testimonial", "prices"):
            with self.subTest(key):
                site = insert(small_site(), ITEM_KINDS[key].new("n1"), "thead", "after")
                self.assertIn(nearest_face(site, "IBM Plex Sans", 600, False),
                              faces_used(site, site.pages[1].variants[0]))

    def test_letters_of_the_pages_are_among_those_used(self) -> None:
        self.assertLessEqual(set("žœ☂aZ9"), set(letters_used(["ž☂", "œ"])))


class VisitorTest(unittest.TestCase):
    PAGE = LivePage("p", "P", "p", "", (LiveVariant("A", 60, "p/index.html"),
                                   LiveVariant("B", 40, "p/variant-b.html")))

    def test_shares_arrive_as_asked_and_the_choice_is_stable(self) -> None:
        visitors = [f"{n:024x}" for n in range(4000)]
        chosen = [variant_for(self.PAGE, v, None).key for v in visitors]
        self.assertAlmostEqual(chosen.count("A") / 4000, 0.6, delta=0.03)
        self.assertEqual(chosen, [variant_for(self.PAGE, v, None).key for v in visitors])

    def test_a_returning_visitor_keeps_a_variant_whatever_the_shares_are_now(self) -> None:
        moved = LivePage("p", "P", "p", "", (LiveVariant("A", 0, "p/index.html"),
                                             LiveVariant("B", 100, "p/variant-b.html")))
        self.assertEqual(variant_for(moved, "f" * 24, "A").key, "A")
        self.assertEqual(variant_for(moved, "f" * 24, "gone").key, "B")

    def test_sources(self) -> None:
        self.assertEqual(source_of("?utm_source=ad&utm_campaign=c", "", "h"), ("ad", "c"))
        self.assertEqual(source_of("", "https://news.example/x", "h"), ("news.example", ""))
        self.assertEqual(source_of("", "http://h/page", "h"), ("direct", ""))
        self.assertEqual(source_of("", "http://[bad", "h"), ("direct", ""))
        self.assertEqual([device_of(a) for a in ("iPhone Mobi", "iPad", "X11")],
                         ["phone", "tablet", "desktop"])
