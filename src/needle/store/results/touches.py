"""Reading where people clicked on a page, and how much of it they saw."""

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from sqlalchemy import Engine, func, select

from needle.core.measure.events import EventKind
from needle.core.values.ids import Id
from needle.store.results.rolling import TOUCH_CELLS, roll_up
from needle.store.results.tables import day_touches

__all__ = ["Spot", "Touches", "touch_counts"]


@dataclass(frozen=True, slots=True)
class Spot:
    """A place in a section or popup, and how often it was clicked.

    Attributes:
        across, down: The middle of the place, as parts of the section's width and height.
    """

    part: Id
    across: float
    down: float
    times: int


@dataclass(frozen=True, slots=True)
class Touches:
    """What happened on a variant of a page.

    Attributes:
        depth: By tenths of its height, how many visits saw so much of it and no more.
    """

    clicks: Sequence[Spot] = ()
    depth: Mapping[int, int] = field(default_factory=dict)

    def seen_to(self, tenth: int) -> float:
        """Return which share of visits saw at least so many tenths; 0 where nothing is known."""
        total = sum(self.depth.values())
        return sum(n for to, n in self.depth.items() if to >= tenth) / total if total else 0.0


def touch_counts(engine: Engine, page: Id, variant: str, first_day: int, last_day: int,
                 device: str = "") -> Touches:
    """Return clicks and depth of a variant on these days since 1970, the last one included.

    Args:
        device: "phone", "tablet" or "desktop"; empty for all.
    """
    roll_up(engine)
    told = day_touches.c
    where = [told.page == page, told.variant == variant, told.day >= first_day,
             told.day <= last_day] + ([told.device == device] if device else [])
    clicks, depth = [], Counter[int]()
    with engine.connect() as connection:
        for row in connection.execute(select(
                told.kind, told.what, func.sum(told.times).label("n")).where(*where).group_by(
                told.kind, told.what)):
            if row.kind == EventKind.DEPTH:
                depth[int(row.what)] += row.n
            else:
                part, across, down = row.what.rsplit(".", 2)
                clicks.append(Spot(part, (int(across) + 0.5) / TOUCH_CELLS,
                                   (int(down) + 0.5) / TOUCH_CELLS, row.n))
    return Touches(clicks, dict(depth))
