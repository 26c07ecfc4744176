"""Erasing finds a person however their address was typed."""

import tempfile
import unittest
from pathlib import Path

from sqlalchemy import text

from needle.core.leads.people import normal_address
from needle.store.results.book import count_leads
from needle.store.results.erasing import erase_person, person_holdings
from needle.store.results.tables import open_results
from needle.store.results.taking import NewLead, take_lead


class ErasingTest(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.engine = open_results(self.folder / "results.db")
        self.addCleanup(self.engine.dispose)

    def take(self, key: str, email: str) -> None:
        take_lead(self.engine, NewLead(
            key=key * 16, at_ms=1000, visitor=key, form="f", form_name="F", page="p", variant="A",
            email=email, answers=[("mail", "E-mail", email)]))

    def test_case_accents_and_domains_are_folded_alike(self) -> None:
        same = ("ÉVA@Hügel.example", "éva@hügel.EXAMPLE", "E\u0301va@HU\u0308GEL.example",
                " éva@xn--hgel-0ra.example ")
        for key, email in zip("abcd", same, strict=True):
            self.take(key, email)
        self.take("x", "eva@hügel.example")
        self.assertEqual(len({normal_address(email) for email in same}), 1)
        self.assertEqual(person_holdings(self.engine, same[2]).leads, 4)
        self.assertEqual(erase_person(self.engine, self.folder, same[1]).leads, 4)
        self.assertEqual(count_leads(self.engine), 1)

    def test_leads_of_an_earlier_needle_are_found_too(self) -> None:
        self.take("a", "Éva@Hügel.example")
        with self.engine.begin() as connection:
            connection.execute(text("DROP INDEX leads_by_person"))
            connection.execute(text("ALTER TABLE leads DROP COLUMN person"))
        self.engine.dispose()
        self.engine = open_results(self.folder / "results.db")
        self.addCleanup(self.engine.dispose)
        self.assertEqual(erase_person(self.engine, self.folder, "éva@hügel.example").leads, 1)
