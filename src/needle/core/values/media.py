"""Pictures, videos, files and fonts of a site."""

import mimetypes
from typing import Annotated

from needle.core.values.ids import OwnId
from needle.core.values.strict import Face, MediaFile, MediaFileOrNone, whole
from needle.core.values.value import Value

__all__ = ["Cut", "Font", "Medium"]


class Cut(Value, frozen=True):
    """What of a picture is shown.

    Attributes:
        turn: How far it is turned clockwise first, in degrees.
        left, top, right, bottom: What is cut off each side then, in percent.
        longest: How long its longer side is at most, in pixels; 0 for as it comes.
    """

    turn: float = 0
    left: float = 0
    top: float = 0
    right: float = 0
    bottom: float = 0
    longest: int = 0


class Medium(Value, frozen=True):
    """A picture, video or other file of the site.

    Attributes:
        name: Its file name as it came.
        file: Its file below the project's media folder, named by its content.
        width, height: In pixels; for a vector picture, its natural size; 0 for a file that is
            neither picture nor video.
        alt: What it shows, for those who cannot see it.
        weight: In bytes.
        seconds: How long a video runs; 0 for a picture.
        focus_x, focus_y: Which point stays in sight where it is cut to fit, in percent.
        original: The file that `file` was cut from, below the media folder; empty if it is whole.
        cut: How it was cut from it.
        invented: It stands in for a picture that is still to come.
    """

    id: OwnId
    name: str
    file: MediaFile
    width: int
    height: int
    alt: str = ""
    weight: int = 0
    seconds: float = 0
    focus_x: Annotated[int, whole(0, 100)] = 50
    focus_y: Annotated[int, whole(0, 100)] = 50
    original: MediaFileOrNone = ""
    cut: Cut = Cut()
    invented: bool = False

    @property
    def is_video(self) -> bool:
        """Whether it runs."""
        return self.seconds > 0

    @property
    def is_picture(self) -> bool:
        """Whether it can be shown as a picture."""
        return self.width > 0 and not self.is_video

    @property
    def is_vector(self) -> bool:
        """Whether it is drawn at any size alike."""
        return self.file.endswith(".svg")

    @property
    def mime(self) -> str:
        """Its media type, from the ending of its file."""
        return mimetypes.guess_type(self.file)[0] or "application/octet-stream"


class Font(Value, frozen=True):
    """A cut of type that was added from a file.

    Attributes:
        family: What looks and the brand call it.
        weight: 100 to 900.
        file: Its file below the project's media folder.
        name: Its file name as it came.
        whole: Its maker does not allow leaving letters out.
    """

    id: OwnId
    family: Face
    weight: int
    italic: bool
    file: MediaFile
    name: str = ""
    whole: bool = False
