"""Commands on tables, on the pages that are made of their rows, and on what stands there."""

from collections.abc import Callable
from pathlib import Path

import msgspec
from PyQt6.QtCore import QObject
from PyQt6.QtWidgets import QFileDialog, QInputDialog, QWidget

from needle.core.edit.pages import set_page
from needle.core.kinds.rowlist import RowList
from needle.core.render.texts import read_lines, texts_of
from needle.core.site.site import Site
from needle.core.tables.choosing import is_master
from needle.core.tables.csvfile import SheetError, read_sheet
from needle.core.tables.editing import add_table, delete_table, put_table, rename_table
from needle.core.tables.mastering import (
    bind,
    depart,
    departures_of,
    make_master,
    put_back,
    set_conditions,
    set_facts,
    unmake_master,
)
from needle.core.tables.taking import as_csv, guessed_kinds, made_table, taken_again
from needle.core.values.counting import counted
from needle.core.values.ids import Id, new_id
from needle.core.values.tables import Table, TableColumn
from needle.store.files import write_atomically
from needle.store.tablefiles import edited_outside, keep_csv
from needle.ui.builder.canvas import Canvas
from needle.ui.builder.tables.columns import ChipDialog, FactsDialog
from needle.ui.builder.tables.conditions import ConditionsDialog
from needle.ui.builder.tables.masterdialog import MasterDialog
from needle.ui.commands import Command
from needle.ui.language import tr
from needle.ui.session import Session
from needle.ui.waiting import Stopped, one_apart

__all__ = ["TableCommands"]

_CSV = tr("Tables (*.csv *.tsv *.txt);;All files (*)")
_FIELDS = {"medium": tr("picture"), "alt": tr("alt text"), "address": tr("address")}
_FITS = {"medium": ("picture",), "alt": ("text", "long"), "address": ("address",)}


class TableCommands(QObject):
    """What can be done with tables.

    Attributes:
        show: Shows the screen of tables; set by the stage.
        table: Returns the table that is looked at; set by the stage.
    """

    def __init__(self, session: Session, canvas: Canvas, window: QWidget) -> None:
        super().__init__(window)
        self._session, self._canvas, self._window = session, canvas, window
        self.show: Callable[[], object] = lambda: None
        self.table: Callable[[], Table | None] = lambda: session.site.table(
            session.page.master.table)
        self.shown: Callable[[Id], object] = lambda _: None
        self.step: Callable[[int], object] = lambda _: None

    def commands(self) -> list[Command]:
        """Return the commands, in the order of the Table menu."""
        return [
            Command(id="table.show", menu="Table", title=tr("Show the tables, or the page again"),
                    keys="Ctrl+T", keywords="rows csv local pages products towns",
                    run=lambda: self.show()),
            Command(id="table.read", menu="Table", title=tr("Read a CSV file as a table…"),
                    keywords="import spreadsheet", run=self.ask_file),
            Command(id="table.new", menu="Table", title=tr("New table…"), run=self.ask_new),
            Command(id="table.name", menu="Table", title=tr("Rename table…"), run=self._rename,
                    unless=self._no_table),
            Command(id="table.delete", menu="Table", title=tr("Delete table"), run=self._delete,
                    unless=self._no_table),
            Command(id="table.write", menu="Table", title=tr("Write the table to a CSV file…"),
                    keywords="export", run=self.ask_where, unless=self._no_table),
            Command(id="table.again", menu="Table", title=tr("Read its changed CSV file"),
                    run=self.read_again, unless=self._not_edited),
            Command(id="table.over", menu="Table", title=tr("Keep the table, write its file anew"),
                    run=self.write_over, unless=self._not_edited),
            Command(id="master.make", menu="Table", title=tr("One page for each row…"),
                    keywords="local pages towns master", run=self.ask_master,
                    unless=self._no_master_here),
            Command(id="master.only", menu="Table", title=tr("Which rows have a page…"),
                    keywords="condition filter", run=self._ask_conditions,
                    unless=self._no_master),
            Command(id="master.facts", menu="Table", title=tr("What searches are told of rows…"),
                    keywords="structured data event product schema", run=self._ask_facts,
                    unless=self._no_master),
            Command(id="master.end", menu="Table", title=tr("Make it an ordinary page again"),
                    run=self._end_master, unless=self._no_master),
            *self._row_commands()]

    def _row_commands(self) -> list[Command]:
        return [
            Command(id="row.next", menu="Table", title=tr("Look at the next row"),
                    keys="Ctrl+PgDown", run=lambda: self.step(1), unless=self._no_row),
            Command(id="row.before", menu="Table", title=tr("Look at the row before"),
                    keys="Ctrl+PgUp", run=lambda: self.step(-1), unless=self._no_row),
            Command(id="words.column", menu="Table", title=tr("A column's value in the words…"),
                    keys="Ctrl+Shift+U", keywords="chip placeholder merge", run=self._chip,
                    unless=self._no_words),
            Command(id="part.column", menu="Table", title=tr("A column's picture or address…"),
                    keywords="alt picture address", run=self._bind, unless=self._not_bindable),
            Command(id="row.own", menu="Table", title=tr("Own words on this row's page"),
                    keywords="depart exception", run=self._own, unless=self._no_own),
            Command(id="row.hide", menu="Table", title=tr("Hide the part on this row's page"),
                    keywords="depart exception", run=self._hide, unless=self._no_part),
            Command(id="row.back", menu="Table", title=tr("Have the part follow again"),
                    run=self._back, unless=self._not_departed)]

    def doing(self) -> list[tuple[str, Callable[[], object]]]:
        """Return what is offered where tables are looked at."""
        return [(tr("Read a CSV file…"), self.ask_file), (tr("New table…"), self.ask_new),
                (tr("Write it to a CSV file…"), self.ask_where),
                (tr("Read the file"), self.read_again), (tr("Keep ours"), self.write_over)]

    # Why not

    def _no_table(self) -> str:
        return "" if self.table() is not None else tr("There is no table yet.")

    def _not_edited(self) -> str:
        table = self.table()
        return "" if table is not None and edited_outside(
            self._session.folder, table) is not None else tr(
                "Nobody has changed its file outside Needle.")

    def _no_master_here(self) -> str:
        if is_master(self._session.page):
            return tr("This page is one for each row already.")
        return "" if self._session.site.tables else tr("There is no table yet.")

    def _no_master(self) -> str:
        return "" if is_master(self._session.page) else tr("This is an ordinary page.")

    def _no_row(self) -> str:
        return "" if self._session.row is not None else tr("This page is not one for each row.")

    def _no_words(self) -> str:
        node = self._session.node()
        if self._chip_table() is None:
            return tr("Neither the page nor a list that is chosen shows a table.")
        return "" if node is not None and texts_of(node) else tr("Choose words on the page first.")

    def _chip_table(self) -> Table | None:
        """Return the table whose columns words may stand for: the chosen list's, or the page's."""
        site, node = self._session.site, self._session.node()
        return site.table(node.table if isinstance(node, RowList)
                          else self._session.page.master.table)

    def _no_part(self) -> str:
        return self._no_row() or ("" if self._session.node() is not None else tr(
            "Choose a part of the page first."))

    def _no_own(self) -> str:
        return self._no_row() or self._no_words() or ("" if not self._departed() else tr(
            "It has words of its own there already."))

    def _not_departed(self) -> str:
        return self._no_part() or ("" if self._departed() else tr("It follows the others there."))

    def _departed(self) -> bool:
        row, node = self._session.row, self._session.selection
        return row is not None and any(
            one.node == node for one in departures_of(self._session.page, row.id))

    # Tables

    def ask_file(self) -> None:
        """Read a file as a new table."""
        path, _ = QFileDialog.getOpenFileName(self._window, tr("Read a table"), "", _CSV)
        if path:
            self.read_file(Path(path))

    def read_file(self, path: Path) -> None:
        """Read a file as a new table, and show it."""
        language = self._session.site.language

        def work() -> tuple[Table, str]:
            sheet = read_sheet(path.read_bytes())
            table, report = made_table(sheet, path.stem[:60] or tr("Table"),
                                       guessed_kinds(sheet, language), language, new_id)
            return table, report.words()

        try:
            table, words = one_apart(self._window, tr("Reading the table…"), work)
        except (SheetError, OSError, Stopped) as error:
            self._refuse(path.name, error)
            return
        if self._session.edit(tr("read table"), lambda site: add_table(site, table)):
            self._session.said.emit(f"{path.name}: {words}", False)
            self.shown(table.id)

    def _refuse(self, name: str, error: Exception) -> None:
        why = error.strerror if isinstance(error, OSError) else str(error)
        self._session.said.emit(f"{name}: {why}", True)

    def ask_new(self) -> None:
        """Ask for the name of a new table, and make it."""
        name, fine = QInputDialog.getText(self._window, tr("New table"), tr("Name"))
        if fine and name.strip():
            table = Table(id=new_id(), name=name.strip()[:60], columns=(
                TableColumn(id=new_id(), name=tr("Name")),))
            if self._session.edit(tr("new table"), lambda site: add_table(site, table)):
                self.shown(table.id)

    def _rename(self) -> None:
        table = self.table()
        if table is not None:
            name, fine = QInputDialog.getText(self._window, tr("Rename table"), tr("Name"),
                                              text=table.name)
            if fine:
                self._session.edit(tr("name of table"),
                                   lambda site: rename_table(site, table.id, name))

    def _delete(self) -> None:
        table = self.table()
        if table is not None:
            self._session.edit(tr("delete table"), lambda site: delete_table(site, table.id))

    def ask_where(self) -> None:
        """Write the table to a file."""
        table = self.table()
        if table is None:
            return
        path, _ = QFileDialog.getSaveFileName(self._window, tr("Write the table"),
                                              f"{table.name}.csv", _CSV)
        if path:
            try:
                write_atomically(Path(path), as_csv(table))
            except OSError as error:
                self._refuse(Path(path).name, error)
            else:
                self._session.said.emit(tr("{rows} are in {path}.", path=path,
                                           rows=counted(len(table.rows), "row")), False)

    def read_again(self) -> None:
        """Take what somebody changed in the table's own CSV file."""
        table = self.table()
        data = edited_outside(self._session.folder, table) if table is not None else None
        if table is None or data is None:
            self._session.said.emit(self._not_edited(), True)
            return
        language = self._session.site.language
        try:
            made, report = one_apart(self._window, tr("Reading the table…"), lambda: taken_again(
                table, read_sheet(data), language, new_id))
        except (SheetError, Stopped) as error:
            self._refuse(table.name, error)
            return
        if self._session.edit(tr("read table"), lambda site: put_table(site, made)):
            self._write(made)
            self._session.said.emit(f"{table.name}: {report.words()}", False)
            self.shown(table.id)

    def write_over(self) -> None:
        """Write the table's own file anew, over what somebody changed there."""
        table = self.table()
        if table is not None and self._write(table):
            self._session.said.emit(tr("Its file is as the table is."), False)
            self.shown(table.id)

    def _write(self, table: Table) -> bool:
        try:
            keep_csv(self._session.folder, table)
        except OSError as error:
            self._refuse(table.name, error)
            return False
        return True

    # Pages

    def ask_master(self) -> None:
        """Ask of which table the page becomes one for each row."""
        asking = MasterDialog(self._session, self.table(), self._window)
        if asking.exec():
            self.make_master(asking.table.id, str(asking.row.currentData()))

    def make_master(self, table: Id, row: Id) -> None:
        """Make the page one for each row of a table."""
        page = self._session.page
        if self._session.edit(tr("one page for each row"),
                              lambda site: make_master(site, page.id, table, row)):
            self._session.look_at_row(row)
            self._canvas.reload()
            count = sum(one.row.page == page.id for one in self._session.whole.pages)
            self._session.said.emit(tr("“{page}” is {count} now.", page=page.name,
                                       count=counted(count, "page")), False)
            self.shown(table)

    def _ask_conditions(self) -> None:
        session, page = self._session, self._session.page
        table = session.site.table(page.master.table)
        if table is None:
            return
        asking = ConditionsDialog(page, table, session.site.language, self._window)
        if asking.exec():
            wanted = asking.conditions
            session.edit(tr("which rows have a page"),
                         lambda site: set_conditions(site, page.id, wanted))

    def _ask_facts(self) -> None:
        session, page = self._session, self._session.page
        table = session.site.table(page.master.table)
        if table is None:
            return
        asking = FactsDialog(page, table, self._window)
        if asking.exec():
            kind, facts = str(asking.kind.currentData()), asking.facts()
            session.edit(tr("what searches are told"), lambda site: set_facts(
                set_page(site, page.id, about=msgspec.structs.replace(page.about, kind=kind)),
                page.id, facts))

    def _end_master(self) -> None:
        page = self._session.page.id
        if self._session.edit(tr("ordinary page"), lambda site: unmake_master(site, page)):
            self._canvas.reload()

    # What stands there

    def _chip(self) -> None:
        table = self._chip_table()
        if table is None:
            return
        asking = ChipDialog(self._session.site, table, self._window)
        if asking.exec() and asking.chosen is not None:
            self._canvas.mark_words("column", asking.chosen)

    def _not_bindable(self) -> str:
        node = self._session.node()
        return self._no_row() or ("" if node is not None and any(
            hasattr(node, field) for field in _FIELDS) else tr(
                "Choose a picture or a part with an address first."))

    def _bind(self) -> None:
        session, node = self._session, self._session.node()
        table = session.site.table(session.page.master.table)
        if node is None or table is None:
            return
        options: dict[str, tuple[str, Id]] = {}
        for field, words in _FIELDS.items():
            if hasattr(node, field):
                options[tr("{field}: none, as on the page itself", field=words)] = (field, "")
                options |= {f"{words}: {one.name}": (field, one.id) for one in table.columns
                            if one.kind in _FITS[field]}
        chosen, fine = QInputDialog.getItem(self._window, tr("A column's value"),
                                            tr("What follows the row"), list(options), 0, False)
        if fine:
            field, column = options[chosen]
            page = session.page.id
            session.edit(tr("a column's value"),
                         lambda site: bind(site, page, node.id, field, column))

    def _own(self) -> None:
        session, node, row = self._session, self._session.node(), self._session.row
        if node is None or row is None:
            return
        page = session.page.id
        shown = next((one for one in session.context().variant.nodes() if one.id == node.id), node)

        def how(site: Site) -> Site:
            for path in texts_of(shown):
                site = depart(site, page, row.id, node.id, path, read_lines(shown, path))
            return site

        if session.edit(tr("own words"), how):
            self._canvas.show_again(node.id)

    def _hide(self) -> None:
        session, row, node = self._session, self._session.row, self._session.selection
        if row is not None:
            page = session.page.id
            if session.edit(tr("hide here"), lambda site: depart(site, page, row.id, node)):
                self._canvas.show_again(node)

    def _back(self) -> None:
        session, row, node = self._session, self._session.row, self._session.selection
        if row is not None:
            page = session.page.id
            if session.edit(tr("put back"), lambda site: put_back(site, page, row.id, node)):
                self._canvas.show_again(node)
