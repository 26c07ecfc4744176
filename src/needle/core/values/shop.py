"""The shop of a site: what is sold, how it reaches people, and what is asked of them."""

from decimal import Decimal
from typing import Annotated

from needle.core.values.ids import Id
from needle.core.values.strict import OwnId, one_of, strict_meta, whole
from needle.core.values.value import Value

__all__ = ["COUPON_KINDS", "MOST_PIECES", "MOST_WAYS", "NO_SHOP", "WAY_KINDS", "Coupon", "Shop",
           "Way"]

WAY_KINDS = {"post": "is sent", "fetch": "is fetched"}
MOST_WAYS = 12
# Of one thing in a cart.
MOST_PIECES = 99
COUPON_KINDS = {"percent": "percent off", "amount": "an amount off",
                "carriage": "carriage for nothing"}
_DayOrNone = Annotated[str, strict_meta("day", r"(?:[0-9]{4}-[0-9]{2}-[0-9]{2})?")]
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


class Coupon(Value, frozen=True):
    """What is taken off for whoever knows its code.

    Attributes:
        code: As people type it; large and small letters are the same.
        kind: A key of `COUPON_KINDS`.
        value: Percent, or an amount; unused for carriage.
        from_sum: From which sum of the things on it holds; empty for any.
        starts, ends: Days on which it holds, both included; empty for no limit.
        most: So often in all; 0 for no limit.
        once: Once for each e-mail address.
    """

    id: OwnId
    code: Annotated[str, strict_meta("coupon", "[A-Z0-9-]{2,24}")]
    kind: Annotated[str, one_of(*COUPON_KINDS)] = "percent"
    value: _Money = ""
    from_sum: _Money = ""
    starts: _DayOrNone = ""
    ends: _DayOrNone = ""
    most: Annotated[int, whole(0, 1_000_000)] = 0
    once: bool = False


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
        coupons: What is taken off for a code.
    """

    table: Id = ""
    form: Id = ""
    cart: Id = ""
    currency: _Currency = ""
    tax: _Percent = ""
    included: bool = True
    ways: tuple[Way, ...] = ()
    coupons: tuple[Coupon, ...] = ()

    def coupon(self, code: str) -> Coupon | None:
        """Return the coupon of a code, however it is typed."""
        bare = "".join(code.split()).upper()
        return next((one for one in self.coupons if one.code == bare), None)

    def way(self, way_id: Id) -> Way | None:
        """Return a way by its id."""
        return next((one for one in self.ways if one.id == way_id), None)


NO_SHOP = Shop()
