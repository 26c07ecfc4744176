"""A form and a popup of the site on a page that somebody else made, in browsers of others."""

import http.server
import os
import shutil
import subprocess
import tempfile
import threading
import time
import unittest

import httpx
import msgspec
from selenium import webdriver
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import WebDriverWait
from selenium.webdriver.webkitgtk.options import Options
from selenium.webdriver.webkitgtk.service import Service

from needle.core.edit.outside import add_part, could_be_outside, origins_of, part_node, set_part
from needle.core.edit.place import EditError
from needle.core.render.outside import snippet
from needle.core.site.site import Site
from needle.core.site.tree import Column, Row, Section
from needle.store.results.book import Filter, leads_csv_rows, list_leads
from needle.store.results.counting import page_counts
from tests.host.stall import StallTest, wait_for
from tests.host.test_browser import chromium
from tests.sites import EMAIL, NAME, PAGE, small_site

# A page of another time, with rules that would wreck whatever they reach.
_HOSTILE = """<html><head><title>A shop</title><style>
*{{display:inline!important;float:left!important;font:9px serif!important;position:static!important;
margin:30px!important;transform:rotate(2deg)!important;width:31px!important}}
iframe,div,needle-part{{visibility:hidden!important;opacity:0!important;height:1px!important}}
form,input{{display:none!important}}</style></head>
<body bgcolor=yellow><center><font size=5>Lamps</font><a href="#x" class=book>Book</a></center>
<table><tr><td>{form}</table>{popup}<p>End</body></html>"""


def site_with_parts(origin: str) -> Site:
    """Return the small site with a form on the page and its popup, both shown at an origin."""
    site = small_site()
    page = site.pages[0]
    (popup,) = page.variants[0].popups
    box = popup.children[0].children[0].children[1]
    form = msgspec.structs.replace(box, id="boxout")
    section = Section(id="sout", children=(Row(id="rout", children=(
        Column(id="cout", children=(form,)),)),))
    variant = msgspec.structs.replace(page.variants[0], children=(
        *page.variants[0].children, section))
    site = msgspec.structs.replace(site, pages=(
        msgspec.structs.replace(page, variants=(variant,)), *site.pages[1:]))
    for node in ("boxout", "popup1"):
        site, made = add_part(site, PAGE, node)
        site = set_part(site, made, sites=(origin,), at_click="a.book")
    return site


class OutsideTest(StallTest):
    def site(self) -> Site:
        self.page = b""
        test = self

        class Outside(http.server.BaseHTTPRequestHandler):
            def do_GET(self) -> None:
                self.send_response(200)
                self.send_header("Content-Type", "text/html")
                self.end_headers()
                self.wfile.write(test.page)

            def log_message(self, *_: object) -> None:
                """Say nothing."""

        server = http.server.ThreadingHTTPServer(("127.0.0.1", 0), Outside)
        self.addCleanup(server.server_close)
        self.addCleanup(server.shutdown)
        threading.Thread(target=server.serve_forever, daemon=True).start()
        self.outside = f"http://127.0.0.1:{server.server_address[1]}"
        return site_with_parts(self.outside)

    def setUp(self) -> None:
        super().setUp()
        self.base = f"http://hill.localhost:{self.stand.port}"
        lines = []
        for part in self.made.outside:
            held = part_node(self.made, part)
            assert held is not None
            lines.append(snippet(part, held[1], self.base))
        self.page = _HOSTILE.format(form=lines[0], popup=lines[1]).encode()
        self.form_part, self.popup_part = self.made.outside



class ServedTest(OutsideTest):
    def test_only_the_sites_that_were_named_may_show_it(self) -> None:
        answer = self.visitor.get(f"/_needle/on/{self.form_part.id}")
        self.assertEqual(answer.status_code, 200)
        self.assertIn(f"frame-ancestors 'self' {self.outside}",
                      answer.headers["content-security-policy"])
        self.assertNotIn("Old words", answer.text, "only the form, not its page")
        self.assertNotIn("set-cookie", answer.headers)
        script = self.visitor.get("/_needle/elsewhere.js")
        self.assertEqual(script.headers["content-type"].split(";")[0], "text/javascript")
        for other in ("onone", "..%2f", "a" * 40):
            self.assertEqual(self.visitor.get(f"/_needle/on/{other}").status_code, 404)
        self.assertEqual(httpx.get(
            f"http://127.0.0.1:{self.stand.port}/_needle/on/{self.form_part.id}", trust_env=False,
            headers={"Host": "elsewhere.example"}, timeout=60).status_code, 404)


class ChromiumTest(OutsideTest):
    def setUp(self) -> None:
        super().setUp()
        self.browser = self.opened()
        self.addCleanup(self.browser.quit)

    def opened(self) -> webdriver.Chrome | webdriver.WebKitGTK:
        profile = tempfile.TemporaryDirectory(ignore_cleanup_errors=True)
        self.addCleanup(profile.cleanup)
        return chromium(profile.name, 900)

    def into(self, number: int) -> None:
        """Go into the frame of a part."""
        part = self.browser.find_elements(By.CSS_SELECTOR, "needle-part")[number]
        self.browser.switch_to.frame(part.shadow_root.find_element(By.CSS_SELECTOR, "iframe"))

    def until(self, script: str) -> None:
        WebDriverWait(self.browser, 240).until(lambda b: b.execute_script(f"return {script}"))

    def fill(self, who: str) -> None:
        browser = self.browser
        WebDriverWait(browser, 240).until(lambda b: b.find_elements(By.NAME, NAME))
        for name, words in ((NAME, who), (EMAIL, f"{who.lower()}@post.example")):
            browser.find_element(By.NAME, name).click()
            browser.find_element(By.NAME, name).send_keys(words)
        time.sleep(1.6)  # Faster than a person would be put aside as a robot.
        browser.find_element(By.CSS_SELECTOR, "form [type=submit]").click()

    def leads(self) -> list[tuple[str, str, str, str]]:
        return [(lead.email, lead.outside, lead.page, lead.source)
                for lead in list_leads(self.engine, Filter(robots="with"))]

    def test_a_form_sizes_itself_sends_and_counts(self) -> None:
        there = f"{self.outside}/lamps.html?utm_source=card"
        self.browser.get(there)
        self.until("document.querySelector('needle-part') !== null")
        self.until("document.querySelector('needle-part').getBoundingClientRect().height > 150")
        box = self.browser.execute_script(
            "const one = document.querySelector('needle-part'), look = getComputedStyle(one);"
            "return [look.display, look.visibility, look.opacity, look.transform]")
        self.assertEqual(box, ["block", "visible", "1", "none"])
        self.assertTrue(wait_for(lambda: page_counts(self.engine)))
        self.into(0)
        self.fill("Ilse")
        self.assertTrue(wait_for(self.leads))
        self.assertEqual(self.leads(), [("ilse@post.example", there, PAGE, "card")])
        # On the way to the page of thanks, in the whole window.
        self.browser.switch_to.default_content()
        WebDriverWait(self.browser, 240).until(
            lambda b: b.current_url == f"{self.base}/thanks")
        (count,) = [one for one in page_counts(self.engine) if one.page == PAGE]
        self.assertEqual((count.visitors, count.conversions), (1, 1))
        header, rows = leads_csv_rows(self.engine, {})
        self.assertEqual(next(iter(rows))[header.index("Outside page")], there)

    def test_a_popup_opens_at_a_click_of_their_own_and_closes(self) -> None:
        self.browser.get(f"{self.outside}/lamps.html")
        self.until("document.querySelectorAll('needle-part').length === 1")
        self.browser.execute_script("document.querySelector('a.book').click()")
        self.until("document.querySelectorAll('needle-part').length === 2")
        self.into(1)
        WebDriverWait(self.browser, 240).until(
            lambda b: "A place" in b.find_element(By.TAG_NAME, "body").text)
        self.assertTrue(self.browser.find_element(By.TAG_NAME, "dialog").is_displayed())
        self.browser.find_element(By.CSS_SELECTOR, "[data-close]").click()
        self.browser.switch_to.default_content()
        self.until("document.querySelectorAll('needle-part').length === 1")
        self.browser.execute_script("document.querySelector('a.book').click()")
        self.until("document.querySelectorAll('needle-part').length === 2")
        self.into(1)
        self.browser.find_element(By.NAME, NAME).click()
        self.browser.find_element(By.NAME, NAME).send_keys(Keys.ESCAPE)
        self.browser.switch_to.default_content()
        self.until("document.querySelectorAll('needle-part').length === 1")


@unittest.skipUnless(shutil.which("WebKitWebDriver") and os.environ.get("NEEDLE_WEBKIT"),
                     "a second engine is tried where it is asked for")
class WebKitTest(ChromiumTest):
    def opened(self) -> webdriver.Chrome | webdriver.WebKitGTK:
        read, write = os.pipe()
        xvfb = subprocess.Popen(["Xvfb", "-displayfd", str(write), "-screen", "0", "1024x900x24"],
                                pass_fds=[write], stderr=subprocess.DEVNULL)
        self.addCleanup(xvfb.wait)
        self.addCleanup(xvfb.terminate)
        display = ":" + os.read(read, 16).decode().strip()
        options = Options()
        options.binary_location = "/usr/lib/x86_64-linux-gnu/webkit2gtk-4.1/MiniBrowser"
        options.add_argument("--automation")
        return webdriver.WebKitGTK(options=options, service=Service(
            str(shutil.which("WebKitWebDriver")), env=os.environ | {"DISPLAY": display}))


class EditTest(unittest.TestCase):
    def test_what_could_be_shown_and_what_is(self) -> None:
        site = small_site()
        self.assertEqual([node.id for _, node in could_be_outside(site)], ["popup1", "formbox"])
        site, made = add_part(site, PAGE, "popup1")
        self.assertEqual([node.id for _, node in could_be_outside(site)], ["formbox"])
        for page, node in ((PAGE, "popup1"), (PAGE, "head1"), ("gone", "formbox")):
            with self.assertRaises(EditError):
                add_part(site, page, node)
        with self.assertRaises(EditError):
            set_part(site, made, sites=("https://a.example/path",))

    def test_sites_are_understood_as_they_are_typed(self) -> None:
        self.assertEqual(origins_of("Shop.example, https://bücher.example/a?b http://a.example:81"),
                         ("https://shop.example", "https://xn--bcher-kva.example",
                          "http://a.example:81"))
        for wrong in ("ftp://a.example", "https://", "https://a:b:c"):
            with self.assertRaises(EditError):
                origins_of(wrong)
