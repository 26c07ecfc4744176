"""Forms: their fields and steps, what follows after sending, and where a lead goes."""

from collections.abc import Mapping
from enum import StrEnum

from needle.core.values.ids import Id, OwnId
from needle.core.values.strict import Strict

__all__ = ["FACTS", "ROW", "After", "Confirmation", "FieldRoute", "Form", "FormField", "Letter",
           "NoticeRoute", "Only", "Role", "Route", "ShowMessage", "Step", "ThankAddress",
           "ThankPage"]


class Role(StrEnum):
    """What a field means, whatever its label says."""

    NAME = "name"
    GIVEN = "given"
    FAMILY = "family"
    EMAIL = "email"
    PHONE = "phone"
    COMPANY = "company"
    CHOICE = "choice"
    CHOICES = "choices"
    NUMBER = "number"
    DATE = "date"
    LINE = "line"
    LONG = "long"
    FILE = "file"
    CONSENT = "consent"
    HIDDEN = "hidden"


# Whose page it is where a page is made of each row of a table: its place, its product.
ROW = ":row"
# What fills a hidden field besides a parameter of the page's address.
FACTS: Mapping[str, str] = {
    ":referrer": "the page they came from", ":page": "this page", ":variant": "the variant",
    ":language": "the browser's language",
    ":first": "the first address of the visit", ROW: "the row of the page"}


class FormField(Strict, frozen=True, omit_defaults=True, forbid_unknown_fields=True):
    """One thing that a form asks.

    Attributes:
        choices: What can be chosen, for `CHOICE` and `CHOICES`; for `PHONE` the countries that
            are offered (ISO 3166 codes), the first for numbers without a country; for `FILE` the
            endings that are taken.
        source: For `HIDDEN`: the parameter of the page's address that fills it, or one of `FACTS`.
        hint: Stands small below the label.
        default: What stands in the field before anybody answers.
        message: What is said when the answer cannot be taken; empty for Needle's own words.
        least: For `NUMBER`: the smallest that is taken.
        most: For `NUMBER`: the greatest; for `FILE`: its weight in kB.
        not_past: For `DATE`: no day before today.
        spread: For `CHOICE`: all choices are seen at once, not behind a list.
        step: The step that asks it; empty for the first.
    """

    id: OwnId
    role: Role
    label: str
    required: bool = False
    choices: tuple[str, ...] = ()
    source: str = ""
    hint: str = ""
    default: str = ""
    message: str = ""
    least: float | None = None
    most: float | None = None
    not_past: bool = False
    spread: bool = False
    step: Id = ""

    @property
    def longest(self) -> int:
        """The greatest number of characters an answer may have."""
        return 5000 if self.role is Role.LONG else 300


class Only(Strict, frozen=True):
    """A step is asked only of those who gave one of these answers earlier."""

    field: Id
    answers: tuple[str, ...]

    def holds(self, answers: Mapping[Id, str]) -> bool:
        """Return whether the answers so far call for the step."""
        given = answers.get(self.field, "")
        return given in self.answers or any(one in self.answers for one in given.split(", "))


class Step(Strict, frozen=True, omit_defaults=True):
    """One part of a form that is shown at a time."""

    id: OwnId
    name: str
    only: Only | None = None


class ShowMessage(Strict, frozen=True, tag="message", tag_field="then"):
    """After sending, these words take the place of the form."""

    words: str


class ThankPage(Strict, frozen=True, tag="page", tag_field="then"):
    """After sending, the visitor goes to a page of the site."""

    page: Id


class ThankAddress(Strict, frozen=True, tag="address", tag_field="then"):
    """After sending, the visitor goes to an address elsewhere."""

    address: str


After = ShowMessage | ThankPage | ThankAddress


class NoticeRoute(Strict, frozen=True, tag="notice", tag_field="by"):
    """An e-mail that tells somebody about the lead."""

    id: OwnId
    service: Id
    to: str


class FieldRoute(Strict, frozen=True, tag="fields", tag_field="by"):
    """The answers fill fields of a service: a list, a web hook, a file, an address book.

    Attributes:
        target: The key of the list or book at the service; empty where it has only one.
        fields: Which field of the form fills which field of the service: key to id.
    """

    id: OwnId
    service: Id
    target: str = ""
    target_name: str = ""
    fields: Mapping[str, Id] = {}


Route = NoticeRoute | FieldRoute


class Letter(Strict, frozen=True, omit_defaults=True):
    """The one e-mail to the visitor that brings what was promised.

    Attributes:
        service: The mail service that sends it.
        file: The file of the site's media that it brings; empty for words alone.
        attach: The file comes with the letter; else the letter holds a link to it.
        days: How long the link works.
    """

    service: Id
    subject: str
    words: str
    file: Id = ""
    attach: bool = False
    days: int = 7


class Confirmation(Strict, frozen=True, omit_defaults=True):
    """A letter with a link that must be followed before the lead goes anywhere."""

    service: Id
    subject: str
    words: str


class Form(Strict, frozen=True, omit_defaults=True, forbid_unknown_fields=True,
           kw_only=True):
    """A form of the site. Pages show it through form items.

    Attributes:
        submit: The words on its button.
        steps: Its parts, if it asks in more than one.
        routes: Where a lead goes besides the lead book, which always gets it.
        letter: What the visitor gets by e-mail.
        confirmation: Asked before the lead goes to any service ("double opt-in").
        check_robots: Whether leads that look automatic are put aside.
        challenge: Whether the visitor's browser must do a small proof of work.
        keep_unfinished: Whether answers of those who stop half-way are kept.
    """

    id: OwnId
    name: str
    fields: tuple[FormField, ...]
    submit: str = "Send"
    steps: tuple[Step, ...] = ()
    after: After = ShowMessage("Thank you. We have your message.")
    routes: tuple[Route, ...] = ()
    letter: Letter | None = None
    confirmation: Confirmation | None = None
    check_robots: bool = True
    challenge: bool = False
    keep_unfinished: bool = False

    def field(self, field_id: Id) -> FormField | None:
        """Return a field by its id."""
        return next((field for field in self.fields if field.id == field_id), None)

    def with_role(self, role: Role) -> FormField | None:
        """Return the first field with this role."""
        return next((field for field in self.fields if field.role is role), None)

    def step_of(self, field: FormField) -> Id:
        """Return the step that asks a field; empty if the form has no steps."""
        known = [step.id for step in self.steps]
        return field.step if field.step in known else known[0] if known else ""

    def asked_in(self, step: Id) -> tuple[FormField, ...]:
        """Return the fields that a step asks, in order."""
        return tuple(field for field in self.fields
                     if field.role is not Role.HIDDEN and self.step_of(field) == step)

    def skipped(self, answers: Mapping[Id, str]) -> frozenset[Id]:
        """Return the steps that these answers leave out."""
        left_out: set[Id] = set()
        held = dict(answers)
        for step in self.steps:
            if step.only is not None and not step.only.holds(held):
                left_out.add(step.id)
                for field in self.asked_in(step.id):
                    held.pop(field.id, None)
        return frozenset(left_out)
