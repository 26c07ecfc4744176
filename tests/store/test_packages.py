"""Page packages and templates: out, in, equal; and what does not belong."""

import json
import tempfile
import unittest
import zipfile
from pathlib import Path

import msgspec
from PIL import Image

from needle.core.edit.invented import placeholders
from needle.core.edit.media import add_medium
from needle.core.edit.nodes import insert
from needle.core.edit.packages import PACKAGE_SCHEMA
from needle.core.edit.pages import add_whole_page
from needle.core.kinds.picture import Picture
from needle.core.readymade.templates import (
    AMOUNTS,
    TEMPLATES,
    all_kinds,
    find_templates,
    page_of,
)
from needle.core.render.context import Context
from needle.core.render.document import live_body
from needle.core.site.site import Page
from needle.core.site.starter import starter_site
from needle.core.values.ids import IdSource, new_id
from needle.store.media import EditPictures, import_picture
from needle.store.packages import PackageError, read_package, take_package, write_package
from tests.sites import PAGE, small_site


class PackageTest(unittest.TestCase):
    def setUp(self) -> None:
        held = tempfile.TemporaryDirectory()
        self.addCleanup(held.cleanup)
        self.root = Path(held.name)
        for name in ("one", "two"):
            (self.root / name / "media").mkdir(parents=True)
        source = self.root / "hill.png"
        Image.new("RGB", (300, 200), "#446688").save(source)
        medium = import_picture(self.root / "one", source)
        site = add_medium(small_site(), medium)
        self.site = insert(site, Picture(id="pic", medium=medium.id), "head1", "after")
        self.path = self.root / "night.zip"
        write_package(self.site, self.root / "one", PAGE, self.path)

    def test_a_page_is_equal_in_another_project(self) -> None:
        other, page_id = take_package(starter_site("Other", "other"), self.root / "two",
                                      self.path)
        page = other.page(page_id)
        self.assertEqual(page, self.site.page(PAGE))
        self.assertEqual([form.id for form in other.forms], ["form1"])
        self.assertEqual(other.forms[0].fields, self.site.forms[0].fields)
        file = other.media[0].file
        self.assertEqual((self.root / "two" / "media" / file).read_bytes(),
                         (self.root / "one" / "media" / file).read_bytes())

    def test_a_page_comes_back_beside_itself_under_new_ids(self) -> None:
        other, page_id = take_package(self.site, self.root / "one", self.path)
        page = other.page(page_id)
        assert page is not None
        self.assertEqual((page.name, page.slug), ("Night 2", "night-2"))
        ids = [node.id for p in other.pages for v in p.variants for node in v.nodes()]
        self.assertEqual(len(ids), len(set(ids)))
        self.assertEqual((len(other.forms), len(other.media)), (1, 1))

    def rewritten(self, change: object) -> Path:
        """Return a package in which `change` was done to the JSON and the names of files."""
        path = self.root / "changed.zip"
        with zipfile.ZipFile(self.path) as old, zipfile.ZipFile(path, "w") as new:
            held = {name: old.read(name) for name in old.namelist()}
            for name, data in change(held).items():  # type: ignore[operator]
                new.writestr(name, data)
        return path

    def test_what_does_not_belong_is_refused_and_nothing_is_kept(self) -> None:
        def newer(held: dict[str, bytes]) -> dict[str, bytes]:
            tree = json.loads(held["package.json"])
            return held | {"package.json": json.dumps(
                tree | {"needle_page": PACKAGE_SCHEMA + 1, "more": 1}).encode()}

        def lacking(held: dict[str, bytes]) -> dict[str, bytes]:
            return {"package.json": held["package.json"]}

        def swapped(held: dict[str, bytes]) -> dict[str, bytes]:
            return {name: data if name == "package.json" else b"no picture"
                    for name, data in held.items()}

        def wild(held: dict[str, bytes]) -> dict[str, bytes]:
            words = held["package.json"].replace(b'"words": "Old words"', b'"words": 7')
            return held | {"package.json": words}

        for change, told in (
                (lambda held: held | {"../../evil.txt": b"x"}, "in a place where none belongs"),
                (lambda held: held | {"media/../evil.png": b"x"}, "where none belongs"),
                (lambda held: {"readme.txt": b"x"}, "where none belongs"),
                (lambda held: {}, "without a page"), (newer, "newer Needle"),
                (lacking, "lacks the file"), (swapped, "cannot be used"), (wild, "damaged")):
            with self.subTest(told), self.assertRaisesRegex(PackageError, told):
                take_package(starter_site("O", "o"), self.root / "two", self.rewritten(change))
        self.assertEqual(list((self.root / "two" / "media").iterdir()), [])

    def test_files_that_are_no_packages(self) -> None:
        broken = self.root / "broken.zip"
        broken.write_bytes(self.path.read_bytes()[:300])
        for path in (broken, self.root / "gone.zip", self.root / "hill.png"):
            with self.subTest(path.name), self.assertRaises(PackageError):
                read_package(path)

    def test_a_missing_picture_is_told_when_writing(self) -> None:
        (self.root / "one" / "media" / self.site.media[0].file).unlink()
        with self.assertRaisesRegex(PackageError, "cannot be written"):
            write_package(self.site, self.root / "one", PAGE, self.root / "b.zip")
        self.assertFalse((self.root / "b.zip").exists())


class TemplateTest(unittest.TestCase):
    def test_there_are_enough_and_each_renders_with_one_chief_heading(self) -> None:
        self.assertGreaterEqual(len(TEMPLATES), 16)
        self.assertGreaterEqual(len(all_kinds()), 8)
        site = small_site()
        for number, template in enumerate(TEMPLATES):
            for framed in (False, True):
                with self.subTest(template.key, framed=framed):
                    arrived = page_of(template, site, IdSource(number), framed)
                    page = arrived.part
                    placed, _ = add_whole_page(arrived.site, page, f"{template.name} {number}")
                    html = live_body(Context(placed, placed.pages[-1], page.variants[0], "live",
                                             EditPictures()))
                    self.assertEqual(html.count("<h1"), 1)
                    self.assertTrue(list(placeholders(placed)))
                    self.assertTrue(placed.pages[-1].title and placed.pages[-1].description)

    def test_they_are_found_by_kind_and_amount(self) -> None:
        self.assertTrue(all(find_templates(kind) for kind in all_kinds()))
        self.assertEqual({one.amount for one in find_templates("", "long")}, {"long"})
        self.assertEqual(sum(len(find_templates("", amount)) for amount in AMOUNTS),
                         len(TEMPLATES))

    def test_the_frame_is_the_sites_own(self) -> None:
        site = small_site()
        top = msgspec.structs.replace(site.pages[0].variants[0].children[1], role="header",
                                      id="own")
        page: Page = msgspec.structs.replace(site.pages[0], variants=(msgspec.structs.replace(
            site.pages[0].variants[0], children=(top,)),))
        framed = page_of(TEMPLATES[0], msgspec.structs.replace(site, pages=(page,)), new_id,
                         True).part
        sections = framed.variants[0].children
        self.assertEqual((sections[0].role, sections[0].name), ("header", top.name))
        self.assertNotEqual(sections[0].id, "own")
