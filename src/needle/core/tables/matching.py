"""Where the columns of a file belong: guessed from their headings, said by a person, remembered."""

import re
from collections.abc import Mapping, Sequence
from typing import NamedTuple

import msgspec

from needle.core.tables.csvfile import Sheet
from needle.core.values.ids import Id
from needle.core.values.tables import MEANINGS, Match, Table

__all__ = ["FRESH", "ID_COLUMN", "Plan", "guessed_links", "guessed_meanings",
           "plan_for", "with_matches"]

# The column of a file that says which row is which; a file without it is matched by its first one.
ID_COLUMN = "Needle id"
# Of a file's column: it becomes a new one of the table.
FRESH = "+"
# What headings are called that mean something, in languages that shops are run in; longer ones
# first, as "sale price" is no price.
_CALLED: Sequence[tuple[str, str]] = (
    ("until", r"(sale|offer|special).*(end\w*|until|to)|angebot.*(ende|bis)|fin.*(promo|offre)"),
    ("from", r"(sale|offer|special).*(start\w*|begin\w*|from)|angebot.*(beginn|von|ab)"),
    ("sale", r"sale|special|offer|reduced|angebot|aktionspreis|sonderpreis|promo|soldes?|oferta"),
    ("price", r"price|preis|prix|precio|prezzo|prijs"),
    ("stock", r"stock|quantity|qty|inventory|bestand|lager|anzahl|existencias|giacenza|voorraad"),
    ("sku", r"sku|item (no|number)|article (no|number)|art(ikel)?[. -]?(nr|nummer)|ean|gtin|ref"),
    ("ratings", r"(rating|review|bewertung)s?[ _-]?(count|number)|reviews|bewertungen"),
    ("rating", r"rating|stars|bewertung|sterne|note"),
    ("sold", r"sold|sales count|verkauft|vendus?|vendidos"),
    ("featured", r"featured|hervorgehoben|top"),
    ("option", r"size|colou?r|gr(ö|oe)(ß|ss)e|farbe|taille|couleur|talla|taglia|maat|kleur"),
    ("added", r"added|created|since|published|neu seit|angelegt"),
    ("north", r"lat|latitude|north|breite|breitengrad"),
    ("east", r"lon|lng|long|longitude|east|länge|längengrad"))
_SPLIT = re.compile(r"[\s_\-./()\[\]]+")


class Plan(NamedTuple):
    """Where what a file holds goes in a table.

    Attributes:
        where: For each column of the file: the id of a column, `FRESH`, or empty for nowhere.
        key: The column that says which row is which; empty for the ids that Needle wrote, or else
            the table's first one.
        keeps: Rows that the file lacks stay.
    """

    where: tuple[str, ...]
    key: Id = ""
    keeps: bool = False


def guessed_meanings(names: Sequence[str], kinds: Sequence[str]) -> tuple[str, ...]:
    """Return what columns of a file seem to mean: each meaning but "option" once, and only where
    the kind fits it."""
    taken: set[str] = set()
    found = []
    for name, kind in zip(names, kinds, strict=True):
        means = _guessed(name, kind, taken)
        if means != "option":
            taken.add(means)
        found.append(means)
    return tuple(found)


def guessed_links(sheet: Sheet, kinds: Sequence[str], tables: Sequence[Table]) -> tuple[Id, ...]:
    """Return for each column of a file the table whose rows all of its cells name; empty for
    none. The first column names the file's own rows."""
    found = []
    for place, kind in enumerate(kinds):
        cells = {row[place].strip() for row in sheet.rows if row[place].strip()} \
            if place and kind == "text" else set()
        found.append(next((table.id for table in tables if cells and all(
            table.row_called(cell) is not None for cell in cells)), ""))
    return tuple(found)


def _guessed(name: str, kind: str, taken: set[str]) -> str:
    words = " ".join(filter(None, _SPLIT.split(name.casefold())))
    for means, called in _CALLED:
        # Latitude is a word of its own; "platform" is none.
        if means not in taken and kind in MEANINGS[means][1] and re.search(
                rf"(?<!\w)(?:{called})(?!\w)", words):
            return means
    return ""


def plan_for(table: Table, sheet: Sheet) -> Plan:
    """Return where the columns of a file belong: by their names, as a person once said, or by what
    they seem to mean; what is none of that becomes a new column."""
    told = {one.heading: one.column for one in table.matches}
    named = {column.name.casefold(): column.id for column in table.columns}
    here = {column.id for column in table.columns}
    found: list[str] = []
    for name in sheet.names:
        low = name.casefold()
        place = "" if name == ID_COLUMN else named[low] if low in named else (
            told[low] if low in told and (told[low] in here or not told[low]) else FRESH)
        if place == FRESH and name != ID_COLUMN:
            place = _alike(table, name) or FRESH
        # Two columns of a file cannot go into one.
        found.append(FRESH if place and place != FRESH and place in found else place)
    return Plan(tuple(found))


def _alike(table: Table, name: str) -> Id:
    """Return the column that means what a heading seems to mean; empty for none."""
    for column in table.columns:
        if column.means and column.means != "option" and (
                _guessed(name, column.kind, set()) == column.means):
            return column.id
    return ""


def with_matches(table: Table, sheet: Sheet, plan: Plan) -> Table:
    """Return a table that remembers where the columns of a file belong that are called otherwise
    there."""
    names: Mapping[str, Id] = {column.name.casefold(): column.id for column in table.columns}
    held = {one.heading: one.column for one in table.matches}
    for name, place in zip(sheet.names, plan.where, strict=True):
        low = name.casefold()
        if name != ID_COLUMN and place != FRESH and names.get(low) != place:
            held[low] = place
    matches = tuple(Match(heading, column) for heading, column in held.items())
    return table if matches == table.matches else msgspec.structs.replace(table, matches=matches)
