"""Where a site stands, read without opening it: what is left to do, and what came lately."""

import time
from collections.abc import Collection, Iterator, Sequence
from dataclasses import dataclass, field
from pathlib import Path

from sqlalchemy import Engine, func, select
from sqlalchemy.exc import SQLAlchemyError

from needle.core.measure.split import arms_of, surely_better
from needle.core.progress import Results, StageStatus, stage_statuses, unconnected_forms
from needle.core.render.texts import plain_lines
from needle.core.site.site import Site
from needle.core.snags.finding import page_snags
from needle.core.tables.expanding import expanded
from needle.core.values.counting import counted
from needle.core.values.ids import Id
from needle.publish.live import changed_pages
from needle.publish.release import Live
from needle.publish.releases import LiveError, Releases
from needle.publish.sharing import tests_live
from needle.store.certificates import Certificates
from needle.store.project import ProjectError, read_site
from needle.store.results.counting import split_days
from needle.store.results.deliveries import behind
from needle.store.results.place import database_of
from needle.store.results.rolling import DAY_MS, roll_up_some
from needle.store.results.tables import day_paths, leads, open_results

__all__ = ["Need", "Standing", "read_standing"]

_DAYS = 7
# Of a site that nobody has counted for long, so many times five thousand events are counted here.
_MOST_COUNTED = 40


@dataclass(frozen=True, slots=True)
class Need:
    """Something that needs somebody.

    Attributes:
        weight: 1 for the worst, 3 for the least.
        stage: Where it is put right.
    """

    weight: int
    words: str
    stage: str


@dataclass(frozen=True, slots=True)
class Standing:
    """One site at a glance.

    Attributes:
        address: Its own domain, or nothing.
        days: Visits on each of the last seven days, today last; nothing where none are known.
        worked: When its files were last changed, in seconds since 1970.
        words: All words on its pages, in small letters, to be searched.
        fault: Why it cannot be read; everything else is empty then.
    """

    name: str = ""
    address: str = ""
    statuses: dict[str, StageStatus] = field(default_factory=dict)
    needs: Sequence[Need] = ()
    days: Sequence[int] = ()
    leads: int = 0
    worked: float = 0.0
    words: str = ""
    fault: str = ""

    @property
    def visits(self) -> int:
        """Visits of the seven days."""
        return sum(self.days)


def read_standing(folder: Path, now_s: float | None = None) -> Standing:
    """Return where a site stands; it never raises, since the next one is to be read as well."""
    try:
        site = expanded(read_site(folder))
    except ProjectError as error:
        return Standing(fault=str(error))
    needs: list[Need] = []
    live, changed = _live_of(site, folder, needs)
    to_send = len(changed)
    needs += _losses(site, live, changed)
    if site.domain and live is not None and (why := Certificates(folder).state().fault):
        needs.append(Need(1, f"no certificate for {site.domain}: {why}", "Publish"))
    days, sent = _came(folder, site, live, needs, now_s or time.time())
    for name in unconnected_forms(site):
        needs.append(Need(2, f"“{name}” leads nowhere", "Connect"))
    if live is not None and to_send:
        needs.append(Need(3, f"{counted(to_send, 'page')} changed and not sent", "Publish"))
    results = Results(sent, sum(days), sent, True)
    return Standing(
        site.name, site.domain, stage_statuses(site, to_send, results),
        sorted(needs, key=lambda one: one.weight), days, sent, _worked(folder),
        " ".join([site.name, site.domain, *(page.name for page in site.pages),
                  *(words for page in site.pages for variant in page.variants
                    for node in variant.nodes() for words in plain_lines(node))]).lower())


def _live_of(site: Site, folder: Path, needs: list[Need],
             ) -> tuple[Live | None, Collection[Id]]:
    try:
        release = Releases(folder).current()
        return (release.live if release else None), changed_pages(site, folder)
    except LiveError:
        needs.append(Need(1, "what is live of it is broken", "Publish"))
        return None, [page.id for page in site.pages]


def _losses(site: Site, live: Live | None, changed: Collection[Id]) -> Iterator[Need]:
    """Tell of what loses leads on pages that are live as they are here."""
    for page in site.pages:
        if live is None or live.page(page.id) is None or page.id in changed:
            continue
        found = page_snags(page, site, 1)
        if found:
            more = f", and {len(found) - 1} more" if len(found) > 1 else ""
            yield Need(1, f"“{page.name}” is live and loses leads: {found[0].words}{more}",
                       "Build")


def _came(folder: Path, site: Site, live: Live | None, needs: list[Need], now_s: float,
          ) -> tuple[list[int], int]:
    """Return visits a day and leads of the last week, and note what results need somebody for."""
    place = database_of(folder)
    if isinstance(place, Path) and not place.exists():
        return [], 0
    try:
        engine = open_results(place)
    except (SQLAlchemyError, OSError):
        needs.append(Need(1, "its results cannot be read", "Measure"))
        return [], 0
    try:
        for _ in range(_MOST_COUNTED):
            if not roll_up_some(engine):
                break
        _note_results(engine, site, live, needs)
        return _week_of(engine, int(now_s * 1000))
    except SQLAlchemyError:
        needs.append(Need(1, "its results cannot be read", "Measure"))
        return [], 0
    finally:
        engine.dispose()


def _week_of(engine: Engine, now_ms: int) -> tuple[list[int], int]:
    today = now_ms // DAY_MS
    with engine.connect() as connection:
        rows = connection.execute(select(
            day_paths.c.day, func.sum(day_paths.c.visits).label("n")).where(
            day_paths.c.day > today - _DAYS, day_paths.c.day <= today).group_by(day_paths.c.day))
        by_day = {row.day: int(row.n) for row in rows}
        sent = connection.execute(select(func.count()).select_from(leads).where(
            leads.c.at >= (today - _DAYS + 1) * DAY_MS, leads.c.robot.is_(False),
            leads.c.trial.is_(False))).scalar_one()
    return [by_day.get(day, 0) for day in range(today - _DAYS + 1, today + 1)], int(sent)


def _note_results(engine: Engine, site: Site, live: Live | None, needs: list[Need]) -> None:
    late = behind(engine)
    if late.failed:
        needs.append(Need(1, f"{counted(late.failed, 'lead')} waiting: a service does not answer",
                          "Connect"))
    for test in tests_live(site, live):
        if not test.runs or test.began_ms is None or test.lacking:
            continue
        best = surely_better(arms_of(test, split_days(engine, test)))
        page = site.page(test.page)
        if best is not None and page is not None:
            needs.append(Need(2, f"the split test of “{page.name}” has an answer: {best.key} is "
                                 "better", "Measure"))


def _worked(folder: Path) -> float:
    times = [path.stat().st_mtime for path in (folder / "site.json", *folder.glob("pages/*.json"))
             if path.exists()]
    return max(times, default=0.0)
