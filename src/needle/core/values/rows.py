"""What the page of a table's row knows of that row, besides its words."""

from decimal import Decimal

from needle.core.values.ids import Id
from needle.core.values.strict import Slug, Strict

__all__ = ["LONGEST_LABEL", "Above", "Amount", "Goods", "Offered", "RowOf"]

# So much of what a row is called is shown.
LONGEST_LABEL = 80


class Amount(Strict, frozen=True, forbid_unknown_fields=True):
    """An amount of money.

    Attributes:
        cell: As tables hold it: "24.00 EUR".
        words: As visitors read it.
    """

    cell: str
    words: str


class Offered(Strict, frozen=True, omit_defaults=True, forbid_unknown_fields=True):
    """One thing to buy: what a row stands for, or one of its options.

    Attributes:
        key: The row of the option; empty for the thing itself.
        name: Which option, as "Large, red"; empty for the row itself.
        sku: Its item number.
        price: What it costs; `None` where nothing is said.
        sale: What it costs while the sale runs; `None` for no sale.
        starts, ends: Days of the sale, as "2027-08-12", both included; empty for no limit.
        stock: Pieces that are there; `None` if nobody counts them.
        grams: What it weighs; 0 where nothing is said.
        tax: In percent, where it is another one than the shop's.
    """

    key: Id = ""
    name: str = ""
    sku: str = ""
    price: Amount | None = None
    sale: Amount | None = None
    starts: str = ""
    ends: str = ""
    stock: int | None = None
    grams: int = 0
    tax: str = ""

    @property
    def sold_out(self) -> bool:
        """Whether none is left."""
        return self.stock is not None and self.stock <= 0

    def costs_in(self, currency: str) -> bool:
        """Whether none of its prices names another currency than one."""
        named = {amount.cell.partition(" ")[2] for amount in (self.price, self.sale)
                 if amount is not None}
        return not currency or named <= {"", currency}


class Goods(Strict, frozen=True, omit_defaults=True, forbid_unknown_fields=True):
    """What a row offers.

    Attributes:
        offers: Its options, or the row itself.
        rating: From 1 to 5, with two places at most; empty if nobody rated it.
        ratings: How many rated it.
    """

    offers: tuple[Offered, ...] = ()
    rating: str = ""
    ratings: int = 0

    @property
    def best(self) -> Offered | None:
        """The offer that costs least apart from sales, of those that are left if any is."""
        priced = [(Decimal(one.price.cell.partition(" ")[0]), place, one)
                  for place, one in enumerate(self.offers) if one.price is not None]
        left = [one for one in priced if not one[2].sold_out] or priced
        return min(left)[2] if left else None

    @property
    def sold_out(self) -> bool:
        """Whether nothing of it is left."""
        return bool(self.offers) and all(one.sold_out for one in self.offers)


class Above(Strict, frozen=True, omit_defaults=True, forbid_unknown_fields=True):
    """A page above another one: a town's region, a thing's category."""

    page: Id
    slug: Slug
    name: str


class RowOf(Strict, frozen=True, omit_defaults=True):
    """Which row of which page's table an expanded page is for.

    Attributes:
        name: What that page is called.
        table: The row's table.
        label: What the row is called.
        goods: What it offers; `None` if its table has no prices, stock or ratings.
        above: The pages above it, the nearest one last.
    """

    page: Id = ""
    row: Id = ""
    name: str = ""
    table: Id = ""
    label: str = ""
    goods: Goods | None = None
    above: tuple[Above, ...] = ()
