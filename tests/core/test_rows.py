"""Pages of rows: made of a master, the same as made plainly, with departures and undo."""

import random
import unittest
from datetime import UTC, datetime

import msgspec

from needle.core.edit.history import History
from needle.core.edit.looks import set_look
from needle.core.edit.media import add_medium, media_uses, unused_media
from needle.core.edit.nodes import delete, insert, set_words
from needle.core.edit.pages import duplicate_page, set_page, split_page
from needle.core.edit.place import EditError
from needle.core.edit.tracking import add_code, set_code
from needle.core.kinds.picture import Picture
from needle.core.leads.firing import once_a_master
from needle.core.measure.places import pages_at, places_of
from needle.core.render.context import Context
from needle.core.render.document import live_body
from needle.core.render.structured import structured_data
from needle.core.render.texts import read_lines, texts_of
from needle.core.site.site import Medium, Page, Site
from needle.core.snags.finding import find_snags
from needle.core.tables.choosing import rows_for
from needle.core.tables.editing import (
    add_rows,
    delete_rows,
    move_rows,
    put_table,
    rename_column,
    set_cells,
)
from needle.core.tables.expanding import expanded
from needle.core.tables.filling import filled_page, row_page_id, shown_page, unfilled
from needle.core.tables.mastering import (
    bind,
    depart,
    make_master,
    put_back,
    put_chip,
    set_conditions,
    set_facts,
    set_said,
    unmake_master,
)
from needle.core.values.about import About
from needle.core.values.tables import Condition, Fact, TableColumn, TableRow
from needle.core.values.words import Run, Text, plain, text
from needle.store.media import PublishedPictures
from tests.sites import PAGE, THANKS
from tests.tabled import table_of, tabled_site


def page_of(site: Site, page: str = PAGE) -> Page:
    found = site.page(page)
    assert found is not None
    return found


def body_of(site: Site, page: Page) -> str:
    return str(live_body(Context(site, page, page.variants[0], "live", PublishedPictures(""))))


def words_on(page: Page) -> str:
    return "\n".join(plain(line) for node in page.variants[0].nodes()
                     for path in texts_of(node) for line in read_lines(node, path))


class RowCase(unittest.TestCase):
    def setUp(self) -> None:
        self.site = make_master(tabled_site(), PAGE, table_of(tabled_site()).id)
        self.table = table_of(self.site)
        self.rows = self.table.rows
        self.town, self.region, self.own = (one.id for one in self.table.columns)

    def of(self, row: int, site: Site | None = None) -> Page:
        site = site or self.site
        return page_of(expanded(site), row_page_id(PAGE, self.rows[row].id))


class MasterTest(RowCase):
    def test_what_the_page_says_of_one_row_is_said_of_each(self) -> None:
        self.assertIn("A night above Fenwater", words_on(self.of(1)))
        self.assertIn("Come to Ottermill.", words_on(self.of(2)))
        self.assertIn("The old school field has a hedge", words_on(self.of(2)))
        self.assertIn("the sea is loud", words_on(self.of(1)), "no own words: those of the page")
        self.assertEqual(
            [(page.name, page.slug, page.title) for page in expanded(self.site).pages],
            [("Night: Harrowick", "night-harrowick", "A night: Harrowick"),
             ("Night: Fenwater", "night-fenwater", "A night: Fenwater"),
             ("Night: Ottermill", "night-ottermill", "A night: Ottermill"),
             ("Thanks", "thanks", "Thanks")])

    def test_a_part_of_a_longer_word_is_none_of_the_rows(self) -> None:
        site = set_words(tabled_site(), "head2", (text("Harrowickers and Harrowick's own"),))
        site = make_master(site, PAGE, table_of(site).id)
        runs = next(read_lines(node, "words")[0] for node in page_of(site).variants[0].nodes()
                    if node.id == "head2")
        self.assertEqual([(run.words, bool(run.column)) for run in runs],
                         [("Harrowickers and ", False), ("Harrowick", True), ("'s own", False)])

    def test_once_only_and_of_rows_that_are_there(self) -> None:
        with self.assertRaisesRegex(EditError, "already"):
            make_master(self.site, PAGE, self.table.id)
        empty = delete_rows(tabled_site(), self.table.id, [row.id for row in self.rows])
        with self.assertRaisesRegex(EditError, "no rows"):
            make_master(empty, PAGE, self.table.id)

    def test_back_to_an_ordinary_page_nothing_is_marked(self) -> None:
        site = unmake_master(self.site, PAGE)
        self.assertIs(expanded(site), site)
        self.assertEqual(words_on(page_of(site)), words_on(page_of(tabled_site())))
        self.assertNotIn('"column":"', msgspec.json.encode(page_of(site)).decode())

    def test_addresses_are_each_rows_own(self) -> None:
        with self.assertRaisesRegex(EditError, "address of its own"):
            set_said(self.site, PAGE, "slug", (Run("night"),))
        site = set_said(self.site, PAGE, "slug", (Run("x", column=self.region),))
        self.assertEqual([page.slug for page in expanded(site).pages],
                         ["north", "north-2", "south", "thanks"])
        site = set_cells(site, self.table.id, [(self.rows[0].id, self.region, "Thanks"),
                                               (self.rows[1].id, self.region, "Öst & süd")])
        self.assertEqual([page.slug for page in expanded(site).pages],
                         ["thanks-2", "ost-sud", "south", "thanks"])

    def test_conditions(self) -> None:
        for test, value, rows in (("is", "NORTH", [0, 1]), ("isnt", "north", [2]),
                                  ("has", "out", [2]), ("filled", "", [0, 1, 2]),
                                  ("empty", "", []), ("more", "north", [2])):
            site = set_conditions(self.site, PAGE, [
                Condition(column=self.region, test=test, value=value)])
            with self.subTest(test):
                self.assertEqual([row.id for row in rows_for(site, page_of(site))],
                                 [self.rows[n].id for n in rows])
        site = set_conditions(self.site, PAGE, [Condition(column="gone", test="filled")])
        self.assertEqual(rows_for(site, page_of(site)), ())

    def test_pictures_alt_texts_and_what_a_row_lacks(self) -> None:
        site = add_medium(self.site, Medium(id="m1", name="Hill", file="hill.png", width=4,
                                            height=3, alt="A hill"))
        site = insert(site, Picture(id="pic", medium="m1"), "text1", "after")
        site = add_medium(site, Medium(id="m2", name="Fenwater", file="fen.png", width=4,
                                       height=3, alt="A fen"))
        site = bind(bind(site, PAGE, "pic", "medium", self.town), PAGE, "pic", "alt", self.own)
        shown = [next(node for node in self.of(n, site).variants[0].nodes() if node.id == "pic")
                 for n in range(3)]
        self.assertEqual([(one.medium, one.alt[:8]) for one in shown  # type: ignore[attr-defined]
                          ], [("m1", "From the"), ("m2", ""), ("m1", "The old ")])
        self.assertEqual(page_of(bind(site, PAGE, "pic", "alt", "")).master.apart,
                         page_of(bind(self.site, PAGE, "pic", "medium", self.town)).master.apart)


class PlacesTest(unittest.TestCase):
    """What results are looked at of together."""

    def test_pages_tables_and_rows(self) -> None:
        site = tabled_site()
        for page in (PAGE, THANKS):
            site = make_master(site, page, site.tables[0].id)
        whole = expanded(site)
        places = places_of(whole)
        self.assertEqual([(place.name, len(place.pages)) for place in places],
                         [("Night", 3), ("Thanks", 3), ("Harrowick", 2), ("Fenwater", 2),
                          ("Ottermill", 2)])
        here = pages_at(whole, places[3].key)
        self.assertEqual({page.row.label for page in whole.pages if page.id in here},
                         {"Fenwater"})
        self.assertEqual(len({place.key for place in places}), 5)
        self.assertEqual(pages_at(whole, "row:gone/gone"), ())


class FactTest(unittest.TestCase):
    def test_searches_are_told_of_each_rows_day_place_and_price(self) -> None:
        site = tabled_site("Town,On,Price,Spot\nA town,2.8.2027,£12,The green\nB town,,,\n")
        table = table_of(site)
        site = make_master(site, PAGE, table.id)
        site = set_page(site, PAGE, about=About(kind="event", place="Hill", starts="2027-01-01"))
        town, day, price, spot = (one.id for one in table.columns)
        site = set_facts(site, PAGE, [Fact(field="starts", column=day),
                                      Fact(field="price", column=price),
                                      Fact(field="place", column=spot)])
        one, other = (page.about for page in expanded(site).pages[:2])
        self.assertEqual((one.starts, one.price, one.currency, one.place),
                         ("2027-08-02", "12.00", "GBP", "The green"))
        self.assertEqual((other.starts, other.price, other.place), ("2027-01-01", "", "Hill"))
        page = expanded(site).pages[0]
        told = str(structured_data(Context(site, page, page.variants[0], "live",
                                           PublishedPictures(""))))
        self.assertIn('"startDate":"2027-08-02"', told)
        odd = set_facts(site, PAGE, [Fact(field="starts", column=town)])
        self.assertEqual(expanded(odd).pages[0].about.starts, "2027-01-01", "a town is no day")

    def test_a_row_tells_of_its_place_of_business_what_fits(self) -> None:
        site = tabled_site("Town,Phone,Open,Street\n"
                           "A town,01632 960120,Mo-Fr 09:00-17:00,Moor Lane 1\n"
                           "B town,ask at the bar,when the sky is clear,Fen Row 2\n")
        table = table_of(site)
        site = set_page(make_master(site, PAGE, table.id), PAGE, about=About(kind="business"))
        _, phone, hours, street = (one.id for one in table.columns)
        site = set_facts(site, PAGE, [
            Fact(field="phone", column=phone), Fact(field="hours", column=hours),
            Fact(field="street", column=street)])
        one, other = (page.about for page in expanded(site).pages[:2])
        self.assertEqual((one.phone, one.hours, one.street),
                         ("01632 960120", "Mo-Fr 09:00-17:00", "Moor Lane 1"))
        self.assertEqual((other.phone, other.hours, other.street), ("", "", "Fen Row 2"))


class DepartureTest(RowCase):
    def test_a_page_departs_in_one_place_and_follows_in_all_others(self) -> None:
        row = self.rows[1].id
        site = depart(self.site, PAGE, row, "head1", "words", (text("Fog over the fen"),))
        site = depart(site, PAGE, row, "list1")
        self.assertIn("Fog over the fen", words_on(self.of(1, site)))
        self.assertNotIn("<li>", body_of(site, self.of(1, site)))
        self.assertIn("A night above Harrowick", words_on(self.of(0, site)))
        site = set_words(site, "head2", (text("Now more"),))
        self.assertIn("Now more", words_on(self.of(1, site)))
        site = put_back(site, PAGE, row, "head1")
        self.assertIn("A night above Fenwater", words_on(self.of(1, site)))
        self.assertEqual(page_of(put_back(site, PAGE, row)).master.departures, ())
        self.assertIs(put_back(self.site, PAGE, row), self.site)

    def test_a_part_that_is_gone_departs_nowhere(self) -> None:
        site = depart(self.site, PAGE, self.rows[0].id, "head1", "words", (text("Own"),))
        site = delete(site, "head1")
        self.assertNotIn("Own", words_on(self.of(0, site)))


class CopyTest(RowCase):
    def setUp(self) -> None:
        super().setUp()
        site = add_medium(self.site, Medium(id="m2", name="Fenwater", file="fen.png", width=4,
                                            height=3))
        site = insert(site, Picture(id="pic"), "text1", "after")
        site = bind(site, PAGE, "pic", "medium", self.town)
        self.site = depart(site, PAGE, self.rows[1].id, "head1", "words", (text("Own"),))

    def of_row(self, site: Site, page: str, variant: int) -> tuple[str, str]:
        made = page_of(expanded(site), row_page_id(page, self.rows[1].id))
        nodes = list(made.variants[variant].nodes())
        picture = next(node for node in nodes if isinstance(node, Picture))
        head = next(node for node in nodes if getattr(node, "rank", 0) == 1)
        return picture.medium, plain(head.words)  # type: ignore[attr-defined]

    def test_a_copy_of_the_page_follows_and_departs_as_the_page_does(self) -> None:
        site, copy = duplicate_page(self.site, PAGE)
        self.assertEqual(self.of_row(site, copy, 0), ("m2", "Own"))
        self.assertEqual(self.of_row(site, PAGE, 0), ("m2", "Own"))
        ids = {node.id for node in page_of(site, copy).variants[0].nodes()}
        self.assertTrue({one.node for one in page_of(site, copy).master.apart} <= ids)

    def test_a_variant_of_a_split_test_does_so_too(self) -> None:
        site = split_page(self.site, PAGE, datetime(2026, 1, 1, tzinfo=UTC))
        self.assertEqual([self.of_row(site, PAGE, n) for n in (0, 1)], [("m2", "Own")] * 2)


class SharingTest(RowCase):
    def test_a_page_that_comes_out_as_before_is_the_same_object(self) -> None:
        before = expanded(self.site).pages
        site = set_cells(self.site, self.table.id, [(self.rows[1].id, self.own, "Other.")])
        after = expanded(site).pages
        self.assertEqual([one is other for one, other in zip(before, after, strict=True)],
                         [True, False, True, True])
        site = set_look(self.site, ["head2"], "size", 31, None)
        after = expanded(site).pages
        self.assertEqual([one is other for one, other in zip(before, after, strict=True)],
                         [False, False, False, True])
        self.assertIs(before[0].variants[0].children[1], self.of(0).variants[0].children[1])
        self.assertIs(expanded(expanded(self.site)).pages[0], before[0])

    def test_what_is_shown_for_editing_keeps_its_ids(self) -> None:
        page = page_of(self.site)
        shown = shown_page(self.site, page, self.rows[2])
        self.assertEqual((shown.id, shown.name), (PAGE, "Night"))
        self.assertEqual([node.id for node in shown.variants[0].nodes()],
                         [node.id for node in page.variants[0].nodes()])
        self.assertIs(shown_page(self.site, page, self.rows[2]), shown)
        self.assertIs(shown_page(self.site, page, None), page)

    def test_words_typed_on_a_rows_page_are_the_pages(self) -> None:
        kept = read_lines(next(node for node in page_of(self.site).variants[0].nodes()
                               if node.id == "head1"), "words")
        typed: tuple[Text, ...] = ((Run("Two nights above "),
                                    Run("Ottermill", column=self.town), Run("!")),)
        back = unfilled(typed, kept)
        self.assertEqual([run.words for run in back[0]], ["Two nights above ", "Harrowick", "!"])
        self.assertEqual(unfilled((text("No town"),), kept), (text("No town"),))

    def test_a_chip_is_put_on_words_and_taken_off(self) -> None:
        site = put_chip(self.site, "list1", "words", 0, 3, self.region, "capitals")
        self.assertIn("NORTH", words_on(self.of(0, site)))
        site = put_chip(site, "list1", "words", 0, 3, "")
        self.assertEqual(words_on(self.of(0, site)), words_on(self.of(0)))


class SnagTest(RowCase):
    def found(self, site: Site) -> list[tuple[str, str]]:
        return [(snag.rule, snag.words) for snag in find_snags(site)
                if snag.rule.startswith("rows-")]

    def test_pages_that_are_too_alike_are_named_until_they_are_not(self) -> None:
        self.assertEqual(self.found(tabled_site()), [])
        common = " ".join(f"word{n}" for n in range(90))
        site = set_words(self.site, "list1", (text(common),))
        (found,) = self.found(site)
        self.assertEqual(found[0], "rows-alike")
        self.assertRegex(found[1], r"^[89]\d % alike: Harrowick and Fenwater$")
        site = set_cells(site, self.table.id, [(self.rows[1].id, self.own, " ".join(
            f"heron{n}" for n in range(60)))])
        self.assertEqual(self.found(site), [])

    def test_addresses_that_clash_and_rows_without_a_name(self) -> None:
        site = set_said(self.site, PAGE, "slug", (Run("x", column=self.region),))
        self.assertIn(("rows-address", "2 pages want the address /north; all but one get a number"),
                      self.found(site))
        site = set_cells(self.site, self.table.id, [(self.rows[1].id, self.town, "")])
        self.assertIn(("rows-address", "1 row without a name to be told by"), self.found(site))

    def test_pictures_that_rows_name_are_used(self) -> None:
        site = add_medium(self.site, Medium(id="m1", name="Fenwater", file="fen.png", width=4,
                                            height=3))
        self.assertEqual(unused_media(site), ["m1"])
        site = insert(site, Picture(id="pic"), "text1", "after")
        self.assertEqual(media_uses(bind(site, PAGE, "pic", "medium", self.town))["m1"],
                         ["Table Towns"])
        column = TableColumn(id="shots", name="Shots", kind="pictures")
        rows = tuple(TableRow(row.id, (*row.cells, "dome; FEN.png" if n else ""))
                     for n, row in enumerate(self.rows))
        site = put_table(site, msgspec.structs.replace(
            self.table, columns=(*self.table.columns, column), rows=rows))
        self.assertEqual(media_uses(site)["m1"], ["Table Towns"])
        self.assertEqual(unused_media(site), [])

    def test_a_code_of_the_page_reaches_the_pages_of_its_rows(self) -> None:
        site, code = add_code(self.site)
        site = set_code(site, code, reach=PAGE, on=True, html="<i></i>")
        self.assertEqual([[one.id for one in site.tracking_on(page)]
                          for page in expanded(site).pages], [[code]] * 3 + [[]])
        # On all of them the same codes run: a trial visit opens the first.
        self.assertEqual([page.name for page in once_a_master(expanded(site).pages)],
                         ["Night: Harrowick", "Thanks"])

    def test_pictures_that_the_site_has_not(self) -> None:
        site = insert(self.site, Picture(id="pic", medium="m1"), "text1", "after")
        site = add_medium(site, Medium(id="m1", name="Fenwater", file="hill.png", width=4,
                                       height=3))
        site = bind(site, PAGE, "pic", "medium", self.town)
        self.assertIn(("rows-picture", "No such picture in the site: Harrowick, Ottermill"),
                      self.found(site))

    def test_no_row_and_no_table(self) -> None:
        none = delete_rows(self.site, self.table.id, [row.id for row in self.rows])
        self.assertEqual(self.found(none), [("rows-none", "No row of its table has a page")])
        gone = msgspec.structs.replace(self.site, tables=())
        self.assertEqual(self.found(gone),
                         [("rows-none", "The table that it makes pages of is gone")])


class RandomTest(RowCase):
    """Thousands of steps: undo gives back the very value, and pages equal a plain expansion."""

    def plainly(self, site: Site, row: TableRow) -> str:
        """Return the words of a row's page, made anew without sharing or remembering anything."""
        page = msgspec.json.decode(msgspec.json.encode(page_of(site)), type=Page)
        table = table_of(site)
        own = {(one.node, one.path): one.words for one in page.master.departures
               if one.row == row.id}
        lines = []
        for node in page.variants[0].nodes():
            for path in texts_of(node):
                for line in own.get((node.id, path), read_lines(node, path)):
                    lines.append("".join(
                        (table.cell(row, run.column) or run.words) if run.column else run.words
                        for run in line))
        return "\n".join(lines)

    def step(self, dice: random.Random, site: Site) -> Site:
        table = table_of(site)
        row = dice.choice(table.rows).id if table.rows else ""
        node = dice.choice(("head1", "head2", "text1", "list1"))
        lines = (text(dice.choice(("One", "Two words", "Three of them"))),)
        match dice.randrange(8 if row else 1):
            case 0:
                return add_rows(site, table.id, [[f"Town {dice.randrange(99)}", "north"]],
                                dice.randrange(len(table.rows) + 1))[0]
            case 1:
                return delete_rows(site, table.id, [row])
            case 2:
                return set_cells(site, table.id, [(row, dice.choice((self.town, self.own)),
                                                   dice.choice(("", "A", "B c")))])
            case 3:
                return depart(site, PAGE, row, node, "words", lines)
            case 4:
                return put_back(site, PAGE, row, dice.choice((node, "")))
            case 5:
                return set_words(site, node, lines)
            case 6:
                return put_chip(site, node, "words", 0, dice.randrange(1, 4),
                                dice.choice((self.town, self.region, "")))
        return move_rows(site, table.id, [row], dice.choice((-1, 1))) if dice.random() < 0.5 \
            else rename_column(site, table.id, self.own, f"Own {dice.randrange(9)}")

    def test_random_steps(self) -> None:
        for seed in range(6):
            dice = random.Random(seed)
            history = History(self.site)
            kept = [history.site]
            for _ in range(120):
                site = self.step(dice, history.site)
                if site is not history.site:
                    history = history.edited(site, "step", "", "")
                    kept.append(site)
                for row in rows_for(site, page_of(site)):
                    self.assertEqual(words_on(filled_page(site, page_of(site), row)),
                                     self.plainly(site, row))
            ids = [page.id for page in expanded(history.site).pages]
            self.assertEqual(len(ids), len(set(ids)))
            for before in reversed(kept[:-1]):
                history = history.undone()
                self.assertIs(history.site, before)


if __name__ == "__main__":
    unittest.main()
