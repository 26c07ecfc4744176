"""Pages from tables, each figure beside its floor: 300 pages sent, one row, how alike they are,
and a table of 5,000 rows in the window.

    ./needle bench tables
"""

import os
import random
import sys
import tempfile
import time
from collections.abc import Iterator
from pathlib import Path

import msgspec
from tests.sites import PAGE, long_page

from bench.ratio import Ratio, median_ms
from needle.core.edit.nodes import insert, set_words
from needle.core.kinds.goods import GoodsBox
from needle.core.kinds.rowlist import RowList
from needle.core.site.site import Site
from needle.core.tables.comparing import compared, compared_again
from needle.core.tables.csvfile import read_sheet
from needle.core.tables.editing import add_table, set_cells
from needle.core.tables.expanding import expanded
from needle.core.tables.likeness import own_words, worst_pairs
from needle.core.tables.mastering import make_master
from needle.core.tables.matching import guessed_meanings
from needle.core.tables.taking import guessed_kinds, made_table
from needle.core.values.ids import IdSource
from needle.core.values.words import Run, text
from needle.publish.folder import publish_folder
from needle.publish.live import changed_pages, send_pages
from needle.publish.rendering import Renderer
from needle.store.project import Project

__all__ = ["run"]

_TOWNS, _PRODUCTS, _OPTIONS = 300, 5_000, 3_000
_NAMES = ("Ash", "Birch", "Cold", "Dun", "Elm", "Fern", "Gorse", "Hazel", "Moss", "Rook")
_WORDS = ("ridge", "mill", "heath", "river", "quarry", "chapel", "orchard", "dark", "lamp", "owl",
          "wind", "bench", "gate", "stars", "hedge", "sea", "wall", "lane", "green", "bay")


def _csv(rows: int, seed: int = 3) -> bytes:
    dice = random.Random(seed)
    lines = ["Town,Region,Price,On,Own"]
    lines += [f"{dice.choice(_NAMES)}ton {n},r{n % 7},£{n % 90}.50,2027-0{1 + n % 9}-1{n % 10},"
              + " ".join(dice.choice(_WORDS) for _ in range(dice.choice((0, 20, 30))))
              for n in range(rows)]
    return "\n".join(lines).encode()


def _site(rows: int) -> Site:
    site = long_page(8)
    sheet = read_sheet(_csv(rows))
    table, _ = made_table(sheet, "Towns", guessed_kinds(sheet, "en"), "en", IdSource(4))
    first = table.rows[0]
    site = set_words(site, "head0", (text(f"An evening above {first.cells[0]}"),))
    site = set_words(site, "head1", (text(next(
        row.cells[4] for row in table.rows if row.cells[4])),))
    return make_master(add_table(site, table), PAGE, table.id)


def _shop(rows: int) -> Site:
    """Return a site with a page for each of so many products, each with what is like it."""
    dice = random.Random(5)
    lines = ["Thing,Price,Sale price,Stock,Own,Tags,Since,Sold"]
    lines += [f"{dice.choice(_NAMES)} {n},{n % 90 + 1}.50 EUR,{dice.choice(('', '1 EUR'))},"
              f"{n % 9}," + " ".join(dice.choice(_WORDS) for _ in range(24))
              + f',"{dice.choice(_WORDS)}, {dice.choice(_NAMES)}",2027-0{1 + n % 9}-11,{n % 70}'
              for n in range(rows)]
    sheet = read_sheet("\n".join(lines).encode())
    kinds = guessed_kinds(sheet, "en")
    table, _ = made_table(sheet, "Things", kinds, "en", IdSource(4),
                          guessed_meanings(sheet.names, kinds))
    site = set_words(long_page(8), "head0", (text(table.rows[0].cells[0]),))
    site = set_words(site, "head1", (text(table.rows[0].cells[4]),))
    site = make_master(add_table(site, table), PAGE, table.id)
    site = insert(site, GoodsBox(id="goods1"), "head0", "after")
    listed = RowList(id="alike1", table=table.id, most=4,
                     title=(Run("T", column=table.columns[0].id),))
    for one in ("related", "sale", "best"):
        site = insert(site, msgspec.structs.replace(listed, id=f"{one}1", choose=one), "head1",
                      "after")
    return site


def _with_options(site: Site) -> Site:
    """Return the site with sizes of some of its products, in a table that links to them."""
    dice, things = random.Random(2), site.tables[0]
    lines = ["Option,Thing,Size,Price,Stock"]
    lines += [f"O{n},{dice.choice(things.rows).cells[0]},{dice.choice('SML')},{n % 50 + 2}.00 EUR,"
              f"{n % 7}" for n in range(_OPTIONS)]
    sheet = read_sheet("\n".join(lines).encode())
    kinds = ("text", "link", "text", "money", "number")
    table, _ = made_table(sheet, "Options", kinds, "en", IdSource(9),
                          guessed_meanings(sheet.names, kinds), ("", things.id, "", "", ""))
    return add_table(site, table)


def _published(folder: Path) -> Iterator[Ratio]:
    site = _site(_TOWNS)
    Project.create(folder / "p", site).close()
    table = site.tables[0]
    count = iter(range(10_000))

    def afresh() -> None:
        publish_folder(set_cells(site, table.id, [
            (table.rows[0].id, table.columns[0].id, f"T {next(count)}")]), folder / "p",
            folder / "out")

    afresh()
    fresh = median_ms(afresh, 3)
    done = [path.read_bytes() for path in (folder / "out").rglob("*") if path.is_file()]

    def write() -> None:
        for number, data in enumerate(done):
            (folder / f"floor{number}").write_bytes(data)

    yield Ratio(f"{_TOWNS} pages of rows afresh (floor: written)", median_ms(write, 3), fresh, 10)
    send_pages(site, folder / "p", [page.id for page in expanded(site).pages])

    def one_row() -> None:
        changed = set_cells(site, table.id, [
            (table.rows[5].id, table.columns[0].id, f"Town {next(count)}")])
        stale = changed_pages(changed, folder / "p")
        assert len(stale) == 1, "one row, one page"
        send_pages(changed, folder / "p", stale)

    page = expanded(site).pages[5].id

    def floor() -> None:
        sum(path.stat().st_size for path in (folder / "p" / "live").rglob("*"))
        for words in Renderer(site, folder / "p").render([page]).pages.values():
            (folder / "floor").write_text(words)

    yield Ratio("one row changed (floor: a walk and that page)", median_ms(floor, 7),
                median_ms(one_row, 7), 2)


def _alike() -> None:
    site = _site(_TOWNS)
    pages = [page for page in expanded(site).pages if page.row.page]
    start = time.perf_counter()
    made = compared(pages)
    worst_pairs(made.likeness, 40)
    first = time.perf_counter() - start
    table = site.tables[0]
    taken = []
    for number in range(7):
        changed = set_cells(site, table.id, [
            (table.rows[9].id, table.columns[4].id, f"words that are new {number}")])
        start = time.perf_counter()
        now = [page for page in expanded(changed).pages if page.row.page]
        made = compared_again(made, now)
        own_words(now, 9)
        worst_pairs(made.likeness, 40)
        taken.append(time.perf_counter() - start)
        site = changed
    print(f"how alike {len(pages)} pages are: {first * 1000:.0f} ms; "
          f"after a keystroke {sorted(taken)[3] * 1000:.0f} ms (aim 2,000 and 100)")


def _window(folder: Path) -> None:
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    from PyQt6.QtCore import QEvent, QObject, Qt
    from PyQt6.QtTest import QTest

    from needle.app import make_app
    from needle.ui.session import Session
    from needle.ui.window import Window

    app = make_app()
    start = time.perf_counter()
    sheet = read_sheet(_csv(_PRODUCTS))
    read = time.perf_counter() - start
    site = _with_options(_shop(_PRODUCTS))
    things, options = site.tables
    project = Project.create(folder / "many", site)
    window = Window(Session(project), None)
    window.resize(1280, 800)
    window.show()
    QTest.qWait(3000)
    start = time.perf_counter()
    window.build.show_table(things.id)
    app.processEvents()
    shown = time.perf_counter() - start
    QTest.qWait(6000)

    class Watch(QObject):
        """Notes the longest time that passes without the window listening, and the most work that
        its thread does in one go: on a machine that others share the first is theirs too."""

        longest = most = 0.0
        last = worked = 0.0

        def taken(self) -> str:
            words = f"{self.longest * 1000:.0f} ms ({self.most * 1000:.0f} of the window's own)"
            self.longest = self.most = 0.0
            return words

        def eventFilter(  # noqa: N802 - the name is Qt's
                self, watched: QObject | None, event: QEvent | None) -> bool:
            if event is not None and event.type() == QEvent.Type.Timer:
                now, worked = time.perf_counter(), time.thread_time()
                if self.last:
                    self.longest = max(self.longest, now - self.last)
                    self.most = max(self.most, worked - self.worked)
                self.last, self.worked = now, worked
            return False

    watch, beat = Watch(), QObject()
    beat.startTimer(1)
    beat.installEventFilter(watch)
    assert window.build.tables is not None
    card = window.build.tables.card
    for row in range(0, 4000, 250):
        card.view.scrollTo(card.model.index(row, 0))
        QTest.qWait(20)
    scrolled = watch.taken()
    edited = []
    for table, column, words in ((things, 4, "other words {}"), (things, 1, "{}.50 EUR"),
                                 (things, 0, "Named {}"), (options, 3, "{}.00 EUR")):
        window.build.show_table(table.id)
        QTest.qWait(2000)
        watch.taken()
        for row in range(8):
            card.model.setData(card.model.index(row * 300, column), words.format(row + 3),
                               Qt.ItemDataRole.EditRole)
            QTest.qWait(500)
        edited.append(f"{table.columns[column].name} {watch.taken()}")
    window.build.show_table(things.id)
    start = time.perf_counter()
    card.line.setText("quarry")
    app.processEvents()
    found = time.perf_counter() - start
    print(f"{_PRODUCTS} rows ({len(sheet.rows)} read in {read * 1000:.0f} ms): shown after "
          f"{shown * 1000:.0f} ms; longest pause while scrolling {scrolled}, while "
          f"editing {', '.join(edited)}; {len(card.model.rows)} found in {found * 1000:.0f} ms")
    window.close()


def run() -> int:
    """Measure."""
    print(f"{'what':58} {'floor ms':>9} {'ours ms':>9} {'ratio':>6}  aim")
    with tempfile.TemporaryDirectory(ignore_cleanup_errors=True) as held:
        for row in _published(Path(held)):
            print(row, flush=True)
        _alike()
        _window(Path(held))
    return 0


if __name__ == "__main__":
    sys.exit(run())
