"""Tracking codes, and asking visitors whether they may run."""

from collections.abc import Mapping

from needle.core.values.ids import Id, OwnId
from needle.core.values.strict import Choice
from needle.core.values.value import Value

__all__ = ["PLACES", "PURPOSES", "Consent", "TrackingCode"]

PLACES: Mapping[str, str] = {"head": "in the head", "start": "at the start of the body",
                             "end": "at the end of the body"}
# What the visitor is asked about; the first needs no consent.
PURPOSES: Mapping[str, str] = {"needed": "needed", "statistics": "statistics",
                               "marketing": "marketing"}


class TrackingCode(Value, frozen=True):
    """A piece of outside code that runs on visitors' pages.

    Attributes:
        html: As pasted.
        place: One of `PLACES`.
        reach: Where it runs: empty for the whole site, else a folder (a journey) or a page.
        purpose: One of `PURPOSES`.
        on: Whether it is sent with the pages at all.
    """

    id: OwnId
    name: str
    html: str = ""
    place: Choice = "head"
    reach: Id = ""
    purpose: Choice = "statistics"
    on: bool = True


class Consent(Value, frozen=True):
    """The banner that asks a visitor.

    Attributes:
        asked: Whether there is one; without it every code runs at once.
        policy: The page that tells more; empty for none.
    """

    asked: bool = False
    words: str = ("We would like to count visits and see which adverts work. "
                  "May we?")
    accept: str = "Yes, all"
    refuse: str = "Only what is needed"
    policy: Id = ""
