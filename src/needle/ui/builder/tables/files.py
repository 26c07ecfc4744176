"""Tables and their files: read as a new one, read into one, written out, changed outside."""

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QObject
from PyQt6.QtWidgets import QFileDialog, QWidget

from needle.core.tables.csvfile import Sheet, SheetError, read_sheet
from needle.core.tables.editing import add_table, put_table, renamed_links
from needle.core.tables.matching import Plan, guessed_links, guessed_meanings
from needle.core.tables.taking import Report, as_csv, guessed_kinds, made_table, taken_again
from needle.core.values.counting import counted
from needle.core.values.ids import Id, new_id
from needle.core.values.tables import Table
from needle.store.files import write_atomically
from needle.store.tablefiles import edited_outside, keep_csv
from needle.ui.builder.tables.matchdialog import IntoDialog, NewTableDialog
from needle.ui.commands import Command
from needle.ui.language import tr
from needle.ui.session import Session
from needle.ui.waiting import Stopped, one_apart

__all__ = ["TableFiles"]

_CSV = tr("Tables (*.csv *.tsv *.txt);;All files (*)")


class TableFiles(QObject):
    """What can be done with the files of tables.

    Attributes:
        table: Returns the table that is looked at; set by the stage.
        shown: Shows a table; set by the stage.
    """

    def __init__(self, session: Session, window: QWidget) -> None:
        super().__init__(window)
        self._session, self._window = session, window
        self.table: Callable[[], Table | None] = lambda: None
        self.shown: Callable[[Id], object] = lambda _: None

    def commands(self) -> list[Command]:
        """Return the commands, in the order of the Table menu."""
        return [
            Command(id="table.read", menu="Table", title=tr("Read a CSV file as a table…"),
                    keywords="import spreadsheet", run=self.ask_file),
            Command(id="table.into", menu="Table", title=tr("Read a CSV file into the table…"),
                    keywords="import update stock prices supplier match columns",
                    run=self.ask_into, unless=self._no_table),
            Command(id="table.write", menu="Table", title=tr("Write the table to a CSV file…"),
                    keywords="export", run=self.ask_where, unless=self._no_table),
            Command(id="table.again", menu="Table", title=tr("Read its changed CSV file"),
                    run=self.read_again, unless=self._not_edited),
            Command(id="table.over", menu="Table", title=tr("Keep the table, write its file anew"),
                    run=self.write_over, unless=self._not_edited)]

    def _no_table(self) -> str:
        return "" if self.table() is not None else tr("There is no table yet.")

    def _not_edited(self) -> str:
        table = self.table()
        return "" if table is not None and edited_outside(
            self._session.folder, table) is not None else tr(
                "Nobody has changed its file outside Needle.")

    def _refuse(self, name: str, error: Exception) -> None:
        why = error.strerror if isinstance(error, OSError) else str(error)
        self._session.said.emit(f"{name}: {why}", True)

    # A new table

    def ask_file(self) -> None:
        """Read a file as a new table."""
        path, _ = QFileDialog.getOpenFileName(self._window, tr("Read a table"), "", _CSV)
        if path:
            self.read_file(Path(path))

    def read_file(self, path: Path) -> None:
        """Read a file, ask of which kinds its columns are, and show the table."""
        language, tables = self._session.site.language, self._session.site.tables

        def work() -> tuple[Sheet, tuple[str, ...], tuple[Id, ...]]:
            sheet = read_sheet(path.read_bytes())
            kinds = guessed_kinds(sheet, language)
            return sheet, kinds, guessed_links(sheet, kinds, tables)

        try:
            sheet, kinds, of = one_apart(self._window, tr("Reading the table…"), work)
        except (SheetError, OSError, Stopped) as error:
            self._refuse(path.name, error)
            return
        asking = NewTableDialog(sheet, path.stem[:60] or tr("Table"), kinds, of,
                                guessed_meanings(sheet.names, kinds), tables, self._window)
        # Cells that do not fit leave the question open, so that nothing chosen is lost.
        while asking.exec():
            if self._take_new(path.name, sheet, asking):
                return

    def _take_new(self, file: str, sheet: Sheet, asking: NewTableDialog) -> bool:
        kinds, means, of = asking.answers()
        name, language = asking.name.text().strip()[:60] or tr("Table"), self._session.site.language
        try:
            table, report = one_apart(self._window, tr("Reading the table…"), lambda: made_table(
                sheet, name, kinds, language, new_id, means, of))
        except (SheetError, Stopped) as error:
            self._refuse(file, error)
            return False
        if self._session.edit(tr("read table"), lambda site: add_table(site, table)):
            self._session.said.emit(f"{file}: {report.words()}", False)
            self.shown(table.id)
        return True

    # Into a table

    def ask_into(self) -> None:
        """Read a file into the table that is looked at."""
        path, _ = QFileDialog.getOpenFileName(self._window, tr("Read into the table"), "", _CSV)
        if path:
            self.read_into(Path(path))

    def read_into(self, path: Path) -> None:
        """Read a file, ask where its columns go, and take it into the table."""
        table = self.table()
        if table is None:
            return
        try:
            sheet = one_apart(self._window, tr("Reading the table…"),
                              lambda: read_sheet(path.read_bytes()))
        except (SheetError, OSError, Stopped) as error:
            self._refuse(path.name, error)
            return
        asking = IntoDialog(sheet, table, self._window)
        while asking.exec():
            if self._take(path.name, table, sheet, asking.plan()) is not None:
                return

    def _take(self, file: str, table: Table, sheet: Sheet, plan: Plan | None) -> Table | None:
        """Take a file into a table; return that, or `None` if something does not fit."""
        language = self._session.site.language

        def work() -> tuple[Table, Report]:
            return taken_again(table, sheet, language, new_id, plan)

        try:
            made, report = one_apart(self._window, tr("Reading the table…"), work)
        except (SheetError, Stopped) as error:
            self._refuse(file, error)
            return None
        if self._session.edit(tr("read table"), lambda site: renamed_links(
                put_table(site, made), table, made)):
            self._session.said.emit(f"{file}: {report.words()}", False)
            self.shown(made.id)
        return made

    # Its own file

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
        try:
            sheet = one_apart(self._window, tr("Reading the table…"), lambda: read_sheet(data))
        except (SheetError, Stopped) as error:
            self._refuse(table.name, error)
            return
        made = self._take(table.name, table, sheet, None)
        if made is not None:
            self._write(made)
            self.shown(made.id)

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
