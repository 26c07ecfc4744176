"""Tables of a site, and how a page becomes one page for each row of a table."""

from collections.abc import Mapping
from typing import Annotated

from needle.core.values.remembering import remembered
from needle.core.values.strict import ColumnPath, Id, OwnId, Strict, one_of, strict_meta
from needle.core.values.value import Value
from needle.core.values.words import Text

__all__ = ["COLUMN_KINDS", "LONGEST_CELL", "MEANINGS", "MOST_COLUMNS", "MOST_ROWS", "NO_MASTER",
           "SHAPES", "Bound", "ColumnPath", "Condition", "Departure", "Fact", "Master", "Match",
           "OnlyFor", "Table", "TableColumn", "TableRow"]

# How kinds of columns are called.
COLUMN_KINDS: Mapping[str, str] = {
    "text": "Text", "long": "Long text", "number": "Number", "money": "Money", "date": "Date",
    "yes": "Yes or no", "picture": "Picture", "pictures": "Several pictures", "choice": "Choice",
    "tags": "Tags", "address": "Address", "link": "Row of another table"}
# What a column may mean beyond its words, and the kinds that fit: what lists are chosen by, prices
# are worked out from, and searches are told.
MEANINGS: Mapping[str, tuple[str, tuple[str, ...]]] = {
    "price": ("Price", ("money", "number")), "sale": ("Sale price", ("money", "number")),
    "from": ("Sale begins", ("date",)), "until": ("Sale ends, that day included", ("date",)),
    "stock": ("Pieces in stock", ("number",)), "sku": ("Item number", ("text", "number")),
    "weight": ("Weight in grams", ("number",)),
    "tax": ("Tax in percent, if it is another", ("number",)),
    "option": ("Option: size, colour", ("text", "choice")), "added": ("Since when", ("date",)),
    "sold": ("Pieces sold", ("number",)), "featured": ("Shown first", ("yes",)),
    "together": ("Often bought with it", ("tags",)),
    "rating": ("Rating from 1 to 5", ("number",)), "ratings": ("How many rated it", ("number",)),
    "north": ("Degrees north", ("number",)), "east": ("Degrees east", ("number",))}
# How a value may be written out where it stands; see `tables.showing`.
SHAPES: Mapping[str, str] = {
    "": "As it is", "capitals": "CAPITALS", "small": "small letters", "first": "First letter large",
    "day": "Day and month", "long": "Whole date", "short": "Short date", "round": "Without cents",
    "counted": "With what it counts: 1 seat, 3 seats"}
MOST_ROWS, MOST_COLUMNS, LONGEST_CELL = 50_000, 60, 20_000
_COUNTED = Annotated[str, strict_meta("table-name", r"(?=.*\S)[^\x00-\x1f\x7f]{1,60}")]
_NAME = Annotated[str, strict_meta("table-name", r"(?=.*\S)[^\x00-\x1f\x7f]{1,80}")]


class TableColumn(Value, frozen=True):
    """A column: what its cells hold.

    Attributes:
        kind: A key of `COLUMN_KINDS`.
        choices: Of a choice: what may stand there.
        of: Of a row of another table: which table. Its cells hold what that row is called.
        means: A key of `MEANINGS`, or nothing.
        counts: Of a number: what it counts, in each form that the language of the site tells
            apart, in the order of CLDR's plural categories: ("seat", "seats").
    """

    id: OwnId
    name: _NAME
    kind: Annotated[str, one_of(*COLUMN_KINDS)] = "text"
    choices: tuple[str, ...] = ()
    of: Id = ""
    means: Annotated[str, one_of("", *MEANINGS)] = ""
    counts: tuple[_COUNTED, ...] = ()


class TableRow(Strict, frozen=True, array_like=True):
    """A row.

    Attributes:
        cells: What stands in it, a cell for each column, each in the one form of its kind (a
            date as 2027-08-12, a number with a dot); empty for nothing.
    """

    id: OwnId
    cells: tuple[str, ...]


class Match(Strict, frozen=True, omit_defaults=True, forbid_unknown_fields=True):
    """Where the cells below a heading of a file belong, as a person once said.

    Attributes:
        heading: As files have it, in small letters.
        column: Which column; empty for none.
    """

    heading: str
    column: Id = ""


class Table(Value, frozen=True):
    """A table.

    Attributes:
        columns: The first one names a row.
        matches: Headings of files that are called otherwise than the columns they belong to.
    """

    id: OwnId
    name: _NAME
    columns: tuple[TableColumn, ...] = ()
    rows: tuple[TableRow, ...] = ()
    matches: tuple[Match, ...] = ()

    def row(self, row_id: Id) -> TableRow | None:
        """Return a row by its id."""
        return remembered(self, "rows_by_id", _by_id).get(row_id)

    def row_called(self, label: str) -> TableRow | None:
        """Return the first row that is called so, in large or small letters."""
        return remembered(self, "rows_by_label", _by_label).get(label.casefold())

    def column(self, column_id: Id) -> TableColumn | None:
        """Return a column by its id."""
        return next((one for one in self.columns if one.id == column_id), None)

    def meaning(self, means: str) -> TableColumn | None:
        """Return the column of a meaning."""
        return next((one for one in self.columns if one.means == means), None)

    def place_of(self, column_id: Id) -> int:
        """Return the number of a column, from 0; -1 if it is gone."""
        return remembered(self, "places_by_id", _places_by_id).get(column_id, -1)

    def cell(self, row: TableRow, column_id: Id) -> str:
        """Return what stands in a cell; nothing if there is no such column."""
        place = self.place_of(column_id)
        return row.cells[place] if 0 <= place < len(row.cells) else ""

    def label(self, row: TableRow) -> str:
        """Return what a row is called."""
        return next((cell for cell in row.cells[:1] if cell), row.id)


def _by_id(table: Table) -> dict[str, TableRow]:
    return {row.id: row for row in table.rows}


def _places_by_id(table: Table) -> dict[str, int]:
    return {column.id: place for place, column in enumerate(table.columns)}


def _by_label(table: Table) -> dict[str, TableRow]:
    return {table.label(row).casefold(): row for row in reversed(table.rows)}


class Condition(Value, frozen=True):
    """Which rows a page, or a part of one, is made for.

    Attributes:
        column: Of the table; for "linked" and "unlinked" that of another one which links to it.
        test: "is", "isnt", "has" (also a tag), "more", "less", "filled", "empty", and whether
            rows of another table link to the row: "linked", "unlinked".
        value: In the form of the column's kind; unused for the last four.
    """

    column: OwnId
    test: Annotated[str, one_of("is", "isnt", "has", "more", "less", "filled", "empty", "linked",
                                "unlinked")] = "filled"
    value: str = ""


class OnlyFor(Value, frozen=True):
    """A part that only some rows' pages have: what is said of things that are sold out."""

    node: OwnId
    condition: Condition


class Bound(Value, frozen=True):
    """A field of a part whose value comes from a column: a picture, its alt text, an address.

    Attributes:
        field: Of the part: "medium", "alt" or "address".
    """

    node: OwnId
    field: Annotated[str, one_of("medium", "alt", "address")]
    column: OwnId


class Fact(Value, frozen=True):
    """What searches are told of each row's page, from a column.

    Attributes:
        field: Of `About`; from a column of money "price" takes the currency along.
    """

    field: Annotated[str, one_of("name", "starts", "ends", "place", "street", "price", "phone",
                                 "hours", "map")]
    column: OwnId


class Departure(Value, frozen=True):
    """What one row's page has of its own.

    Attributes:
        node: The part that departs.
        path: The text of it that is its own; empty if the part is hidden there.
        words: What stands there instead.
    """

    row: OwnId
    node: OwnId
    path: Annotated[str, strict_meta("text-path", r"[a-z0-9_.]{0,80}")] = ""
    words: tuple[Text, ...] = ()


class Master(Value, frozen=True):
    """How a page becomes one page for each row of a table.

    Attributes:
        table: The id of the table; empty for an ordinary page.
        only: Conditions that a row meets to get a page; all of them.
        besides: Rows get this page besides others of their table. Otherwise a row has the page
            whose conditions are the most exact, and that alone.
        slug, title, description: With values of columns, as words on the page have.
        apart: Parts of the page that follow the row otherwise than in words.
        parts: Parts that only some rows' pages have.
        facts: What searches are told, from columns.
        departures: What single pages have of their own.
    """

    table: Id = ""
    only: tuple[Condition, ...] = ()
    besides: bool = False
    slug: Text = ()
    title: Text = ()
    description: Text = ()
    apart: tuple[Bound, ...] = ()
    parts: tuple[OnlyFor, ...] = ()
    facts: tuple[Fact, ...] = ()
    departures: tuple[Departure, ...] = ()


NO_MASTER = Master()
