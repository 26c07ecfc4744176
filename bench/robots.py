"""`python -m bench.robots`: people and programs fill the same form; which are put aside?

People: Chromium, keys and touches at human pace, some by autofill-like pasting, some with cookies
refused. Programs: five kinds, from a bare post to a browser that is driven by a script.
"""

import os
import random
import shutil
import sys
import tempfile
import threading
import time
from collections.abc import Callable
from pathlib import Path

import httpx
from selenium import webdriver
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import WebDriverWait
from tests.sites import EMAIL, FORM, NAME, PAGE, small_site

from needle.publish.live import send_pages
from needle.running.stand import Stand
from needle.store.project import Project
from needle.store.results.book import Filter, list_leads
from needle.store.results.tables import open_results

_AT_ONCE = 3
_AGENT = "Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 Chrome/150.0 Safari/537.36"


def _browser(profile: str) -> webdriver.Chrome:
    options = webdriver.ChromeOptions()
    options.binary_location = shutil.which("chromium") or "chromium"
    for flag in ("--headless=new", "--no-sandbox", "--disable-gpu", "--no-first-run", "--lang=en",
                 "--disable-background-networking", "--disable-sync", f"--user-data-dir={profile}",
                 f"--user-agent={_AGENT}", "--window-size=420,800"):
        options.add_argument(flag)
    return webdriver.Chrome(options=options, service=webdriver.ChromeService(
        shutil.which("chromedriver") or "chromedriver"))


def _type(browser: webdriver.Chrome, words: str, rng: random.Random) -> None:
    for sign in words:
        ActionChains(browser).send_keys(sign).perform()
        time.sleep(rng.uniform(0.03, 0.16))


def _person(browser: webdriver.Chrome, base: str, number: int, rng: random.Random) -> None:
    """Fill the form in as somebody does: read, open, type or paste, correct oneself, send."""
    browser.delete_all_cookies()
    browser.get(f"{base}/night?utm_source=poster")
    browser.execute_script("sessionStorage.clear()")
    browser.get(f"{base}/night?utm_source=poster")
    time.sleep(rng.uniform(0.6, 2.0))
    browser.find_element(By.CSS_SELECTOR, "a.button").click()
    time.sleep(rng.uniform(0.2, 0.8))
    by_filler = number % 5 == 0
    for name, words in ((NAME, f"Person {number}"), (EMAIL, f"h{number}@mail.example")):
        field = browser.find_element(By.NAME, name)
        field.click()
        if by_filler:  # A filler of the browser sets the values; the person only looks and sends.
            browser.execute_script("arguments[0].value=arguments[1];arguments[0].dispatchEvent("
                                   "new Event('input',{bubbles:true}))", field, words)
            time.sleep(rng.uniform(0.3, 0.9))
        else:
            _type(browser, words, rng)
            if rng.random() < 0.3:
                ActionChains(browser).send_keys("x", Keys.BACKSPACE).perform()
    time.sleep(rng.uniform(0.9, 1.8))
    if number % 3:
        browser.find_element(By.CSS_SELECTOR, "form [type=submit]").click()
    else:
        ActionChains(browser).send_keys(Keys.ENTER).perform()
    WebDriverWait(browser, 15).until(lambda b: b.current_url.endswith("/thanks"))


def _client(base: str, **headers: str) -> httpx.Client:
    port = base.rsplit(":", 1)[1]
    return httpx.Client(base_url=f"http://127.0.0.1:{port}", trust_env=False, timeout=20,
                        headers={"Host": base.removeprefix("http://")} | headers)


def _bare(base: str, number: int) -> None:
    with _client(base) as client:
        client.post(f"/_needle/lead/{FORM}", data={EMAIL: f"r{number}@mail.example"})


def _faking(base: str, number: int) -> None:
    """A program that knows the fields and claims a time, a browser and keys."""
    with _client(base, **{"User-Agent": _AGENT, "Accept-Language": "en"}) as client:
        client.get("/night")
        client.post(f"/_needle/lead/{FORM}", data={
            NAME: "x", EMAIL: f"r{number}@mail.example", "_took": "8000", "_felt": "20,2,0",
            "_page": PAGE, "_variant": "A"})


def _asking(base: str, number: int) -> None:
    """The same, and it asks for the seal as well, but does not wait."""
    key = f"{number:032d}"
    with _client(base, **{"User-Agent": _AGENT, "Accept-Language": "en"}) as client:
        client.get("/night")
        seal = client.get(f"/_needle/token/{FORM}", params={"key": key}).json()["token"]
        client.post(f"/_needle/lead/{FORM}", data={
            NAME: "x", EMAIL: f"r{number}@mail.example", "_took": "8000", "_felt": "20,2,0",
            "_key": key, "_token": seal, "_page": PAGE, "_variant": "A"})


def _trapped(base: str, number: int) -> None:
    """A program that fills everything it finds, slowly, with links."""
    key = f"{number:032d}"
    with _client(base, **{"User-Agent": _AGENT, "Accept-Language": "en"}) as client:
        client.get("/night")
        seal = client.get(f"/_needle/token/{FORM}", params={"key": key}).json()["token"]
        time.sleep(2)
        client.post(f"/_needle/lead/{FORM}", data={
            NAME: "http://a.example http://b.example", EMAIL: f"r{number}@mail.example",
            "website_url": "http://c.example", "_took": "8000", "_felt": "9,9,0", "_key": key,
            "_token": seal, "_page": PAGE, "_variant": "A"})


def _driven(browser: webdriver.Chrome, base: str, number: int) -> None:
    """A browser driven by a script that waits long enough and runs the page's own code."""
    browser.get(f"{base}/night")
    time.sleep(1.2)
    browser.execute_script(
        "const f=document.querySelector('form');f.dispatchEvent(new Event('focusin'));"
        "for(const [n,v] of Object.entries(arguments[0])){f[n].value=v;"
        "f[n].dispatchEvent(new Event('input',{bubbles:true}))}",
        {NAME: "Script", EMAIL: f"r{number}@mail.example"})
    time.sleep(2.2)
    browser.execute_script("document.querySelector('form').requestSubmit()")
    WebDriverWait(browser, 15).until(lambda b: b.current_url.endswith("/thanks"))


def _shared(count: int, work: Callable[[webdriver.Chrome, int], None]) -> None:
    """Have a few browsers share the numbers among them."""
    numbers = iter(range(count))
    lock = threading.Lock()

    def one() -> None:
        with tempfile.TemporaryDirectory(ignore_cleanup_errors=True) as profile:
            browser = _browser(profile)
            try:
                while True:
                    with lock:
                        number = next(numbers, None)
                    if number is None:
                        return
                    work(browser, number)
            finally:
                browser.quit()

    threads = [threading.Thread(target=one) for _ in range(_AT_ONCE)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()


def main(people: int) -> None:
    """Let both kinds fill the form in and print who was put aside."""
    with tempfile.TemporaryDirectory() as name:
        os.environ["NEEDLE_CONFIG"] = name
        folder, site = Path(name) / "project", small_site()
        Project.create(folder, site).close()
        send_pages(site, folder, [page.id for page in site.pages])
        stand = Stand(folder, 0)
        base = f"http://{site.address}.localhost:{stand.port}"
        each = people // 5
        _shared(people, lambda b, n: _person(b, base, n, random.Random(n)))
        for start, kind in ((0, _bare), (each, _faking), (2 * each, _asking),
                            (3 * each, _trapped)):
            for number in range(start, start + each):
                kind(base, number)
        _shared(each, lambda b, n: _driven(b, base, 4 * each + n))
        engine = open_results(folder / "results.db")
        kept = list_leads(engine, Filter(robots="with"), 2000)
        persons = [lead for lead in kept if lead.email.startswith("h")]
        programs = [lead for lead in kept if lead.email.startswith("r")]
        print(f"people {len(persons)}, put aside {sum(lead.robot for lead in persons)}")
        print(f"programs {len(programs)}, put aside {sum(lead.robot for lead in programs)}")
        for lead in kept:
            if lead.robot == lead.email.startswith("h"):
                print("  wrong:", lead.email, lead.signs)
        engine.dispose()
        stand.stop()


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 200)
