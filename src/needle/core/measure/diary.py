"""The diary of tests: what was believed, what was changed, and what came out."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

from needle.core.edit.differing import differing
from needle.core.measure.period import SplitPeriod
from needle.core.measure.split import arms_of, read_split, verdict
from needle.core.site.site import Page, Site, Variant

__all__ = ["Entry", "diary_text", "entries_of"]

Days = Mapping[str, Sequence[tuple[int, int, int]]]


@dataclass(frozen=True, slots=True)
class Entry:
    """One test.

    Attributes:
        changed: By variant, in what it differs from the first one.
        came: What came out, in a sentence, and its reasons.
        figures: Of each variant: key, visitors, conversions, rate.
    """

    test: SplitPeriod
    page: str
    changed: Mapping[str, Sequence[str]]
    came: tuple[str, str]
    figures: Sequence[tuple[str, int, int, float]]


def entries_of(site: Site, tests: Sequence[SplitPeriod],
               days_of: Callable[[SplitPeriod], Days | None]) -> list[Entry]:
    """Return an entry for each test that has begun, in the order of the tests.

    Args:
        days_of: What a test brought; `None` while it is not counted.
    """
    found = []
    for test in tests:
        page = site.page(test.page)
        if page is None or (test.runs and test.began_ms is None):
            continue
        arms = arms_of(test, days_of(test) or {})
        found.append(Entry(
            test, page.name, _changed(page, test), verdict(read_split(arms), test.runs),
            [(arm.key, arm.visitors, arm.conversions, arm.rate) for arm in arms]))
    return found


def _changed(page: Page, test: SplitPeriod) -> dict[str, Sequence[str]]:
    held = {variant.key: variant for variant in (*page.archive, *page.variants)}
    arms = [held[key] for key, _ in test.arms if key in held]
    first: Variant | None = arms[0] if arms else None
    return {one.key: differing(first, one) for one in arms[1:] if first is not None}


def diary_text(entries: Sequence[Entry], day: Callable[[int | None], str]) -> str:
    """Return the diary as Markdown.

    Args:
        day: How a moment is written as a day.
    """
    parts = ["# Diary of split tests"]
    for one in entries:
        test = one.test
        until = day(test.ended_ms) if test.ended_ms is not None else "today"
        parts.append(f"## {_plain(one.page)}, {day(test.began_ms)} to {until}")
        if test.plan.believed:
            parts.append(f"Believed: {_plain(test.plan.believed)}")
        parts += [f"Changed in {key}:\n\n" + "\n".join(f"- {_plain(words)}" for words in changes)
                  for key, changes in one.changed.items() if changes]
        parts.append("\n".join(["| Variant | Visitors | Conversions | Rate |", "|---|---|---|---|",
                                *(f"| {key} | {came} | {won} | {rate:.2%} |"
                                  for key, came, won, rate in one.figures)]))
        parts.append(" ".join(one.came) + (f" {test.kept} was kept." if test.kept else ""))
    return "\n\n".join(parts) + "\n"


def _plain(words: str) -> str:
    """Return words in which nothing is taken for markup."""
    for sign in "\\`*_[]<>#|":
        words = words.replace(sign, f"\\{sign}")
    return words
