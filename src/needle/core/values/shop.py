"""The shop of a site: what is sold, how it reaches people, and what is asked of them."""

from decimal import Decimal
from typing import Annotated

from needle.core.values.ids import Id
from needle.core.values.strict import OwnId, one_of, strict_meta, whole
from needle.core.values.value import Value

__all__ = ["COUPON_KINDS", "MOST_PIECES", "MOST_WAYS", "NO_SHOP", "PAY_KINDS", "WAY_KINDS",
           "Coupon", "Extra", "Land", "LeftCart", "PayWay", "Shop", "Step", "Way"]

WAY_KINDS = {"post": "is sent", "fetch": "is fetched"}
PAY_KINDS = {"later": "is paid later: transferred, or on fetching",
             "service": "is paid at once, through a payment service"}
MOST_WAYS = 12
# Of one thing in a cart.
MOST_PIECES = 99
COUPON_KINDS = {"percent": "percent off", "amount": "an amount off",
                "carriage": "carriage for nothing",
                "nth": "one free of each so many, the cheapest"}
_DayOrNone = Annotated[str, strict_meta("day", r"(?:[0-9]{4}-[0-9]{2}-[0-9]{2})?")]
_Money = Annotated[str, strict_meta("price", r"(?:[0-9]{1,9}(?:\.[0-9]{1,2})?)?")]
_Percent = Annotated[str, strict_meta("percent", r"(?:[0-9]{1,2}(?:\.[0-9]{1,2})?)?")]
_Currency = Annotated[str, strict_meta("currency", "(?:[A-Z]{3})?")]


class Land(Value, frozen=True):
    """A country to which orders go.

    Attributes:
        code: Two letters of ISO 3166-1.
        tax: In percent of what goes there; empty for none.
    """

    code: Annotated[str, strict_meta("land", "[A-Z]{2}")]
    tax: _Percent = ""


class Step(Value, frozen=True):
    """What carriage costs up to a weight."""

    grams: Annotated[int, whole(1, 100_000_000)]
    price: _Money = ""


class Way(Value, frozen=True):
    """A way in which an order reaches somebody.

    Attributes:
        kind: A key of `WAY_KINDS`.
        price: What it costs, "3.90"; empty for nothing. Unused where `steps` say it.
        free_from: From which sum of the things on it costs nothing; empty for never.
        lands: To which countries, by code; empty for all.
        steps: What it costs by weight, the lightest first; what weighs more goes another way.
    """

    id: OwnId
    name: str
    kind: Annotated[str, one_of(*WAY_KINDS)] = "post"
    price: _Money = ""
    free_from: _Money = ""
    lands: tuple[Annotated[str, strict_meta("land", "[A-Z]{2}")], ...] = ()
    steps: tuple[Step, ...] = ()

    def goes(self, land: str, grams: int) -> bool:
        """Whether things of a weight go to a country in this way."""
        return (not self.lands or land in self.lands) and (
            not self.steps or grams <= self.steps[-1].grams)

    def costs(self, things: Decimal, grams: int = 0) -> Decimal:
        """Return what it costs for things of a sum and a weight."""
        if self.free_from and things >= Decimal(self.free_from):
            return Decimal(0)
        step = next((one.price for one in self.steps if grams <= one.grams), self.price)
        return Decimal(step or "0")


class PayWay(Value, frozen=True):
    """A way in which an order is paid.

    Attributes:
        kind: A key of `PAY_KINDS`.
        words: What somebody is told who chose it: where to transfer to, say.
        service: Of a payment service: which of the site's.
    """

    id: OwnId
    name: Annotated[str, strict_meta("table-name", r"(?=.*\S)[^\x00-\x1f\x7f]{1,80}")]
    kind: Annotated[str, one_of(*PAY_KINDS)] = "later"
    words: Annotated[str, strict_meta("words", r"[^\x00-\x09\x0b-\x1f\x7f]{0,600}")] = ""
    service: Id = ""


class Extra(Value, frozen=True):
    """A thing that is offered to whoever orders something else, one piece at a better price.

    Attributes:
        row, option: What it is.
        percent: How much less it costs then; empty for nothing.
        words: Why they might want it.
        before: It is offered with the cart.
        after: It is offered once something was ordered.
    """

    row: OwnId
    option: Id = ""
    percent: _Percent = ""
    words: Annotated[str, strict_meta("one-line", r"[^\x00-\x1f\x7f]{0,200}")] = ""
    before: bool = True
    after: bool = True

    @property
    def key(self) -> str:
        """The key of its line in a cart."""
        return f"{self.row}.{self.option}" if self.option else self.row


class LeftCart(Value, frozen=True):
    """The one letter to whoever left a cart.

    Attributes:
        consent: The field of the order's form by which they agree to it; without their tick no
            letter is written.
        service: The mail service.
        hours: So long after they stopped.
    """

    consent: OwnId
    service: OwnId
    subject: Annotated[str, strict_meta("one-line", r"[^\x00-\x1f\x7f]{0,200}")] = ""
    words: Annotated[str, strict_meta("words", r"[^\x00-\x09\x0b-\x1f\x7f]{0,600}")] = ""
    hours: Annotated[int, whole(1, 168)] = 4


class Coupon(Value, frozen=True):
    """What is taken off for whoever knows its code.

    Attributes:
        code: As people type it; large and small letters are the same.
        kind: A key of `COUPON_KINDS`.
        value: Percent, an amount, or of how many one is free; unused for carriage.
        only: What it is for: a tag, a choice, a row that things name, or a thing; empty for all.
        auto: It holds by itself, without its code. Of several that hold, the one alone that takes
            most off is used.
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
    only: Annotated[str, strict_meta("one-line", r"[^\x00-\x1f\x7f]{0,200}")] = ""
    auto: bool = False


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
        pays: How an order is paid; without any, as its form says.
        lands: Countries to which orders go, the shop's own first; without any, nobody is asked.
        reverse: Businesses in another country that tell their tax number pay no tax here; they owe
            it there (reverse charge).
        extra: What is offered beside an order; `None` for nothing.
        left: The letter to whoever left a cart; `None` for none.
        tip: What a sum is called that people may give on top; empty where nobody is asked.
        seller: Who sells, as invoices say it: name, address, tax number, in lines.
    """

    table: Id = ""
    form: Id = ""
    cart: Id = ""
    currency: _Currency = ""
    tax: _Percent = ""
    included: bool = True
    ways: tuple[Way, ...] = ()
    coupons: tuple[Coupon, ...] = ()
    pays: tuple[PayWay, ...] = ()
    lands: tuple[Land, ...] = ()
    reverse: bool = False
    extra: Extra | None = None
    left: LeftCart | None = None
    tip: Annotated[str, strict_meta("one-line", r"[^\x00-\x1f\x7f]{0,80}")] = ""
    seller: Annotated[str, strict_meta("words", r"[^\x00-\x09\x0b-\x1f\x7f]{0,600}")] = ""

    def land(self, code: str) -> Land | None:
        """Return a country to which orders go; the shop's own for one that is none of them."""
        return next((one for one in self.lands if one.code == code),
                    self.lands[0] if self.lands else None)

    def pay(self, pay_id: Id) -> PayWay | None:
        """Return a way to pay by its id."""
        return next((one for one in self.pays if one.id == pay_id), None)

    def coupon(self, code: str) -> Coupon | None:
        """Return the coupon of a code, however it is typed."""
        bare = "".join(code.split()).upper()
        return next((one for one in self.coupons if one.code == bare), None)

    def way(self, way_id: Id) -> Way | None:
        """Return a way by its id."""
        return next((one for one in self.ways if one.id == way_id), None)


NO_SHOP = Shop()
