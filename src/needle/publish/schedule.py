"""What is done to what is live at a time that was set before: pages that are sent, or taken off.

It is planned and kept whole when it is set; whichever host runs when it is due does it, with the
window closed. Pages that are not in it stay as they are then.
"""

import logging
from collections.abc import Iterable, Mapping
from datetime import UTC, datetime
from pathlib import Path
from zoneinfo import ZoneInfo

import msgspec

from needle.core.site.site import Site
from needle.core.tables.expanding import expanded
from needle.core.values.ids import Id, new_id
from needle.publish.folder import Progress
from needle.publish.live import PLANNED, changed, changing, planned
from needle.publish.planning import after_schedule, after_taking_off
from needle.publish.refusing import PublishError
from needle.publish.release import Release, Scheduled
from needle.publish.releases import Releases, fresh_id
from needle.store.files import write_atomically

__all__ = ["cancel", "do_due", "moment_of", "schedule_off", "schedule_sending"]

_log = logging.getLogger(__name__)


def moment_of(local: datetime, zone: ZoneInfo, now: datetime) -> datetime:
    """Return the moment that a clock on a wall shows, in UTC; of an hour that it shows twice, the
    first.

    Args:
        local: Without a zone.
        now: The present, with its zone.

    Raises:
        PublishError: It is past, or the clock never shows it, as it is put forward over it.
    """
    at = local.replace(tzinfo=zone, fold=0).astimezone(UTC)
    if at.astimezone(zone).replace(tzinfo=None) != local:
        raise PublishError("schedule-no-such-hour", time=f"{local:%d %b %Y %H:%M}", zone=zone.key)
    if at <= now:
        raise PublishError("schedule-past", time=f"{local:%d %b %Y %H:%M}")
    return at


def schedule_sending(site: Site, project: Path, pages: Iterable[Id], at: datetime,
                     progress: Progress | None = None) -> Scheduled:
    """Keep these pages as they are now, to be sent at a time.

    Raises:
        PublishError: As `send_pages`.
    """
    store, ids = Releases(project), tuple(pages)
    names = tuple(page.name for page in expanded(site).pages if page.id in ids)
    with changing(store, "publish-nothing-sent") as before:
        plan = planned(store, before, site, ids, at, progress)
        return _keep(store, Scheduled(new_id(), _iso(at), ids, names, plan))


def schedule_off(project: Path, pages: Mapping[Id, str], at: datetime,
                 to: Mapping[Id, Id] | None = None) -> Scheduled:
    """Take pages off at a time.

    Args:
        pages: Their names, by their ids.
        to: Where their addresses lead from then on, as `take_off` takes it.

    Raises:
        PublishError: The disk refused it.
    """
    store = Releases(project)
    return _keep(store, Scheduled(new_id(), _iso(at), tuple(pages), tuple(pages.values()),
                                  None, dict(to or {})))


def cancel(project: Path, scheduled_id: Id) -> None:
    """Do it not.

    Raises:
        PublishError: The disk refused it.
    """
    path = _path(Releases(project), scheduled_id)
    try:
        path.unlink(missing_ok=True)
    except OSError as error:
        raise PublishError("cannot-write", path=path, why=error.strerror) from error


def do_due(project: Path, now: datetime) -> int:
    """Do everything that is due, and return how much of it was done.

    What cannot be done keeps why, and is not tried again; while somebody else changes what is live,
    it waits.

    Raises:
        LiveError: The list of what is to come is broken.
    """
    store, done = Releases(project), 0
    for one in store.scheduled():
        if one.fault or datetime.fromisoformat(one.at) > now:
            continue
        try:
            _do(project, one)
        except PublishError as error:
            if error.message.id == "publish-busy":
                break
            _log.error("what was set for %s could not be done: %s", one.at, error)
            _keep(store, msgspec.structs.replace(one, fault=str(error)[:500]))
        else:
            _log.info("done as it was set for %s", one.at)
            cancel(project, one.id)
            done += 1
    return done


def _do(project: Path, one: Scheduled) -> None:
    store, ids = Releases(project), set(one.pages)

    def plan(before: Release) -> Release:
        if one.planned is None:
            live, files, sent = after_taking_off(before, ids, one.to)
            return Release(PLANNED, "", live, files, sent, off=one.names)
        for path, file in one.planned.files.items():
            if not store.has(file.digest):
                raise PublishError("release-file-gone", path=path)
        live, files, sent = after_schedule(before, one.planned, ids, _iso(datetime.now(UTC)))
        return msgspec.structs.replace(one.planned, live=live, files=files, sent=sent)

    if changed(project, "publish-nothing-sent", plan) is None and one.planned is not None:
        with changing(store, "publish-nothing-sent"):
            store.switch_first(msgspec.structs.replace(
                one.planned, id=fresh_id(datetime.now(UTC)), at=_iso(datetime.now(UTC))))


def _keep(store: Releases, one: Scheduled) -> Scheduled:
    path = _path(store, one.id)
    try:
        write_atomically(path, msgspec.json.encode(one))
    except OSError as error:
        raise PublishError("cannot-write", path=path, why=error.strerror) from error
    return one


def _path(store: Releases, scheduled_id: Id) -> Path:
    return store.folder / "schedule" / f"{scheduled_id}.json"


def _iso(at: datetime) -> str:
    return at.astimezone(UTC).isoformat(timespec="seconds")

