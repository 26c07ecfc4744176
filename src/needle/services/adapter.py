"""What every service that leads are sent to can be asked, and what it answers."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from email.message import EmailMessage
from pathlib import Path
from typing import Literal, Protocol, runtime_checkable

from needle.core.messages.message import Message, Named, RefusedError

__all__ = ["Access", "Adapter", "FieldKind", "Parcel", "Receipt", "ServiceError", "Setting",
           "TargetField"]

FieldKind = Literal["email", "text", "phone", "number", "date", "choice"]


class ServiceError(RefusedError):
    """The service did not do what was asked; the message says so in words.

    Attributes:
        down: The fault is the service's own, so nothing else need be tried there just now.
        final: Trying again cannot help.
        request, answer: What went over the wire, without keys.
    """

    def __init__(self, message: str | Message, /, *, down: bool = False, final: bool = False,
                 request: str = "", answer: str = "", **values: Named) -> None:
        super().__init__(message, **values)
        self.down = down
        self.final = final
        self.request = request
        self.answer = answer


@dataclass(frozen=True, slots=True)
class Access:
    """Where a service is, and what opens it.

    Attributes:
        options: The settings of its kind, by name.
        folder: The project's folder, for services that are files.
    """

    name: str
    address: str
    key: str = ""
    options: Mapping[str, str] = field(default_factory=dict)
    folder: Path = Path()


@dataclass(frozen=True, slots=True)
class TargetField:
    """A field of a list, a hook or a book, as the service describes it."""

    key: str
    kind: FieldKind = "text"
    required: bool = False
    choices: Sequence[str] = ()


@dataclass(frozen=True, slots=True)
class Parcel:
    """One delivery.

    Attributes:
        key: The same at every try, so that the service can tell a repeat.
        target: The list or book at the service.
        values: By the service's own field names.
        facts: About the lead: "form", "page", "variant", "source", "when" (ISO 8601, UTC).
        letter: For services that send mail.
    """

    key: str
    target: str = ""
    values: Mapping[str, str] = field(default_factory=dict)
    facts: Mapping[str, str] = field(default_factory=dict)
    letter: EmailMessage | None = None


@dataclass(frozen=True, slots=True)
class Receipt:
    """What a service said to a delivery: in words, and as it went over the wire."""

    words: str
    request: str = ""
    answer: str = ""


@dataclass(frozen=True, slots=True)
class Setting:
    """One thing that a person tells about a service.

    Attributes:
        kind: "line", "long" or "choice"; "secret", "secrets" (several lines) and all of a
            "secret address" but its host are kept apart from the project.
    """

    name: str
    label: str
    kind: Literal["line", "long", "choice", "secret", "secrets", "secret address"] = "line"
    example: str = ""
    choices: Mapping[str, str] = field(default_factory=dict)


@runtime_checkable
class Adapter(Protocol):
    """A client of one service. Every method raises `ServiceError` in words."""

    def check(self) -> str:
        """Try address and key without changing anything; return what was found, in words."""
        ...

    def targets(self) -> Mapping[str, str]:
        """Return the lists or books by key; empty where there is only one."""
        ...

    def fields(self, target: str) -> Sequence[TargetField]:
        """Return the fields of a target; empty where any name is taken."""
        ...

    def deliver(self, parcel: Parcel) -> Receipt:
        """Hand over one lead. A parcel with a known key changes nothing."""
        ...

    def remove(self, parcel: Parcel) -> bool:
        """Take one lead out again; return `False` if the service knows no way."""
        ...
