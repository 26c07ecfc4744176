"""What rows offer: prices, sales, stock and ratings, from the columns that mean those.

Options of a thing (sizes, colours) are rows of a second table that link to it, each with what it
has of its own; what such a row leaves empty is as the thing itself has it. Reviews are rows of a
table that link to what they are about and hold a rating each.
"""

from collections.abc import Iterable, Mapping, Sequence
from decimal import ROUND_CEILING, ROUND_HALF_UP, Decimal
from typing import NamedTuple

from needle.core.site.site import Site
from needle.core.tables.cells import amount_words, number_of
from needle.core.values.ids import Id
from needle.core.values.language import Language
from needle.core.values.remembering import remembered
from needle.core.values.rows import Amount, Goods, Offered
from needle.core.values.tables import Table, TableColumn, TableRow

__all__ = ["Linking", "goods_of", "linked_to", "linking_to", "offers_goods", "offers_prices",
           "rows_linking", "same_heads"]

# A rating alone makes no goods of rows: those of a table of reviews have one each.
_OFFERS = ("price", "stock", "ratings")
_HEAVIEST = 10_000_000
_HUNDREDTH = Decimal("0.01")


class Linking(NamedTuple):
    """A table whose rows link to those of another, and its column that does.

    Attributes:
        of_goods: What they link to is sold: it has prices, stock or an item number.
    """

    table: Table
    column: TableColumn
    of_goods: bool

    @property
    def options(self) -> bool:
        """Whether its rows are options of what they link to: of things, not of groups of them."""
        return self.of_goods and self.table.meaning("option") is not None

    @property
    def reviews(self) -> bool:
        """Whether its rows say how good what they link to is."""
        return self.table.meaning("rating") is not None and not _has(self.table, _OFFERS)


def linking_to(site: Site, table: Table) -> tuple[Linking, ...]:
    """Return the tables whose rows link to those of a table."""
    of_goods = _has(table, _OFFERS) or table.meaning("sku") is not None
    return tuple(Linking(other, column, of_goods)
                 for other in site.tables for column in other.columns
                 if column.kind == "link" and column.of == table.id)


def _has(table: Table, meanings: Iterable[str]) -> bool:
    return any(table.meaning(means) is not None for means in meanings)


def linked_to(site: Site, table: Table, row: TableRow,
              ) -> tuple[tuple[Linking, ...], tuple[tuple[TableRow, ...], ...]]:
    """Return the tables whose rows link to those of a table, and of each the rows that link to
    this one."""
    linking, label = linking_to(site, table), table.label(row)
    return linking, tuple(rows_linking(one, label) for one in linking)


def rows_linking(linking: Linking, label: str) -> tuple[TableRow, ...]:
    """Return the rows that link to a row that is called so."""
    table, column, _ = linking
    return remembered(table, f"linking {column.id}", lambda table: _by_cell(table, column)).get(
        label.casefold(), ())


def _by_cell(table: Table, column: TableColumn) -> Mapping[str, tuple[TableRow, ...]]:
    found: dict[str, list[TableRow]] = {}
    for row in table.rows:
        if cell := table.cell(row, column.id):
            found.setdefault(cell.casefold(), []).append(row)
    return {label: tuple(rows) for label, rows in found.items()}


def offers_goods(table: Table, linking: Iterable[Linking]) -> bool:
    """Whether rows of a table have prices, stock or ratings."""
    return _has(table, _OFFERS) or any(one.options or one.reviews for one in linking)


def offers_prices(site: Site, table: Table) -> bool:
    """Whether a column says what rows of a table cost, or their options."""
    return table.meaning("price") is not None or any(
        one.options and one.table.meaning("price") for one in linking_to(site, table))


def goods_of(table: Table, row: TableRow, linking: Sequence[Linking],
             linked: tuple[tuple[TableRow, ...], ...], language: Language) -> Goods | None:
    """Return what a row offers; `None` if its table has nothing of that kind.

    Args:
        linking: As `linking_to` returns them.
        linked: Of each, the rows that link to this one.
    """
    if not offers_goods(table, linking):
        return None
    # What a row offers is asked for by its page and by each list, at every edit of another row.
    known: dict[Id, _Known] = remembered(table.columns[0], "goods", lambda _: {})
    held = known.get(row.id)
    if held is not None and held.row is row and held.columns is table.columns and (
            held.language == language and held.linked == linked
            and same_heads(held.linking, linking)):
        return held.goods
    goods = _goods_of(table, row, linking, linked, language)
    known[row.id] = _Known(row, table.columns, tuple(linking), tuple(linked), language, goods)
    return goods


class _Known(NamedTuple):
    """What a row offers, and what it was worked out of."""

    row: TableRow
    columns: tuple[TableColumn, ...]
    linking: tuple[Linking, ...]
    linked: tuple[tuple[TableRow, ...], ...]
    language: Language
    goods: Goods


def same_heads(one: Sequence[Linking], other: Sequence[Linking]) -> bool:
    """Whether the same columns of the same tables link, whatever their rows are."""
    return len(one) == len(other) and all(
        old.table.columns is new.table.columns and old.column is new.column
        and old.of_goods == new.of_goods for old, new in zip(one, other, strict=True))


def _goods_of(table: Table, row: TableRow, linking: Sequence[Linking],
              linked: Sequence[tuple[TableRow, ...]], language: Language) -> Goods:
    own = _offered(table, row, language)
    options = [_option(one.table, option, own, language)
               for one, rows in zip(linking, linked, strict=True) if one.options
               for option in rows]
    rating, ratings = _rated(table, row, linking, linked)
    offers = tuple(options) or ((own,) if own != Offered() else ())
    return Goods(offers=offers, rating=rating, ratings=ratings)


def _cell(table: Table, row: TableRow, means: str) -> str:
    column = table.meaning(means)
    return table.cell(row, column.id) if column is not None else ""


def _amount(cell: str, language: Language) -> Amount | None:
    return Amount(cell, amount_words(cell, language)) if number_of(cell) is not None else None


def _offered(table: Table, row: TableRow, language: Language) -> Offered:
    pieces = number_of(_cell(table, row, "stock"))
    price, sale = (_amount(_cell(table, row, means), language) for means in ("price", "sale"))
    if price is None or (sale is not None and not _lower(sale, price)):
        sale = None  # What is not cheaper is no sale.
    return Offered(sku=_cell(table, row, "sku"), price=price, sale=sale,
                   starts=_cell(table, row, "from") if sale else "",
                   ends=_cell(table, row, "until") if sale else "",
                   stock=None if pieces is None else int(pieces), grams=_grams(table, row),
                   tax=_percent(_cell(table, row, "tax")))


def _grams(table: Table, row: TableRow) -> int:
    weight = number_of(_cell(table, row, "weight"))
    whole = int(weight.to_integral_value(ROUND_CEILING)) if weight is not None else 0
    return max(0, min(whole, _HEAVIEST))


def _percent(cell: str) -> str:
    number = number_of(cell)
    return f"{number.normalize():f}" if number is not None and 0 <= number < 100 and (
        number == number.quantize(_HUNDREDTH)) else ""


def _lower(one: Amount, other: Amount) -> bool:
    less, more = number_of(one.cell), number_of(other.cell)
    alike = one.cell.partition(" ")[2] == other.cell.partition(" ")[2]
    return alike and less is not None and more is not None and less < more


def _option(table: Table, row: TableRow, whole: Offered, language: Language) -> Offered:
    own = _offered(table, row, language)
    name = ", ".join(filter(None, (table.cell(row, column.id) for column in table.columns
                                   if column.means == "option")))
    # A price of its own leaves the sale of the whole thing behind.
    priced = own if own.price is not None else whole
    return Offered(key=row.id, name=name or table.label(row), sku=own.sku, price=priced.price,
                   sale=priced.sale, starts=priced.starts, ends=priced.ends,
                   stock=own.stock if table.meaning("stock") is not None else whole.stock,
                   grams=own.grams or whole.grams, tax=own.tax or whole.tax)


def _rated(table: Table, row: TableRow, linking: Sequence[Linking],
           linked: Sequence[tuple[TableRow, ...]]) -> tuple[str, int]:
    """Return the mean of what people gave, and how many they were."""
    given = [number for one, rows in zip(linking, linked, strict=True)
             if one.reviews for other in rows
             if (number := _stars(_cell(one.table, other, "rating"))) is not None]
    if given:
        mean = sum(given, Decimal(0)) / len(given)
        return f"{mean.quantize(_HUNDREDTH, ROUND_HALF_UP).normalize():f}", len(given)
    if not _has(table, _OFFERS):
        return "", 0
    mean_told, count = _stars(_cell(table, row, "rating")), number_of(_cell(table, row, "ratings"))
    if mean_told is None:
        return "", 0
    # A rating that nobody is said to have given is one person's.
    return f"{mean_told.normalize():f}", max(1, int(count)) if count is not None else 1


def _stars(cell: str) -> Decimal | None:
    number = number_of(cell)
    return number if number is not None and 1 <= number <= 5 else None
