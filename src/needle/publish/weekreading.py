"""Reading a week for its report, and writing its letter."""

import secrets
from collections.abc import Mapping, Sequence
from datetime import date, datetime, timedelta
from email.message import EmailMessage
from email.utils import formatdate
from pathlib import Path

from sqlalchemy import Engine

from needle.core.measure.week import Sending, Week, bounds_of, chapters_of, monday_of
from needle.core.values.ids import Id
from needle.publish.releases import Releases
from needle.store.results.week import week_counts

__all__ = ["read_week", "week_letter"]


def read_week(name: str, pages: Mapping[Id, str], project: Path, engine: Engine, monday: date,
              now: datetime, left: Sequence[str] | None) -> Week:
    """Return a week as it was; it asks the results and reads releases.

    Args:
        name: Of the site.
        pages: The names of its pages, by id.
        left: What waits for the person, in sentences; `None` where nobody has looked.

    Raises:
        SQLAlchemyError: The results cannot be read.
        LiveError: The releases cannot be read.
    """
    until = now if monday == monday_of(now.date()) else None
    return Week(name, monday, week_counts(engine, bounds_of(monday, until)),
                week_counts(engine, bounds_of(monday - timedelta(days=7))), pages,
                _sent(project, monday), left, until)


def _sent(project: Path, monday: date) -> list[Sending]:
    """Return what went live in a week, the oldest first."""
    store, found = Releases(project), []
    for name in store.ids():
        summary = store.summary(name)
        at = datetime.fromisoformat(summary.at).astimezone()
        if monday_of(at.date()) != monday:
            continue
        what = [page.name for page in summary.told] + [f"{off} taken off" for off in summary.off]
        back = "an earlier state was put back" if summary.back_to else ""
        told = ", ".join((*filter(None, (back,)), *what))
        found.append(Sending(at, f"{told} ({summary.name})" if summary.name else told))
    return sorted(found, key=lambda one: one.at)


def week_letter(week: Week, to: str, sender: str, beside: bytes, subtype: str) -> EmailMessage:
    """Return the report as a letter: its sentences as words, and its page beside them.

    Args:
        subtype: What the page is: "pdf" or "html".
    """
    letter = EmailMessage()
    letter["To"], letter["From"] = _one_line(to), _one_line(sender) or "needle@localhost"
    letter["Subject"] = _one_line(f"{week.site}: the week of {week.monday:%d %B %Y}")
    letter["Date"] = formatdate(localtime=True)
    letter["Message-ID"] = f"<{secrets.token_hex(16)}@needle.localhost>"
    letter.set_content("\n\n".join(
        "\n".join((chapter.title, *(f"- {words}" for words in chapter.sentences)))
        for chapter in chapters_of(week)) + "\n")
    letter.add_attachment(beside, maintype="application" if subtype == "pdf" else "text",
                          subtype=subtype, filename=f"week-{week.monday:%Y-%m-%d}.{subtype}")
    return letter


def _one_line(words: str) -> str:
    return " ".join(words.split())
