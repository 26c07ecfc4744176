"""Orders of argument: which parts a page has, and in which order it says them."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

__all__ = ["ORDERS", "Order", "orders_for"]


@dataclass(frozen=True, slots=True)
class Order:
    """How a page argues.

    Attributes:
        name: As the person reads it.
        parts: Names of the makers of `PageDraft`, from the first screen to the last call.
    """

    name: str
    parts: tuple[str, ...]


def _order(name: str, parts: str) -> Order:
    return Order(name, tuple(parts.split()))


ORDERS: Mapping[str, Order] = {
    "promise": _order("Promise, reasons, price",
                      "opening_side problem points steps facts offer questions closing"),
    "waiting": _order("Short, with the form at once", "opening_form points facts behind"),
    "proof": _order("Proof first", "opening_plain voices figures points facts offer questions "
                                   "closing"),
    "story": _order("A story", "opening_middle story facts gallery voices closing"),
    "compared": _order("Compared line by line",
                       "opening_band compared points facts offer questions closing"),
    "day": _order("How it runs", "opening_picture facts day behind offer questions closing"),
    "letter": _order("One long letter", "opening_plain letter offer closing"),
    "gallery": _order("Pictures first", "gallery_first facts points steps offer closing"),
}
_SUITS: Mapping[str, str] = {
    "product": "gallery promise compared proof letter waiting",
    "service": "promise compared proof letter waiting",
    "course": "promise day story proof letter",
    "event": "day gallery waiting story promise",
    "software": "promise compared waiting proof story",
    "place": "gallery story day promise waiting",
    "cause": "story letter promise waiting",
    "membership": "promise story compared waiting letter",
}


def orders_for(offer: str, language: str) -> Sequence[str]:
    """Return keys of `ORDERS` that suit a kind of offer, the most usual first.

    Where Needle cannot write the language there is only what the person told: a short page.
    """
    return _SUITS[offer].split() if language == "en" else ("told",)


def order(key: str) -> Order:
    """Return an order by its key."""
    return ORDERS.get(key, _TOLD)


_TOLD = _order("In your own words", "opening_side facts story offer closing")
