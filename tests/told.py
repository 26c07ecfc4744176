"""Events as a host stores them, for tests that have none of its pages."""

from sqlalchemy import Engine

from needle.core.measure.events import Event, EventKind
from needle.store.results.stream import take_events

__all__ = ["take_goal", "take_visit"]


def take_visit(engine: Engine, *, at_ms: int, visitor: str, page: str, variant: str,
               source: str = "", campaign: str = "", device: str = "") -> None:
    """Store one visit of a page."""
    take_events(engine, [Event(
        at_ms=at_ms, visitor=visitor, kind=EventKind.VISIT, page=page, variant=variant,
        source=source, campaign=campaign, device=device)])


def take_goal(engine: Engine, *, at_ms: int, visitor: str, page: str, variant: str, goal: str,
              ) -> None:
    """Store one click that counts."""
    take_events(engine, [Event(at_ms=at_ms, visitor=visitor, kind=EventKind.GOAL, page=page,
                               variant=variant, what=goal)])
