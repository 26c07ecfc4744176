"""How far somebody is with the snags of a site: what is open, and what was mended meanwhile."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from needle.core.snags.finding import RULES
from needle.core.snags.snag import Snag

__all__ = ["FOLDED_OVER", "Mended", "Progress", "Row", "progressed", "rows"]

# More snags of one rule than these are shown as one row until they are unfolded.
FOLDED_OVER = 3
_MENDED_SHOWN = 20


@dataclass(frozen=True, slots=True)
class Mended:
    """A snag that is gone, and when that was seen (as words for the person)."""

    snag: Snag
    at: str


@dataclass(frozen=True, slots=True)
class Progress:
    """What is open, worst first, and what was mended since the site was opened, last first."""

    open: tuple[Snag, ...] = ()
    mended: tuple[Mended, ...] = ()

    @property
    def share(self) -> float:
        """How much of what was ever found is mended, 0 to 1; 1 if nothing was."""
        whole = len(self.open) + len(self.mended)
        return len(self.mended) / whole if whole else 1.0


@dataclass(frozen=True, slots=True)
class Row:
    """A row of the list.

    Attributes:
        snag: What it says; of a folded group the first.
        number: Its place among the open ones, from 1; 0 if it is mended or let pass.
        more: How many of the same rule are folded into it.
        done: When it was mended; empty if it is open.
    """

    snag: Snag
    number: int = 0
    more: int = 0
    done: str = ""


def _key(snag: Snag) -> tuple[str, str, str]:
    return snag.rule, snag.kind, snag.target


def progressed(before: Progress, found: Sequence[Snag], let_pass: Iterable[Snag], settled: bool,
               at: str) -> Progress:
    """Return how far one is after a look.

    Args:
        found: What is open now.
        let_pass: What is not open because it was let pass; that is not mended.
        settled: Whether every page was laid out as it is now. Until then what was said of
            laid-out pages stands: nobody has looked whether it is gone.
        at: The time, for those that are gone.
    """
    now = {_key(snag) for snag in found}
    passed = {_key(snag) for snag in let_pass}
    came_back = now | passed
    gone = [snag for snag in before.open if _key(snag) not in came_back]
    laid = [] if settled else [rule for rule in {snag.rule for snag in gone}
                               if RULES[rule].scope == "laid out"]
    unsure = [snag for snag in gone if snag.rule in laid]
    fresh = [Mended(snag, at) for snag in gone if snag.rule not in laid]
    mended = [one for one in (*fresh, *before.mended) if _key(one.snag) not in came_back]
    return Progress(tuple(sorted((*found, *unsure), key=lambda snag: snag.weight)), tuple(mended))


def rows(progress: Progress, unfolded: frozenset[str]) -> list[Row]:
    """Return the rows of the list: the open ones grouped by their rule, then the mended ones.

    Args:
        unfolded: The rules of which every snag has a row of its own.
    """
    groups: dict[str, list[tuple[int, Snag]]] = {}
    for number, snag in enumerate(progress.open, 1):
        groups.setdefault(snag.rule, []).append((number, snag))
    made: list[Row] = []
    for rule, group in groups.items():
        folded = len(group) > FOLDED_OVER and rule not in unfolded
        made += [Row(snag, number, len(group) - 1 if folded else 0)
                 for number, snag in (group[:1] if folded else group)]
    made += [Row(one.snag, done=one.at) for one in progress.mended[:_MENDED_SHOWN]]
    return made
