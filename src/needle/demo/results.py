"""A few weeks of made-up visits and leads for the demo."""

from datetime import date

__all__ = ["TEST_STARTED"]

TEST_STARTED = date(2026, 11, 5)
