"""A project with its host and practice services running, for tests."""

import tempfile
import time
import unittest
from collections.abc import Callable
from pathlib import Path
from typing import Any

import httpx

from needle.core.site.site import Site
from needle.core.tables.expanding import expanded
from needle.host.clock import now_ms
from needle.host.visitors import VISITOR_COOKIE
from needle.practice.faults import set_fault
from needle.practice.mailbox import messages
from needle.publish.live import send_pages
from needle.running.addresses import practice_folder, read_address
from needle.running.stand import Stand
from needle.store.project import Project
from needle.store.results.tables import open_results
from needle.store.seals import Seals
from tests.sites import EMAIL, FORM, NAME, PAGE, small_site

__all__ = ["BRIEFLY", "BROWSER", "StallTest", "wait_for"]

BROWSER = {"User-Agent": "Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Firefox/140.0",
           "Accept-Language": "en-GB,en;q=0.7", "Sec-Fetch-Site": "same-origin"}

# The host ends connections that rest for five seconds, maybe just when they are used again.
BRIEFLY = httpx.Limits(keepalive_expiry=1.5)


def wait_for(holds: Callable[[], object], within_s: float = 240.0) -> bool:
    """Wait until something holds, and return whether it came to."""
    end = time.monotonic() + within_s
    while time.monotonic() < end:
        if holds():
            return True
        time.sleep(0.03)
    return False


class StallTest(unittest.TestCase):
    """Starts everything on the small site, all pages live.

    Attributes:
        practice: Which practice services run.
    """

    practice: tuple[str, ...] = ("list", "mail")

    def site(self) -> Site:
        return small_site()

    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name) / "project"
        self.made = self.site()
        Project.create(self.folder, self.made).close()
        self.publish()
        self.engine = open_results(self.folder / "results.db")
        self.addCleanup(self.engine.dispose)
        self.start()
        self.addCleanup(lambda: self.stand.stop())

    def publish(self) -> None:
        send_pages(self.made, self.folder, [page.id for page in expanded(self.made).pages])

    def start(self) -> None:
        self.stand = Stand(self.folder, 0, self.practice)
        self.assertEqual(self.stand.faults, [])
        name = f"{self.made.address}.localhost:{self.stand.port}"
        self.visitor = httpx.Client(
            base_url=f"http://127.0.0.1:{self.stand.port}", headers={"Host": name} | BROWSER,
            cookies={VISITOR_COOKIE: "0" * 24}, trust_env=False, timeout=240, limits=BRIEFLY)
        self.addCleanup(self.visitor.close)

    def answers(self, email: str = "ro@mail.example", **more: str) -> dict[str, str]:
        """Return what the page's own script would post for a person, some seconds in."""
        key = more.pop("_key", f"{abs(hash(email)):032d}"[:32])
        form = more.pop("form", FORM)
        seal = Seals(self.folder).seal("filling", now_ms() - 8000, form, key)
        return {NAME: "Ro", EMAIL: email, "src1": "poster", "_page": PAGE, "_variant": "A",
                "_took": "9000", "_felt": "24,3,0", "_token": seal, "_key": key} | more

    def post(self, sent: dict[str, str], form: str = FORM, **headers: str) -> httpx.Response:
        return self.visitor.post(f"/_needle/lead/{form}", data=sent,
                                 headers={"Accept": "application/json"} | headers)

    def break_service(self, kind: str, fault: str) -> None:
        set_fault(practice_folder(self.folder, kind), fault)

    def members(self, which: str = "meteor-guests") -> list[dict[str, Any]]:
        facts = read_address(practice_folder(self.folder, "list"))
        assert facts is not None
        return httpx.get(f"{facts['url']}/lists/{which}/members", trust_env=False, timeout=240,
                         headers={"Authorization": f"Bearer {facts['key']}"}).json()

    def mail(self) -> list[str]:
        return [str(m["subject"]) for m in messages(practice_folder(self.folder, "mail"))]
