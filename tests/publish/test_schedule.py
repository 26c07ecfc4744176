"""Pages that are sent and taken off at a time that was set before."""

import tempfile
import unittest
from datetime import UTC, datetime, timedelta
from pathlib import Path
from zoneinfo import ZoneInfo

from needle.core.edit.nodes import set_words
from needle.core.edit.pages import set_slug
from needle.core.site.site import Site
from needle.core.values.words import text
from needle.publish.live import send_pages
from needle.publish.refusing import PublishError
from needle.publish.releases import LiveError, Releases
from needle.publish.schedule import cancel, do_due, moment_of, schedule_off, schedule_sending
from needle.store.project import Project
from tests.host.stall import StallTest, wait_for
from tests.sites import PAGE, THANKS, small_site

_NOW = datetime(2026, 10, 1, 12, tzinfo=UTC)
_HOUR = timedelta(hours=1)


def said(site: Site, words: str, node: str = "head1") -> Site:
    return set_words(site, node, (text(words),))


class ScheduleTest(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name) / "project"
        self.made = small_site()
        Project.create(self.folder, self.made).close()
        self.store = Releases(self.folder)

    def send(self, *pages: str) -> None:
        send_pages(self.made, self.folder, pages)

    def shown(self, page: str) -> str:
        release = self.store.current()
        assert release is not None
        live = release.live.page(page)
        if live is None:
            return ""
        return self.store.bytes_of(release.files[live.variants[0].file]).decode()

    def test_it_is_sent_as_it_was_when_it_was_set_and_others_stay_as_they_are_then(self) -> None:
        self.send(PAGE, THANKS)
        schedule_sending(said(self.made, "Tomorrow"), self.folder, [PAGE], _NOW + _HOUR)
        # Sent meanwhile, and kept: the other page, and this one as it was before.
        self.made = said(self.made, "Goodbye", "thead")
        self.send(THANKS)
        self.assertEqual(do_due(self.folder, _NOW), 0)
        self.assertIn("Old words", self.shown(PAGE))
        self.assertEqual(do_due(self.folder, _NOW + _HOUR), 1)
        self.assertIn("Tomorrow", self.shown(PAGE))
        self.assertIn("Goodbye", self.shown(THANKS))
        release = self.store.current()
        self.assertEqual([page.name for page in release.told], ["Night"])
        self.assertEqual((self.store.scheduled(), do_due(self.folder, _NOW + 2 * _HOUR)), ([], 0))

    def test_an_offer_ends_and_its_address_leads_on(self) -> None:
        self.send(PAGE, THANKS)
        schedule_off(self.folder, {PAGE: "Night"}, _NOW, {PAGE: THANKS})
        self.assertEqual(do_due(self.folder, _NOW), 1)
        self.assertEqual(self.shown(PAGE), "")
        live = self.store.current().live
        self.assertEqual([(one.slug, one.page) for one in live.moved], [("night", THANKS)])

    def test_the_first_send_of_all_can_be_set_for_a_time(self) -> None:
        schedule_sending(self.made, self.folder, [PAGE, THANKS], _NOW)
        self.assertIsNone(self.store.current())
        self.assertEqual(do_due(self.folder, _NOW), 1)
        self.assertIn("Old words", self.shown(PAGE))

    def test_what_is_set_keeps_its_files_over_many_sends(self) -> None:
        self.send(PAGE)
        self.store.keep_at_most(1)
        schedule_sending(said(self.made, "Tomorrow"), self.folder, [PAGE], _NOW)
        for number in range(3):
            send_pages(said(self.made, f"Now {number}"), self.folder, [PAGE])
        self.assertEqual(do_due(self.folder, _NOW), 1)
        self.assertIn("Tomorrow", self.shown(PAGE))

    def test_what_was_taken_back_is_not_done(self) -> None:
        self.send(PAGE)
        one = schedule_off(self.folder, {PAGE: "Night"}, _NOW)
        cancel(self.folder, one.id)
        self.assertEqual(do_due(self.folder, _NOW), 0)
        self.assertIn("Old words", self.shown(PAGE))

    def test_what_cannot_be_done_says_why_and_holds_nothing_else_up(self) -> None:
        self.send(PAGE, THANKS)
        schedule_sending(self.made, self.folder, [THANKS], _NOW)
        moved = set_slug(set_slug(self.made, THANKS, "bye"), PAGE, "thanks")
        send_pages(moved, self.folder, [THANKS, PAGE])
        schedule_off(self.folder, {PAGE: "Night"}, _NOW + _HOUR)
        self.assertEqual(do_due(self.folder, _NOW + 2 * _HOUR), 1)
        (left,) = self.store.scheduled()
        self.assertIn("still live at /thanks", left.fault)
        self.assertEqual(do_due(self.folder, _NOW + 3 * _HOUR), 0)

    def test_while_somebody_sends_it_waits(self) -> None:
        self.send(PAGE)
        schedule_off(self.folder, {PAGE: "Night"}, _NOW)
        with self.store.changing():
            self.assertEqual(do_due(self.folder, _NOW), 0)
        self.assertEqual(self.store.scheduled()[0].fault, "")
        self.assertEqual(do_due(self.folder, _NOW), 1)

    def test_a_broken_list_is_said(self) -> None:
        self.send(PAGE)
        (self.store.folder / "schedule").mkdir()
        (self.store.folder / "schedule" / "x.json").write_text('{"id": "../x"}')
        with self.assertRaises(LiveError):
            do_due(self.folder, _NOW)


class MomentTest(unittest.TestCase):
    def test_what_a_clock_on_the_wall_shows(self) -> None:
        zone = ZoneInfo("Europe/London")
        self.assertEqual(moment_of(datetime(2026, 10, 10, 9), zone, _NOW),
                         datetime(2026, 10, 10, 8, tzinfo=UTC))
        # 25 October: from two to one; of an hour that comes twice, the first.
        self.assertEqual(moment_of(datetime(2026, 10, 25, 1, 30), zone, _NOW),
                         datetime(2026, 10, 25, 0, 30, tzinfo=UTC))
        with self.assertRaisesRegex(PublishError, "put forward"):
            moment_of(datetime(2027, 3, 28, 1, 30), zone, _NOW)
        for past in (datetime(2026, 9, 30), datetime(2026, 10, 1, 13)):
            with self.assertRaisesRegex(PublishError, "is past"):
                moment_of(past, zone, _NOW)


class HostTest(StallTest):
    practice = ()

    def test_the_host_does_it_with_no_window_open(self) -> None:
        self.assertEqual(self.visitor.get("/night").status_code, 200)
        soon = datetime.now(UTC) + timedelta(seconds=1)
        schedule_off(self.folder, {PAGE: "Night"}, soon, {PAGE: ""})
        self.assertTrue(wait_for(lambda: self.visitor.get("/night").status_code == 410))
        schedule_sending(said(self.made, "Again"), self.folder, [PAGE], soon)
        self.assertTrue(wait_for(lambda: "Again" in self.visitor.get("/night").text))
        (self.folder / "live" / "schedule" / "x.json").write_text("{")
        self.assertTrue(wait_for(lambda: any("set for a time" in one for one in self.visitor.get(
            "/_needle/health").json()["faults"])))
