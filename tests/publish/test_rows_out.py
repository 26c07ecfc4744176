"""Pages of rows are sent like any other, and exactly those that show a change are stale."""

import os
import re
import tempfile
import unittest
from datetime import UTC, datetime
from pathlib import Path
from unittest import mock

import msgspec

from needle.core.edit.looks import set_look
from needle.core.edit.nodes import insert
from needle.core.edit.pages import duplicate_page
from needle.core.edit.shop import change_shop
from needle.core.kinds.cartlink import CartLink
from needle.core.kinds.formbox import FormBox
from needle.core.kinds.goods import GoodsBox
from needle.core.kinds.menu import Menu
from needle.core.kinds.rowlist import RowList
from needle.core.site.site import Site
from needle.core.tables.editing import add_rows, delete_rows, rename_column, set_cells
from needle.core.tables.expanding import expanded
from needle.core.tables.filling import row_page_id
from needle.core.tables.mastering import depart, make_master
from needle.core.values.form import Form, FormField, Role
from needle.core.values.words import Run, text
from needle.publish.beyond import beyond_of
from needle.publish.drift import drifted
from needle.publish.folder import publish_folder
from needle.publish.live import changed_pages, send_pages
from needle.publish.releases import Releases
from needle.publish.schedule import schedule_sending
from needle.publish.standing import read_standing
from needle.store.project import Project
from tests.shops import small_shop
from tests.sites import PAGE, THANKS
from tests.tabled import read_table, table_of, tabled_site


class RowsOutTest(unittest.TestCase):
    def setUp(self) -> None:
        base = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.enterContext(mock.patch.dict(os.environ, NEEDLE_CONFIG=str(base / "config")))
        self.folder, self.out = base / "hill", base / "out"
        self.site = make_master(tabled_site(), PAGE, table_of(tabled_site()).id)
        Project.create(self.folder, self.site).close()
        self.table = table_of(self.site)
        self.rows = [row.id for row in self.table.rows]
        self.pages = [row_page_id(PAGE, row) for row in self.rows]
        self.town, self.region, self.own = (one.id for one in self.table.columns)

    def send(self, site: Site) -> None:
        send_pages(site, self.folder, [page.id for page in expanded(site).pages])

    def stale(self, site: Site) -> list[str]:
        return changed_pages(site, self.folder)

    def test_a_folder_holds_a_page_for_each_row_and_the_map_names_them(self) -> None:
        publish_folder(self.site, self.folder, self.out)
        self.assertEqual(sorted(path.parent.name for path in self.out.rglob("index.html")),
                         ["night-fenwater", "night-harrowick", "night-ottermill", "thanks"])
        page = (self.out / "night-fenwater" / "index.html").read_text("utf-8")
        self.assertIn("<title>A night: Fenwater</title>", page)
        self.assertIn("A night above Fenwater", page)
        self.assertNotIn("data-column", page)

    def test_a_form_tells_whose_page_it_stood_on(self) -> None:
        form = Form(id="fo", name="Visit", submit="Ask", fields=(
            FormField("em", Role.EMAIL, "E-mail"),
            FormField("of", Role.HIDDEN, "Town", source=":row", default="no town")))
        site = msgspec.structs.replace(self.site, forms=(form,))
        for page in (PAGE, THANKS):
            top = site.page(page).variants[0].children[0]
            site = insert(site, FormBox(id=f"b{page}"[:12], form="fo"), top.children[0].id,
                          "after")
        publish_folder(site, self.folder, self.out)
        told = [re.findall(r'<input type="hidden" name="of" value="([^"]*)"',
                           (self.out / name / "index.html").read_text("utf-8"))
                for name in ("night-fenwater", "night-ottermill", "thanks")]
        self.assertEqual(told, [["Fenwater"], ["Ottermill"], ["no town"]])

    def test_exactly_the_pages_that_show_a_change_are_stale(self) -> None:
        self.send(self.site)
        self.assertEqual(self.stale(self.site), [])
        cell = set_cells(self.site, self.table.id, [(self.rows[2], self.own, "Other words.")])
        self.assertEqual(self.stale(cell), [self.pages[2]])
        unseen = set_cells(self.site, self.table.id, [(self.rows[2], self.region, "west")])
        self.assertEqual(self.stale(unseen), [], "the region is shown nowhere")
        self.assertEqual(self.stale(rename_column(self.site, self.table.id, self.own, "W")), [])
        self.assertEqual(self.stale(set_look(self.site, ["head1"], "size", 40, None)),
                         self.pages)
        own = depart(self.site, PAGE, self.rows[0], "head1", "words", (text("Own"),))
        self.assertEqual(self.stale(own), [self.pages[0]])
        more, (fresh,) = add_rows(self.site, self.table.id, [["Larkhollow"]])
        self.assertEqual(self.stale(more), [row_page_id(PAGE, fresh)])
        gone = delete_rows(self.site, self.table.id, [self.rows[0]])
        self.assertEqual(self.stale(gone), [])

    def test_a_changed_price_makes_stale_what_shows_it_and_no_more(self) -> None:
        words = ("Thing,Price,Group,Tags\nTorch,24 EUR,Lamps,red\nLamp,9 EUR,Lamps,\n"
                 "Chart,12 EUR,Paper,red\nMap,14 EUR,Paper,\n")
        site = read_table(msgspec.structs.replace(tabled_site(), tables=()), "Things", words, 3)
        things = table_of(site)
        torch, lamp, _, plan = (row_page_id(PAGE, row.id) for row in things.rows)
        name, price, group = (column.id for column in things.columns[:3])
        site = make_master(site, PAGE, things.id)
        site = insert(site, GoodsBox(id="goods1"), "head1", "after")
        listed = RowList(id="rows1", table=things.id, title=(Run("T", column=name),))
        site = insert(site, msgspec.structs.replace(listed, choose="related"), "text1", "after")
        site = insert(site, msgspec.structs.replace(listed, id="rows2", where=group,
                                                    value="Paper"), "thead", "after")
        self.send(site)
        dearer = set_cells(site, things.id, [(things.rows[2].id, price, "13 EUR")])
        # The chart's own page, those of what is like it, and the list of all that is paper.
        chart = row_page_id(PAGE, things.rows[2].id)
        self.assertEqual(set(self.stale(dearer)), {chart, torch, THANKS})
        other = set_cells(site, things.id, [(things.rows[1].id, price, "8 EUR")])
        self.assertEqual(self.stale(other), [lamp])
        self.assertNotIn(plan, self.stale(dearer))

    def test_what_is_sold_from_now_on_and_where_the_cart_is_make_pages_stale(self) -> None:
        site = small_shop()
        site = insert(site, CartLink(id="way1", words=text("Cart")), "head1", "before")
        self.site = site
        rows = [page.id for page in expanded(site).pages if page.row.row]
        self.send(change_shop(site, table=""))
        self.assertEqual(set(self.stale(site)), {*rows, THANKS})
        self.send(site)
        self.assertEqual(set(self.stale(change_shop(site, cart=""))), {*rows, THANKS})
        self.assertEqual(self.stale(change_shop(site, tax="7")), [THANKS])

    def test_another_name_is_another_address_and_the_old_one_leads_on(self) -> None:
        self.send(self.site)
        site = set_cells(self.site, self.table.id, [(self.rows[1], self.town, "Fen & Water")])
        send_pages(site, self.folder, [self.pages[1]])
        now = Releases(self.folder).current()
        assert now is not None
        self.assertEqual(now.live.page_at("night-fen-water"), now.live.page(self.pages[1]))
        moved = now.live.moved_from("night-fenwater")
        self.assertEqual(moved and moved.page, self.pages[1])

    def test_what_comes_out_is_as_it_was_sent(self) -> None:
        self.send(self.site)
        now = Releases(self.folder).current()
        assert now is not None
        self.assertEqual(drifted(self.site, self.folder, now, self.pages), set())

    def test_a_menu_names_them_as_one_and_leads_to_the_first(self) -> None:
        menu = Menu(id="menu1", pages=(PAGE, THANKS))
        site = insert(insert(self.site, menu, "head1", "before"), msgspec.structs.replace(
            menu, id="menu2"), "thead", "before")
        publish_folder(site, self.folder, self.out)
        thanks = (self.out / "thanks" / "index.html").read_text("utf-8")
        self.assertIn('<a href="../night-harrowick/">Night</a>', thanks)
        row = (self.out / "night-fenwater" / "index.html").read_text("utf-8")
        self.assertIn('<a href="../night-fenwater/" aria-current="page">Night</a>', row)
        self.send(site)
        more, (fresh,) = add_rows(site, self.table.id, [["Larkhollow"]])
        self.assertEqual(self.stale(more), [row_page_id(PAGE, fresh)])
        send_pages(site, self.folder, [self.pages[0]])
        beyond = beyond_of(self.folder, site)
        self.assertIn(PAGE, beyond.live)

    def test_for_later_and_on_the_desk(self) -> None:
        planned = schedule_sending(self.site, self.folder, self.pages[:2],
                                   datetime(2100, 1, 1, tzinfo=UTC))
        self.assertEqual(planned.names, ("Night: Harrowick", "Night: Fenwater"))
        self.send(self.site)
        standing = read_standing(self.folder)
        self.assertIn("ottermill", standing.words)
        self.assertEqual(standing.needs, [])

    def test_a_copy_of_the_master_makes_pages_of_its_own(self) -> None:
        site, copy = duplicate_page(self.site, PAGE)
        pages = expanded(site).pages
        self.assertEqual(len(pages), len({page.id for page in pages}))
        self.assertEqual(len({page.slug for page in pages}), 7)
        self.assertEqual(sum(page.row.page == copy for page in pages), 3)


if __name__ == "__main__":
    unittest.main()
