"""Tables through the window: read, made into pages, edited, departed from, undone, sent."""

from pathlib import Path
from unittest import mock

import msgspec
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QDialog, QInputDialog, QLineEdit

from needle.core.site.site import Page, Site
from needle.core.tables.editing import add_table, set_cells
from needle.core.tables.expanding import expanded
from needle.core.tables.mastering import set_facts
from needle.core.values.tables import Fact
from needle.core.values.words import plain
from needle.publish.live import changed_pages, send_pages
from needle.store.results.taking import NewLead, take_lead
from needle.store.tablefiles import csv_file
from needle.ui.builder.tables.columns import ChipDialog, ColumnDialog, FactsDialog
from needle.ui.builder.tables.conditions import ConditionsDialog
from needle.ui.builder.tables.matchdialog import IntoDialog, NewTableDialog
from needle.ui.builder.tables.tablecard import TableCard
from needle.ui.builder.tables.view import TablesView
from needle.ui.publish.about import AboutCard
from tests.sites import PAGE
from tests.tabled import TOWNS, tabled_site, towns
from tests.told import take_visit
from tests.ui.desk import DeskTest


class TablesTest(DeskTest):
    def site(self) -> Site:
        return tabled_site()

    def setUp(self) -> None:
        super().setUp()
        self.doing = self.window.build.tabling
        self.table = self.session.site.tables[0]

    def shown(self) -> TablesView:
        self.window.commands.run("table.show")
        view = self.window.build.tables
        assert view is not None
        return view

    def card(self) -> TableCard:
        view = self.window.build.tables
        assert view is not None
        return view.card

    def master(self) -> None:
        self.doing.make_master(self.table.id, self.table.rows[0].id)
        view = self.window.build.tables
        assert view is not None
        self.until(lambda: view.likeness.likeness is not None)

    def words_in(self, node: str) -> str:
        return self.text(self.desktop, node).strip()


class ReadingTest(TablesTest):
    def test_a_file_becomes_a_table_in_one_step(self) -> None:
        path = self.folder.parent / "Places to go.csv"
        path.write_text(TOWNS.replace(",", ";"), "utf-8")
        with mock.patch.object(NewTableDialog, "exec", return_value=1):
            self.doing.files.read_file(path)
        self.assertEqual(self.session.site.tables[1].name, "Places to go")
        self.assertEqual(self.card().table, self.session.site.tables[1])
        self.assertTrue(self.shown is not None and self.window.build.tables.isVisible())
        self.session.undo()
        self.assertEqual(len(self.session.site.tables), 1)

    def test_what_is_no_table_is_said_and_changes_nothing(self) -> None:
        before, said = self.session.site, list[str]()
        self.session.said.connect(lambda words, _: said.append(words))
        path = self.folder.parent / "x.csv"
        for data, words in ((b"\0\1", "bytes"), (b"", "no line")):
            path.write_bytes(data)
            self.doing.files.read_file(path)
            self.assertIn(words, said[-1])
        self.doing.files.read_file(path.with_name("gone.csv"))
        self.assertIn("No such file", said[-1])
        self.assertIs(self.session.site, before)

    def test_a_file_changed_outside_is_offered_and_read(self) -> None:
        view = self.shown()
        self.session.settle()
        self.until(lambda: not view._outside_row.isVisible())
        path = self.session.folder / "tables" / csv_file(self.table)
        path.write_bytes(path.read_bytes().replace(b"north", b"inland"))
        view.refresh()
        self.until(view._outside_row.isVisible)
        self.doing.files.read_again()
        self.assertEqual(self.session.site.tables[0].rows[0].cells[1], "inland")
        self.until(lambda: not view._outside_row.isVisible())
        self.session.undo()
        self.assertEqual(self.session.site.tables[0], self.table)

    def test_without_a_table_the_screen_offers_the_first_step(self) -> None:
        self.window.commands.run("table.delete")
        self.session.edit("all gone", lambda site: expanded(site))
        view = self.shown()
        self.window.commands.run("table.delete")
        self.assertEqual(view._stack.currentIndex(), 1)
        with mock.patch.object(QInputDialog, "getText", return_value=("Towns", True)):
            self.doing.ask_new()
        self.assertEqual(view._stack.currentIndex(), 0)
        self.assertEqual(self.session.site.tables[0].name, "Towns")


class MatchingTest(TablesTest):
    """Where the columns of files belong is asked once."""

    def file(self, name: str, words: str) -> Path:
        path = self.folder.parent / name
        path.write_text(words, "utf-8")
        return path

    def test_kinds_and_meanings_are_proposed_and_can_be_said_otherwise(self) -> None:
        path = self.file("things.csv", "Thing,Price,Where,Note\nTorch,24 EUR,Harrowick,a\n"
                                       "Lamp,9 EUR,Fenwater,b\n")

        def answer(dialog: NewTableDialog) -> int:
            self.assertEqual([edit.currentText() for edit in dialog.kinds],
                             ["Text", "Money", "Row of “Towns”", "Text"])
            self.assertEqual(dialog.meanings[1].currentText(), "Price")
            dialog.kinds[3].show_value("")
            dialog.kinds[3].chosen.emit("")
            dialog.name.setText("Things")
            return 1

        with mock.patch.object(NewTableDialog, "exec", answer):
            self.doing.files.read_file(path)
        table = self.session.site.tables[1]
        self.assertEqual([(one.name, one.kind, one.means, one.of) for one in table.columns],
                         [("Thing", "text", "", ""), ("Price", "money", "price", ""),
                          ("Where", "link", "", self.table.id)])

    def test_cells_that_do_not_fit_ask_again_with_what_was_chosen(self) -> None:
        path, said, asked = self.file("x.csv", "Thing,Price\nTorch,many\n"), [], []
        self.session.said.connect(lambda words, _: said.append(words))

        def answer(dialog: NewTableDialog) -> int:
            asked.append(dialog.kinds[1].currentText())
            dialog.kinds[1].show_value("money")
            return len(asked) < 3

        with mock.patch.object(NewTableDialog, "exec", answer):
            self.doing.files.read_file(path)
        self.assertEqual(asked, ["Text", "Money", "Money"])
        self.assertIn("line 2, Price: “many” is no amount of money", said[-1])
        self.assertEqual(len(self.session.site.tables), 1)

    def test_a_file_with_other_headings_goes_into_the_table_and_is_known_again(self) -> None:
        self.shown()
        region = self.table.columns[1]
        asked: list[list[str]] = []

        def answer(dialog: IntoDialog) -> int:
            asked.append([edit.currentText() for edit in dialog.places])
            dialog.places[1].show_value(region.id)
            return 1

        with mock.patch.object(IntoDialog, "exec", answer):
            for words in ("Town;Gegend\nHarrowick;coast\n", "Town;Gegend\nFenwater;lake\n"):
                self.doing.files.read_into(self.file("supplier.csv", words))
        self.assertEqual(asked, [["Town", "a new column"], ["Town", "Region"]])
        rows = {row.cells[0]: row.cells[1] for row in self.session.site.tables[0].rows}
        self.assertEqual(rows, {"Harrowick": "coast", "Fenwater": "lake", "Ottermill": "south"})
        self.session.undo()
        self.session.undo()
        self.assertEqual(self.session.site.tables[0], self.table)

    def test_a_column_that_names_rows_and_one_that_means_something(self) -> None:
        self.session.edit("another", lambda site: add_table(site, towns("Group\nLamps\n", 5)))
        card = self.card_shown()
        with mock.patch.object(ColumnDialog, "exec", lambda dialog: (
                dialog.name.setText("Kind"),
                dialog.kind.show_value(f"link:{self.session.site.tables[1].id}"))):
            card.ask_column(-1)
        with mock.patch.object(ColumnDialog, "exec", lambda dialog: (
                dialog.name.setText("Added"), dialog.kind.show_value("date"),
                dialog.kind.chosen.emit("date"), dialog.means.show_value("added"))):
            card.ask_column(-1)
        kind, added = self.session.site.tables[0].columns[-2:]
        self.assertEqual((kind.kind, kind.of, added.means),
                         ("link", self.session.site.tables[1].id, "added"))

    def test_a_number_says_what_it_counts_and_words_reach_a_named_row(self) -> None:
        self.session.edit("another", lambda site: add_table(site, towns("Group,Own\nA,So\n", 5)))
        groups = self.session.site.tables[1]
        card = self.card_shown()
        with mock.patch.object(ColumnDialog, "exec", lambda dialog: (
                dialog.name.setText("Seats"), dialog.kind.show_value("number"),
                dialog.kind.chosen.emit("number"), dialog.counts.setText("seat, seats,"))):
            card.ask_column(-1)
        with mock.patch.object(ColumnDialog, "exec", lambda dialog: (
                dialog.name.setText("Group"), dialog.kind.show_value(f"link:{groups.id}"),
                dialog.kind.chosen.emit(f"link:{groups.id}"))):
            card.ask_column(-1)
        table = self.session.site.tables[0]
        seats, group = table.columns[-2:]
        self.assertEqual(seats.counts, ("seat", "seats"))
        dialog = ColumnDialog(seats, self.session.site.tables, "pl", card)
        self.assertEqual(dialog.counts.text(), "seat, seats")
        self.assertIn("a few", dialog.counts.placeholderText())
        asking = ChipDialog(self.session.site, table, self.window)
        path = f"{group.id}.{groups.columns[1].id}"
        asking.column.show_value(path)
        asking._put()
        self.assertEqual((asking.column.currentText(), asking.chosen), ("Group › Own", f"{path}|"))

    def card_shown(self) -> TableCard:
        self.shown()
        card = self.card()
        card.show_table(self.table.id)
        return card


class PlaceTest(TablesTest):
    def test_results_of_one_row_and_of_all_pages_of_a_table(self) -> None:
        self.master()
        engine = self.window.outcomes.engine
        pages = [page for page in self.session.whole.pages if page.row.row]
        for number, page in enumerate((pages[0], pages[1], pages[1])):
            take_visit(engine, at_ms=1000 + number, visitor=f"v{number}", page=page.id,
                       variant="A")
            take_lead(engine, NewLead(
                key=f"{number:032d}", at_ms=2000 + number, visitor=f"v{number}", form="form1",
                form_name="F", page=page.id, variant="A", email=f"{number}@mail.example",
                source="", answers=[], signs=[]))
        self.window.show_stage("Measure")
        self.window.outcomes.look()
        measure = self.window.stages["Measure"]
        measure.show_part("Pages")
        shown = measure.pages
        self.until(lambda: shown.table.rowCount() == 2)
        place = {shown.place.itemText(n): n for n in range(shown.place.count())}
        shown.place.setCurrentIndex(place["Night, all 3"])
        shown.place.chosen.emit(shown.place.currentData())
        cells = [shown.table.item(0, column) for column in range(5)]
        self.assertEqual([cell.text() for cell in cells if cell],
                         ["All 3 pages, added up", "", "3", "3", "100.00 %"])
        measure.show_part("Leads")
        leads = measure.leads
        leads.place.setCurrentIndex(leads.place.findText("Fenwater"))
        leads.place.chosen.emit(leads.place.currentData())
        self.assertEqual({lead.page for lead in leads.model.rows}, {pages[1].id})
        self.assertEqual(len(leads.model.rows), 2)


class CellsTest(TablesTest):
    def test_cells_are_typed_pasted_emptied_and_moved_by_keys(self) -> None:
        self.shown()
        card, rows = self.card(), self.card().view
        rows.setCurrentIndex(card.model.index(1, 2))
        QTest.keyClick(rows, Qt.Key.Key_Return)
        editor = rows.findChild(QLineEdit) or rows.indexWidget(rows.currentIndex())
        assert editor is not None
        QTest.keyClicks(editor, "Herons stand in the dyke.")
        QTest.keyClick(editor, Qt.Key.Key_Return)
        self.until(lambda: self.session.site.tables[0].rows[1].cells[2].startswith("Herons"))
        self.assertEqual(self.session.undo_label, "cell of Fenwater")
        clipboard = QApplication.clipboard()
        assert clipboard is not None
        clipboard.setText("Larkhollow\teast\nWexmoor\twest\n")
        rows.setCurrentIndex(card.model.index(2, 0))
        QTest.keyClick(rows, Qt.Key.Key_V, Qt.KeyboardModifier.ControlModifier)
        self.assertEqual([row.cells[:2] for row in self.session.site.tables[0].rows[2:]],
                         [("Larkhollow", "east"), ("Wexmoor", "west")])
        QTest.keyClick(rows, Qt.Key.Key_C, Qt.KeyboardModifier.ControlModifier)
        self.assertEqual(clipboard.text(), "Larkhollow")
        QTest.keyClick(rows, Qt.Key.Key_Delete)
        self.assertEqual(self.session.site.tables[0].rows[2].cells[0], "")
        self.session.undo()
        QTest.keyClick(rows, Qt.Key.Key_Up, Qt.KeyboardModifier.AltModifier)
        self.assertEqual(self.session.site.tables[0].rows[1].cells[0], "Larkhollow")

    def test_a_cell_that_does_not_fit_is_refused_with_its_row(self) -> None:
        self.shown()
        said: list[str] = []
        self.session.said.connect(lambda words, _: said.append(words))
        with mock.patch.object(ColumnDialog, "exec", lambda dialog: (
                dialog.name.setText("Price"), dialog.kind.show_value("money"))):
            self.card().ask_column(-1)
        model = self.card().model
        self.assertFalse(model.setData(model.index(0, 3), "a lot"))
        self.assertIn("Harrowick, Price: “a lot” is no amount of money", said[-1])
        self.assertTrue(model.setData(model.index(0, 3), "£12"))
        self.assertEqual(model.data(model.index(0, 3)), "£12")

    def test_rows_are_found_and_a_new_one_is_begun(self) -> None:
        self.shown()
        card = self.card()
        card.line.setText("hedge")
        self.assertEqual([row.cells[0] for row in card.model.rows], ["Ottermill"])
        card.view.add_row()
        self.assertEqual((card.line.text(), len(card.model.rows)), ("", 4))
        card.view.selectRow(3)
        card.view.delete_rows()
        self.assertEqual(self.session.site.tables[0], self.table)


class PagesTest(TablesTest):
    def test_a_page_becomes_one_for_each_row_and_shows_the_row_that_is_looked_at(self) -> None:
        self.master()
        view = self.window.build.tables
        assert view is not None
        self.assertIn("one of 3 pages from the table “Towns”", view.about.text())
        self.until(lambda: "Harrowick" in self.words_in("head1"))
        self.window.commands.run("row.next")
        self.until(lambda: self.words_in("head1") == "A night above Fenwater")
        self.assertEqual(view.head.text(), "A night: Fenwater")
        self.assertEqual(view.card.view.currentIndex().row(), 1)
        view.card.view.setCurrentIndex(view.card.model.index(2, 0))
        self.until(lambda: self.words_in("head1") == "A night above Ottermill")
        self.assertIn("/night-ottermill", self.window.build._bar._slug.text())
        self.session.undo()
        self.until(lambda: self.words_in("head1") == "A night above Harrowick")
        self.assertFalse(view.rows.isVisible())

    def test_words_typed_on_a_rows_page_change_all_pages_and_keep_the_column(self) -> None:
        self.master()
        self.window.commands.run("row.next")
        self.until(lambda: "Fenwater" in self.words_in("head1"))
        lines = [[{"words": "Two nights above "}, {"words": "Fenwater", "column": self.town()}]]
        self.window.build.canvas._take_words(self.desktop, "head1", "words", lines)
        heads = [next(plain(node.words) for node in page.variants[0].nodes() if node.id == "head1")
                 for page in self.session.whole.pages[:3]]
        self.assertEqual(heads, [f"Two nights above {town}"
                                 for town in ("Harrowick", "Fenwater", "Ottermill")])

    def town(self) -> str:
        return self.table.columns[0].id

    def test_a_rows_page_departs_and_is_put_back(self) -> None:
        self.master()
        view = self.window.build.tables
        assert view is not None
        self.window.commands.run("row.next")
        self.session.select("head1")
        self.window.commands.run("row.own")
        self.window.build.canvas._take_words(self.desktop, "head1", "words",
                                             [[{"words": "Fog over the fen"}]])
        self.assertIn("Departs here in 1 place", view.departs.text())
        self.until(lambda: self.text(self.phone, "head1").strip() == "Fog over the fen")
        self.window.commands.run("row.before")
        self.until(lambda: self.words_in("head1") == "A night above Harrowick")
        self.assertFalse(view.departs.isEnabled())
        self.window.commands.run("row.next")
        view._fill_own()
        self.assertEqual(len(view._own.actions()), 2)
        view._own.actions()[0].trigger()
        self.until(lambda: self.words_in("head1") == "A night above Fenwater")
        self.session.select("list1")
        self.window.commands.run("row.hide")
        self.assertEqual(self.session.page.master.departures[0].path, "")
        self.window.commands.run("row.back")
        self.assertEqual(self.session.page.master.departures, ())

    def test_what_the_pages_are_called_is_typed_with_columns_in_it(self) -> None:
        self.master()
        card = self.card()
        title = card.said["title"]
        title.setFocus()
        QTest.keyClick(title, Qt.Key.Key_End)
        QTest.keyClicks(title, " in the ")
        title.put(self.table.columns[1].id)
        QTest.keyClick(title, Qt.Key.Key_Return)
        self.assertEqual([page.title for page in self.session.whole.pages[:3]],
                         ["A night: Harrowick in the north", "A night: Fenwater in the north",
                          "A night: Ottermill in the south"])
        QTest.keyClick(title, Qt.Key.Key_Backspace)
        QTest.keyClick(title, Qt.Key.Key_Return)
        self.assertEqual(self.session.whole.pages[0].title, "A night: Harrowick in the ")
        address = card.said["slug"]
        address.selectAll()
        QTest.keyClicks(address, "all-the-same")
        said: list[str] = []
        self.session.said.connect(lambda words, _: said.append(words))
        QTest.keyClick(address, Qt.Key.Key_Return)
        self.assertIn("address of its own", said[-1])
        self.assertEqual(self.session.whole.pages[0].slug, "night-harrowick")

    def test_a_column_is_put_on_chosen_words(self) -> None:
        self.master()
        self.window.build.turn_tables()
        self.session.select("list1")
        message = {"t": "mark", "id": "list1", "text": "words", "mark": "column",
                   "value": f"{self.table.columns[1].id}|capitals", "start": 0, "stop": 3}
        self.window.build.canvas._hear(self.desktop, message)
        self.assertEqual(self.session.undo_label, "a column's value")
        self.until(lambda: self.words_in("list1").startswith("NORTH"))
        asking = ChipDialog(self.session.site, self.table, self.window)
        asking.column.show_value(self.table.columns[2].id)
        asking._put()
        self.assertEqual(asking.chosen, f"{self.table.columns[2].id}|")
        asking._take_off()
        self.assertEqual(asking.chosen, "")

    def test_dialogs_choose_the_row_whose_words_stand_there(self) -> None:
        found: list[str] = []

        def run(dialog: QDialog) -> bool:
            found.append(dialog.row.currentText())  # type: ignore[attr-defined]
            return True

        with mock.patch.object(QDialog, "exec", run):
            self.doing.ask_master()
        self.assertEqual(found, ["Harrowick"])
        self.assertEqual(len(self.session.whole.pages), 4)


class FactsTest(TablesTest):
    def test_columns_that_fit_are_offered_for_what_searches_are_told(self) -> None:
        self.master()
        asking = FactsDialog(self.session.page, self.table, self.window)
        asking.kind.setCurrentIndex(asking.kind.findData("event"))
        asking._show()
        place = asking.fields["place"]
        self.assertEqual([place.itemText(n) for n in range(place.count())],
                         ["as on the page itself", "Town", "Region", "Own"])
        self.assertEqual(asking.fields["starts"].count(), 1)
        place.show_value(self.table.columns[1].id)
        with mock.patch("needle.ui.builder.tables.commands.FactsDialog", return_value=asking), \
                mock.patch.object(asking, "exec", return_value=1):
            self.window.commands.run("master.facts")
        page = self.session.whole.pages[0]
        self.assertEqual((page.about.kind, page.about.place), ("event", "north"))
        self.session.undo()
        self.assertEqual(self.session.whole.pages[0].about.kind, "")

    def test_what_a_column_tells_is_not_missed_in_the_card(self) -> None:
        self.master()
        card = AboutCard(self.session)
        self.addCleanup(card.deleteLater)
        card._take("kind", "event")
        self.assertEqual(card.note.text(), "Told once it says: starts, place.")
        place = Fact(field="place", column=self.table.columns[1].id)
        self.session.edit("facts", lambda site: set_facts(site, PAGE, [place]))
        card.refresh()
        self.assertEqual(card.note.text(), "Told once it says: starts.")
        self.assertEqual(card._rows["place"][1].placeholderText(), "from the table")


class ConditionsTest(TablesTest):
    def asking(self, page: Page) -> ConditionsDialog:
        return ConditionsDialog("", "", self.table, (), page.master.only, "en", self.window, False)

    def test_rows_that_meet_the_conditions_have_a_page(self) -> None:
        self.master()
        page = self.session.page
        asking = self.asking(page)
        which, value = asking.lines[0].which, asking.lines[0].value
        self.assertFalse(value.isEnabled())
        which.setCurrentIndex(2)
        which.chosen.emit(which.currentData())
        value.setText("South")
        with mock.patch("needle.ui.builder.tables.commands.ConditionsDialog",
                        return_value=asking), mock.patch.object(
                            asking, "exec", lambda: asking._keep() or 1):
            self.window.commands.run("master.only")
        self.assertEqual([page.name for page in self.session.whole.pages if page.row.page],
                         ["Night: Ottermill"])
        view = self.window.build.tables
        assert view is not None
        self.until(lambda: "one of 1 page from" in view.about.text())
        self.until(lambda: view.likeness.said.text() == "Two pages or more are compared.")
        again = self.asking(self.session.page)
        self.assertEqual(again.lines[0].value.text(), "South")
        self.session.undo()
        self.assertEqual(len(self.session.whole.pages), 4)

    def test_a_value_that_does_not_fit_its_column_is_said(self) -> None:
        table = msgspec.structs.replace(self.table, columns=(
            *self.table.columns[:2], msgspec.structs.replace(self.table.columns[2],
                                                             kind="number")))
        asking = ConditionsDialog("", "", table, (), (), "en", self.window)
        which, value = asking.lines[1].which, asking.lines[1].value
        which.setCurrentIndex(3)
        value.setText("many")
        asking._keep()
        self.assertIn("Own: “many” is no number", asking.said.text())


class LikenessTest(TablesTest):
    def test_the_worst_pair_comes_first_and_leads_to_its_page(self) -> None:
        self.master()
        panel = self.window.build.tables.likeness  # type: ignore[union-attr]
        self.assertEqual(panel.matrix.shares.shape, (3, 3))
        first = panel.pairs.item(0)
        assert first is not None
        self.assertIn("Harrowick and Fenwater", first.text())
        panel.matrix.setFocus()
        QTest.keyClick(panel.matrix, Qt.Key.Key_Down)
        QTest.keyClick(panel.matrix, Qt.Key.Key_Down)
        self.assertIsNotNone(self.session.row)
        before = panel.likeness
        model = self.card().model
        model.setData(model.index(1, 2), "Here the herons stand in the dyke all night long.")
        self.until(lambda: panel.likeness is not before)
        share = model.data(model.index(1, 3))
        self.assertRegex(share, r"^\d+ %$")
        self.assertLess(panel.likeness.whole[0, 1], before.whole[0, 1])

    def test_closed_right_after_an_edit_it_begins_nothing_more(self) -> None:
        self.master()
        view = self.window.build.tables
        assert view is not None
        self.session.edit("cell", lambda site: set_cells(site, self.table.id, [
            (self.table.rows[1].id, self.table.columns[2].id, "Bring a flask.")]))
        self.assertTrue(view._soon.isActive())
        self.window.close()
        QTest.qWait(10)
        self.assertFalse(view._soon.isActive() or view.likeness._quiet.isActive())
        self.assertEqual(view.likeness._pool.activeThreadCount(), 0)

    def test_a_page_that_makes_none_offers_to_make_them(self) -> None:
        view = self.shown()
        self.until(lambda: view.likeness.said.text() == "Two pages or more are compared.")
        self.assertIn("“Night” makes no pages of it", view.about.text())
        self.assertEqual(view.card._offered, [""])
        self.master()
        self.session.show_page("page2")
        self.until(lambda: view.card._offered == [PAGE])


class PublishTest(TablesTest):
    def test_rows_stand_in_the_list_and_lead_to_their_page(self) -> None:
        self.master()
        self.window.show_stage("Publish")
        pages = self.window.stages.publish.sending.pages
        self.until(lambda: pages.rowCount() == 4)
        pages.selectRow(2)
        row = self.session.row
        self.assertEqual(row.cells[0] if row else "", "Ottermill")
        self.assertEqual(self.session.page.id, PAGE)
        self.assertEqual(len(pages.to_send()), 4)

    def test_what_is_to_send_follows_each_edit_as_a_plain_look_has_it(self) -> None:
        self.master()
        pages = [page.id for page in self.session.whole.pages]
        send_pages(self.session.site, self.folder, pages)
        outcomes, rows = self.window.outcomes, self.table.rows
        outcomes.look()
        name, own = self.table.columns[0].id, self.table.columns[2].id
        for row, column, words in ((1, own, "Bring a flask."), (2, name, "Upper Thicket"),
                                   (1, own, self.table.cell(rows[1], own)),
                                   (0, name, "Harrowick on Lume")):
            cell = (rows[row].id, column, words)
            self.session.edit("cell", lambda site, cell=cell: set_cells(
                site, self.table.id, [cell]))
            self.until(lambda: outcomes.pages_to_send() is not None)
            plain = changed_pages(self.session.site, self.folder)
            self.assertEqual(outcomes.pages_to_send(), len(plain), words)
        self.session.undo()
        self.until(lambda: outcomes.pages_to_send() is not None)
        self.assertEqual(outcomes.pages_to_send(),
                         len(changed_pages(self.session.site, self.folder)))

    def test_searches_show_the_words_of_the_row_and_where_they_are_changed(self) -> None:
        self.master()
        self.window.show_stage("Publish")
        search = self.window.stages.publish.search
        search.refresh()
        self.assertEqual(search.title.text(), "A night: Harrowick")
        self.assertTrue(search.title.isReadOnly())
        self.assertIn("Ctrl+T", search._title_note.text())
        self.session.show_page("page2")
        search.refresh()
        self.assertFalse(search.title.isReadOnly())


if __name__ == "__main__":
    import unittest

    unittest.main()
