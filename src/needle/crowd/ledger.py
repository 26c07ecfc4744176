"""What practice visitors did, noted by themselves, and whether the host counted the same."""

from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass, field

from sqlalchemy import Engine, delete, func, select

from needle.core.measure.events import CONVERSIONS, PRACTICE, EventKind
from needle.core.measure.paths import extended, step_words
from needle.store.results.rolling import forget_counts, roll_up
from needle.store.results.tables import events, leads

__all__ = ["Ledger", "counted_events", "differences", "take_out"]


@dataclass(slots=True)
class Ledger:
    """What was answered as counted.

    Attributes:
        events: By kind.
        came: People by page and variant.
        won: Those of them who converted there.
        ways: Visits by source, device and path.
        fields: By "KIND FORM.FIELD".
        robots: Visits of robots.
        people_won: The numbers of those who converted anywhere.
        failed: Requests that the host did not take, by its answer.
    """

    events: Counter[str] = field(default_factory=Counter)
    came: Counter[tuple[str, str]] = field(default_factory=Counter)
    won: Counter[tuple[str, str]] = field(default_factory=Counter)
    ways: Counter[tuple[str, str, str]] = field(default_factory=Counter)
    fields: Counter[str] = field(default_factory=Counter)
    robots: int = 0
    people_won: set[int] = field(default_factory=set)
    failed: Counter[str] = field(default_factory=Counter)
    _seen: set[tuple[int, str, str, bool]] = field(default_factory=set)

    def note(self, person: int, kind: EventKind, page: str, variant: str, what: str = "") -> None:
        """Note one thing that the host has taken."""
        self.events[kind] += 1
        if kind == EventKind.ROBOT:
            self.robots += 1
            return
        self._once(person, page, variant, False, self.came)
        if kind in CONVERSIONS:
            self._once(person, page, variant, True, self.won)
            self.people_won.add(person)
        if kind in (EventKind.FIELD, EventKind.FAULT, EventKind.STOP):
            self.fields[f"{kind} {what}"] += 1

    def _once(self, person: int, page: str, variant: str, won: bool,
              where: Counter[tuple[str, str]]) -> None:
        key = (person, page, variant, won)
        if key not in self._seen:
            self._seen.add(key)
            where[page, variant] += 1

    def note_way(self, source: str, device: str, path: str) -> None:
        """Note a whole visit."""
        if path:
            self.ways[source or "direct", device, path] += 1

    @staticmethod
    def path(path: str, kind: EventKind, page: str, variant: str, what: str = "", amount: int = 0,
             ) -> str:
        """Return the path of a visit with one more thing in it."""
        return extended(path, step_words(kind, page, variant, what, amount))


def counted_events(engine: Engine) -> Counter[str]:
    """Return how many events of practice visitors are kept, by kind."""
    with engine.connect() as connection:
        return Counter({row.kind: row.n for row in connection.execute(
            select(events.c.kind, func.count().label("n")).where(
                events.c.mark == PRACTICE).group_by(events.c.kind))})


def differences(ledger: Ledger, engine: Engine, before: Counter[str] | None = None,
                ) -> Iterator[str]:
    """Yield, in words, what the host has counted otherwise than the visitors did it.

    Args:
        before: What was there of earlier ones, by kind.
    """
    counted = counted_events(engine)
    counted.subtract(before or {})
    for kind in sorted({*ledger.events, *counted}):
        if ledger.events[kind] != counted[kind]:
            yield f"{kind}: {ledger.events[kind]:,} done, {counted[kind]:,} counted"


def take_out(engine: Engine) -> int:
    """Take out all that practice visitors left; return how many events that were.

    What was counted is thrown away with it and counted again from what stays.
    """
    with engine.begin() as connection:
        forget_counts(connection)
        count = connection.execute(delete(events).where(events.c.mark == PRACTICE)).rowcount
        connection.execute(delete(leads).where(leads.c.mark == PRACTICE))
    roll_up(engine)
    return count
