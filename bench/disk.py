"""Opening, saving and publishing against the bare disk."""

import json
import os
import tempfile
from collections.abc import Iterator
from pathlib import Path

import msgspec
from tests.sites import PAGE, long_page

from bench.ratio import Ratio, median_ms
from needle.core.edit.nodes import set_words
from needle.core.edit.pages import duplicate_page
from needle.core.values.words import text
from needle.publish.folder import publish_folder
from needle.store.project import Project, read_site

PAGES = 500


def measure() -> Iterator[Ratio]:
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name) / "project"
        site = long_page(8)
        for _ in range(PAGES - 1):
            site, _ = duplicate_page(site, PAGE)
        project = Project.create(folder, site)
        files = [folder / "site.json", *(folder / "pages").glob("*.json")]
        yield Ratio(f"opening a project of {PAGES} pages",
                    median_ms(lambda: [json.loads(f.read_bytes()) for f in files], 5),
                    median_ms(lambda: read_site(folder), 5), 3)
        yield _saving(project, folder)
        yield from _publishing(folder, Path(name) / "out")
        project.close()


def _saving(project: Project, folder: Path) -> Ratio:
    page = next((folder / "pages").glob("long-page1.json"))
    data = page.read_bytes()

    def write() -> None:
        with open(folder / "floor", "wb") as file:
            file.write(data)
            file.flush()
            os.fsync(file.fileno())

    count = iter(range(1000))

    def save() -> None:
        edited = set_words(project.saved, "head0", (text(f"Words {next(count)}"),))
        project.save(edited)

    return Ratio(f"saving after one edit in {PAGES} pages", median_ms(write, 40),
                 median_ms(save, 40), 2)


def _publishing(folder: Path, out: Path) -> Iterator[Ratio]:
    site = read_site(folder)
    publish_folder(msgspec.structs.replace(site, pages=site.pages[:1]), folder, out)
    fresh = median_ms(lambda: publish_folder(site, folder, out / "all"), 1)
    done = [path.read_bytes() for path in (out / "all").rglob("*") if path.is_file()]

    def write() -> None:
        for number, data in enumerate(done):
            (out / f"floor{number}").write_bytes(data)

    yield Ratio(f"publishing {PAGES} pages afresh", median_ms(write, 1), fresh, 10)
