"""Pages made elsewhere call in what visitors reach there: by a script or a picture."""

import html
import http.server
import tempfile
import unittest
from urllib.parse import parse_qs, quote, urlsplit

import msgspec
from selenium.webdriver.common.by import By
from selenium.webdriver.support.ui import WebDriverWait

from needle.core.edit.calls import add_call, begins_of, call_of, remove_call, set_call
from needle.core.edit.changes import as_sent, changes_since
from needle.core.edit.nodes import set_words
from needle.core.edit.place import EditError
from needle.core.render.callers import call_lines
from needle.core.site.site import Site
from needle.core.values.outsidecall import OutsideCall, leads_to
from needle.core.values.words import Run
from needle.crowd.people import AGENTS
from needle.store.results.counting import page_counts
from needle.store.results.tables import events
from tests.apart import serve_http
from tests.host.stall import StallTest, wait_for
from tests.host.test_browser import chromium
from tests.sites import PAGE, small_site


def linking(site: Site, begins: str) -> Site:
    """Return a site of which the first heading links to a page that calls in."""
    site, made = add_call(site, "Ticket bought")
    site = set_call(site, made, begins=begins_of(begins))
    return set_words(site, "head1", ((Run("Tickets", link=f"{begins}/shop?show=7"),),))


class CalledTest(StallTest):
    practice = ()

    def site(self) -> Site:
        test = self

        class Outside(http.server.BaseHTTPRequestHandler):
            def do_GET(self) -> None:
                self.send_response(200)
                self.send_header("Content-Type", "text/html")
                self.end_headers()
                path = urlsplit(self.path)
                ticket = parse_qs(path.query).get("needle", [""])[0]
                page = test.pages.get(path.path, "").replace("TICKET", quote(ticket))
                self.wfile.write(page.encode())

            def log_message(self, *_: object) -> None:
                """Say nothing."""

        self.outside = serve_http(self, Outside)
        return linking(super().site(), self.outside)

    def setUp(self) -> None:
        super().setUp()
        (self.call,) = self.made.calls
        lines = call_lines(self.call, f"http://hill.localhost:{self.stand.port}")
        self.pages = {"/shop": f"{lines.everywhere}<a id=on href=/thanks>Pay</a>",
                      "/thanks": f"{lines.reached}<p>Thanks",
                      "/bare": lines.picture.replace(lines.blank, "TICKET")}
        profile = tempfile.TemporaryDirectory(ignore_cleanup_errors=True)
        self.addCleanup(profile.cleanup)
        self.browser = chromium(profile.name, 900)
        self.addCleanup(self.browser.quit)

    def go_out(self) -> str:
        """Follow the link of our page and return the address that it led to."""
        self.browser.get(f"http://hill.localhost:{self.stand.port}/night")
        WebDriverWait(self.browser, 240).until(lambda browser: "needle=" in browser.find_element(
            By.LINK_TEXT, "Tickets").get_attribute("href"))
        self.browser.find_element(By.LINK_TEXT, "Tickets").click()
        WebDriverWait(self.browser, 240).until(lambda b: b.current_url.startswith(self.outside))
        return str(self.browser.current_url)

    def reached(self) -> list[tuple[str, str]]:
        with self.engine.connect() as connection:
            return [(row.page, row.what) for row in connection.execute(
                events.select().where(events.c.kind == "call"))]

    def test_a_script_and_a_picture_count_once_for_who_came_and_nothing_else_does(self) -> None:
        self.browser.get(f"{self.outside}/thanks")  # Nobody of ours: it calls nothing in.
        came = self.go_out()
        self.assertIn("show=7", came)
        self.assertEqual(self.reached(), [])
        self.browser.find_element(By.ID, "on").click()
        self.assertTrue(wait_for(self.reached))
        self.assertEqual(self.reached(), [(PAGE, self.call.id)])
        self.browser.refresh()
        self.browser.get(f"{self.outside}/bare?{urlsplit(came).query}")
        picture = self.browser.find_element(By.TAG_NAME, "img")
        WebDriverWait(self.browser, 240).until(lambda _: picture.get_property("naturalWidth") == 1)
        self.assertEqual(len(self.reached()), 1, "a replay counts nothing")
        # Without a cookie it is another browser that makes another visitor.
        self.browser.execute_cdp_cmd("Network.setUserAgentOverride", {"userAgent": AGENTS["phone"]})
        other = self.go_out()
        self.browser.execute_cdp_cmd("Emulation.setScriptExecutionDisabled", {"value": True})
        self.browser.get(f"{self.outside}/bare?{urlsplit(other).query}")
        self.assertTrue(wait_for(lambda: len(self.reached()) == 2), "another visitor, no script")
        night = next(count for count in page_counts(self.engine) if count.page == PAGE)
        self.assertEqual((night.visitors, night.conversions), (2, 2))
        self.refused(parse_qs(urlsplit(other).query)["needle"][0])

    def refused(self, ticket: str) -> None:
        """Nobody else's word is taken, and nothing is told of who it was."""
        at = f"/_needle/call/{self.call.id}"
        good = f"{at}.{self.call.key}.gif"
        for path, told, status in (
                (good, ticket, 200), (f"{at}.wrong.gif", ticket, 404), (good, "", 400),
                (good, "x" * 90, 400), (good, ticket[:-3] + "AAA", 400), (f"{at}.x.js", "", 404)):
            with self.subTest(path, told=told[:9]):
                answer = self.visitor.get(path, params={"needle": told})
                self.assertEqual(answer.status_code, status)
        self.assertEqual(len(self.reached()), 2)
        with self.engine.connect() as connection:
            for row in connection.execute(events.select()):
                self.assertNotIn(row.visitor, ticket)


class EditTest(unittest.TestCase):
    def test_which_links_lead_there(self) -> None:
        call = OutsideCall("c1", "Bought", "k" * 20, "https://shop.example/tickets/")
        for address, leads in (("https://shop.example/tickets", True),
                               ("https://shop.example/tickets/7?x=1", True),
                               ("https://shop.example/tickets?x", True),
                               ("https://shop.example/ticketsold", False),
                               ("https://shop.example.evil/tickets/", False)):
            self.assertEqual(leads_to(call, address), leads, address)
        self.assertFalse(leads_to(msgspec.structs.replace(call, begins=""), "https://x.example/"))

    def test_what_is_typed_is_understood_or_refused(self) -> None:
        self.assertEqual(begins_of(" Shop.example/tickets "), "https://shop.example/tickets")
        self.assertEqual(begins_of("https://hügel.example:81"), "https://xn--hgel-0ra.example:81")
        for wrong in ("javascript:alert(1)", "https://", "ftp://x.example"):
            self.assertRaises(EditError, begins_of, wrong)
        site, made = add_call(small_site(), "Bought")
        for values in ({"name": ""}, {"key": "x"}, {"begins": "https://x.example/<b>"}):
            self.assertRaises(EditError, set_call, site, made, **values)
        site, other = add_call(site, "Rung up")
        self.assertRaises(EditError, set_call, site, other, name="Bought")
        self.assertIsNone(call_of(remove_call(site, made), made))

    def test_a_page_that_links_there_is_to_be_sent_and_no_other(self) -> None:
        site = linking(small_site(), "https://shop.example")
        (call,) = site.calls
        before = [as_sent(site, page) for page in site.pages]
        moved = set_call(site, call.id, begins="https://shop.example/shop")
        told = [changes_since(sent, as_sent(moved, page))
                for sent, page in zip(before, moved.pages, strict=True)]
        self.assertEqual(told[0], ["what outside pages call in"])
        self.assertEqual([words for words in told[1:] if words], [])

    def test_the_lines_are_plain_markup_of_its_own(self) -> None:
        call = OutsideCall("c1", "<b>", "k" * 20, "https://shop.example")
        for line in call_lines(call, "https://www.hill.example").texts:
            self.assertEqual(line.count("<"), line.count(">"))
            self.assertNotIn("<b>", html.unescape(line))
