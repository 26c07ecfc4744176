"""Forms: their fields, what follows after sending, and where a lead goes."""

from collections.abc import Mapping
from enum import StrEnum

import msgspec

from needle.core.site.ids import Id

__all__ = ["After", "Form", "FormField", "ListRoute", "NoticeRoute", "Role", "Route",
           "ShowMessage", "ThankAddress", "ThankPage"]


class Role(StrEnum):
    """What a field means, whatever its label says."""

    NAME = "name"
    EMAIL = "email"
    PHONE = "phone"
    CHOICE = "choice"
    CONSENT = "consent"
    LINE = "line"
    LONG = "long"
    HIDDEN = "hidden"


class FormField(msgspec.Struct, frozen=True, omit_defaults=True, forbid_unknown_fields=True):
    """One thing that a form asks.

    Attributes:
        choices: What can be chosen, for the role `CHOICE`.
        source: For the role `HIDDEN`: the parameter of the page's address that fills it.
    """

    id: Id
    role: Role
    label: str
    required: bool = False
    choices: tuple[str, ...] = ()
    source: str = ""

    @property
    def longest(self) -> int:
        """The greatest number of characters an answer may have."""
        return 5000 if self.role is Role.LONG else 300


class ShowMessage(msgspec.Struct, frozen=True, tag="message", tag_field="then"):
    """After sending, these words take the place of the form."""

    words: str


class ThankPage(msgspec.Struct, frozen=True, tag="page", tag_field="then"):
    """After sending, the visitor goes to a page of the site."""

    page: Id


class ThankAddress(msgspec.Struct, frozen=True, tag="address", tag_field="then"):
    """After sending, the visitor goes to an address elsewhere."""

    address: str


After = ShowMessage | ThankPage | ThankAddress


class NoticeRoute(msgspec.Struct, frozen=True, tag="notice", tag_field="by"):
    """An e-mail that tells somebody about the lead."""

    id: Id
    service: Id
    to: str


class ListRoute(msgspec.Struct, frozen=True, tag="list", tag_field="by"):
    """The lead becomes a member of a mailing list.

    Attributes:
        list_key: The list's key at the service.
        fields: Which field of the form fills which field of the list: id to key.
    """

    id: Id
    service: Id
    list_key: str
    list_name: str
    fields: Mapping[Id, str] = {}


Route = NoticeRoute | ListRoute


class Form(msgspec.Struct, frozen=True, omit_defaults=True, forbid_unknown_fields=True,
           kw_only=True):
    """A form of the site. Pages show it through form items.

    Attributes:
        submit: The words on its button.
        routes: Where a lead goes besides the lead book, which always gets it.
        check_robots: Whether leads that look automatic are put aside.
    """

    id: Id
    name: str
    fields: tuple[FormField, ...]
    submit: str = "Send"
    after: After = ShowMessage("Thank you. We have your message.")
    routes: tuple[Route, ...] = ()
    check_robots: bool = True

    def field(self, field_id: Id) -> FormField | None:
        """Return a field by its id."""
        return next((field for field in self.fields if field.id == field_id), None)

    def with_role(self, role: Role) -> FormField | None:
        """Return the first field with this role."""
        return next((field for field in self.fields if field.role is role), None)
