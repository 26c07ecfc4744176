"""Projects and packages from strangers: script in every string, paths that lead outside, ids that
stand twice, files that are no files."""

import json
import os
import tempfile
import unittest
import zipfile
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import msgspec
from bench.fuzzing import executable

from needle.core.site.site import Font, Medium, Site
from needle.core.values.strict import Strict, StrictError, rules_of
from needle.demo.make import make_demo
from needle.publish.folder import publish_folder
from needle.publish.live import send_pages
from needle.publish.refusing import PublishError
from needle.publish.serverfiles import APACHE_FILE, NGINX_FILE
from needle.store.packages import PackageError, read_package, take_package, write_package
from needle.store.project import DoubledError, Project, ProjectError, read_site
from needle.store.repairing import repair_project
from needle.store.trust import allow, waiting_codes
from tests.sites import PAGE, small_site

SCRIPTS = ('"><script>needleHacked()</script>', "'-needleHacked()-'",
           "</style><script>x()</script>", "javascript:needleHacked()", "{{7*7}}",
           "</title><img src=x onerror=x()>",
           "a\u2028b\0c", "../../../etc/passwd")


def strings(value: Any, path: tuple[Any, ...] = ()) -> Iterator[tuple[Any, ...]]:
    """Yield the way to every text in a JSON value, keys of objects too."""
    if isinstance(value, dict):
        for key, inner in value.items():
            yield from strings(inner, (*path, key))
    elif isinstance(value, list):
        for number, inner in enumerate(value):
            yield from strings(inner, (*path, number))
    elif isinstance(value, str):
        yield path


def with_text(value: Any, path: tuple[Any, ...], words: str) -> Any:
    """Return a JSON value with another text at a place."""
    copy = json.loads(json.dumps(value))
    at = copy
    for step in path[:-1]:
        at = at[step]
    at[path[-1]] = words
    return copy


class FolderTest(unittest.TestCase):
    """Has a small project in a folder of its own."""

    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.root = Path(folder.name)
        self.folder = self.root / "project"
        Project.create(self.folder, small_site()).close()


class StrangerTest(FolderTest):
    def change(self, name: str, path: tuple[Any, ...], words: str) -> None:
        file = self.folder / name
        file.write_text(json.dumps(with_text(json.loads(file.read_text()), path, words)))

    def test_script_in_every_string_never_runs_and_never_writes_outside(self) -> None:
        """Every text of a project in turn: refused in words, or published as mere words."""
        files = ["site.json", *(f"pages/{p.name}" for p in (self.folder / "pages").iterdir())]
        tried = refused = 0
        for name in files:
            original = (self.folder / name).read_text()
            for number, path in enumerate(strings(json.loads(original))):
                words = SCRIPTS[number % len(SCRIPTS)]
                self.change(name, path, words)
                tried += 1
                with self.subTest(f"{name} {path}", words=words):
                    try:
                        site = read_site(self.folder)
                    except ProjectError as error:
                        refused += 1
                        self.assertNotIn("Traceback", str(error))
                    else:
                        self.publish(site)
                (self.folder / name).write_text(original)
        self.assertGreater(tried, 100)
        self.assertGreater(refused, 20)
        self.assertEqual({path.name for path in self.root.iterdir()}, {"project", "out"})

    def publish(self, site: Site) -> None:
        out = self.root / "out"
        for page in publish_folder(site, self.folder, out):
            self.assertTrue(page.resolve().is_relative_to(out.resolve()))
            self.assertEqual(executable(page.read_text()), [], page)

    def test_links_pipes_and_other_no_files_are_refused(self) -> None:
        secret = self.root / "secret.png"
        secret.write_bytes(b"secret")
        for number, make in enumerate((
                lambda path: path.symlink_to(secret), lambda path: os.mkfifo(path),
                lambda path: path.symlink_to("/dev/zero"),
                lambda path: path.symlink_to(self.root, target_is_directory=True))):
            for place in (self.folder / "media" / "a.png", self.folder / "live",
                          self.folder / "pages" / "extra.json", self.folder / "board"):
                place.parent.mkdir(exist_ok=True)
                make(place)
                with self.subTest(number, place=place.name), \
                        self.assertRaisesRegex(ProjectError, "is a link or no plain file"):
                    Project(self.folder)
                place.unlink()
        Project(self.folder).close()

    def test_a_page_or_site_that_is_nested_without_end_is_refused_in_words(self) -> None:
        for name in ("site.json", next((self.folder / "pages").iterdir()).name):
            file = next(self.folder.rglob(name))
            original = file.read_bytes()
            for raw in (b"[" * 100_000, b'{"a":' * 100_000, b"\0" * 50, b'{"needle": 2, "\0": 1}',
                        b"\xff\xfe{}", b"", b"null", b'{"needle": 1e999}',
                        b'{"needle": ' + b"9" * 5000 + b"}"):
                file.write_bytes(raw)
                with self.subTest(name, raw=raw[:12]), self.assertRaises(ProjectError):
                    read_site(self.folder)
            file.write_bytes(original)

    def test_doubled_ids_are_refused_with_both_places_and_repaired_so_that_both_stay(self) -> None:
        page = next((self.folder / "pages").glob(f"*-{PAGE}.json"))
        copy = self.folder / "pages" / f"copy-{PAGE}.json"
        held = json.loads(page.read_text())
        copy.write_text(json.dumps(held | {"name": "The copy"}))
        site = json.loads((self.folder / "site.json").read_text())
        site["pages"].append(copy.name)
        site["site"]["forms"].append(site["site"]["forms"][0] | {"name": "The other form"})
        (self.folder / "site.json").write_text(json.dumps(site))
        before = {file.name: file.read_bytes() for file in (self.folder / "pages").iterdir()}
        with self.assertRaisesRegex(DoubledError, "stands for .* and for .*needle repair"):
            Project(self.folder)
        self.assertEqual({file.name: file.read_bytes()
                          for file in (self.folder / "pages").iterdir()}, before)
        repair_project(self.folder)
        mended = Project(self.folder)
        self.addCleanup(mended.close)
        names = [page.name for page in mended.saved.pages]
        self.assertIn("The copy", names)
        self.assertEqual(len(names), len(small_site().pages) + 1)
        self.assertIn("The other form", [form.name for form in mended.saved.forms])
        self.assertEqual(len({form.id for form in mended.saved.forms}), len(mended.saved.forms))
        self.assertTrue(list((self.folder / "versions").glob("before-repair-*/site.json")))

    def test_what_a_killed_save_left_is_swept(self) -> None:
        pages = self.folder / "pages"
        (pages / "lost-abc.json").write_text("{}")
        part = pages / ".new-xyz"
        part.write_text("half")
        os.utime(part, (1, 1))
        Project(self.folder).close()
        self.assertFalse(part.exists())
        self.assertFalse((pages / "lost-abc.json").exists())
        self.assertTrue((self.folder / "versions" / "left-over" / "lost-abc.json").exists())

    def test_code_of_a_stranger_is_listed_and_off_until_it_is_allowed(self) -> None:
        name = next(p.name for p in (self.folder / "pages").iterdir())
        file = self.folder / "pages" / name
        held = json.loads(file.read_text())
        held["code"] = {"head": "<script>stranger()</script>", "css": "body{color:red}"}
        file.write_text(json.dumps(held))
        site = json.loads((self.folder / "site.json").read_text())
        site["site"]["tracking"] = [{"id": "t1", "name": "Spy", "html": "<script>spy()</script>"}]
        (self.folder / "site.json").write_text(json.dumps(site))
        project = Project(self.folder)
        self.addCleanup(project.close)
        waiting = waiting_codes(project.saved)
        self.assertEqual(len(waiting), 3)
        pages = publish_folder(project.saved, self.folder, self.root / "out")
        every = "".join(page.read_text() for page in pages)
        for words in ("stranger()", "spy()", "color:red"):
            self.assertNotIn(words, every)
        # A save of something else does not make it the person's own.
        project.save(msgspec.structs.replace(project.saved, name="Renamed"))
        self.assertEqual(len(waiting_codes(project.saved)), 3)
        allow(waiting)
        pages = publish_folder(project.saved, self.folder, self.root / "out")
        every = "".join(page.read_text() for page in pages)
        for words in ("stranger()", "spy()", "color:red"):
            self.assertIn(words, every)

    def test_code_that_is_typed_here_is_the_persons_own(self) -> None:
        project = Project(self.folder)
        self.addCleanup(project.close)
        page = project.saved.pages[0]
        code = msgspec.structs.replace(page.code, head="<script>mine()</script>")
        project.save(msgspec.structs.replace(project.saved, pages=(
            msgspec.structs.replace(page, code=code), *project.saved.pages[1:])))
        self.assertEqual(waiting_codes(project.saved), [])

    def test_a_picture_or_font_that_is_missing_or_damaged_is_said_in_words(self) -> None:
        project = Project(self.folder)
        self.addCleanup(project.close)
        medium = Medium(id="gone", name="Gone.png", file="gone.png", width=900, height=600)
        page = project.saved.page(PAGE)
        site = msgspec.structs.replace(
            project.saved, media=(*project.saved.media, medium), pages=tuple(
                msgspec.structs.replace(one, share="gone") if one is page else one
                for one in project.saved.pages))
        for raw in (None, b"", b"no picture"):
            if raw is not None:
                (self.folder / "media").mkdir(exist_ok=True)
                (self.folder / "media" / "gone.png").write_bytes(raw)
            for send in (lambda: publish_folder(site, self.folder, self.root / "out"),
                         lambda: send_pages(site, self.folder, [PAGE])):
                with self.subTest(raw), self.assertRaisesRegex(PublishError, "missing or damaged"):
                    send()
        font = Font(id="f", family="Lost", weight=400, italic=False, file="lost.ttf")
        lost = msgspec.structs.replace(project.saved, fonts=(font,), brand=msgspec.structs.replace(
            project.saved.brand, body_face="Lost"))
        with self.assertRaisesRegex(PublishError, "lost.ttf"):
            publish_folder(lost, self.folder, self.root / "out")

    def test_a_published_folder_says_by_itself_what_it_may_run(self) -> None:
        out = self.root / "out"
        pages = publish_folder(read_site(self.folder), self.folder, out)
        for page in pages:
            self.assertIn('http-equiv="Content-Security-Policy"', page.read_text())
        self.assertIn("nosniff", (out / NGINX_FILE).read_text())
        self.assertIn("nosniff", (out / APACHE_FILE).read_text())


class PackageTest(FolderTest):
    def setUp(self) -> None:
        super().setUp()
        self.package = self.root / "page.zip"
        write_package(small_site(), self.folder, PAGE, self.package)

    def repack(self, change: Any) -> Path:
        with zipfile.ZipFile(self.package) as packed:
            files = {name: packed.read(name) for name in packed.namelist()}
        held = json.loads(files["package.json"])
        change(held, files)
        files["package.json"] = json.dumps(held).encode()
        made = self.root / "made.zip"
        with zipfile.ZipFile(made, "w") as packed:
            for name, data in files.items():
                packed.writestr(name, data)
        return made

    def test_script_in_every_string_of_a_package_is_refused_or_mere_words(self) -> None:
        with zipfile.ZipFile(self.package) as packed:
            original = json.loads(packed.read("package.json"))
        for number, path in enumerate(strings(original)):
            words = SCRIPTS[number % len(SCRIPTS)]
            made = self.repack(lambda held, _, p=path, w=words: (
                held.clear(), held.update(with_text(original, p, w))))
            with self.subTest(path, words=words):
                try:
                    site, _ = take_package(small_site(), self.folder, made)
                except (PackageError, StrictError):
                    continue
                for page in publish_folder(site, self.folder, self.root / "out"):
                    self.assertEqual(executable(page.read_text()), [])
        self.assertFalse((self.root / "passwd").exists())

    def test_its_files_stay_below_the_media(self) -> None:
        for file in ("../../secret.png", "/etc/passwd", "a/b.png", "..", ".hidden.png", "a\0.png"):
            def change(held: Any, _: Any, file: str = file) -> None:
                held["media"] = [{"id": "m1", "name": "x", "file": file, "width": 1, "height": 1}]

            with self.subTest(file), self.assertRaises(PackageError):
                read_package(self.repack(change))

    def test_an_original_never_leads_to_a_file_of_this_machine(self) -> None:
        def change(held: Any, files: Any) -> None:
            held["media"] = [{"id": "m1", "name": "x", "file": "a.png", "width": 1, "height": 1,
                              "original": "../../secret.png"}]
            files["media/0123456789abcdef.png"] = b"x"

        with self.assertRaises(PackageError):
            read_package(self.repack(change))

    def test_a_package_of_an_earlier_schema_with_no_forms_in_it_is_refused_in_words(self) -> None:
        for forms in (2.5, {}, None, "x", [1, None, {"routes": 5}]):
            with self.subTest(forms), self.assertRaises(PackageError):
                read_package(self.repack(lambda held, _, f=forms: held.update(
                    needle_page=1, forms=f, page=[])))

    def test_its_code_waits(self) -> None:
        made = self.repack(lambda held, _: held["page"].update(
            code={"body": "<script>packed()</script>"}))
        site, page = take_package(small_site(), self.folder, made)
        self.assertEqual([code.code for code in waiting_codes(site)],
                         ["<script>packed()</script>"])
        self.assertNotIn("packed()", "".join(
            p.read_text() for p in publish_folder(site, self.folder, self.root / "out")))
        self.assertIsNotNone(site.page(page))


class StrictTest(unittest.TestCase):
    def test_every_value_with_strict_texts_checks_them_when_it_is_built(self) -> None:
        waiting, seen = [Site], set()
        while waiting:
            kind = waiting.pop()
            if kind in seen:
                continue
            seen.add(kind)
            info = msgspec.inspect.type_info(kind)
            waiting.extend(_structs(info))
            if rules_of(kind):
                with self.subTest(kind.__name__):
                    self.assertTrue(issubclass(kind, Strict))
        self.assertGreater(len(seen), 40)

    def test_the_demo_is_strict(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            project = make_demo(Path(folder) / "demo")
            project.close()
            self.assertEqual(waiting_codes(read_site(Path(folder) / "demo")), [])


def _structs(info: Any) -> Iterator[type]:
    """Yield the types of values that a type holds."""
    if isinstance(info, msgspec.inspect.StructType):
        for field in info.fields:
            yield from _inner(field.type)


def _inner(info: Any) -> Iterator[type]:
    if isinstance(info, msgspec.inspect.StructType):
        yield info.cls
    for name in ("item_type", "key_type", "value_type"):
        if (inside := getattr(info, name, None)) is not None:
            yield from _inner(inside)
    for inside in (*getattr(info, "types", ()), *getattr(info, "item_types", ())):
        yield from _inner(inside)
