"""What a snag is, and what a rule that finds snags is: a row that everything else reads."""

from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any, Literal

from needle.core.site.site import Page, Site, Variant
from needle.core.values.areas import Area
from needle.core.values.ids import Id
from needle.core.values.node import Node
from needle.core.values.widths import Width

__all__ = ["ItemAt", "Place", "Rule", "Scope", "Snag", "Spot", "Weight"]

# 1 loses leads, 2 loses visitors, 3 could be better.
Weight = Literal[1, 2, 3]
Scope = Literal["site", "page", "item", "laid out", "beyond"]
Place = Literal["node", "form", "page"]


@dataclass(frozen=True, slots=True)
class Snag:
    """One fault that was found.

    Attributes:
        rule: The id of the rule that found it.
        weight: 1 loses leads, 2 loses visitors, 3 could be better.
        words: What is wrong.
        where: The page and part, for the person.
        kind: What `target` is the id of.
        setting: The field or property that puts it right; empty if there is no single one.
        width: Where it is so, if it is not so everywhere.
    """

    rule: str
    weight: Weight
    words: str
    where: str
    kind: Place
    target: Id
    setting: str = ""
    width: Width | None = None


@dataclass(frozen=True, slots=True)
class Spot:
    """What a rule says of a place.

    Attributes:
        words: What is wrong.
        kind, target: What it is about; empty for the branch that was looked at.
        where: The place in words; empty for that of the branch.
        note: What is said after the place, as a width.
        setting: Where it is put right, if that is not what the rule says.
        width: Where it is so, if it is not so everywhere.
    """

    words: str
    kind: Place = "page"
    target: Id = ""
    where: str = ""
    note: str = ""
    setting: str = ""
    width: Width | None = None


@dataclass(frozen=True)
class ItemAt:
    """A node with the way that leads to it.

    Attributes:
        path: The nodes from the section or popup down to it.
    """

    site: Site
    page: Page
    variant: Variant
    path: tuple[Node, ...]

    @property
    def node(self) -> Node:
        """The node itself."""
        return self.path[-1]

    @cached_property
    def where(self) -> str:
        """Where it is, in words: "Night B · Opening"."""
        name = f"{self.page.name} {self.variant.key}" if self.page.tested else self.page.name
        return f"{name} · {self.path[0].name}" if self.path[0].name else name


@dataclass(frozen=True, slots=True, kw_only=True)
class Rule:
    """A rule as a row: what it looks at, what it reads besides, why it matters, what mends it.

    What a rule said of a page is kept with the page, and asked again only when the page or
    something of the site that it reads has changed.

    Attributes:
        id: Its name in lists and for those who let one pass: "heading-order".
        scope: What `look` gets: the site, a page and the site, an `ItemAt`, a `LaidPage` with
            the page and the site, or a page and the site with what stands `Beyond`.
        reads: The areas of the site that it reads besides; for the scope "site" all of them.
        reason: Why it matters, for the person.
        source: Where that is from.
        setting: The field of the item or page, or the property of its looks, that puts it right.
        mend: Returns the site with the snag gone, where that can be done without asking.
    """

    id: str
    weight: Weight
    scope: Scope
    look: Callable[..., Iterable[Spot]]
    reason: str
    source: str
    reads: frozenset[Area] = frozenset()
    setting: str = ""
    mend: Callable[[Site, Snag], Site] | None = field(default=None)

    def snag(self, spot: Spot, kind: Place, target: Id, where: str) -> Snag:
        """Return what the person sees of a spot.

        Args:
            kind, target, where: Of the branch that was looked at, where the spot names none.
        """
        place = spot.where or where
        note = f" · {spot.note}" if spot.note else ""
        return Snag(self.id, self.weight, spot.words, place + note,
                    spot.kind if spot.target else kind, spot.target or target,
                    spot.setting or self.setting, spot.width)

    def told(self) -> dict[str, Any]:
        """Return what the row says, for lists of all rules."""
        return {"id": self.id, "weight": self.weight, "scope": self.scope,
                "reads": sorted(self.reads), "reason": self.reason, "source": self.source,
                "mends": self.mend is not None}
