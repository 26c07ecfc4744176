"""What a split test is for, whom it is for and when, as it was planned."""

from typing import Annotated, Literal

from needle.core.values.strict import Strict, strict_meta, whole

__all__ = ["ANY_GOAL", "DEVICES", "NO_PLAN", "GoalWorth", "LinkGoal", "Reach", "TestPlan"]

# Whatever counts on the page is what a test is about.
ANY_GOAL = ""
DEVICES = ("phone", "tablet", "desktop")
_Words = Annotated[str, strict_meta("one-line", r"[^\x00-\x1f\x7f]{0,400}")]
_Goal = Annotated[str, strict_meta("goal-key", r"[^\x00-\x1f\x7f]{0,120}")]
# ISO 8601, UTC, to the minute or closer; or nothing.
_Moment = Annotated[str, strict_meta(
    "test-moment", r"(?:[0-9]{4}-[0-9]{2}-[0-9]{2}T[0-9]{2}:[0-9]{2}(?::[0-9]{2}(?:\.[0-9]{1,6})?)?"
              r"\+00:00)?")]


class TestPlan(Strict, frozen=True, omit_defaults=True):
    """How a split test is meant.

    Attributes:
        believed: What is expected of the change, in the person's words.
        counts: The goal that it is about, by its key; `ANY_GOAL` for whatever counts on the page.
        sources: It is only for visitors from these; for those from anywhere if there are none.
        devices: It is only for visitors with these; for all if there are none.
        begins, ends: Between which moments visitors are shared out; empty for at once, and for
            until somebody ends it.
    """

    believed: _Words = ""
    counts: _Goal = ANY_GOAL
    sources: tuple[_Goal, ...] = ()
    devices: tuple[Literal["phone", "tablet", "desktop"], ...] = ()
    begins: _Moment = ""
    ends: _Moment = ""


NO_PLAN = TestPlan()


class Reach(Strict, frozen=True, omit_defaults=True):
    """Something that counts on a page without a click: so much of it seen, or so long a stay.

    Attributes:
        amount: Percent of the page's height for "depth", seconds in sight for "time".
    """

    name: _Goal
    does: Literal["depth", "time"] = "depth"
    amount: Annotated[int, whole(1, 3600)] = 75


class LinkGoal(Strict, frozen=True, omit_defaults=True):
    """A link in a menu or among words whose clicks count, wherever on the page it stands.

    Attributes:
        to: Where it leads, as links of texts say it: an address, or "page:ID".
    """

    to: _Words
    name: _Goal


class GoalWorth(Strict, frozen=True, omit_defaults=True):
    """What reaching a goal is worth to the person.

    Attributes:
        goal: Its key, as results know it.
        cents: Hundredths of whatever money the person counts in.
        every: Each time counts, not each visitor once.
        main: It is what the site is for; at most one is.
    """

    goal: _Goal
    cents: Annotated[int, whole(0, 1_000_000_000)] = 0
    every: bool = False
    main: bool = False
