"""Releases: kept, compared, put back; addresses of before; what an earlier Needle left."""

import json
import shutil
import tempfile
import threading
import unittest
from datetime import UTC, datetime, timedelta
from pathlib import Path

import msgspec

from needle.core.edit.nodes import set_words
from needle.core.edit.pages import set_slug
from needle.core.site.site import Site
from needle.core.values.form import Letter
from needle.core.values.media import Medium
from needle.core.values.strict import StrictError
from needle.core.values.words import text
from needle.publish.live import bring_back, changed_pages, send_pages, take_off
from needle.publish.planning import difference
from needle.publish.refusing import PublishError
from needle.publish.release import Live, Moved, Release, ReleasedFile
from needle.publish.releases import LiveError, Releases, fresh_id, read_live, read_sent
from needle.store.project import Project
from tests.sites import PAGE, THANKS, small_site


class ReleaseCase(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name) / "project"
        self.site = small_site()
        Project.create(self.folder, self.site).close()
        self.store = Releases(self.folder)

    def worded(self, words: str) -> Site:
        return set_words(self.site, "head1", (text(words),))

    def live(self, path: str = "night/index.html") -> str:
        return self.store.bytes_of(self.store.current().files[path]).decode()


class ReleaseTest(ReleaseCase):
    def test_an_earlier_release_comes_back_byte_for_byte_and_as_a_new_one(self) -> None:
        send_pages(self.site, self.folder, [PAGE, THANKS])
        first = self.store.current()
        send_pages(self.worded("Other words"), self.folder, [PAGE])
        self.assertIn("Other words", self.live())
        bring_back(self.folder, first.id)
        now = self.store.current()
        self.assertEqual((now.files, now.sent, now.back_to), (first.files, first.sent, first.id))
        self.assertEqual(now.live.pages, first.live.pages)
        self.assertEqual(len(self.store.ids()), 3)
        self.assertEqual(read_sent(self.folder, PAGE).page, self.site.page(PAGE))

    def test_a_release_of_which_a_file_is_gone_does_not_come_back(self) -> None:
        send_pages(self.site, self.folder, [PAGE])
        first = self.store.current()
        send_pages(self.worded("Other words"), self.folder, [PAGE])
        held = first.files["night/index.html"]
        (self.store.folder / self.store.path_of(held.digest)).unlink()
        with self.assertRaisesRegex(PublishError, "night/index.html of that release is gone"):
            bring_back(self.folder, first.id)
        self.assertIn("Other words", self.live())
        with self.assertRaisesRegex(LiveError, "cannot be read"):
            bring_back(self.folder, "r20200101-000000-0000")

    def test_a_release_says_who_sent_what(self) -> None:
        send_pages(self.site, self.folder, [PAGE, THANKS])
        send_pages(self.worded("Other"), self.folder, [PAGE], name="Before the fair")
        now = self.store.current()
        self.assertEqual([(one.page, one.changes) for one in now.told],
                         [(PAGE, ("words of heading",))])
        self.assertTrue(now.who)
        self.assertEqual(now.name, "Before the fair")
        take_off(self.folder, [THANKS])
        self.assertEqual(self.store.current().off, ("Thanks",))
        self.assertEqual(self.store.renamed(now.id, "  Fair \n day ").name, "Fair day")

    def test_only_pages_that_differ_are_sent_again_and_files_are_made_once(self) -> None:
        self.assertEqual(changed_pages(self.site, self.folder), [PAGE, THANKS])
        send_pages(self.site, self.folder, [PAGE, THANKS])
        self.assertEqual(changed_pages(self.site, self.folder), [])
        changed = self.worded("Other words")
        self.assertEqual(changed_pages(changed, self.folder), [PAGE])
        before = self.store.current().files
        counts: list[tuple[int, int]] = []
        send_pages(changed, self.folder, [PAGE], lambda *far: bool(counts.append(far)) or True)
        after = self.store.current().files
        self.assertEqual({path for path in after if before.get(path) != after[path]},
                         {"night/index.html"})
        self.assertEqual(counts[-1], (1, 1))  # No picture, font or script was made again.

    def test_somebody_else_who_sends_is_not_disturbed(self) -> None:
        send_pages(self.site, self.folder, [PAGE])
        before = self.store.ids()
        with self.store.changing():
            faults: list[str] = []

            def other() -> None:
                try:
                    send_pages(self.worded("Mine"), self.folder, [PAGE])
                except PublishError as error:
                    faults.append(str(error))

            thread = threading.Thread(target=other)
            thread.start()
            thread.join()
        self.assertIn("Somebody sends just now", faults[0])
        self.assertEqual(self.store.ids(), before)

    def test_as_many_are_kept_as_wanted_and_their_files(self) -> None:
        for number in range(4):
            send_pages(self.worded(f"Words {number}"), self.folder, [PAGE])
        self.assertEqual(self.store.keep_at_most(2), 2)
        kept = [self.store.read(one) for one in self.store.ids()]
        self.assertEqual(len(kept), 2)
        needed = {file.digest for one in kept for file in one.files.values()} | {
            digest for one in kept for digest in one.sent.values()}
        self.assertEqual({path.name for path in (self.store.folder / "blobs").glob("*/*")},
                         needed)
        send_pages(self.worded("Words 9"), self.folder, [PAGE])
        self.assertEqual(len(self.store.ids()), 2)
        self.assertIn("Words 9", self.live())
        with self.assertRaises(StrictError):
            self.store.keep_at_most(0)

    def test_a_file_of_a_release_that_is_not_what_it_was_is_noticed(self) -> None:
        send_pages(self.site, self.folder, [PAGE])
        held = self.store.current().files["night/index.html"]
        path = self.store.folder / self.store.path_of(held.digest)
        path.write_bytes(b"<p>something else")
        with self.assertRaisesRegex(PublishError, "is not what it was"):
            self.store.bytes_of(held)
        send_pages(self.site, self.folder, [PAGE])  # Which makes it anew.
        self.assertIn("Old words", self.live())

    def test_what_a_letter_brings_stays_though_its_medium_goes(self) -> None:
        made = self.folder / "media" / "guide.pdf"
        made.parent.mkdir(exist_ok=True)
        made.write_bytes(b"%PDF-guide")
        letter = Letter(service="mailbox", subject="Yours", words="Here", file="guide")
        site = msgspec.structs.replace(
            self.site, media=(*self.site.media, Medium(
                id="guide", name="Guide.pdf", file="guide.pdf", width=0, height=0)),
            forms=tuple(msgspec.structs.replace(form, letter=letter)
                        for form in self.site.forms))
        live = send_pages(site, self.folder, [PAGE])
        made.unlink()
        self.assertEqual((self.folder / live.files["guide"].place).read_bytes(), b"%PDF-guide")
        with self.assertRaisesRegex(PublishError, "Guide.pdf” of the project's media is missing"):
            send_pages(site, self.folder, [PAGE])


class AddressTest(ReleaseCase):
    def slugs(self, *slugs: str) -> None:
        for slug in slugs:
            send_pages(set_slug(self.site, PAGE, slug), self.folder, [PAGE])

    def leads(self) -> dict[str, str]:
        live = read_live(self.folder)
        return {one.slug: live.page(one.page).slug if one.page else "" for one in live.moved}

    def test_an_address_that_changed_leads_on_without_chains_or_loops(self) -> None:
        self.slugs("night", "meteor", "stars")
        self.assertEqual(self.leads(), {"night": "stars", "meteor": "stars"})
        self.slugs("night")  # Back to where it was: nothing may lead away from there.
        self.assertEqual(self.leads(), {"meteor": "night", "stars": "night"})

    def test_another_page_may_take_an_address_that_led_on(self) -> None:
        self.slugs("night", "meteor")
        send_pages(set_slug(set_slug(self.site, PAGE, "meteor"), THANKS, "night"), self.folder,
                   [THANKS])
        self.assertEqual(self.leads(), {})

    def test_a_page_that_is_taken_off_leaves_what_was_chosen(self) -> None:
        self.slugs("night", "meteor")
        send_pages(self.site, self.folder, [THANKS])
        take_off(self.folder, [PAGE], {PAGE: THANKS})
        self.assertEqual(self.leads(), {"night": "thanks", "meteor": "thanks"})
        self.slugs("stars")
        take_off(self.folder, [PAGE], {PAGE: ""})
        self.assertEqual(self.leads()["stars"], "")
        self.slugs("sun")
        take_off(self.folder, [PAGE])
        self.assertNotIn("sun", self.leads())

    def test_what_comes_back_keeps_the_addresses_that_came_up_since(self) -> None:
        self.slugs("night")
        first = self.store.current()
        self.slugs("meteor")
        bring_back(self.folder, first.id)
        self.assertEqual(self.leads(), {"meteor": "night"})


class AdoptTest(ReleaseCase):
    def test_what_an_earlier_needle_kept_as_loose_files_is_a_release(self) -> None:
        live = send_pages(self.site, self.folder, [PAGE, THANKS])
        now = self.store.current()
        loose = self.folder / "loose"
        loose.mkdir()
        for path, file in now.files.items():
            (loose / path).parent.mkdir(parents=True, exist_ok=True)
            (loose / path).write_bytes(self.store.bytes_of(file))
        (loose / "sent").mkdir()
        for page, digest in now.sent.items():
            held = json.loads((self.store.folder / self.store.path_of(digest)).read_bytes())
            # An earlier Needle wrote it in another order.
            (loose / "sent" / f"{page}.json").write_text(
                json.dumps(dict(reversed(held.items())), indent=1))
        (loose / "assets" / "Not Ours.txt").write_text("x")
        old = msgspec.structs.replace(live, pages=tuple(
            msgspec.structs.replace(page, files=()) for page in live.pages))
        (loose / "live.json").write_bytes(msgspec.json.encode(old))
        shutil.rmtree(self.store.folder)
        loose.rename(self.store.folder)
        adopted = self.store.current()
        self.assertEqual(dict(adopted.files), dict(now.files))
        self.assertEqual(adopted.sent, now.sent)
        self.assertEqual(read_sent(self.folder, PAGE).page, self.site.page(PAGE))
        self.assertEqual(changed_pages(self.site, self.folder), [])
        send_pages(self.worded("Then"), self.folder, [PAGE])
        self.assertEqual(len(self.store.ids()), 2)


class PlanTest(unittest.TestCase):
    def file(self, number: int) -> ReleasedFile:
        return ReleasedFile(f"{number:064x}", number)

    def test_what_pages_load_is_put_first_and_pages_go_first(self) -> None:
        before = {"assets/old.css": self.file(1), "gone/index.html": self.file(2),
                  "same/index.html": self.file(3), "index.html": self.file(4)}
        after = {"assets/new.css": self.file(5), "same/index.html": self.file(3),
                 "index.html": self.file(6), "a/index.html": self.file(7)}
        delta = difference(before, after)
        self.assertEqual(list(delta.put), ["assets/new.css", "a/index.html", "index.html"])
        self.assertEqual(delta.remove, ("gone/index.html", "assets/old.css"))
        self.assertEqual(difference(after, after), type(delta)())

    def test_ids_go_up_whatever_the_clock_does(self) -> None:
        at = datetime(2026, 11, 26, 1, 2, 3, 500_000, tzinfo=UTC)
        first = fresh_id(at)
        self.assertEqual(first, "r20261126-010203-8000")
        self.assertEqual(fresh_id(at, first), "r20261126-010203-8001")
        self.assertEqual(fresh_id(at - timedelta(hours=1), first), "r20261126-010203-8001")
        self.assertEqual(fresh_id(at, "r20261231-235959-ffff"), "r20270101-000000-0000")

    def test_paths_of_a_release_lead_nowhere_else(self) -> None:
        live = Live("hill", "Hill")
        for path in ("../x.html", "assets/../x", "assets/a/b", "/index.html", "assets/.hidden"):
            with self.subTest(path), self.assertRaises(StrictError):
                Release("r20261126-010203-8000", "", live, {path: self.file(1)})
        with self.assertRaises(StrictError):
            ReleasedFile("../../etc/passwd", 1)
        with self.assertRaises(StrictError):
            Moved("../x")


if __name__ == "__main__":
    unittest.main()
