"""A browser that is not ours visits a published page."""

import shutil
import tempfile
import time
from pathlib import Path
from unittest import mock

import msgspec
from PIL import Image
from selenium import webdriver
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webelement import WebElement
from selenium.webdriver.support.ui import WebDriverWait

from needle.core.edit.adverts import add_advert
from needle.core.edit.counted import set_link_counted
from needle.core.edit.forms import change_form
from needle.core.edit.grouping import reorder_at
from needle.core.edit.looks import set_look
from needle.core.edit.media import add_medium
from needle.core.edit.nodes import insert, set_field, set_hidden, set_words
from needle.core.edit.pages import duplicate_page, set_slug
from needle.core.edit.testing import add_reach
from needle.core.edit.tracking import add_code, set_code, set_consent
from needle.core.kinds.picture import Picture
from needle.core.kinds.spacer import Spacer
from needle.core.measure.adverts import shown_words
from needle.core.site.site import Medium, Site
from needle.core.values.actions import CountGoal, OpenPopup
from needle.core.values.testplan import Reach
from needle.core.values.widths import Width
from needle.core.values.words import Run
from needle.crowd.people import AGENTS
from needle.publish.live import send_pages
from needle.store.project import Project
from needle.store.results.book import Filter, list_leads
from needle.store.results.counting import page_counts
from needle.store.results.journeys import way_counts
from needle.store.results.tables import events
from needle.store.results.touches import touch_counts
from tests.host.stall import StallTest, wait_for
from tests.sites import EMAIL, FORM, NAME, PAGE, THANKS, small_site, wired_site


def chromium(profile: str, width: int, phone: bool = False, *more: str) -> webdriver.Chrome:
    options = webdriver.ChromeOptions()
    if phone:
        options.add_experimental_option("mobileEmulation", {
            "deviceMetrics": {"width": 360, "height": 740, "pixelRatio": 2, "touch": True}})
    options.binary_location = shutil.which("chromium") or "chromium"
    for flag in ("--headless=new", "--no-sandbox", "--disable-gpu", "--no-first-run",
                 "--disable-background-networking", "--disable-sync", "--disable-quic",
                 "--disable-component-update", f"--user-data-dir={profile}",
                 # Its own says that nobody sits before it, and so would be a robot's.
                 f"--user-agent={AGENTS['desktop']}",
                 f"--window-size={width},900", *more):
        options.add_argument(flag)
    driver = shutil.which("chromedriver") or "chromedriver"
    return webdriver.Chrome(options=options, service=webdriver.ChromeService(driver))


class BrowserTest(StallTest):
    """One browser for the tests of a class; each has a site at its own port, and no cookies."""

    phone = False
    browser: webdriver.Chrome

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        profile = tempfile.TemporaryDirectory(ignore_cleanup_errors=True)
        cls.addClassCleanup(profile.cleanup)
        cls.browser = chromium(profile.name, 500, cls.phone)
        cls.addClassCleanup(cls.browser.quit)

    def setUp(self) -> None:
        super().setUp()
        self.browser.get("about:blank")
        for what in ("clearBrowserCookies", "clearBrowserCache"):
            self.browser.execute_cdp_cmd(f"Network.{what}", {})
        self.base = f"http://hill.localhost:{self.stand.port}"


class VisitTest(BrowserTest):
    """A visitor with a browser of today."""

    def test_a_visitor_opens_the_popup_sends_the_form_and_is_thanked(self) -> None:
        self.browser.get(f"{self.base}/night?utm_source=poster")
        self.browser.find_element(By.CSS_SELECTOR, "a.button").click()
        self.browser.find_element(By.NAME, NAME).send_keys("Ilse")
        self.browser.find_element(By.NAME, EMAIL).send_keys("ilse@post.example")
        time.sleep(1.6)  # Faster than a person would be put aside as a robot.
        self.browser.find_element(By.CSS_SELECTOR, "form [type=submit]").click()
        WebDriverWait(self.browser, 240).until(lambda b: b.current_url.endswith("/thanks"))
        self.assertTrue(wait_for(lambda: self.members() and self.mail()))
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
            self.assertTrue(wait_for(lambda: not dialog.is_displayed()))


    def events(self) -> list[tuple[str, str]]:
        with self.engine.connect() as connection:
            return [(row.kind, row.what) for row in connection.execute(
                events.select().where(events.c.kind.not_in(("touch", "depth"))).order_by(
                    events.c.id))]

    def test_how_far_somebody_came_is_told_and_nothing_that_they_wrote(self) -> None:
        self.browser.get(f"{self.base}/night")
        self.browser.find_element(By.CSS_SELECTOR, "a.button").click()
        self.assertTrue(wait_for(lambda: len(self.events()) == 2))
        self.browser.find_element(By.NAME, NAME).send_keys("Secret Ilse")
        self.browser.find_element(By.NAME, EMAIL).send_keys("not an address")
        self.browser.find_element(By.CSS_SELECTOR, "form [type=submit]").click()
        self.browser.get(f"{self.base}/thanks")
        self.assertTrue(wait_for(lambda: ("stop", f"{FORM}.{EMAIL}") in self.events()))
        told = self.events()
        popup = self.made.pages[0].variants[0].popups[0].id
        self.assertEqual(told[:3], [("visit", ""), ("popup", popup), ("open", FORM)])
        self.assertIn(("fault", f"{FORM}.{EMAIL}"), told)
        self.assertEqual(sum(one == ("field", f"{FORM}.{NAME}") for one in told), 1)
        self.assertNotIn("Ilse", str(told))
        (name,) = [row for row in told if row[0] == "stop"]
        self.assertEqual(name[1], f"{FORM}.{EMAIL}")
        touches = touch_counts(self.engine, "page1", "A", 0, 99_999)
        first = self.made.pages[0].variants[0].children[0].id
        self.assertEqual({spot.part for spot in touches.clicks}, {first, popup})
        self.assertEqual(sum(touches.depth.values()), 1)

    def test_words_of_the_advert_stand_there_before_anything_is_painted(self) -> None:
        lines = "dark sky = The darkest hill\nevil = </script><img src=x onerror=alert(1)>"
        site, advert = add_advert(self.made, "utm_term", lines)
        site = set_words(site, "head1", ((Run("Old "), Run("words", advert=advert)),), "words")
        send_pages(site, self.folder, [PAGE])
        seen = self.browser.execute_cdp_cmd("Page.addScriptToEvaluateOnNewDocument", {"source": """
          window.painted = [];
          const look = () => { const h = document.querySelector('h1');
            if (h) painted.push(h.textContent); requestAnimationFrame(look); };
          requestAnimationFrame(look);
          document.addEventListener('securitypolicyviolation', () => painted.push('refused'));"""})
        self.addCleanup(self.browser.execute_cdp_cmd,
                        "Page.removeScriptToEvaluateOnNewDocument", seen)
        for query, words in (("?utm_term=Dark%20%20SKY", "The darkest hill"), ("", "words"),
                             ("?utm_term=evil", lines.partition("evil = ")[2]),
                             ("?utm_term=%3Cb%3E", "words")):
            self.browser.get(f"{self.base}/night{query}")
            self.assertTrue(wait_for(lambda: self.browser.execute_script(
                "return document.readyState === 'complete' && painted.length > 2")))
            told = set(self.browser.execute_script("return painted"))
            self.assertEqual(told, {f"Old {words}"})
            self.assertEqual(self.browser.execute_script(
                "return document.querySelectorAll('h1 img').length"), 0)
        self.assertTrue(wait_for(lambda: sum(kind == "words" for kind, _ in self.events()) == 4))
        ways = way_counts(self.engine, 0, 99_999)
        self.assertEqual([(one.number, one.visits) for one in shown_words(ways)],
                         [(0, 1), (1, 1), (2, 1)], "one visit, each value once")

    def test_links_that_count_so_much_seen_and_so_long_a_stay_are_goals(self) -> None:
        site = set_words(self.made, "head1", ((Run("On", link=f"page:{THANKS}"),),), "words")
        site = set_link_counted(site, PAGE, f"page:{THANKS}", "went on")
        for reach in (Reach("saw half", "depth", 50), Reach("saw more", "depth", 100),
                      Reach("stayed", "time", 1), Reach("stayed long", "time", 600)):
            site = add_reach(site, PAGE, reach)
        send_pages(site, self.folder, [PAGE])
        self.browser.get(f"{self.base}/night")
        self.assertTrue(wait_for(lambda: ("goal", "stayed") in self.events()))
        self.assertTrue(wait_for(lambda: ("goal", "saw more") in self.events()))
        self.browser.find_element(By.CSS_SELECTOR, "h1 a").click()
        self.assertTrue(wait_for(lambda: ("goal", "went on") in self.events()))
        told = [what for kind, what in self.events() if kind == "goal"]
        self.assertEqual(sorted(told), ["saw half", "saw more", "stayed", "went on"])

    def test_whoever_asks_not_to_be_tracked_is_not_followed(self) -> None:
        made = self.browser.execute_cdp_cmd("Page.addScriptToEvaluateOnNewDocument", {
            "source": "Object.defineProperty(navigator, 'globalPrivacyControl', {value: true})"})
        self.addCleanup(self.browser.execute_cdp_cmd,
                        "Page.removeScriptToEvaluateOnNewDocument", made)
        self.browser.get(f"{self.base}/night")
        self.browser.find_element(By.CSS_SELECTOR, "a.button").click()
        self.browser.find_element(By.NAME, NAME).send_keys("Ilse")
        self.browser.get(f"{self.base}/thanks")
        self.assertTrue(wait_for(lambda: len(self.events()) == 2))
        self.assertEqual({kind for kind, _ in self.events()}, {"visit"})


class StepsTest(BrowserTest):
    """The form in three steps, on a phone, by keyboard alone."""

    phone = True

    def site(self) -> Site:
        return wired_site()

    def keys(self, *keys: str) -> None:
        ActionChains(self.browser).send_keys(*keys).perform()

    def shown(self) -> str:
        return str(self.browser.execute_script(
            "return document.querySelector('.form-step:not([inert]) > legend').textContent"))

    def progress(self) -> str:
        return self.browser.find_element(By.CSS_SELECTOR, ".form-progress span").text

    def open_form(self) -> None:
        self.browser.get(f"{self.base}/thanks?utm_source=poster")
        self.browser.get(f"{self.base}/night")  # The source is known from the first page.
        self.browser.execute_script("document.querySelector('a.button').focus()")
        self.keys(Keys.ENTER)
        self.assertTrue(wait_for(lambda: self.shown() == "Who is coming?"))

    def focus(self, name: str) -> None:
        for _ in range(12):
            if self.browser.execute_script("return document.activeElement.name") == name:
                return
            self.keys(Keys.TAB)
        self.fail(f"{name} is not reached by Tab")

    def test_three_steps_with_a_branch_are_sent_by_keys_and_nothing_jumps(self) -> None:
        self.open_form()
        high = self.browser.execute_script("return document.querySelector('form').offsetHeight")
        self.focus("kind")
        self.keys(Keys.ENTER)  # Nothing chosen yet.
        self.assertIn("needed", self.browser.find_element(By.CSS_SELECTOR, "#formbox-kind-f").text)
        self.focus("kind")
        self.keys(Keys.SPACE)
        self.assertEqual(self.progress(), "Step 1 of 3")
        high = self.browser.execute_script("return document.querySelector('form').offsetHeight")
        self.keys(Keys.ENTER)
        self.assertEqual((self.shown(), self.progress()), ("The class", "Step 2 of 3"))
        self.focus("year")
        self.keys("7", Keys.ENTER)
        self.assertEqual(self.shown(), "Where can we write?")
        self.assertEqual(self.browser.execute_script(
            "return document.querySelector('form').offsetHeight"), high)
        self.focus(NAME)
        self.keys("Ilse Ruß")
        self.browser.refresh()
        self.keep_going_after_reload()
        self.assertTrue(wait_for(lambda: self.browser.current_url.endswith("/thanks")))
        (lead,) = list_leads(self.engine)
        self.assertEqual({field: answer for field, _, answer in lead.answers}, {
            "kind": "school", "year": "7", NAME: "Ilse Ruß", EMAIL: "ilse@post.example",
            "src1": "poster", "page": "Night"})
        self.assertEqual((lead.source, lead.robot), ("poster", False), lead.signs)

    def keep_going_after_reload(self) -> None:
        self.browser.execute_script("document.querySelector('a.button').focus()")
        self.keys(Keys.ENTER)
        self.assertEqual(self.shown(), "Where can we write?")
        self.assertEqual(self.browser.find_element(By.NAME, NAME).get_attribute("value"),
                         "Ilse Ruß")
        self.focus(EMAIL)
        self.keys("ilse@post")
        self.keys(Keys.ENTER)
        # A browser takes this for an address; the host does not, and that takes a moment.
        fault = self.browser.find_element(By.CSS_SELECTOR, f"#formbox-{EMAIL}-f")
        self.assertTrue(wait_for(lambda: "e-mail address" in fault.text), fault.text)
        self.keys(Keys.END, ".example")
        time.sleep(1.6)
        self.keys(Keys.ENTER)

    def test_a_branch_that_is_not_asked_and_going_back(self) -> None:
        self.open_form()
        self.focus("kind")
        self.keys(Keys.ARROW_DOWN)
        self.assertEqual(self.progress(), "Step 1 of 2")
        self.keys(Keys.ENTER)
        self.assertEqual(self.shown(), "Where can we write?")
        self.browser.find_element(By.CLASS_NAME, "form-back").send_keys(Keys.ENTER)
        self.assertEqual(self.shown(), "Who is coming?")
        self.assertEqual(self.browser.execute_script(
            "return document.querySelector('[name=kind]:checked').value"), "club")


class AskedTest(BrowserTest):
    """What a page asks of its visitor's browser: work, and consent."""

    def site(self) -> Site:
        site = change_form(small_site(), FORM, lambda form: msgspec.structs.replace(
            form, challenge=True))
        for name, purpose in (("Count", "statistics"), ("Advert", "marketing"),
                              ("Plain", "needed")):
            site, made = add_code(site, name, f"<script>document.title += ' {name}'</script>")
            site = set_code(site, made, purpose=purpose, place="end")
        return set_consent(site, asked=True)

    def test_a_browser_proves_its_work_and_the_lead_is_taken(self) -> None:
        self.browser.get(f"{self.base}/night")
        self.browser.find_element(By.CSS_SELECTOR, "[data-answer=some]").click()
        self.browser.find_element(By.CSS_SELECTOR, "a.button").click()
        self.browser.find_element(By.NAME, EMAIL).send_keys("ilse@post.example")
        time.sleep(1.6)
        self.browser.find_element(By.CSS_SELECTOR, "form [type=submit]").click()
        WebDriverWait(self.browser, 240).until(lambda b: b.current_url.endswith("/thanks"))
        self.assertEqual([lead.robot for lead in list_leads(self.engine)], [False])

    def test_a_form_that_was_sent_without_the_pages_script_proves_its_work_too(self) -> None:
        self.browser.get(f"{self.base}/night")
        self.browser.execute_script(
            "const f=document.querySelector('form');f.elements[arguments[0]].value=arguments[1];"
            "HTMLFormElement.prototype.submit.call(f)", EMAIL, "ilse@post.example")
        WebDriverWait(self.browser, 240).until(lambda b: b.current_url.endswith("/thanks"))
        self.assertEqual(len(list_leads(self.engine, Filter(robots="with"))), 1)

    def test_a_script_that_nobody_put_there_does_not_run(self) -> None:
        self.browser.get(f"{self.base}/night")
        self.browser.execute_script(
            "const s=document.createElement('script');s.textContent='document.title=\"no\"';"
            "document.body.append(s);const i=document.createElement('img');i.src='x';"
            "i.setAttribute('onerror','document.title=\"no\"');document.body.append(i)")
        time.sleep(0.5)
        self.assertEqual(self.browser.title, "A night Plain")

    def test_codes_wait_for_the_answer_which_is_remembered(self) -> None:
        self.browser.get(f"{self.base}/night")
        banner = self.browser.find_element(By.CSS_SELECTOR, "[data-consent-banner]")
        self.assertTrue(banner.is_displayed())
        self.assertEqual(self.browser.title, "A night Plain")
        boxes = {one.get_attribute("value"): one
                 for one in banner.find_elements(By.TAG_NAME, "input")}
        boxes["statistics"].click()
        banner.find_element(By.CSS_SELECTOR, "[data-answer=some]").click()
        self.assertEqual(self.browser.title, "A night Plain Count")
        self.browser.refresh()
        self.assertEqual(self.browser.title, "A night Plain Count")
        self.assertFalse(self.browser.find_element(
            By.CSS_SELECTOR, "[data-consent-banner]").is_displayed())
        self.browser.execute_script(
            "const a=document.createElement('a');a.href='#consent';document.body.append(a);"
            "a.click()")
        self.browser.find_element(By.CSS_SELECTOR, "[data-answer=all]").click()
        self.assertIn("Advert", self.browser.title)


class WidthsTest(BrowserTest):

    def pictures(self) -> list[bytes]:
        """Return how the page is painted at desktop, tablet and phone width."""
        found = []
        for width in (1280, 820, 500):
            self.browser.set_window_size(width, 1000)
            self.browser.get(f"{self.base}/night")
            self.browser.execute_script("return document.fonts.ready")
            found.append(self.browser.get_screenshot_as_png())
        return found

    def test_edits_for_the_phone_leave_every_byte_of_the_other_widths_pictures(self) -> None:
        before = self.pictures()
        site = set_hidden(self.made, "button1", Width.PHONE, True)
        site = reorder_at(site, "text1", Width.PHONE, -1)
        for name, value in (("size", 51), ("pad_top", 40), ("margin_left", 30)):
            site = set_look(site, ["head1"], name, value, Width.PHONE)
        send_pages(site, self.folder, [PAGE])
        desktop, tablet, phone = self.pictures()
        self.assertEqual((desktop, tablet), (before[0], before[1]))
        self.assertNotEqual(phone, before[2])


class OpenersTest(BrowserTest):
    """Popups that open by a picture, by time, by depth and on leaving, on a 360 px phone."""

    phone = True

    def site(self) -> Site:
        site = small_site()
        for number in range(3):
            site = insert(site, Spacer(id=f"tall{number}", height=640), "text1", "after")
        for slug, changes in (("timed", {"after_s": 1}), ("deep", {"at_scroll": 50}),
                              ("leaving", {"on_leave": True, "again_days": 0}),
                              ("held", {"outside": False, "escape": False})):
            site, page = duplicate_page(site, PAGE)
            site = set_slug(site, page, slug)
            popup = site.page(page).variants[0].popups[0].id
            for field, value in changes.items():
                site = set_field(site, popup, field, value)
        picture = Picture(id="pic1", medium="m1", actions=(
            CountGoal("looked"), OpenPopup("popup1")))
        site = add_medium(site, Medium(id="m1", name="Hill", file="hill.png", width=40, height=30,
                                       alt="The hill"))
        return insert(site, picture, "head1", "after")

    def setUp(self) -> None:
        make = Project.create

        def with_picture(folder: Path, made: Site) -> Project:
            project = make(folder, made)
            (folder / "media").mkdir(exist_ok=True)
            Image.new("RGB", (40, 30), "navy").save(folder / "media" / "hill.png")
            return project

        with mock.patch.object(Project, "create", with_picture):
            super().setUp()

    def visit(self, slug: str) -> WebElement:
        self.browser.get(f"{self.base}/{slug}")
        return self.browser.find_element(By.TAG_NAME, "dialog")

    def test_a_picture_counts_a_goal_opens_it_and_the_focus_comes_back(self) -> None:
        dialog = self.visit("night")
        self.assertEqual(self.browser.execute_script("return innerWidth"), 360)
        self.assertEqual(self.browser.execute_script(
            "return document.documentElement.scrollWidth"), 360)
        picture = self.browser.find_element(By.CSS_SELECTOR, "a.picture")
        picture.send_keys(Keys.ENTER)
        self.assertTrue(wait_for(dialog.is_displayed))
        box = dialog.rect
        self.assertGreaterEqual(box["x"], 0)
        self.assertLessEqual(box["x"] + box["width"], 360)
        for _ in range(9):  # Round and round: the focus never gets out behind the popup.
            ActionChains(self.browser).send_keys(Keys.TAB).perform()
            self.assertTrue(self.browser.execute_script(
                "const e = document.activeElement;"
                "return e === document.body || !!e.closest('dialog')"))
        dialog.send_keys(Keys.ESCAPE)
        self.assertTrue(wait_for(lambda: not dialog.is_displayed()))
        self.assertEqual(self.browser.execute_script(
            "return document.activeElement.className"), "picture")
        self.assertTrue(wait_for(lambda: any(
            c.page == PAGE and c.conversions == 1 for c in page_counts(self.engine))))

    def test_by_time_once_and_then_not_again(self) -> None:
        self.assertTrue(wait_for(self.visit("timed").is_displayed))
        dialog = self.visit("timed")
        time.sleep(1.6)
        self.assertFalse(dialog.is_displayed())

    def test_at_a_depth_of_the_page(self) -> None:
        dialog = self.visit("deep")
        time.sleep(0.4)
        self.assertFalse(dialog.is_displayed())
        self.browser.execute_script("document.documentElement.style.scrollBehavior='auto';"
                                    "scrollTo(0, document.documentElement.scrollHeight)")
        self.assertTrue(wait_for(dialog.is_displayed))

    def test_on_leaving_by_mouse_and_by_turning_back_on_a_phone(self) -> None:
        dialog = self.visit("leaving")
        self.browser.execute_script(
            "document.body.dispatchEvent(new MouseEvent('mouseout',"
            "{bubbles:true,clientY:-1,relatedTarget:null}))")
        self.assertTrue(dialog.is_displayed())
        dialog = self.visit("leaving")
        self.browser.execute_script("document.documentElement.style.scrollBehavior='auto';"
                                    "scrollTo(0, 1700)")
        time.sleep(0.4)
        self.assertFalse(dialog.is_displayed())
        self.browser.execute_script("scrollTo(0, 100)")
        self.assertTrue(wait_for(dialog.is_displayed))

    def test_one_that_only_its_cross_closes(self) -> None:
        dialog = self.visit("held")
        self.browser.find_element(By.CSS_SELECTOR, "a.button").send_keys(Keys.ENTER)
        dialog.send_keys(Keys.ESCAPE)
        self.browser.execute_script(
            "document.querySelector('dialog').dispatchEvent(new MouseEvent('click',"
            "{bubbles:true,clientX:1,clientY:1}))")
        self.assertTrue(dialog.is_displayed())
        self.browser.find_element(By.CSS_SELECTOR, ".popup-close").click()
        self.assertFalse(dialog.is_displayed())
