"""Where a site stands is read without opening it, and the list of sites holds folders alone."""

import contextlib
import os
import tempfile
import time
import unittest
from datetime import UTC, datetime
from pathlib import Path
from unittest import mock

import msgspec

from needle.core.edit.domain import set_domain
from needle.core.edit.nodes import insert, set_field
from needle.core.edit.pages import split_page
from needle.core.edit.testing import set_plan
from needle.core.kinds.button import Button
from needle.core.site.site import Site
from needle.core.values.words import text
from needle.publish.live import send_pages
from needle.publish.standing import Need, read_standing
from needle.store.certificates import Certificates, State
from needle.store.project import Project, ProjectError, read_site
from needle.store.results.tables import open_results
from needle.store.results.taking import NewLead, take_lead
from needle.store.sites import copy_site, forget_site, known_sites, moved_site, remember_site
from tests.sites import FORM, PAGE, small_site
from tests.told import take_goal, take_visit

DAY_MS = 86_400_000


class StandingTest(unittest.TestCase):
    def setUp(self) -> None:
        self.base = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.enterContext(mock.patch.dict(os.environ, NEEDLE_CONFIG=str(self.base / "config")))
        self.folder = self.base / "hill"
        self.now = int(time.time() * 1000)

    def made(self, site: Site) -> Site:
        Project.create(self.folder, site).close()
        return site

    def test_a_new_site_has_nothing_that_waits_but_what_is_left_to_do(self) -> None:
        self.made(small_site())
        found = read_standing(self.folder)
        self.assertEqual((found.name, found.needs, found.days, found.fault), ("Hill", [], [], ""))
        self.assertEqual(found.statuses["Publish"].words, "2 pages to send")
        self.assertIn("old words", found.words)
        self.assertAlmostEqual(found.worked, time.time(), delta=60)

    def test_what_came_and_what_needs_somebody_worst_first(self) -> None:
        site = small_site()
        loose = msgspec.structs.replace(site.forms[0], id="form2", name="Loose", routes=())
        site = msgspec.structs.replace(site, forms=(*site.forms, loose))
        site = self.made(split_page(site, PAGE, datetime(2026, 1, 1, tzinfo=UTC)))
        send_pages(site, self.folder, [PAGE])
        engine = open_results(self.folder / "results.db")
        self.addCleanup(engine.dispose)
        for number in range(600):
            key = "AB"[number % 2]
            take_visit(engine, at_ms=self.now + 5000, visitor=f"v{number}", page=PAGE, variant=key)
            if (key == "B" and number % 5 == 0) or number % 50 == 0:
                take_goal(engine, at_ms=self.now + 6000, visitor=f"v{number}", page=PAGE,
                          variant=key, goal="call")
        for number in range(400):
            take_goal(engine, at_ms=self.now + 6000, visitor=f"w{number}", page=PAGE,
                      variant="AB"[number % 4 > 0], goal="call")
        take_visit(engine, at_ms=self.now - 2 * DAY_MS, visitor="old", page=PAGE, variant="A")
        take_lead(engine, NewLead(key="k" * 16, at_ms=self.now, visitor="v1", form=FORM,
                                  form_name="Places", page=PAGE, variant="A", email="",
                                  answers=[]))
        found = read_standing(self.folder, self.now / 1000)
        self.assertEqual(found.days[-3], 1)
        self.assertGreaterEqual(found.days[-1], 600)
        self.assertEqual((len(found.days), found.leads), (7, 1))
        self.assertEqual([need.stage for need in found.needs], ["Connect", "Publish"])
        self.assertIn(Need(2, "“Loose” leads nowhere", "Connect"), found.needs)
        (self.folder / "live" / "live.json").write_bytes(b"{")
        self.assertEqual(read_standing(self.folder).needs[0].weight, 1)

    def test_a_split_test_with_an_answer_is_told_and_none_by_a_goal_that_a_variant_lacks(
            self) -> None:
        site = self.made(split_page(small_site(), PAGE, datetime(2026, 1, 1, tzinfo=UTC)))
        send_pages(site, self.folder, [PAGE])
        engine = open_results(self.folder / "results.db")
        self.addCleanup(engine.dispose)
        for number in range(500):
            told = {"at_ms": self.now + 9000, "visitor": f"v{number}", "page": PAGE,
                    "variant": "AB"[number % 2]}
            take_visit(engine, **told)
            if (number % 2 and number % 4 == 1) or number % 20 == 0:
                take_goal(engine, goal="call", **told)
        (need, *_) = read_standing(self.folder).needs
        self.assertEqual((need.words, need.stage), (
            "the split test of “Night” has an answer: B is better", "Measure"))
        with contextlib.closing(Project(self.folder)) as project:
            project.save(set_plan(site, PAGE, counts="nowhere"))
        self.assertNotIn("Measure", [one.stage for one in read_standing(self.folder).needs])

    def test_what_loses_leads_on_a_live_page_comes_first(self) -> None:
        site = set_field(small_site(), "button1", "actions", ())
        site = self.made(insert(site, Button(id="idle", words=text("And this?")), "button1",
                                "after"))
        self.assertEqual(read_standing(self.folder).needs, [], "nothing of it is live")
        send_pages(site, self.folder, [page.id for page in site.pages])
        (need,) = read_standing(self.folder).needs
        self.assertEqual((need.weight, need.stage), (1, "Build"))
        self.assertTrue(need.words.startswith("“Night” is live and loses leads: "), need.words)
        self.assertTrue(need.words.endswith(", and 1 more"), need.words)
        with contextlib.closing(Project(self.folder)) as project:
            project.save(set_field(site, "head1", "rank", 2))
        self.assertEqual([one.stage for one in read_standing(self.folder).needs], ["Publish"],
                         "what is live is no longer what stands here")

    def test_a_certificate_that_does_not_come_is_told_where_there_is_a_domain(self) -> None:
        site = self.made(small_site())
        send_pages(site, self.folder, [page.id for page in site.pages])
        Certificates(self.folder).keep_state(State(fault="The authority is away."))
        self.assertEqual(read_standing(self.folder).needs, [])
        with contextlib.closing(Project(self.folder)) as project:
            project.save(set_domain(site, "www.hill.example"))
        self.assertIn(Need(1, "no certificate for www.hill.example: The authority is away.",
                           "Publish"), read_standing(self.folder).needs)

    def test_whatever_is_wrong_is_said_and_raises_nothing(self) -> None:
        self.assertIn("missing", read_standing(self.base / "none").fault)
        self.made(small_site())
        (self.folder / "results.db").write_bytes(b"no database" * 99)
        self.assertEqual(read_standing(self.folder).needs[0].words, "its results cannot be read")
        (self.folder / "site.json").write_bytes(b"{")
        self.assertTrue(read_standing(self.folder).fault)

    def test_the_list_holds_folders_last_first_and_deletes_nothing(self) -> None:
        self.made(small_site())
        with mock.patch("needle.store.sites.datetime") as clock:
            for second, name in enumerate(("hill", "dale", "hill")):
                clock.now.return_value.isoformat.return_value = f"2026-01-01T00:00:0{second}"
                remember_site(self.base / name, name.title())
        self.assertEqual([one.name for one in known_sites()], ["Hill", "Dale"])
        moved_site(str((self.base / "dale").resolve()), self.base / "vale")
        self.assertEqual([Path(one.folder).name for one in known_sites()], ["hill", "vale"])
        forget_site(str(self.folder.resolve()))
        self.assertEqual([Path(one.folder).name for one in known_sites()], ["vale"])
        self.assertTrue((self.folder / "site.json").exists())

    def test_a_copy_takes_pages_and_media_and_leaves_leads_and_what_is_live(self) -> None:
        site = self.made(msgspec.structs.replace(small_site(), domain="www.hill.example"))
        (self.folder / "media").mkdir(exist_ok=True)
        (self.folder / "media" / "a.png").write_bytes(b"x")
        send_pages(site, self.folder, [PAGE])
        open_results(self.folder / "results.db").dispose()
        copy_site(self.folder, self.base / "dale", "Dale")
        copy = read_site(self.base / "dale")
        self.assertEqual((copy.name, copy.address, copy.domain), ("Dale", "dale", ""))
        self.assertNotEqual(copy.id, site.id)
        self.assertEqual(copy.pages, site.pages)
        self.assertEqual(sorted(path.name for path in (self.base / "dale").iterdir()
                                if not path.name.startswith(".")), ["media", "pages", "site.json"])
        with self.assertRaises(ProjectError):
            copy_site(self.folder, self.base / "dale", "Again")
