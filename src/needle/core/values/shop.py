"""The shop of a site: what is sold, how it reaches people, and what is asked of them."""

from decimal import Decimal
from typing import Annotated

from needle.core.values.ids import Id
from needle.core.values.strict import OwnId, one_of, strict_meta
from needle.core.values.value import Value

__all__ = ["MOST_PIECES", "MOST_WAYS", "NO_SHOP", "WAY_KINDS", "Shop", "Way"]

WAY_KINDS = {"post": "is sent", "fetch": "is fetched"}
MOST_WAYS = 12
# Of one thing in a cart.
MOST_PIECES = 99
_Money = Annotated[str, strict_meta("price", r"(?:[0-9]{1,9}(?:\.[0-9]{1,2})?)?")]
_Percent = Annotated[str, strict_meta("percent", r"(?:[0-9]{1,2}(?:\.[0-9]{1,2})?)?")]
_Currency = Annotated[str, strict_meta("currency", "(?:[A-Z]{3})?")]


class Way(Value, frozen=True):
    """A way in which an order reaches somebody.

    Attributes:
        kind: A key of `WAY_KINDS`.
        price: What it costs, "3.90"; empty for nothing.
        free_from: From which sum of the things on it costs nothing; empty for never.
    """

    id: OwnId
    name: str
    kind: Annotated[str, one_of(*WAY_KINDS)] = "post"
    price: _Money = ""
    free_from: _Money = ""

    def costs(self, things: Decimal) -> Decimal:
        """Return what it costs for things of a sum."""
        if self.free_from and things >= Decimal(self.free_from):
            return Decimal(0)
        return Decimal(self.price or "0")


class Shop(Value, frozen=True):
    """What a site sells.

    Attributes:
        table: The table whose rows are sold; empty for no shop.
        form: The form that an order is made with.
        cart: The page on which the cart stands.
        currency: Of all prices; three letters of ISO 4217.
        tax: In percent; empty for none.
        included: Prices hold the tax; otherwise it comes on top.
        ways: How an order reaches somebody.
    """

    table: Id = ""
    form: Id = ""
    cart: Id = ""
    currency: _Currency = ""
    tax: _Percent = ""
    included: bool = True
    ways: tuple[Way, ...] = ()

    def way(self, way_id: Id) -> Way | None:
        """Return a way by its id."""
        return next((one for one in self.ways if one.id == way_id), None)


NO_SHOP = Shop()
