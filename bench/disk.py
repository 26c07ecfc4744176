"""Opening, saving and publishing against the bare disk."""

import json
import os
import tempfile
from collections.abc import Iterator
from pathlib import Path

import jinja2
import msgspec
from tests.sites import PAGE, long_page

from bench.ratio import Ratio, median_ms
from needle.core.edit.nodes import set_words
from needle.core.edit.pages import duplicate_page
from needle.core.values.words import text
from needle.publish.folder import publish_folder
from needle.publish.live import changed_pages, send_pages
from needle.publish.rendering import Renderer
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
        yield from _again(folder)
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
    yield Ratio(f"publishing {PAGES} pages (floor: rendered by Jinja2)",
                _by_jinja(out / "all", out / "jinja"), fresh, 2)


def _by_jinja(made: Path, out: Path) -> float:
    """Return how long the same pages take that are filled from ready values, in milliseconds."""
    pages = sorted(path for path in made.rglob("*.html"))
    lines = [path.read_text().split("><") for path in pages]
    template = jinja2.Environment(autoescape=False).from_string(
        "{% for line in lines %}{{ line }}{% if not loop.last %}><{% endif %}{% endfor %}")

    def render() -> None:
        for number, parts in enumerate(lines):
            folder = out / str(number)
            folder.mkdir(parents=True, exist_ok=True)
            (folder / "index.html").write_text(template.render(lines=parts))

    taken = median_ms(render, 1)
    assert (out / "0" / "index.html").read_text() == pages[0].read_text(), "it did its work"
    return taken


def _again(folder: Path) -> Iterator[Ratio]:
    site = read_site(folder)
    send_pages(site, folder, [page.id for page in site.pages])

    def walk() -> list[int]:
        return [path.stat().st_size for path in (folder / "live").rglob("*")]

    yield Ratio(f"publishing {PAGES} pages again, nothing changed", median_ms(walk, 7),
                median_ms(lambda: changed_pages(site, folder), 7), 2)
    count = iter(range(1000))

    def one_word() -> None:
        edited = set_words(site, "head0", (text(f"Word {next(count)}"),))
        changed = changed_pages(edited, folder)
        assert len(changed) == 1, "one page changed"
        send_pages(edited, folder, changed)

    page = site.pages[0].id

    def floor() -> None:
        walk()
        done = Renderer(site, folder).render([page])
        for number, words in enumerate(done.pages.values()):
            (folder / f"floor{number}").write_text(words)

    yield Ratio(f"publishing {PAGES} pages again, one word changed", median_ms(floor, 7),
                median_ms(one_word, 7), 2)
