"""The report of the week, sent by itself on its day."""

import logging
import secrets
from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from pathlib import Path

import anyio
import anyio.to_thread
from sqlalchemy import Engine
from sqlalchemy.exc import SQLAlchemyError

from needle.core.measure.week import Week, monday_of
from needle.core.measure.weekpage import week_page
from needle.publish.pdf import pdf_of, report_fonts
from needle.publish.release import Live
from needle.publish.releases import LiveError
from needle.publish.weekreading import read_week, week_letter
from needle.services.adapter import Parcel, ServiceError
from needle.services.registry import adapter_for
from needle.store.results.claiming import claim, give_back
from needle.store.results.deliveries import behind
from needle.store.weekly import Weekly, due_moment, kept_weekly

__all__ = ["WeeklyPart"]

_log = logging.getLogger(__name__)
_LOOK_S = 30.0
_REST = timedelta(minutes=10)
_NAME = "weekly-report"


class WeeklyPart:
    """Looks twice a minute whether a report is due.

    Attributes:
        fault: Why the last one was not sent; empty if it was.
    """

    def __init__(self, project: Path, engine: Engine, live: Callable[[], Live | None]) -> None:
        self._project, self._engine, self._live = project, engine, live
        self._rests_until: datetime | None = None
        self.fault = ""

    async def run(self) -> None:
        """Send what is due, until cancelled."""
        while True:
            await anyio.to_thread.run_sync(self.look, datetime.now().astimezone())
            await anyio.sleep(_LOOK_S)

    def look(self, now: datetime) -> None:
        """Send the report if one is due and no other host has sent it."""
        weekly, live = kept_weekly(self._project), self._live()
        if weekly is None or live is None:
            self.fault = ""
            return
        due = due_moment(weekly, now)
        if due is None or (self._rests_until is not None and now < self._rests_until):
            return
        moment = due.astimezone(UTC).isoformat()
        if not claim(self._engine, _NAME, moment):
            return
        try:
            self._send(weekly, live, due)
            self.fault, self._rests_until = "", None
        except (ServiceError, SQLAlchemyError, LiveError, OSError) as error:
            _log.error("the report of the week was not sent (%s)", type(error).__name__)
            self.fault = "the report of the week could not be sent; it is tried again"
            self._rests_until = now + _REST
            give_back(self._engine, _NAME, moment)

    def _send(self, weekly: Weekly, live: Live, due: datetime) -> None:
        service = next((one for one in live.services if one.id == weekly.service), None)
        adapter = adapter_for(self._project, service) if service is not None else None
        if service is None or adapter is None:
            raise FileNotFoundError("the mail service is not there any more")
        week = self._week(live, due)
        page, subtype = _page_of(week)
        letter = week_letter(week, weekly.to, service.options.get("sender", ""), page, subtype)
        adapter.deliver(Parcel(secrets.token_hex(16), letter=letter))

    def _week(self, live: Live, due: datetime) -> Week:
        """Return the last week that was over."""
        waiting = behind(self._engine).waiting
        left = [f"{waiting:,} deliveries wait."] if waiting else None
        monday = monday_of(due.date()) - timedelta(days=7)
        return read_week(live.name, {page.id: page.name for page in live.pages}, self._project,
                         self._engine, monday, due, left)


def _page_of(week: Week) -> tuple[bytes, str]:
    """Return the page as PDF; as HTML where the machine lacks what PDFs are made with."""
    try:
        return pdf_of(week_page(week, report_fonts())), "pdf"
    except (OSError, ImportError) as error:
        _log.error("no PDF of the week can be made (%s)", type(error).__name__)
        return week_page(week, "").encode(), "html"
