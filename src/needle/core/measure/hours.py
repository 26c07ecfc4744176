"""When people come and when they convert: by weekday and hour of the day."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import UTC, datetime, tzinfo

import numpy as np
from numpy.typing import NDArray

from needle.core.measure.difference import share_difference

__all__ = ["WeekHours", "week_hours"]

_HOUR_S = 3600


@dataclass(frozen=True)
class WeekHours:
    """What came and converted, by weekday (Monday first) and hour of the day.

    Attributes:
        came, won: Whole numbers, 7 × 24.
    """

    came: NDArray[np.int64]
    won: NDArray[np.int64]

    def busiest(self) -> tuple[int, int] | None:
        """Return weekday and hour in which most come; `None` if nobody does."""
        if not self.came.any():
            return None
        day, hour = divmod(int(self.came.argmax()), 24)
        return day, hour

    def odd_day(self) -> tuple[int, bool] | None:
        """Return the weekday whose share of conversions differs most from that of the other days,
        and whether it is larger; `None` if none differs by more than chance brings.

        Seven days are looked at, so a day counts only if no difference lies far outside its
        interval: half as far again as the interval reaches.
        """
        came, won = self.came.sum(axis=1), np.minimum(self.won, self.came).sum(axis=1)
        found: list[tuple[float, int, bool]] = []
        for day in range(7):
            rest, rest_won = int(came.sum() - came[day]), int(won.sum() - won[day])
            told = share_difference(int(won[day]), int(came[day]), rest_won, rest)
            if told is None:
                continue
            reach = (told.shift - told.low) if told.shift > 0 else (told.high - told.shift)
            if reach and abs(told.shift) > 1.5 * reach:
                found.append((abs(told.shift) / reach, day, told.shift > 0))
        return max(found)[1:] if found else None


def week_hours(rows: Iterable[tuple[int, int, int]], zone: tzinfo) -> WeekHours:
    """Return the week of some hours, by the clock of a time zone.

    Args:
        rows: Hour since 1970 (UTC), how many came, how many converted.
    """
    came, won = np.zeros((7, 24), np.int64), np.zeros((7, 24), np.int64)
    for hour, there, converted in rows:
        moment = datetime.fromtimestamp(hour * _HOUR_S, UTC).astimezone(zone)
        came[moment.weekday(), moment.hour] += there
        won[moment.weekday(), moment.hour] += converted
    return WeekHours(came, won)
