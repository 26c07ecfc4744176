"""Snags that are seen from outside, and what changed on hundreds of pages, in the real window."""

import http.server
from unittest import mock

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLineEdit

from needle.core.edit.brand import set_swatch
from needle.core.edit.domain import set_domain
from needle.core.edit.nodes import set_field, set_words
from needle.core.edit.pages import duplicate_page
from needle.core.values.actions import GoPage
from needle.core.values.words import Run, text
from needle.publish.live import send_pages
from needle.store.certificates import Certificates, Certified, State
from needle.ui import since as since_module
from needle.ui.publish.snags import SnagList
from tests.apart import serve_http
from tests.sites import PAGE, THANKS
from tests.ui.test_publish import PublishCase


class _Gone(http.server.BaseHTTPRequestHandler):
    """Has two pages; of one it knows that it is gone."""

    def do_HEAD(self) -> None:
        self.send_response(410 if self.path == "/gone" else 200)
        self.send_header("Content-Length", "0")
        self.end_headers()

    def log_message(self, *_: object) -> None:
        """Say nothing."""


class BeyondTest(PublishCase):
    @property
    def snags(self) -> SnagList:
        """The list of snags."""
        return self.stage.snags

    def rules(self) -> set[str]:
        return {row.snag.rule for row in self.snags.model.rows if not row.done}

    def test_outside_links_are_asked_when_the_person_says_so(self) -> None:
        at = serve_http(self, _Gone)
        self.session.edit("links", lambda site: set_words(site, "text1", (
            (Run("One", link=f"{at}/here"), Run(" two", link=f"{at}/gone")),)))
        self.window.refresh()
        line = self.snags.links
        self.assertEqual(line.state.text(), "2 outside links, not asked yet")
        self.press_button("Ask for outside links")
        self.until(lambda: "2 of 2 outside links asked at" in line.state.text())
        self.until(lambda: "dead-link" in self.rules())
        (dead,) = [row.snag for row in self.snags.model.rows if row.snag.rule == "dead-link"]
        self.assertIn("/gone answers 410", dead.words)
        # Mended, it ticks off by itself; what was not asked for yet is said.
        self.session.edit("links", lambda site: set_words(site, "text1", (
            (Run("One", link=f"{at}/here"), Run(" two", link=f"{at}/new")),)))
        self.window.refresh()
        self.until(lambda: "dead-link" not in self.rules())
        self.assertIn("1 of 2 outside links asked", line.state.text())

    def test_a_site_without_outside_links_says_so(self) -> None:
        self.window.refresh()
        self.assertTrue(self.snags.links.isHidden())
        self.window.commands.run("publish.links")
        self.assertIn("No link leads out", self.window._said.text())

    def test_a_link_to_a_page_that_is_not_live_is_a_snag_until_it_is(self) -> None:
        self.session.edit("link", lambda site: set_field(site, "button1", "actions",
                                                         (GoPage(THANKS),)))
        send_pages(self.session.site, self.folder, [PAGE])
        self.window.outcomes.look()
        self.window.refresh()
        self.until(lambda: not self.stage.checker.busy)
        self.assertNotIn("link-not-live", self.rules(), "both go along")
        tick = self.stage.pages.item([page.id for page in self.session.site.pages].index(THANKS), 0)
        tick.setCheckState(Qt.CheckState.Unchecked)
        self.until(lambda: "link-not-live" in self.rules())
        tick.setCheckState(Qt.CheckState.Checked)
        self.until(lambda: "link-not-live" not in self.rules())
        self.press_button("Send 1 page")
        self.until(lambda: self.stage.to_send() == [])
        self.assertNotIn("link-not-live", self.rules())

    def test_a_certificate_that_ended_leads_to_the_domain(self) -> None:
        self.session.edit("domain", lambda site: set_domain(site, "www.hill.example"))
        kept = Certificates(self.folder)
        kept.want("https://authority.example/directory", 0)
        kept.keep_state(State())
        ended = Certified(("www.hill.example",), "2026-01-01T00:00:00Z", "2026-03-01T00:00:00Z")
        with mock.patch.object(Certificates, "certified", return_value=ended):
            self.window.refresh()
            self.until(lambda: "certificate" in self.rules())
        snag = next(row.snag for row in self.snags.model.rows if row.snag.rule == "certificate")
        self.assertEqual(snag.words, "The certificate ended on 1 March 2026")
        self.snags.asked.emit(snag)
        self.until(lambda: self.stage.domain.isVisible())

    def test_the_advert_is_written_beside_the_title_and_its_snag_leads_there(self) -> None:
        self.window.commands.run("publish.search")
        self.write("What the advert says that leads here", "Perseids with telescopes")
        self.assertEqual(self.session.page.advert, "Perseids with telescopes")
        self.stage.show_part("Send")
        self.until(lambda: "advert-words" in self.rules())
        snag = next(row.snag for row in self.snags.model.rows if row.snag.rule == "advert-words")
        self.snags.asked.emit(snag)
        self.until(lambda: self.stage.search.isVisible())
        self.session.undo()
        self.assertEqual(self.session.page.advert, "")


    def test_an_event_is_told_its_facts_and_what_does_not_fit_is_not_kept(self) -> None:
        self.window.commands.run("publish.search")
        card = self.stage.search.about
        self.pick("What the page is about", "event")
        self.assertIn("Told once it says: starts, place", card.note.text())
        self.write("Starts", "2027-08-12 21:30")
        self.write("Place", "Quillmoor Hill")
        self.assertEqual(card.note.text(), "Told with the page.")
        self.write("Ends", "tomorrow")
        self.assertIn("it is like 2027-08-12 21:30", self.window._said.text())
        self.assertEqual(self.session.page.about.ends, "")
        self.assertFalse(self.named(QLineEdit, "Price").isHidden())
        self.pick("What the page is about", "product")
        self.until(lambda: card._rows["starts"][1].isHidden())
        self.stage.show_part("Send")
        self.until(lambda: "about-lacks" in self.rules())
        snag = next(row.snag for row in self.snags.model.rows if row.snag.rule == "about-lacks")
        self.snags.asked.emit(snag)
        self.until(lambda: card._rows["price"][1].hasFocus())
        for _ in range(4):
            self.session.undo()
        self.assertEqual(self.session.page.about.kind, "")


class ManyPagesTest(PublishCase):
    """What is compared in slices comes out as it would at once."""

    def setUp(self) -> None:
        super().setUp()
        for _ in range(70):
            self.session.edit("page", lambda site: duplicate_page(site, PAGE)[0])
        send_pages(self.session.site, self.folder, [p.id for p in self.session.site.pages])
        # No page is looked at in the first go.
        self.enterContext(mock.patch.object(since_module, "_AT_ONCE_S", 0.0))
        self.enterContext(mock.patch.object(since_module, "_SLICE_S", 0.0005))
        self.window.outcomes.look()

    def states(self) -> set[str]:
        table = self.stage.pages
        return {table.item(row, 4).text() for row in range(table.rowCount())}

    def test_nothing_false_is_said_meanwhile_and_all_is_known_soon(self) -> None:
        self.window.refresh()
        self.assertFalse(self.stage.sending._send.isEnabled())
        self.assertTrue(self.states() - {"same as live"})
        self.until(lambda: self.states() == {"same as live"})
        self.assertIsNotNone(self.window.outcomes.pages_to_send())
        self.session.edit("colour", lambda site: set_swatch(site, "accent", "#123456"))
        self.until(lambda: self.states() == {"brand"})
        self.until(lambda: self.stage.sending._send.isEnabled())
        self.assertEqual(len(self.stage.to_send()), len(self.session.site.pages))
        self.session.undo()
        self.until(lambda: self.states() == {"same as live"})
        self.session.edit("words", lambda site: set_words(site, "head1", (text("Anew"),)))
        self.until(lambda: len(self.stage.to_send()) == 1 and self.states() != {"same as live"})
