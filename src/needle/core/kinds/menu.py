"""A menu of pages of the site; on a phone it folds behind a button."""

from collections.abc import Sequence

import msgspec
from markupsafe import Markup

from needle.core.kinds.kind import TYPE_TRAITS, Field, Kind, Wishes
from needle.core.markup.markup import join, tag
from needle.core.markup.surroundings import PageName, Surroundings
from needle.core.values.areas import Area
from needle.core.values.counting import counted
from needle.core.values.ids import Id
from needle.core.values.node import Item
from needle.core.values.strict import StyleKey
from needle.core.values.styletable import ground_css
from needle.core.values.widths import Width, band_query

__all__ = ["KIND", "Menu", "shown_pages"]


class Menu(Item, frozen=True, tag="menu"):
    """Links to pages of the site.

    Attributes:
        pages: Where it leads, in this order; `None` in a menu of an earlier Needle, which took
            every page that is not `left_out`. Opening such a project writes them down.
        opener: The words of the button on a phone.
    """

    pages: tuple[Id, ...] | None = None
    left_out: tuple[Id, ...] = ()
    opener: str = "Menu"
    style: StyleKey = "small"


def _new(node_id: Id) -> Menu:
    return Menu(id=node_id, pages=())


def _suit(node: Menu, wishes: Wishes) -> Menu:
    return msgspec.structs.replace(node, pages=wishes.pages)


def shown_pages(node: Menu, pages: Sequence[PageName]) -> list[PageName]:
    """Return the pages that a menu leads to, in its order; those that are gone are left out."""
    known = {page.id: page for page in pages}
    wanted = [page.id for page in pages if page.id not in node.left_out] \
        if node.pages is None else node.pages
    return [known[page] for page in wanted if page in known]


def _render(node: Menu, context: Surroundings) -> Markup:
    mark = f"m-{node.id}"
    links = join(
        tag("li", {}, tag("a", {
            "href": context.page_address(page.id),
            "data-link": f"page:{page.id}" if context.mode == "edit" else None,
            "aria-current": "page" if page.id == context.named_id else None}, page.name))
        for page in shown_pages(node, context.pages()))
    button = tag("button", {"class": "menu-open", "type": "button", "popovertarget": mark},
                 node.opener or context.words("menu-open"))
    return tag("nav", context.attributes(node, f"menu t-{node.style}") | {
        "aria-label": node.name or context.words("menu-site")}, button,
        tag("ul", {"id": mark, "popover": True}, links))


def _summary(node: Menu, context: Surroundings) -> str:
    return f"Menu of {counted(len(shown_pages(node, context.pages())), 'page')}"


KIND = Kind(
    purpose="Finding the way",
    about="Links to the site's pages, folded on a phone (navigation)",
    type=Menu, label="Menu", mark="menu", traits=TYPE_TRAITS, new=_new, render=_render,
    reads=frozenset({Area.PAGES, Area.LANGUAGE}),
    summary=_summary, suit=_suit,
    fields=(
        Field(name="pages", label="Pages", editor="pages"),
        Field(name="opener", label="On a phone", editor="line"),
        Field(name="style", label="Style", editor="style")),
    css=(".menu ul{list-style:none;display:flex;flex-wrap:wrap;gap:6px 22px;position:static;"
         "margin:0;padding:0;border:0;background:none;color:inherit;width:auto;height:auto;"
         "overflow:visible;inset:auto;justify-content:inherit}"
         ".menu a{display:block;padding:10px 0;text-decoration:none}"
         ".menu a[aria-current]{text-decoration:underline;text-underline-offset:4px}"
         ".menu-open{display:none;font:inherit;color:inherit;background:none;cursor:pointer;"
         "border:1px solid currentColor;border-radius:var(--corner-small,4px);padding:10px 14px;"
         "margin-left:auto}"
         f"@media {band_query(Width.PHONE)}{{.menu-open{{display:block}}"
         ".menu ul:not(:popover-open){display:none}"
         ".menu ul:popover-open{position:fixed;inset:0 0 auto;flex-direction:column;"
         f"padding:20px;background-color:var(--c-paper);color:var(--t-ink);{ground_css('paper')};"
         "box-shadow:0 20px 60px #0b112652}}"),
)
