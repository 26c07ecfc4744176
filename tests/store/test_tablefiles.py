"""Tables in a project's folder, and what somebody else writes into their CSV files."""

import contextlib
import os
import tempfile
import unittest
from pathlib import Path
from unittest import mock

import msgspec

from needle.core.site.site import Site
from needle.core.tables.editing import delete_table, rename_table, set_cells
from needle.core.tables.mastering import depart, make_master
from needle.core.values.rows import RowOf
from needle.store import tablefiles
from needle.store.project import DoubledError, Project, ProjectError, read_site, write_parts
from needle.store.repairing import repair_project
from needle.store.tablefiles import csv_file, edited_outside, keep_csv
from needle.store.versions import Versions
from tests.sites import PAGE
from tests.tabled import table_of, tabled_site


class TableFileTest(unittest.TestCase):
    def setUp(self) -> None:
        base = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.enterContext(mock.patch.dict(os.environ, NEEDLE_CONFIG=str(base / "config")))
        self.folder = base / "hill"
        self.site = make_master(tabled_site(), PAGE, table_of(tabled_site()).id)
        self.table = table_of(self.site)
        Project.create(self.folder, self.site).close()
        self.csv = self.folder / "tables" / csv_file(self.table)
        self.json = self.folder / "tables" / f"{self.table.id}.json"

    def save(self, site: Site) -> int:
        with contextlib.closing(Project(self.folder)) as project:
            return project.save(site)

    def changed(self, words: str) -> Site:
        return set_cells(self.site, self.table.id, [
            (self.table.rows[0].id, self.table.columns[1].id, words)])

    def test_it_comes_back_as_it_was_and_the_list_of_parts_has_no_rows(self) -> None:
        site = depart(self.site, PAGE, self.table.rows[0].id, "head1")
        self.save(site)
        self.assertEqual(read_site(self.folder), site)
        self.assertNotIn("Fenwater", (self.folder / "site.json").read_text("utf-8"))
        self.assertIn("Fenwater,north", self.csv.read_text("utf-8"))

    def test_one_cell_writes_the_table_alone(self) -> None:
        before = (self.folder / "site.json").stat().st_mtime_ns
        with contextlib.closing(Project(self.folder)) as project:
            self.site = project.saved
            self.assertEqual(project.save(self.changed("west")), 1)
        self.assertEqual((self.folder / "site.json").stat().st_mtime_ns, before)
        self.assertEqual(read_site(self.folder), self.changed("west"))

    def test_what_somebody_writes_into_the_file_is_seen_and_stays_until_it_is_read(self) -> None:
        self.assertIsNone(edited_outside(self.folder, self.table))
        self.csv.write_bytes(self.csv.read_bytes().replace(b"north", b"inland"))
        self.assertIn(b"inland", edited_outside(self.folder, self.table) or b"")
        self.save(self.changed("west"))
        table = table_of(read_site(self.folder))
        self.assertIn(b"inland", edited_outside(self.folder, table) or b"", "nothing is lost")
        keep_csv(self.folder, table)
        self.assertIsNone(edited_outside(self.folder, table))
        self.assertIn(b"Harrowick,west", self.csv.read_bytes())

    def test_a_name_or_the_whole_table_that_goes_takes_its_files_along(self) -> None:
        site = rename_table(self.site, self.table.id, "Places")
        self.save(site)
        self.assertFalse(self.csv.exists())
        self.assertTrue((self.folder / "tables" / csv_file(table_of(site))).exists())
        bare = delete_table(tabled_site(), self.table.id)
        self.save(bare)
        self.assertEqual(list((self.folder / "tables").iterdir()), [])
        self.assertEqual(read_site(self.folder), bare)

    def test_killed_between_two_files_the_project_still_opens(self) -> None:
        class KilledError(Exception):
            pass

        with mock.patch("needle.store.project.clear_tables", side_effect=KilledError), \
                self.assertRaises(KilledError):
            self.save(delete_table(tabled_site(), self.table.id))
        self.assertEqual(read_site(self.folder).tables, ())

    def test_a_full_disk_keeps_what_there_was(self) -> None:
        with mock.patch.object(tablefiles, "write_atomically", side_effect=OSError(28, "full")), \
                self.assertRaisesRegex(ProjectError, "full"):
            self.save(self.changed("west"))
        self.assertEqual(read_site(self.folder), self.site)

    def test_broken_files_are_refused_with_their_name(self) -> None:
        good = self.json.read_text("utf-8")
        row = self.table.rows[0].id
        for words, why in ((good[:-30], "damaged|broken"), (good.replace(row, "Bad Id!"), "id"),
                           (good.replace('"Fenwater",', ""), "cells"),
                           (good.replace(self.table.rows[1].id, row), "two rows"),
                           (good.replace(f'"{self.table.id}"', '"other"'), "other")):
            self.json.write_text(words, "utf-8")
            with self.subTest(why), self.assertRaisesRegex(ProjectError, self.table.id):
                read_site(self.folder)
        self.json.unlink()
        with self.assertRaisesRegex(ProjectError, "missing"):
            read_site(self.folder)

    def test_two_tables_or_columns_with_one_id_are_refused_and_repaired(self) -> None:
        table = msgspec.structs.replace(self.table, columns=(
            self.table.columns[0], *self.table.columns[:2]))
        write_parts(self.folder, msgspec.structs.replace(self.site, tables=(table,)))
        with self.assertRaisesRegex(DoubledError, "the column “Town” of “Towns”"):
            read_site(self.folder)
        write_parts(self.folder, msgspec.structs.replace(
            self.site, tables=(self.table, self.table)))
        with self.assertRaisesRegex(DoubledError, "the table “Towns”"):
            read_site(self.folder)
        repair_project(self.folder)
        first, second = read_site(self.folder).tables
        self.assertEqual((first, second.rows), (self.table, self.table.rows))
        (kept,) = (self.folder / "versions").glob("before-repair-*/tables/*.json")
        self.assertEqual(kept.name, self.json.name)

    def test_a_page_that_says_it_is_a_rows_is_an_ordinary_one(self) -> None:
        pages = tuple(msgspec.structs.replace(page, row=RowOf("x", "y", "Z"))
                      for page in self.site.pages)
        write_parts(self.folder, msgspec.structs.replace(self.site, pages=pages))
        self.assertEqual({page.row for page in read_site(self.folder).pages}, {RowOf()})

    def test_earlier_versions_hold_the_rows(self) -> None:
        with contextlib.closing(Versions(self.folder)) as versions:
            versions.record(self.site, "one", PAGE, 1)
            versions.record(self.changed("west"), "two", PAGE, 10 ** 9)
            (*_, first) = versions.listed()
            self.assertEqual(versions.site(first.id), self.site)


if __name__ == "__main__":
    unittest.main()
