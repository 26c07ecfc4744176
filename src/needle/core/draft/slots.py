"""What an idea says, slot by slot, as the person sees it and can put it right."""

from collections.abc import Mapping
from typing import Annotated

from needle.core.values.strict import one_of
from needle.core.values.value import Value

__all__ = ["OFFERS", "Slots"]

# Kinds of offer, as the person reads them.
OFFERS: Mapping[str, str] = {
    "product": "A product", "service": "A service", "course": "A course", "event": "An event",
    "software": "Software", "place": "A place", "cause": "A cause", "membership": "A membership"}


class Slots(Value, frozen=True):
    """An idea, understood.

    Attributes:
        idea: In the person's own words, tidied.
        language: ISO 639-1 code of the language that it is told in.
        offer: A key of `OFFERS`.
        what: What is offered, without an article: "star evenings", "piano restoration".
        many: It takes the plural.
        mass: There is no "one" of it: no article stands before it.
        name: What it calls itself.
        does: What it does, in the third person: "reminds old people to take their pills".
        doing: What is done for customers, after "we": "restore old pianos and tune them".
        who: Whom it is for, as they are named: "families with children".
        change: What they can do then, after "you can": "get to work".
        place, when: With their prepositions: "in Leeds", "every Tuesday evening".
        price: As it was written: "£85", "from 12 euros"; empty where it is free or not told.
        per: What the price is for: "a month", "each".
        free: It costs nothing.
        proof: Why one may believe it: "taught by Anna Reed, who baked for 20 years".
        extras: What belongs to it.
        facts: What else is told, each a sentence or a short phrase in the person's own words.
        corrected: Typing errors that were put right: the wrong word and the right one.
    """

    idea: str = ""
    language: str = "en"
    offer: Annotated[str, one_of(*OFFERS)] = "service"
    what: str = ""
    many: bool = False
    mass: bool = False
    name: str = ""
    does: str = ""
    doing: str = ""
    who: str = ""
    change: str = ""
    place: str = ""
    when: str = ""
    price: str = ""
    per: str = ""
    free: bool = False
    proof: str = ""
    extras: tuple[str, ...] = ()
    facts: tuple[str, ...] = ()
    corrected: tuple[tuple[str, str], ...] = ()
