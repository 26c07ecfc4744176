"""What somebody has put aside to buy, as their browser keeps it.

It says what and how many, and at which price it was seen; what that costs is never taken from it.
"""

import re
from collections.abc import Iterable
from typing import NamedTuple

from needle.core.values.ids import Id
from needle.core.values.shop import MOST_PIECES
from needle.core.values.strict import Strict

__all__ = ["EMPTY", "MOST_LINES", "Cart", "CartLine", "cart_from", "words_of"]

MOST_LINES = 40
# Of signs that a cookie holds without quotes.
_ID = "[a-z][a-z0-9_-]{0,15}"
_LINE = re.compile(rf"({_ID})(?:\.({_ID}))?\*([1-9][0-9]?):([0-9]{{0,12}})")
_WAY = re.compile(rf"~({_ID})")
_CODE = re.compile("[A-Z0-9-]{2,24}")
_BETWEEN = "!"


class CartLine(NamedTuple):
    """Some pieces of one thing.

    Attributes:
        row, option: What is meant.
        pieces: How many.
        seen: What one cost when it was put in, in hundredths; empty if nothing was said.
    """

    row: Id
    option: Id
    pieces: int
    seen: str = ""

    @property
    def key(self) -> str:
        """What tells it from other lines."""
        return f"{self.row}.{self.option}" if self.option else self.row


class Cart(Strict, frozen=True):
    """A cart.

    Attributes:
        way: How the order is to reach its person; empty until they chose.
        code: Of the coupon that they typed.
    """

    lines: tuple[CartLine, ...] = ()
    way: Id = ""
    code: str = ""

    def with_line(self, line: CartLine) -> "Cart":
        """Return it with a line in the place of the one of its key, or after all others; without
        it for no piece. What is more than a cart holds is left out."""
        kept = [one for one in self.lines if one.key != line.key]
        pieces = min(line.pieces, MOST_PIECES)
        place = next((n for n, one in enumerate(self.lines) if one.key == line.key), len(kept))
        if pieces > 0:
            kept.insert(place, line._replace(pieces=pieces))
        return Cart(tuple(kept[:MOST_LINES]), self.way, self.code)

    def plus(self, line: CartLine) -> "Cart":
        """Return it with some pieces more."""
        held = next((one.pieces for one in self.lines if one.key == line.key), 0)
        return self.with_line(line._replace(pieces=held + line.pieces))

    def sent_by(self, way: Id) -> "Cart":
        """Return it with another way to its person."""
        return Cart(self.lines, way, self.code)

    def with_code(self, code: str) -> "Cart":
        """Return it with the code of a coupon; without one for what cannot be a code."""
        bare = "".join(code.split()).upper()
        return Cart(self.lines, self.way, bare if _CODE.fullmatch(bare) else "")

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
            cart = cart.with_line(CartLine(found[1], found[2] or "", int(found[3]), found[4]))
        elif found := _WAY.fullmatch(part):
            cart = cart.sent_by(found[1])
        elif part.startswith("%"):
            cart = cart.with_code(part[1:])
    return cart


def words_of(cart: Cart) -> str:
    """Return a cart as a cookie holds it."""
    parts: Iterable[str] = (f"{line.key}*{line.pieces}:{line.seen}" for line in cart.lines)
    return _BETWEEN.join([*parts, *([f"~{cart.way}"] if cart.way else []),
                          *([f"%{cart.code}"] if cart.code else [])])
