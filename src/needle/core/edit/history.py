"""Undo and redo: the former values, with what was done and what was chosen."""

from collections.abc import Callable
from dataclasses import dataclass, field, replace

from needle.core.site.site import Site
from needle.core.values.ids import Id

__all__ = ["History", "Step"]


@dataclass(frozen=True, slots=True)
class Step:
    """One step of undo.

    Attributes:
        before: The site before it.
        label: What was done, in words: "words of heading".
        group: Steps of one gesture share it and become one.
        selection: What was chosen before it.
    """

    before: Site
    label: str
    group: str = ""
    selection: Id = ""


@dataclass(frozen=True)
class History:
    """A site with its past and its future. Every method gives a new history."""

    site: Site
    past: tuple[Step, ...] = ()
    future: tuple[Step, ...] = ()
    _open: bool = field(default=True, repr=False)

    def edited(self, site: Site, label: str, group: str = "", selection: Id = "") -> "History":
        """Return the history after an edit. An edit that changes nothing adds no step."""
        if site is self.site:
            return self
        last = self.past[-1] if self.past else None
        if group and last and self._open and last.group == group:
            return History(site, self.past)
        step = Step(self.site, label, group, selection)
        return History(site, (*self.past, step))

    def closed(self) -> "History":
        """Return the history in which the next edit is a step of its own."""
        return replace(self, _open=False)

    def undone(self) -> "History":
        """Return the history one step back, or itself at the start."""
        return self if not self.past else self._turned(self.past, self.future, _back)

    def redone(self) -> "History":
        """Return the history one step forward, or itself at the end."""
        return self if not self.future else self._turned(self.future, self.past, _forth)

    def _turned(self, source: tuple[Step, ...], goal: tuple[Step, ...],
                make: Callable[..., "History"]) -> "History":
        step = source[-1]
        mirrored = Step(self.site, step.label, step.group, step.selection)
        return make(step.before, source[:-1], (*goal, mirrored))

    @property
    def undo_label(self) -> str:
        """What undo would take back, or an empty text."""
        return self.past[-1].label if self.past else ""

    @property
    def redo_label(self) -> str:
        """What redo would do again, or an empty text."""
        return self.future[-1].label if self.future else ""


def _back(site: Site, source: tuple[Step, ...], goal: tuple[Step, ...]) -> History:
    return History(site, source, goal, False)


def _forth(site: Site, source: tuple[Step, ...], goal: tuple[Step, ...]) -> History:
    return History(site, goal, source, False)
