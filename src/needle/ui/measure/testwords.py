"""What is said of a split test besides its verdict: its time, for whom it is, what counts."""

import time
from collections.abc import Sequence
from datetime import datetime

from needle.core.measure.period import SplitPeriod, instant_ms
from needle.core.site.site import Page
from needle.core.values.testplan import ANY_GOAL
from needle.ui.language import tr
from needle.ui.measure.meaning import DEVICE_WORDS, goal_name
from needle.ui.session import Session

__all__ = ["about_words", "day_words", "lacking_words", "parted_words", "time_words"]


def day_words(at_ms: int | None) -> str:
    """Return a day as people write it; a moment that nobody kept was long ago."""
    if at_ms is None:
        return tr("long ago")
    return f"{datetime.fromtimestamp(at_ms / 1000):%d %b %Y}"


def time_words(test: SplitPeriod) -> str:
    """Return which time the figures are of."""
    if not test.timed:
        return tr("An earlier Needle did not keep its time: these are all visitors ever.")
    if test.began_ms is None:
        return ""
    now = time.time() * 1000
    if test.began_ms > now + 60_000:
        if (instant_ms(test.plan.begins) or 0) >= test.began_ms:
            return tr("It begins on {day}; until then everybody gets the first variant.",
                      day=day_words(test.began_ms))
        return tr("The clock of this machine was set back: by it the test begins only on {day}. "
                  "Set it right, or nobody who comes before counts.",
                  day=day_words(test.began_ms))
    until = tr(" to {day}", day=day_words(test.ended_ms)) if test.ended_ms is not None else ""
    words = f"{'From' if until else 'Since'} {day_words(test.began_ms)}{until}."
    closes = instant_ms(test.plan.ends)
    if test.runs and closes is not None:
        words += " " + (tr("Its end, {day}, has come: who comes since counts for none. Keep one.",
                           day=day_words(closes)) if closes <= now else
                        tr("It ends on {day}.", day=day_words(closes)))
    return words


def about_words(session: Session, test: SplitPeriod) -> str:
    """Return what it is about and whom it is for, where that is not everything and everybody."""
    plan, found = test.plan, []
    if plan.counts != ANY_GOAL:
        found.append(tr("It is about “{goal}”.", goal=goal_name(session, plan.counts)))
        if plan.counts in test.late:
            found.append(tr("That counts only since {day}, after it began: who came before could "
                            "not reach it and is left out.", day=day_words(test.began_ms)))
    elif test.late:
        found.append(tr(
            "Left out, since it began to count only after the test did: {goals}. To read the test "
            "by it, from then on, choose it as what counts.",
            goals=", ".join(goal_name(session, goal) for goal in test.late)))
    whom = [", ".join(DEVICE_WORDS[one] for one in plan.devices), ", ".join(plan.sources)]
    if any(whom):
        found.append(tr("Only visitors {whom}.", whom=" ".join(
            words for words in (whom[0] and tr("on {devices}", devices=whom[0]),
                                whom[1] and tr("from {sources}", sources=whom[1])) if words)))
    return " ".join(found)


def lacking_words(session: Session, test: SplitPeriod) -> tuple[str, str] | None:
    """Return a verdict and its reason where what it is about cannot be reached on a variant."""
    if not test.lacking:
        return None
    return (tr("No verdict: “{goal}” cannot be reached on {variants}.",
               goal=goal_name(session, test.plan.counts), variants=", ".join(test.lacking)),
            tr("Put it there too and send the page, or choose something else as what counts."))


def parted_words(page: Page, test: SplitPeriod, tests: Sequence[SplitPeriod]) -> str:
    """Return what is said of other shares before, after, or to come."""
    if not test.runs:
        return "" if test.kept else tr(
            "Then the shares or the variants were changed; what came since is read apart.")
    asked = tuple((variant.key, variant.share) for variant in page.variants)
    if test.began_ms is not None and asked != test.arms:
        return tr("You set {shares}: once the page is sent, that is a new test.",
                  shares=" · ".join(f"{key} {share} %" for key, share in asked))
    before = sum(one.page == test.page and not one.runs and not one.kept for one in tests)
    return tr("What came by other shares or variants before stands in the list, apart.") \
        if before else ""
