"""The way of one visit through a site, as words that can be counted.

A path is its steps with blanks between them; a step is a letter, a colon and what it is of. Equal
ways are equal words, so a database counts them without knowing what they mean.
"""

from dataclasses import dataclass
from typing import Literal
from urllib.parse import quote, unquote

from needle.core.measure.events import EventKind
from needle.core.values.ids import Id

__all__ = ["GAP_MS", "Step", "extended", "read_path", "step_words"]

# Who does nothing for so long has gone; what they do then is another visit. Half an hour is what
# the trade counts by.
GAP_MS = 1_800_000
# Longer ways differ from each other in everything, so that counting them tells nothing.
_MOST = 12
# A whole path stays short enough for a database to look it up by (PostgreSQL: 2,704 bytes, with
# source and campaign beside it), whatever a visitor's browser calls a goal.
_LONGEST = 60

StepKind = Literal["page", "popup", "open", "step", "words", "lead", "goal"]
_LETTERS: dict[str, StepKind] = {
    "p": "page", "u": "popup", "o": "open", "s": "step", "w": "words", "l": "lead", "g": "goal"}
_LETTER_OF = {EventKind.POPUP: "u", EventKind.OPEN: "o", EventKind.LEAD: "l",
              EventKind.GOAL: "g", EventKind.CALL: "g"}


@dataclass(frozen=True, slots=True)
class Step:
    """One step of a way.

    Attributes:
        what: The id of the page, popup or form; the words of a goal.
        variant: Of a page.
        number: Of a form's step, or of the value of advert words.
    """

    kind: StepKind
    what: str
    variant: str = ""
    number: int = 0


def step_words(kind: EventKind, page: Id, variant: str, what: str, amount: int) -> str:
    """Return the step that an event is; empty if it is none."""
    match kind:
        case EventKind.VISIT:
            return f"p:{page}.{variant}"
        case EventKind.STEP:
            return f"s:{_plain(what)}.{amount}"
        case EventKind.WORDS:
            return f"w:{_plain(what)}.{amount}"
        case (EventKind.POPUP | EventKind.OPEN | EventKind.LEAD | EventKind.GOAL
              | EventKind.CALL):
            return f"{_LETTER_OF[kind]}:{_plain(what)}"
    return ""


def _plain(what: str) -> str:
    return quote(what[:_LONGEST], safe="")[:_LONGEST]


def extended(path: str, step: str) -> str:
    """Return a path with one more step; the same one twice running is one.

    A way that is too long already goes on only with what counts: that takes its last place.
    """
    steps = path.split(" ") if path else []
    if not step or (steps and steps[-1] == step):
        return path
    if len(steps) >= _MOST:
        if step[0] not in "lg":
            return path
        steps.pop()
    return " ".join([*steps, step])


def read_path(path: str) -> list[Step]:
    """Return the steps of a path; what is no step is left out."""
    found = (_read(words) for words in path.split(" ") if words)
    return [step for step in found if step is not None]


def _read(words: str) -> Step | None:
    letter, _, rest = words.partition(":")
    kind = _LETTERS.get(letter)
    if kind is None:
        return None
    if kind == "page":
        page, _, variant = rest.partition(".")
        return Step(kind, page, variant)
    if kind in ("step", "words"):
        form, _, number = rest.partition(".")
        return Step(kind, unquote(form), number=int(number) if number.isdecimal() else 0)
    return Step(kind, unquote(rest))
