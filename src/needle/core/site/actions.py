"""What a click does."""

import msgspec

from needle.core.site.ids import Id

__all__ = ["Action", "ClosePopup", "Dial", "GoAddress", "GoPage", "GoSection", "OpenPopup", "Write"]


class GoPage(msgspec.Struct, frozen=True, tag="page", tag_field="does"):
    """Go to a page of this site."""

    page: Id


class GoAddress(msgspec.Struct, frozen=True, tag="address", tag_field="does"):
    """Go to an address elsewhere."""

    address: str


class GoSection(msgspec.Struct, frozen=True, tag="section", tag_field="does"):
    """Scroll to a section of this page."""

    section: Id


class OpenPopup(msgspec.Struct, frozen=True, tag="open", tag_field="does"):
    """Open a popup of this page."""

    popup: Id


class ClosePopup(msgspec.Struct, frozen=True, tag="close", tag_field="does"):
    """Close the popup that the click is in."""


class Dial(msgspec.Struct, frozen=True, tag="phone", tag_field="does"):
    """Call a phone number."""

    number: str


class Write(msgspec.Struct, frozen=True, tag="mail", tag_field="does"):
    """Write an e-mail."""

    address: str


Action = GoPage | GoAddress | GoSection | OpenPopup | ClosePopup | Dial | Write
