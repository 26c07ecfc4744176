"""A browser that is not ours visits a published page."""

import shutil
import tempfile
import time

from selenium import webdriver
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import WebDriverWait

from needle.store.results.counting import list_leads, page_counts
from tests.host.stall import StallTest, wait_for
from tests.sites import EMAIL, NAME


def chromium(profile: str, width: int) -> webdriver.Chrome:
    options = webdriver.ChromeOptions()
    options.binary_location = shutil.which("chromium") or "chromium"
    for flag in ("--headless=new", "--no-sandbox", "--disable-gpu", "--no-first-run",
                 "--disable-background-networking", "--disable-sync", "--disable-quic",
                 "--disable-component-update", f"--user-data-dir={profile}",
                 f"--window-size={width},900"):
        options.add_argument(flag)
    driver = shutil.which("chromedriver") or "chromedriver"
    return webdriver.Chrome(options=options, service=webdriver.ChromeService(driver))


class BrowserTest(StallTest):
    def setUp(self) -> None:
        super().setUp()
        profile = tempfile.TemporaryDirectory(ignore_cleanup_errors=True)
        self.addCleanup(profile.cleanup)
        self.browser = chromium(profile.name, 500)
        self.addCleanup(self.browser.quit)
        self.base = f"http://hill.localhost:{self.stand.port}"

    def test_a_visitor_opens_the_popup_sends_the_form_and_is_thanked(self) -> None:
        self.browser.get(f"{self.base}/night?utm_source=poster")
        self.browser.find_element(By.CSS_SELECTOR, "a.button").click()
        self.browser.find_element(By.NAME, NAME).send_keys("Ilse")
        self.browser.find_element(By.NAME, EMAIL).send_keys("ilse@post.example")
        time.sleep(1.6)  # Faster than a person would be put aside as a robot.
        self.browser.find_element(By.CSS_SELECTOR, "form [type=submit]").click()
        WebDriverWait(self.browser, 10).until(lambda b: b.current_url.endswith("/thanks"))
        self.assertTrue(wait_for(lambda: self.members() and self.mail(), 2))
        (lead,) = list_leads(self.engine)
        self.assertEqual(lead.source, "poster")
        self.assertIn(("src1", "Source", "poster"), [tuple(a) for a in lead.answers])
        night = next(c for c in page_counts(self.engine) if c.page == "page1")
        self.assertEqual((night.visitors, night.conversions), (1, 1))

    def test_a_popup_closes_by_cross_backdrop_and_escape(self) -> None:
        self.browser.get(f"{self.base}/night")
        opener = self.browser.find_element(By.CSS_SELECTOR, "a.button")
        dialog = self.browser.find_element(By.TAG_NAME, "dialog")
        closers = (lambda: self.browser.find_element(By.CSS_SELECTOR, ".popup-close").click(),
                   lambda: self.browser.execute_script(
                       "document.querySelector('dialog').dispatchEvent(new MouseEvent('click',"
                       "{bubbles:true,clientX:1,clientY:1}))"),
                   lambda: dialog.send_keys(Keys.ESCAPE))
        for close in closers:
            opener.click()
            self.assertTrue(dialog.is_displayed())
            close()
            self.assertTrue(wait_for(lambda: not dialog.is_displayed(), 3))
