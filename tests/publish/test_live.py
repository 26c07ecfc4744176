"""What is live: looked at first, switched last, each page with its own forms."""

import tempfile
import unittest
from datetime import UTC, datetime, timedelta
from pathlib import Path

import msgspec

from needle.core.edit.pages import keep_variant, set_share, split_page
from needle.publish.live import bring_back, send_pages, take_off
from needle.publish.refusing import PublishError
from needle.publish.release import SharedOut
from needle.publish.releases import LiveError, Releases, live_folder, read_live
from needle.store.project import Project
from tests.sites import FORM, PAGE, THANKS, small_site


class LiveTest(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name) / "project"
        self.site = small_site()
        Project.create(self.folder, self.site).close()

    def test_a_broken_list_is_refused_and_stays_as_it_is(self) -> None:
        send_pages(self.site, self.folder, [PAGE])
        file = live_folder(self.folder) / "live.json"
        before = {path: path.read_bytes() for path in (file.parent / "blobs").rglob("*")
                  if path.is_file()}
        for raw in (b'{"address": "cut sho', b"null", b"[" * 9000, b"\xff"):
            file.write_bytes(raw)
            with self.subTest(raw[:9]):
                with self.assertRaisesRegex(LiveError, "is broken"):
                    read_live(self.folder)
                with self.assertRaisesRegex(PublishError, "Nothing was sent"):
                    send_pages(self.site, self.folder, [PAGE, THANKS])
                with self.assertRaisesRegex(PublishError, "Nothing was taken off"):
                    take_off(self.folder, [PAGE])
                self.assertEqual(file.read_bytes(), raw)
        self.assertEqual({path: path.read_bytes() for path in before}, before)

    def test_a_send_that_is_refused_has_changed_nothing(self) -> None:
        send_pages(self.site, self.folder, [PAGE, THANKS])
        slug = self.site.page(THANKS).slug
        clash = msgspec.structs.replace(self.site, pages=tuple(
            msgspec.structs.replace(page, slug=slug, name="Clash") if page.id == PAGE
            else msgspec.structs.replace(page, slug="moved") for page in self.site.pages
            if page.id in (PAGE, THANKS)))
        files = {path: path.read_bytes() for path in live_folder(self.folder).rglob("*")
                 if path.is_file()}
        with self.assertRaisesRegex(PublishError, "is still live at"):
            send_pages(clash, self.folder, [PAGE])
        self.assertEqual({path: path.read_bytes() for path in live_folder(self.folder).rglob("*")
                          if path.is_file()}, files)

    def test_a_page_that_is_not_sent_keeps_its_form(self) -> None:
        send_pages(self.site, self.folder, [PAGE, THANKS])
        changed = msgspec.structs.replace(self.site, forms=tuple(
            msgspec.structs.replace(form, submit="Changed") for form in self.site.forms))
        live = send_pages(changed, self.folder, [THANKS])
        self.assertNotEqual(live.form(FORM, PAGE).submit, "Changed")
        live = send_pages(changed, self.folder, [PAGE])
        self.assertEqual(live.form(FORM, PAGE).submit, "Changed")

    def test_a_test_begins_with_its_variants_and_not_with_each_sending(self) -> None:
        made, later = (datetime(2026, 3, day, 9, tzinfo=UTC) for day in (1, 5))
        tested = split_page(self.site, PAGE, made)

        def since() -> str:
            return read_live(self.folder).page(PAGE).since

        send_pages(self.site, self.folder, [PAGE], at=made)
        send_pages(tested, self.folder, [PAGE], at=later)
        self.assertEqual(since(), later.isoformat())
        send_pages(tested, self.folder, [PAGE], at=later + timedelta(days=3))
        self.assertEqual(since(), later.isoformat())
        self.assertEqual(read_live(self.folder).page(PAGE).earlier, ())
        # What an earlier Needle sent says nothing of it.
        store = Releases(self.folder)
        file = store.folder / "releases" / f"{store.current().id}.json"
        file.write_bytes(file.read_bytes().replace(
            f'"since":"{later.isoformat()}"'.encode(), b'"since":""'))
        send_pages(tested, self.folder, [PAGE], at=later + timedelta(days=4))
        self.assertEqual(since()[:10], "2026-03-01")

    def test_a_changed_share_begins_a_time_of_its_own_however_it_goes_live(self) -> None:
        first, then = (datetime(2026, 3, day, 9, tzinfo=UTC) for day in (1, 5))
        tested = split_page(self.site, PAGE, first)
        send_pages(tested, self.folder, [PAGE], at=first)
        before = Releases(self.folder).current().id
        send_pages(set_share(tested, PAGE, "A", 70), self.folder, [PAGE], at=then)
        page = read_live(self.folder).page(PAGE)
        even = SharedOut(first.isoformat(), then.isoformat(), (("A", 50), ("B", 50)))
        self.assertEqual((page.since, page.earlier), (then.isoformat(), (even,)))
        bring_back(self.folder, before)
        back = read_live(self.folder).page(PAGE)
        self.assertGreater(back.since, then.isoformat())
        self.assertEqual(back.earlier, (even, SharedOut(then.isoformat(), back.since,
                                                        (("A", 70), ("B", 30)))))
        ended = keep_variant(tested, PAGE, "A", then)
        send_pages(ended, self.folder, [PAGE])
        self.assertEqual(read_live(self.folder).page(PAGE).earlier, back.earlier)
