"""Colours, type and sign of a site."""

from needle.core.values.ids import Id
from needle.core.values.strict import Choice, Face, Hex, PaletteRole
from needle.core.values.theme import Theme
from needle.core.values.value import Value

__all__ = ["Brand", "Mark", "ShareCard", "Swatch"]


class Swatch(Value, frozen=True):
    """A colour of the brand.

    Attributes:
        role: What looks refer to: "ink", "paper", "main", "on_main", "accent", "mist", "quiet".
        name: What the person calls it.
        value: "#rrggbb", lower case.
    """

    role: PaletteRole
    name: str
    value: Hex


class Mark(Value, frozen=True):
    """The sign of the site: drawn from a shape and letters, or a picture of one's own.

    Attributes:
        shape: A shape of `core/brand/marks.py`; empty for letters alone.
        letters: At most two, drawn in the headings' face.
        medium: A picture that takes the place of the drawing.
    """

    shape: Choice = "spark"
    letters: str = ""
    medium: Id = ""


class ShareCard(Value, frozen=True):
    """How the pictures are made that are shown where pages are shared.

    Attributes:
        layout: "words" (on a plain ground), "band" (a stripe of the main colour) or "picture".
        ground: The role of the colour behind the words.
        words: What stands on it; empty for each page's own title.
        medium: The picture, for the layout "picture".
    """

    layout: Choice = "band"
    ground: PaletteRole = "ink"
    words: str = ""
    medium: Id = ""


class Brand(Value, frozen=True):
    """Colours, type and sign that the whole site draws on.

    Attributes:
        dark: The same roles for visitors whose system is dark; empty for none.
        size: Of common words, in CSS pixels.
        ratio: From one size of type to the next.
        room: How much space sections, rows and columns have, in percent of the usual.
        theme: How pages are built up; `None` for sites of before there were themes.
    """

    palette: tuple[Swatch, ...]
    heading_face: Face = "Zilla Slab"
    body_face: Face = "IBM Plex Sans"
    dark: tuple[Swatch, ...] = ()
    size: int = 17
    ratio: float = 1.25
    room: int = 100
    theme: Theme | None = None
    mark: Mark = Mark()
    share: ShareCard = ShareCard()

    def swatch(self, role: str) -> Swatch | None:
        """Return the colour with this role."""
        return next((swatch for swatch in self.palette if swatch.role == role), None)

    def colours(self) -> dict[str, str]:
        """Return the palette's colours by role."""
        return {swatch.role: swatch.value for swatch in self.palette}
