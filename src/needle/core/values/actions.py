"""What a click does."""

from needle.core.values.ids import Id
from needle.core.values.strict import Strict

__all__ = ["Action", "ClosePopup", "CountGoal", "Dial", "GiveFile", "GoAddress", "GoPage",
           "GoSection", "HidePart", "OpenPopup", "PlayVideo", "ShowPart", "Write"]


class GoPage(Strict, frozen=True, tag="page", tag_field="does"):
    """Go to a page of this site."""

    page: Id


class GoAddress(Strict, frozen=True, tag="address", tag_field="does"):
    """Go to an address elsewhere."""

    address: str


class GoSection(Strict, frozen=True, tag="section", tag_field="does"):
    """Scroll to a section of this page."""

    section: Id


class OpenPopup(Strict, frozen=True, tag="open", tag_field="does"):
    """Open a popup of this page."""

    popup: Id


class ClosePopup(Strict, frozen=True, tag="close", tag_field="does"):
    """Close the popup that the click is in."""


class Dial(Strict, frozen=True, tag="phone", tag_field="does"):
    """Call a phone number."""

    number: str


class Write(Strict, frozen=True, tag="mail", tag_field="does"):
    """Write an e-mail."""

    address: str


class GiveFile(Strict, frozen=True, tag="file", tag_field="does"):
    """Hand out a file of the site's media."""

    file: Id


class ShowPart(Strict, frozen=True, tag="show", tag_field="does"):
    """Show a part of this page that is hidden until then."""

    part: Id


class HidePart(Strict, frozen=True, tag="hide", tag_field="does"):
    """Hide a part of this page."""

    part: Id


class PlayVideo(Strict, frozen=True, tag="play", tag_field="does"):
    """Play a video of this page."""

    video: Id


class CountGoal(Strict, frozen=True, tag="goal", tag_field="does"):
    """Count the click as a conversion of the page."""

    name: str


Action = (GoPage | GoAddress | GoSection | OpenPopup | ClosePopup | Dial | Write | GiveFile
          | ShowPart | HidePart | PlayVideo | CountGoal)
