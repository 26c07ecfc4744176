"""What a template may know about the site around the node it renders."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING, Literal, Protocol

from needle.core.render.markup import safe_address
from needle.core.site.actions import (
    Action,
    ClosePopup,
    Dial,
    GoAddress,
    GoPage,
    GoSection,
    OpenPopup,
    Write,
)
from needle.core.site.ids import Id
from needle.core.site.node import Node
from needle.core.site.widths import Width

if TYPE_CHECKING:
    from needle.core.site.form import Form
    from needle.core.site.kind import TextMode
    from needle.core.site.site import Medium, Page, Site, Variant

__all__ = ["Context", "Mode", "Pictures", "Rendition", "node_class", "popup_anchor",
           "section_anchor"]

Mode = Literal["edit", "live", "walk"]


@dataclass(frozen=True, slots=True)
class Rendition:
    """One size of a picture.

    Attributes:
        address: Where the visitor's browser finds it, relative to the page.
        width: Its width in pixels.
    """

    address: str
    width: int


class Pictures(Protocol):
    """Knows which sizes of a picture there are. The store and the editor each have one."""

    def renditions(self, medium: "Medium") -> Sequence[Rendition]:
        """Return the sizes of `medium`, smallest first; at least one."""
        ...


@dataclass(frozen=True)
class Context:
    """The surroundings of one render.

    Attributes:
        mode: "edit" adds the marks that the editor needs; "walk" is a live page that
            sends nothing.
        root: What leads from the page's address to the root of the site: "" or "../".
    """

    site: "Site"
    page: "Page"
    variant: "Variant"
    mode: Mode
    pictures: Pictures
    root: str = ""

    def typed(self, path: str, mode: "TextMode") -> dict[str, str | int | bool | None]:
        """Return the attributes of the element in which a text of a node is typed."""
        return {"data-words": mode, "data-text": path} if self.mode == "edit" else {}

    def attributes(self, node: Node, classes: str = "") -> dict[str, str | int | bool | None]:
        """Return the attributes that every node's outermost element carries."""
        styled = node.hidden or any(node.look.at(width) for width in (None, *Width))
        own = node_class(node) if self.mode == "edit" or styled else ""
        names = " ".join(part for part in (classes, own) if part)
        attributes: dict[str, str | int | bool | None] = {"class": names or None}
        if self.mode == "edit":
            attributes["data-n"] = node.id
        return attributes

    def page_address(self, page_id: Id) -> str:
        """Return the address of a page as seen from this one, or "#" if it is gone."""
        page = self.site.page(page_id)
        if page is None:
            return "#"
        return (self.root + page.slug + "/") if page.slug else (self.root or "./")

    def link(self, link: str) -> str:
        """Return the address for a link in a text: "page:ID" or any address."""
        if link.startswith("page:"):
            return self.page_address(link[5:])
        return safe_address(link)

    def click(self, actions: Sequence[Action]) -> dict[str, str | int | bool | None]:
        """Return the attributes of a link that does `actions`; the first one leads."""
        if not actions:
            return {"href": "#"}
        match actions[0]:
            case GoPage(page):
                return {"href": self.page_address(page)}
            case GoAddress(address):
                return {"href": safe_address(address)}
            case GoSection(section):
                return {"href": f"#{section_anchor(section)}"}
            case OpenPopup(popup):
                return {"href": f"#{popup_anchor(popup)}", "data-open": popup_anchor(popup)}
            case ClosePopup():
                return {"href": "#", "data-close": True}
            case Dial(number):
                return {"href": "tel:" + "".join(s for s in number if s in "+0123456789")}
            case Write(address):
                return {"href": safe_address("mailto:" + address)}

    def medium(self, medium_id: Id) -> "Medium | None":
        """Return a medium of the site, or `None` if it is gone."""
        return self.site.medium(medium_id)

    def form(self, form_id: Id) -> "Form | None":
        """Return a form of the site, or `None` if it is gone."""
        return self.site.form(form_id)


def node_class(node: Node) -> str:
    """Return the class that carries a node's own look."""
    return f"n-{node.id}"


def popup_anchor(popup_id: Id) -> str:
    """Return the element id of a popup."""
    return f"p-{popup_id}"


def section_anchor(section_id: Id) -> str:
    """Return the element id of a section."""
    return f"s-{section_id}"
