"""What visitors do, as the events that everything in Measure is counted from."""

from dataclasses import dataclass
from enum import StrEnum

from needle.core.values.ids import Id

__all__ = ["CONVERSIONS", "PRACTICE", "TOUCH_SIDE", "Event", "EventKind"]

# The mark of what practice visitors leave, by which it is taken out again.
PRACTICE = "practice"
TOUCH_SIDE = 500


class EventKind(StrEnum):
    """What somebody did, and what `what` and `amount` of the event then are."""

    VISIT = "visit"  # A page was shown.
    ROBOT = "robot"  # A page was shown to a program that says it is one.
    POPUP = "popup"  # A popup came up: its id.
    OPEN = "open"  # Somebody began to fill in a form: its id.
    STEP = "step"  # A further step of a form was reached: the form's id, the step's number.
    FIELD = "field"  # A field was left: "FORM.FIELD", how many milliseconds it was looked at.
    FAULT = "fault"  # A field was found wrong: "FORM.FIELD".
    STOP = "stop"  # The page was left, the form begun and not sent: "FORM.FIELD" of the last one.
    GOAL = "goal"  # Something on a page that counts was reached: the goal's name.
    CALL = "call"  # An outside page called in, once for each visitor and page: the call's id.
    LEAD = "lead"  # A form was sent by a person: its id.
    # A click on the page, whatever it does: the section's or popup's id, and where in it; in
    # `TOUCH_SIDE` parts of its width and height, across times `TOUCH_SIDE` plus down.
    TOUCH = "touch"
    WORDS = "words"  # Advert words were shown: their id, the number of the value, 0 for the own.
    DEPTH = "depth"  # How much of the page was seen before it was left: of a hundred parts.


CONVERSIONS = frozenset({EventKind.GOAL, EventKind.CALL, EventKind.LEAD})


@dataclass(frozen=True, slots=True, kw_only=True)
class Event:
    """One thing that a visitor did.

    Attributes:
        at_ms: When, since 1970, UTC.
        page: On which page, and in which variant of it.
        what: What of it; see `EventKind`.
        source: Of a visit: where it came from.
        campaign: Of a visit: the words of the campaign.
        device: Of a visit: "phone", "tablet" or "desktop".
        mark: `PRACTICE` for what practice visitors leave; else empty.
        aside: The visitor is none of the page's split test: they came from elsewhere, by another
            device or at another time than it is for.
    """

    at_ms: int
    visitor: str
    kind: EventKind
    page: Id
    variant: str
    what: str = ""
    amount: int = 0
    source: str = ""
    campaign: str = ""
    device: str = ""
    mark: str = ""
    aside: bool = False
