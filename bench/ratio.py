"""A figure beside its floor."""

import statistics
import time
from collections.abc import Callable
from dataclasses import dataclass

__all__ = ["Ratio", "median_ms"]


@dataclass(frozen=True)
class Ratio:
    """Medians in milliseconds, and what the ratio should stay below."""

    what: str
    floor_ms: float
    ours_ms: float
    aim: float

    def __str__(self) -> str:
        ratio = self.ours_ms / self.floor_ms
        mark = "" if ratio <= self.aim else "  <- above"
        return (f"{self.what:58} {self.floor_ms:9.2f} {self.ours_ms:9.2f} {ratio:6.2f}  "
                f"{self.aim:g}{mark}")


def median_ms(run: Callable[[], object], times: int) -> float:
    """Return the median time of a call, in milliseconds."""
    taken = []
    for _ in range(times):
        start = time.perf_counter()
        run()
        taken.append((time.perf_counter() - start) * 1000)
    return statistics.median(taken)
