"""Taking a file into a table: a new one, or what somebody changed in the file of one."""

import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass

import msgspec

from needle.core.tables.cells import CellError, taken
from needle.core.tables.csvfile import Sheet, SheetError, written
from needle.core.tables.matching import FRESH, ID_COLUMN, Plan, plan_for, with_matches
from needle.core.values.counting import counted
from needle.core.values.ids import Id
from needle.core.values.language import Language
from needle.core.values.tables import COLUMN_KINDS, MOST_COLUMNS, Table, TableColumn, TableRow

__all__ = ["Report", "as_csv", "guessed_kinds", "made_table", "taken_again"]

_PICTURES = (".jpg", ".jpeg", ".png", ".webp", ".gif", ".avif", ".svg")
_SEVERAL = re.compile(rf"(?:{'|'.join(map(re.escape, _PICTURES))})\s*[,;|\n]")
_LONG = 90
_MOST_FAULTS = 12
# A column is of the first kind that fits all of its cells.
_TRIED = ("date", "yes", "number", "money", "address")


@dataclass(frozen=True, slots=True)
class Report:
    """What taking a file changed.

    Attributes:
        added, changed, removed: Rows, by what they are called.
        notes: What was put right, or left as it was, in words.
    """

    added: tuple[str, ...] = ()
    changed: tuple[str, ...] = ()
    removed: tuple[str, ...] = ()
    notes: tuple[str, ...] = ()

    def words(self) -> str:
        """Return it in one line."""
        parts = [f"{counted(len(rows), 'row')} {what}" for rows, what in (
            (self.added, "new"), (self.changed, "changed"), (self.removed, "gone")) if rows]
        return "; ".join([", ".join(parts) or "nothing changed", *self.notes[:6]])


def as_csv(table: Table, with_ids: bool = True) -> bytes:
    """Return a table as a CSV file.

    Args:
        with_ids: Say which row is which in a last column, so that the file can be read back.
    """
    names = [*(column.name for column in table.columns), *([ID_COLUMN] if with_ids else [])]
    return written(names, ((*row.cells, row.id) if with_ids else row.cells for row in table.rows))


def guessed_kinds(sheet: Sheet, language: Language) -> tuple[str, ...]:
    """Return what kind each column of a file seems to be."""
    return tuple(_guessed(name, [row[place] for row in sheet.rows if row[place].strip()], language)
                 for place, name in enumerate(sheet.names))


def _guessed(name: str, cells: Sequence[str], language: Language) -> str:
    if not cells:
        return "text"
    if all(cell.lower().strip().endswith(_PICTURES) for cell in cells):
        # Several of them in one cell are parted by signs that no name of a file has.
        return "pictures" if any(_SEVERAL.search(cell.lower()) for cell in cells) else "picture"
    if "tags" in name.casefold() or "categories" in name.casefold():
        return "tags"
    for kind in _TRIED:
        if kind == "address" and not all("." in cell for cell in cells):
            continue
        if kind == "yes" and all(cell.strip() in "01" for cell in cells):
            continue
        column = TableColumn(id="c", name="c", kind=kind)
        if all(_fits(column, cell, language) for cell in cells):
            return kind
    return "long" if any("\n" in cell or len(cell) > _LONG for cell in cells) else "text"


def _fits(column: TableColumn, cell: str, language: Language) -> bool:
    try:
        taken(column, cell, language)
    except CellError:
        return False
    return True


def made_table(sheet: Sheet, name: str, kinds: Sequence[str], language: Language,
               ids: Callable[[], Id], means: Sequence[str] = (), of: Sequence[Id] = (),
               ) -> tuple[Table, Report]:
    """Return a new table of what a file holds.

    Args:
        kinds: Of each column, as `guessed_kinds` or the person says; empty to leave it out.
        means: Of each column, as `guessed_meanings` or the person says; without, none means
            anything.
        of: Of each column that names rows of another table, which one.

    Raises:
        SheetError: Cells do not fit the kind of their column, or no column is left; nothing is
            taken then.
    """
    places = [place for place, one in enumerate(sheet.names)
              if one != ID_COLUMN and kinds[place]]
    if not places:
        raise SheetError("sheet-nothing")
    columns = tuple(TableColumn(id=ids(), name=sheet.names[place], kind=kinds[place],
                                means=means[place] if means else "",
                                of=of[place] if of and kinds[place] == "link" else "")
                    for place in places)
    rows = [TableRow(ids(), cells) for cells in _cells(sheet, columns, places, language)]
    table = Table(id=ids(), name=name, columns=columns, rows=tuple(rows))
    return table, Report(added=tuple(map(table.label, rows)), notes=sheet.notes)


def _cells(sheet: Sheet, columns: Sequence[TableColumn], places: Sequence[int],
           language: Language) -> list[tuple[str, ...]]:
    """Return the cells of each row, each in the form of its column.

    Raises:
        SheetError: Some do not fit.
    """
    faults: list[str] = []
    found = []
    for line, row in zip(sheet.lines, sheet.rows, strict=True):
        cells = []
        for column, place in zip(columns, places, strict=True):
            try:
                cells.append(taken(column, row[place], language))
            except CellError as error:
                faults.append(f"line {line}, {column.name}: {error}")
                cells.append("")
        found.append(tuple(cells))
    if faults:
        more = f" And {len(faults) - _MOST_FAULTS} more." if len(faults) > _MOST_FAULTS else ""
        raise SheetError("sheet-cells", count=len(faults),
                         faults="\n".join(faults[:_MOST_FAULTS]) + more)
    return found


def taken_again(table: Table, sheet: Sheet, language: Language, ids: Callable[[], Id],
                plan: Plan | None = None) -> tuple[Table, Report]:
    """Return a table with what a file holds, and what that changed.

    A column that the file lacks stays as it is.

    Args:
        plan: Where its columns go, and how rows are known; without, as `plan_for` says.

    Raises:
        SheetError: Cells do not fit the kind of their column, two go into one column, or the file
            lacks the column that says which row is which; nothing is taken then.
    """
    plan = plan or plan_for(table, sheet)
    notes = list(sheet.notes)
    places = {place: number for number, place in enumerate(plan.where) if place not in ("", FRESH)}
    if len(places) < sum(place not in ("", FRESH) for place in plan.where):
        raise SheetError("sheet-twice")
    if plan.key and plan.key not in places:
        raise SheetError("sheet-key")
    known = [column for column in table.columns if column.id in places]
    notes += [f"the file has no column “{column.name}”: its cells stay as they are"
              for column in table.columns if column.id not in places]
    fresh = _fresh_columns(table, sheet, plan, language, ids, notes)
    new = [number for number, place in enumerate(plan.where) if place == FRESH]
    whole = [*known, *fresh]
    cells = _cells(sheet, whole, [*(places[column.id] for column in known), *new], language)
    columns = (*table.columns, *fresh)
    rows = _matched(table, sheet, columns, whole, cells, ids, plan)
    made = msgspec.structs.replace(table, columns=columns, rows=tuple(rows))
    return with_matches(made, sheet, plan), _report(table, made, notes)


def _fresh_columns(table: Table, sheet: Sheet, plan: Plan, language: Language,
                   ids: Callable[[], Id], notes: list[str]) -> list[TableColumn]:
    held = {column.name.casefold() for column in table.columns}
    kinds = guessed_kinds(sheet, language)
    fresh = []
    for number, place in enumerate(plan.where):
        if place == FRESH:
            name = sheet.names[number]
            while name.casefold() in held:
                name += " 2"
            held.add(name.casefold())
            fresh.append(TableColumn(id=ids(), name=name, kind=kinds[number]))
    if len(table.columns) + len(fresh) > MOST_COLUMNS:
        raise SheetError("sheet-columns", most=MOST_COLUMNS,
                         count=len(table.columns) + len(fresh))
    notes += [f"new column “{column.name}” ({COLUMN_KINDS[column.kind].lower()})"
              for column in fresh]
    return fresh


def _matched(table: Table, sheet: Sheet, columns: Sequence[TableColumn],
             given: Sequence[TableColumn], cells: Sequence[tuple[str, ...]],
             ids: Callable[[], Id], plan: Plan) -> list[TableRow]:
    """Return the rows of the file, each with the id and the other cells of the row that it was;
    with those before them that the file lacks, if they stay."""
    told = sheet.names.index(ID_COLUMN) if ID_COLUMN in sheet.names and not plan.key else -1
    known_by = plan.key or columns[0].id
    by_id = {row.id: row for row in table.rows}
    by_key: dict[str, list[TableRow]] = {}
    for row in reversed(table.rows):
        by_key.setdefault(table.cell(row, known_by).casefold(), []).append(row)
    at = {column.id: place for place, column in enumerate(given)}
    key = at.get(known_by, -1)
    used: dict[Id, TableRow] = {}
    rows = []
    for raw, values in zip(sheet.rows, cells, strict=True):
        was = by_id.get(raw[told].strip()) if told >= 0 else None
        if was is None and told < 0 and key >= 0 and values[key]:
            same = by_key.get(values[key].casefold(), [])
            was = same.pop() if same else None
        if was is not None and was.id in used:
            was = None
        old = was.cells if was else ()
        made = tuple(values[at[column.id]] if column.id in at else
                     old[number] if number < len(old) else ""
                     for number, column in enumerate(columns))
        row = was if was is not None and was.cells == made else TableRow(
            was.id if was else ids(), made)
        used[row.id] = row
        rows.append(row)
    if not plan.keeps:
        return rows
    wider = ("",) * (len(columns) - len(table.columns))
    return [*(used.get(row.id) or (TableRow(row.id, row.cells + wider) if wider else row)
              for row in table.rows), *(row for row in rows if row.id not in by_id)]


def _report(old: Table, new: Table, notes: Sequence[str]) -> Report:
    before = {row.id: row for row in old.rows}
    after = {row.id for row in new.rows}
    return Report(
        tuple(new.label(row) for row in new.rows if row.id not in before),
        tuple(new.label(row) for row in new.rows
              if row.id in before and before[row.id].cells != row.cells),
        tuple(old.label(row) for row in old.rows if row.id not in after), tuple(notes))
