"""The hours of the week, by a clock that is put forward, and weekdays that are told apart."""

import unittest
from datetime import UTC, datetime
from zoneinfo import ZoneInfo

from needle.core.measure.hours import week_hours


class HoursTest(unittest.TestCase):
    def test_hours_are_those_of_the_clock_on_the_wall(self) -> None:
        winter, summer = (int(datetime(2026, month, 5, 23, tzinfo=UTC).timestamp()) // 3600
                          for month in (1, 7))
        hours = week_hours([(winter, 5, 1), (summer, 7, 0)], ZoneInfo("Europe/Berlin"))
        self.assertEqual((hours.came[1, 0], hours.won[1, 0]), (5, 1), "Monday 23:00 UTC")
        self.assertEqual(hours.came[0, 1], 7, "Sunday 23:00 UTC, in summer")
        self.assertEqual(hours.busiest(), (0, 1))

    def test_a_weekday_is_odd_only_beyond_chance(self) -> None:
        self.assertIsNone(week_hours([], UTC).busiest())
        monday = 4 * 24  # 5 January 1970 was one.
        even = [(monday + 24 * day, 400, 20 + day) for day in range(7)]
        self.assertIsNone(week_hours(even, UTC).odd_day())
        self.assertEqual(week_hours([*even[:-1], (monday + 6 * 24, 400, 90)], UTC).odd_day(),
                         (6, True))
        self.assertEqual(week_hours([(monday, 4000, 20), *even[1:]], UTC).odd_day(), (0, False))
        self.assertIsNone(week_hours([(monday, 3, 3)], UTC).odd_day(), "one day alone")
