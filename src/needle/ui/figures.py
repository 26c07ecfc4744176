"""What the site has brought, counted in a thread and kept until it is counted again."""

import logging
import time
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace

from PyQt6.QtCore import QObject, QRunnable, QThreadPool, pyqtSignal
from sqlalchemy import Engine
from sqlalchemy.exc import SQLAlchemyError

from needle.core.measure.period import SplitPeriod
from needle.core.values.ids import Id
from needle.store.results.book import count_leads
from needle.store.results.counting import (
    PageCount,
    Reached,
    Traffic,
    page_counts,
    reached,
    robot_count,
    robot_visits,
    split_days,
    split_goals,
    traffic,
)
from needle.store.results.takings import (
    Takings,
    form_takings,
    page_takings,
    split_takings,
)
from needle.ui.language import tr

__all__ = ["Counter", "Days", "Figures"]

_log = logging.getLogger(__name__)
_FAULT = (tr("The results cannot be read just now; the figures are those of before. Leads are "
             "kept by the host as long as it reaches its database."))

# By variant: day since 1970, visitors and conversions, each visitor once.
Days = Mapping[str, Sequence[tuple[int, int, int]]]


@dataclass(frozen=True)
class Figures:
    """One count of everything.

    Attributes:
        known: It was counted; before the first count everything is 0.
        robots: Leads of robots.
        robot_visits: Visits of robots that say they are some.
        splits: What each split test brought in its own time.
        goals: By goal and variant, how many of its visitors reached it.
        fault: Why these are the figures of before, in words.
        lately: What came to each page in the last four weeks.
        reached: How often each goal was: forms and calls by their id, clicks by their name.
        form_takings: What was ordered with each form.
        page_takings: What those ordered who were on a page before, by page and variant.
        split_takings: What the visitors of a test ordered in its time, by variant.
    """

    known: bool = False
    pages: Sequence[PageCount] = ()
    leads: int = 0
    robots: int = 0
    robot_visits: int = 0
    splits: Mapping[SplitPeriod, Days] = field(default_factory=dict)
    goals: Mapping[SplitPeriod, Mapping[str, Mapping[str, int]]] = field(default_factory=dict)
    fault: str = ""
    lately: Mapping[Id, Traffic] = field(default_factory=dict)
    reached: Mapping[str, Reached] = field(default_factory=dict)
    form_takings: Mapping[Id, Takings] = field(default_factory=dict)
    page_takings: Mapping[tuple[Id, str], Takings] = field(default_factory=dict)
    split_takings: Mapping[SplitPeriod, Mapping[str, Takings]] = field(default_factory=dict)

    def takings_of(self, test: SplitPeriod) -> Mapping[str, Takings]:
        """Return what the visitors of a test ordered, by variant."""
        return next((takings for known, takings in self.split_takings.items()
                     if _alike(known, test)), {})

    def days_of(self, test: SplitPeriod) -> Days | None:
        """Return what a test brought, whatever its shares are by now; `None` if nobody counted."""
        return next((days for known, days in self.splits.items() if _alike(known, test)), None)

    def goals_of(self, test: SplitPeriod) -> Mapping[str, Mapping[str, int]]:
        """Return by which goals the variants of a test can be told apart."""
        return next((goals for known, goals in self.goals.items() if _alike(known, test)), {})


def _alike(one: SplitPeriod, other: SplitPeriod) -> bool:
    return replace(one, arms=()) == replace(other, arms=()) and (
        {key for key, _ in one.arms} == {key for key, _ in other.arms})


class _Count(QRunnable):
    def __init__(self, counter: "Counter", tests: Sequence[SplitPeriod], before: Figures) -> None:
        super().__init__()
        self._counter, self._tests, self._before = counter, tests, before

    def run(self) -> None:
        try:
            found = _counted(self._counter.engine, self._tests)
        except SQLAlchemyError as error:
            _log.error("the results cannot be read (%s)", type(error).__name__)
            found = replace(self._before, known=True, fault=_FAULT)
        self._counter.counted.emit(found)


def _counted(engine: Engine, tests: Sequence[SplitPeriod]) -> Figures:
    splits = {test: split_days(engine, test) for test in tests
              if test.began_ms is not None or not test.timed}
    return Figures(True, page_counts(engine), count_leads(engine), robot_count(engine),
                   robot_visits(engine), splits,
                   {test: split_goals(engine, test) for test in splits},
                   lately=traffic(engine, int(time.time() * 1000)),
                   reached=reached(engine), form_takings=form_takings(engine),
                   page_takings=page_takings(engine),
                   split_takings={test: split_takings(engine, test) for test in splits})


class Counter(QObject):
    """Counts in a thread, one count at a time; with millions of visits it takes seconds.

    Signals:
        counted: A count has ended (its `Figures`).
    """

    counted = pyqtSignal(object)

    def __init__(self, engine: Engine, parent: QObject) -> None:
        super().__init__(parent)
        self.engine = engine
        self._pool = QThreadPool(self)
        self._pool.setMaxThreadCount(1)

    def count(self, tests: Sequence[SplitPeriod], before: Figures) -> None:
        """Count once; `counted` tells when it is done."""
        self._pool.start(_Count(self, tests, before))

    def end(self) -> None:
        """Wait for what is under way."""
        self._pool.clear()
        self._pool.waitForDone()
