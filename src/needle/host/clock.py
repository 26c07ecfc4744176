"""The host's clock."""

import time

__all__ = ["now_ms"]


def now_ms() -> int:
    """Return the milliseconds since 1970, UTC."""
    return time.time_ns() // 1_000_000
