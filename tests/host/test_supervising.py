"""What came back from a service while the database was away is not lost."""

import asyncio
import tempfile
import unittest
from pathlib import Path
from unittest import mock

from sqlalchemy.exc import OperationalError

from needle.host import delivery
from needle.host.clock import now_ms
from needle.host.delivery import Deliverer
from needle.host.supervising import Supervisor
from needle.publish.live import send_pages
from needle.publish.releases import read_live
from needle.store.project import Project
from needle.store.results.deliveries import Outcome, deliveries_of
from needle.store.results.tables import open_results
from needle.store.results.taking import NewLead, take_lead
from needle.store.seals import Seals
from tests.sites import FORM, small_site


class DelivererTest(unittest.TestCase):
    def test_what_came_back_is_recorded_once_the_database_is_back(self) -> None:
        with tempfile.TemporaryDirectory() as name:
            folder = Path(name) / "project"
            site = small_site()
            Project.create(folder, site).close()
            send_pages(site, folder, [page.id for page in site.pages])
            engine = open_results(folder / "results.db")
            self.addCleanup(engine.dispose)
            route = site.form(FORM).routes[0].id
            lead = take_lead(engine, NewLead(
                key="k" * 16, at_ms=now_ms(), visitor="v", form=FORM, form_name="Form", page="",
                variant="", email="ro@mail.example", answers=[], routes=[route]))
            tries = []

            async def hand_over(*_: object) -> Outcome:
                tries.append(1)
                return Outcome("done", "delivered")

            faults = [OperationalError(name, {}, Exception()) for name in "xy"]
            real = delivery.record

            def record(*told: object) -> None:
                if faults:
                    raise faults.pop()
                real(*told)  # type: ignore[arg-type]

            async def run() -> None:
                one = Deliverer(folder, engine, lambda: read_live(folder), Seals(folder), now_ms)
                task = asyncio.create_task(Supervisor().run(deliveries=one.run))
                while deliveries_of(engine, lead.number)[0].state != "done":
                    await asyncio.sleep(0.02)
                task.cancel()

            with mock.patch.object(Deliverer, "_hand_over", hand_over), \
                    mock.patch.object(Deliverer, "_job", lambda *_: object()), \
                    mock.patch.object(delivery, "record", record), \
                    self.assertLogs("needle.host.supervising", "ERROR"):
                asyncio.run(asyncio.wait_for(run(), 40))
            self.assertEqual((len(tries), faults), (1, []))
