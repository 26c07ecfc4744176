"""What surrounds the node that is rendered: its page, its site, and where pictures are found."""

import json
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from datetime import date
from functools import cached_property

from markupsafe import Markup

from needle.core.brand.marks import Branded
from needle.core.kinds.heading import Heading
from needle.core.kinds.rowlist import RowList
from needle.core.markup.anchors import node_class, part_anchor, popup_anchor, section_anchor
from needle.core.markup.markup import safe_address
from needle.core.markup.surroundings import (
    Mode,
    PageName,
    Pictures,
    TextMode,
    UndeclaredError,
)
from needle.core.messages.catalogue import worded
from needle.core.messages.formats import day_in, number_in
from needle.core.messages.message import Named
from needle.core.render.shownwidths import Shown, shown_widths
from needle.core.site.site import Page, Site, Variant
from needle.core.site.tree import Section
from needle.core.values.actions import (
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
from needle.core.values.areas import Area
from needle.core.values.form import Form
from needle.core.values.ids import Id
from needle.core.values.language import Language
from needle.core.values.look import PLAIN
from needle.core.values.media import Medium
from needle.core.values.node import Node
from needle.core.values.remembering import remembered
from needle.core.values.rows import LONGEST_LABEL, Above, Goods

__all__ = ["Context", "needs_script"]

# What a click does without leading anywhere, and what takes a script.
_HERE = (ClosePopup, ShowPart, HidePart, PlayVideo, CountGoal)
_SCRIPTED = (*_HERE, OpenPopup)


@dataclass(eq=False)
class Context:
    """The `Surroundings` of a render on one page.

    While a node is rendered, only what its kind declares may be asked for (`declare`).

    Attributes:
        sections: Returns what stands for a section; by default what it is rendered to.
        page_asked: Something was asked that other pages of the same master have otherwise.
    """

    site: Site
    page: Page
    variant: Variant
    mode: Mode
    pictures: Pictures
    root: str = ""
    # Parts that the page of the row that is looked at has of its own.
    own: frozenset[Id] = frozenset()
    sections: "Callable[[Section, Context, Callable[[], Markup]], Markup] | None" = None
    page_asked: bool = field(default=False, init=False)
    _declared: frozenset[Area] | None = field(default=None, init=False, repr=False)

    def declare(self, reads: frozenset[Area] | None) -> frozenset[Area] | None:
        """Let only these areas be asked for from now on, or all; return those of before."""
        before, self._declared = self._declared, reads
        return before

    def _asked(self, *areas: Area) -> None:
        if self._declared is not None and not self._declared.issuperset(areas):
            raise UndeclaredError(f"A kind asks for {', '.join(areas)} and does not say in its "
                                  "`reads` that it does.")

    @property
    def page_id(self) -> Id:
        """The page that it stands on."""
        self.page_asked = True
        return self.page.id

    @property
    def named_id(self) -> str:
        """The page that it stands on, as menus name it: of a row's page, the one that makes it."""
        return self.page.row.page or self.page.id

    @property
    def row_label(self) -> str:
        """What the row is called whose page it stands on; empty on any other page."""
        self.page_asked = True
        return self.page.row.label[:LONGEST_LABEL]

    @property
    def cart_address(self) -> str:
        """The address of the page with the cart, or "#" if there is none."""
        self._asked(Area.SHOP)
        return self._address(self.site.shop.cart) if self.site.shop.cart else "#"

    @property
    def row_id(self) -> Id:
        """The row whose page it stands on; empty on any other page."""
        self.page_asked = True
        return self.page.row.row

    @property
    def goods(self) -> Goods | None:
        """What the row offers whose page it stands on."""
        self.page_asked = True
        self._asked(Area.TABLES)
        return self.page.row.goods

    @property
    def above(self) -> Sequence[Above]:
        """The pages above this one, the nearest last."""
        self.page_asked = True
        self._asked(Area.TABLES)
        return self.page.row.above

    @property
    def page_name(self) -> str:
        """What the page it stands on is called, or its row."""
        self.page_asked = True
        self._asked(Area.PAGES)
        return self.row_label or self.page.name

    @property
    def looked_back_on(self) -> str:
        """The table of the page's row, if a list of the site shows what a visitor saw of it."""
        table = self.page.row.table
        wanted = remembered(self.site, "looked_back_on", _looked_back_on) if table else frozenset()
        return table if table in wanted else ""

    @property
    def variant_key(self) -> str:
        """The variant that it stands on."""
        return self.variant.key

    @property
    def language(self) -> Language:
        """The language of the site."""
        self._asked(Area.LANGUAGE)
        return self.site.language

    def words(self, message: str, /, **values: Named) -> str:
        """Return what is said to visitors, in the language of the site."""
        return worded(message, values, self.language)

    def day(self, day: str) -> str:
        """Return "2027-08-12" as visitors read it."""
        try:
            return day_in(self.language, date.fromisoformat(day))
        except ValueError:  # A project from elsewhere may hold anything; it is words then.
            return day

    def number(self, number: str) -> str:
        """Return a number as visitors read it."""
        return number_in(self.language, float(number))

    def seen_at_once(self, node: Node) -> bool:
        """Whether a section stands at the top, so that its pictures are loaded first."""
        return any(node is top for top in self.variant.children[:2])

    def sizes(self, node: Node, factor: float = 1, across: int = 1, gap: float = 0) -> str:
        """Return the `sizes` of a picture in an item; the editor shows one size at all widths."""
        shown = None if self.mode == "edit" else self._shown.get(node.id)
        return shown.parted(across, gap).sizes(factor) if shown else ""

    @cached_property
    def _shown(self) -> dict[Id, Shown]:
        return shown_widths(self.variant.children, self.page.letter_width)

    def typed(self, path: str, mode: TextMode) -> dict[str, str | int | bool | None]:
        """Return the attributes of the element in which a text of a node is typed."""
        return {"data-words": mode, "data-text": path} if self.mode == "edit" else {}

    def attributes(self, node: Node, classes: str = "") -> dict[str, str | int | bool | None]:
        """Return the attributes that every node's outermost element carries."""
        styled = node.hidden or node.look != PLAIN
        own = node_class(node) if self.mode == "edit" or styled else ""
        names = " ".join(part for part in (classes, own) if part)
        attributes: dict[str, str | int | bool | None] = {"class": names or None}
        if self.mode == "edit":
            attributes |= {"data-n": node.id, "data-own": node.id in self.own}
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

    def pages(self) -> Sequence[PageName]:
        """Return the pages of the site, in their order; those of rows as one."""
        self._asked(Area.PAGES)
        return [PageName(*named) for named in self.site.named_pages()]

    def branded(self) -> Branded:
        """Return what a sign is drawn from."""
        self._asked(Area.NAME, Area.BRAND, Area.FONTS)
        return self.site

    def page_address(self, page_id: Id) -> str:
        """Return the address of a page as seen from this one, or "#" if it is gone."""
        self._asked(Area.PAGES)
        return self._address(page_id)

    def _address(self, page_id: Id) -> str:
        self.page_asked |= page_id == self.page.row.page
        page = self.page if page_id == self.page.row.page else self.site.entry(page_id)
        if page is None:
            return "#"
        return (self.root + page.slug + "/") if page.slug else (self.root or "./")

    def rank_below(self, node: Node) -> int:
        """Return the rank of headings within an item: below that of the heading before it."""
        return remembered(self.variant, "ranks_below", _ranks_below).get(node.id, 2)

    def row_address(self, page_id: Id, slug: str) -> str:
        """Return the address of a row's page as seen from this one; the editor leads nowhere."""
        if self.mode == "edit":
            return "#"
        return f"{self.root}{slug}/" if slug else (self.root or "./")

    def link(self, link: str) -> str:
        """Return the address for a link in a text: "page:ID" or any address."""
        if link.startswith("page:"):
            return self._address(link[5:])
        return safe_address(link)

    def click(self, actions: Sequence[Action]) -> dict[str, str | int | bool | None]:
        """Return the attributes of a link that does `actions` in order.

        The first one that leads somewhere is the link's address, so it works without a script.
        """
        attributes: dict[str, str | int | bool | None] = {"href": "#"}
        lead = next((a for a in actions if not isinstance(a, _HERE)), None)
        match lead:
            case GoPage(page):
                attributes["href"] = self._address(page)
            case GoAddress(address):
                attributes["href"] = safe_address(address)
            case GoSection(section):
                attributes["href"] = f"#{section_anchor(section)}"
            case OpenPopup(popup):
                attributes["href"] = f"#{popup_anchor(popup)}"
            case Dial(number):
                attributes["href"] = "tel:" + "".join(s for s in number if s in "+0123456789")
            case GiveFile(file):
                medium = self.site.medium(file)
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

    def medium(self, medium_id: Id) -> Medium | None:
        """Return a medium of the site, or `None` if it is gone."""
        self._asked(Area.MEDIA)
        return self.site.medium(medium_id)

    def form(self, form_id: Id) -> Form | None:
        """Return a form of the site, or `None` if it is gone."""
        self._asked(Area.FORMS)
        return self.site.form(form_id)


def _ranks_below(variant: Variant) -> dict[Id, int]:
    found, rank = {}, 1
    for node in variant.nodes():
        if isinstance(node, Heading):
            rank = node.rank
        found[node.id] = min(rank + 1, 6)
    return found


def _looked_back_on(site: Site) -> frozenset[Id]:
    return frozenset[Id]().union(*(
        remembered(page, "looks_back_on", _looks_back_on) for page in site.pages))


def _looks_back_on(page: Page) -> frozenset[Id]:
    return frozenset(node.table for variant in page.variants for node in variant.nodes()
                     if isinstance(node, RowList) and node.choose == "seen")


def needs_script(actions: Sequence[Action]) -> bool:
    """Whether a click that does these takes the visitor's script."""
    return len(actions) > 1 or any(isinstance(action, _SCRIPTED) for action in actions)
