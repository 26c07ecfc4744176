"""What a page is about, beyond words: an event, a product or a place of business, as searches
understand it."""

from datetime import datetime
from typing import Annotated

from needle.core.values.strict import one_of, strict_meta
from needle.core.values.value import Value

__all__ = ["ABOUT_KINDS", "About"]

ABOUT_KINDS = {"": "Nothing more", "event": "An event", "product": "A product or service",
               "business": "A place of business"}
_MOMENT = r"(?:[0-9]{4}-[0-9]{2}-[0-9]{2}(?: [0-9]{2}:[0-9]{2})?)?"
_Moment = Annotated[str, strict_meta("moment", _MOMENT)]
_Price = Annotated[str, strict_meta("price", r"(?:[0-9]{1,9}(?:\.[0-9]{1,2})?)?")]
_Currency = Annotated[str, strict_meta("currency", "(?:[A-Z]{3})?")]
_Phone = Annotated[str, strict_meta("phone", r"(?:[+(0-9][0-9 ()/.-]{2,29})?")]
_DAY = "(?:Mo|Tu|We|Th|Fr|Sa|Su)"
_OPEN = rf"{_DAY}(?:[,-]{_DAY})*(?: [0-2][0-9]:[0-5][0-9]-[0-2][0-9]:[0-5][0-9])?"
_Hours = Annotated[str, strict_meta("hours", rf"(?:{_OPEN}(?:; ?{_OPEN}){{0,13}})?")]
_Map = Annotated[str, strict_meta(
    "map-address", r"(?:https://[a-z0-9][a-z0-9.-]{0,252}(?::[0-9]{1,5})?(?:[/?][!-~]{0,500})?)?")]


class About(Value, frozen=True):
    """Facts that searches show beside a page; what is empty is not told.

    Attributes:
        kind: One of `ABOUT_KINDS`.
        name: What it is called; empty for the page's own title.
        starts, ends: Of an event, at its place: "2027-08-12 21:30", or a day alone.
        place: Of an event: the name of the place.
        street: Where that is, or the place of business.
        price: What it costs, as "12" or "12.50"; "0" for nothing.
        currency: Three letters of ISO 4217.
        phone: Of a place of business.
        hours: When that is open, as schema.org has it: "Mo-Fr 09:00-17:00; Sa 10:00-12:00".
        map: The address of a map of it.
    """

    kind: Annotated[str, one_of(*ABOUT_KINDS)] = ""
    name: str = ""
    starts: _Moment = ""
    ends: _Moment = ""
    place: str = ""
    street: str = ""
    price: _Price = ""
    currency: _Currency = ""
    phone: _Phone = ""
    hours: _Hours = ""
    map: _Map = ""

    def moment(self, name: str) -> datetime | None:
        """Return "starts" or "ends" as a time, or `None` where there is no such day."""
        try:
            return datetime.fromisoformat(getattr(self, name))
        except ValueError:
            return None

    @property
    def lacks(self) -> tuple[str, ...]:
        """The fields without which searches do not show it."""
        needed = {"event": ("starts", "place"), "product": ("price", "currency"),
                  "business": ("street",)}
        return tuple(name for name in needed.get(self.kind, ()) if not (
            self.moment(name) if name == "starts" else getattr(self, name).strip()))
