"""Slots while they are being filled."""

from dataclasses import dataclass, field

__all__ = ["Found"]


@dataclass
class Found:
    """As `slots.Slots`, but open: lists grow, and words may still be joined."""

    what: str = ""
    name: str = ""
    does: str = ""
    doing: str = ""
    who: str = ""
    change: str = ""
    place: str = ""
    when: str = ""
    price: str = ""
    per: str = ""
    free: bool = False
    proof: list[str] = field(default_factory=list)
    extras: list[str] = field(default_factory=list)
    facts: list[str] = field(default_factory=list)
