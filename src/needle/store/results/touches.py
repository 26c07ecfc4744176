"""Reading where people clicked on a page, and how much of it they saw."""

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from sqlalchemy import Engine, String, bindparam, func, or_, select

from needle.core.measure.events import EventKind
from needle.core.values.ids import Id
from needle.store.results.rolling import TOUCH_CELLS, counted_rows, over_counts
from needle.store.results.tables import day_touches

__all__ = ["Spot", "Touches", "touch_counts"]


_told = day_touches.c
_TOUCHES = over_counts(select(
    _told.kind, _told.what, func.sum(_told.times).label("n")).where(
    _told.page == bindparam("page"), _told.variant == bindparam("variant"),
    _told.day >= bindparam("first"), _told.day <= bindparam("last"),
    or_(bindparam("device", type_=String) == "",
        _told.device == bindparam("device", type_=String))).group_by(
    _told.kind, _told.what))


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
    clicks, depth = [], Counter[int]()
    for row in counted_rows(engine, _TOUCHES, page=page, variant=variant, first=first_day,
                            last=last_day, device=device):
        if row.kind == EventKind.DEPTH:
            depth[int(row.what)] += row.n
        else:
            part, across, down = row.what.rsplit(".", 2)
            clicks.append(Spot(part, (int(across) + 0.5) / TOUCH_CELLS,
                               (int(down) + 0.5) / TOUCH_CELLS, row.n))
    return Touches(clicks, dict(depth))
