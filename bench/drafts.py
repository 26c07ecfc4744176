"""How true and how unlike each other drafts are: facts kept, sentences sound, words shared.

Each line of `ideas.txt` is the kind of offer that a person would say it is, and the idea.
"""

import re
import sys
from collections import defaultdict
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass
from itertools import combinations
from pathlib import Path

import numpy as np

from needle.core.draft.copy import Copy, Wish
from needle.core.draft.drafter import Drafter
from needle.core.draft.drafting import Picks, draft_site
from needle.core.draft.looks import look_choices
from needle.core.draft.slots import Slots
from needle.core.render.texts import plain_lines
from needle.core.site.site import Site
from needle.core.site.starter import starter_site
from needle.core.site.tree import Section, walk
from needle.core.values.brief import Brief
from needle.core.values.ids import IdSource

__all__ = ["Drafted", "draft_all", "kept_share", "run", "shared_runs"]

_IDEAS = Path(__file__).parent / "ideas.txt"
# Words of telling, which no page repeats.
_TELLING_WORDS = """
hello basically idea imagine would like want people could should there they them their this that
with from into about have been has will what where when which while because also more our your his
her its and the for are can who how does do did is it in on at to of or by an as be we i my me us
you so too very just make makes making made sell sells buy open opening opened built build offer
offers start tool interest thinking years wife brother members anyone"""
_TELLING = frozenset(_TELLING_WORDS.split())


@dataclass(frozen=True)
class Drafted:
    """One draft with what it was made from."""

    kind: str
    idea: str
    slots: Slots
    copy: Copy
    site: Site
    files: Mapping[str, bytes]

    def words(self) -> str:
        """Return every word of the start page."""
        page = self.site.pages[0].variants[0]
        tops = [top for top in page.children if top.role == "section"]
        lines = [line for top in tops for line in _lines(top)]
        return "\n".join(lines)


def _lines(node: Section) -> Iterator[str]:
    for inner in walk(node):
        yield from plain_lines(inner)


def draft_all(drafter: Drafter, ideas: Iterable[tuple[str, str]]) -> list[Drafted]:
    """Return a draft of each idea, each as the first one that a person sees."""
    made = []
    for number, (kind, idea) in enumerate(ideas):
        slots = drafter.understand(idea)
        copy = drafter.write(Wish(slots, Brief(), number))
        looks = look_choices(slots, copy.names[0], number)
        done = draft_site(starter_site("New", "new"), slots, copy, looks, Picks(copy.names[0]),
                          IdSource(number), True)
        made.append(Drafted(kind, idea, slots, copy, done.site, done.files))
    return made


def kept_share(drafted: Drafted) -> tuple[float, list[str]]:
    """Return the share of an idea's own words that stand on the page, and those that do not."""
    page = _stems(drafted.words())
    told = [word for word in re.findall(r"[\w'’-]+", drafted.slots.idea.casefold())
            if word not in _TELLING and (len(word) > 2 or word.isdigit())]
    lost = [word for word in told if _stem(word) not in page]
    return 1 - len(lost) / max(1, len(told)), lost


def _stem(word: str) -> str:
    return re.sub(r"(?:ing|ed|es|s|'s|’s|e|er|ion)$", "", word)[:6]


def _stems(words: str) -> set[str]:
    return {_stem(word) for word in re.findall(r"[\w'’-]+", words.casefold())}


def shared_runs(one: str, other: str) -> float:
    """Return the share of three-word runs that two texts have in common, of the smaller one."""
    first, second = _runs(one), _runs(other)
    return len(first & second) / max(1, min(len(first), len(second)))


def _runs(words: str) -> set[tuple[str, ...]]:
    found = re.findall(r"[\w'’-]+", words.casefold())
    return set(zip(found, found[1:], found[2:], strict=False))


def run() -> int:
    """Print how the drafts of all ideas come out."""
    drafter = Drafter()
    ideas = [(kind, idea) for kind, _, idea in (
        line.partition("\t") for line in _IDEAS.read_text("utf-8").splitlines())]
    drafts = draft_all(drafter, ideas)
    right = sum(one.slots.offer == one.kind for one in drafts)
    print(f"kind of offer as a person would say: {right} of {len(drafts)}")
    for one in drafts:
        share, lost = kept_share(one)
        if lost:
            print(f"  {share:4.0%} kept; not on the page: {', '.join(lost)}  ({one.idea[:60]})")
    shares = [kept_share(one)[0] for one in drafts]
    print(f"words of the idea on its page: {np.mean(shares):.1%}, at worst {min(shares):.0%}")
    kinds = defaultdict(list)
    for one in drafts:
        kinds[(one.slots.offer, one.slots.language)].append(one)
    worst = []
    for (kind, language), group in kinds.items():
        pairs = [(shared_runs(a.words(), b.words()), a, b) for a, b in combinations(group, 2)]
        if pairs and language == "en":
            most = max(pairs, key=lambda pair: pair[0])
            worst.append(most[0])
            print(f"  {kind}: runs of three words shared, {np.mean([p[0] for p in pairs]):.0%} "
                  f"at the "
                  f"mean, {most[0]:.0%} at most ({most[1].idea[:30]} / {most[2].idea[:30]})")
    print(f"two drafts of one kind share at most {max(worst):.0%} of their runs of three words")
    return 0


if __name__ == "__main__":
    sys.exit(run())
