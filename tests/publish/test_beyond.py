"""What a project tells of the world around it: pages that are live, and its certificate."""

import tempfile
import unittest
from datetime import UTC, datetime, timedelta
from pathlib import Path
from unittest import mock

from needle.publish.beyond import beyond_of, certificate_fault
from needle.publish.live import send_pages
from needle.store.certificates import Certificates, Certified, State
from needle.store.project import Project
from tests.sites import PAGE, small_site

NOW = datetime(2026, 8, 12, 12, tzinfo=UTC)
DOMAIN = "www.hill.example"


class BeyondTest(unittest.TestCase):
    def setUp(self) -> None:
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory())) / "p"
        self.site = small_site()
        Project.create(self.folder, self.site).close()

    def test_what_is_live_and_nothing_where_it_cannot_be_read(self) -> None:
        self.assertEqual(beyond_of(self.folder, self.site).live, frozenset())
        send_pages(self.site, self.folder, [PAGE])
        self.assertEqual(beyond_of(self.folder, self.site).live, {PAGE})
        (self.folder / "live" / "live.json").write_bytes(b"{")
        self.assertEqual(beyond_of(self.folder, self.site).live, frozenset())

    def told(self, certified: Certified | None, fault: str = "", domain: str = DOMAIN) -> str:
        kept = Certificates(self.folder)
        kept.want("https://authority.example/directory", 0)
        kept.keep_state(State(fault=fault))
        with mock.patch.object(kept, "certified", return_value=certified):
            return certificate_fault(kept, domain, NOW)

    @staticmethod
    def certified(days: int, name: str = DOMAIN, since: int = 60) -> Certified:
        def iso(at: datetime) -> str:
            return f"{at:%Y-%m-%dT%H:%M:%SZ}"

        return Certified((name,), iso(NOW - timedelta(since)), iso(NOW + timedelta(days)))

    def test_a_certificate_is_told_of_only_where_it_does_not_hold(self) -> None:
        for certified, fault, words in (
                (self.certified(30), "", ""), (self.certified(30), "it is down", ""),
                (self.certified(9), "", "ends on 21 August 2026 and was not renewed"),
                (self.certified(-1), "", "ended on 11 August 2026"),
                (self.certified(30, "hill.example"), "", "is for hill.example, not for www."),
                (None, "it is down", "no certificate yet: it is down"), (None, "", ""),
                # One that lives for days only is renewed in its last days.
                (self.certified(4, since=3), "", ""), (self.certified(1, since=5), "", "ends on")):
            with self.subTest(certified=certified, fault=fault):
                said = self.told(certified, fault)
                self.assertIn(words, said)
                self.assertEqual(bool(words), bool(said))

    def test_where_none_was_asked_for_nothing_is_said(self) -> None:
        self.assertEqual(certificate_fault(Certificates(self.folder), DOMAIN, NOW), "")
        self.assertEqual(self.told(self.certified(-1), domain=""), "")
