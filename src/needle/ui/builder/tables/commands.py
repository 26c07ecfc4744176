"""Commands on tables, on the pages that are made of their rows, and on what stands there."""

from collections.abc import Callable

import msgspec
from PyQt6.QtCore import QObject
from PyQt6.QtWidgets import QInputDialog, QWidget

from needle.core.edit.pages import set_page
from needle.core.kinds.gallery import Gallery
from needle.core.kinds.rowlist import RowList
from needle.core.render.texts import read_lines, texts_of
from needle.core.site.site import Site
from needle.core.tables.choosing import is_master
from needle.core.tables.editing import add_table, delete_table, rename_table
from needle.core.tables.goods import linking_to
from needle.core.tables.mastering import (
    bind,
    conditions_of,
    depart,
    departures_of,
    make_master,
    put_back,
    set_conditions,
    set_facts,
    set_part,
    unmake_master,
)
from needle.core.values.counting import counted
from needle.core.values.ids import Id, new_id
from needle.core.values.node import Node
from needle.core.values.tables import Table, TableColumn
from needle.ui.builder.canvas import Canvas
from needle.ui.builder.tables.columns import ChipDialog, FactsDialog
from needle.ui.builder.tables.conditions import ConditionsDialog
from needle.ui.builder.tables.files import TableFiles
from needle.ui.builder.tables.masterdialog import MasterDialog
from needle.ui.commands import Command
from needle.ui.language import tr
from needle.ui.session import Session

__all__ = ["TableCommands"]

_FIELDS = {"medium": tr("picture"), "alt": tr("alt text"), "address": tr("address")}
_FITS = {"medium": ("picture", "pictures"), "alt": ("text", "long"), "address": ("address",)}


class TableCommands(QObject):
    """What can be done with tables.

    Attributes:
        show: Shows the screen of tables; set by the stage.
        files: What can be done with the files of tables.
    """

    def __init__(self, session: Session, canvas: Canvas, window: QWidget) -> None:
        super().__init__(window)
        self._session, self._canvas, self._window = session, canvas, window
        self.show: Callable[[], object] = lambda: None
        self.files = TableFiles(session, window)
        self.step: Callable[[int], object] = lambda _: None

    def commands(self) -> list[Command]:
        """Return the commands, in the order of the Table menu."""
        return [
            Command(id="table.show", menu="Table", title=tr("Show the tables, or the page again"),
                    keys="Ctrl+T", keywords="rows csv local pages products towns",
                    run=lambda: self.show()),
            *self.files.commands(),
            Command(id="table.new", menu="Table", title=tr("New table…"), run=self.ask_new),
            Command(id="table.name", menu="Table", title=tr("Rename table…"), run=self._rename,
                    unless=self._no_table),
            Command(id="table.delete", menu="Table", title=tr("Delete table"), run=self._delete,
                    unless=self._no_table),
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
            Command(id="part.only", menu="Table", title=tr("Which rows’ pages have the part…"),
                    keywords="condition sold out empty only if", run=self._ask_part,
                    unless=self._no_part),
            Command(id="row.own", menu="Table", title=tr("Own words on this row's page"),
                    keywords="depart exception", run=self._own, unless=self._no_own),
            Command(id="row.hide", menu="Table", title=tr("Hide the part on this row's page"),
                    keywords="depart exception", run=self._hide, unless=self._no_part),
            Command(id="row.back", menu="Table", title=tr("Have the part follow again"),
                    run=self._back, unless=self._not_departed)]

    def doing(self) -> list[tuple[str, Callable[[], object]]]:
        """Return what is offered where tables are looked at."""
        files = self.files
        return [(tr("Read a CSV file…"), files.ask_file), (tr("New table…"), self.ask_new),
                (tr("Read a file into it…"), files.ask_into),
                (tr("Write it to a CSV file…"), files.ask_where),
                (tr("Read the file"), files.read_again), (tr("Keep ours"), files.write_over)]

    # Why not

    def _no_table(self) -> str:
        return "" if self.files.table() is not None else tr("There is no table yet.")

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

    def ask_new(self) -> None:
        """Ask for the name of a new table, and make it."""
        name, fine = QInputDialog.getText(self._window, tr("New table"), tr("Name"))
        if fine and name.strip():
            table = Table(id=new_id(), name=name.strip()[:60], columns=(
                TableColumn(id=new_id(), name=tr("Name")),))
            if self._session.edit(tr("new table"), lambda site: add_table(site, table)):
                self.files.shown(table.id)

    def _rename(self) -> None:
        table = self.files.table()
        if table is not None:
            name, fine = QInputDialog.getText(self._window, tr("Rename table"), tr("Name"),
                                              text=table.name)
            if fine:
                self._session.edit(tr("name of table"),
                                   lambda site: rename_table(site, table.id, name))

    def _delete(self) -> None:
        table = self.files.table()
        if table is not None:
            self._session.edit(tr("delete table"), lambda site: delete_table(site, table.id))

    # Pages

    def ask_master(self) -> None:
        """Ask of which table the page becomes one for each row."""
        asking = MasterDialog(self._session, self.files.table(), self._window)
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
            self.files.shown(table)

    def _ask_conditions(self) -> None:
        session, page = self._session, self._session.page
        table = session.site.table(page.master.table)
        if table is None:
            return
        asking = ConditionsDialog(
            tr("Which rows have a page"),
            tr("Rows that meet all of these; without any, all rows. Where several pages of a table "
               "fit a row, it has the one with the most conditions."),
            table, linking_to(session.site, table), page.master.only, session.site.language,
            self._window, page.master.besides)
        if asking.exec():
            wanted, besides = asking.conditions, asking.besides
            session.edit(tr("which rows have a page"),
                         lambda site: set_conditions(site, page.id, wanted, besides))

    def _ask_part(self) -> None:
        session, page, node = self._session, self._session.page, self._session.selection
        table = session.site.table(page.master.table)
        if table is None:
            return
        asking = ConditionsDialog(
            tr("Which rows’ pages have the part"),
            tr("The part stands on the pages of rows that meet all of these; without any, on all: "
               "what is said of things that are sold out, or of a town without a date."),
            table, linking_to(session.site, table), conditions_of(page, node),
            session.site.language, self._window)
        if asking.exec():
            wanted = asking.conditions
            if session.edit(tr("which rows have the part"),
                            lambda site: set_part(site, page.id, node, wanted)):
                self._canvas.show_again(node)

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
            _has(node, field) for field in _FIELDS) else tr(
                "Choose a picture or a part with an address first."))

    def _bind(self) -> None:
        session, node = self._session, self._session.node()
        table = session.site.table(session.page.master.table)
        if node is None or table is None:
            return
        options: dict[str, tuple[str, Id]] = {}
        for field, words in _FIELDS.items():
            if _has(node, field):
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


def _has(node: Node, field: str) -> bool:
    return hasattr(node, field) or (field == "medium" and isinstance(node, Gallery))
