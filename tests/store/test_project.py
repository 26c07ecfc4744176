import errno
import json
import tempfile
import unittest
from pathlib import Path
from unittest import mock

import msgspec
from hypothesis import given, settings

from needle.core.edit.nodes import set_words
from needle.core.edit.pages import add_page, delete_page, rename_page, set_slug, split_page
from needle.core.site.site import Site
from needle.core.values.words import text
from needle.store.project import Project, ProjectError, json_schema, read_site
from tests.randomly import STEPS, random_edit
from tests.sites import PAGE, THANKS, small_site


class ProjectTest(unittest.TestCase):
    def setUp(self) -> None:
        name = tempfile.TemporaryDirectory()
        self.addCleanup(name.cleanup)
        self.folder = Path(name.name) / "project"
        self.project = Project.create(self.folder, small_site())
        self.addCleanup(lambda: self.project.close())

    def reopen(self) -> Site:
        self.project.close()
        self.project = Project(self.folder)
        return self.project.saved

    def page_file(self) -> Path:
        return next((self.folder / "pages").glob("night-*.json"))


class SavingTest(ProjectTest):
    def test_what_is_saved_is_what_is_read(self) -> None:
        self.assertEqual(self.reopen(), small_site())

    @settings(max_examples=15, deadline=None)
    @given(STEPS)
    def test_any_edited_site_comes_back_the_very_value(self, steps: list) -> None:
        site = self.project.saved
        for step in steps:
            site = random_edit(site, step)
        self.project.save(site)
        self.assertEqual(read_site(self.folder), site)

    def test_only_what_changed_is_written(self) -> None:
        site = self.project.saved
        self.assertEqual(self.project.save(site), 0)
        self.assertEqual(self.project.save(set_words(site, "head1", (text("New"),))), 1)
        self.assertEqual(self.project.save(rename_page(self.project.saved, PAGE, "Nights")), 1)

    def test_files_follow_their_pages(self) -> None:
        site, _ = add_page(self.project.saved, "Third")
        self.project.save(set_slug(site, PAGE, "meteor"))
        names = sorted(p.name.partition("-")[0] for p in (self.folder / "pages").iterdir())
        self.assertEqual(names, ["meteor", "thanks", "third"])
        self.project.save(delete_page(self.project.saved, THANKS))
        self.assertEqual(len(list((self.folder / "pages").iterdir())), 2)
        self.assertEqual(read_site(self.folder), self.project.saved)

    def test_files_read_well_in_a_diff(self) -> None:
        lines = self.page_file().read_text().splitlines()
        self.assertGreater(len(lines), 40)
        held = json.loads(self.page_file().read_text())
        self.assertEqual(list(held), sorted(held))

    def test_a_full_disk_is_said_and_the_old_file_stays_whole(self) -> None:
        before = self.page_file().read_bytes()
        full = OSError(errno.ENOSPC, "No space left on device")
        with mock.patch("needle.store.files.os.fsync", side_effect=full), \
                self.assertRaisesRegex(ProjectError, "No space left.*kept in this window"):
            self.project.save(set_words(self.project.saved, "head1", (text("Lost?"),)))
        self.assertEqual(self.page_file().read_bytes(), before)
        self.assertEqual(list(self.folder.rglob(".new-*")), [])
        self.project.save(set_words(self.project.saved, "head1", (text("Kept"),)))
        self.assertEqual(self.reopen(), self.project.saved)

    def test_an_existing_project_is_never_written_over(self) -> None:
        with self.assertRaisesRegex(ProjectError, "holds a project already"):
            Project.create(self.folder, small_site())


class RefusalTest(ProjectTest):
    def refused(self, words: str) -> None:
        """Opening must be refused in these words and leave every byte as it was."""
        self.project.close()
        before = {p: p.read_bytes() for p in self.folder.rglob("*.json")}
        with self.assertRaisesRegex(ProjectError, words):
            Project(self.folder)
        self.assertEqual({p: p.read_bytes() for p in self.folder.rglob("*.json")}, before)

    def change(self, path: Path, **changes: object) -> None:
        path.write_text(json.dumps(json.loads(path.read_text()) | changes))

    def test_missing(self) -> None:
        (self.folder / "site.json").unlink()
        self.refused("site.json is missing")

    def test_a_missing_page_file(self) -> None:
        self.page_file().unlink()
        self.refused("night-page1.json is missing")

    def test_cut_short(self) -> None:
        path = self.page_file()
        path.write_bytes(path.read_bytes()[:-40])
        self.refused("night-page1.json is broken or cut short")

    def test_not_json_and_not_utf8(self) -> None:
        (self.folder / "site.json").write_bytes(b"\xff\xfe\x00 not json")
        self.refused("site.json is broken or cut short")

    def test_newer(self) -> None:
        self.change(self.folder / "site.json", needle=3)
        self.refused("newer Needle .schema 3; this one reads up to 2")

    def test_not_ours(self) -> None:
        (self.folder / "site.json").write_text('{"pages": [], "title": "something else"}')
        self.refused("not a Needle project")

    def test_a_value_of_the_wrong_type_is_named_with_its_place(self) -> None:
        self.change(self.page_file(), name=7)
        self.refused(r"night-page1.json.*Expected `str`, got `int`.*\$\.name")

    def test_a_field_that_is_not_known(self) -> None:
        self.change(self.page_file(), glow="much")
        self.refused("unknown field `glow`")

    def test_a_look_the_table_does_not_allow(self) -> None:
        raw = self.page_file().read_text()
        self.page_file().write_text(raw.replace(
            '"id": "head1",', '"id": "head1", "look": {"base": {"size": 4000}},'))
        self.refused("at head1: Size must be 8 to 200 px")

    def test_one_id_twice(self) -> None:
        raw = self.page_file().read_text()
        self.page_file().write_text(raw.replace('"head2"', '"head1"'))
        self.refused("the id “head1” stands for .* and for .*needle repair")

    def test_a_page_file_outside_the_project(self) -> None:
        self.change(self.folder / "site.json", pages=["../../etc/passwd"])
        self.refused("cannot be a page's file")

    def test_two_pages_at_one_address(self) -> None:
        self.change(self.page_file(), slug="thanks")
        self.refused("already has the address /thanks")


class SchemaTest(unittest.TestCase):
    def test_the_schema_names_every_kind(self) -> None:
        schema = json.dumps(json_schema())
        for kind in ("heading", "button", "form", "picture", "popup", "section"):
            self.assertIn(f'"{kind}"', schema)

    def test_variants_and_archive_are_kept(self) -> None:
        from datetime import UTC, datetime

        site = split_page(small_site(), PAGE, datetime(2026, 1, 1, tzinfo=UTC))
        self.assertEqual(msgspec.json.decode(msgspec.json.encode(site), type=Site), site)
