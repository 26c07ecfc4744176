"""Dates and times as people set them, by this machine's time zone."""

from datetime import UTC, datetime
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from PyQt6.QtCore import QDateTime, QTimeZone
from PyQt6.QtWidgets import QDateTimeEdit, QWidget

from needle.publish.schedule import moment_of

__all__ = ["MomentEdit", "own_zone"]


def own_zone() -> ZoneInfo:
    """Return the time zone of this machine."""
    name = bytes(QTimeZone.systemTimeZoneId().data()).decode("ascii", "replace")
    try:
        return ZoneInfo(name)
    except (ZoneInfoNotFoundError, ValueError):
        return ZoneInfo("UTC")


class MomentEdit(QDateTimeEdit):
    """A date and a time. Tab leaves it; the arrows go from part to part."""

    def __init__(self, name: str, hours: int) -> None:
        """Show the time in so many hours from now."""
        super().__init__(QDateTime.currentDateTime().addSecs(hours * 3600))
        self.setDisplayFormat("d MMM yyyy  HH:mm")
        self.setCalendarPopup(True)
        self.setAccessibleName(name)

    def focusNextPrevChild(self, forward: bool) -> bool:
        return QWidget.focusNextPrevChild(self, forward)

    def show_moment(self, moment: datetime) -> None:
        """Show a moment, by this machine's clock."""
        self.setDateTime(QDateTime.fromMSecsSinceEpoch(int(moment.timestamp() * 1000)))

    def moment(self) -> datetime:
        """Return what is shown.

        Raises:
            PublishError: It is over, or the clocks were changed so that there is no such time.
        """
        told = self.dateTime()
        date, clock = told.date(), told.time()
        local = datetime(date.year(), date.month(), date.day(), clock.hour(), clock.minute())
        return moment_of(local, own_zone(), datetime.now(UTC))
