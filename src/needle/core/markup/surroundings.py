"""What a kind may ask for while one of it is rendered.

What it asks of the site it declares (`Kind.reads`); asking for more raises `UndeclaredError`, so
that no live view and no mark of what is stale can miss a change.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal, Protocol

from needle.core.brand.marks import Branded
from needle.core.messages.message import Named
from needle.core.values.actions import Action
from needle.core.values.areas import Area
from needle.core.values.form import Form
from needle.core.values.ids import Id
from needle.core.values.language import Language
from needle.core.values.media import Medium
from needle.core.values.node import Node
from needle.core.values.rows import Above, Goods

__all__ = ["Mode", "PageName", "Pictures", "Rendition", "Surroundings", "TextMode",
           "UndeclaredError"]

Mode = Literal["edit", "live", "walk"]
# "one" text, in which Enter breaks the line, or "lines" of text, in which it begins another.
TextMode = Literal["one", "lines"]

_Attributes = dict[str, str | int | bool | None]


class UndeclaredError(Exception):
    """A kind asked for an area of the site that it does not declare to read."""


@dataclass(frozen=True, slots=True)
class Rendition:
    """One size of a picture.

    Attributes:
        address: Where the visitor's browser finds it, relative to the page.
        width: Its width in pixels.
    """

    address: str
    width: int


@dataclass(frozen=True, slots=True)
class PageName:
    """A page as others name it; without a slug it is the home page."""

    id: Id
    name: str
    slug: str


class Pictures(Protocol):
    """Knows where visitors find media. The store and the editor each have one."""

    def renditions(self, medium: Medium) -> Sequence[Rendition]:
        """Return the sizes of a picture, smallest first; at least one."""
        ...

    def original(self, medium: Medium) -> str:
        """Return the address of the file as it is, as for a video."""
        ...


class Surroundings(Protocol):
    """What surrounds one render of a node.

    Attributes:
        mode: "edit" adds the marks that the editor needs; "walk" is a live page that
            sends nothing.
        root: What leads from the page's address to the root of the site: "" or "../".
    """

    mode: Mode
    pictures: Pictures
    root: str

    @property
    def named_id(self) -> str:
        """The page that the node stands on, as menus name it: of the page of a table's row, the
        one that makes it."""
        ...

    @property
    def page_id(self) -> Id:
        """The page that it stands on."""
        ...

    @property
    def row_label(self) -> str:
        """What the row is called whose page it stands on; empty on any other page."""
        ...

    @property
    def cart_address(self) -> str:
        """The address of the page with the cart, or "#" if there is none (`Area.SHOP`)."""
        ...

    @property
    def row_id(self) -> Id:
        """The row whose page it stands on; empty on any other page."""
        ...

    @property
    def goods(self) -> Goods | None:
        """What the row offers whose page it stands on (`Area.TABLES`)."""
        ...

    @property
    def above(self) -> Sequence[Above]:
        """The pages above this one, the nearest last (`Area.TABLES`)."""
        ...

    @property
    def page_name(self) -> str:
        """What the page it stands on is called, or its row (`Area.PAGES`)."""
        ...

    @property
    def variant_key(self) -> str:
        """The variant that it stands on."""
        ...

    def declare(self, reads: frozenset[Area] | None) -> frozenset[Area] | None:
        """Let only these areas be asked for from now on, or all; return those of before."""
        ...

    @property
    def language(self) -> Language:
        """The language of the site (`Area.LANGUAGE`)."""
        ...

    def words(self, message: str, /, **values: Named) -> str:
        """Return what is said to visitors, in the language of the site (`Area.LANGUAGE`)."""
        ...

    def day(self, day: str) -> str:
        """Return "2027-08-12" as visitors read it (`Area.LANGUAGE`)."""
        ...

    def number(self, number: str) -> str:
        """Return a number as visitors read it (`Area.LANGUAGE`)."""
        ...

    def seen_at_once(self, node: Node) -> bool:
        """Whether a section stands at the top, so that its pictures are loaded first."""
        ...

    def rank_below(self, node: Node) -> int:
        """Return the rank of headings within an item: below that of the heading before it."""
        ...

    def row_address(self, page_id: Id, slug: str) -> str:
        """Return the address of a row's page as seen from this one."""
        ...

    def sizes(self, node: Node, factor: float = 1, across: int = 1, gap: float = 0) -> str:
        """Return the `sizes` of a picture in an item, by how wide the item is shown; empty where
        that is not known.

        Args:
            factor: How much wider the whole picture is than what is seen of it.
            across: Into so many cells in a line the item is parted, with `gap` CSS pixels between.
        """
        ...

    def typed(self, path: str, mode: TextMode) -> _Attributes:
        """Return the attributes of the element in which a text of a node is typed."""
        ...

    def attributes(self, node: Node, classes: str = "") -> _Attributes:
        """Return the attributes that every node's outermost element carries."""
        ...

    def link(self, link: str) -> str:
        """Return the address for a link in a text: "page:ID" or any address."""
        ...

    def click(self, actions: Sequence[Action]) -> _Attributes:
        """Return the attributes of a link that does `actions` in order."""
        ...

    def page_address(self, page_id: Id) -> str:
        """Return the address of a page as seen from this one, or "#" if it is gone."""
        ...

    def pages(self) -> Sequence[PageName]:
        """Return the pages of the site, in their order (`Area.PAGES`)."""
        ...

    def branded(self) -> Branded:
        """Return what a sign is drawn from (`Area.NAME`, `Area.BRAND`, `Area.FONTS`)."""
        ...

    def medium(self, medium_id: Id) -> Medium | None:
        """Return a medium of the site, or `None` if it is gone (`Area.MEDIA`)."""
        ...

    def form(self, form_id: Id) -> Form | None:
        """Return a form of the site, or `None` if it is gone (`Area.FORMS`)."""
        ...
