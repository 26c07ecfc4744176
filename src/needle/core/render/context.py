"""What a template may know about the site around the node it renders."""

import json
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import TYPE_CHECKING, Literal, Protocol

from needle.core.render.markup import safe_address
from needle.core.site.actions import (
    Action,
    ClosePopup,
    CountGoal,
    Dial,
    GiveFile,
    GoAddress,
    GoPage,
    GoSection,
    HidePart,
    OpenPopup,
    PlayVideo,
    ShowPart,
    Write,
)
from needle.core.site.ids import Id
from needle.core.site.node import Node
from needle.core.site.widths import Width

if TYPE_CHECKING:
    from needle.core.site.form import Form
    from needle.core.site.kind import TextMode
    from needle.core.site.site import Medium, Page, Site, Variant

__all__ = ["Context", "Mode", "Pictures", "Rendition", "needs_script", "node_class",
           "part_anchor", "popup_anchor", "section_anchor"]

# What a click does without leading anywhere, and what takes a script.
_HERE = (ClosePopup, ShowPart, HidePart, PlayVideo, CountGoal)
_SCRIPTED = (*_HERE, OpenPopup)

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
    """Knows where visitors find media. The store and the editor each have one."""

    def renditions(self, medium: "Medium") -> Sequence[Rendition]:
        """Return the sizes of a picture, smallest first; at least one."""
        ...

    def original(self, medium: "Medium") -> str:
        """Return the address of the file as it is, as for a video."""
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
        elif node.id in self._acted_on:
            attributes |= {"id": part_anchor(node.id), "hidden": self._acted_on[node.id]}
        return attributes

    @cached_property
    def _acted_on(self) -> dict[Id, bool]:
        """The parts that clicks show, hide or play, and whether they wait hidden until then."""
        found: dict[Id, bool] = {}
        for node in self.variant.nodes():
            for action in getattr(node, "actions", ()):
                match action:
                    case ShowPart(part):
                        found[part] = True
                    case HidePart(part) | PlayVideo(part):
                        found.setdefault(part, False)
        return found

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
        """Return the attributes of a link that does `actions` in order.

        The first one that leads somewhere is the link's address, so it works without a script.
        """
        attributes: dict[str, str | int | bool | None] = {"href": "#"}
        lead = next((a for a in actions if not isinstance(a, _HERE)), None)
        match lead:
            case GoPage(page):
                attributes["href"] = self.page_address(page)
            case GoAddress(address):
                attributes["href"] = safe_address(address)
            case GoSection(section):
                attributes["href"] = f"#{section_anchor(section)}"
            case OpenPopup(popup):
                attributes["href"] = f"#{popup_anchor(popup)}"
            case Dial(number):
                attributes["href"] = "tel:" + "".join(s for s in number if s in "+0123456789")
            case GiveFile(file):
                medium = self.medium(file)
                if medium is not None:
                    attributes |= {"href": self.pictures.original(medium),
                                   "download": medium.name}
            case Write(address):
                attributes["href"] = safe_address("mailto:" + address)
        if needs_script(actions):
            steps = [self._step(action) for action in actions]
            attributes["data-do"] = json.dumps(steps, separators=(",", ":"))
            attributes["role"] = "button" if lead is None else None
        return attributes

    def _step(self, action: Action) -> list[str]:
        """Return an action as the visitor's script reads it."""
        match action:
            case OpenPopup(popup):
                return ["open", popup_anchor(popup)]
            case ClosePopup():
                return ["close"]
            case ShowPart(part):
                return ["show", self._anchor_of(part)]
            case HidePart(part):
                return ["hide", self._anchor_of(part)]
            case PlayVideo(video):
                return ["play", self._anchor_of(video)]
            case CountGoal(name):
                return ["goal", name]
            case GoSection(section):
                return ["scroll", section_anchor(section)]
            case _:
                return ["go", str(self.click((action,))["href"])]

    def _anchor_of(self, part: Id) -> str:
        """Return the element id of any part: sections have one of their own."""
        is_section = any(section.id == part for section in self.variant.children)
        return section_anchor(part) if is_section else part_anchor(part)

    def medium(self, medium_id: Id) -> "Medium | None":
        """Return a medium of the site, or `None` if it is gone."""
        return self.site.medium(medium_id)

    def form(self, form_id: Id) -> "Form | None":
        """Return a form of the site, or `None` if it is gone."""
        return self.site.form(form_id)


def node_class(node: Node) -> str:
    """Return the class that carries a node's own look."""
    return f"n-{node.id}"


def needs_script(actions: Sequence[Action]) -> bool:
    """Whether a click that does these takes the visitor's script."""
    return len(actions) > 1 or any(isinstance(action, _SCRIPTED) for action in actions)


def part_anchor(part_id: Id) -> str:
    """Return the element id of a part that a click acts on."""
    return f"a-{part_id}"


def popup_anchor(popup_id: Id) -> str:
    """Return the element id of a popup."""
    return f"p-{popup_id}"


def section_anchor(section_id: Id) -> str:
    """Return the element id of a section."""
    return f"s-{section_id}"
