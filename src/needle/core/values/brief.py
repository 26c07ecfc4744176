"""What a site is for."""

from needle.core.values.value import Value

__all__ = ["Brief"]


class Brief(Value, frozen=True):
    """What is gathered before the first section.

    Attributes:
        idea: What it is, in a sentence or two.
        call_to_action: The words of the one thing that a visitor should do.
        facts: What visitors come to find out, one thing a line.
        phrases: Key phrases, parted by commas.
        voice: How it speaks.
        deadline: ISO date on which the offer ends; empty for none.
        links: Addresses that pages may point to, one a line.
    """

    idea: str = ""
    call_to_action: str = ""
    audience: str = ""
    facts: str = ""
    phrases: str = ""
    voice: str = ""
    deadline: str = ""
    links: str = ""
