"""The host's clock, which never goes back while it runs."""

import time
from datetime import UTC, datetime

__all__ = ["day", "now_ms", "set_back_s"]

# When this process began, by the clock of the machine and by one that nobody sets.
_BEGAN_NS, _BEGAN_STEADY_NS = time.time_ns(), time.monotonic_ns()


def _steady_ns() -> int:
    """Return what time it would be if nobody had set the clock since this process began."""
    return _BEGAN_NS + time.monotonic_ns() - _BEGAN_STEADY_NS


def now_ms() -> int:
    """Return the milliseconds since 1970, UTC.

    A machine's clock that is set forward is followed. One that is set back is not: what comes
    later would be counted as earlier, a split test would lose the visitors of that time, and they
    would stand among those of days that are over.
    """
    return max(time.time_ns(), _steady_ns()) // 1_000_000


def day() -> str:
    """Return the day where the host stands, as "2027-08-12"."""
    return f"{datetime.fromtimestamp(now_ms() / 1000, UTC).astimezone():%Y-%m-%d}"


def set_back_s() -> float:
    """Return by how much the machine's clock is behind what it would be, in seconds; 0 if it is
    not."""
    return max(0, _steady_ns() - time.time_ns()) / 1e9
