"""A message as a value: which one it is, and what it names. Its words stand in a catalogue."""

from collections.abc import Mapping
from dataclasses import dataclass

from needle.core.messages.catalogue import worded

__all__ = ["CoreError", "Message", "Named", "RefusedError", "say"]

# What a message may name: numbers are written as the language writes them, all else as its text.
Named = object


@dataclass(frozen=True, slots=True)
class Message:
    """One thing to say.

    Attributes:
        id: Its name in the catalogue.
        values: What it names, by the names that the catalogue uses.
    """

    id: str
    values: Mapping[str, Named]

    def __str__(self) -> str:
        """Return it in words."""
        return worded(self.id, self.values)

    def in_language(self, language: str) -> str:
        """Return it in the words of a language, where the catalogue has it in that one."""
        return worded(self.id, self.values, language)


def say(message: str, /, **values: Named) -> Message:
    """Return a message of the catalogue with what it names."""
    return Message(message, values)


class RefusedError(Exception):
    """What cannot be done, or cannot be taken. As text it is its words.

    Attributes:
        message: What there is to say.
    """

    def __init__(self, message: str | Message, /, **values: Named) -> None:
        self.message = message if isinstance(message, Message) else Message(message, values)
        super().__init__(self.message)

    def __str__(self) -> str:
        """Return its words."""
        return str(self.message)


class CoreError(RefusedError, ValueError):
    """What the core refuses: an edit, a value, a picture, a file that is read in."""
