"""A project with its host and practice services running, for tests."""

import tempfile
import time
import unittest
from collections.abc import Callable
from pathlib import Path

import httpx

from needle.core.site.site import Site
from needle.practice.addresses import practice_folder
from needle.practice.mailbox import messages
from needle.publish.live import send_pages
from needle.running.stand import Stand
from needle.services.access import list_access
from needle.services.mailing import MailingClient
from needle.store.project import Project
from needle.store.results.tables import open_results
from tests.sites import EMAIL, FORM, NAME, PAGE, SERVICES, small_site

__all__ = ["StallTest", "wait_for"]


def wait_for(holds: Callable[[], object], within_s: float = 12.0) -> bool:
    """Wait until something holds, and return whether it came to."""
    end = time.monotonic() + within_s
    while time.monotonic() < end:
        if holds():
            return True
        time.sleep(0.03)
    return False


class StallTest(unittest.TestCase):
    """Starts everything on the small site, all pages live."""

    def site(self) -> Site:
        return small_site()

    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name) / "project"
        self.made = self.site()
        Project.create(self.folder, self.made).close()
        send_pages(self.made, self.folder, [page.id for page in self.made.pages])
        self.engine = open_results(self.folder / "results.db")
        self.addCleanup(self.engine.dispose)
        self.start()
        self.addCleanup(lambda: self.stand.stop())

    def start(self) -> None:
        self.stand = Stand(self.folder, 0)
        self.assertEqual(self.stand.faults, [])
        name = f"{self.made.address}.localhost:{self.stand.port}"
        self.visitor = httpx.Client(base_url=f"http://127.0.0.1:{self.stand.port}",
                                    headers={"Host": name}, trust_env=False)
        self.addCleanup(self.visitor.close)

    def answers(self, email: str = "ro@mail.example", **more: str) -> dict[str, str]:
        """Return what the page's own script would post."""
        return {NAME: "Ro", EMAIL: email, "src1": "poster", "_page": PAGE, "_variant": "A",
                "_took": "9000", "_key": f"{abs(hash(email)):032d}"[:32]} | more

    def post(self, sent: dict[str, str], form: str = FORM, **headers: str) -> httpx.Response:
        return self.visitor.post(f"/_needle/lead/{form}", data=sent,
                                 headers={"Accept": "application/json"} | headers)

    def lists(self) -> MailingClient:
        access = list_access(self.folder, SERVICES[1])
        assert access is not None
        return MailingClient("Lists", *access)

    def members(self) -> list[dict[str, object]]:
        access = list_access(self.folder, SERVICES[1])
        assert access is not None
        return httpx.get(f"{access[0]}/lists/meteor-guests/members", trust_env=False,
                         headers={"Authorization": f"Bearer {access[1]}"}).json()

    def mail(self) -> list[str]:
        return [str(m["subject"]) for m in messages(practice_folder(self.folder, "mail"))]
