"""Tables: what cells take, files as spreadsheets write them, and edits."""

import unittest

import msgspec

from needle.core.edit.place import EditError
from needle.core.site.site import Site
from needle.core.tables.cells import CellError, plural_categories, shown, sort_key, taken
from needle.core.tables.csvfile import SheetError, copied, pasted, read_sheet, written
from needle.core.tables.editing import (
    add_column,
    add_rows,
    add_table,
    change_kind,
    delete_column,
    delete_rows,
    delete_table,
    move_rows,
    rename_column,
    rename_table,
    set_cells,
)
from needle.core.tables.mastering import depart, make_master, set_conditions, set_said
from needle.core.tables.taking import ID_COLUMN, as_csv, guessed_kinds, made_table, taken_again
from needle.core.values.ids import IdSource
from needle.core.values.tables import MOST_COLUMNS, Condition, Table, TableColumn
from needle.core.values.words import Run
from tests.sites import PAGE, small_site
from tests.tabled import TOWNS, table_of, tabled_site


def column(kind: str, *choices: str) -> TableColumn:
    return TableColumn(id="c", name="C", kind=kind, choices=choices)


class CellTest(unittest.TestCase):
    def test_each_kind_takes_what_people_write(self) -> None:
        for kind, language, words, cell in (
                ("number", "en", "1,299.50", "1299.5"), ("number", "de", "1.299,50", "1299.5"),
                ("number", "de", "1.299", "1299"), ("number", "en", "1.299", "1.299"),
                ("number", "fr", "1 299,5", "1299.5"), ("number", "de-CH", "1'299.50", "1299.5"),
                ("number", "en", "-0.5", "-0.5"), ("number", "en", "007", "7"),
                ("money", "de", "1.299,00 €", "1299.00 EUR"), ("money", "en", "£12", "12.00 GBP"),
                ("money", "en", "USD 5.5", "5.50 USD"), ("money", "de", "12,-", "12.00"),
                ("date", "en", "2027-8-2", "2027-08-02"), ("date", "de", "2.8.2027", "2027-08-02"),
                ("date", "en-US", "8/2/2027", "2027-08-02"), ("date", "en", "2/8/27", "2027-08-02"),
                ("date", "en", "2nd of August 2027", "2027-08-02"),
                ("date", "de", "2. August 2027", "2027-08-02"),
                ("date", "fr", "2 août 2027", "2027-08-02"),
                ("date", "en", "Monday, Aug 2, 2027", "2027-08-02"),
                ("yes", "de", "Ja", "yes"), ("yes", "en", "0", ""),
                ("tags", "en", "b; a,b", "b, a"),
                ("address", "en", "www.x.example", "https://www.x.example"),
                ("address", "en", "mailto:a@x.example", "mailto:a@x.example"),
                ("picture", "en", r"C:\shots\hill.jpg", "hill.jpg"),
                ("text", "en", "  a\tb\x00 ", "a b"), ("long", "en", "a\r\n b", "a\nb")):
            with self.subTest(kind=kind, words=words):
                found = taken(column(kind), words, language)
                self.assertEqual(found, cell)
                self.assertEqual(taken(column(kind), found, "en"), cell, "taken again it stays")

    def test_what_does_not_fit_is_said(self) -> None:
        for kind, words in (("number", "1.2.3,4"), ("number", "many"), ("number", "1,2,3"),
                            ("money", "12 or so"), ("date", "12 August"), ("date", "31.2.2027"),
                            ("date", "tomorrow"), ("yes", "perhaps"), ("choice", "green"),
                            ("address", "javascript:alert(1)"), ("address", "two words"),
                            ("text", "x" * 20_001)):
            with self.subTest(kind=kind, words=words[:20]), self.assertRaises(CellError):
                taken(column(kind, "red", "blue"), words, "en")
        self.assertEqual(taken(column("choice", "red"), "RED", "en"), "red")

    def test_how_it_is_written_out(self) -> None:
        for kind, cell, shape, language, words in (
                ("date", "2027-08-02", "", "en", "2 August 2027"),
                ("date", "2027-08-02", "day", "de", "2. August"),
                ("money", "1299.00 EUR", "", "de", "1.299 €"),
                ("money", "12.50 GBP", "", "en", "£12.50"),
                ("money", "12.50 GBP", "round", "en", "£12"),
                ("money", "12.50", "", "en", "12.50"), ("number", "1299.5", "", "de", "1.299,5"),
                ("text", "hill", "capitals", "en", "HILL"), ("text", "hill", "first", "en", "Hill"),
                ("text", "", "capitals", "en", ""), ("yes", "yes", "", "xx", "yes")):
            with self.subTest(cell=cell, shape=shape):
                said = shown(column(kind), cell, shape, language)
                self.assertEqual(said.replace("\xa0", " ").replace("\u202f", " "), words)

    def test_a_number_is_written_with_what_it_counts(self) -> None:
        seats = msgspec.structs.replace(column("number"), counts=("seat", "seats"))
        for cell, words in (("1", "1 seat"), ("0", "0 seats"), ("1200", "1,200 seats"),
                            ("", ""), ("many", "many")):
            self.assertEqual(shown(seats, cell, "counted", "en"), words)
        self.assertEqual(shown(column("number"), "3", "counted", "en"), "3")
        self.assertEqual(plural_categories("pl"), ("one", "few", "many", "other"))
        places = msgspec.structs.replace(seats, counts=("miejsce", "miejsca", "miejsc"))
        self.assertEqual([shown(places, cell, "counted", "pl") for cell in ("1", "3", "5", "22")],
                         ["1 miejsce", "3 miejsca", "5 miejsc", "22 miejsca"])

    def test_cells_of_a_project_from_elsewhere_may_hold_anything(self) -> None:
        for cell in ("x", "NaN", "Infinity EUR", "1e999999", "2027-13-45", "12 QQQ", "-",
                     "\u202e1"):
            for kind in ("number", "money", "date", "yes", "tags", "address"):
                with self.subTest(cell=cell, kind=kind):
                    self.assertLess(len(shown(column(kind), cell, "round", "en")), 40)
                    self.assertEqual(len(sort_key(column(kind), cell)), 3)

    def test_numbers_are_put_in_order_as_numbers_and_empty_ones_last(self) -> None:
        prices = ["9.00 EUR", "", "100.00 EUR", "20.00 EUR"]
        self.assertEqual(sorted(prices, key=lambda cell: sort_key(column("money"), cell)),
                         ["9.00 EUR", "20.00 EUR", "100.00 EUR", ""])
        self.assertEqual(sorted(["Öl", "Pa", "Om"], key=lambda c: sort_key(column("text"), c)),
                         ["Öl", "Om", "Pa"])


class FileTest(unittest.TestCase):
    def test_any_encoding_and_separator(self) -> None:
        for data in ("Town;Über\r\nHöhe;\"a;b\"\"c\"\r\n".encode("utf-8-sig"),
                     "Town\tÜber\nHöhe\ta;b\"c\n".encode("utf-16"),
                     "Town,Über\rHöhe,\"a;b\"\"c\"\r".encode("cp1252"),
                     "Town|Über\nHöhe|\"a;b\"\"c\"".encode()):
            with self.subTest(data=data[:12]):
                sheet = read_sheet(data)
                self.assertEqual((sheet.names, sheet.rows),
                                 (("Town", "Über"), (("Höhe", 'a;b"c'),)))

    def test_lines_within_cells_and_where_a_row_begins(self) -> None:
        sheet = read_sheet(b'A,B\n"one\ntwo",x\n\n,,\nlast,y\n')
        self.assertEqual((sheet.rows, sheet.lines),
                         ((("one\ntwo", "x"), ("last", "y")), (2, 6)))

    def test_names_are_made_good_and_it_is_said(self) -> None:
        sheet = read_sheet(b"Town,,town\na,b,c,d\n")
        self.assertEqual(sheet.names, ("Town", "Column 2", "town 2", "Column 4"))
        self.assertIn("two columns are called “town”", sheet.notes)

    def test_what_is_no_table_is_refused_in_words(self) -> None:
        wide = ",".join(map(str, range(MOST_COLUMNS + 1))).encode()
        for data, words in ((b"", "no line"), (b"\0PNG\r\n", "bytes"), (b"a\n" * 50_002, "rows"),
                            (wide, "columns"), (b'a,b\n"' + b"x" * 90_000, "Line")):
            with self.subTest(words), self.assertRaisesRegex(SheetError, words):
                read_sheet(data)

    def test_formulas_go_out_as_words_and_come_back(self) -> None:
        rows = [["=1+1", "-5", "+49 30"], ["'=x", "@a", "plain"], ["''+1", "it's", "-"]]
        data = written(["A", "B", "C"], rows)
        self.assertIn(b"'=1+1,-5,'+49 30", data)
        self.assertEqual([list(row) for row in read_sheet(data).rows], rows)


class TakingTest(unittest.TestCase):
    def made(self, words: str, language: str = "en") -> Table:
        sheet = read_sheet(words.encode())
        table, self.report = made_table(sheet, "T", guessed_kinds(sheet, language), language,
                                        IdSource(1))
        return table

    def test_kinds_are_guessed_from_all_cells(self) -> None:
        long = "w " * 60
        table = self.made("N,P,D,Y,L,I,Tags,A\n"
                          f'Ann,£12,1.2.2027,yes,"{long}",a.jpg,"a, b",www.a.example\n'
                          "Bob,£3,2.2.2027,no,,b.png,c,b.example\n")
        self.assertEqual([one.kind for one in table.columns],
                         ["text", "money", "date", "yes", "long", "picture", "tags", "address"])
        self.assertEqual(self.report.words(), "2 rows new")

    def test_cells_that_do_not_fit_are_named_and_nothing_is_taken(self) -> None:
        sheet = read_sheet(b"A,B\nx,1\ny,two\nz,3\n")
        with self.assertRaisesRegex(SheetError, "line 3, B: “two” is no number"):
            made_table(sheet, "T", ("text", "number"), "en", IdSource(1))

    def test_a_file_that_somebody_changed_is_read_back(self) -> None:
        table = self.made(TOWNS)
        text = as_csv(table).decode("utf-8-sig").splitlines()
        self.assertTrue(text[0].endswith(ID_COLUMN))
        text[0] = text[0].replace("Region", "Area")
        text[1] = text[1].replace("Harrowick", "Harrowick Bay")
        del text[2]
        text.append("New Town,north,,")
        again, report = taken_again(table, read_sheet("\n".join(text).encode()), "en",
                                    IdSource(2))
        self.assertEqual((report.changed, report.removed, report.added),
                         (("Harrowick Bay", "Ottermill"), ("Fenwater",), ("New Town",)))
        self.assertEqual([one.id for one in again.columns[:3]],
                         [one.id for one in table.columns[:3]])
        self.assertEqual(again.rows[0].id, table.rows[0].id)
        self.assertEqual(again.cell(again.rows[0], table.columns[1].id), "north",
                         "a column that the file lacks stays")
        self.assertTrue(any("no column “Region”" in note for note in report.notes))
        same, report = taken_again(table, read_sheet(as_csv(table)), "en", IdSource(3))
        self.assertEqual((same, report.words()), (table, "nothing changed"))

    def test_without_ids_rows_are_known_by_their_first_cell(self) -> None:
        table = self.made("Town,P\nA,1\nA,2\nB,3\n")
        again, report = taken_again(table, read_sheet(b"Town,P\nB,30\na,1\nA,2\nC,4\n"), "en",
                                    IdSource(2))
        self.assertEqual([row.id for row in again.rows[:3]],
                         [table.rows[2].id, table.rows[0].id, table.rows[1].id])
        self.assertEqual((report.added, report.removed), (("C",), ()))


class EditingTest(unittest.TestCase):
    def setUp(self) -> None:
        self.site = tabled_site()
        self.table = table_of(self.site)
        self.town, self.region, self.own = (one.id for one in self.table.columns)

    def now(self, site: Site) -> Table:
        return table_of(site)

    def test_cells_are_taken_all_or_none(self) -> None:
        row = self.table.rows[1].id
        site = set_cells(self.site, self.table.id, [(row, self.town, " Fen  water "),
                                                    (row, self.own, "x")])
        self.assertEqual(self.now(site).rows[1].cells, ("Fen water", "north", "x"))
        self.assertIs(self.now(site).rows[0], self.table.rows[0])
        self.assertIs(set_cells(site, self.table.id, [(row, self.own, "x ")]), site)
        site = change_kind(self.site, self.table.id, self.region, "choice")
        with self.assertRaisesRegex(EditError, "Fenwater, Own: A cell takes at most"):
            set_cells(site, self.table.id, [(row, self.town, "Fenwater"),
                                            (row, self.own, "x" * 30_000)])
        with self.assertRaisesRegex(EditError, "row is no longer"):
            set_cells(site, self.table.id, [("gone", self.town, "x")])

    def test_rows_come_go_and_move(self) -> None:
        site, (fresh,) = add_rows(self.site, self.table.id, [["Hill"]], 1)
        self.assertEqual(self.now(site).rows[1].cells, ("Hill", "", ""))
        site = move_rows(site, self.table.id, [fresh], 2)
        self.assertEqual(self.now(site).rows[3].id, fresh)
        self.assertEqual(len(self.now(move_rows(site, self.table.id, [fresh], -99)).rows), 4)
        site = delete_rows(site, self.table.id, [fresh])
        self.assertEqual(self.now(site).rows, self.table.rows)

    def test_columns_keep_their_ids_when_they_change(self) -> None:
        site = rename_column(self.site, self.table.id, self.own, "Words")
        with self.assertRaisesRegex(EditError, "already"):
            rename_column(site, self.table.id, self.own, "TOWN")
        with self.assertRaisesRegex(EditError, "Harrowick, Town: “Harrowick” is no number"):
            change_kind(site, self.table.id, self.town, "number")
        site, added = add_column(site, self.table.id, "Price", "money")
        self.assertEqual([len(row.cells) for row in self.now(site).rows], [4, 4, 4])
        site = delete_column(site, self.table.id, added)
        self.assertEqual(self.now(site).rows, self.table.rows)

    def test_what_is_used_does_not_go_without_a_word(self) -> None:
        site = make_master(self.site, PAGE, self.table.id)
        with self.assertRaisesRegex(EditError, "“Night” makes its pages"):
            delete_table(site, self.table.id)
        with self.assertRaisesRegex(EditError, "in the address"):
            delete_column(site, self.table.id, self.town)
        site = set_conditions(site, PAGE, [Condition(column=self.region)])
        with self.assertRaisesRegex(EditError, "condition"):
            delete_column(site, self.table.id, self.region)
        site = set_said(site, PAGE, "description", (Run("A "), Run("x", column=self.own)))
        site = delete_column(site, self.table.id, self.own)
        page = site.page(PAGE)
        assert page is not None
        self.assertEqual(page.master.description, (Run("A x"),), "the words stay")
        self.assertEqual(delete_table(small_site_with(self.table), self.table.id).tables, ())

    def test_a_row_that_goes_takes_what_was_its_own_along(self) -> None:
        site = make_master(self.site, PAGE, self.table.id)
        for row in self.table.rows[:2]:
            site = depart(site, PAGE, row.id, "head1")
        site = delete_rows(site, self.table.id, [self.table.rows[0].id])
        page = site.page(PAGE)
        assert page is not None
        self.assertEqual([one.row for one in page.master.departures], [self.table.rows[1].id])

    def test_names_of_tables(self) -> None:
        site = add_table(self.site, msgspec.structs.replace(self.table, id="other"))
        self.assertEqual(site.tables[1].name, "Towns 2")
        for name, words in (("towns", "already"), (" ", "needs a name")):
            with self.assertRaisesRegex(EditError, words):
                rename_table(site, "other", name)
        self.assertEqual(rename_table(site, "other", " B\n ").tables[1].name, "B")


def small_site_with(table: Table) -> Site:
    return msgspec.structs.replace(small_site(), tables=(table,))


class ClipboardTest(unittest.TestCase):
    def test_cells_of_several_lines_come_back_as_they_were_copied(self) -> None:
        rows = [["Fen", "one\ntwo\tthree"], ['say "owl"', ""]]
        self.assertEqual(pasted(copied(rows)), rows)
        self.assertEqual(pasted('A\t"own\nwords"\r\nB\t\r\n'), [["A", "own\nwords"], ["B", ""]])
        self.assertEqual(pasted('"Owl" is here\tb\n\nc'), [['"Owl" is here', "b"], [""], ["c"]])


if __name__ == "__main__":
    unittest.main()
