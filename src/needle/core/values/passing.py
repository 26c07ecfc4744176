"""Snags that somebody has looked at and lets be."""

from needle.core.values.ids import Id
from needle.core.values.strict import Choice
from needle.core.values.value import Value

__all__ = ["LONGEST_REASON", "Passed"]

LONGEST_REASON = 300


class Passed(Value, frozen=True):
    """What is let pass, and why.

    Attributes:
        rule: The id of the rule that found it.
        target: What it is about; the page, if the rule is let be on a whole page.
        words: What the rule said of it; empty for whatever it says on the page. Once it says
            something else it is heard again.
        reason: Why it is let be, in the words of who did it.
    """

    rule: Choice
    target: Id
    words: str = ""
    reason: str = ""
