"""Doing what was set for a time, while no window needs to be open."""

import logging
from datetime import UTC, datetime
from pathlib import Path

import anyio
import anyio.to_thread

from needle.publish.releases import LiveError
from needle.publish.schedule import do_due

__all__ = ["SchedulePart"]

_log = logging.getLogger(__name__)
_LOOK_S = 1.0


class SchedulePart:
    """Looks every second whether anything is due.

    Attributes:
        fault: What is wrong with the list of what is to come; empty if nothing is.
    """

    def __init__(self, project: Path) -> None:
        self._project = project
        self.fault = ""

    async def run(self) -> None:
        """Do what is due, until cancelled."""
        while True:
            await anyio.to_thread.run_sync(self.look)
            await anyio.sleep(_LOOK_S)

    def look(self) -> None:
        """Do what is due now."""
        try:
            do_due(self._project, datetime.now(UTC))
            self.fault = ""
        except LiveError as error:
            if not self.fault:
                _log.error("what was set for a time cannot be read: %s", error)
            self.fault = "the list of what is set for a time is broken"
