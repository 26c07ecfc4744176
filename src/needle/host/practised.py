"""What tells practice visitors from people: a seal in a header that only their sender makes."""

from starlette.requests import Request

from needle.core.measure.events import PRACTICE
from needle.host.clock import now_ms
from needle.store.seals import Seals

__all__ = ["mark_of", "moment_of"]


def mark_of(request: Request, seals: Seals) -> str:
    """Return the mark of what a request leaves: `PRACTICE`, or nothing if it is a person's."""
    seal = request.headers.get("x-needle-practice", "")
    return PRACTICE if seal and seals.holds(seal, now_ms(), PRACTICE) else ""


def moment_of(request: Request, seals: Seals) -> int:
    """Return when what a request tells is so: now; of a practice visitor, when they say."""
    told = request.headers.get("x-needle-at", "")
    if told.isdecimal() and len(told) <= 13 and mark_of(request, seals):
        return int(told)
    return now_ms()
