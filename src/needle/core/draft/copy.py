"""The words of a first draft, and who writes them."""

from collections.abc import Sequence
from typing import Protocol

import msgspec

from needle.core.draft.slots import Slots
from needle.core.messages.message import CoreError, Message, say
from needle.core.values.brief import Brief

__all__ = ["Copy", "Fact", "Line", "Offered", "Point", "Said", "Wish", "Writer", "WriterError",
           "copy_faults"]


class _Words(msgspec.Struct, frozen=True, kw_only=True):
    """A part of the words."""


class Point(_Words, frozen=True):
    """A title and the words below it.

    Attributes:
        icon: The name of a shipped icon that goes with it; may be empty.
    """

    title: str
    words: str
    icon: str = ""


class Fact(_Words, frozen=True):
    """Something that the person told: it is theirs, and no placeholder.

    Attributes:
        label: What it is about: "Where".
    """

    label: str
    words: str


class Said(_Words, frozen=True):
    """What somebody says, and who."""

    quote: str
    name: str
    about: str = ""


class Line(_Words, frozen=True):
    """A line of a comparison."""

    what: str
    there: str
    here: str


class Offered(_Words, frozen=True):
    """An offer with its price.

    Attributes:
        sure: The price is the person's own word.
    """

    title: str
    price: str
    unit: str
    included: tuple[str, ...]
    missing: tuple[str, ...] = ()
    sure: bool = False


class Copy(_Words, frozen=True, kw_only=True):
    """All words of a first draft. Where there are several to choose from, the best comes first.

    What the idea does not tell is a gap: words that say what to put there.

    Attributes:
        names: Proposals for the name.
        headlines, subs: Proposals for the opening.
        call: The words of the one button.
        facts: What the idea tells, in the person's own words.
        problem: How it is without it, a sentence or two each.
        figures: Number and what it counts; those of the idea alone.
        story: Paragraphs.
        behind: Who is behind it.
        day: When, and what happens.
        seen: What pictures show.
        ask: What the form asks besides name and e-mail, and the choices.
    """

    names: tuple[str, ...]
    headlines: tuple[str, ...]
    subs: tuple[str, ...]
    call: str
    eyebrow: str
    facts_title: str = ""
    facts: tuple[Fact, ...] = ()
    problem_title: str = ""
    problem: tuple[str, ...] = ()
    points_title: str = ""
    points: tuple[Point, ...] = ()
    steps_title: str = ""
    steps: tuple[Point, ...] = ()
    voices_title: str = ""
    voices: tuple[Said, ...] = ()
    figures: tuple[tuple[str, str], ...] = ()
    offer_title: str = ""
    offer: Offered | None = None
    questions_title: str = ""
    questions: tuple[Point, ...] = ()
    story_title: str = ""
    story: tuple[str, ...] = ()
    behind: str = ""
    compared_title: str = ""
    compared: tuple[Line, ...] = ()
    day_title: str = ""
    day: tuple[Point, ...] = ()
    gallery_title: str = ""
    seen: tuple[str, ...] = ()
    closing: Point
    ask: str = ""
    choices: tuple[str, ...] = ()
    thanks: str
    title: str
    description: str


class Wish(msgspec.Struct, frozen=True):
    """What words are wanted for.

    Attributes:
        slots: The idea, understood and put right.
        brief: What else is known.
        seed: Another number gives another draft, the same one the same.
    """

    slots: Slots
    brief: Brief
    seed: int = 0


class WriterError(CoreError):
    """There are no words; the message says why and what to do."""


class Writer(Protocol):
    """Whoever writes the words of a first draft."""

    def write(self, wish: Wish) -> Copy:
        """Return the words.

        Raises:
            WriterError: There are none, or they are of no use.
        """
        ...


_LONGEST = 600


def copy_faults(copy: Copy) -> list[Message]:
    """Return what makes words unfit for a page; nothing if they are fit."""
    lists = ("names", "headlines", "subs")
    lacks = [name for name in lists if not getattr(copy, name)]
    lacks += [name for name in ("call", "title") if not getattr(copy, name).strip()]
    faults = [say("writer-lacks", part=name) for name in lacks]
    texts = _texts(msgspec.to_builtins(copy))
    if any(len(words) > _LONGEST for words in texts):
        faults.append(say("writer-long-text", most=_LONGEST))
    return faults


def _texts(value: object) -> list[str]:
    if isinstance(value, str):
        return [value]
    if isinstance(value, dict):
        return [words for inner in value.values() for words in _texts(inner)]
    if isinstance(value, Sequence):
        return [words for inner in value for words in _texts(inner)]
    return []
