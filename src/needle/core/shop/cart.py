"""What somebody has put aside to buy, as their browser keeps it.

It says what and how many, and at which price it was seen; what that costs is never taken from it.
"""

import re
from collections.abc import Iterable
from decimal import Decimal
from typing import NamedTuple

import msgspec

from needle.core.values.ids import Id
from needle.core.values.shop import MOST_PIECES
from needle.core.values.strict import Strict

__all__ = ["EMPTY", "MOST_LINES", "Cart", "CartLine", "cart_from", "words_of"]

MOST_LINES = 40
_MOST_TIP = Decimal(10_000)
# Of signs that a cookie holds without quotes.
_ID = "[a-z][a-z0-9_-]{0,15}"
_LINE = re.compile(rf"({_ID})(?:\.({_ID}))?\*([1-9][0-9]?):([0-9]{{0,12}})(?:=([ow]))?")
_WAY = re.compile(rf"~({_ID})")
_PAY = re.compile(f"/({_ID})")
_LAND = re.compile("[A-Z]{2}")
_FIRM = re.compile("[A-Z]{2}[A-Z0-9]{2,13}")
_TOKEN = re.compile("[a-zA-Z0-9_-]{16,32}")
_CODE = re.compile("[A-Z0-9-]{2,24}")
_TIP = re.compile("[1-9][0-9]{0,5}")
_BETWEEN = "!"


class CartLine(NamedTuple):
    """Some pieces of one thing.

    Attributes:
        row, option: What is meant.
        pieces: How many.
        seen: What one cost when it was put in, in hundredths; empty if nothing was said.
        by: Why it was put in: "o" for the offer beside an order, "w" for what is often bought
            with another thing, empty for itself.
    """

    row: Id
    option: Id
    pieces: int
    seen: str = ""
    by: str = ""

    @property
    def key(self) -> str:
        """What tells it from other lines."""
        return f"{self.row}.{self.option}" if self.option else self.row


class Cart(Strict, frozen=True):
    """A cart.

    Attributes:
        way: How the order is to reach its person; empty until they chose.
        pay: How it is paid; empty until they chose.
        code: Of the coupon that they typed.
        land: The country that it goes to, by code; empty for the shop's own.
        firm: The tax number of the business that orders; empty for a person.
        tip: What they give on top, in hundredths; 0 for nothing.
        token: What tells it from every other cart, so that it is ordered once; empty until
            something is in it.
    """

    lines: tuple[CartLine, ...] = ()
    way: Id = ""
    code: str = ""
    pay: Id = ""
    token: str = ""
    land: str = ""
    firm: str = ""
    tip: int = 0

    def with_line(self, line: CartLine) -> "Cart":
        """Return it with a line in the place of the one of its key, or after all others; without
        it for no piece. What is more than a cart holds is left out."""
        kept = [one for one in self.lines if one.key != line.key]
        pieces = min(line.pieces, MOST_PIECES)
        place = next((n for n, one in enumerate(self.lines) if one.key == line.key), len(kept))
        if pieces > 0:
            kept.insert(place, line._replace(pieces=pieces))
        return msgspec.structs.replace(self, lines=tuple(kept[:MOST_LINES]))

    def plus(self, line: CartLine) -> "Cart":
        """Return it with some pieces more."""
        held = next((one.pieces for one in self.lines if one.key == line.key), 0)
        return self.with_line(line._replace(pieces=held + line.pieces))

    def sent_by(self, way: Id) -> "Cart":
        """Return it with another way to its person."""
        return msgspec.structs.replace(self, way=way)

    def paid_by(self, pay: Id) -> "Cart":
        """Return it with another way to pay."""
        return msgspec.structs.replace(self, pay=pay)

    def going_to(self, land: str) -> "Cart":
        """Return it going to another country."""
        return msgspec.structs.replace(self, land=land if _LAND.fullmatch(land) else "")

    def ordered_by(self, firm: str) -> "Cart":
        """Return it for the business of a tax number, as people type it; for a person where that
        cannot be one."""
        bare = re.sub(r"[\s.-]", "", firm).upper()
        return msgspec.structs.replace(self, firm=bare if _FIRM.fullmatch(bare) else "")

    def giving(self, tip: Decimal) -> "Cart":
        """Return it with a sum on top; with none for one that nobody gives."""
        hundredths = str(int(tip * 100)) if tip.is_finite() and tip < _MOST_TIP else ""
        return msgspec.structs.replace(
            self, tip=int(hundredths) if _TIP.fullmatch(hundredths) else 0)

    def known_by(self, token: str) -> "Cart":
        """Return it with what tells it from others."""
        return msgspec.structs.replace(self, token=token if _TOKEN.fullmatch(token) else "")

    def with_code(self, code: str) -> "Cart":
        """Return it with the code of a coupon; without one for what cannot be a code."""
        bare = "".join(code.split()).upper()
        return msgspec.structs.replace(self, code=bare if _CODE.fullmatch(bare) else "")

    @property
    def pieces(self) -> int:
        """How many pieces are in it."""
        return sum(line.pieces for line in self.lines)


EMPTY = Cart()


def cart_from(words: str) -> Cart:
    """Return the cart that a cookie tells of; what makes no sense in it is left out."""
    cart = EMPTY
    for part in words[:4000].split(_BETWEEN):
        if found := _LINE.fullmatch(part):
            cart = cart.with_line(CartLine(
                found[1], found[2] or "", int(found[3]), found[4], found[5] or ""))
        elif found := _WAY.fullmatch(part):
            cart = cart.sent_by(found[1])
        elif found := _PAY.fullmatch(part):
            cart = cart.paid_by(found[1])
        elif part.startswith("+"):
            cart = cart.going_to(part[1:])
        elif part.startswith("&"):
            cart = cart.ordered_by(part[1:])
        elif part.startswith("$") and _TIP.fullmatch(part[1:]):
            cart = cart.giving(Decimal(part[1:]) / 100)
        elif part.startswith("@"):
            cart = cart.known_by(part[1:])
        elif part.startswith("%"):
            cart = cart.with_code(part[1:])
    return cart


def words_of(cart: Cart) -> str:
    """Return a cart as a cookie holds it."""
    parts: Iterable[str] = (
        f"{line.key}*{line.pieces}:{line.seen}{f'={line.by}' if line.by else ''}"
        for line in cart.lines)
    rest = [f"{sign}{value}" for sign, value in (
        ("~", cart.way), ("/", cart.pay), ("%", cart.code), ("+", cart.land), ("&", cart.firm),
        ("$", cart.tip), ("@", cart.token)) if value]
    return _BETWEEN.join([*parts, *rest])
