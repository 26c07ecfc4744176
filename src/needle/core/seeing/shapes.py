"""What is found in a picture. Every number is in CSS pixels of the picture."""

from dataclasses import dataclass, field

__all__ = ["Band", "Box", "Found", "Rect", "TextBlock"]


@dataclass(frozen=True, slots=True)
class Rect:
    """A rectangle; right and bottom are the first pixels outside."""

    left: int
    top: int
    right: int
    bottom: int

    @property
    def width(self) -> int:
        """From left to right."""
        return self.right - self.left

    @property
    def height(self) -> int:
        """From top to bottom."""
        return self.bottom - self.top

    @property
    def area(self) -> int:
        """Width times height."""
        return self.width * self.height

    def holds(self, other: "Rect", slack: int = 0) -> bool:
        """Whether another rectangle lies in this one."""
        return (other.left >= self.left - slack and other.right <= self.right + slack
                and other.top >= self.top - slack and other.bottom <= self.bottom + slack)

    def joined(self, other: "Rect") -> "Rect":
        """Return the smallest rectangle around both."""
        return Rect(min(self.left, other.left), min(self.top, other.top),
                    max(self.right, other.right), max(self.bottom, other.bottom))

    def moved(self, left: int, top: int) -> "Rect":
        """Return the rectangle shifted."""
        return Rect(self.left + left, self.top + top, self.right + left, self.bottom + top)

    def off_by(self, other: "Rect") -> int:
        """Return how far the edge is off that differs most from another rectangle's."""
        return max(abs(self.left - other.left), abs(self.top - other.top),
                   abs(self.right - other.right), abs(self.bottom - other.bottom))


@dataclass(frozen=True, slots=True)
class TextBlock:
    """Lines of words in one size and colour.

    Attributes:
        rect: Around the ink.
        size: Of the type, worked out from the height of its letters.
        colour: "#rrggbb".
        lines: How many.
        pitch: From one line to the next; 0 for a single line.
        weight: How bold: stroke width by size.
        words: What it says, where that is known.
        letters: How many pieces of ink it has; 0 where that is not known.
    """

    rect: Rect
    size: float
    colour: str
    lines: int
    pitch: float = 0
    weight: float = 0
    words: str = ""
    letters: int = 0

    @property
    def is_lettered(self) -> bool:
        """Whether it has as many pieces of ink as words of its length have letters."""
        usual = self.rect.width * self.lines / max(1.0, 0.5 * self.size)
        return self.letters >= 4 and 0.35 <= self.letters / max(1.0, usual) <= 2


@dataclass(frozen=True, slots=True)
class Box:
    """A rectangle with a colour or an edge of its own: a card, a field, or a button.

    Attributes:
        fill: "#rrggbb" inside; that of the ground behind for an outlined one.
        edge: "#rrggbb" of its outline, or empty.
        radius: Of its corners.
        texts, pictures, boxes: What is in it.
    """

    rect: Rect
    fill: str
    edge: str = ""
    radius: int = 0
    texts: tuple[TextBlock, ...] = ()
    pictures: tuple[Rect, ...] = ()
    boxes: tuple["Box", ...] = ()

    @property
    def is_button(self) -> bool:
        """Whether it is as high as a button, with one line in its middle and nothing else."""
        texts = self.texts
        if not 1 <= len(texts) <= 2 or self.pictures or self.boxes:
            return False
        # A mark behind words is hardly higher than they are.
        if any(text.lines != 1 or self.rect.height < 1.55 * text.size for text in texts):
            return False
        # An icon may stand beside the words.
        words, rect = texts[0].rect.joined(texts[-1].rect), self.rect
        middle = abs((words.left + words.right) - (rect.left + rect.right)) / 2
        upright = abs((words.top + words.bottom) - (rect.top + rect.bottom)) / 2
        return 24 <= rect.height <= 96 and rect.width >= rect.height and middle <= 0.04 * (
            rect.width) + 12 and upright <= 0.16 * rect.height


@dataclass(frozen=True, slots=True)
class Band:
    """A section: a band across the page.

    Attributes:
        ground: "#rrggbb", or empty where a picture is behind it.
    """

    rect: Rect
    ground: str
    texts: tuple[TextBlock, ...] = ()
    pictures: tuple[Rect, ...] = ()
    boxes: tuple[Box, ...] = ()


@dataclass(frozen=True, slots=True)
class Found:
    """Everything that was read from a picture.

    Attributes:
        palette: "#rrggbb" and share of the picture, commonest first.
    """

    width: int
    height: int
    bands: tuple[Band, ...]
    palette: tuple[tuple[str, float], ...] = field(default=())

    def all_boxes(self) -> list[Box]:
        """Return every box, those in boxes too."""
        found: list[Box] = []
        waiting = [box for band in self.bands for box in band.boxes]
        while waiting:
            box = waiting.pop()
            found.append(box)
            waiting.extend(box.boxes)
        return found

    def texts(self) -> list[TextBlock]:
        """Return every text that is not on a button."""
        return [text for band in self.bands for text in band.texts] + [
            text for box in self.all_boxes() if not box.is_button for text in box.texts]

    def pictures(self) -> list[Rect]:
        """Return every picture."""
        return [rect for band in self.bands for rect in band.pictures] + [
            rect for box in self.all_boxes() for rect in box.pictures]

    def buttons(self) -> list[Box]:
        """Return every button."""
        return [box for box in self.all_boxes() if box.is_button]
