"""Erasing finds a person however their address was typed."""

import tempfile
import unittest
from pathlib import Path

from sqlalchemy import text

from needle.core.leads.people import normal_address
from needle.store.results.attached import attached_file
from needle.store.results.book import count_leads, list_leads
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

    def test_a_strangers_database_leads_to_no_file_outside_and_breaks_no_list(self) -> None:
        outside = self.folder.parent / f"{self.folder.name}-outside.txt"
        outside.write_text("mine")
        self.addCleanup(outside.unlink, missing_ok=True)
        self.take("a", "ann@mail.example")
        with self.engine.begin() as connection:
            connection.execute(text(
                "INSERT INTO filed (lead_key, field, name, path) VALUES (:k, 'f', 'x', :p)"),
                {"k": "a" * 16, "p": f"../{outside.name}"})
            connection.execute(text("UPDATE leads SET at = 9e18, answers = '{broken'"))
        (lead,) = list_leads(self.engine)
        self.assertEqual(lead.at.year, 9999)
        self.assertIn("damaged", lead.answers[0][1])
        for place in (f"../{outside.name}", "/etc/passwd", "attachments/../../x.txt", ""):
            with self.assertRaises(OSError):
                attached_file(self.folder, place)
        erase_person(self.engine, self.folder, "ann@mail.example")
        self.assertEqual(outside.read_text(), "mine")
