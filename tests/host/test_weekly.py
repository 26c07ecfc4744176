"""The report of the week goes out by itself: on its day, once, and again if it was not taken."""

import tempfile
import unittest
from datetime import UTC, datetime, timedelta
from email.message import EmailMessage
from pathlib import Path
from unittest import mock

from needle.core.site.site import Service
from needle.host.weekly import WeeklyPart
from needle.publish import pdf
from needle.publish.release import Live, LivePage
from needle.services.adapter import Parcel, Receipt, ServiceError
from needle.store.results.tables import open_results
from needle.store.weekly import Weekly, due_moment, kept_weekly, set_weekly
from tests.sites import PAGE
from tests.told import take_visit

MONDAY = datetime(2026, 11, 23, 9, 0, tzinfo=UTC)
ASKED = Weekly("desk@hill.example", "box", 0, "2026-11-01T00:00:00+00:00")
LIVE = Live("hill", "Hill", (LivePage(PAGE, "Night", "night", "2026-11-01T00:00:00+00:00", ()),),
            services=(Service("box", "Mailbox", "mail", practice=True),))


class DueTest(unittest.TestCase):
    def test_the_last_moment_that_was_due(self) -> None:
        for now, due in ((MONDAY, 23), (MONDAY.replace(hour=7, minute=59), 16),
                         (MONDAY.replace(hour=8), 23), (MONDAY + timedelta(days=6), 23)):
            self.assertEqual(due_moment(ASKED, now), datetime(2026, 11, due, 8, tzinfo=UTC), now)
        self.assertEqual(due_moment(Weekly("a", "b", 6, ASKED.since), MONDAY),
                         datetime(2026, 11, 22, 8, tzinfo=UTC))
        self.assertIsNone(due_moment(Weekly("a", "b", 0, "2026-11-23T08:30:00+00:00"), MONDAY))


class WeeklyTest(unittest.TestCase):
    def setUp(self) -> None:
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.engine = open_results(self.folder / "results.db")
        self.addCleanup(self.engine.dispose)
        set_weekly(self.folder, ASKED)
        self.sent: list[EmailMessage] = []
        self.away = False
        adapter = mock.Mock()
        adapter.deliver = self.deliver
        self.enterContext(mock.patch("needle.host.weekly.adapter_for", return_value=adapter))

    def deliver(self, parcel: Parcel) -> Receipt:
        if self.away:
            raise ServiceError("service-away", name="Mailbox")
        assert parcel.letter is not None
        self.sent.append(parcel.letter)
        return Receipt("taken")

    def part(self, live: Live | None = LIVE) -> WeeklyPart:
        return WeeklyPart(self.folder, self.engine, lambda: live)

    def test_one_of_many_hosts_sends_the_week_before_once(self) -> None:
        take_visit(self.engine, at_ms=int((MONDAY - timedelta(days=3)).timestamp() * 1000),
                   visitor="v", page=PAGE, variant="A", source="post")
        hosts = [self.part() for _ in range(3)]
        for minutes in range(0, 90, 30):
            for host in hosts:
                host.look(MONDAY + timedelta(minutes=minutes))
        (letter,) = self.sent
        self.assertEqual((letter["To"], letter["Subject"]),
                         ("desk@hill.example", "Hill: the week of 16 November 2026"))
        words = letter.get_body(("plain",)).get_content()  # type: ignore[union-attr]
        self.assertIn("1 visitor", words)
        self.assertNotIn("Nothing waits", words, "nobody has looked")
        (page,) = letter.iter_attachments()
        self.assertEqual(page.get_filename(), "week-2026-11-16.pdf")
        self.assertTrue(page.get_content().startswith(b"%PDF-"))
        hosts[1].look(MONDAY + timedelta(days=7))
        self.assertEqual(len(self.sent), 2)

    def test_a_report_loads_nothing_and_goes_as_a_page_where_no_pdf_can_be_made(self) -> None:
        with self.assertRaises(ValueError):
            pdf._font("file:///etc/passwd", mock.Mock())
        self.assertTrue(pdf.pdf_of("<img src=file:///etc/passwd><p>x").startswith(b"%PDF-"))
        with mock.patch("needle.host.weekly.pdf_of", side_effect=OSError("no pango")), \
                self.assertLogs("needle.host.weekly", "ERROR"):
            self.part().look(MONDAY)
        (page,) = self.sent[0].iter_attachments()
        self.assertIn("Hill", page.get_content())

    def test_one_that_was_not_taken_is_said_and_tried_again(self) -> None:
        host, self.away = self.part(), True
        with self.assertLogs("needle.host.weekly", "ERROR"):
            host.look(MONDAY)
        self.assertIn("could not be sent", host.fault)
        self.away = False
        host.look(MONDAY + timedelta(minutes=5))
        self.assertEqual(self.sent, [], "it rests a while")
        host.look(MONDAY + timedelta(minutes=11))
        self.assertEqual((len(self.sent), host.fault), (1, ""))

    def test_nothing_goes_out_that_nobody_asked_for(self) -> None:
        self.part(None).look(MONDAY)
        set_weekly(self.folder, None)
        self.part().look(MONDAY)
        (self.folder / "weekly.json").write_text('{"to": 3}')
        self.part().look(MONDAY)
        self.assertEqual(self.sent, [])
        self.assertIsNone(kept_weekly(self.folder))
