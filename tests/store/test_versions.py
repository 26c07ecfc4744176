import random
import sqlite3
import tempfile
import unittest
from pathlib import Path

from needle.core.edit.nodes import set_words
from needle.core.edit.pages import add_page, delete_page
from needle.core.values.words import text
from needle.store.versions import Versions, VersionsError
from tests.sites import PAGE, THANKS, long_page, small_site

LATER = 1_000_000


class VersionsTest(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.versions = Versions(self.folder)
        self.addCleanup(self.versions.close)

    def test_every_version_comes_back_the_very_value(self) -> None:
        site, kept = small_site(), []
        for number in range(100):
            site = set_words(site, random.choice(["head1", "head2", "text1"]),
                             (text(f"Words {number}"),))
            if number == 40:
                site, _ = add_page(site, "Third")
            if number == 70:
                site = delete_page(site, site.pages[-1].id)
            self.versions.record(site, f"words {number}", PAGE, number * LATER)
            kept.append(site)
        self.versions.close()
        self.versions = Versions(self.folder)
        rows = self.versions.listed(200)
        self.assertEqual(len(rows), 100)
        for row, site in zip(reversed(rows), kept, strict=True):
            self.assertEqual(self.versions.site(row.id), site)
        self.assertEqual((rows[0].words, rows[0].page, rows[0].at_ms),
                         ("words 99", "Night", 99 * LATER))

    def test_typing_on_is_one_version_and_older_texts_stay(self) -> None:
        first = small_site()
        self.versions.record(first, "as it was found", PAGE, 0)
        other = set_words(first, "head1", (text("Other"),))
        self.versions.record(other, "words of heading", PAGE, LATER)
        for number in range(20):
            # Back to the words of the first version on the way: its text must not be lost.
            words = "Old words" if number == 10 else f"Other {number}"
            site = set_words(first, "head1", (text(words),))
            self.versions.record(site, "words of heading", PAGE, LATER + number * 1000)
        self.assertEqual(self.versions.count(), 2)
        newest, oldest = self.versions.listed()
        self.assertEqual(self.versions.site(newest.id), site)
        self.assertEqual(self.versions.site(oldest.id), first)
        self.assertEqual(self.versions.before(newest.id), oldest.id)

    def test_a_named_version_is_not_written_over(self) -> None:
        site = small_site()
        self.versions.record(site, "start", PAGE, 0)
        self.versions.record(set_words(site, "head1", (text("A"),)), "words", PAGE, LATER)
        self.versions.rename(self.versions.listed()[0].id, " Before  the launch ")
        self.versions.record(set_words(site, "head1", (text("B"),)), "words", PAGE, LATER + 1)
        self.assertEqual([v.name for v in self.versions.listed()], ["", "Before the launch", ""])
        self.assertEqual([v.name for v in self.versions.listed(search="launch")],
                         ["Before the launch"])

    def test_nothing_changed_is_no_version(self) -> None:
        site = small_site()
        self.versions.record(site, "start", PAGE, 0)
        self.versions.record(small_site(), "again", THANKS, LATER)
        self.assertEqual(self.versions.count(), 1)

    def test_two_thousand_edits_stay_small(self) -> None:
        site = long_page(30)
        nodes = [n.id for n in site.pages[0].variants[0].nodes() if hasattr(n, "words")]
        for number in range(2000):
            site = set_words(site, nodes[number % len(nodes)], (text(f"Words {number}"),))
            self.versions.record(site, f"words {number % 7}", PAGE, number * LATER)
        self.assertEqual(self.versions.site(self.versions.listed(1)[0].id), site)
        self.versions.close()
        self.assertLess((self.folder / "versions.db").stat().st_size, 2_000_000)

    def test_damage_is_told_in_words(self) -> None:
        self.versions.record(small_site(), "start", PAGE, 0)
        base = sqlite3.connect(self.folder / "versions.db")
        base.execute("UPDATE texts SET data = x'00'")
        base.commit()
        base.close()
        with self.assertRaisesRegex(VersionsError, "damaged"):
            self.versions.site(1)
        with self.assertRaisesRegex(VersionsError, "no longer there"):
            self.versions.site(99)
        other = self.folder / "other"
        other.mkdir()
        (other / "versions.db").write_bytes(b"no database, " * 200)
        with self.assertRaisesRegex(VersionsError, "the project itself is whole"):
            Versions(other)
